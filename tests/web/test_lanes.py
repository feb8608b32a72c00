"""Lanes and what waits on the device, worked out by the web itself."""

from __future__ import annotations

from typing import Any

import pytest

from tests.web.conftest import Call
from true_margin.core.lanes import LaneState, Stamp, join_lanes

ARMED = {
    "setupId": "s",
    "taskId": "t",
    "id": "k",
    "phase": "armed",
    "startedAt": 0,
    "stoppedAt": 0,
    "pressedAt": 0,
    "key": "k",
    "undone": 0,
    "startedBy": "",
    "startU": 0,
    "elapsedS": None,
    "placedU": 0,
    "timedBy": "hand",
    "factor": 1,
    "conditions": {},
    "stamp": None,
}
HERE = {"device": "here", "offset": 0, "half": 5}


def test_the_clock_runs_between_the_presses(call: Call) -> None:
    assert call("lane.elapsed", ARMED, 9e9) == 0
    running = call("lane.started", ARMED, 1_000_000)
    assert call("lane.elapsed", running, 1_061_500) == pytest.approx(61.5)
    stopped = call("lane.stopped", running, 1_377_200)
    assert call("lane.elapsed", stopped, 9e9) == pytest.approx(377.2)


def test_an_undone_stop_never_stopped_the_clock(call: Call) -> None:
    stopped = call("lane.stopped", call("lane.started", ARMED, 1000), 5000)
    assert call("lane.canUndo", stopped, 15_000)
    assert not call("lane.canUndo", stopped, 15_001)
    running = call("lane.undone", stopped)
    assert (running["phase"], running["startedAt"], running["key"]) == ("running", 1000, "k")
    assert call("lane.elapsed", running, 9000) == pytest.approx(8.0)
    assert not call("lane.canUndo", running, 9000)


def test_an_undone_start_is_armed_again(call: Call) -> None:
    again = call("lane.undone", call("lane.started", ARMED, 1000))
    assert (again["phase"], again["startedAt"], again["pressedAt"]) == ("armed", 0, 0)


def desk_of(call: Call, *setups: str) -> Any:
    """A desk with one lane a setup, each with a task to follow."""
    desk = {"lanes": [], "selected": 0}
    for setup in setups:
        desk = call("desk.withLane", desk, setup, ["film", "stills"], f"key-{setup}")
    return desk


def phases(desk: Any) -> dict[int, str]:
    return {lane["number"]: lane["phase"] for lane in desk["lanes"]}


def test_lanes_are_started_one_by_one_and_stopped_by_their_number(call: Call) -> None:
    desk = desk_of(call, "a", "b", "c")
    for at in (1000, 2000):
        desk = call("desk.start", desk, call("desk.nextArmed", desk), at)
    assert phases(desk) == {1: "running", 2: "running", 3: "armed"}
    desk = call("desk.stop", desk, 1, 9000)
    assert phases(desk) == {1: "stopped", 2: "running", 3: "armed"}
    assert call("desk.stop", desk, 1, 9999) == desk, "a second press changes nothing"
    assert call("desk.start", desk, 2, 9999) == desk, "a running lane cannot be started"
    assert call("desk.nextArmed", desk) == 3
    desk = call("desk.start", desk, 3, 9500)
    assert call("desk.nextArmed", desk) is None


def test_all_lanes_start_at_one_moment(call: Call) -> None:
    desk = call("desk.startAll", desk_of(call, "a", "b", "c"), 5000)
    assert {lane["startedAt"] for lane in desk["lanes"]} == {5000}


def test_only_the_last_press_is_taken_back(call: Call) -> None:
    desk = call("desk.startAll", desk_of(call, "a", "b"), 1000)
    desk = call("desk.stop", call("desk.stop", desk, 1, 4000), 2, 5000)
    assert call("desk.undoable", desk, 6000)["number"] == 2
    desk = call("desk.undo", desk, 6000)
    assert phases(desk) == {1: "stopped", 2: "running"}
    assert call("desk.undoable", desk, 20_000) is None
    assert call("desk.undo", desk, 20_000) == desk


