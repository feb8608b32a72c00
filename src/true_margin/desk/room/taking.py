"""Taking from the store room into a shootout, and what was corrected there since.

A shootout keeps its own copy: what it was tested with is not changed from elsewhere unless
somebody says so.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import date
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.spec_rows import SPECS, TITLES
from true_margin.core.specs import say_spec
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.room.overview import current_specs
from true_margin.store import lineup, records, room, room_uses, shootouts, tasks
from true_margin.store.database import Database

_JOB = ("operation", "settings", "starts_when", "ends_when", "measure", "work", "unit")
ANSWERED = "asked"
BEFORE, AFTER = "before", "after"
_FIELDS = frozenset(spec.field for spec in SPECS)


@dataclass(frozen=True, slots=True)
class Takeable:
    """A machine or standing task of the store room that a shootout can have; ``about`` it."""

    id: UUID
    name: str
    about: str


@dataclass(frozen=True, slots=True)
class CorrectionOffer:
    """What was corrected of a machine in the store room, and stands otherwise here."""

    spec_id: UUID
    machine_id: UUID
    words: str


@dataclass(frozen=True, slots=True)
class Series:
    """A shootout of the same series."""

    slug: str
    name: str
    here: bool


@dataclass(frozen=True, slots=True)
class TakingView:
    """What a shootout can take from the store room, what it may want to correct, its series."""

    machines: tuple[Takeable, ...]
    tasks: tuple[Takeable, ...]
    corrections: tuple[CorrectionOffer, ...]
    series: tuple[Series, ...]


def show_taking(database: Database, slug: str) -> TakingView:
    """Show what the store room has for a shootout."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        return taking_of(session, book)


def taking_of(session: Session, book: Book) -> TakingView:
    """What the store room has for a shootout, within a transaction."""
    machines, said = room.list_machines(session), room.list_specs(session)
    # Which setups are which machine is asked only where something was corrected.
    uses = room_uses.list_setup_uses(session) if said else ()
    demo = book.shootout.demo
    names = {m.name.casefold() for m in book.machines}
    jobs = {(t.own_name.casefold(), t.app.casefold()) for t in (*book.tasks, *book.observed)}
    return TakingView(
        tuple(
            Takeable(m.id, m.name, m.sample or m.keeping)
            for m in machines
            if m.demo is demo and m.name.casefold() not in names
        ),
        tuple(
            Takeable(t.id, t.name, t.app)
            for t in room.list_tasks(session)
            if t.demo is demo and (t.name.casefold(), t.app.casefold()) not in jobs
        ),
        tuple(_corrections(session, book, uses, machines, said)),
        tuple(
            Series(each.slug, each.name, each.id == book.shootout.id)
            for each in room.series_of(session, book.shootout.id)
        ),
    )


def take(
    database: Database,
    slug: str,
    machine_ids: Sequence[UUID],
    standing_ids: Sequence[UUID],
    who: str,
) -> TakingView:
    """Take machines and standing tasks into a shootout, as they are now.

    Raises:
        RefusedError: one is not there to be taken, or is here already.
    """
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        can = taking_of(session, book)
        for keys, known, field in (
            (machine_ids, can.machines, "machine_ids"),
            (standing_ids, can.tasks, "standing_ids"),
        ):
            if not set(keys) <= {each.id for each in known}:
                raise RefusedError(field, "It is here already, or not in the store room any more.")
        home = book.shootout.id
        shootouts.bump_revision(session, home)
        for key in machine_ids:
            _take_machine(session, home, key, who)
        for place, key in enumerate(standing_ids):
            _take_task(session, book, key, len(book.tasks) + place, who)
    return show_taking(database, slug)


def _take_machine(session: Session, home: UUID, key: UUID, who: str) -> None:
    machine = room.get_machine(session, key)
    uses = [use for use in room_uses.list_setup_uses(session) if use.room_machine_id == key]
    said = [each for each in room.list_specs(session) if each.machine_id == key]
    specs = {f: v for f, v in current_specs(uses, said).items() if f in _FIELDS}
    fields = {"name": machine.name, "model": machine.model, "specs": specs}
    machine_id = lineup.add_machine(session, home, fields)
    last = uses[-1].shootout_id if uses else None
    states = [use for use in uses if use.shootout_id == last]
    for use in states:
        own = {"specs": _own_rows(use.own_specs), "conditions": _own_rows(use.conditions)}
        setup = lineup.add_setup(session, machine_id, {"name": use.state or use.setup, **own})
        room_uses.link_setups(session, [setup], key, use.state or use.setup)
    if not states:
        setup = lineup.add_setup(session, machine_id, {"name": "as is"})
        room_uses.link_setups(session, [setup], key, "as is")
    if last is not None:
        before = lineup.list_machines(session, last)
        taken = {use.setup_id for use in states}
        source = next(m for m in before if taken & {s.id for s in m.setups})
        for price in source.prices:
            record = asdict(price)
            kept = {k: v for k, v in record.items() if k not in ("id", "machine_id", "corrects_id")}
            lineup.add_price(session, machine_id, kept)
    room.add_event(session, key, "taken", {"shootout": str(home)}, who)


