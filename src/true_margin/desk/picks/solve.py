"""A viewer's contest: what is known of the viewer, the prices and the field, and who is picked."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from uuid import UUID

from true_margin.core.contest import Contest, Market, NoPick, Rule, prepare
from true_margin.core.contest import ViewerProfile as CoreViewer
from true_margin.core.currencies import minor_unit
from true_margin.core.errors import CoreError
from true_margin.core.model_speeds import model_speeds
from true_margin.core.needs import NOISE
from true_margin.core.numerals import short
from true_margin.core.picks import Decision, decide
from true_margin.core.weekly import Waiting
from true_margin.core.work_speed import Work, WorkSpeeds, work_speeds
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.needs import misses, seen_of, stored_needs
from true_margin.desk.errors import RefusedError
from true_margin.desk.picks.contenders import shared_misses, tried_prices
from true_margin.desk.picks.viewer_prices import SetupPrice, owned_price, price_for
from true_margin.store.records.viewers import Viewer

Prices = Mapping[UUID, Decimal]
"""Prices to try instead of the stored ones, by machine, in the viewer's currency."""

RULE_OF = {"fastest": Rule.FASTEST, "value": Rule.VALUE, "worth": Rule.WORTH, "enough": Rule.ENOUGH}


@dataclass(frozen=True, slots=True)
class Solved:
    """A viewer's contest and what came of it; ``nothing`` where there is no pick.

    ``by_setup`` are the speeds of the setups, ``speeds`` those of the contenders: the same
    where each setup is the only sample of its model.
    """

    prices: tuple[SetupPrice, ...]
    by_setup: WorkSpeeds | None
    speeds: WorkSpeeds | None
    contest: Contest | None
    decision: Decision | None
    nothing: NoPick | None
    missed: tuple[tuple[str, ...], ...]


def core_viewer(book: Book, viewer: Viewer) -> CoreViewer:
    """Turn a stored viewer into the core's.

    Raises:
        RefusedError: something that nobody can mean, with the field.
    """
    weights, amounts = [0.0] * len(book.tasks), [0.0] * len(book.tasks)
    accepted = {}
    for part in viewer.tasks:
        at = book.task_index.get(part.task_id)
        if at is None:
            continue
        for name, value in (("weight", part.weight), ("amount", part.amount)):
            if not (math.isfinite(value) and value >= 0):
                reason = f"{book.tasks[at].name}: {name} must be 0 or more, got {short(value)}."
                raise RefusedError("tasks", reason)
        weights[at] = part.weight
        amounts[at] = part.amount * (book.tasks[at].work or 1.0 if part.by_run else 1.0)
        if part.accepted_s is not None and book.tasks[at].measure == "time":
            accepted[at] = part.accepted_s
    owned = book.setup_index.get(viewer.owned_setup_id) if viewer.owned_setup_id else None
    work = Work(tuple(weights), tuple(amounts) if viewer.weekly else None)
    return CoreViewer(
        work,
        RULE_OF[viewer.rule],
        viewer.budget,
        owned,
        viewer.resale,
        Waiting(viewer.hour_value, viewer.attended, viewer.weeks),
        viewer.horizon_years,
        accepted,
    )


def check_viewer(book: Book, viewer: Viewer) -> CoreViewer:
    """The core's viewer, with what is out of range named by its field.

    Raises:
        RefusedError: with field and reason.
    """
    checks = (
        (
            "horizon_years",
            0 < viewer.horizon_years <= 50,
            "The horizon must be above 0 and at most 50 years: a machine must be kept for some "
            "time before it can be worth anything.",
        ),
        ("weeks", 0 < viewer.weeks <= 52, "Working weeks must be above 0 and at most 52."),
        (
            "attended",
            0 <= viewer.attended <= 1,
            "The part of the waiting that costs must lie between 0 and 100 %.",
        ),
        ("hour_value", viewer.hour_value >= 0, "What an hour is worth must be 0 or more."),
        ("budget", viewer.budget is None or viewer.budget >= 0, "The budget must be 0 or more."),
        ("resale", viewer.resale >= 0, "The resale value must be 0 or more."),
    )
    for field, holds, reason in checks:
        if not holds:
            raise RefusedError(field, reason)
    try:
        return core_viewer(book, viewer)
    except CoreError as error:
        raise RefusedError("tasks", _sentence(error.reason)) from error


def _sentence(reason: str) -> str:
    return f"{reason[:1].upper()}{reason[1:]}."


def speeds_of(book: Book, who: CoreViewer) -> WorkSpeeds | None:
    """Speeds at a viewer's work.

    Raises:
        RefusedError: the work cannot be worked out.
    """
    try:
        return work_speeds(analysis_of(book), who.work)
    except CoreError as error:
        raise RefusedError("tasks", _sentence(error.reason)) from error


def solve(
    book: Book,
    viewer: Viewer,
    what_if: Prices | None = None,
    ended: Sequence[UUID] = (),
    known: WorkSpeeds | None = None,
) -> Solved:
    """Pick for a viewer, at stored prices or at those that are tried.

    Args:
        book: of the shootout.
        viewer: whom it is for.
        what_if: prices to try.
        ended: price records that no longer count.
        known: speeds of the setups at this work, where they were worked out before.

    Raises:
        RefusedError: something that nobody can mean, with its field.
    """
    who = check_viewer(book, viewer)
    tried = tried_prices(book, what_if)
    prices = tuple(
        owned_price(book, viewer, setup) or price_for(book, viewer, setup, tried, ended)
        for setup in book.setups
    )
    missed = shared_misses(book, misses(book, stored_needs(viewer.needs)))
    by_setup = speeds_of(book, who) if known is None else known
    if by_setup is None:
        return Solved(prices, None, None, None, None, NoPick.NO_WORK, missed)
    market = market_of(book, viewer, prices, missed)
    analysis = analysis_of(book)
    speeds = model_speeds(analysis, by_setup, who.work, market.for_models(who.owned))
    contest = prepare(analysis, who, market, speeds)
    if not isinstance(contest, Contest):
        return Solved(prices, by_setup, speeds, None, None, contest, missed)
    decision = decide(contest)
    return Solved(prices, by_setup, speeds, contest, decision, decision.nothing, missed)


def market_of(
    book: Book, viewer: Viewer, prices: Sequence[SetupPrice], missed: Sequence[Sequence[str]]
) -> Market:
    """Prices, needs and noise as the core takes them."""
    return Market(
        tuple(price.amount for price in prices),
        minor_unit(viewer.currency),
        frozenset(i for i, why in enumerate(missed) if why),
        tuple(_noise(seen.noise_db, seen.rows.get("noise")) for seen in seen_of(book)),
    )


def _noise(level: float | None, word: object) -> float | None:
    """A rank by noise: a level where there is one, else about what the class means."""
    if level is not None:
        return level
    return 20.0 + 8.0 * NOISE.index(str(word)) if word in NOISE else None
