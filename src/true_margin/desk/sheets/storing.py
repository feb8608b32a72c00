"""Storing a sheet: machines, tasks, specs, prices, noted ratios and runs, all or nothing."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from true_margin.core.numerals import writing
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import Spec, show_spec
from true_margin.desk.book.sheet_rows import machine_rows, read_cells
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.lineup.lineup import FIRST_SETUP
from true_margin.desk.runs.runs import KnownNames, prepare_run, read_places
from true_margin.desk.sheets.preview import ReadySheet, ready_sheet
from true_margin.desk.sheets.taking_back import SheetCell, SheetMade
from true_margin.desk.shootouts import shootouts as desk_shootouts
from true_margin.exchange.sheets.cells import part_reached
from true_margin.exchange.sheets.facts import Answers, PriceFact, RunFact, SpecFact
from true_margin.store import lineup, ratios, records, runs, shootouts, tasks
from true_margin.store.database import Database

NO_APP = "app not named"
"""App of tasks whose sheet does not say in which they were run; to be changed at the task."""
MOST_SOURCE = 200
_STATES = frozenset(spec.field for spec in STATES)


@dataclass(frozen=True, slots=True)
class SheetResult:
    """What was stored, and how much still waits; ``made`` is what taking it back needs."""

    slug: str
    results: int
    ratios: int
    prices: int
    specs: int
    machines: int
    tasks: int
    same: int
    waiting: int
    made: SheetMade


def store_sheet(
    database: Database, slug: str, text: str, answers: Answers, who: str
) -> SheetResult:
    """Store all of a sheet that is ready, in one transaction; what waits is left out.

    The same sheet again stores nothing twice: each run's key is made of the sheet and its
    place in it.

    Raises:
        RefusedError: it is no sheet, nothing of it is ready, or something cannot be stored.
    """
    book = SHELF.take(database, slug)
    ready = ready_sheet(database, book, text, answers)
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        return _store(session, shootout, ready, who)


def start_from_sheet(
    database: Database, fields: Mapping[str, Any], text: str, answers: Answers, who: str
) -> SheetResult:
    """Make a shootout out of a sheet, in one transaction.

    Raises:
        RefusedError: as for storing; nothing was made then.
    """
    ready = ready_sheet(database, None, text, answers)
    if not ready.runs and not ready.ratios and not ready.specs and not ready.prices:
        raise RefusedError("text", "Nothing of this is ready to be stored yet.")
    # In the currency of its own prices, where nobody asked for another.
    said = next((price.currency for price in ready.prices), "EUR")
    own = {**fields, "currency": fields.get("currency") or said}
    with transaction(database) as session:
        home = desk_shootouts.new_shootout(session, own)
        return _store(session, home, ready, who)


def _store(
    session: Session, shootout: records.Shootout, ready: ReadySheet, who: str
) -> SheetResult:
    shootouts.bump_revision(session, shootout.id)
    names = _Names(session, shootout, ready)
    for row in ready.reading.rows:
        if row.setup is not None and row.state in ("known", "new"):
            names.setup(row.setup)
    cells = tuple(_store_specs(session, shootout.id, names, ready.specs))
    prices = tuple(_store_prices(session, shootout, names, ready.prices))
    noted = tuple(_store_ratios(session, names, ready, who))
    ordered = [
        (fact, _fields(fact, names, f"{ready.key}{fact.key}")) for fact in _in_order(ready.runs)
    ]
    places = read_places(session, shootout.id)
    rows = [{"id": uuid4(), **_prepared(places, fact, own, who)} for fact, own in ordered]
    runs.add_runs(session, shootout.id, rows)
    return SheetResult(
        shootout.slug,
        len(rows),
        len(ready.ratios),
        len(ready.prices),
        len(ready.specs),
        len(names.made_machines),
        names.new_tasks,
        ready.same,
        ready.reading.waiting,
        SheetMade(
            tuple(row["id"] for row in rows), noted, prices, tuple(names.made_machines), cells
        ),
    )


def _store_prices(
    session: Session, shootout: records.Shootout, names: _Names, facts: Sequence[PriceFact]
) -> Iterator[UUID]:
    today = datetime.now(UTC).date()
    for price in facts:
        machine = names.machine(price.setup)
        yield lineup.add_price(
            session,
            machine,
            {
                "kind": price.kind,
                "amount": Decimal(price.amount),
                "currency": price.currency,
                # Without a day it is of today, and counts on the day that is asked for.
                "dated": price.dated or min(today, shootout.price_date),
                "note": price.note or None,
            },
        )


def _store_ratios(session: Session, names: _Names, ready: ReadySheet, who: str) -> Iterator[UUID]:
    source = ready.reading.title[:MOST_SOURCE] or "a pasted table"
    for ratio in ready.ratios:
        yield ratios.add_ratio(
            session,
            {
                "task_id": names.task(ratio.task),
                "setup_id": names.setup(ratio.setup),
                "against_id": names.setup(ratio.against),
                "typed": ratio.typed,
                "source": source,
                "who": who,
                "noted_at": datetime.now(UTC),
                "client_key": f"{ready.key}{ratio.key}",
            },
        )


def _prepared(
    places: KnownNames, fact: RunFact, fields: Mapping[str, Any], who: str
) -> dict[str, Any]:
    # As they were shown: by the signs of the column, not of whoever brings it in.
    with writing(fact.signs):
        return prepare_run(places, fields, who)


def _in_order(facts: Sequence[RunFact]) -> list[RunFact]:
    """Runs by their order where every one has one, else as the sheet has them."""
    if any(fact.order is None for fact in facts):
        return list(facts)
    return sorted(facts, key=lambda fact: fact.order or 0)


def _fields(fact: RunFact, names: _Names, key: str) -> dict[str, object]:
    result = fact.result
    reason = result.reason or None
    return {
        "setup_id": names.setup(fact.setup),
        "task_id": names.task(fact.task),
        "round_id": names.round(fact.round),
        "typed": result.typed or None,
        "method": result.method.value,
        "status": result.status.value,
        "reason": reason,
        "reached": part_reached(reason) if reason and result.status.value == "failed" else None,
        "note": result.note or None,
        "client_key": key,
    }


def _store_specs(
    session: Session, home: UUID, names: _Names, facts: Sequence[SpecFact]
) -> Iterator[SheetCell]:
    """Lay specs over what machines and setups have; rows that are new are made first.

    Gives every cell with what it held before.
    """
    free = {row.title.casefold(): str(row.id) for row in lineup.list_free_rows(session, home)}
    typed: dict[UUID, dict[str, str | None]] = {}
    for fact in facts:
        field = fact.field or free.get(fact.title.casefold())
        if field is None:
            columns = {"title": fact.title, "unit": fact.unit or None, "number": fact.number}
            field = str(lineup.add_free_row(session, home, columns))
            free[fact.title.casefold()] = field
        typed.setdefault(names.setup(fact.setup), {})[field] = fact.text
    if not typed:
        return
    rows = machine_rows(lineup.list_free_rows(session, home))
    for machine in lineup.list_machines(session, home):
        for setup in machine.setups:
            cells = typed.get(setup.id, {})
            yield from _store_cells(session, machine, setup, cells, rows)


def _store_cells(
    session: Session,
    machine: records.Machine,
    setup: records.Setup,
    cells: Mapping[str, str | None],
    rows: Sequence[Spec],
) -> Iterator[SheetCell]:
    """Lay a setup's cells over what it, or its machine, has."""
    states = {field: text for field, text in cells.items() if field in _STATES}
    own = {field: text for field, text in cells.items() if field not in _STATES}
    # A machine with several setups may differ in them: the value is this setup's own.
    if own and len(machine.setups) == 1:
        specs = read_cells(machine.specs, own, rows)
        lineup.change_machine(session, machine.id, machine.version, {"specs": specs})
        yield from _written(machine.id, None, machine.specs, specs, own)
        own = {}
    changes: dict[str, dict[str, Any]] = {}
    if states:
        changes["conditions"] = read_cells(setup.conditions, states, STATES)
    if own:
        changes["specs"] = read_cells(setup.specs, own, rows)
    if changes:
        lineup.change_setup(session, setup.id, setup.version, changes)
    for kind, after in changes.items():
        fields = states if kind == "conditions" else own
        yield from _written(machine.id, setup.id, getattr(setup, kind), after, fields)


