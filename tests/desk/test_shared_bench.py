"""The bench between devices: events that come late, twice, or from a clock that is off."""

from __future__ import annotations

import json
import time
from dataclasses import replace
from typing import Any

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.app.device_log import read_device_log
from true_margin.desk.bench import bench as desk_bench
from true_margin.desk.bench import lanes, rigs
from true_margin.desk.bench import log as bench_log
from true_margin.desk.errors import RefusedError
from true_margin.desk.runs import runs
from true_margin.store import runs as run_store
from true_margin.store import shootouts
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Shared")


def event(
    bench: Bench, client: str, seq: int, ago_ms: float, phase: str, **more: Any
) -> lanes.NewEvent:
    lane = {
        "id": "lane one",
        "setup_id": str(bench.setups["A"]),
        "queue": [],
        "key": "the run of lane one",
        "task_id": str(bench.tasks["Parade"]),
        "phase": phase,
        "undone": 0,
        "marks": [],
        **more,
    }
    return lanes.NewEvent(client, seq, phase, time.time() * 1000.0 - ago_ms, lane)


def stand(bench: Bench) -> dict[str, Any]:
    (lane,) = lanes.show_lanes(bench.database, bench.slug).lanes
    return lane.lane


def test_events_in_any_order_and_twice_end_alike(bench: Bench) -> None:
    armed = event(bench, "desk", 1, 9000, "armed")
    started = event(bench, "desk", 2, 8000, "running")
    mark = {"elapsed_s": 3.0, "fraction": 0.4}
    marked = event(bench, "phone", 1, 5000, "running", marks=[mark])
    stopped = event(bench, "desk", 3, 2000, "stopped", elapsed_s=6.0)
    for each in (stopped, marked, armed, stopped, started, marked):
        lanes.put_events(bench.database, bench.slug, [each])
    lane = stand(bench)
    assert (lane["phase"], lane["elapsed_s"], lane["marks"]) == ("stopped", 6.0, [mark])
    log = lanes.export_log(bench.database, bench.slug).splitlines()
    assert [json.loads(line)["event"] for line in log] == ["armed", "running", "running", "stopped"]
    assert {json.loads(line)["setup"] for line in log} == {"A"}


def test_marks_are_told_once_and_the_lane_keeps_them_all(bench: Bench) -> None:
    def mark(client: str, seq: int, at: float, **more: Any) -> lanes.SharedLane:
        told = {"elapsed_s": at, "fraction": at / 10}
        one = event(bench, client, seq, 9000 - 1000 * at, "running", marks=[told], **more)
        (answer,) = lanes.put_events(bench.database, bench.slug, [one]).lanes
        assert answer.lane["marks"] == [told], "whoever tells a mark knows the earlier ones"
        return answer

    mark("desk", 1, 1.0)
    late = mark("phone", 1, 3.0)
    mark("desk", 2, 2.0)
    again = mark("desk", 1, 1.0)
    assert (again.at_ms, again.client) == (late.at_ms, "phone"), "it stands as it was told last"
    assert [each["elapsed_s"] for each in stand(bench)["marks"]] == [1.0, 2.0, 3.0]
    other = mark("desk", 3, 4.0, key="the next run of lane one")
    assert other.lane["key"] == "the next run of lane one"
    assert [each["elapsed_s"] for each in stand(bench)["marks"]] == [4.0]


def test_a_setup_that_was_added_a_moment_ago_may_be_timed_at_once(bench: Bench) -> None:
    lanes.put_events(bench.database, bench.slug, [event(bench, "desk", 1, 9, "armed")])
    bench.machine("C")
    lane = event(bench, "desk", 2, 8, "armed", setup_id=str(bench.setups["C"]))
    (answer,) = lanes.put_events(bench.database, bench.slug, [lane]).lanes
    assert answer.lane["setup_id"] == str(bench.setups["C"])


