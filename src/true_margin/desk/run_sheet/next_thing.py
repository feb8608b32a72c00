"""The one most useful next thing, from the first machine to the published page."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from true_margin.core.sittings import rank_next_runs
from true_margin.core.study import IndexArray
from true_margin.core.wording import count_of
from true_margin.desk.bench.bench import candidates_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.errors import transaction
from true_margin.store import editions, records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class NextThing:
    """The most useful next step: ``text`` with ``strong`` first, and what its button does."""

    strong: str
    text: str
    action: str
    stage: str
    focus: str | None


def next_thing(database: Database, book: Book) -> NextThing:
    """What a reviewer should do now, in the order of the work."""
    if not book.machines:
        return NextThing(
            "Add the first machine", "that you will test.", "Add machine", "lineup", "add"
        )
    if len(book.setups) == 1:
        only = book.machines[0].name
        return NextThing(
            "Add a second machine:",
            f"{only} alone makes no comparison.",
            "Add machine",
            "lineup",
            "add",
        )
    if not book.tasks:
        return NextThing(
            "Add a task:", "what is exported, in which app.", "Add task", "tasks", "add"
        )
    if not any(run.status == "ok" for run in book.runs):
        first = book.setups[0].label
        return NextThing(
            f"{first} · {book.tasks[0].name}",
            "has no run yet: time it, or type its time.",
            "Time it",
            "bench",
            f"{book.setups[0].id}:{book.tasks[0].id}",
        )
    return _next_run(book) or _next_beyond_runs(database, book)


def _next_run(book: Book) -> NextThing | None:
    """The run that narrows open calls most a minute, or one that is missing; None for none."""
    desk = [s for s in book.setups if book.machine_of[s.id].retired_at is None]
    ranked = rank_next_runs(candidates_of(book, desk))
    if ranked:
        best = ranked[0]
        calls = count_of(len(best.pairs), "open call")
        minutes = max(1, round(best.minutes))
        return _time_it(
            book.setups[best.setup],
            book.tasks[best.task],
            f"about {minutes} min, narrows {calls} most per minute.",
        )
    # What is only announced cannot be timed.
    here = [setup for setup in desk if setup.assumed_ratio is None]
    missing = next(_places_of(book, here, book.index.tried, 0), None)
    if missing is not None:
        return _time_it(*missing, f"has no run yet: time it{_about(book, missing[1])}.")
    once = next(_places_of(book, here, book.index.measured, 1), None)
    if once is not None:
        return _time_it(
            *once, f"was timed once: again, to see that it repeats{_about(book, once[1])}."
        )
    return None


def _time_it(setup: records.Setup, task: records.Task, why: str) -> NextThing:
    name = f"{setup.label} · {task.name}"
    return NextThing(name, why, "Time it", "bench", f"{setup.id}:{task.id}")


def _places_of(
    book: Book, desk: list[records.Setup], counts: IndexArray, wanted: int
) -> Iterator[tuple[records.Setup, records.Task]]:
    """Setups on the desk and tasks of today with so many of what is counted, task by task."""
    for at, task in enumerate(book.tasks):
        if task.superseded:
            continue
        for setup in desk:
            if counts[book.setup_index[setup.id], at] == wanted:
                yield setup, task


def _about(book: Book, task: records.Task) -> str:
    """How long a run of a task takes, as far as others tell; empty where none does."""
    if task.measure != "time":
        return ""
    theta = analysis_of(book).fit.theta[:, book.task_index[task.id]]
    known = theta[np.isfinite(theta)]
    if not len(known):
        return ""
    return f", about {max(1, round(float(np.exp(-known).mean()) / 60))} min"


def _next_beyond_runs(database: Database, book: Book) -> NextThing:
    """Everything is timed: prices, viewers, the script, the page."""
    if not any(machine.prices for machine in book.machines):
        return NextThing(
            "Nothing left to time. Add prices:",
            "a pick needs what each machine costs.",
            "Add prices",
            "lineup",
            None,
        )
    if all(viewer.retired_at is not None for viewer in book.viewers):
        return NextThing(
            "Nothing left to time. Say whom it is for:",
            "the work, budget and needs of a viewer make a pick.",
            "Add a viewer",
            "picks",
            None,
        )
    if book.script is None or not book.script.text.strip():
        return NextThing(
            "Nothing left to time. Write what you will say:",
            "each sentence is checked against the runs.",
            "Write the script",
            "publish",
            None,
        )
    with transaction(database) as session:
        published = editions.list_editions(session, book.shootout.id)
    if not published:
        return NextThing(
            "Publish the page:",
            "frozen as it is, at a link that you give out.",
            "Publish",
            "publish",
            "public",
        )
    return NextThing(
        "Nothing left to time.", "Read the margins, task by task.", "See margins", "margins", None
    )
