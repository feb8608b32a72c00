"""Two clocks that do not jump: one of the bench, the other for what ends after some time.

The wall clock of a computer is set by hand, by a time service, or wrongly by an empty battery;
it then jumps by seconds or years, either way. Time since the machine was started does not, and
goes on while it sleeps.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from true_margin.store.tables_bench import BenchClockRow

MOST_AHEAD = timedelta(days=7)
"""A wall clock that jumps ahead by more is believed: a sign-in may not live for ever."""
SKEW = timedelta(minutes=1)
"""What is further in the future was noted before the clock was set back."""
_BOOT = Path("/proc/sys/kernel/random/boot_id")


def wall_s() -> float:
    """The wall clock, in seconds since 1970."""
    return time.time()


def since_start_s() -> float:
    """Seconds since this machine was started, those that it slept counted too."""
    return time.clock_gettime(time.CLOCK_BOOTTIME)


def start_of_machine() -> str:
    """Tells this start of this machine from all others, as far as the time since it goes.

    A container may count from another moment than its host, and says so by its name space.
    """
    return f"{_BOOT.read_text().strip()} {Path('/proc/self/ns/time').readlink()}"


class Clocks:
    """The clocks of whoever works with one database."""

    def __init__(self, transaction: Callable[[], AbstractContextManager[Session]]) -> None:
        """Begin at what the wall clock says now.

        Args:
            transaction: begins one in the database in which processes agree on the clock of
                the bench.
        """
        self._transaction = transaction
        self._bench_ms: float | None = None
        self._began_s = wall_s() - since_start_s()

    def now(self) -> datetime:
        """The moment by which it is judged what has ended.

        It is that of the wall clock; but one that jumped ahead since this process began ends
        nothing that a week would not have ended.
        """
        wall = datetime.fromtimestamp(wall_s(), UTC)
        steady = datetime.fromtimestamp(self._began_s + since_start_s(), UTC)
        return max(min(wall, steady), wall - MOST_AHEAD)

    @property
    def bench_known(self) -> bool:
        """Whether the bench's clock can be read without asking the database."""
        return self._bench_ms is not None

    def bench_ms(self) -> float:
        """The clock by which lanes are timed between devices, in milliseconds.

        It began with the wall clock when the first process read it after the start of this
        machine, and is the same in every process since: a lane that runs while the wall clock
        jumps, or the app is started anew, is timed right.
        """
        if self._bench_ms is None:
            self._bench_ms = self._agree()
        return self._bench_ms + since_start_s() * 1000.0

    def _agree(self) -> float:
        key, own_ms = start_of_machine(), (wall_s() - since_start_s()) * 1000.0
        with self._transaction() as session:
            row = insert(BenchClockRow).values(machine_start=key, began_ms=own_ms)
            session.execute(row.on_conflict_do_nothing())
            began = select(BenchClockRow.began_ms).where(BenchClockRow.machine_start == key)
            return session.scalars(began).one()