def test_a_lane_goes_on_with_its_queue(call: Call) -> None:
    desk = call("desk.stop", call("desk.start", desk_of(call, "a"), 1, 1000), 1, 2000)
    again = call("desk.rearm", desk, 1, "key-2", True)["lanes"][0]
    assert (again["taskId"], again["queue"], again["key"]) == ("film", ["stills"], "key-2")
    moved = call("desk.rearm", desk, 1, "key-2")
    assert (moved["lanes"][0]["taskId"], moved["lanes"][0]["queue"]) == ("stills", [])
    last = call("desk.rearm", moved, 1, "key-3")["lanes"][0]
    assert (last["taskId"], last["phase"]) == ("stills", "armed")


def test_there_are_eight_lanes_and_numbers_are_used_again(call: Call) -> None:
    desk = desk_of(call, *"abcdefghi")
    assert [lane["number"] for lane in desk["lanes"]] == [1, 2, 3, 4, 5, 6, 7, 8]
    desk = call("desk.without", desk, 3)
    assert call("desk.withLane", desk, "z", ["film"], "k")["lanes"][2]["setupId"] == "z"


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("50", None),
        ("40 %", None),
        ("71 C", None),
        ("30", "less cannot be done"),
        ("101", "0 to 100"),
        ("-10", "0 to 100"),
        ("12 apples", "0 to 100"),
    ],
)
def test_marks_go_forwards(call: Call, typed: str, says: str | None) -> None:
    desk = call("desk.start", desk_of(call, "a"), 1, 0)
    desk = call("desk.mark", desk, 1, {"fraction": 0.4}, 60_000)
    said = call("marks.readMark", typed)
    why = call("desk.whyNoMark", desk["lanes"][0], said)
    assert (why is None) if says is None else says in why
    marked = call("desk.mark", desk, 1, said, 90_000)
    assert len(marked["lanes"][0]["marks"]) == (2 if says is None else 1)


def test_marks_belong_to_running_lanes(call: Call) -> None:
    lane = desk_of(call, "a")["lanes"][0]
    assert "running" in call("desk.whyNoMark", lane, {"fraction": 0.5})


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("40", {"fraction": 0.4}),
        ("12,5%", {"fraction": 0.125}),
        ("24 fps", {"frames_per_s": 24}),
        ("71 °C", {"temperature_c": 71}),
        ("180w", {"power_w": 180}),
        ("38 dB", {"noise_db": 38}),
        ("12.4 GB", {"memory_gb": 12.4}),
        ("swap 2", {"swap_gb": 2}),
        ("vram 7.5 GB", {"gpu_memory_gb": 7.5}),
        ("cpu 80", {"cpu_load": 0.8}),
        ("gpu 95 %", {"gpu_load": 0.95}),
        ("left 4:30", {"left_s": 270}),
        ("left 1:04:30", {"left_s": 3870}),
        ("left 12 min", {"left_s": 720}),
        ("fan starts", {"event": "fan starts"}),
        ("cpu 120", None),
        ("", None),
    ],
)
def test_a_mark_is_read_by_its_unit(call: Call, typed: str, said: Any) -> None:
    assert call("marks.readMark", typed) == said
    if said:
        assert call("marks.markWords", said)


def test_readings_of_one_moment_are_one_mark(call: Call) -> None:
    desk = call("desk.start", desk_of(call, "a"), 1, 0)
    for said in ({"fraction": 0.4}, {"power_w": 90}):
        desk = call("desk.mark", desk, 1, said, 60_000)
    assert desk["lanes"][0]["marks"] == [{"elapsed_s": 60, "fraction": 0.4, "power_w": 90}]
    assert call("marks.newest", desk["lanes"][0]["marks"], "power_w") == 90


