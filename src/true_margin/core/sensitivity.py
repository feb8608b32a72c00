"""What would change a pick, and at which value: one thing moved at a time.

Section 9 of the computation page. Each lever is tried on a grid of factors, both ways; between
the last value with the same pick and the first with another, the point is closed in on.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from decimal import Decimal

import numpy as np

from true_margin.core.analysis import Analysis
from true_margin.core.contest import (
    MOST_YEARS,
    Contest,
    Market,
    Rule,
    ViewerProfile,
    at_speeds,
    prepare,
)
from true_margin.core.errors import CoreError
from true_margin.core.model_speeds import model_speeds
from true_margin.core.picks import decide, near_leader, surely_picked
from true_margin.core.weekly import WEEKS_IN_YEAR, Exactly, Waiting
from true_margin.core.work_speed import (
    WorkSpeeds,
    all_scaled,
    moved_theta,
    scaled,
    speeds_of_some,
    work_speeds,
)

FACTORS = (1.25, 1.6, 2.0, 4.0, 8.0, 32.0)
"""Steps away from the present value, both ways; 0 is tried as well."""
CLOSE = 0.004
"""Points are closed in on to this share of their value."""
LEAST = 1e-3
"""Below this share of the present value a point is as good as 0."""
MOST_TASKS = 12
"""Of more tasks than this only those that weigh most are moved."""


@dataclass(frozen=True, slots=True)
class Turn:
    """A value of a lever from which on another setup is picked.

    Attributes:
        value: of the lever, in its own unit.
        pick: index of the setup that is picked there; None for none.
    """

    value: float
    pick: int | None


@dataclass(frozen=True, slots=True)
class Lever:
    """One thing that may move.

    Attributes:
        name: "hour", "attended", "budget", "horizon", "usage", "task" or "price".
        task: index of the task for "task".
        value: as it is; for "task" the amount, or the share of the mix.
        below, above: the nearest turns; None where the pick stays.
    """

    name: str
    task: int | None
    value: float
    below: Turn | None
    above: Turn | None


def find_turns(
    analysis: Analysis, viewer: ViewerProfile, market: Market, speeds: WorkSpeeds, pick: int
) -> tuple[Lever, ...]:
    """Find which values of each lever would change the pick.

    Args:
        analysis: of the study.
        viewer: whom the pick is for.
        market: prices and needs.
        speeds: at the viewer's work as it is.
        pick: index of the picked setup.

    Returns:
        Levers that the rule in force knows, with their turns.
    """

    look = Look(analysis, viewer, market, speeds, pick)
    return tuple(
        Lever(
            lever.name,
            lever.task,
            lever.value,
            *(_turn(lever, pick, up=up) for up in (False, True)),
        )
        for lever in _levers(viewer, speeds, look)
    )


def chosen_setup(
    analysis: Analysis, viewer: ViewerProfile, market: Market, speeds: WorkSpeeds | None = None
) -> int | None:
    """Index of the setup that is picked for a viewer; None for none."""
    at = speeds
    if at is None:
        found = work_speeds(analysis, viewer.work, _asked_by(viewer))
        standing = market.for_models(viewer.owned)
        at = None if found is None else model_speeds(analysis, found, viewer.work, standing)
    contest = None if at is None else prepare(analysis, viewer, market, at)
    if contest is None or isinstance(contest, str):
        return None
    pick = decide(contest).pick
    return None if pick is None else int(contest.setups[pick])


def _asked_by(viewer: ViewerProfile) -> Exactly:
    """Who is picked rests on hours under net worth, and on logs under every other rule."""
    return Exactly.HOURS if viewer.rule is Rule.WORTH else Exactly.LOGS


_At = Callable[[float], int | None]
_Chosen = Callable[..., int | None]


class Look:
    """Ways to ask who is picked: by the rule, as cheaply as its answer allows, and nearly so."""

    def __init__(
        self,
        analysis: Analysis,
        viewer: ViewerProfile,
        market: Market,
        speeds: WorkSpeeds,
        pick: int,
    ) -> None:
        self._analysis, self._viewer, self._market = analysis, viewer, market
        self._speeds, self._pick, self._place = speeds, pick, speeds.place(pick)
        self._contest = prepare(analysis, viewer, market, speeds)

    def chosen(self, who: ViewerProfile, speeds: WorkSpeeds | None = None) -> int | None:
        """Who is picked by the rule, at these speeds or at those of the viewer's work."""
        if speeds is None and self._is_same_ladder(who):
            near = self._near(who)
            if near is not None and self._place is not None and surely_picked(near, self._place):
                return self._pick
            few = None if near is None else self._among_few(who, near)
            if few is not None:
                picked = decide(few).pick
                return None if picked is None else int(few.setups[picked])
        return chosen_setup(self._analysis, who, self._market, speeds)

    def roughly(self, who: ViewerProfile) -> int | None:
        """Who is picked, nearly."""
        near = self._near(who)
        if near is None:
            return self._pick
        found = decide(near).pick
        return None if found is None else int(near.setups[found])

    def _is_same_ladder(self, who: ViewerProfile) -> bool:
        """Whether those on the ladder at a viewer's work are those who are on it now."""
        # Without a task nobody comes on the ladder where all are there.
        whole = not self._speeds.comparison.standing.off
        same = who.work.tasks == self._viewer.work.tasks
        return bool(who.work.tasks) and who.rule is not Rule.ENOUGH and (whole or same)

    def _near(self, who: ViewerProfile) -> Contest | None:
        """The contest at a viewer's work: its own scores, intervals as they are now."""
        if not isinstance(self._contest, Contest):
            return None
        return at_speeds(self._contest, moved_theta(self._analysis, self._speeds, who.work))

    def _among_few(self, who: ViewerProfile, near: Contest) -> Contest | None:
        """The contest of those alone who may be picked, exact; None where that spares nothing."""
        speeds = self._speeds
        places = set(near_leader(near).tolist())
        if speeds.members or not places:
            return None
        # What matters of a worth is a share of what the owned one, or the slowest, takes.
        owned = speeds.place(self._viewer.owned)
        places.add(int(np.argmin(near.base)) if owned is None else owned)
        if 2 * len(places) > len(speeds.setups):
            return None
        few = speeds.setups[sorted(places)]
        part = speeds_of_some(self._analysis, speeds, who.work, few, _asked_by(who))
        found = None if part is None else prepare(self._analysis, who, self._market, part)
        return found if isinstance(found, Contest) else None


