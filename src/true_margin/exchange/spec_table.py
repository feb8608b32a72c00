"""Specs as a block from a spreadsheet, or as a file that a machine gave out.

A block may have its machines across or down; which of the two is found by
where the names of specs stand.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.core.errors import CoreError
from true_margin.core.outside_numbers import read_whole
from true_margin.core.spec_rows import SPECS
from true_margin.core.specs import Spec, find_spec

MAX_CELLS = 20_000


class SpecTableError(CoreError):
    """The text cannot be taken for specs at all."""


@dataclass(frozen=True, slots=True)
class SpecEntry:
    """One cell: which machine, which spec, and the text as it stands there."""

    machine: str
    spec: Spec
    text: str


@dataclass(frozen=True, slots=True)
class SpecTable:
    """What a block holds.

    Attributes:
        layout: ``across``, ``down`` or ``file``.
        machines: names, in their order.
        entries: cells that were understood; empty ones left out.
        unknown: names of rows or columns that are no spec.
    """

    layout: str
    machines: tuple[str, ...]
    entries: tuple[SpecEntry, ...]
    unknown: tuple[str, ...]


def read_specs(text: str, specs: Sequence[Spec] = SPECS) -> SpecTable:
    """Read specs from a pasted block, a spec file, or the text of ``lscpu -J``.

    Args:
        text: the block or file.
        specs: the rows that the sheet has.

    Raises:
        SpecTableError: empty, ragged, or without the name of any spec.
    """
    body = text.removeprefix("\ufeff").strip("\n")
    if not body.strip():
        raise SpecTableError(
            "Nothing was pasted: copy a block with the names of machines and specs."
        )
    if body.lstrip().startswith("{"):
        return _read_file(body, specs)
    rows = _rows(body)
    down = sum(find_spec(cell, specs) is not None for cell in rows[0][1:])
    across = sum(find_spec(row[0], specs) is not None for row in rows[1:])
    if not (down or across):
        raise SpecTableError(
            "No row or column is called like a spec (Form, Processor, Cores, Memory, ...)."
        )
    if down > across:
        rows = [list(column) for column in zip(*rows, strict=True)]
    return _read_across(rows, "down" if down > across else "across", specs)


def _rows(body: str) -> list[list[str]]:
    first = body.splitlines()[0]
    sign = max("\t;,", key=first.count)
    try:
        rows = [
            [cell.strip() for cell in row]
            for row in csv.reader(io.StringIO(body, newline=""), delimiter=sign, strict=True)
            if any(cell.strip() for cell in row)
        ]
    except csv.Error as error:
        raise SpecTableError(f"The block cannot be read: {error}; check the quotes.") from error
    for number, row in enumerate(rows, start=1):
        if len(row) != len(rows[0]):
            raise SpecTableError(
                f"Row {number} has {len(row)} cells where the first has {len(rows[0])}."
            )
    if len(rows) < 2 or len(rows[0]) < 2:
        raise SpecTableError("One row or column alone holds no specs: copy the names too.")
    if len(rows) * len(rows[0]) > MAX_CELLS:
        raise SpecTableError(f"More than {MAX_CELLS} cells; paste fewer.")
    return rows


def _read_across(rows: list[list[str]], layout: str, specs: Sequence[Spec]) -> SpecTable:
    machines = tuple(rows[0][1:])
    if any(not name for name in machines) or len(set(machines)) != len(machines):
        raise SpecTableError("Every machine needs a name of its own in the block.")
    entries, unknown = [], []
    for title, *cells in rows[1:]:
        spec = find_spec(title, specs)
        if spec is None:
            unknown.append(title)
            continue
        entries += [SpecEntry(m, spec, c) for m, c in zip(machines, cells, strict=True) if c]
    return SpecTable(layout, machines, tuple(entries), tuple(unknown))


def _read_file(body: str, specs: Sequence[Spec]) -> SpecTable:
    try:
        document = json.loads(body)
    except (ValueError, RecursionError) as error:
        raise SpecTableError(f"The file is not JSON: {error}") from error
    name = document.pop("name", None)
    if isinstance(document.get("lscpu"), list):
        document = _from_lscpu(document["lscpu"])
        name = name or document.get("processor")
    if not isinstance(name, str) or not name.strip():
        raise SpecTableError('The file needs a "name": which machine is it?')
    entries, unknown = [], []
    for title, value in document.items():
        spec = find_spec(title, specs)
        text = _file_cell(value)
        if spec is None or text is None:
            unknown.append(title)
        else:
            entries.append(SpecEntry(name.strip(), spec, text))
    return SpecTable("file", (name.strip(),), tuple(entries), tuple(unknown))


def _file_cell(value: object) -> str | None:
    """A value of a spec file as it would be typed; None for what no cell can hold."""
    if isinstance(value, list) and all(isinstance(each, str) for each in value):
        return ", ".join(value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value) if isinstance(value, (str, int, float)) else None


def _from_lscpu(fields: list[object]) -> dict[str, object]:
    """Take the processor, its cores and its clock out of ``lscpu -J``."""
    found = dict(_lscpu_pairs(fields))
    specs: dict[str, object] = {}
    if "Model name" in found:
        specs["processor"] = found["Model name"]
    per_socket, sockets = found.get("Core(s) per socket", ""), found.get("Socket(s)", "1")
    cores, count = read_whole(per_socket), read_whole(sockets)
    if cores is not None and count is not None:
        specs["cores"] = cores * count
        per_core = read_whole(found.get("Thread(s) per core", ""))
        if per_core is not None:
            specs["threads"] = per_core * cores * count
    # The lowest clock that is listed is an idle one, so only the highest says something.
    if "CPU max MHz" in found:
        specs["boost clock"] = f"{found['CPU max MHz']} MHz"
    return specs


def _lscpu_pairs(fields: list[object]) -> list[tuple[str, str]]:
    pairs = []
    for each in fields:
        if isinstance(each, dict):
            pairs.append((str(each.get("field", "")).rstrip(":"), str(each.get("data", ""))))
            children = each.get("children")
            pairs += _lscpu_pairs(children) if isinstance(children, list) else []
    return pairs
