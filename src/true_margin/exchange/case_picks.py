"""A viewer of a case file, and what the rules pick for them."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from true_margin.core.analysis import Analysis
from true_margin.core.contest import Contest, Market, NoPick, ViewerProfile, prepare
from true_margin.core.flips import flip_price
from true_margin.core.model_speeds import model_speeds
from true_margin.core.picks import decide, prob_best
from true_margin.core.work_speed import work_speeds


def picks_object(analysis: Analysis, viewer: ViewerProfile) -> dict[str, Any]:
    """Give what is picked for a viewer, as plain JSON values.

    Args:
        analysis: of the case, with prices.
        viewer: whom it is for.

    Returns:
        ``pick`` and ``group`` by the names of models, ``surety``, and the ``flips`` of every
        contender; ``pick`` None where nothing can be picked.
    """
    contest = _contest(analysis, viewer)
    if isinstance(contest, NoPick):
        return {"pick": None, "group": [], "surety": None, "flips": []}
    names = [analysis.study.model_of[int(s)] for s in contest.setups]
    decision = decide(contest)
    pick = decision.pick
    flips = [flip_price(contest, place, pick) for place in range(len(names))]
    return {
        "pick": None if pick is None else names[pick],
        "group": [names[place] for place in decision.group],
        "surety": None if pick is None else prob_best(contest, pick),
        "flips": [
            {
                "name": names[flip.place],
                "price": _amount(flip.price),
                "lo": _amount(flip.lo),
                "hi": _amount(flip.hi),
                "kept": flip.place == contest.keep,
                "bounded": flip.bounded,
                "endless": flip.endless,
            }
            for flip in flips
        ],
    }


def _contest(analysis: Analysis, viewer: ViewerProfile) -> Contest | NoPick:
    market = Market(analysis.study.prices or (None,) * len(analysis.study.setups))
    # Whatever is weighed or accepted, models stand on the ladder of the work.
    speeds = work_speeds(analysis, viewer.work)
    if speeds is None:
        return NoPick.NO_WORK
    whole = model_speeds(analysis, speeds, viewer.work, market.for_models(viewer.owned))
    return prepare(analysis, viewer, market, whole)


def _amount(amount: Decimal | None) -> float | None:
    return None if amount is None else float(amount)
