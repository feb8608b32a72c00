"""Line-up: machines, setups, the spec sheet."""

from __future__ import annotations

from uuid import UUID

from true_margin.app.answers.lineup import LineUp, Machine
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.requests import (
    Archiving,
    FreeRowChange,
    MachineChange,
    MachineOrder,
    NewFreeRow,
    NewMachine,
    NewSetup,
    Retirement,
    SetupChange,
    SpecText,
    TrialMark,
)
from true_margin.desk.lineup import lineup, spec_paste, spec_sheet
from true_margin.store import records

router = stage_router("line-up")


@router.get("/shootouts/{slug}/lineup", response_model=LineUp)
def show_lineup(slug: str, database: DatabaseHere) -> spec_sheet.LineUp:
    """Show the spec sheet: machines as columns, rows that differ marked."""
    return spec_sheet.show_lineup(database, slug)


@router.post("/shootouts/{slug}/machines", status_code=201, response_model=Machine)
def add_machine(slug: str, body: NewMachine, database: DatabaseHere) -> records.Machine:
    """Add a machine with its first setup."""
    return lineup.add_machine(database, slug, body.model_dump(exclude_unset=True))


@router.patch("/machines/{machine_id}", response_model=Machine)
def change_machine(
    machine_id: UUID, body: MachineChange, database: DatabaseHere
) -> records.Machine:
    """Change fields of a machine; refused where someone else changed it first."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return lineup.change_machine(database, machine_id, body.version, changes)


@router.post("/machines/{machine_id}/setups", status_code=201, response_model=Machine)
def add_setup(machine_id: UUID, body: NewSetup, database: DatabaseHere) -> records.Machine:
    """Add a setup to a machine."""
    return lineup.add_setup(database, machine_id, body.model_dump(exclude_unset=True))


@router.patch("/setups/{setup_id}", response_model=Machine)
def change_setup(setup_id: UUID, body: SetupChange, database: DatabaseHere) -> records.Machine:
    """Change fields of a setup; refused where someone else changed it first."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return lineup.change_setup(database, setup_id, body.version, changes)


@router.put("/shootouts/{slug}/lineup/order", response_model=LineUp)
def order_machines(slug: str, body: MachineOrder, database: DatabaseHere) -> spec_sheet.LineUp:
    """Put the machines in another order."""
    lineup.order_machines(database, slug, body.machine_ids)
    return spec_sheet.show_lineup(database, slug)


@router.post("/machines/{machine_id}/retirement", response_model=Machine)
def retire_machine(machine_id: UUID, body: Retirement, database: DatabaseHere) -> records.Machine:
    """Retire a machine or bring it back; its runs stay."""
    return lineup.retire_machine(database, machine_id, retired=body.retired)


@router.post("/machines/{machine_id}/archive")
def archive_machine(machine_id: UUID, body: Archiving, database: DatabaseHere) -> None:
    """Put a machine with its runs into the archive, or take it out."""
    lineup.archive_machine(database, machine_id, archived=body.archived)


@router.post("/shootouts/{slug}/free-rows", status_code=201, response_model=LineUp)
def add_free_row(slug: str, body: NewFreeRow, database: DatabaseHere) -> spec_sheet.LineUp:
    """Add a row of one's own to the spec sheet."""
    return spec_sheet.add_free_row(database, slug, body.title, body.unit, number=body.number)


@router.patch("/free-rows/{row_id}", response_model=LineUp)
def rename_free_row(row_id: UUID, body: FreeRowChange, database: DatabaseHere) -> spec_sheet.LineUp:
    """Give a row of one's own another title."""
    return spec_sheet.rename_free_row(database, row_id, body.title)


@router.post("/free-rows/{row_id}/removal", response_model=LineUp)
def remove_free_row(row_id: UUID, database: DatabaseHere) -> spec_sheet.LineUp:
    """Take an empty row of one's own off the sheet."""
    return spec_sheet.remove_free_row(database, row_id)


@router.put("/shootouts/{slug}/rows/{field}/trial", response_model=LineUp)
def put_on_trial(
    slug: str, field: str, body: TrialMark, database: DatabaseHere
) -> spec_sheet.LineUp:
    """Mark a row as what is on trial besides the subject."""
    return spec_sheet.put_on_trial(database, slug, field, on_trial=body.on_trial)


@router.post("/shootouts/{slug}/specs/preview")
def preview_specs(slug: str, body: SpecText, database: DatabaseHere) -> spec_paste.SpecPreview:
    """Show what a pasted block or a spec file would change; stores nothing."""
    return spec_paste.preview_specs(database, slug, body.text)


@router.post("/shootouts/{slug}/specs", status_code=201)
def commit_specs(slug: str, body: SpecText, database: DatabaseHere) -> spec_paste.SpecPreview:
    """Store a confirmed block, all or nothing."""
    return spec_paste.commit_specs(database, slug, body.text)
