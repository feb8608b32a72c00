"""The case file in its short form: a CSV of runs and nothing else.

Section 12 of the computation page: columns setup, task, round, order, value,
reading, status, note; settings are the defaults.
"""

from __future__ import annotations

from typing import Any

from true_margin.core.errors import CaseError, QuantityError
from true_margin.core.quantities import AmbiguousElapsed, parse_elapsed
from true_margin.core.readings import ReadingMethod, reading_uncertainty
from true_margin.core.study import Study
from true_margin.exchange.case_file import build_study, describe_ambiguity
from true_margin.exchange.run_table import TableError, TableRow, read_run_table

_TAKEN = (
    ReadingMethod.STOPWATCH,
    ReadingMethod.ONE_PRESS,
    ReadingMethod.LOG,
    ReadingMethod.REMEMBERED,
    ReadingMethod.STATED,
)


def read_case_csv(text: str) -> Study:
    """Read a case from a CSV of runs.

    Raises:
        CaseError: not a table of runs, or a cell that is off, with its line.
    """
    try:
        table = read_run_table(text)
    except TableError as error:
        raise CaseError("case", error.reason) from error
    return build_study({"runs": [_run(row) for row in table.rows]})


def _run(row: TableRow) -> dict[str, Any]:
    path = f"line {row.line}"
    if row.problem is not None:
        raise CaseError(path, row.problem)
    cells = row.cells
    for field in ("setup", "task"):
        if not cells.get(field):
            raise CaseError(f"{path}.{field}", "is missing")
    status = (cells.get("status") or "ok").lower()
    if status not in ("ok", "void", "failed"):
        raise CaseError(f"{path}.status", f"must be ok, void or failed, got {status!r}")
    run: dict[str, Any] = {"setup": cells["setup"], "task": cells["task"], "status": status}
    if cells.get("round"):
        run["round"] = cells["round"]
    if cells.get("order"):
        run["order"] = _order(cells["order"], path)
    if cells.get("value"):
        run["value"] = cells["value"]
        run["u"] = _uncertainty(cells["value"], cells.get("reading", ""), path)
    elif status == "ok":
        raise CaseError(f"{path}.value", "is missing; only void and failed runs may lack a value")
    return run


def _order(text: str, path: str) -> int:
    if not (text.isascii() and text.isdigit() and len(text) < 10):
        raise CaseError(f"{path}.order", f"must be a whole number, got {text!r}")
    return int(text)


def _uncertainty(text: str, reading: str, path: str) -> float:
    """Standard uncertainty of a typed time, in seconds."""
    method = reading.lower() or ReadingMethod.STATED
    if method not in _TAKEN:
        taken = ", ".join(_TAKEN)
        raise CaseError(f"{path}.reading", f"must be one of {taken}, got {reading!r}")
    try:
        elapsed = parse_elapsed(text)
    except QuantityError as error:
        raise CaseError(f"{path}.value", error.reason) from error
    if isinstance(elapsed, AmbiguousElapsed):
        raise CaseError(f"{path}.value", describe_ambiguity(elapsed))
    return reading_uncertainty(
        elapsed.resolution_s, ReadingMethod(method), approximate=elapsed.approximate
    )
