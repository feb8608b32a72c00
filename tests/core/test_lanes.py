"""Lanes told by several devices: whatever order the events come in, the same state stands."""

from __future__ import annotations

from functools import reduce
from itertools import permutations
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.lanes import MOST_MARKS, LaneState, Stamp, join_lanes

MARKS = st.lists(
    st.fixed_dictionaries(
        {"elapsed_s": st.sampled_from([1.0, 2.0, 3.0])},
        optional={"fraction": st.sampled_from([0.1, 0.2]), "power_w": st.just(80.0)},
    ),
    max_size=3,
)


def states(stamps: list[Stamp]) -> st.SearchStrategy[list[LaneState]]:
    lane = st.fixed_dictionaries(
        {
            "key": st.sampled_from(["run 1", "run 2"]),
            "phase": st.sampled_from(["armed", "running", "stopped"]),
            "undone": st.integers(0, 1),
            "elapsed_s": st.sampled_from([5.0, 6.0, 7.0]),
            "marks": MARKS,
        }
    )
    lanes = st.lists(lane, min_size=len(stamps), max_size=len(stamps))
    return lanes.map(lambda all_: [LaneState(s, a) for s, a in zip(stamps, all_, strict=True)])


TWO = [Stamp(1.0, "a", 1), Stamp(2.0, "b", 1)]


@given(states(TWO))
def test_the_order_of_two_events_changes_nothing(pair: list[LaneState]) -> None:
    assert join_lanes(pair[0], pair[1]) == join_lanes(pair[1], pair[0])


@given(states([Stamp(1.0, "a", 1)]))
def test_the_same_event_twice_changes_nothing(one: list[LaneState]) -> None:
    joined = join_lanes(one[0], one[0])
    assert join_lanes(joined, one[0]) == joined
    assert joined.lane["phase"] == one[0].lane["phase"]


def test_a_story_told_in_any_order_ends_alike() -> None:
    def at(ms: float, who: str, **lane: Any) -> LaneState:
        whole = {"key": "r", "undone": 0, "elapsed_s": None, "marks": [], **lane}
        return LaneState(Stamp(ms, who, int(ms)), whole)

    story = [
        at(0.0, "desk", phase="armed"),
        at(1.0, "desk", phase="running"),
        at(4.0, "phone", phase="running", marks=[{"elapsed_s": 3.0, "fraction": 0.5}]),
        at(6.0, "desk", phase="stopped", elapsed_s=5.0),
        at(6.3, "phone", phase="stopped", elapsed_s=5.3),
    ]
    ends = [reduce(join_lanes, order) for order in permutations(story)]
    assert all(end.lane["elapsed_s"] == 5.0 for end in ends), "the first stop stands"
    assert all([m["elapsed_s"] for m in end.lane["marks"]] == [3.0] for end in ends)
    assert {end.lane["phase"] for end in ends} == {"stopped"}


def test_a_lane_keeps_the_newest_marks_only() -> None:
    def told(first: int, stamp: Stamp) -> LaneState:
        marks = [{"elapsed_s": float(first + at)} for at in range(MOST_MARKS)]
        return LaneState(stamp, {"key": "run 1", "phase": "running", "marks": marks})

    early, late = told(0, TWO[0]), told(500, TWO[1])
    kept = join_lanes(late, early).lane["marks"]
    assert (len(kept), kept[0], kept[-1]) == (
        MOST_MARKS,
        {"elapsed_s": 500.0},
        {"elapsed_s": MOST_MARKS + 499.0},
    )


def test_an_undone_stop_is_no_first_stop() -> None:
    stop = LaneState(Stamp(5, "a", 1), {"key": "r", "phase": "stopped", "elapsed_s": 5.0})
    later = {"key": "r", "phase": "stopped", "elapsed_s": 9.0, "undone": 1}
    again = LaneState(Stamp(9, "a", 2), later)
    assert join_lanes(stop, again).lane["elapsed_s"] == 9.0
