"""A small field of machines whose picks can be worked by hand."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from tests.core.helpers import Runs, analysed, runs_of
from true_margin.core.analysis import Analysis
from true_margin.core.contest import Contest, Market, NoPick, Rule, ViewerProfile, prepare
from true_margin.core.weekly import Waiting
from true_margin.core.work_speed import Work, work_speeds

SHARP = {"prior_cv": 1e-9, "prior_df": 1e6, "unit_prior_cv": 0.0}
"""Spreads so small that only the figures decide, and samples that are all alike."""
TIMES: Runs = {"A": [400.0], "B": [200.0], "C": [198.0], "D": [100.0]}
HOURS = 36 * 600.0
"""Seconds of timeline a week: A takes 4 hours for it, B 2, C 1.98, D 1."""
PRICES = ("300", "800", "1000", "2000")


def field(times: Runs | None = None, **more: Any) -> Analysis:
    """Four machines on one task of 600 s of timeline."""
    case = {"tasks": {"T": {"work": 600.0, "unit": "s"}}, "baseline": "A", **SHARP, **more}
    return analysed(runs_of(times or TIMES), **case)


def market(*prices: str | None, **more: Any) -> Market:
    """Prices in line-up order."""
    return Market(tuple(None if p is None else Decimal(p) for p in prices), **more)


def viewer(rule: Rule, *, weekly: bool = False, hour: str = "0", **more: Any) -> ViewerProfile:
    """A viewer of the one task; ``hour`` is what an hour is worth, 50 weeks, half attended."""
    work = Work((1.0,), (HOURS,) if weekly else None)
    budget = more.pop("budget", None)
    resale = Decimal(more.pop("resale", "0"))
    return ViewerProfile(
        work,
        rule,
        None if budget is None else Decimal(budget),
        resale=resale,
        waiting=Waiting(Decimal(hour), 0.5, 50.0),
        **more,
    )


def contest_of(analysis: Analysis, who: ViewerProfile, at: Market) -> Contest | NoPick:
    """The contest of a viewer."""
    speeds = work_speeds(analysis, who.work)
    assert speeds is not None
    return prepare(analysis, who, at, speeds)


def sure_contest(analysis: Analysis, who: ViewerProfile, at: Market) -> Contest:
    """The contest of a viewer who can be served."""
    found = contest_of(analysis, who, at)
    assert isinstance(found, Contest)
    return found
