"""What looks wrong by the figures alone: things to look into before anything is said.

Each finding names what it is about; a person decides what it means.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from true_margin.core.analysis import Analysis
from true_margin.core.bridges import list_updates
from true_margin.core.margins import CALL_ORDER, Call, Margin
from true_margin.core.same_work import margin_between_tasks
from true_margin.core.study import FlagArray

FAR = math.log(1.1)
"""An app's ratio on a setup is far off beyond 10 %: setups do differ in what suits them …"""
FAR_SE = 3.0
"""… and beyond this many standard errors."""
MOST_LOSERS = 3
"""So many better machines that lose are named on one task, the worst first."""
RESTLESS = 1.5
"""A setup whose runs scatter this many times as much as the others' is named."""


class FindingKind(StrEnum):
    """Why something is out of line."""

    BETTER_LOSES = "better loses"
    APP_RATIO = "app off its ratio"
    NOTHING_APART = "tells nothing apart"
    BRIDGE = "bridge disagrees"
    CARRIED = "carried over decides"
    RESTLESS = "scatters more"


@dataclass(frozen=True, slots=True)
class Finding:
    """Something out of line.

    Attributes:
        kind: why.
        task: index of the task; None for the mix or for all tasks.
        a, b: indices of the setups it is about; None where it is about none or one.
        other_task: second task, where two apps are compared.
        value, limit: the figure and what it is held against, in the kind's own unit: log
            ratios, standard errors, or a factor of scatter.
        round: index of the round, for a bridge.
    """

    kind: FindingKind
    task: int | None
    a: int | None = None
    b: int | None = None
    other_task: int | None = None
    value: float = math.nan
    limit: float = math.nan
    round: int | None = None


def find_out_of_line(
    analysis: Analysis, better: FlagArray, same_work: Sequence[tuple[int, int]]
) -> tuple[Finding, ...]:
    """List what looks wrong by the figures.

    Args:
        analysis: of the study.
        better: entry (a, b) is True where setup a has no less than b in every spec and more
            in some, shape (setups, setups).
        same_work: pairs of tasks that hold the same work in two apps.

    Returns:
        Findings in the order of their kinds, then of tasks.
    """
    return (
        *_better_loses(analysis, better),
        *_app_ratios(analysis, same_work),
        *_nothing_apart(analysis),
        *_bridges(analysis),
        *_carried(analysis),
        *_restless(analysis),
    )


def _better_loses(analysis: Analysis, better: FlagArray) -> Iterator[Finding]:
    for task, comparison in enumerate(analysis.tasks):
        pairs = comparison.pairs
        setups = pairs.contrasts.setups
        sure = np.isin(pairs.call, [CALL_ORDER.index(Call.CLEAR), CALL_ORDER.index(Call.AHEAD)])
        ratio = pairs.contrasts.log_ratio
        loses = np.argwhere(sure & (ratio < 0) & better[np.ix_(setups, setups)])
        worst = sorted(loses.tolist(), key=lambda at: float(ratio[at[0], at[1]]))[:MOST_LOSERS]
        for i, j in worst:
            value = float(ratio[i, j])
            yield Finding(
                FindingKind.BETTER_LOSES, task, int(setups[i]), int(setups[j]), value=value
            )


def _app_ratios(analysis: Analysis, same_work: Sequence[tuple[int, int]]) -> Iterator[Finding]:
    for one, other in same_work:
        found: list[tuple[int, Margin]] = []
        for setup in range(len(analysis.study.setups)):
            margin = margin_between_tasks(analysis, setup, one, other)
            if margin is not None:
                found.append((setup, margin))
        if len(found) < 3:
            # With two setups nobody knows which of them is usual.
            continue
        for setup, margin in found:
            rest = [each.log_ratio for at, each in found if at != setup]
            usual = float(np.median(rest))
            apart = abs(margin.log_ratio - usual)
            if apart > max(FAR, FAR_SE * margin.se * math.sqrt(1 + 1 / len(rest))):
                yield Finding(
                    FindingKind.APP_RATIO, one, setup, None, other, margin.log_ratio, usual
                )


def _nothing_apart(analysis: Analysis) -> Iterator[Finding]:
    for task, comparison in enumerate(analysis.tasks):
        k = len(comparison.pairs.contrasts.setups)
        if k > 2 and comparison.pairs.count(Call.LEVEL) == k * (k - 1) // 2:
            yield Finding(FindingKind.NOTHING_APART, task)


def _bridges(analysis: Analysis) -> Iterator[Finding]:
    if not analysis.fit.update.bridges_disagree:
        return
    for update in list_updates(analysis.fit, analysis.cells, analysis.study.settings.confidence):
        if len(update.bridges) < 2:
            continue
        worst = max(update.bridges, key=lambda bridge: abs(bridge.z))
        task = int(np.flatnonzero(analysis.fit.node_app == update.app)[0])
        yield Finding(
            FindingKind.BRIDGE,
            task,
            worst.setup,
            None,
            None,
            worst.log_effect,
            update.log_effect,
            update.round,
        )


def _carried(analysis: Analysis) -> Iterator[Finding]:
    carried = analysis.fit.carried
    used = np.flatnonzero(analysis.study.mix)
    tasks = np.flatnonzero(carried.any(axis=0)).tolist()
    for task in (*tasks, *([None] if carried[:, used].any() else [])):
        comparison = analysis.compare(task)
        pairs = comparison.pairs
        on = np.flatnonzero(np.isin(pairs.contrasts.setups, comparison.standing.on))
        if len(on) < 2:
            continue
        # The ladder's first two, without its ranks and chances, which take longer.
        i, j = on[np.argsort(-pairs.contrasts.estimate[on], kind="stable")[:2]].tolist()
        margin = pairs.margin(i, j)
        own = np.asarray(carried[:, used].any(axis=1) if task is None else carried[:, task])
        if (own[margin.a] or own[margin.b]) and margin.call in (Call.CLEAR, Call.AHEAD):
            yield Finding(FindingKind.CARRIED, task, margin.a, margin.b, value=margin.log_ratio)


def _restless(analysis: Analysis) -> Iterator[Finding]:
    for setup in np.flatnonzero(analysis.cells.factor > RESTLESS).tolist():
        factor = float(analysis.cells.factor[setup])
        yield Finding(FindingKind.RESTLESS, None, setup, value=factor, limit=RESTLESS)
