"""Taking a sheet back: all that came with it counts no more, and nothing of it is lost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.spec_rows import STATES
from true_margin.core.specs import show_spec
from true_margin.core.wording import count_of
from true_margin.desk.book.sheet_rows import machine_rows, read_cells
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import lineup, ratios, records, runs, shootouts
from true_margin.store.database import Database
from true_margin.store.shootout_lookup import home_of

UNDONE = "brought in by mistake and undone"


@dataclass(frozen=True, slots=True)
class SheetCell:
    """A cell of the spec sheet that a sheet wrote: what was there before, and what it put there.

    ``setup_id`` is None where the cell is the machine's; ``before`` and ``after`` are as one
    would type them, ``before`` None for an empty cell.
    """

    machine_id: UUID
    setup_id: UUID | None
    field: str
    before: str | None
    after: str


@dataclass(frozen=True, slots=True)
class SheetMade:
    """Everything that came with a sheet, by id."""

    run_ids: tuple[UUID, ...]
    ratio_ids: tuple[UUID, ...]
    price_ids: tuple[UUID, ...]
    machine_ids: tuple[UUID, ...]
    cells: tuple[SheetCell, ...]


@dataclass(frozen=True, slots=True)
class TakenBack:
    """What was taken back, in a sentence; ``stays`` says what was not, and why."""

    says: str
    stays: tuple[str, ...]


def take_sheet_back(database: Database, slug: str, made: SheetMade, who: str) -> TakenBack:
    """Take back what came with a sheet, in one transaction.

    Runs become void, noted ratios and prices are withdrawn, cells get back what they held,
    new machines go to the archive. What somebody changed since, and a machine that something
    else was measured on, stay as they are, and are told.

    Raises:
        RefusedError: something of it is not of this shootout; nothing is changed.
    """
    now = datetime.now(UTC)
    stays: list[str] = []
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        _check_home(session, home, made)
        shootouts.bump_revision(session, home)
        voided = sum(_void(session, key, who, stays) for key in made.run_ids)
        for key in made.ratio_ids:
            ratios.withdraw_ratio(session, key, now, UNDONE)
        for key in made.price_ids:
            lineup.withdraw_price(session, key, now, UNDONE)
        machines = {m.id: m for m in lineup.list_machines(session, home, archived=None)}
        emptied = _put_cells_back(session, home, machines, made.cells, stays)
        counted = runs.setups_that_count(session, home)
        away = [machines[key] for key in dict.fromkeys(made.machine_ids)]
        used = [m for m in away if any(setup.id in counted for setup in m.setups)]
        for machine in away:
            if machine in used:
                stays.append(f"{machine.name} stays: other runs of it count.")
            else:
                lineup.archive_machine(session, machine.id, now)
    parts = (
        (voided, "run"),
        (len(made.ratio_ids), "noted ratio"),
        (len(made.price_ids), "price"),
        (emptied, "spec"),
        (len(away) - len(used), "machine"),
    )
    told = ", ".join(count_of(number, noun) for number, noun in parts if number)
    return TakenBack(f"Taken back: {told or 'nothing'}. All of it is kept.", tuple(stays))


def _check_home(session: Session, home: UUID, made: SheetMade) -> None:
    named = {
        "ratios": set(made.ratio_ids),
        "prices": set(made.price_ids),
        "machines": {*made.machine_ids, *(cell.machine_id for cell in made.cells)},
        "setups": {cell.setup_id for cell in made.cells if cell.setup_id is not None},
    }
    of_runs = (runs.run_home(session, key) for key in made.run_ids)
    others = (home_of(session, name, key) for name, keys in named.items() for key in keys)
    if any(each != home for each in (*of_runs, *others)):
        raise RefusedError("made", "Something of this is not in this shootout.")


def _void(session: Session, key: UUID, who: str, stays: list[str]) -> bool:
    run = runs.get_run(session, key)
    if run.status == "void":
        return False
    if run.version != 1:
        stays.append("A run that was changed since still counts: void it in the run book.")
        return False
    # Under another key, so that the same sheet, read otherwise, can be brought in anew.
    changes = {"status": "void", "reason": UNDONE, "client_key": f"undone-{key}"}
    runs.revise_run(session, run, run.version, changes, who, UNDONE)
    return True


def _put_cells_back(
    session: Session,
    home: UUID,
    machines: Mapping[UUID, records.Machine],
    cells: Sequence[SheetCell],
    stays: list[str],
) -> int:
    """Put back what cells held before, an owner at a time; gives how many."""
    rows = machine_rows(lineup.list_free_rows(session, home))
    titles = {spec.field: spec.title for spec in (*rows, *STATES)}
    states = {spec.field for spec in STATES}
    of_owner: dict[tuple[UUID, UUID | None], list[SheetCell]] = {}
    for cell in cells:
        of_owner.setdefault((cell.machine_id, cell.setup_id), []).append(cell)
    put = 0
    for (machine_id, setup_id), own in of_owner.items():
        machine = machines[machine_id]
        owner: records.Machine | records.Setup = next(
            (setup for setup in machine.setups if setup.id == setup_id), machine
        )
        typed: dict[str, dict[str, str | None]] = {}
        for cell in own:
            kind = "conditions" if cell.field in states else "specs"
            if show_spec(getattr(owner, kind).get(cell.field)) == cell.after:
                typed.setdefault(kind, {})[cell.field] = cell.before
            else:
                title = titles.get(cell.field, cell.field)
                stays.append(f"{title} of {machine.name}: changed since.")
        changes = {
            kind: read_cells(
                dict(getattr(owner, kind)), fields, STATES if kind == "conditions" else rows
            )
            for kind, fields in typed.items()
        }
        if changes and isinstance(owner, records.Machine):
            lineup.change_machine(session, owner.id, owner.version, changes)
        elif changes:
            lineup.change_setup(session, owner.id, owner.version, changes)
        put += sum(map(len, typed.values()))
    return put
