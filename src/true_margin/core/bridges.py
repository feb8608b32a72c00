"""Rounds in words of figures: what each update did, and what each bridge says that it did.

A bridge is a setup that was measured on one task in a round and in another. Section 3 of
the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from true_margin.core.cells import CellTable
from true_margin.core.effects import effect_variances
from true_margin.core.rounds import Fit

OFF_Z = 2.5
"""A bridge further from the one in the middle than this many standard errors is off its line."""


@dataclass(frozen=True, slots=True)
class Bridge:
    """What an update did on one setup, by that setup's own cells.

    Attributes:
        setup: index of the setup.
        log_effect: its own estimate of δ, on the log-speed scale.
        se: standard error of that estimate.
        z: distance from the bridge in the middle, in standard errors.
    """

    setup: int
    log_effect: float
    se: float
    z: float


@dataclass(frozen=True, slots=True)
class Update:
    """What lies between a round and its reference, for one app.

    Attributes:
        app, round: indices of the app (in ``Fit.app_names``) and of the round.
        log_effect: δ: how much slower the round was (below 0), on the log-speed scale.
        lo, hi: its interval.
        df: degrees of freedom.
        bridges: the setups that tie the round to others, in index order.
    """

    app: int
    round: int
    log_effect: float
    lo: float
    hi: float
    df: float
    bridges: tuple[Bridge, ...]


def list_updates(fit: Fit, cells: CellTable, confidence: float) -> tuple[Update, ...]:
    """List every update that the fit took out, by app, then round.

    Args:
        fit: the fit.
        cells: the cells that it was fitted to.
        confidence: of the intervals.

    Reference:
        Student's t with Satterthwaite's degrees of freedom, as for margins.
    """
    return tuple(
        update for app in range(len(fit.apps)) for update in _of_app(fit, cells, app, confidence)
    )


def _of_app(fit: Fit, cells: CellTable, app: int, confidence: float) -> Iterator[Update]:
    own = fit.apps[app]
    effect = {(e.app, e.place): e.log_effect for e in fit.rounds}
    inverse = np.linalg.pinv(own.information, hermitian=True)
    raw = np.einsum("sij,sj->si", inverse, own.score)
    for place, variance in enumerate(effect_variances(fit, cells, app)):
        round_ = int(own.rounds[place])
        delta = effect[fit.app_names[app], round_]
        quantile = float(stdtrit(min(variance.df, 1e10), 0.5 + confidence / 2))
        half = quantile * math.sqrt(variance.variance)
        ties = np.flatnonzero(own.information[:, place, place] > 0)
        # Not against the common effect: one bridge that is far off has moved that too.
        middle = float(np.median(raw[ties, place])) if len(ties) else 0.0
        bridges = []
        for s in ties.tolist():
            se = math.sqrt(float(inverse[s, place, place]))
            value = float(raw[s, place])
            bridges.append(Bridge(s, value, se, (value - middle) / se))
        yield Update(app, round_, delta, delta - half, delta + half, variance.df, tuple(bridges))