@dataclass(frozen=True, slots=True)
class _Handle:
    """A lever as it is tried: ``pick_at`` picks at a value, ``rough`` nearly so and much faster."""

    name: str
    task: int | None
    value: float
    most: float
    pick_at: _At
    rough: _At | None = None


def _levers(viewer: ViewerProfile, speeds: WorkSpeeds, look: Look) -> Iterator[_Handle]:
    w, chosen = viewer.waiting, look.chosen

    def with_waiting(name: str) -> _At:
        own = {"value_of_hour": w.value_of_hour, "attended": w.attended, "weeks": w.weeks}

        def at(value: float) -> int | None:
            new = Decimal(repr(value)) if name == "value_of_hour" else value
            waiting = Waiting(**{**own, name: new})  # type: ignore[arg-type]
            return chosen(replace(viewer, waiting=waiting), speeds)

        return at

    if viewer.rule is Rule.WORTH:
        hour = float(w.value_of_hour)
        yield _Handle("hour", None, hour, math.inf, with_waiting("value_of_hour"))
        yield _Handle("attended", None, w.attended, 1.0, with_waiting("attended"))
        yield _Handle("weeks", None, w.weeks, WEEKS_IN_YEAR, with_waiting("weeks"))
        yield _Handle(
            "horizon",
            None,
            viewer.horizon,
            MOST_YEARS,
            lambda v: chosen(replace(viewer, horizon=v), speeds),
        )
        yield _Handle(
            "usage",
            None,
            1.0,
            math.inf,
            lambda v: chosen(replace(viewer, work=all_scaled(viewer.work, v))),
            lambda v: look.roughly(replace(viewer, work=all_scaled(viewer.work, v))),
        )
    if viewer.budget is not None:
        yield _Handle(
            "budget",
            None,
            float(viewer.budget),
            math.inf,
            lambda v: chosen(replace(viewer, budget=Decimal(repr(round(v, 6)))), speeds),
        )
    if viewer.rule is not Rule.ENOUGH:
        yield from _work_levers(viewer, look)
        return
    for task, accepted in sorted(viewer.accepted.items()):
        yield _Handle(
            "accepted", task, accepted, math.inf, _accepting(viewer, speeds, chosen, task)
        )


