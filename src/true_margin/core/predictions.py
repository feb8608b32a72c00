"""From runs to a prediction: how long one run takes on a machine of one's own.

An interval for a mean says where the mean lies; a viewer makes one run, on another sample. So
the scatter of one run and the sample that is bought stand in the interval too, and an update's
unevenness where the figure is carried over.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from true_margin.core.analysis import Analysis
from true_margin.core.contrasts import combine_rows
from true_margin.core.margins import student_quantile
from true_margin.core.samples import add_units
from true_margin.core.study import Measure


@dataclass(frozen=True, slots=True)
class Prediction:
    """One run to come, of one task on another sample of a model.

    Attributes:
        seconds: as long as it most likely takes.
        lo, hi: ends of the interval that holds it at the confidence.
        confidence: of the study.
    """

    seconds: float
    lo: float
    hi: float
    confidence: float


def predict_run(analysis: Analysis, setups: Sequence[int], task: int) -> Prediction | None:
    """Say how long one run of a task takes on another sample of a model.

    Args:
        analysis: of the study.
        setups: indices of the model's setups.
        task: index of a task that measures time.

    Returns:
        The prediction; None where a setup was not measured on the task, or it is no time.

    Reference:
        Hahn & Meeker (1991), *Statistical Intervals*, 4.7, for one observation to come; scatter
        and mean share their spread, so their parts are added up before they are squared
        (Willink 2007, Metrologia 44, 340).
    """
    study, cells = analysis.study, analysis.cells
    members = np.array(sorted(setups), dtype=np.intp)
    theta = analysis.fit.theta[members, task]
    spread = cells.spread[task]
    timed = study.tasks[task].measure is Measure.TIME
    if not (timed and len(members) and spread is not None and np.isfinite(theta).all()):
        return None
    mean = np.full((1, len(members)), 1.0 / len(members))
    one_task = np.eye(len(study.tasks))[task]
    of_mean, mean_df = combine_rows(analysis.fit, cells, members, one_task, mean)
    one_run = spread.cv**2 * float(cells.shares.variance[members].mean())
    # What is known of one run's scatter: the task's spread, and the setups' shares of it.
    loose = 1.0 / spread.df + float(cells.shares.inverse_df[members].mean())
    root = of_mean / np.sqrt(mean_df) + one_run * math.sqrt(loose)
    variance = of_mean + one_run
    with np.errstate(divide="ignore"):
        df = np.where(root > 0, variance**2 / root**2, np.inf)
    labels = study.unit_of[members]
    held = np.array([mean[0, labels == unit].sum() for unit in np.unique(labels)])
    samples = np.array([float((held**2).sum()) + 1.0])
    whole, df = add_units(variance, np.asarray(df), samples, analysis.unit_spread)
    confidence = study.settings.confidence
    half = float(student_quantile(confidence, df)[0]) * math.sqrt(float(whole[0]))
    log = -float(theta.mean())
    return Prediction(math.exp(log), math.exp(log - half), math.exp(log + half), confidence)