def test_a_clock_that_is_ahead_does_not_shut_others_out(bench: Bench) -> None:
    ahead = event(bench, "phone", 1, -3_600_000, "running")
    lanes.put_events(bench.database, bench.slug, [ahead])
    later = event(bench, "desk", 1, -1900, "stopped", elapsed_s=2.0)
    lanes.put_events(bench.database, bench.slug, [later])
    again = event(bench, "desk", 2, -2500, "stopped", elapsed_s=2.0)
    lanes.put_events(bench.database, bench.slug, [again])
    assert stand(bench)["phase"] == "stopped"


def test_lanes_of_what_is_not_there_are_refused_together(bench: Bench) -> None:
    other = new_bench(bench.database, "Elsewhere")
    good = event(bench, "desk", 1, 0, "armed")
    for bad, says in (
        (event(other, "desk", 2, 0, "armed"), "not in this shootout"),
        (event(bench, "desk", 3, 0, "armed", queue=[str(other.tasks["Parade"])]), "not timed"),
    ):
        with pytest.raises(RefusedError, match=says):
            lanes.put_events(bench.database, bench.slug, [good, bad])
    assert lanes.show_lanes(bench.database, bench.slug).lanes == ()


def test_what_a_lane_may_say_and_what_one_more_run_would_do(bench: Bench) -> None:
    assert desk_bench.said_of(bench.database, bench.slug, "nobody's key") is None
    for typed in ("6:10", "6:12"):
        bench.run("B", typed)
    bench.run("A", "6:05", client_key="the lane's own run")
    said = desk_bench.said_of(bench.database, bench.slug, "the lane's own run")
    assert said is not None
    assert said.value == 365.0
    assert said.says.startswith("A: 6:05.")
    assert said.next is not None
    assert said.next.startswith("Not worth it: it would take ")


def test_simulated_rigs_are_for_demos_and_need_something_measured(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="demo shootouts only"):
        rigs.put_rigs(bench.database, bench.slug, "http://127.0.0.1:1", 30)


def test_a_log_that_is_brought_in_twice_adds_its_runs_once(bench: Bench) -> None:
    started = event(bench, "desk", 1, 9000, "running")
    marked = [
        replace(
            event(
                bench,
                "desk",
                10 + at,
                8000 - 1000 * at,
                "running",
                marks=[{"elapsed_s": float(at), "fraction": at / 10}],
            ),
            kind="mark",
        )
        for at in (1, 2)
    ]
    # Mistyped, and taken back while it ran.
    slip = {"elapsed_s": 3.0, "fraction": 0.9}
    for place, mark in enumerate((slip, {**slip, "withdrawn": True})):
        told = event(bench, "desk", 20 + place, 5000 - 500 * place, "running", marks=[mark])
        marked.append(replace(told, kind="mark"))
    stopped = event(bench, "desk", 2, 2000, "stopped", elapsed_s=7.0)
    kept = {
        "event": "run",
        "marks": [{"elapsed_s": 2.0, "fraction": 0.5}],
        "run": {
            "setup_id": str(bench.setups["B"]),
            "task_id": str(bench.tasks["Parade"]),
            "typed": "6:10",
            "client_key": "waited on a phone",
        },
    }
    watched = [
        {
            "event": "armed",
            "client": "watch-12345678",
            "seq": 0,
            "shootout": bench.slug,
            "setup": "a",
            "task": "PARADE",
            "poll_s": 0.5,
        },
        {"event": "mark", "client": "watch-12345678", "seq": 1, "elapsed_s": 2.0, "cpu_load": 0.5},
        {"event": "stopped", "client": "watch-12345678", "seq": 2, "elapsed_s": 5.0},
    ]
    lines = [
        *(
            {
                "event": e.kind if e.kind != "running" else "started",
                "client": f"{e.client}-device",
                "seq": e.seq,
                "at_ms": e.at_ms,
                "lane": dict(e.lane),
            }
            for e in (started, *marked, stopped)
        ),
        kept,
        *watched,
    ]
    text = "\n".join(json.dumps(line) for line in lines)
    log = read_device_log(text)
    first = bench_log.bring_in(bench.database, bench.slug, log, "Marit")
    again = bench_log.bring_in(bench.database, bench.slug, log, "Marit")
    assert (first.added, first.known, again.added, again.known) == (3, 0, 0, 3)
    made = [each.run for each in runs.show_runs(bench.database, bench.slug).runs]
    assert sorted(run.value or 0 for run in made) == [5.0, 7.0, 370.0]
    assert {run.method for run in made} == {"watch", "stopwatch"}
    with bench.database.transaction() as session:
        marks, _ = run_store.read_marks(session, shootouts.get_shootout(session, bench.slug).id)
    of_lane = next(run.id for run in made if run.value == 7.0)
    assert [mark.elapsed_s for mark in marks if mark.run_id == of_lane] == [1.0, 2.0]


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("nonsense", "Line 2 of the log: this is not JSON"),
        ("[1]", "Line 2 of the log: this is no event"),
        ('{"event": "run", "run": {}}', "Line 2 of the log: run"),
        ('{"event": "stopped", "lane": {"id": "x"}}', "Line 2 of the log"),
    ],
)
def test_a_damaged_line_is_named_and_nothing_is_stored(line: str, says: str) -> None:
    with pytest.raises(RefusedError, match=says):
        read_device_log('{"event": "armed"}\n' + line)