def test_a_late_press_is_corrected_and_cannot_be_undone_any_more(call: Call) -> None:
    desk = call("desk.stop", call("desk.start", desk_of(call, "a"), 1, 0), 1, 60_000)
    for press, late, elapsed in (("start", 2, 62), ("stop", 2, 58), ("start", -1.5, 58.5)):
        lane = call("desk.correct", desk, 1, press, late)["lanes"][0]
        assert lane["elapsedS"] == pytest.approx(elapsed)
        assert lane["undone"] == 1
        assert not call("lane.canUndo", lane, 61_000)


def test_presses_on_two_devices_add_half_of_both_round_trips(call: Call) -> None:
    lane = {**call("lane.started", ARMED, 1000, 0.02), "startedBy": "another"}
    assert call("lane.stopped", lane, 31_000, 0.005)["placedU"] == pytest.approx(0.025)
    assert call("lane.stopped", {**lane, "startedBy": ""}, 31_000, 0.005)["placedU"] == 0


def test_a_rig_runs_faster_than_life(call: Call) -> None:
    lane = call("lane.started", {**ARMED, "factor": 30}, 0)
    assert call("lane.elapsed", lane, 2000) == pytest.approx(60)


def test_a_desk_survives_in_the_devices_storage(call: Call) -> None:
    desk = call("desk.start", desk_of(call, "a", "b"), 1, 1000)
    call("desk.keep", "slug", desk)
    assert call("desk.recall", "slug") == desk
    assert call("desk.recall", "other") == {"lanes": [], "selected": 0}
    call("desk.keep", "slug", {"lanes": [], "selected": 0})
    assert call("desk.recall", "slug")["lanes"] == []


@pytest.mark.parametrize(
    "kept",
    ["nonsense", "[]", "{}", '{"lanes": [{"phase": "flying"}], "selected": 1}', '{"lanes": 1}'],
)
def test_a_damaged_desk_is_empty(call: Call, kept: str) -> None:
    call.page.evaluate("text => localStorage.setItem('tm-desk-slug', text)", kept)  # type: ignore[attr-defined]
    assert call("desk.recall", "slug") == {"lanes": [], "selected": 0}


def wanted(key: str, typed: str) -> dict[str, Any]:
    return {"slug": "s", "why": "w", "body": {"client_key": key, "typed": typed}}


def test_the_outbox_keeps_the_newest_wish_of_each_run(call: Call) -> None:
    for item in (wanted("one", "1:00"), wanted("two", "2:00"), wanted("one", "1:30")):
        call("outbox.want", item)
    kept = [(item["body"]["client_key"], item["body"]["typed"]) for item in call("outbox.waiting")]
    assert kept == [("two", "2:00"), ("one", "1:30")]


def test_a_damaged_outbox_is_empty(call: Call) -> None:
    call.page.evaluate("() => localStorage.setItem('tm-outbox', '{')")  # type: ignore[attr-defined]
    assert call("outbox.waiting") == []


def test_a_lane_that_an_older_page_kept_runs_on(call: Call) -> None:
    running = call("lane.started", ARMED, 1000)
    call.page.evaluate(  # type: ignore[attr-defined]
        "lane => localStorage.setItem('tm-lane-old', JSON.stringify(lane))", running
    )
    desk = call("desk.recall", "old")
    assert desk == {"lanes": [{**running, "number": 1, "queue": [], "marks": []}], "selected": 1}
    call("desk.keep", "old", call("desk.without", desk, 1))
    assert call("desk.recall", "old")["lanes"] == [], "once taken away it does not come back"


def numbered(lane: dict[str, Any], stamp: tuple[float, str, int] | None) -> dict[str, Any]:
    told = stamp and {"own": False, "at": stamp[0], "client": stamp[1], "seq": stamp[2]}
    return {"number": 1, "queue": [], "marks": [], **lane, "stamp": told}


