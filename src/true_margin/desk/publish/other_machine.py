"""Answers for a machine that was not tested: an estimate by what one job takes on it.

A machine is put into a copy of the book that is to the nearest tested one as its time is to that
one's, at every job alike; Picks then says what to do with it, as for any other. This is worked
out for a handful of times when a page is made: whoever reads it looks for the row of their own.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from uuid import UUID, uuid5

from true_margin.core.numerals import short
from true_margin.core.wording import format_elapsed
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.margins import ladder_of
from true_margin.desk.picks.picks import PickView, show_pick
from true_margin.desk.picks.rows import gains_nothing
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.publish.answer_pages import lead_task, say_hours
from true_margin.desk.publish.answer_weeks import say_assumed
from true_margin.desk.publish.owned_machines import ANOTHER
from true_margin.store import records
from true_margin.store.records.viewers import Viewer

KEY, LABEL = ANOTHER, "Another machine"
NAME = "machine"
"""How it is called after "your"."""
_SPACE = UUID("6f0c1a52-6f0b-4a7e-9f0e-3a4b7d1c2e55")
NEAT_S = tuple(
    part * unit
    for unit in (1.0, 60.0, 3600.0)
    for part in (1, 1.5, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50)
)
"""Times that people know of their own machine, in seconds."""
MOST_ROWS = 9
FASTER, SLOWER = 0.7, 4.0
"""The rows go from the fastest that was tested, and somewhat less, to so many times the slowest."""


@dataclass(frozen=True, slots=True)
class OtherRow:
    """What to do where the job takes so long: the order, what it saves, when it is paid."""

    time: str
    order: str
    price: str
    saves: str
    paid: str


@dataclass(frozen=True, slots=True)
class Other:
    """The estimates for one kind of viewer: by which job, and a row a time, shortest first."""

    kind: str
    job: str
    work: str
    rows: tuple[OtherRow, ...]
    nearest: str
    assumed: str


def estimated(book: Book, kinds: Sequence[tuple[str, Viewer]]) -> frozenset[str]:
    """Kinds of viewers that there is an estimate for, by their keys; works nothing out yet."""

    def find() -> frozenset[str]:
        leads = {key: lead_task(book, viewer) for key, viewer in kinds}
        return frozenset(
            key
            for key, viewer in kinds
            if (task := leads[key]) is not None and len(_tested(book, viewer, task)) > 1
        )

    return book.cached("estimated kinds", find)


Made = dict[tuple[UUID, float], tuple[Book, records.Setup]]
"""Copies of the book with one machine more, by what it is like and how much slower it is."""


def other_answers(book: Book, kinds: Sequence[tuple[str, Viewer]]) -> dict[str, Other]:
    """The rows of each kind of viewer, by its key; none where no job was timed on two machines."""

    def work_out() -> dict[str, Other]:
        # Kinds of one job ask of the same machines: their copies are shared, and dropped after.
        made: Made = {}
        found = {key: _other(book, viewer, made) for key, viewer in kinds}
        return {key: each for key, each in found.items() if each is not None}

    return book.cached("other machines", work_out)


def _other(book: Book, viewer: Viewer, made: Made) -> Other | None:
    task = lead_task(book, viewer)
    if task is None:
        return None
    tested = _tested(book, viewer, task)
    if len(tested) < 2:
        return None
    rows = tuple(_rows(book, viewer, tested, made))
    named = [setup.machine for setup, _ in tested]
    return Other(
        viewer.name,
        task.name,
        say_work(task),
        rows,
        f"{', '.join(named[:-1])} or {named[-1]}",
        say_assumed(replace(viewer, resale=Decimal(0))) if viewer.weekly else "",
    )


def say_work(task: records.Task) -> str:
    """How much work the job is, so that a reader can hold a job of their own against it."""
    if not task.work:
        return ""
    if task.unit in ("s", None):
        # Minutes, as people say of a film how long it is; seconds of what is a moment.
        minutes = task.work / 60.0
        much = f"{short(minutes, 3)} minutes" if minutes >= 1 else f"{short(task.work, 2)} seconds"
        return f"That is {much} of timeline."
    return f"That is {short(task.work)} {task.unit}."


def _tested(book: Book, viewer: Viewer, task: records.Task) -> list[tuple[records.Setup, float]]:
    """Machines that did all of this viewer's work, at their first setup, with their times."""
    wanted = [
        book.task_index[part.task_id]
        for part in viewer.tasks
        if part.task_id in book.task_index and (part.amount if viewer.weekly else part.weight) > 0
    ]
    times = {row.setup_id: row.typical for row in ladder_of(book, str(task.id)).rows}
    found: dict[UUID, tuple[records.Setup, float]] = {}
    for at, setup in enumerate(book.setups):
        time = times.get(setup.id)
        if time is not None and all(book.index.ok[at, each] for each in wanted):
            found.setdefault(book.machine_of[setup.id].id, (setup, time))
    return sorted(found.values(), key=lambda each: each[1])