def _accepting(viewer: ViewerProfile, speeds: WorkSpeeds, chosen: _Chosen, task: int) -> _At:
    return lambda v: chosen(replace(viewer, accepted={**viewer.accepted, task: v}), speeds)


def _work_levers(viewer: ViewerProfile, look: Look) -> Iterator[_Handle]:
    work = viewer.work
    own = work.weights if work.amounts is None else work.amounts
    heavy = sorted((t for t, v in enumerate(own) if v > 0), key=lambda t: -own[t])[:MOST_TASKS]
    if work.amounts is None and len(heavy) < 2:
        return
    for task in sorted(heavy):
        value = own[task]
        yield _Handle(
            "task",
            task,
            value,
            math.inf,
            _moving(viewer, look.chosen, task, value),
            _moving(viewer, look.roughly, task, value),
        )


def _moving(viewer: ViewerProfile, ask: _Chosen, task: int, value: float) -> _At:
    return lambda v: ask(replace(viewer, work=scaled(viewer.work, task, v / value)))


def _turn(lever: _Handle, pick: int, *, up: bool) -> Turn | None:
    """The nearest value on one side at which another setup is picked.

    Where looking nearly will do, it says where to look; what it finds, and that it finds
    nothing, is then asked of the rule itself, and searched for anew where that disagrees.
    """
    if lever.value <= 0:
        return None
    if lever.rough is None:
        return _search(lever, lever.pick_at, pick, up=up)
    near = _search(lever, lever.rough, pick, up=up)
    if near is None:
        end = lever.value * FACTORS[-1] if up else lever.value / FACTORS[-1]
        stays = _picks(lever.pick_at, end, pick) == pick
        return _dropped(lever, pick, up=up) if stays else _search(lever, lever.pick_at, pick, up=up)
    before = near.value * (1 - 2 * CLOSE) if up else near.value * (1 + 2 * CLOSE)
    found = _picks(lever.pick_at, near.value, pick)
    if found != pick and _picks(lever.pick_at, before, pick) == pick:
        return Turn(near.value, found)
    return _search(lever, lever.pick_at, pick, up=up)


def _picks(pick_at: _At, value: float, pick: int) -> int | None:
    try:
        return pick_at(value)
    except CoreError:
        # A value that no viewer can mean changes nothing.
        return pick


def _dropped(lever: _Handle, pick: int, *, up: bool) -> Turn | None:
    """What leaving a task out altogether does: other setups may then stand on the ladder."""
    if up:
        return None
    found = _picks(lever.pick_at, 0.0, pick)
    # Without any work there is nothing to pick for.
    return None if found in (pick, None) else Turn(0.0, found)


def _search(lever: _Handle, pick_at: _At, pick: int, *, up: bool) -> Turn | None:
    value, most = lever.value, lever.most
    same = value
    tried = [value * f if up else value / f for f in FACTORS]
    if up:
        tried = [v for v in tried if v <= most] + ([most] if math.isfinite(most) else [])
    elif pick_at is lever.pick_at:
        tried.append(0.0)
    for v in tried:
        found = _picks(pick_at, v, pick)
        if v == value or found == pick:
            same = v
            continue
        if v == 0.0 and found is None:
            return None
        apart = v
        while abs(apart - same) > CLOSE * max(abs(same), abs(apart), LEAST * value):
            middle = (same + apart) / 2.0
            new = _picks(pick_at, middle, pick)
            if new == pick:
                same = middle
            else:
                apart, found = middle, new
        return Turn(apart, found)
    return None
