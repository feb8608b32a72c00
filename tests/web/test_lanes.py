"""Lanes and what waits on the device, worked out by the web itself."""

from __future__ import annotations

from typing import Any

import pytest

from tests.web.conftest import Call

ARMED = {
    "setupId": "s",
    "taskId": "t",
    "phase": "armed",
    "startedAt": 0,
    "stoppedAt": 0,
    "pressedAt": 0,
    "key": "k",
}


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
    ("fraction", "says"),
    [
        (0.5, None),
        (0.4, None),
        (0.3, "less cannot be done"),
        (1.01, "0 to 100"),
        (-0.1, "0 to 100"),
    ],
)
def test_marks_go_forwards(call: Call, fraction: float, says: str | None) -> None:
    desk = call("desk.start", desk_of(call, "a"), 1, 0)
    desk = call("desk.mark", desk, 1, 0.4, 60_000)
    why = call("desk.whyNoMark", desk["lanes"][0], fraction)
    assert (why is None) if says is None else says in why
    marked = call("desk.mark", desk, 1, fraction, 90_000)
    assert len(marked["lanes"][0]["marks"]) == (2 if says is None else 1)


def test_marks_belong_to_running_lanes(call: Call) -> None:
    assert "running" in call("desk.whyNoMark", desk_of(call, "a")["lanes"][0], 0.5)


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