def _own_rows(specs: Mapping[str, Any]) -> dict[str, Any]:
    """Rows that every sheet has: those that a reviewer added are of one shootout only."""
    return {field: value for field, value in specs.items() if field in TITLES}


def _take_task(session: Session, book: Book, key: UUID, position: int, who: str) -> None:
    standing, home = room.get_task(session, key), book.shootout.id
    timeline = None
    if standing.timeline is not None:
        timeline = tasks.timeline_named(
            session, home, standing.timeline, standing.timeline_length_s
        )
    fields = {name: getattr(standing, name) for name in _JOB}
    app = shootouts.app_named(session, home, standing.app)
    fields |= {
        "name": standing.name,
        "note": standing.note,
        "app_id": app,
        "timeline_id": timeline,
        "position": position,
    }
    room_uses.link_tasks(session, [tasks.add_task(session, home, fields)], key)
    room.add_event(session, key, "taken", {"shootout": str(home)}, who)


def _corrections(
    session: Session,
    book: Book,
    uses: Sequence[records.SetupUse],
    machines: Sequence[records.RoomMachine],
    said: Sequence[records.RoomSpec],
) -> Iterator[CorrectionOffer]:
    """Rows that the store room has otherwise since a day on which some runs here may lie."""
    names = {each.id: each.name for each in machines}
    here = {
        use.room_machine_id: book.machine_of[use.setup_id]
        for use in uses
        if use.shootout_id == book.shootout.id
        and use.room_machine_id in names
        and use.setup_id in book.machine_of
    }
    latest: dict[tuple[UUID, str], records.RoomSpec] = {}
    for each in said:
        latest[each.machine_id, each.field] = each
    for (machine_id, field), spec in latest.items():
        machine = here.get(machine_id)
        if machine is None or machine.specs.get(field) == spec.value or field not in TITLES:
            continue
        if _answered(session, machine_id, spec.id, book.shootout.id):
            continue
        if spec.since is not None and _all_before(book, machine, spec.since):
            continue
        yield CorrectionOffer(spec.id, machine_id, _say_correction(names[machine_id], spec))


def _say_correction(name: str, spec: records.RoomSpec) -> str:
    value = "nothing" if spec.value is None else say_spec(spec.value)
    unit = next((s.unit for s in SPECS if s.field == spec.field and s.unit), None)
    told = f"{value} {unit}" if unit else value
    since = "" if spec.since is None else f" since {spec.since:%-d %B %Y}"
    return f"{TITLES[spec.field]} of the {name} is {told}{since}: before or after the runs here?"


def _answered(session: Session, machine_id: UUID, spec_id: UUID, home: UUID) -> bool:
    return any(
        event.what == ANSWERED
        and event.details.get("spec") == str(spec_id)
        and event.details.get("shootout") == str(home)
        for event in room.list_events(session, machine_id)
    )


def _all_before(book: Book, machine: records.Machine, day: date) -> bool:
    """Whether every run of a machine is known to have been made before a day."""
    own = {setup.id for setup in machine.setups}
    runs = [run for run in book.runs if run.setup_id in own]
    return bool(runs) and all(r.started_at is not None and r.started_at.date() < day for r in runs)


def answer_correction(
    database: Database, slug: str, spec_id: UUID, answer: str, who: str
) -> TakingView:
    """Say whether a correction of the store room was so before the runs here, or came after.

    Args:
        database: where it is kept.
        slug: of the shootout.
        spec_id: what was corrected.
        answer: ``before`` the runs, then the sheet here is corrected too; ``after`` them, then
            it stays as it was tested.
        who: who says so.

    Raises:
        RefusedError: there is nothing of the kind to answer.
    """
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        offers = {each.spec_id: each for each in taking_of(session, book).corrections}
        offer = offers.get(spec_id)
        if offer is None:
            raise RefusedError("spec_id", "Nothing of this is open here: look again.")
        if answer == BEFORE:
            _correct(session, book, offer)
        details = {"spec": str(spec_id), "shootout": str(book.shootout.id), "answer": answer}
        room.add_event(session, offer.machine_id, ANSWERED, details, who)
    return show_taking(database, slug)


def _correct(session: Session, book: Book, offer: CorrectionOffer) -> None:
    spec = next(each for each in room.list_specs(session) if each.id == offer.spec_id)
    uses = room_uses.list_setup_uses(session)
    setups = {u.setup_id for u in uses if u.room_machine_id == offer.machine_id}
    machine = next(m for m in book.machines if setups & {s.id for s in m.setups})
    shootouts.bump_revision(session, book.shootout.id)
    specs = {**machine.specs, spec.field: spec.value}
    kept = {field: value for field, value in specs.items() if value is not None}
    lineup.change_machine(session, machine.id, machine.version, {"specs": kept})
