"""Bringing an earlier shootout in: its machines, tasks and runs as earlier rounds."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import lineup, records, runs, shootouts, tasks
from true_margin.store.database import Database

_COPIED = (
    "status",
    "value",
    "typed",
    "resolution",
    "approximate",
    "bound",
    "method",
    "u",
    "poll_s",
    "placed_u",
    "reached",
    "conditions",
    "simulated",
    "reason",
    "note",
    "started_at",
    "who",
    "checked",
)
_JOB = ("operation", "settings", "starts_when", "ends_when", "note", "measure", "work", "unit")


@dataclass(frozen=True, slots=True)
class EarlierTask:
    """A task of the earlier shootout; ``here`` where this one has it already."""

    id: UUID
    name: str
    app: str
    runs: int
    here: bool


@dataclass(frozen=True, slots=True)
class EarlierPreview:
    """What would come in, before anything is stored."""

    slug: str
    name: str
    rounds: tuple[str, ...]
    machines_here: tuple[str, ...]
    machines_new: tuple[str, ...]
    tasks: tuple[EarlierTask, ...]
    runs: int
    bridges: tuple[str, ...]
    summary: str


@dataclass(frozen=True, slots=True)
class BroughtIn:
    """What came in; the same again brings nothing twice."""

    runs: int
    known: int
    machines: int
    tasks: int
    rounds: tuple[str, ...]


def preview_earlier(database: Database, slug: str, other_slug: str) -> EarlierPreview:
    """Say what an earlier shootout would bring in, and which machines would tie it to this one."""
    book, other = _both(database, slug, other_slug)
    here = {m.name.casefold() for m in book.machines}
    found = _tasks_here(book, other)
    listed = tuple(
        EarlierTask(
            task.id, task.name, task.app, int(other.index.kept[:, place].sum()), place in found
        )
        for place, task in enumerate(other.tasks)
        if not task.superseded
    )
    bridges = tuple(dict.fromkeys(name for name, _ in _bridges(book, other, found)))
    return EarlierPreview(
        other.shootout.slug,
        other.shootout.name,
        tuple(_round_name(other, round_) for round_ in other.rounds),
        tuple(m.name for m in other.machines if m.name.casefold() in here),
        tuple(m.name for m in other.machines if m.name.casefold() not in here),
        listed,
        len(other.runs),
        bridges,
        _say(listed, bridges),
    )


def bring_in(database: Database, slug: str, other_slug: str, task_ids: Sequence[UUID]) -> BroughtIn:
    """Bring the runs of some tasks of an earlier shootout in, as rounds before all others.

    Machines and tasks are matched by name, and made where they are new. Each run keeps
    its value, its reason and who timed it; the same again stores nothing twice.

    Raises:
        RefusedError: no task is named, or one is not of that shootout.
    """
    book, other = _both(database, slug, other_slug)
    chosen = {key for key in task_ids if key in other.task_index}
    if not chosen or len(chosen) < len(set(task_ids)):
        raise RefusedError("task_ids", "Choose at least one task of that shootout.")
    with transaction(database) as session:
        home = book.shootout.id
        shootouts.bump_revision(session, home)
        own_tasks, new_tasks = _bring_tasks(session, home, book, other, chosen)
        moved = [run for run in other.runs if run.task_id in chosen]
        needed = {run.setup_id for run in moved}
        setups, new_machines = _bring_setups(session, home, book, other, needed)
        rounds = _bring_rounds(session, home, book, other, {run.round_id for run in moved})
        known = runs.known_client_keys(session, home, "earlier-")
        place = runs.next_place(session, home)
        fresh = [run for run in moved if f"earlier-{run.id}" not in known]
        keys = {run.id: uuid4() for run in fresh}
        runs.add_runs(
            session,
            home,
            [
                {
                    **{name: getattr(run, name) for name in _COPIED},
                    "id": keys[run.id],
                    "setup_id": setups[run.setup_id],
                    "task_id": own_tasks[run.task_id],
                    "round_id": rounds[run.round_id],
                    "place": place + count,
                    "client_key": f"earlier-{run.id}",
                }
                for count, run in enumerate(fresh)
            ],
        )
        for run in fresh:
            for mark in other.marks_of.get(run.id, ()):
                marked = asdict(mark)
                del marked["run_id"], marked["id"]
                runs.add_mark(session, keys[run.id], marked)
    names = tuple(_round_name(other, r) for r in other.rounds if r.id in rounds)
    return BroughtIn(len(fresh), len(moved) - len(fresh), new_machines, new_tasks, names)


def _both(database: Database, slug: str, other_slug: str) -> tuple[Book, Book]:
    if slug == other_slug:
        raise RefusedError("slug", "A shootout cannot be its own earlier one.")
    return SHELF.take(database, slug), SHELF.take(database, other_slug)


def _tasks_here(book: Book, other: Book) -> dict[int, int]:
    """Place in the other book to place in this one, of tasks with one name, app and measure."""
    own = {
        (task.name.casefold(), task.app.casefold(), task.measure): place
        for place, task in enumerate(book.tasks)
        if not task.superseded
    }
    found = {}
    for place, task in enumerate(other.tasks):
        at = own.get((task.name.casefold(), task.app.casefold(), task.measure))
        if at is not None and not task.superseded:
            found[place] = at
    return found


def _bridges(book: Book, other: Book, matches: Mapping[int, int]) -> list[tuple[str, int]]:
    """Setups that were measured on one task in both, with the task's place here."""
    labels = {setup.label.casefold(): place for place, setup in enumerate(book.setups)}
    tied = []
    for place, setup in enumerate(other.setups):
        at = labels.get(setup.label.casefold())
        if at is None:
            continue
        for there, here in matches.items():
            if other.index.ok[place, there] and book.index.ok[at, here]:
                tied.append((setup.label, here))
    return tied


