"""Which machine to time again on a standing task, by what it would narrow for each minute."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from true_margin.core.all_time import AllTime, Standing
from true_margin.core.analysis import Analysis
from true_margin.core.cells import CellTable
from true_margin.core.contrasts import own_variances
from true_margin.core.margins import student_quantile
from true_margin.core.rounds import fit_rounds
from true_margin.core.settling import run_noise
from true_margin.core.study import Measure

RUNS = 3
"""What a machine would be timed with."""
MOST_TRIED = 5
"""So many machines are tried out at most; those that were timed longest ago first."""


@dataclass(frozen=True, slots=True)
class WorthTiming:
    """What timing a machine in the newest version would do to all standings together.

    Attributes:
        setup: the machine.
        narrows: part by which its own interval would be narrower, 0 to 1.
        helps: others whose interval would be narrower by a tenth or more.
        seconds: what it would take; None where a run's length is not known.
        gain: half widths that would go, on the log scale, summed over all standings.
    """

    setup: int
    narrows: float
    helps: tuple[int, ...]
    seconds: float | None
    gain: float


def worth_timing(
    analysis: Analysis, ranking: AllTime, setups: Iterable[int]
) -> tuple[WorthTiming, ...]:
    """Rank machines whose figure was carried over by what it would give to time them again.

    Args:
        analysis: of the standing task.
        ranking: what follows from it.
        setups: machines that can still be timed.

    Returns:
        The best for each minute first; where runs have no length, the best first.
    """
    can = set(setups)
    old = [each for each in ranking.standings if each.updates and each.setup in can]
    old.sort(key=lambda each: (each.last, each.setup))
    tried = [_try(analysis, ranking, each) for each in old[:MOST_TRIED]]
    return tuple(sorted(tried, key=lambda w: (-w.gain / (w.seconds or 60.0), w.setup)))


def _try(analysis: Analysis, ranking: AllTime, standing: Standing) -> WorthTiming:
    newest = max(each.round for each in ranking.timed)
    study = analysis.study
    cells = _with_cell(analysis, standing.setup, newest)
    now = {each.setup: _half(each) for each in ranking.standings}
    setups = np.array(sorted(now), dtype=np.intp)
    variance, df = own_variances(fit_rounds(study, cells), cells, 0, setups)
    halves = student_quantile(study.settings.confidence, df) * np.sqrt(np.maximum(variance, 0.0))
    then = dict(zip(setups.tolist(), halves.tolist(), strict=True))
    time = study.tasks[0].measure is Measure.TIME
    return WorthTiming(
        standing.setup,
        1.0 - then[standing.setup] / now[standing.setup],
        tuple(s for s in now if s != standing.setup and then[s] < 0.9 * now[s]),
        RUNS * standing.value if time else None,
        sum(now.values()) - sum(then.values()),
    )


def _half(standing: Standing) -> float:
    return float(np.log(standing.hi / standing.lo)) / 2.0


def _with_cell(analysis: Analysis, setup: int, round_: int) -> CellTable:
    """The cells with one more, as if the machine had been timed and came out as expected.

    Only what the fit takes of a cell is added: how runs scatter stays as it is known.
    """
    cells, noise = analysis.cells, run_noise(analysis, 0, setup)
    variance = max(noise.variance / RUNS, noise.floor, 1e-12)
    value = float(analysis.fit.theta[setup, 0])

    def more(column: np.ndarray, new: float) -> np.ndarray:
        return np.append(column, np.asarray(new, dtype=column.dtype))

    return replace(
        cells,
        setup=more(cells.setup, setup),
        task=more(cells.task, 0),
        round=more(cells.round, round_),
        n=more(cells.n, 0),
        mean=more(cells.mean, value),
        scatter=more(cells.scatter, 0.0),
        value=more(cells.value, value),
        weight=more(cells.weight, 1.0 / variance),
        floor=more(cells.floor, noise.floor),
    )
