"""What one pack has that another has not, row by row."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_rows import PackRow
from true_margin.exchange.pack_schemas import SCHEMAS

PLACES = ("content", "place", "card")
"""What a pack counts for itself: the same row may have another number in another pack."""


@dataclass(frozen=True, slots=True)
class Changed:
    """A row that both have, with other values: ``fields`` are those."""

    here: Any
    there: Any
    fields: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class TableDifference:
    """What the pack has of a table that is not here: new rows, and changed ones."""

    table: str
    new: tuple[Any, ...]
    changed: tuple[Changed, ...]
    only_here: int


def differ(here: Pack, there: Pack) -> tuple[TableDifference, ...]:
    """Hold a pack against what is here, table by table; tables that agree are left out."""
    found = (_differ_table(name, here, there) for name in SCHEMAS if name != "shootout")
    return tuple(each for each in found if each.new or each.changed or each.only_here)


def changed_settings(here: Pack, there: Pack) -> tuple[str, ...]:
    """Settings of the shootout itself that are others in the pack."""
    fields = type(here.shootout).model_fields
    return tuple(
        name
        for name in fields
        if name != "id" and getattr(here.shootout, name) != getattr(there.shootout, name)
    )


def _differ_table(name: str, here: Pack, there: Pack) -> TableDifference:
    known = {key_of(name, row): row for row in getattr(here, name)}
    new, changed, seen = [], [], set()
    for row in getattr(there, name):
        key = key_of(name, row)
        seen.add(key)
        if key not in known:
            new.append(row)
            continue
        fields = tuple(_other_fields(known[key], row))
        if fields:
            changed.append(Changed(known[key], row, fields))
    return TableDifference(name, tuple(new), tuple(changed), len(known.keys() - seen))


def key_of(name: str, row: PackRow) -> tuple[Any, ...]:
    """By what a row is known."""
    identity = SCHEMAS[name].identity
    if identity:
        return tuple(getattr(row, column) for column in identity)
    return tuple(getattr(row, f) for f in type(row).model_fields if f not in PLACES)


def _other_fields(one: PackRow, other: PackRow) -> Iterator[str]:
    for field in type(one).model_fields:
        if field not in PLACES and getattr(one, field) != getattr(other, field):
            yield field