def _say(listed: Sequence[EarlierTask], bridges: Sequence[str]) -> str:
    both = [task.name for task in listed if task.here]
    if bridges:
        shown = ", ".join(bridges[:3]) + (" and more" if len(bridges) > 3 else "")
        count = f"{len(both)} task{'s are' if len(both) != 1 else ' is'} in both"
        return (
            f"{count}. Measured in both, and so tying the rounds together: {shown}. Figures of "
            f"other machines are estimates from that round, and marked ↻."
        )
    if not both:
        return "No task of it is here by name and app, so nothing would tie it to this one."
    return (
        f"No machine was measured in both on {', '.join(both[:3])}: without one there is no "
        f"bridge. Run one of its machines here, on one of these tasks."
    )


def _round_name(other: Book, round_: records.Round) -> str:
    return f"{round_.name} ({other.shootout.name})"[:120]


def _bring_tasks(
    session: Session, home: UUID, book: Book, other: Book, chosen: set[UUID]
) -> tuple[dict[UUID, UUID], int]:
    here = {other.tasks[a].id: book.tasks[b].id for a, b in _tasks_here(book, other).items()}
    found, made = {}, 0
    for place, task in enumerate(other.tasks):
        if task.id not in chosen:
            continue
        if task.id in here:
            found[task.id] = here[task.id]
            continue
        fields = {name: getattr(task, name) for name in _JOB}
        timeline = None
        if task.timeline is not None:
            timeline = tasks.timeline_named(session, home, task.timeline, task.timeline_length_s)
        found[task.id] = tasks.add_task(
            session,
            home,
            {
                **fields,
                "name": task.name,
                "timeline_id": timeline,
                "app_id": shootouts.app_named(session, home, task.app),
                "position": len(book.tasks) + place,
            },
        )
        made += 1
    return found, made


def _bring_setups(
    session: Session, home: UUID, book: Book, other: Book, needed: set[UUID]
) -> tuple[dict[UUID, UUID], int]:
    machines = {m.name.casefold(): m for m in book.machines}
    found, made = {}, 0
    for machine in other.machines:
        wanted = [setup for setup in machine.setups if setup.id in needed]
        if not wanted:
            continue
        known = machines.get(machine.name.casefold())
        if known is None:
            fields = {"name": machine.name, "model": machine.model, "specs": machine.specs}
            machine_id = lineup.add_machine(session, home, fields)
            made += 1
            for price in machine.prices:
                own = asdict(price)
                lineup.add_price(
                    session,
                    machine_id,
                    {k: v for k, v in own.items() if k not in ("id", "machine_id")},
                )
        else:
            machine_id = known.id
        names = {} if known is None else {s.name.casefold(): s.id for s in known.setups}
        for setup in wanted:
            found[setup.id] = names.get(setup.name.casefold()) or lineup.add_setup(
                session,
                machine_id,
                {"name": setup.name, "specs": setup.specs, "conditions": setup.conditions},
            )
    return found, made


def _bring_rounds(
    session: Session, home: UUID, book: Book, other: Book, needed: set[UUID]
) -> dict[UUID, UUID]:
    """Rounds before all others, in their own order; those that came earlier are used again."""
    known = {round_.name: round_.id for round_ in book.rounds if round_.brought_from}
    first = min((round_.position for round_ in book.rounds), default=0)
    wanted = [round_ for round_ in other.rounds if round_.id in needed]
    found = {}
    for place, round_ in enumerate(wanted):
        name = _round_name(other, round_)
        if name in known:
            found[round_.id] = known[name]
            continue
        key = shootouts.add_earlier_round(
            session, home, name, first - len(wanted) + place, other.shootout.name
        )
        for each in round_.versions:
            app = shootouts.app_named(session, home, each.app)
            shootouts.set_round_version(session, key, app, each.version)
        found[round_.id] = key
    return found
