"""Checks on runs: they flag what looks odd; only a person voids.

Section 6 of the computation page.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import stdtr

from true_margin.core.cells import CellTable
from true_margin.core.study import FlagArray, FloatArray, Study

ODD_Z = 3.5
"""Modified z above which a run is odd (Iglewicz & Hoaglin 1993)."""
ODD_SPREADS = 3.0
DRIFT_P = 0.01
SLOWED_BELOW = 0.9
SIZE_TOLERANCE = 0.05


class Check(StrEnum):
    """What a flag says."""

    ODD_ONE = "odd one"
    FIRST_DIFFERS = "first differs"
    DRIFTING = "drifting"
    SLOWED_DOWN = "slowed down"
    COARSE = "coarse"
    WRONG_OUTPUT = "wrong output"


@dataclass(frozen=True, slots=True)
class Flag:
    """A run, or a whole cell, that a person should look at.

    Attributes:
        setup, task, round: indices of the cell.
        run: index into the run table; None where the flag is the cell's.
        check: what was found.
    """

    setup: int
    task: int
    round: int
    run: int | None
    check: Check


def flag_runs(study: Study, cells: CellTable) -> tuple[Flag, ...]:
    """Flag runs and cells by their values alone.

    Args:
        study: a checked study.
        cells: its cells.

    Returns:
        Flags by task, setup and round; a run can carry several.

    Reference:
        Iglewicz & Hoaglin (1993) for the modified z; computation page, section 6.
    """
    if len(cells) == 0:
        return ()
    without = _spread_without_cell(study, cells)
    found = {
        Check.ODD_ONE: _odd_many(cells) | _odd_few(cells, without),
        Check.FIRST_DIFFERS: _first_differs(cells, without),
        Check.COARSE: _coarse(cells),
    }
    flags = [
        _flag(cells, int(cells.cell_of_run[i]), int(cells.run[i]), check)
        for check, mask in found.items()
        for i in np.flatnonzero(mask)
    ]
    flags += [_flag(cells, int(c), None, Check.DRIFTING) for c in np.flatnonzero(_drifting(cells))]
    return tuple(sorted(flags, key=_flag_order))


def _flag(cells: CellTable, cell: int, run: int | None, check: Check) -> Flag:
    return Flag(int(cells.setup[cell]), int(cells.task[cell]), int(cells.round[cell]), run, check)


def _flag_order(flag: Flag) -> tuple[int, ...]:
    return (flag.task, flag.setup, flag.round, -1 if flag.run is None else flag.run)


def _spread_without_cell(study: Study, cells: CellTable) -> FloatArray:
    """s_−c of each cell: the task's spread from everything but this cell; NaN for 0/0."""
    prior_df, prior_cv = study.settings.prior_df, study.settings.prior_cv
    scatter = np.bincount(cells.task, weights=cells.scatter)[cells.task] - cells.scatter
    repeat_df = np.bincount(cells.task, weights=cells.n - 1)[cells.task] - (cells.n - 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        # A subtraction can leave scatter just below zero where it is all this cell's.
        variance = (prior_df * prior_cv**2 + np.maximum(scatter, 0.0)) / (prior_df + repeat_df)
    return np.sqrt(variance)


def _odd_many(cells: CellTable) -> FlagArray:
    """n ≥ 5: modified z about the median; skipped where the MAD is 0."""
    big = (cells.n >= 5)[cells.cell_of_run]
    median = _cell_median(cells, cells.v)
    away = np.abs(cells.v - median[cells.cell_of_run])
    mad = _cell_median(cells, away)[cells.cell_of_run]
    return np.asarray(big & (mad > 0) & (0.6745 * away > ODD_Z * mad))


def _cell_median(cells: CellTable, values: FloatArray) -> FloatArray:
    ordered = _sorted_in_cells(cells, values)
    low = ordered[cells.start + (cells.n - 1) // 2]
    high = ordered[cells.start + cells.n // 2]
    return np.asarray((low + high) / 2.0)


def _sorted_in_cells(cells: CellTable, values: FloatArray) -> FloatArray:
    """Sort the values inside each cell; cells keep their places."""
    width = int(cells.n.max())
    if width * len(cells) > 4 * len(values) + 1000:
        return np.asarray(values[np.lexsort((values, cells.cell_of_run))])
    # Cells of like size fit a padded table, which sorts several times faster.
    table = np.full((len(cells), width), np.inf)
    filled = np.arange(width) < cells.n[:, None]
    table[filled] = values
    table.sort(axis=1)
    return np.asarray(table[filled])


def _odd_few(cells: CellTable, without: FloatArray) -> FlagArray:
    """n = 2..4: the run farthest from the mean of the others (n = 2: both)."""
    n = cells.n[cells.cell_of_run]
    few = (n >= 2) & (n <= 4)
    others = (cells.n * cells.mean)[cells.cell_of_run] - cells.v
    with np.errstate(divide="ignore", invalid="ignore"):
        away = np.abs(cells.v - others / (n - 1))
        limit = ODD_SPREADS * without[cells.cell_of_run] * np.sqrt(1.0 + 1.0 / (n - 1))
        far = few & (away > limit)
    farthest = np.zeros(len(cells))
    np.maximum.at(farthest, cells.cell_of_run[few], away[few])
    # Distances that differ by rounding only are a tie; in a pair both are farthest.
    return np.asarray(far & (away >= farthest[cells.cell_of_run] * (1.0 - 1e-12)))


def _first_differs(cells: CellTable, without: FloatArray) -> FlagArray:
    """n ≥ 3: the first run against the mean of the rest."""
    first = np.zeros(len(cells.v), dtype=bool)
    start = cells.start
    with np.errstate(divide="ignore", invalid="ignore"):
        rest = (cells.n * cells.mean - cells.v[start]) / (cells.n - 1)
        limit = ODD_SPREADS * without * np.sqrt(1.0 + 1.0 / (cells.n - 1))
        first[start] = (cells.n >= 3) & (np.abs(cells.v[start] - rest) > limit)
    return first


def _coarse(cells: CellTable) -> FlagArray:
    """Reading uncertainty above the task's spread."""
    cv = np.array([np.inf if each is None else each.cv for each in cells.spread])
    return np.asarray(cells.relative_u > cv[cells.task][cells.cell_of_run])


def _drifting(cells: CellTable) -> FlagArray:
    """n ≥ 5: slope of v on the rank of the runs differs from 0 at 1 %."""
    rank = np.arange(len(cells.v)) - cells.start[cells.cell_of_run]
    x = rank - ((cells.n - 1) / 2.0)[cells.cell_of_run]
    y = cells.v - cells.mean[cells.cell_of_run]
    sxx = _per_cell(cells, x * x)
    sxy = _per_cell(cells, x * y)
    many = cells.n >= 5
    with np.errstate(divide="ignore", invalid="ignore"):
        residual = np.maximum(cells.scatter - sxy**2 / sxx, 0.0)
        t = np.abs(sxy) / np.sqrt(sxx * residual / (cells.n - 2))
    df = np.maximum(cells.n - 2, 1)
    # A perfect line has no residual: t is infinite, and it drifts; no slope: NaN.
    p = 2.0 * stdtr(df, -np.where(np.isnan(t), 0.0, t))
    return np.asarray(many & (p < DRIFT_P))


def _per_cell(cells: CellTable, values: FloatArray) -> FloatArray:
    sums = np.bincount(cells.cell_of_run, weights=values, minlength=len(cells))
    return np.asarray(sums, dtype=float)


@dataclass(frozen=True, slots=True)
class ProgressPoint:
    """A progress reading inside a run.

    Attributes:
        elapsed_s: seconds since the start.
        fraction: part of the work done, 0 to 1.
    """

    elapsed_s: float
    fraction: float


def slowed_down(marks: Sequence[ProgressPoint]) -> bool:
    """Say whether the last third of the work went below 0.9 of the first third's rate.

    Args:
        marks: progress readings in any order; (0, 0) is understood. Readings
            that go backwards in time or work are ignored.

    Returns:
        True where both thirds are covered and the run slowed down.
    """
    both = thirds(marks)
    return both is not None and both[0] / both[1] < SLOWED_BELOW


def thirds(marks: Sequence[ProgressPoint]) -> tuple[float, float] | None:
    """Seconds that the first and the last third of the work took.

    Args:
        marks: progress readings of a finished run, as for ``slowed_down``.

    Returns:
        Both, or None where the run is not covered by enough marks.
    """
    points = [(0.0, 0.0)]
    for mark in sorted(marks, key=lambda m: m.elapsed_s):
        if mark.elapsed_s > points[-1][0] and mark.fraction > points[-1][1]:
            points.append((mark.elapsed_s, min(mark.fraction, 1.0)))
    elapsed = np.array([point[0] for point in points])
    fraction = np.array([point[1] for point in points])
    if len(points) < 4 or fraction[-1] < 1.0 - 1e-9:
        return None
    third, two_thirds = np.interp([1 / 3, 2 / 3], fraction, elapsed)
    return float(third), float(elapsed[-1] - two_thirds)


def wrong_output(
    length_s: float,
    size_bytes: float,
    expected_length_s: float,
    other_sizes: Sequence[float],
    *,
    frames_per_s: float,
) -> bool:
    """Say whether an exported file is not the one that the task asks for.

    Args:
        length_s: length of the file, in seconds.
        size_bytes: its size.
        expected_length_s: length of the timeline, in seconds.
        other_sizes: sizes of the task's other outputs, in bytes; may be empty.
        frames_per_s: frame rate of the output.

    Returns:
        True where the length is off by more than one frame, or the size by more
        than 5 % from the median of the others.
    """
    # Half a microsecond allows for lengths that were written in decimals.
    if abs(length_s - expected_length_s) > 1.0 / frames_per_s + 5e-7:
        return True
    if not other_sizes:
        return False
    usual = float(np.median(np.asarray(other_sizes, dtype=float)))
    return abs(size_bytes / usual - 1.0) > SIZE_TOLERANCE