def _grid(tested: Sequence[tuple[records.Setup, float]]) -> list[float]:
    """Neat times around those that were measured, not too many of them."""
    low, high = FASTER * tested[0][1], SLOWER * tested[-1][1]
    neat = [each for each in sorted(set(NEAT_S)) if low <= each <= high]
    many = min(MOST_ROWS, len(neat))
    return [neat[round(at * (len(neat) - 1) / max(many - 1, 1))] for at in range(many)]


def _rows(
    book: Book, viewer: Viewer, tested: Sequence[tuple[records.Setup, float]], made: Made
) -> Iterator[OtherRow]:
    for seconds in _grid(tested):
        like, time = min(tested, key=lambda each: abs(math.log(each[1] / seconds)))
        key = like.id, seconds / time
        if key not in made:
            made[key] = with_machine(book, like, seconds / time)
        other, own = made[key]
        asked = replace(viewer, owned_setup_id=own.id, resale=Decimal(0))
        try:
            view = show_pick(other, asked, predict=False, near=1)
        except RefusedError:
            return
        if view.picked is None:
            return
        yield _row(viewer, view, own, format_elapsed(seconds, 0.1 if seconds < 10 else 1.0))


def _row(viewer: Viewer, view: PickView, own: records.Setup, time: str) -> OtherRow:
    picked = view.picked
    assert picked is not None, "a row is made of a pick"
    row = next((each for each in view.rows if each.setup_id == picked.setup_id), None)
    upgrade = None if row is None or picked.keep else row.upgrade
    if picked.keep or (upgrade is not None and gains_nothing(upgrade)):
        order = f"Keep your {own.machine}"
        return OtherRow(time, order, "", "" if picked.keep else "nothing for sure", "")
    saves, paid = "", ""
    if upgrade is not None and viewer.weekly:
        saves = f"{say_hours(upgrade.saved_week.value)} a week"
        paid = upgrade.words.payback_span or upgrade.words.payback
    order = picked.what.split(", ")[0]
    return OtherRow(time, order, say_money(picked.price, view.currency), saves, paid)


def with_machine(book: Book, like: records.Setup, factor: float) -> tuple[Book, records.Setup]:
    """A copy of a book with one machine more, at every job so many times as slow as another.

    It has one run a job, in the last round in which the other one did it; of what it is set to
    and costs nothing is known. Nothing is stored.
    """
    at = book.setup_index[like.id]
    machine_id, setup_id = (uuid5(_SPACE, f"{part} {book.shootout.id}") for part in ("m", "s"))
    setup = replace(
        like,
        id=setup_id,
        machine_id=machine_id,
        machine=NAME,
        name="",
        label=f"your {NAME}",
        position=len(book.setups),
        specs={},
        conditions={},
        assumed_ratio=None,
        assumed_against_id=None,
        assumed_source=None,
        extras=(),
    )
    machine = replace(
        book.machine_of[like.id],
        id=machine_id,
        name=setup.label,
        model=None,
        specs={},
        position=len(book.machines),
        setups=(setup,),
        prices=(),
        withdrawn_prices=(),
    )
    last = {}
    for run in book.runs:
        if run.setup_id == like.id and run.status == "ok" and run.value is not None:
            last[run.task_id] = run
    runs = []
    for task_id, run in last.items():
        task = book.tasks[book.task_index[task_id]]
        known = {row.setup_id: row.typical for row in ladder_of(book, str(task_id)).rows}
        typical = known.get(like.id)
        if typical is None or not book.index.ok[at, book.task_index[task_id]]:
            continue
        value = typical * factor if task.measure == "time" else typical / factor
        runs.append(
            replace(
                run,
                id=uuid5(_SPACE, f"{run.id}"),
                setup_id=setup_id,
                value=value,
                typed=None,
                bound=None,
                reason=None,
                note=None,
                client_key=f"estimate {task_id}",
            )
        )
    whole = replace(book, machines=(*book.machines, machine), runs=(*book.runs, *runs))
    return whole, setup