def test_a_watchers_log_that_names_what_is_not_there(bench: Bench) -> None:
    lines = [
        {
            "event": "armed",
            "client": "w",
            "seq": 0,
            "shootout": "s",
            "setup": "Zephyr",
            "task": "Parade",
            "poll_s": 1,
        },
        {"event": "stopped", "client": "w", "seq": 1, "elapsed_s": 5.0},
    ]
    log = read_device_log("\n".join(map(json.dumps, lines)))
    with pytest.raises(RefusedError, match="names a setup 'Zephyr'"):
        bench_log.bring_in(bench.database, bench.slug, log, "Marit")


def lane_event(bench: Bench, name: str, seq: int, phase: str = "armed") -> lanes.NewEvent:
    made = event(bench, f"device of {name}", seq, 1000 - seq, phase)
    return replace(made, lane={**made.lane, "id": f"lane {name}", "key": f"the run of {name}"})


def test_a_lane_without_a_digit_gets_the_lowest_free_one_for_all_devices(bench: Bench) -> None:
    def digits() -> dict[str, int]:
        shown = lanes.show_lanes(bench.database, bench.slug).lanes
        return {s.lane["id"]: s.lane["number"] for s in shown if s.lane["phase"] != "gone"}

    for name in "abc":
        lanes.put_events(bench.database, bench.slug, [lane_event(bench, name, 1)])
    assert digits() == {"lane a": 1, "lane b": 2, "lane c": 3}
    lanes.put_events(bench.database, bench.slug, [lane_event(bench, "b", 2, "gone")])
    lanes.put_events(bench.database, bench.slug, [lane_event(bench, "c", 2, "running")])
    lanes.put_events(bench.database, bench.slug, [lane_event(bench, "d", 1)])
    assert digits() == {"lane a": 1, "lane c": 3, "lane d": 2}


def test_a_bench_of_many_years_never_fills_up_but_holds_so_many_at_a_time(bench: Bench) -> None:
    def put(*events: lanes.NewEvent) -> lanes.SharedBench:
        return lanes.put_events(bench.database, bench.slug, events)

    put(lane_event(bench, "still running", 1, "running"))
    names = [f"number {place}" for place in range(lanes.MOST_LANES + lanes.GONE_SHOWN + 5)]
    for name in names:
        put(lane_event(bench, name, 1), lane_event(bench, name, 2, "gone"))
    shown = lanes.show_lanes(bench.database, bench.slug).lanes
    assert shown[0].lane["id"] == "lane still running", "those that stand come before the gone"
    assert len(shown) == 1 + lanes.GONE_SHOWN
    put(*(lane_event(bench, f"again {place}", 1) for place in range(lanes.MOST_LANES - 1)))
    with pytest.raises(RefusedError, match="take some away first"):
        put(lane_event(bench, "one too many", 1))
