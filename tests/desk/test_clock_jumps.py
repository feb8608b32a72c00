"""A wall clock that jumps while lanes run, people are signed in and work waits."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest

from tests.app.accounts import account
from tests.desk.helpers import Bench, new_bench
from tests.desk.test_sign_in_limits import ADDRESSES, tried
from tests.store.test_clocks import NOON, World, opened, world
from true_margin.desk.access import pairing, people, sign_in
from true_margin.desk.access.rights import LOCAL
from true_margin.desk.bench import lanes
from true_margin.desk.errors import RefusedError
from true_margin.desk.jobs import jobs
from true_margin.launch.backup import backup_name
from true_margin.launch.daily import is_due
from true_margin.store.database import Database

__all__ = ["opened", "world"]
JUMPS = [timedelta(minutes=5), timedelta(days=6), timedelta(minutes=-5), timedelta(days=-400)]
every_jump = pytest.mark.parametrize("jump", JUMPS, ids=str)


@pytest.fixture
def bench(opened: Database) -> Bench:
    return new_bench(opened, "Jumps")


def lane(bench: Bench, phase: str, started_ms: float, elapsed_s: float | None) -> dict[str, Any]:
    return {
        "id": "lane-1",
        "setup_id": str(bench.setups["A"]),
        "task_id": str(bench.tasks["Parade"]),
        "phase": phase,
        "started_ms": started_ms,
        "elapsed_s": elapsed_s,
        "number": 1,
        "queue": [],
        "marks": [],
    }


@every_jump
def test_a_lane_that_runs_through_a_jump_is_timed_right(
    bench: Bench, world: World, jump: timedelta
) -> None:
    """One device starts it, another, which asks for the clock after the jump, stops it."""
    clocks = bench.database.clocks
    began = clocks.bench_ms()
    starts = lanes.NewEvent("phone", 1, "started", began, lane(bench, "running", began, None))
    lanes.put_events(bench.database, bench.slug, [starts])
    world.passes(100.0)
    world.jumps(jump)
    world.passes(277.0)
    (shown,) = lanes.show_lanes(bench.database, bench.slug).lanes
    assert clocks.bench_ms() - shown.lane["started_ms"] == pytest.approx(377_000.0)
    ends = lane(bench, "stopped", began, 377.0)
    stops = lanes.NewEvent("desk", 1, "stopped", clocks.bench_ms(), ends)
    (kept,) = lanes.put_events(bench.database, bench.slug, [stops]).lanes
    # Not cut to the server's clock, and the newest of the two.
    assert (kept.lane["phase"], kept.at_ms) == ("stopped", pytest.approx(began + 377_000.0))


@every_jump
def test_whoever_is_signed_in_stays_so(opened: Database, world: World, jump: timedelta) -> None:
    token = account(opened, "editor").token
    world.jumps(jump)
    assert sign_in.who_is(opened, token) is not None
    world.passes(3600.0)
    assert sign_in.who_is(opened, token) is not None


def test_an_idle_week_ends_a_sign_in_all_the_same(opened: Database, world: World) -> None:
    token = account(opened, "editor").token
    world.passes(sign_in.IDLE.total_seconds() + 60.0)
    assert sign_in.who_is(opened, token) is None


def test_a_jump_of_years_that_is_put_right_ends_no_sign_in(opened: Database, world: World) -> None:
    token = account(opened, "editor").token
    world.jumps(timedelta(days=4000))
    sign_in.who_is(opened, token)
    world.jumps(timedelta(days=-4000))
    assert sign_in.who_is(opened, token) is not None


def test_a_clock_that_was_set_back_locks_nobody_out(opened: Database, world: World) -> None:
    email, address = account(opened, "reader").account.email, next(ADDRESSES)
    answers = [tried(opened, email, address) for _ in range(sign_in.MOST_WRONG_HERE + 1)]
    assert answers[-1] == "later"
    world.jumps(timedelta(days=-30))
    assert tried(opened, email, address) == "wrong"


def test_wrong_tries_count_through_a_jump_ahead(opened: Database, world: World) -> None:
    email, address = account(opened, "reader").account.email, next(ADDRESSES)
    for _ in range(sign_in.MOST_WRONG_HERE):
        tried(opened, email, address)
    world.jumps(timedelta(hours=2))
    assert tried(opened, email, address) == "later"


@every_jump
def test_an_invitation_lives_its_week(opened: Database, world: World, jump: timedelta) -> None:
    token = people.invite(opened, LOCAL, "reader").token
    world.jumps(jump)
    assert people.find_invitation(opened, token).role == "reader"


def test_a_code_for_pairing_does_not_outlive_a_clock_that_is_set_back(
    bench: Bench, world: World
) -> None:
    code = pairing.make_code(bench.database, bench.slug).code
    world.jumps(timedelta(days=-2))
    with pytest.raises(RefusedError):
        pairing.pair(bench.database, code, "phone")
    again = pairing.make_code(bench.database, bench.slug).code
    assert pairing.pair(bench.database, again, "phone").slug == bench.slug


def test_a_job_that_is_done_is_not_called_lost(
    opened: Database, world: World, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(jobs, "put_job", lambda *_args, **_more: None)
    waits = jobs.bring_in(opened, LOCAL, b"no pack")
    jobs._step(opened, waits.id, "reading", 0.1)
    world.jumps(timedelta(hours=5))
    assert jobs.show_job(opened, LOCAL, waits.id).state == "running"


def test_todays_backup_is_made_after_a_jump_either_way(tmp_path: Path) -> None:
    made = tmp_path / backup_name(NOON)
    made.write_bytes(b"")
    for days in (1, 400, -400):
        assert is_due(tmp_path, NOON + timedelta(days=days)), days
    assert not is_due(tmp_path, NOON + timedelta(hours=1))
