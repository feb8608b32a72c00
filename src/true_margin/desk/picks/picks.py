"""Which machine for a viewer: the pick in words, the field behind it, and what limits it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
from uuid import UUID

import numpy as np

from true_margin.core.contest import Contest, NoPick, Rule, prepare
from true_margin.core.contest import ViewerProfile as CoreViewer
from true_margin.core.picks import prob_best, runner_up
from true_margin.core.work_speed import WorkSpeeds
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.needs import say_needs, stored_needs
from true_margin.desk.margins.off_ladder import OffRow, list_off
from true_margin.desk.picks.ahead import (
    OfferView,
    PickStep,
    WaitView,
    offers_of,
    steps_of,
    waits_of,
)
from true_margin.desk.picks.contenders import contender_name
from true_margin.desk.picks.predicted import PredictedRun, predicted_runs
from true_margin.desk.picks.rows import PickRow, gains_nothing, rows_of
from true_margin.desk.picks.solve import Prices, Solved, core_viewer, market_of, solve
from true_margin.desk.picks.viewer_prices import NOT_CONVERTED
from true_margin.desk.picks.words.answer import (
    SAMPLES_ALIKE,
    PickContext,
    say_level,
    say_no_gain,
    say_nothing,
    say_pick,
    say_reason,
    say_samples,
    say_second,
    say_surety,
    say_what,
)
from true_margin.desk.picks.words.money import say_money
from true_margin.store.records.viewers import Viewer


@dataclass(frozen=True, slots=True)
class PickProblem:
    """Why there is no pick, in words too, and the field to look at."""

    field: str
    words: str
    reason: NoPick | None = None


@dataclass(frozen=True, slots=True)
class Picked:
    """The pick: what to do, how sure that is, both in a sentence, who is level, what is next.

    ``caution`` says where it is not shown to save any time over what the viewer has.
    ``price`` is in the viewer's currency, ``prob_best`` from 0 to 1.
    """

    setup_id: UUID
    label: str
    keep: bool
    price: Decimal
    prob_best: float
    what: str
    reason: str
    surety: str
    sentence: str
    level: str | None
    second: str | None
    second_id: UUID | None
    caution: str | None


@dataclass(frozen=True, slots=True)
class PickView:
    """Everything about one viewer; ``reference`` is the setup that reads 1x.

    ``samples`` says how much less is known of models than of the machines that were timed,
    ``predicted`` how long one run takes on a sample of what is picked.
    """

    currency: str
    reference: str | None
    needs: tuple[str, ...]
    picked: Picked | None
    problem: PickProblem | None
    rows: tuple[PickRow, ...]
    off: tuple[OffRow, ...]
    steps: tuple[PickStep, ...]
    offers: tuple[OfferView, ...]
    waits: tuple[WaitView, ...]
    notes: tuple[str, ...]
    samples: str | None
    predicted: tuple[PredictedRun, ...]


def show_pick(
    book: Book,
    viewer: Viewer,
    what_if: Prices | None = None,
    *,
    predict: bool = True,
    near: int | None = None,
) -> PickView:
    """Everything about one viewer, at stored prices or at those that are tried.

    Args:
        book: of the shootout.
        viewer: who asks.
        what_if: prices to try, by setup.
        predict: whether runs to come are predicted, which takes a while and not all need.
        near: rows of so many contenders nearest to the pick; None for all.
    """
    solved = solve(book, viewer, what_if)
    needs = tuple(say_needs(book, stored_needs(viewer.needs)))
    problem = None if solved.nothing is None else _problem(viewer, solved)
    if solved.speeds is None:
        return PickView(
            viewer.currency, None, needs, None, problem, (), (), (), (), (), (), None, ()
        )
    contest = solved.contest or _bare(book, viewer, solved)
    reference = _reference(book, viewer, solved.speeds)
    off = tuple(list_off(book, solved.speeds.comparison))
    rows = rows_of(book, viewer, solved, contest, reference, near)
    picked = None if solved.contest is None else _picked(book, viewer, solved, rows)
    return PickView(
        viewer.currency,
        None if reference is None else contender_name(book, solved.speeds, reference),
        needs,
        picked,
        problem,
        rows,
        off,
        tuple(steps_of(book, viewer, contest)),
        tuple(offers_of(book, viewer, solved, what_if)),
        tuple(waits_of(book, viewer, solved)),
        tuple(_notes(book, viewer, solved, off)),
        _samples(book, solved),
        tuple(predicted_runs(book, viewer, solved)) if predict else (),
    )


def _bare(book: Book, viewer: Viewer, solved: Solved) -> Contest | None:
    """The field where the rule in force cannot be asked: as if the fastest were wanted."""
    assert solved.speeds is not None
    who = core_viewer(book, viewer)
    who = CoreViewer(
        who.work, Rule.FASTEST, who.budget, who.owned, who.resale, who.waiting, who.horizon
    )
    market = market_of(book, viewer, solved.prices, solved.missed)
    found = prepare(analysis_of(book), who, market, solved.speeds)
    return found if isinstance(found, Contest) else None


def _problem(viewer: Viewer, solved: Solved) -> PickProblem:
    assert solved.nothing is not None
    if solved.nothing is NoPick.NO_PRICES:
        unconverted = next((p for p in solved.prices if p.reason in NOT_CONVERTED), None)
        if unconverted is not None:
            words = f"No price can be told in {viewer.currency}: {unconverted.problem}."
            return PickProblem("currency", words, solved.nothing)
    cheapest = None
    if solved.contest is not None:
        known = solved.contest.price[solved.contest.price >= 0]
        if len(known):
            cheapest = say_money(int(known.min()) * solved.contest.market.unit, viewer.currency)
    words, field = say_nothing(solved.nothing, viewer, cheapest)
    return PickProblem(field, words, solved.nothing)


def _reference(book: Book, viewer: Viewer, speeds: WorkSpeeds) -> int | None:
    """Place of the setup that reads 1x: the baseline, else the owned, else the slowest."""
    base = speeds.place(analysis_of(book).study.baseline)
    if base is not None:
        return base
    owned = book.setup_index.get(viewer.owned_setup_id) if viewer.owned_setup_id else None
    own = speeds.place(owned)
    if own is not None or len(speeds.setups) == 0:
        return own
    return int(np.argmin(speeds.theta))


def _picked(book: Book, viewer: Viewer, solved: Solved, rows: Sequence[PickRow]) -> Picked | None:
    contest, decision = solved.contest, solved.decision
    if contest is None or decision is None or decision.pick is None:
        return None
    said = PickContext(
        tuple(contender_name(book, contest.speeds, place) for place in range(len(contest.setups))),
        _accepted(book, viewer),
        book.shootout.materiality,
        viewer,
        contest,
        decision,
    )
    pick = decision.pick
    chance = prob_best(contest, pick)
    second = runner_up(contest, pick)
    setup = book.setups[int(contest.setups[pick])]
    what, reason, sure = say_what(said, pick), say_reason(said, pick), say_surety(chance)
    return Picked(
        setup.id,
        said.label(pick),
        pick == contest.keep,
        int(contest.price[pick]) * contest.market.unit,
        chance,
        what,
        reason,
        sure,
        say_pick(what, reason, sure),
        say_level(said, pick, second),
        None if second is None else say_second(said, pick, second),
        None if second is None else book.setups[int(contest.setups[second])].id,
        _caution(book, viewer, said.label(pick), rows, setup.id),
    )


def _accepted(book: Book, viewer: Viewer) -> tuple[tuple[str, float], ...]:
    """Tasks of which a viewer accepts a time, with it in seconds."""
    return tuple(
        (book.tasks[book.task_index[part.task_id]].name, part.accepted_s)
        for part in viewer.tasks
        if part.accepted_s is not None and part.task_id in book.task_index
    )


def _caution(
    book: Book, viewer: Viewer, label: str, rows: Sequence[PickRow], setup_id: UUID
) -> str | None:
    """What speaks against paying for the pick: nothing is shown to be gained by it."""
    row = next((each for each in rows if each.setup_id == setup_id), None)
    owned = next((s for s in book.setups if s.id == viewer.owned_setup_id), None)
    if row is None or row.keep or owned is None or row.upgrade is None:
        return None
    return say_no_gain(label, owned.machine) if gains_nothing(row.upgrade) else None


def _samples(book: Book, solved: Solved) -> str | None:
    """How much less is known of two models than of the two machines that were timed."""
    contest, decision, speeds = solved.contest, solved.decision, solved.speeds
    if contest is None or decision is None or decision.pick is None or speeds is None:
        return None
    spread = speeds.models.unit_spread
    second = runner_up(contest, decision.pick)
    if spread.cv == 0 and second is not None:
        return SAMPLES_ALIKE
    if second is None or not speeds.pairs.comparable[decision.pick, second]:
        return None
    names = [contender_name(book, speeds, at) for at in (decision.pick, second)]
    known = float(speeds.half[decision.pick, second])
    return say_samples(spread, names, known, float(speeds.models.half()[decision.pick, second]))


def _notes(book: Book, viewer: Viewer, solved: Solved, off: Sequence[OffRow]) -> Iterator[str]:
    speeds = solved.speeds
    assert speeds is not None
    if len(speeds.setups) == 1:
        only = contender_name(book, speeds, 0)
        yield f"Only {only} did all of this work. Time a second machine to have a choice."
    if viewer.owned_setup_id is not None:
        at = book.setup_index.get(viewer.owned_setup_id)
        if at is None:
            yield "Their current machine is no longer in the line-up: choose another, or none."
        elif speeds.place(at) is None:
            why = next((row.reason for row in off if row.setup_id == viewer.owned_setup_id), "")
            yield (
                f"{book.setups[at].label}, their current machine, is not ranked on this work "
                f"({why}), so nothing can be compared with it."
            )
    unpriced = [
        f"{book.setups[int(s)].label} ({solved.prices[int(s)].problem})"
        for s in speeds.setups
        if solved.prices[int(s)].amount is None and book.setups[int(s)].id != viewer.owned_setup_id
    ]
    if unpriced:
        yield f"No price: {', '.join(unpriced)}."
    used = np.flatnonzero(speeds.comparison.study.mix)
    older = np.asarray(analysis_of(book).fit.carried[:, used].any(axis=1))
    carried = [
        contender_name(book, speeds, place)
        for place in range(len(speeds.setups))
        if older[list(speeds.of(place))].any()
    ]
    if carried:
        yield f"Estimated from an earlier round ↻: {', '.join(carried)}."
