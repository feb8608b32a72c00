"""Checks on runs: they flag what looks odd; only a person voids.

Section 6 of the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import stdtr

from true_margin.core.cells import CellTable
from true_margin.core.study import FlagArray, FloatArray, Study

ODD_SPREADS = 3.0
DRIFT_P = 0.01
FIRST_RUNS_P = 0.01
LEAST_FIRSTS = 4
"""Cells whose first runs are tested together: fewer tell nothing."""
SLOWED_BELOW = 0.9
SIZE_TOLERANCE = 0.05


class Check(StrEnum):
    """What a flag says."""

    ODD_ONE = "odd one"
    FIRST_DIFFERS = "first differs"
    DRIFTING = "drifting"
    BOUND_CONTRADICTS = "bound contradicts"
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


def flag_runs(
    study: Study, cells: CellTable, contradicting: Sequence[int] = ()
) -> tuple[Flag, ...]:
    """Flag runs and cells by their values alone.

    Args:
        study: a checked study.
        cells: its cells.
        contradicting: runs whose bounds contradict others (``bounds``).

    Returns:
        Flags by task, setup and round; a run can carry several.

    Reference:
        Computation page, section 6.
    """
    runs = study.runs
    bounds = [
        Flag(int(runs.setup[r]), int(runs.task[r]), int(runs.round[r]), r, Check.BOUND_CONTRADICTS)
        for r in contradicting
    ]
    if len(cells) == 0:
        return tuple(sorted(bounds, key=_flag_order))
    without = _spread_without_cell(study, cells)
    found = {
        Check.ODD_ONE: _odd(cells, without),
        Check.FIRST_DIFFERS: _first_differs(cells, without),
        Check.COARSE: _coarse(cells),
    }
    flags = [
        _flag(cells, int(cells.cell_of_run[i]), int(cells.run[i]), check)
        for check, mask in found.items()
        for i in np.flatnonzero(mask)
    ]
    flags += bounds
    flags += [_flag(cells, int(c), None, Check.DRIFTING) for c in np.flatnonzero(_drifting(cells))]
    return tuple(sorted(flags, key=_flag_order))


def _flag(cells: CellTable, cell: int, run: int | None, check: Check) -> Flag:
    return Flag(int(cells.setup[cell]), int(cells.task[cell]), int(cells.round[cell]), run, check)


def _flag_order(flag: Flag) -> tuple[int, ...]:
    return (flag.task, flag.setup, flag.round, -1 if flag.run is None else flag.run)


def _spread_without_cell(study: Study, cells: CellTable) -> FloatArray:
    """s_−c of each cell: the task's spread from everything but this cell; NaN for 0/0 and 0."""
    prior_df, prior_cv = study.settings.prior_df, study.settings.prior_cv
    scatter = np.bincount(cells.task, weights=cells.scatter)[cells.task] - cells.scatter
    repeat_df = np.bincount(cells.task, weights=cells.n - 1)[cells.task] - (cells.n - 1)
    with np.errstate(divide="ignore", invalid="ignore"):
        # A subtraction can leave scatter just below zero where it is all this cell's.
        variance = (prior_df * prior_cv**2 + np.maximum(scatter, 0.0)) / (prior_df + repeat_df)
    return np.sqrt(np.where(variance > 0, variance, np.nan))


def _odd(cells: CellTable, without: FloatArray) -> FlagArray:
    """n ≥ 2: the run farthest from the mean of the others (n = 2: both)."""
    with np.errstate(divide="ignore", invalid="ignore"):
        # v − (n·mean − v)/(n − 1) is the distance from the mean, n/(n − 1) times.
        stretch = cells.n / (cells.n - 1)
        limit = ODD_SPREADS * without * np.sqrt(1.0 + 1.0 / (cells.n - 1)) / stretch
        away = np.abs(cells.v - cells.per_run(cells.mean))
        # Distances that differ by rounding only are a tie; in a pair both are farthest.
        farthest = np.maximum.reduceat(away, cells.start) * (1.0 - 1e-12)
    # A lone run has no others: its limit is NaN, and it is not farther.
    limit = np.where(cells.n >= 2, limit, np.inf)
    return np.asarray((away > cells.per_run(limit)) & (away >= cells.per_run(farthest)))


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
    return np.asarray(cells.relative_u > cells.per_run(cv[cells.task]))


def _drifting(cells: CellTable) -> FlagArray:
    """n ≥ 5: slope of v on the rank of the runs differs from 0 at 1 %."""
    x = np.arange(len(cells.v)) - cells.per_run(cells.start + (cells.n - 1) / 2.0)
    # x adds up to 0 in each cell, so the mean of v drops out.
    sxy = cells.per_cell(x * (cells.v - cells.per_run(cells.mean)))
    sxx = cells.n * (cells.n.astype(float) ** 2 - 1.0) / 12.0
    many = cells.n >= 5
    with np.errstate(divide="ignore", invalid="ignore"):
        residual = np.maximum(cells.scatter - sxy**2 / sxx, 0.0)
        t = np.abs(sxy) / np.sqrt(sxx * residual / (cells.n - 2))
    df = np.maximum(cells.n - 2, 1)
    # A perfect line has no residual: t is infinite, and it drifts; no slope: NaN.
    p = 2.0 * stdtr(df, -np.where(np.isnan(t), 0.0, t))
    return np.asarray(many & (p < DRIFT_P))


@dataclass(frozen=True, slots=True)
class FirstRuns:
    """The first runs of all cells together, against the rest.

    Attributes:
        cells: how many were looked at.
        log_effect: how much faster first runs are, on the log scale; below 0: slower.
        t, df, p: of Student's test that they are no different.
    """

    cells: int
    log_effect: float
    t: float
    df: float
    p: float

    @property
    def fires(self) -> bool:
        """Whether it is beyond chance, and said."""
        return self.p < FIRST_RUNS_P


def first_runs(study: Study, cells: CellTable) -> FirstRuns | None:
    """Test whether first runs differ from the rest, over all cells with a run order.

    Returns:
        None where fewer than four cells tell, or all tell exactly the same.

    Reference:
        Computation page, section 6: Student's t of ``x = b √((n − 1)/(n s²))``, b the first
        run less the mean of the rest.
    """
    if len(cells) == 0:
        return None
    taking = np.flatnonzero(
        (cells.n >= 2) & (cells.per_cell(study.runs.ordered[cells.run]) == cells.n)
    )
    if len(taking) < LEAST_FIRSTS:
        return None
    n = cells.n[taking]
    start = cells.start
    rest = cells.v.copy()
    rest[start] = 0.0
    difference = cells.v[start[taking]] - cells.per_cell(rest)[taking] / (n - 1)
    weight = (n - 1) / (n * cells.run_variance[taking])
    x = difference * np.sqrt(weight)
    spread = float(x.std(ddof=1))
    if not spread > 0:
        return None
    df = len(x) - 1.0
    t = float(x.mean()) / (spread / math.sqrt(len(x)))
    p = 2.0 * float(stdtr(df, -abs(t)))
    return FirstRuns(len(x), float(weight @ difference / weight.sum()), t, df, p)


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
