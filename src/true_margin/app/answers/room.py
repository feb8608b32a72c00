"""The house, as the API answers it."""

from __future__ import annotations

from true_margin.app.answers.base import Answer


class House(Answer):
    """What every new shootout begins with."""

    channel: str | None
    disclosure: str | None
    currency: str
    price_kind: str
    confidence: float
    materiality: float
    planned_runs: int | None
    version: int


class RoomMachineThatStands(Answer):
    """A machine of the store room as somebody else left it."""

    name: str
    model: str | None
    sample: str | None
    keeping: str
    note: str | None
    version: int


class RoomTaskThatStands(Answer):
    """A standing task as somebody else left it."""

    name: str
    note: str | None
    version: int
