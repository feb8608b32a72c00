"""Simulated rigs on the bench of a demo: which ones, and starting their program."""

from __future__ import annotations

import subprocess
import sys
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from uuid import UUID

from true_margin.core.wording import count_of
from true_margin.desk.access import pairing
from true_margin.desk.access.rights import LOCAL, Who
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.standins.rig_model import Rig
from true_margin.standins.rigs import Order, write_orders
from true_margin.store import records
from true_margin.store.database import Database

PROGRAM = (sys.executable, "-m", "true_margin.standins.rigs")
MOST = 4
FRAMES_PER_S = 50.0


@dataclass(frozen=True, slots=True)
class RigsOnBench:
    """What was put on the bench; ``says`` is a sentence for the person."""

    setups: tuple[str, ...]
    task: str
    says: str


def put_rigs(
    database: Database,
    slug: str,
    address: str,
    factor: float,
    task_id: UUID | None = None,
    who: Who = LOCAL,
) -> tuple[RigsOnBench, subprocess.Popen[bytes]]:
    """Put up to four simulated rigs on the bench, each a setup that was measured.

    Args:
        database: where the book is.
        slug: of a demo shootout.
        address: where the rigs report to.
        factor: how much faster than life they run, 1 to 120.
        task_id: what they export; the task that most setups were measured on without it.
        who: puts them there; where people sign in the rigs are paired as theirs.

    Returns:
        What stands on the bench, and the program that is the rigs.

    Raises:
        RefusedError: not a demo, or nothing was measured yet.
    """
    book = SHELF.take(database, slug)
    if not book.shootout.demo:
        reason = "Simulated rigs stand in demo shootouts only: their runs are not real."
        raise RefusedError("slug", reason)
    task, known = _measured(book, task_id)
    orders = [
        Order(str(setup.id), str(task.id), _rig(book, task, setup, seconds), factor, _seed(setup))
        for setup, seconds in known
    ]
    token = None
    if who.person_id is not None:
        token = pairing.pair_at_once(database, slug, "simulated rigs", who).token
    # Only the rigs know the address, by their standard input; no name is used as an argument.
    program = subprocess.Popen(
        PROGRAM, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, start_new_session=True
    )
    assert program.stdin is not None
    program.stdin.write(write_orders(address, slug, orders, token).encode())
    program.stdin.close()
    labels = tuple(setup.label for setup, _ in known)
    says = (
        f"{count_of(len(labels), 'simulated machine')} on {task.name}. Start each one; it stops "
        "by itself."
    )
    return RigsOnBench(labels, task.name, says), program


def _measured(
    book: Book, task_id: UUID | None
) -> tuple[records.Task, Sequence[tuple[records.Setup, float]]]:
    """The task, and setups with their usual seconds on it, one a machine."""
    found = [
        (task, _usual(book, task))
        for task in book.tasks
        if task.measure == "time" and not task.superseded and task_id in (None, task.id)
    ]
    task, known = max(found, key=lambda each: len(each[1]), default=(None, []))
    if task is None or not known:
        raise RefusedError("task_id", "No setup was measured on it yet: rigs copy real runs.")
    return task, known[:MOST]


def _usual(book: Book, task: records.Task) -> list[tuple[records.Setup, float]]:
    seen: set[UUID] = set()
    found = []
    for setup in book.setups:
        times = book.values_of.get((setup.id, task.id))
        machine = book.machine_of[setup.id]
        if times and machine.id not in seen and machine.retired_at is None:
            seen.add(machine.id)
            found.append((setup, median(times[-3:])))
    return found


def _rig(book: Book, task: records.Task, setup: records.Setup, seconds: float) -> Rig:
    """A rig like the setup: laptops heat up, those with little memory crash at times."""
    specs = book.machine_of[setup.id].specs
    laptop = "laptop" in str(specs.get("form", "")).casefold()
    memory = specs.get("memory_gb")
    small = isinstance(memory, int | float) and memory <= 8
    return Rig(
        seconds,
        heats_after_s=0.6 * seconds if laptop else None,
        estimate_bias=1.25 if laptop else 0.85,
        crash_chance=0.3 if small else 0.04,
        frames=None if task.timeline_length_s is None else FRAMES_PER_S * task.timeline_length_s,
    )


def _seed(setup: records.Setup) -> int:
    return zlib.crc32(setup.label.encode())