STATES = [
    ({**ARMED}, (1.0, "a", 1)),
    ({**ARMED, "phase": "running", "startedAt": 5.0}, (5.0, "a", 2)),
    (
        {
            **ARMED,
            "phase": "running",
            "startedAt": 5.0,
            "marks": [{"elapsed_s": 2, "fraction": 0.2}],
        },
        (7.0, "b", 1),
    ),
    (
        {**ARMED, "phase": "running", "startedAt": 5.0, "marks": [{"elapsed_s": 3, "power_w": 80}]},
        (8.0, "a", 3),
    ),
    (
        {
            **ARMED,
            "phase": "running",
            "startedAt": 5.0,
            "marks": [{"elapsed_s": 2, "fraction": 0.2, "withdrawn": True}],
        },
        (9.0, "c", 1),
    ),
    ({**ARMED, "phase": "stopped", "startedAt": 5.0, "elapsedS": 9.0}, (14.0, "a", 4)),
    ({**ARMED, "phase": "stopped", "startedAt": 5.0, "elapsedS": 9.4}, (14.4, "b", 2)),
    ({**ARMED, "phase": "stopped", "startedAt": 5.0, "elapsedS": 7.0, "undone": 1}, (20.0, "b", 3)),
    ({**ARMED, "key": "another run"}, (30.0, "b", 4)),
]


def plain(lane: dict[str, Any]) -> tuple[Any, ...]:
    """What both sides know of a lane: phase, key, time, corrections, marks."""
    elapsed = lane.get("elapsedS", lane.get("elapsed_s"))
    marks = [
        (mark["elapsed_s"], mark.get("fraction"), mark.get("power_w"), mark.get("withdrawn"))
        for mark in lane["marks"]
    ]
    return lane["phase"], lane["key"], elapsed, lane["undone"], marks


@pytest.mark.parametrize("one", range(len(STATES)))
def test_devices_and_server_join_lanes_alike(call: Call, one: int) -> None:
    for other in range(len(STATES)):
        pair = [numbered(*STATES[place]) for place in (one, other)]
        here = call("shared.joined", *pair, HERE)
        there = join_lanes(*(server_state(*STATES[place]) for place in (one, other)))
        assert plain(here) == plain(dict(there.lane))


def server_state(lane: dict[str, Any], stamp: tuple[float, str, int]) -> LaneState:
    told = {"marks": [], **lane, "elapsed_s": lane["elapsedS"]}
    del told["elapsedS"]
    return LaneState(Stamp(*stamp), told)


def test_a_lane_comes_back_as_it_was_told(call: Call) -> None:
    """Another device, whose clock is an hour off, sees the same moments."""
    lane = {**call("lane.started", numbered(ARMED, None), 1_000_000, 0.01), "queue": ["t2"]}
    told = call("shared.told", lane, {"device": "desk", "offset": 250, "half": 10})
    assert (told["started_ms"], told["started_by"]) == (1_000_250, "desk")
    remote = {"at_ms": 1_000_250, "client": "page", "seq": 1, "lane": told}
    phone = {"device": "phone", "offset": -3_600_000, "half": 20}
    heard = call("shared.heard", remote, phone)
    assert heard["startedAt"] == 4_600_250
    assert (heard["startedBy"], heard["startU"], heard["queue"]) == ("desk", 0.01, ["t2"])
    assert call("lane.elapsed", heard, 4_606_250) == pytest.approx(6.0)


def test_two_lanes_never_share_a_digit(call: Call) -> None:
    desk = desk_of(call, "a", "b")
    other = numbered({**ARMED, "id": "elsewhere"}, (1.0, "x", 1))
    desk = call("desk.withRemote", desk, other)
    assert [lane["number"] for lane in desk["lanes"]] == [1, 2, 3]
    again = call("desk.withRemote", desk, {**other, "phase": "running"})
    assert phases(again) == {1: "armed", 2: "armed", 3: "running"}


def test_a_later_stop_elsewhere_settles_what_waits_here(call: Call) -> None:
    item = wanted("k", "1:00.4")
    item["body"]["status"] = "ok"
    call("outbox.want", item)
    call("outbox.settle", {**ARMED, "phase": "stopped", "elapsedS": 60.1, "placedU": 0.02})
    body = call("outbox.waiting")[0]["body"]
    assert (body["typed"], body["placed_u"]) == ("1:00.10", 0.02)
