"""A store room as one JSON file: machines with what they have, standing tasks, the house."""

from __future__ import annotations

import json
from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from true_margin.core.choices import Keeping, Operation, PriceKind, TaskMeasure
from true_margin.core.errors import CoreError
from true_margin.core.spec_rows import SPECS, TITLES

MOST_SIGNS = 900_000
Name = Annotated[str, Field(min_length=1, max_length=120)]
Short = Annotated[str, Field(max_length=120)]
Cell = Annotated[str, Field(max_length=2000)]
_FIELD_OF = {spec.title: spec.field for spec in SPECS}


class RoomFileError(CoreError):
    """A file is no store room, or one that cannot be read; says where and what to do."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class FiledSpec(_Part):
    """What a row of a spec sheet is, by its title, as it would be typed."""

    row: str
    value: Cell
    since: date | None = None


class FiledMachine(_Part):
    """A machine of a store room."""

    name: Name
    model: Short | None = None
    sample: Short | None = None
    keeping: Keeping = Keeping.OWNED
    until: date | None = None
    note: Cell | None = None
    specs: Annotated[list[FiledSpec], Field(max_length=500)] = []


class FiledTask(_Part):
    """A standing task."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    app: Name
    measure: TaskMeasure = TaskMeasure.TIME
    timeline: Short | None = None
    timeline_length_s: Annotated[float, Field(gt=0, le=1e9)] | None = None
    operation: Operation | None = None
    settings: Annotated[dict[str, Cell], Field(max_length=100)] = {}
    starts_when: Annotated[str, Field(max_length=60)] | None = None
    ends_when: Annotated[str, Field(max_length=60)] | None = None
    work: Annotated[float, Field(gt=0, le=1e12)] | None = None
    unit: Annotated[str, Field(max_length=40)] | None = None
    note: Cell | None = None


class FiledHouse(_Part):
    """What new shootouts begin with."""

    channel: Short | None = None
    disclosure: Annotated[str, Field(max_length=500)] | None = None
    currency: Annotated[str, Field(pattern="^[A-Z]{3}$")] = "EUR"
    price_kind: PriceKind = PriceKind.LIST
    confidence: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    materiality: Annotated[float, Field(ge=0, le=0.5)] = 0.03
    planned_runs: Annotated[int, Field(ge=1, le=1000)] | None = None


class RoomFile(_Part):
    """A whole store room."""

    trueMarginRoom: Literal[1] = 1  # noqa: N815 (the name in the file)
    machines: Annotated[list[FiledMachine], Field(max_length=5000)] = []
    tasks: Annotated[list[FiledTask], Field(max_length=5000)] = []
    house: FiledHouse | None = None


def write_room(room: RoomFile) -> str:
    """Write a store room, the same bytes for the same room."""
    return json.dumps(room.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def read_room(text: str) -> RoomFile:
    """Read a store room that was saved.

    Raises:
        RoomFileError: it is none, or something in it cannot be.
    """
    if len(text) > MOST_SIGNS:
        raise RoomFileError(
            f"The file has {len(text)} signs; a store room has {MOST_SIGNS} at most."
        )
    try:
        found = RoomFile.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        raise RoomFileError(f"{where}: {first['msg']}. Was it saved as a store room?") from error
    for place, machine in enumerate(found.machines):
        for spec in machine.specs:
            if spec.row not in _FIELD_OF:
                raise RoomFileError(f"machines.{place}.specs: no row is called {spec.row!r}.")
    return found


def field_of(row: str) -> str:
    """The field of a row by its title; it must be one that ``read_room`` let through."""
    return _FIELD_OF[row]


def title_of(field: str) -> str | None:
    """The title of a machine's row; None for a field that no machine has."""
    return TITLES.get(field) if field in _FIELD_OF.values() else None
