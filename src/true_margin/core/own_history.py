"""Whether one machine is slower than it was, beyond what updates did to everybody.

Each stretch of time in which the machine was timed becomes a machine of its own. What updates
did is then known from the other machines alone, and two stretches compare like two machines.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from true_margin.core.cells import build_cells
from true_margin.core.contrasts import Contrasts, contrast_setups
from true_margin.core.margins import Call, decide_call, pair_half
from true_margin.core.rounds import fit_rounds
from true_margin.core.study import IndexArray, Settings, Study


class Change(StrEnum):
    """What became of a machine between two stretches."""

    SLOWER = "slower"
    FASTER = "faster"
    SAME = "same"
    """Any change is smaller than what is worth telling."""
    OPEN = "open"
    """It may have changed, and may not."""
    UNTIED = "untied"
    """No other machine was timed in both versions: what the update did is not known."""


@dataclass(frozen=True, slots=True)
class OwnChange:
    """How much faster a machine is in a stretch than in an earlier one, updates taken out.

    Attributes:
        stretch: place of the later stretch, 1 or more.
        against: place of the one it is held against: the first that anything ties to it; the
            first of all where nothing ties any.
        log_ratio: of speeds, later over earlier; NaN where nothing ties them.
        lo, hi: its interval.
        change: what that says.
    """

    stretch: int
    against: int
    log_ratio: float
    lo: float
    hi: float
    change: Change


def own_changes(study: Study, setup: int, stretch: IndexArray) -> tuple[OwnChange, ...]:
    """Hold every later stretch of a machine against the first that others tie to it.

    Args:
        study: with one task, as for ``rank_all_time``.
        setup: the machine.
        stretch: for each run of the study the stretch of time that it is of, from 0 on; only
            those of the machine's own runs are looked at, oldest first.

    Returns:
        One entry a stretch after the first.
    """
    own = study.runs.setup == setup
    count = int(stretch[own].max(initial=0)) + 1
    # The first stretch stays in its place, each later one is put after all other machines.
    place = np.where(own & (stretch > 0), len(study.setups) + stretch - 1, study.runs.setup)
    names = tuple(f"{study.setups[setup]} ({at + 1})" for at in range(1, count))
    apart = replace(
        study,
        setups=(*study.setups, *names),
        runs=replace(study.runs, setup=place.astype(np.intp)),
        baseline=setup,
        units=(),
        models=(),
        prices=(),
    )
    cells = build_cells(apart)
    fit = fit_rounds(apart, cells)
    places = np.array([setup, *range(len(study.setups), len(study.setups) + count - 1)])
    # Only the machine's own stretches are held against each other: others say what updates did.
    contrasts = contrast_setups(fit, cells, places, np.ones(1))
    tied = fit.component[places, 0]
    return tuple(_change(contrasts, tied, apart.settings, at) for at in range(1, count))


def _change(contrasts: Contrasts, tied: IndexArray, settings: Settings, stretch: int) -> OwnChange:
    against = int(np.argmax(tied == tied[stretch]))
    if against == stretch:
        nothing = float("nan")
        return OwnChange(stretch, 0, nothing, nothing, nothing, Change.UNTIED)
    half = pair_half(contrasts, stretch, against, settings.confidence)
    size = float(contrasts.log_ratio[stretch, against])
    lo, hi = size - half, size + half
    if decide_call(lo, hi, math.log1p(settings.materiality)) is Call.LEVEL:
        change = Change.SAME
    elif lo > 0:
        change = Change.FASTER
    elif hi < 0:
        change = Change.SLOWER
    else:
        change = Change.OPEN
    return OwnChange(stretch, against, size, lo, hi, change)


def lasting_change(changes: Sequence[OwnChange]) -> OwnChange | None:
    """The first stretch from which on a machine was never again what it had been; None if none."""
    since = None
    for each in changes:
        if each.change in (Change.SLOWER, Change.FASTER):
            since = each if since is None or since.change is not each.change else since
        elif each.change is not Change.UNTIED:
            since = None
    return since
