"""The next thing, from the first machine to the published page: what to do now, in order.

Every step that applies is listed, the most useful first; who puts one off sees the one after it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import takewhile

import numpy as np

from true_margin.core.sittings import rank_next_runs, wants_new_sitting
from true_margin.core.study import IndexArray
from true_margin.core.wording import count_of, faster_than
from true_margin.desk.bench.bench import candidates_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.errors import transaction
from true_margin.desk.margins.doubts import doubt_of, odd_runs
from true_margin.store import editions, records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class NextAction:
    """What a button does: the stage that it opens, and what of it."""

    words: str
    stage: str
    search: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class NextThing:
    """A useful next step: ``text`` with ``strong`` first, and what its buttons do.

    ``kind`` names the step, so that it can be put off.
    """

    kind: str
    strong: str
    text: str
    action: NextAction
    other: NextAction | None = None


def next_things(database: Database, book: Book, wrong_claims: int) -> tuple[NextThing, ...]:
    """What a reviewer should do now, in the order of the work; at least one thing.

    Args:
        database: where the book is.
        book: of the shootout.
        wrong_claims: how many claims of the script need fixing.
    """
    begun = _beginning(book)
    if begun is not None:
        return (begun,)
    left = (
        *_odd(book),
        *_first_runs(book),
        *_more_runs(book),
        *_unfair(book),
        *_beyond_runs(database, book, wrong_claims),
    )
    if left:
        return left
    see = NextAction("See the page", "publish", {"view": "public"})
    return (NextThing("done", "Up to date.", "Nothing left to do.", see),)


def _beginning(book: Book) -> NextThing | None:
    """Machines and a task come first: without them there is nothing to time."""
    if not book.machines:
        add = NextAction("Add machine", "lineup", {"focus": "add"})
        return NextThing("first machine", "Add the first machine", "that you will test.", add)
    if len(book.setups) == 1:
        add = NextAction("Add machine", "lineup", {"focus": "add"})
        only = book.machines[0].name
        what = f"what do you compare {only} with?"
        return NextThing("second machine", "Add the second:", what, add)
    if not book.tasks:
        add = NextAction("Add task", "tasks", {"focus": "add"})
        return NextThing("task", "Add a task:", "what will you time, in which app?", add)
    return None


def _desk(book: Book) -> list[records.Setup]:
    """Setups that can be timed: neither retired nor only announced."""
    return [
        setup
        for setup in book.setups
        if book.machine_of[setup.id].retired_at is None and setup.assumed_ratio is None
    ]


def _current(book: Book) -> records.Task:
    """The task at hand: the one of the newest counted run, else the first."""
    newest = next((run for run in reversed(book.runs) if run.status == "ok"), None)
    return book.tasks[0 if newest is None else book.task_index[newest.task_id]]


def _time_it(
    kind: str, setup: records.Setup, task: records.Task, strong: str, text: str
) -> NextThing:
    ready = NextAction("Ready the timer", "bench", {"focus": f"{setup.id}:{task.id}"})
    typed = NextAction("Type it", "runs", {"focus": "line"})
    return NextThing(kind, strong, text, ready, typed)


def _first_runs(book: Book) -> Iterator[NextThing]:
    """The task at hand on every machine once, so that there is something to compare."""
    task, desk = _current(book), _desk(book)
    missing = [s for s in desk if _tried(book, s, task) == 0]
    if not missing:
        return
    setup = missing[0]
    if len(missing) == len(desk):
        strong = f"Time {task.name} on {setup.label}."
        yield _time_it("first run", setup, task, strong, "")
        return
    strong, about = f"Now the same on {setup.label}:", _about(book, task)
    yield _time_it("first run", setup, task, strong, f"{task.name}{about}.")


def _tried(book: Book, setup: records.Setup, task: records.Task) -> int:
    return int(book.index.tried[book.setup_index[setup.id], book.task_index[task.id]])


def _odd(book: Book) -> Iterator[NextThing]:
    """A run that looks like a slip outranks more runs."""
    looked_into = {key for inquiry in book.inquiries for key in inquiry.run_ids}
    for run in odd_runs(book):
        if run.id not in looked_into:
            doubt = doubt_of(book, run)
            if doubt is not None:
                setup = book.setups[book.setup_index[run.setup_id]].label
                task = book.tasks[book.task_index[run.task_id]].name
                check = NextAction("Check it", "runs", {"run": str(run.id)})
                strong = f"An odd time: {setup}, {task}."
                yield NextThing("odd run", strong, doubt, check)
                return


def _more_runs(book: Book) -> Iterator[NextThing]:
    """Runs that repeat a first result, that settle an undecided one, or that are missing."""
    desk, task = _desk(book), _current(book)
    once = [s for s in desk if _measured(book, s, task) == 1]
    if once:
        yield _repeat(book, once[0], task)
    yield from _undecided(book)
    missing = next(_places_of(book, desk, book.index.tried, 0), None)
    if missing is not None and missing[1].id != task.id:
        setup, other = missing
        strong, about = f"Time {other.name} on {setup.label}:", _about(book, other)
        yield _time_it("missing run", setup, other, strong, f"it has no run yet{about}.")
    single = next(_places_of(book, desk, book.index.measured, 1), None)
    if single is not None and single[1].id != task.id:
        setup, other = single
        strong, about = f"Run {other.name} on {setup.label} once more", _about(book, other)
        yield _time_it("second run", setup, other, strong, f"to see that it repeats{about}.")


def _measured(book: Book, setup: records.Setup, task: records.Task) -> int:
    return int(book.index.measured[book.setup_index[setup.id], book.task_index[task.id]])


def _repeat(book: Book, setup: records.Setup, task: records.Task) -> NextThing:
    """A first result, and the run that shows whether it repeats."""
    rungs = analysis_of(book).tasks[book.task_index[task.id]].rungs
    again = f"Run {setup.label} once more to see that it repeats{_about(book, task)}."
    if len(rungs) < 2:
        strong = f"{setup.label} was timed once on {task.name}."
        return _time_it("second run", setup, task, strong, again)
    lead, next_to = (book.setups[rung.setup].label for rung in rungs[:2])
    apart = rungs[0].log_speed - rungs[1].log_speed
    little = apart < np.log1p(book.shootout.materiality)
    strong = (
        f"{lead} and {next_to} look equally fast."
        if little
        else f"{lead} looks {faster_than(apart)} {next_to}."
    )
    return _time_it("second run", setup, task, strong, again)


def _undecided(book: Book) -> Iterator[NextThing]:
    """The run that is most likely to settle something, a minute."""
    retired = [s for s in book.setups if book.machine_of[s.id].retired_at is None]
    ranked = rank_next_runs(candidates_of(book, retired))
    if not ranked:
        return
    best = ranked[0]
    setup, task = book.setups[best.setup], book.tasks[best.task]
    strong = f"Time {task.name} on {setup.label}"
    if wants_new_sitting(analysis_of(book), best.task, best.setup):
        text = "in a new session, hours from this one: runs of one session resemble each other."
        yield _time_it("new session", setup, task, strong, text)
        return
    minutes = max(1, round(best.minutes))
    text = f"(about {minutes} min): most likely to settle an undecided result."
    yield _time_it("undecided", setup, task, strong, text)


def _unfair(book: Book) -> Iterator[NextThing]:
    """A pair that did not do the same job, where nobody accepted that."""
    broken = parity_of(book).broken
    if broken is None or not broken.any():
        return
    task, a, b = (int(place) for place in np.argwhere(broken)[0])
    differs = next(
        (d for d in parity_of(book).between(task, a, b) if d.weight.value == "breaks"), None
    )
    what = "" if differs is None else f" ({differs.condition.value} differs)"
    names = [book.setups[place].label for place in (a, b)]
    search = {
        "task": str(book.tasks[task].id),
        "a": str(book.setups[a].id),
        "b": str(book.setups[b].id),
    }
    text = f"{names[0]} and {names[1]} on {book.tasks[task].name}{what}."
    yield NextThing(
        "not comparable", "Not comparable:", text, NextAction("Look at it", "margins", search)
    )


def _beyond_runs(database: Database, book: Book, wrong_claims: int) -> Iterator[NextThing]:
    """Prices, viewers, the script, a card, the page."""
    unpriced = [machine for machine in book.machines if not machine.prices]
    viewers = [viewer for viewer in book.viewers if viewer.retired_at is None]
    if unpriced:
        search = {"machine": str(unpriced[0].id), "focus": "price"}
        add = NextAction("Add price", "lineup", search)
        yield NextThing(
            "prices", f"Add the price of {unpriced[0].name}", "to get recommendations.", add
        )
    if not viewers:
        add = NextAction("Add viewer", "picks")
        yield NextThing("viewer", "Who is it for?", "Describe one viewer.", add)
    if book.script is None or not book.script.text.strip():
        write = NextAction("Open script", "publish", {"view": "script"})
        what = "each comparison is checked against your runs."
        yield NextThing("script", "Write your script:", what, write)
    if wrong_claims:
        need = "claim needs" if wrong_claims == 1 else "claims need"
        fix = NextAction("Show them", "publish", {"view": "script"})
        yield NextThing("claims", f"{wrong_claims} {need} checking", "in your script.", fix)
    if not any(card.retired_at is None for card in book.cards):
        make = NextAction("Make a card", "publish", {"view": "cards"})
        yield NextThing("card", "Make a card:", "a picture of the result for your video.", make)
    yield from _page(database, book)


def _page(database: Database, book: Book) -> Iterator[NextThing]:
    """The page: published, published again, or up to date."""
    with transaction(database) as session:
        published = editions.list_editions(session, book.shootout.id)
    to = {"view": "public"}
    if not published:
        what = "a read-only copy at a secret link."
        yield NextThing("page", "Publish the page:", what, NextAction("Publish", "publish", to))
        return
    newest = max(published, key=lambda edition: edition.number)
    # Runs stand in the order in which they came, so the new ones are the last.
    new = takewhile(lambda run: run.created_at > newest.created_at, reversed(book.runs))
    since = sum(1 for _ in new)
    if since:
        what = f"{count_of(since, 'run')} since edition {newest.number}."
        again = NextAction(f"Publish edition {newest.number + 1}", "publish", to)
        yield NextThing("edition", "Published.", what, again)


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
