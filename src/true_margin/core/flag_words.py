"""Why a run is flagged, in words with the figures of its check."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from scipy.special import stdtr

from true_margin.core.cells import Basis, CellTable
from true_margin.core.checks import (
    DRIFT_P,
    ODD_SPREADS,
    SLOWED_BELOW,
    Check,
    Flag,
    ProgressPoint,
    thirds,
)
from true_margin.core.labels import RUN_FLAG
from true_margin.core.numerals import short
from true_margin.core.study import FloatArray, Study


def explain_flag(study: Study, cells: CellTable, flag: Flag) -> str:
    """Say why a flag is there, with its figures and limits.

    Args:
        study: what was checked.
        cells: its cells.
        flag: one that ``flag_runs`` gave for them.

    Reference:
        Computation page, section 6.
    """
    if flag.check is Check.BOUND_CONTRADICTS:
        return (
            "bound contradicts: it says other than what was measured beside it, or than another "
            "bound: one of them was typed wrongly, or is of another job"
        )
    here = np.flatnonzero(
        (cells.setup == flag.setup) & (cells.task == flag.task) & (cells.round == flag.round)
    )
    cell = int(here[0])
    rows = np.flatnonzero(cells.cell_of_run == cell)
    v = cells.v[rows]
    at = 0 if flag.run is None else int(np.flatnonzero(cells.run[rows] == flag.run)[0])
    if flag.check is Check.DRIFTING:
        return _drifting(v)
    if flag.check is Check.COARSE:
        spread = cells.spread[flag.task]
        cv = 0.0 if spread is None else spread.cv
        assumed = spread is not None and spread.basis is Basis.ASSUMED
        return (
            f"rough timing: good to {_share(cells.relative_u[rows][at])} only, "
            f"runs of this task vary by {_share(cv)}{' (assumed)' if assumed else ''}"
        )
    return _far_from_rest(study, cells, cell, flag.check, v, at)


def slowed_words(marks: Sequence[ProgressPoint]) -> str:
    """Say how much a run slowed down, by its first and its last third of the work."""
    both = thirds(marks)
    if both is None:
        return "slowed down"
    first, last = both
    return (
        f"slowed down: the last third ran at {100 * first / last:.0f} % of the pace of the first "
        f"(flagged below {100 * SLOWED_BELOW:.0f} %)"
    )


def _far_from_rest(
    study: Study, cells: CellTable, cell: int, check: Check, v: FloatArray, place: int
) -> str:
    rest = np.delete(v, place)
    prior_df, prior_cv = study.settings.prior_df, study.settings.prior_cv
    own = cells.task == cells.task[cell]
    own[cell] = False
    repeats = int(np.sum(cells.n[own] - 1))
    df = prior_df + repeats
    spread = math.sqrt((prior_df * prior_cv**2 + float(np.sum(cells.scatter[own]))) / df)
    limit = ODD_SPREADS * spread * math.sqrt(1.0 + 1.0 / len(rest))
    others = "the other run" if len(rest) == 1 else f"the other {len(rest)}"
    return (
        f"{RUN_FLAG[check]}: {_apart(v[place] - float(rest.mean()))} than {others}; flagged beyond "
        f"{_share(limit)}, three times the usual spread ({_share(spread)}"
        f"{'' if repeats else ', assumed'})"
    )


def _drifting(v: FloatArray) -> str:
    x = np.arange(len(v)) - (len(v) - 1) / 2.0
    y = v - v.mean()
    slope = float(np.sum(x * y) / np.sum(x * x))
    residual = max(float(np.sum((y - slope * x) ** 2)), 0.0)
    error = math.sqrt(residual / (len(v) - 2) / float(np.sum(x * x)))
    p = 0.0 if error == 0 else 2.0 * float(stdtr(len(v) - 2, -abs(slope) / error))
    way = "faster" if slope > 0 else "slower"
    return (
        f"drifting: each of {len(v)} runs {_share(abs(slope))} {way} than the one before; "
        f"p {_chance(p)}, flagged below {short(DRIFT_P)}"
    )


def _chance(p: float) -> str:
    return short(p, 2) if p >= 0.0001 else f"under {short(0.0001)}"


def _apart(difference: float) -> str:
    """A difference of log speeds in words."""
    return f"{_share(math.expm1(abs(difference)))} {'faster' if difference > 0 else 'slower'}"


def _share(part: float) -> str:
    return f"{short(100 * part, 2)} %" if part < 0.1 else f"{100 * part:.0f} %"
