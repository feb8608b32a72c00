"""The rows of the sheet with the reviewer's own, and typed cells of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import numerals
from true_margin.core.spec_rows import SPECS
from true_margin.core.specs import CellKind, Spec, SpecValue, parse_spec
from true_margin.desk.errors import RefusedError
from true_margin.store import records

OF_OUR_OWN = "Your own rows"


def machine_rows(free_rows: Iterable[records.FreeRow]) -> tuple[Spec, ...]:
    """All rows that a machine may fill in, those of the reviewer's own last."""
    return (*SPECS, *(free_spec(row) for row in free_rows))


def free_spec(row: records.FreeRow) -> Spec:
    """A row that the reviewer added, as the core reads it."""
    kind = CellKind.NUMBER if row.number else CellKind.TEXT
    return Spec(str(row.id), row.title, OF_OUR_OWN, kind, row.unit, least=-1e9)


def read_cells(
    known: Mapping[str, Any], typed: Mapping[str, str | None], specs: Iterable[Spec]
) -> dict[str, SpecValue]:
    """Lay typed cells over the known ones; an empty one is taken back.

    Raises:
        RefusedError: no such row, or a cell that its row cannot hold; names the row.
    """
    by_field = {spec.field: spec for spec in specs}
    found = dict(known)
    for field, text in typed.items():
        if field not in by_field:
            raise RefusedError(field, f"There is no row {field!r} in the spec sheet.")
        try:
            value = parse_spec(by_field[field], text or "", numerals())
        except QuantityError as error:
            raise RefusedError(field, error.reason) from error
        # "No" is what an empty cell says of a state, so it is not stored.
        if value is None or value is False or value == []:
            found.pop(field, None)
        else:
            found[field] = value
    return found
