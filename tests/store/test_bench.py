"""Lanes in the store: many devices at once, any text in them, and news that is not too long."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from queue import Queue
from typing import Any
from uuid import UUID, uuid4

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.desk.helpers import new_bench
from true_margin.core.lanes import GONE, LaneState, Stamp, join_lanes
from true_margin.store import bench as store
from true_margin.store import shootouts
from true_margin.store.database import Database
from true_margin.store.news import LANE, LANES, News

WAIT_S = 120.0
Event = tuple[str, str, LaneState]


@pytest.fixture
def home(database: Database) -> UUID:
    """The id of a shootout of one's own."""
    slug = new_bench(database, "Lanes in the store").slug
    with database.transaction() as session:
        return shootouts.get_shootout(session, slug).id


@pytest.fixture
def heard(database: Database) -> Iterator[Queue[str]]:
    news, told = News(database.url, "the listener of lanes"), Queue[str]()
    news.subscribe(told.put)
    news.start()
    yield told
    news.close()


def state(at_ms: float, client: str, seq: int, **lane: Any) -> LaneState:
    return LaneState(
        Stamp(at_ms, client, seq),
        {"id": "one", "phase": "running", "key": "run", "marks": [], **lane},
    )


def put(database: Database, home: UUID, *events: Event) -> store.LanesTold:
    with database.transaction() as session:
        return store.put_events(session, home, events)


def standing(database: Database, home: UUID) -> dict[str, LaneState]:
    with database.transaction() as session:
        return {str(each.lane["id"]): each for each in store.list_lanes(session, home, 0.0)}


def test_nothing_told_is_nothing_done(database: Database, home: UUID) -> None:
    assert put(database, home) == store.LanesTold((), came=False)


def test_several_events_of_one_new_lane_come_at_once(database: Database, home: UUID) -> None:
    """Whichever of them makes its row, it stands as all of them joined."""
    events = [state(10.0 * n, "desk", n, marks=[{"elapsed_s": float(n)}]) for n in (3, 1, 2)]
    told = put(database, home, *(("one", "mark", each) for each in events))
    assert told.came
    (lane,) = told.lanes
    assert lane.stamp == Stamp(30.0, "desk", 3)
    assert [mark["elapsed_s"] for mark in lane.lane["marks"]] == [1.0, 2.0, 3.0]
    assert standing(database, home)["one"] == lane
    with database.transaction() as session:
        assert [each.seq for each in store.list_events(session, home)] == [1, 2, 3]


def test_what_came_before_changes_nothing_and_is_told_again(database: Database, home: UUID) -> None:
    mark = ("one", "mark", state(10.0, "desk", 1, marks=[{"elapsed_s": 1.0, "fraction": 0.5}]))
    stop = ("one", "stopped", state(20.0, "desk", 2, phase="stopped", elapsed_s=2.0))
    put(database, home, mark)
    after = put(database, home, stop)
    assert not after.came
    again = put(database, home, mark)
    assert not again.came
    # Of the marks those that these events told; the lane itself as it stands.
    assert again.lanes[0].lane["marks"] == [{"elapsed_s": 1.0, "fraction": 0.5}]
    assert after.lanes[0].lane["marks"] == []
    assert again.lanes[0].lane["phase"] == "stopped"


def test_a_lane_that_was_taken_away_comes_back(database: Database, home: UUID) -> None:
    assert put(database, home, ("one", "armed", state(1.0, "desk", 1))).came
    assert not put(database, home, ("one", "removed", state(2.0, "desk", 2, phase=GONE))).came
    with database.transaction() as session:
        assert store.count_standing(session, home, 0.0) == 0
    assert put(database, home, ("one", "armed", state(3.0, "desk", 3))).came
    # An event from before it was taken away brings nothing back.
    put(database, home, ("one", "removed", state(5.0, "desk", 5, phase=GONE)))
    assert not put(database, home, ("one", "mark", state(4.0, "phone", 1))).came
    assert standing(database, home)["one"].lane["phase"] == GONE


JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(2**50), 2**50)
    | st.floats(-1e15, 1e15)
    # A zero byte is refused before; PostgreSQL keeps everything else.
    | st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\x00")),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.sampled_from("abc"), inner),
    max_leaves=6,
)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.dictionaries(st.sampled_from(["note", "typed", "timed_by", "conditions"]), JSON))
def test_whatever_a_lane_says_is_kept_and_told_as_it_was(
    database: Database, home: UUID, said: Mapping[str, Any]
) -> None:
    key = uuid4().hex
    told = put(database, home, (key, "changed", state(1.0, key, 1, **{**said, "id": key})))
    found = standing(database, home)[key].lane
    assert {name: found[name] for name in said} == said
    assert told.lanes[0].lane == found


def of_lane(heard: Queue[str], home: UUID) -> str:
    while True:
        place, _, told = heard.get(timeout=WAIT_S).partition(" ")
        if place == str(home):
            return told


def test_news_hold_the_lanes_themselves(database: Database, home: UUID, heard: Queue[str]) -> None:
    put(
        database,
        home,
        ("one", "armed", state(1.0, "desk", 1, note="\u201equoted\u201c \\ ' \u20ac")),
    )
    told = of_lane(heard, home)
    assert told.startswith(LANES)
    (lane,) = json.loads(told.removeprefix(LANES))
    assert (lane["client"], lane["seq"], lane["at_ms"]) == ("desk", 1, 1.0)
    assert lane["lane"]["note"] == "\u201equoted\u201c \\ ' \u20ac"


@pytest.mark.parametrize("sign", ["x", "\u20ac", '"', "\U0001f5a5"])
def test_what_is_too_long_to_tell_is_told_by_its_key(
    database: Database, home: UUID, heard: Queue[str], sign: str
) -> None:
    """The database takes so many bytes of news, however few signs they are."""
    long = state(1.0, "desk", 1, id="long", note=sign * 7650)
    short = state(1.0, "desk", 2, id="short")
    put(database, home, ("long", "armed", long), ("short", "armed", short))
    told = [of_lane(heard, home), of_lane(heard, home)]
    whole = [each for each in told if each.startswith(LANES)]
    assert [json.loads(each.removeprefix(LANES))[0]["lane"]["id"] for each in whole] == (
        ["short"] if len(whole) == 1 else ["long", "short"]
    )
    if len(whole) == 1:
        assert f"{LANE}long" in told


def test_devices_that_tell_the_same_lanes_at_once_take_turns(
    database: Database, home: UUID
) -> None:
    """Each tells all lanes, new ones among them, in an order of its own: none waits for ever."""
    keys = [f"lane {at}" for at in range(6)]
    events: list[list[Event]] = []
    for number in range(8):
        own = [
            (
                key,
                "mark",
                state(
                    float(turn),
                    f"device {number}",
                    turn * 10 + at,
                    id=key,
                    marks=[{"elapsed_s": float(10 * number + turn)}],
                ),
            )
            for turn in range(1, 5)
            for at, key in enumerate(keys)
        ]
        random.Random(number).shuffle(own)
        events.append(own)

    def tell(own: list[Event]) -> None:
        for at in range(0, len(own), 6):
            put(database, home, *own[at : at + 6])

    with ThreadPoolExecutor(len(events)) as devices:
        for done in [devices.submit(tell, own) for own in events]:
            done.result(timeout=60)
    found = standing(database, home)
    assert sorted(found) == keys
    for key in keys:
        alone = [each for own in events for lane, _, each in own if lane == key]
        joined = alone[0]
        for each in alone[1:]:
            joined = join_lanes(joined, each)
        assert found[key] == joined
        assert len(found[key].lane["marks"]) == 8 * 4
    with database.transaction() as session:
        assert len(store.list_events(session, home)) == 8 * 4 * len(keys)