def _written(
    machine: UUID,
    setup: UUID | None,
    before: Mapping[str, Any],
    after: Mapping[str, Any],
    fields: Iterable[str],
) -> Iterator[SheetCell]:
    """Cells that now say something else than before."""
    for field in fields:
        now = show_spec(after.get(field))
        if now != show_spec(before.get(field)):
            yield SheetCell(machine, setup, field, show_spec(before.get(field)) or None, now)


class _Names:
    """Finds setups, tasks and rounds by name, adding those that are new."""

    def __init__(self, session: Session, shootout: records.Shootout, ready: ReadySheet) -> None:
        self._session, self._shootout = session, shootout.id
        machines = lineup.list_machines(session, shootout.id)
        self._setups = {s.label: s.id for m in machines for s in m.setups}
        self._machines = {s.label: m.id for m in machines for s in m.setups}
        self._tasks = {t.name: t.id for t in tasks.list_tasks(session, shootout.id)}
        self._rounds = {r.name: r.id for r in shootouts.list_rounds(session, shootout.id)}
        self._said = {task.name: task for task in ready.reading.tasks}
        apps = {task.app for task in tasks.list_tasks(session, shootout.id)}
        self._app = next(iter(apps)) if len(apps) == 1 else NO_APP
        self.made_machines: list[UUID] = []
        self.new_tasks = 0

    def setup(self, name: str) -> UUID:
        """The setup of this name; a machine with one is added where it is new."""
        if name not in self._setups:
            machine = lineup.add_machine(self._session, self._shootout, {"name": name})
            self._setups[name] = lineup.add_setup(self._session, machine, {"name": FIRST_SETUP})
            self._machines[name] = machine
            self.made_machines.append(machine)
        return self._setups[name]

    def machine(self, name: str) -> UUID:
        """The machine of the setup of this name."""
        self.setup(name)
        return self._machines[name]

    def task(self, name: str) -> UUID:
        """The task of this name, made as the sheet was understood where it is new."""
        if name not in self._tasks:
            said = self._said[name]
            app = shootouts.app_named(self._session, self._shootout, said.app or self._app)
            fields: dict[str, Any] = {"name": name, "app_id": app, "measure": said.measure}
            if said.measure == "amount" and said.unit:
                fields["unit"] = said.unit[:40]
            if said.timeline:
                fields["timeline_id"] = tasks.timeline_named(
                    self._session, self._shootout, said.timeline, None
                )
            self._tasks[name] = tasks.add_task(self._session, self._shootout, fields)
            self.new_tasks += 1
        return self._tasks[name]

    def round(self, name: str) -> UUID | None:
        """The round of this name, opened where it is new; None where none is named."""
        if name and name not in self._rounds:
            self._rounds[name] = shootouts.add_round(self._session, self._shootout, name)
        return self._rounds.get(name)
