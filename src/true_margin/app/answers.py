"""Answers that tell less than the desk knows: what a list of many thousand needs."""

from __future__ import annotations

from uuid import UUID

from pydantic import BaseModel, ConfigDict


class _Brief(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class RunInBrief(_Brief):
    """A run as a list needs it; the whole of it is told one by one."""

    id: UUID
    setup_id: UUID
    task_id: UUID
    round_id: UUID
    status: str
    value: float | None
    resolution: float | None
    approximate: bool
    bound: bool
    simulated: bool
    reason: str | None
    version: int


class FlaggedInBrief(_Brief):
    """A run in brief with what the checks say of it."""

    run: RunInBrief
    flags: tuple[str, ...]


class CellOfBook(_Brief):
    """The cell that runs of one setup on one task in one round share."""

    setup_id: UUID
    task_id: UUID
    round_id: UUID


class BookInBrief(_Brief):
    """All runs of a shootout in brief, with flags of runs and of cells."""

    runs: tuple[FlaggedInBrief, ...]
    drifting: tuple[CellOfBook, ...]


def attachment(name: str) -> dict[str, str]:
    """The header that offers an answer as a file; the name holds no quotes."""
    return {"Content-Disposition": f'attachment; filename="{name}"'}
