"""Which machine a viewer should buy: who may be picked, the four rules, and how sure a pick is.

Section 9 of the computation page. A rule gives each setup a score; those that are level with
every setup ahead of them by it form one group, and of the group the cheapest is picked, then
the quieter. Level with *every* setup ahead, not with the best alone, so that a lower price can
never make a machine lose: it can only overtake, and then fewer are level with it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from true_margin.core.analysis import DEFAULT_SEED
from true_margin.core.contest import Contest, Limits, NoPick, Rule, Why, money_per_hour
from true_margin.core.ladder import draw_speeds
from true_margin.core.samples import unit_effects
from true_margin.core.study import FlagArray, FloatArray, IndexArray
from true_margin.core.work_speed import draw_models

FARTHEST = 300.0
"""Log hours of a draw are cut to this: what is beyond loses anyway, and is no number."""


@dataclass(frozen=True, slots=True)
class Decision:
    """What a rule comes to; places are those of the contest's contenders.

    Attributes:
        pick: the picked one; None with ``nothing`` saying why.
        nothing: why there is no pick.
        best: the first by the rule alone.
        group: those level with the best and with every one between, best first.
        by: what chose within the group: "rule" where it is alone, "price", "noise", "order".
        open: contenders that may be picked, shape (k,).
    """

    pick: int | None
    nothing: NoPick | None
    best: int | None
    group: tuple[int, ...]
    by: str
    open: FlagArray


def decide(contest: Contest, price: IndexArray | None = None) -> Decision:
    """Pick by the rule.

    Args:
        contest: who takes part.
        price: other prices than the contest's, in minor units.

    Returns:
        The pick, or why there is none.
    """
    at = contest.price if price is None else price
    may = contest.open_to(at)
    if not may.any():
        return Decision(None, _nothing(contest, at), None, (), "rule", may)
    scores = contest.scores(at)
    places = np.flatnonzero(may)
    order = places[np.lexsort((places, -scores[places]))]
    gap = scores[:, None] - scores[None, :]
    # Entry (i, j): i is ahead of j and not level with it.
    beats = (gap > 0) & ~(gap < contest.threshold - contest.half)
    beaten = np.asarray(beats[places].any(axis=0))
    group = order[~beaten[order]].tolist()
    tie = contest.tie_price(at)
    pick = min(group, key=lambda i: (tie[i], contest.noise[i], i))
    return Decision(pick, None, int(order[0]), tuple(group), _by(contest, group, pick, tie), may)


def surely_picked(contest: Contest, place: int) -> bool:
    """Whether a contender is picked however wide, or narrow, the intervals are.

    It leads by the rule, so nobody beats it; and whoever may be level with it, where intervals
    are as narrow as can be, comes after it by price, noise and order.
    """
    may, scores = contest.open_to(contest.price), contest.scores(contest.price)
    if not may[place] or (scores[may] > scores[place]).any():
        return False
    tie = contest.tie_price(contest.price)
    near = np.flatnonzero(may & _near(scores[place] - scores, contest.threshold)).tolist()
    return bool(min((*near, place), key=lambda i: (tie[i], contest.noise[i], i)) == place)


def near_leader(contest: Contest) -> IndexArray:
    """Places of those who may be picked whatever the intervals are; nobody else ever is.

    Whoever trails the leader by what matters, or more, is beaten by it. Of the others, those
    who may beat one are nearer to the leader than it is, so they are among them too.
    """
    may, scores = contest.open_to(contest.price), contest.scores(contest.price)
    if not may.any():
        return np.zeros(0, dtype=np.intp)
    leader = int(np.argmax(np.where(may, scores, -np.inf)))
    return np.flatnonzero(may & _near(scores[leader] - scores, contest.threshold))


def _near(behind: FloatArray, threshold: float) -> FlagArray:
    """Who trails by less than matters; whoever does not trail is near even where all matters."""
    return np.asarray((behind < threshold) | (behind == 0.0))


def _by(contest: Contest, group: list[int], pick: int, tie: IndexArray) -> str:
    others = [i for i in group if i != pick]
    if not others:
        return "rule"
    if all(tie[i] > tie[pick] for i in others):
        return "price"
    same = [i for i in others if tie[i] == tie[pick]]
    return "noise" if all(contest.noise[i] > contest.noise[pick] for i in same) else "order"


def _nothing(contest: Contest, price: IndexArray) -> NoPick:
    known = price >= 0
    if not known.any():
        return NoPick.NO_PRICES
    if not (known & contest.allowed).any():
        return NoPick.NEEDS
    within = known if contest.budget is None else known & (price <= contest.budget)
    return NoPick.NOT_FAST if (within & contest.allowed).any() else NoPick.BUDGET


def why_out(contest: Contest, place: int) -> Why | None:
    """Say why a contender may not be picked at its price; None where it may."""
    if contest.open_to(contest.price)[place]:
        return None
    if int(contest.setups[place]) in contest.market.barred:
        return Why.NEED
    if contest.price[place] < 0:
        return Why.UNPRICED
    if contest.budget is not None and contest.price[place] > contest.budget:
        return Why.BUDGET
    return Why.SLOW


def prob_best(contest: Contest, pick: int, seed: int = DEFAULT_SEED) -> float:
    """Give the chance that no setup that may be picked beats the pick by more than matters.

    Args:
        contest: who takes part.
        pick: place of the pick.
        seed: of the draws.

    Returns:
        Share of draws from the joint distribution of the speeds, 0 to 1. Where the rule asks
        for a time: in which the pick is fast enough, give or take materiality, and no cheaper
        one is by more than that.
    """
    may = np.flatnonzero(contest.open_to(contest.price))
    if contest.limits is not None:
        return _surely_enough(contest, contest.limits, pick, seed)
    if len(may) < 2:
        return 1.0
    drawn = draw_models(contest.speeds, contest.keep, seed)[:, may]
    if contest.viewer.rule is Rule.WORTH:
        # A draw of −ln H becomes hours again: far draws stay above 0.
        score = -money_per_hour(contest.viewer) * np.exp(np.minimum(-drawn, FARTHEST))
        score -= contest.price[may] * float(contest.market.unit)
    else:
        score = drawn + (contest.scores(contest.price) - contest.base)[may]
    at = int(np.flatnonzero(may == pick)[0])
    lead = score.max(axis=1) - score[:, at]
    return float((lead <= contest.threshold).mean())


def _surely_enough(contest: Contest, limits: Limits, pick: int, seed: int) -> float:
    k, n = limits.half.shape
    # Those that miss the time by the estimate may meet it in truth, so they take part.
    seen = contest.tie_price(contest.price)
    affordable = (contest.price >= 0) & contest.allowed
    cheaper = [i for i in range(k) if affordable[i] and seen[i] < seen[pick]]
    rows = np.concatenate([np.arange(i * n, i * n + n) for i in (pick, *cheaper)])
    contrasts = limits.contrasts
    drawn = draw_speeds(
        contrasts.estimate[rows],
        contrasts.covariance[np.ix_(rows, rows)],
        contest.speeds.draw_df,
        seed,
    )
    part = [pick, *cheaper]
    # Time is met by the sample that stands there, bought or owned: one more than was timed.
    units = unit_effects(contest.speeds.models, len(drawn), seed, more=1.0)[:, part]
    spare = drawn.reshape(-1, len(part), n) + units[:, :, None] - limits.accepted
    least = spare.min(axis=2)
    m = math.log1p(contest.speeds.comparison.study.settings.materiality)
    return float(((least[:, 0] >= -m) & (least[:, 1:] <= m).all(axis=1)).mean())


def runner_up(contest: Contest, pick: int) -> int | None:
    """The pick if this one were not there; None where nothing is left."""
    allowed = contest.allowed.copy()
    allowed[pick] = False
    keep = -1 if pick == contest.keep else contest.keep
    return decide(replace(contest, allowed=allowed, keep=keep)).pick
