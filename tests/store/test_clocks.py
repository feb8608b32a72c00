"""Clocks that do not jump, with a wall clock that does."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest

from true_margin.store import clocks
from true_margin.store.clocks import MOST_AHEAD
from true_margin.store.database import Database

NOON = datetime(2026, 11, 29, 12, tzinfo=UTC)


class World:
    """A machine whose clock can be set; time goes on by itself only as told."""

    def __init__(self) -> None:
        self.wall = NOON.timestamp()
        self.boot = 5000.0
        self.machine = f"start {uuid4()}"

    def passes(self, seconds: float) -> None:
        self.wall += seconds
        self.boot += seconds

    def jumps(self, by: timedelta) -> None:
        self.wall += by.total_seconds()


@pytest.fixture
def world(monkeypatch: pytest.MonkeyPatch) -> World:
    made = World()
    monkeypatch.setattr(clocks, "wall_s", lambda: made.wall)
    monkeypatch.setattr(clocks, "since_start_s", lambda: made.boot)
    monkeypatch.setattr(clocks, "start_of_machine", lambda: made.machine)
    return made


@pytest.fixture
def opened(database: Database, world: World) -> Iterator[Database]:
    """A process of its own that works with the database."""
    made = Database(database.url)
    yield made
    made.close()


JUMPS = [timedelta(seconds=3), timedelta(hours=-1), timedelta(days=9000), timedelta(days=-9000)]


@pytest.mark.parametrize("jump", JUMPS, ids=str)
def test_the_bench_counts_what_passes_and_no_jump(
    opened: Database, world: World, jump: timedelta
) -> None:
    began = opened.clocks.bench_ms()
    assert began == pytest.approx(NOON.timestamp() * 1000.0)
    world.passes(90.0)
    world.jumps(jump)
    world.passes(30.0)
    assert opened.clocks.bench_ms() - began == pytest.approx(120_000.0)


@pytest.mark.parametrize("jump", JUMPS, ids=str)
def test_a_process_that_begins_after_a_jump_has_the_same_bench_clock(
    opened: Database, world: World, jump: timedelta
) -> None:
    before = opened.clocks.bench_ms()
    world.jumps(jump)
    later = Database(opened.url)
    assert later.clocks.bench_ms() == before
    later.close()


def test_another_start_of_the_machine_begins_with_its_wall_clock(
    opened: Database, world: World
) -> None:
    opened.clocks.bench_ms()
    world.machine, world.boot = f"start {uuid4()}", 12.0
    world.jumps(timedelta(hours=8))
    later = Database(opened.url)
    assert later.clocks.bench_ms() == pytest.approx(world.wall * 1000.0)
    later.close()


@pytest.mark.parametrize(
    ("jump", "judged"),
    [
        (timedelta(0), timedelta(0)),
        (timedelta(hours=-2), timedelta(hours=-2)),
        (timedelta(days=6), timedelta(0)),
        (timedelta(days=60), timedelta(days=60) - MOST_AHEAD),
    ],
    ids=str,
)
def test_what_has_ended_is_judged_by_a_clock_that_is_not_ahead(
    opened: Database, world: World, jump: timedelta, judged: timedelta
) -> None:
    world.jumps(jump)
    world.passes(60.0)
    assert opened.clocks.now() == NOON + judged + timedelta(seconds=60)


def test_sleep_of_the_machine_counts(database: Database) -> None:
    # The real clocks: near each other, and not running backwards.
    first, second = database.clocks.now(), database.clocks.now()
    assert timedelta(0) <= second - first < timedelta(seconds=5)
    assert abs(datetime.now(UTC) - second) < timedelta(seconds=5)
    assert clocks.start_of_machine() == clocks.start_of_machine()
