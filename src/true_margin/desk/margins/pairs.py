"""One pair of setups in every way that it can be said, with its working."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.cells import Spread
from true_margin.core.fastest_runs import fastest_margin
from true_margin.core.labels import RESULT
from true_margin.core.margins import Call, Margin, time_saved
from true_margin.core.noted import note_of_pair
from true_margin.core.notes import parse_ratio, say_note
from true_margin.core.numerals import fixed, short
from true_margin.core.parity import Condition, Weight
from true_margin.core.wording import (
    count_of,
    format_span,
    percent_faster,
    percent_less_time,
    say_bound,
)
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.editing_log import seen_lines
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins.inquiries import InquiryView, inquiries_on
from true_margin.desk.margins.margins import MIX, carried, task_index, title
from true_margin.desk.margins.off_ladder import bound_words
from true_margin.desk.margins.pair_words import prove_pair, rounds_of_carried, say_pair
from true_margin.desk.margins.published import PublishedView, published_on
from true_margin.desk.margins.same_work import FixedCostLine, fixed_cost_lines
from true_margin.desk.margins.settling import counted_runs, settle_words
from true_margin.desk.margins.verdicts import margin_between
from true_margin.store import records
from true_margin.store.database import Database

TOLD_APART = 0.05
"""A setup's factor on the spread that is nearer to 1 is not worth telling."""


@dataclass(frozen=True, slots=True)
class WayToSay:
    """One way to say a margin; numbers in the unit that ``title`` names."""

    title: str
    value: float
    lo: float
    hi: float
    unit: str


@dataclass(frozen=True, slots=True)
class ParityLine:
    """One condition that differs; ``weight`` says whether it is allowed, confounds or breaks.

    ``tasks`` names where it differs, on a mix; ``overrule`` is a person's word on a break,
    ``judgement`` the one that says so itself.
    """

    condition: str
    here: str
    there: str
    weight: str
    why: str
    tasks: tuple[str, ...]
    overrule: records.Overrule | None
    judgement: records.Judgement | None


@dataclass(frozen=True, slots=True)
class NotedLine:
    """A ratio that somebody else says of the pair, and what becomes of it here.

    ``agrees`` says whether its interval and the measured one overlap; None where nothing was
    measured.
    """

    id: UUID
    words: str
    source: str
    who: str
    status: str
    agrees: bool | None
    withdrawn_why: str | None


@dataclass(frozen=True, slots=True)
class PairView:
    """One pair on one task or the mix, seen from the faster side."""

    key: str
    title: str
    measure: str
    a_id: UUID
    a: str
    b_id: UUID
    b: str
    call: str
    sentence: str
    ratio: float | None
    lo: float | None
    hi: float | None
    se: float | None
    df: float | None
    ways: tuple[WayToSay, ...]
    handicap: float | None
    behind: tuple[str, ...]
    settle: str | None
    parity: tuple[ParityLine, ...]
    runs: tuple[records.Run, ...]
    formula: tuple[str, ...]
    published: tuple[PublishedView, ...]
    inquiries: tuple[InquiryView, ...]
    fixed_cost: tuple[FixedCostLine, ...]
    noted: tuple[NotedLine, ...] = ()
    seen: tuple[str, ...] = ()
    proof: str = ""


def show_pair(database: Database, slug: str, key: str, a_id: UUID, b_id: UUID) -> PairView:
    """Give one pair in every way it can be said, seen from the faster side."""
    book = SHELF.take(database, slug)
    task = task_index(book, key)
    view = _show(book, task, a_id, b_id)
    return replace(
        view,
        noted=tuple(_noted_on(book, task, {a_id, b_id})),
        seen=seen_lines(book, (view.a_id, view.b_id)),
    )


def _noted_on(book: Book, task: int | None, pair: set[UUID]) -> Iterable[NotedLine]:
    """What others say of a pair on a task, oldest first; what was withdrawn last."""
    if task is None:
        return
    judged = iter(analysis_of(book).notes)
    lines = []
    for ratio in book.ratios:
        counts = ratio.withdrawn_at is None and ratio.task_id in book.task_index
        # Notes of the analysis stand in the order of those that count.
        told = next(judged) if counts else None
        if {ratio.setup_id, ratio.against_id} != pair or ratio.task_id != book.tasks[task].id:
            continue
        names = [
            book.setups[book.setup_index[key]].label for key in (ratio.setup_id, ratio.against_id)
        ]
        lines.append(
            NotedLine(
                ratio.id,
                say_note(parse_ratio(ratio.typed), *names),
                ratio.source,
                ratio.who,
                "withdrawn" if told is None else told.status.value,
                None if told is None else told.agrees,
                ratio.withdrawn_why,
            )
        )
    yield from sorted(lines, key=lambda line: line.status == "withdrawn")


def _show(book: Book, task: int | None, a_id: UUID, b_id: UUID) -> PairView:
    comparison = analysis_of(book).comparison(task)
    a, b = book.setup_index.get(a_id), book.setup_index.get(b_id)
    if a is None or b is None or comparison is None:
        raise NotFoundError("One of these setups is not in this shootout.")
    if a == b:
        raise RefusedError("b", "Choose two different setups.")
    margin = margin_between(comparison, a, b)
    if margin is not None and margin.log_ratio < 0:
        margin, a, b = margin_between(comparison, b, a), b, a
    bound = None if margin is not None or task is None else _bound_pair(book, task, a, b)
    if bound is not None:
        return bound
    noted = None if margin is not None or task is None else _noted_pair(book, task, a, b)
    if noted is not None:
        return noted
    if margin is None or margin.call is Call.NOT_COMPARABLE:
        return _no_pair(book, task, a, b, margin is None)
    spread = None if task is None else analysis_of(book).cells.spread[task]
    return PairView(
        MIX if task is None else str(book.tasks[task].id),
        title(book, task),
        _measure(book, task),
        book.setups[a].id,
        book.setups[a].label,
        book.setups[b].id,
        book.setups[b].label,
        margin.call.value,
        say_pair(book, task, margin),
        margin.ratio,
        math.exp(margin.lo),
        math.exp(margin.hi),
        margin.se,
        margin.df if math.isfinite(margin.df) else None,
        tuple(_ways(book, comparison, margin)),
        margin.handicap,
        tuple(_behind(book, comparison, margin, spread)),
        settle_words(book, task, margin, spread),
        parity_lines(book, task, a, b),
        _runs_of(book, task, a, b),
        tuple(_formula(book, margin, spread, task)),
        published_on(book, task, a, b),
        inquiries_on(book, task, (a, b)),
        () if task is None else tuple(fixed_cost_lines(book, task, (a, b))),
        proof=prove_pair(book, margin),
    )


def _measure(book: Book, task: int | None) -> str:
    return "time" if task is None else book.tasks[task].measure


def _bound_pair(book: Book, task: int, a: int, b: int) -> PairView | None:
    """A pair of which one is known by bounds only, seen from the side that is sure to lead."""
    analysis = analysis_of(book)
    margin = analysis.bound_margin(task, a, b)
    if margin is None:
        return None
    if margin.low is None or (margin.high is not None and margin.high.value < 0):
        turned = analysis.bound_margin(task, b, a)
        if turned is not None and turned.low is not None:
            margin, a, b = turned, b, a
    view = _no_pair(book, task, a, b, unmeasured=True)
    names = (view.a, view.b)
    return replace(
        view,
        call=margin.call.value,
        sentence=say_bound(margin, *names, book.shootout.confidence),
        lo=None if margin.low is None else math.exp(margin.lo),
        hi=None if margin.high is None else math.exp(margin.hi),
        behind=(
            *(f"{name}: {_known(book, s, task)}" for name, s in zip(names, (a, b), strict=True)),
            "A bound gives one end: no value, no mean and no chance.",
        ),
    )


def _noted_pair(book: Book, task: int, a: int, b: int) -> PairView | None:
    """A pair that was not measured, by the first note that names both."""
    found = note_of_pair(analysis_of(book).study, task, a, b)
    if found is None:
        return None
    ratio, note = found
    if (ratio.log_ratio or ratio.lo or ratio.hi or 0.0) < 0:
        ratio, a, b = ratio.turned(), b, a
    view = _no_pair(book, task, a, b, unmeasured=True)
    return replace(
        view,
        call="noted",
        sentence=f"{say_note(ratio, view.a, view.b)}: noted ({note.source}), not measured here.",
        ratio=None if ratio.log_ratio is None else math.exp(ratio.log_ratio),
        lo=None if ratio.lo is None else math.exp(ratio.lo),
        hi=None if ratio.hi is None else math.exp(ratio.hi),
        behind=(
            "Nobody here knows the runs behind it: it is never clear, ahead or the same speed.",
        ),
    )


def _known(book: Book, setup: int, task: int) -> str:
    """What a setup has on a task: its bounds, or how many runs."""
    words = bound_words(book, book.setups[setup], task)
    return count_of(counted_runs(book, task, setup), "run") if words is None else words


def _apart(lines: Iterable[ParityLine], broken: list[str]) -> Iterable[str]:
    """What differs in the job, each once, with both sides where a reader can tell them apart."""
    for each in dict.fromkeys(broken):
        if each == Condition.WORK:
            continue
        line = next(x for x in lines if x.condition == each and x.weight == Weight.BREAKS)
        # Of an edit there is only its mark, which tells a reader nothing.
        sides = "" if each == Condition.TIMELINE else f": {line.here} against {line.there}"
        yield f"{each} differs{sides}"


def _no_pair(book: Book, task: int | None, a: int, b: int, unmeasured: bool) -> PairView:
    first, second = book.setups[a], book.setups[b]
    lines = parity_lines(book, task, a, b)
    broken = [x.condition for x in lines if x.weight == Weight.BREAKS and x.overrule is None]
    if unmeasured:
        words = "one of them was not measured on everything here"
    elif broken:
        said = [x.why for x in lines if x.judgement is not None and x.weight == Weight.BREAKS]
        words = f"they did not do the same job ({'; '.join((*said, *_apart(lines, broken)))})"
    else:
        words = "no machine was tested in both of their rounds"
    return PairView(
        MIX if task is None else str(book.tasks[task].id),
        title(book, task),
        _measure(book, task),
        first.id,
        first.label,
        second.id,
        second.label,
        Call.NOT_COMPARABLE.value,
        f"{first.label} and {second.label} cannot be compared: {words}.",
        None,
        None,
        None,
        None,
        None,
        (),
        None,
        (),
        None,
        lines,
        _runs_of(book, task, a, b),
        (),
        published_on(book, task, a, b),
        inquiries_on(book, task, (a, b)),
        (),
    )


def parity_lines(book: Book, task: int | None, a: int, b: int) -> tuple[ParityLine, ...]:
    """Say what differed between two setups besides speed, on a task or over the mix."""
    tasks = _mix_tasks(book) if task is None else [task]
    found: dict[tuple[str, str, str, str, str], list[int]] = {}
    for t in tasks:
        for d in parity_of(book).between(t, a, b):
            key = (d.condition.value, d.here, d.there, d.weight.value, d.why)
            found.setdefault(key, []).append(t)
    return tuple(_line(book, key, on, len(tasks), (a, b)) for key, on in found.items())


def _mix_tasks(book: Book) -> list[int]:
    return [int(t) for t in np.flatnonzero(analysis_of(book).study.mix)]


def _line(
    book: Book, key: tuple[str, str, str, str, str], on: list[int], of: int, pair: tuple[int, int]
) -> ParityLine:
    breaks = key[3] == Weight.BREAKS
    words = (parity_of(book).overruled.get((t, frozenset(pair))) for t in on)
    overrule = next((word for word in words if word is not None), None) if breaks else None
    tasks = () if len(on) == of else tuple(book.tasks[t].name for t in on)
    said = key[0] == Condition.WORK
    judgement = parity_of(book).judged(on[0], *pair) if said else None
    return ParityLine(*key, tasks, overrule, judgement)


def _ways(book: Book, comparison: Comparison, margin: Margin) -> Iterable[WayToSay]:
    d, lo, hi = margin.log_ratio, margin.lo, margin.hi
    yield WayToSay("times as fast", margin.ratio, math.exp(lo), math.exp(hi), "x")
    yield WayToSay("faster", percent_faster(d), percent_faster(lo), percent_faster(hi), "%")
    is_time = comparison.task is None or book.tasks[comparison.task].measure == "time"
    if is_time:
        less = (percent_less_time(d), percent_less_time(lo), percent_less_time(hi))
        yield WayToSay("less time", *less, "%")
    yield WayToSay(
        f"{book.setups[margin.b].label} slower by",
        percent_faster(d),
        percent_faster(lo),
        percent_faster(hi),
        "%",
    )
    if comparison.task is None or not is_time:
        return
    i, j = _place(comparison, margin.a), _place(comparison, margin.b)
    saved = time_saved(comparison.pairs.contrasts, i, j, book.shootout.confidence)
    yield WayToSay("saved per run", saved.seconds, saved.lo, saved.hi, "s")
    work = book.tasks[comparison.task].work
    if work and book.tasks[comparison.task].unit in ("s", None):
        scale = 3600.0 / work
        yield WayToSay(
            "saved per hour of video",
            scale * saved.seconds,
            scale * saved.lo,
            scale * saved.hi,
            "s",
        )


def _place(comparison: Comparison, setup: int) -> int:
    return int(np.flatnonzero(comparison.pairs.contrasts.setups == setup)[0])


def _behind(
    book: Book, comparison: Comparison, margin: Margin, spread: Spread | None
) -> Iterable[str]:
    task, a, b = comparison.task, margin.a, margin.b
    counts = [counted_runs(book, task, s) for s in (a, b)]
    yield (
        f"{count_of(counts[0], 'run')} of {book.setups[a].label}, {counts[1]} of "
        f"{book.setups[b].label}"
    )
    if spread is not None:
        yield f"Runs vary by {fixed(100 * spread.cv, 1)} % ({spread.basis.value})"
    old = [s for s in (a, b) if carried(book, s, task)]
    if old:
        yield (
            f"Estimated from {rounds_of_carried(book, old, task)} "
            f"(± {fixed(100 * _tau(book), 1)} % for the update)"
        )
    cells = analysis_of(book).cells
    for setup in (a, b):
        factor = float(cells.factor[setup])
        if abs(factor - 1.0) >= TOLD_APART:
            label = book.setups[setup].label
            yield f"{label} varies {fixed(factor, 1)} times as much as the others"
    if task is not None:
        i, j = _place(comparison, a), _place(comparison, b)
        yield from _sensitive(book, comparison, i, j)
        fastest = fastest_margin(cells, comparison.pairs, task, i, j)
        if fastest is not None:
            yield f"By the fastest run of each: {RESULT[fastest.call]}"
    if margin.topped_up:
        plan = book.shootout.planned_runs
        yield (
            f"Runs were added after the plan of {plan}: judged at "
            f"{short(100 * margin.confidence)} %"
        )


def _sensitive(book: Book, comparison: Comparison, i: int, j: int) -> Iterable[str]:
    """How much of what is between the two may be what the task is sensitive to."""
    assert comparison.task is not None
    task = book.tasks[comparison.task]
    if not task.sensitivities or task.measure != "time":
        return
    setups = comparison.pairs.contrasts.setups
    told = {
        d.why: d
        for d in parity_of(book).between(comparison.task, int(setups[i]), int(setups[j]))
        if d.weight is Weight.CONFOUNDS
    }
    between = abs(time_saved(comparison.pairs.contrasts, i, j, book.shootout.confidence).seconds)
    for each in task.sensitivities:
        if not any(f"sensitive to {each.to}, " in why for why in told):
            continue
        part = (
            f"all of the {format_span(between)}"
            if each.up_to_s >= between
            else f"up to {format_span(each.up_to_s)} of the {format_span(between)}"
        )
        yield f"Of what is between them, {each.to} may make {part}"


def _tau(book: Book) -> float:
    return analysis_of(book).fit.update.cv


def _runs_of(book: Book, task: int | None, a: int, b: int) -> tuple[records.Run, ...]:
    if task is None:
        return ()
    setups = (book.setups[a].id, book.setups[b].id)
    key = book.tasks[task].id
    return tuple(r for r in book.runs if r.task_id == key and r.setup_id in setups)


def _allowances(book: Book, margin: Margin) -> Iterable[str]:
    """What widens the interval besides the spread of the task."""
    cells = analysis_of(book).cells
    shares = [float(cells.shares.variance[s]) for s in (margin.a, margin.b)]
    if any(abs(share - 1.0) > 0.005 for share in shares):
        names = [book.setups[s].label for s in (margin.a, margin.b)]
        yield (
            f"Shares of that variance: {names[0]} {fixed(shares[0], 2)}, {names[1]} "
            f"{fixed(shares[1], 2)} (drawn towards 1)"
        )
    rho = cells.resemblance.rho
    if rho >= 0.005:
        yield f"Neighbouring runs correlate by {fixed(rho, 2)}: means are worth less for it"
    own = np.isin(cells.setup, (margin.a, margin.b))
    floored = own & (cells.floor > 0) & (cells.weight * cells.floor >= 1.0 - 1e-9)
    if floored.any():
        yield "Rounding is the same in every run: more runs do not average it away"


def _formula(book: Book, margin: Margin, spread: Spread | None, task: int | None) -> Iterable[str]:
    """The working of the margin in words."""
    level = 100 * margin.confidence
    yield "Log speed is −ln of the time (or +ln of the amount); runs of a cell are averaged."
    if spread is not None:
        prior = book.shootout
        yield (
            f"Spread² = (prior {short(prior.prior_df)} × {short(100 * prior.prior_cv)} %² + "
            f"scatter of repeats) / ({short(prior.prior_df)} + {spread.repeat_df}) = "
            f"({fixed(100 * spread.cv, 2)} %)²"
        )
    yield from _allowances(book, margin)
    df = fixed(margin.df, 1) if math.isfinite(margin.df) else "unlimited"
    apart, error = fixed(margin.log_ratio, 4, signed=True), fixed(margin.se, 4)
    yield f"Difference of log speeds {apart}, standard error {error}"
    yield f"Student's t at {short(level)} % with {df} degrees of freedom gives the interval"
    yield (
        f"Result {RESULT[margin.call]}: the interval against the smallest difference that counts, "
        f"{short(100 * book.shootout.materiality)} %"
    )
    yield from _of_models(book, margin, task)


def _of_models(book: Book, margin: Margin, task: int | None) -> Iterable[str]:
    """What is known of the models that the two are samples of: the part of samples besides."""
    analysis = analysis_of(book)
    table, models = analysis.models(task), analysis.study.model_of
    a, b = models[margin.a], models[margin.b]
    if table is None or a == b or not {a, b} <= set(table.names):
        return
    spread = table.unit_spread
    if spread.cv == 0:
        yield "Samples of a model are taken to be alike: of the models holds what holds of these"
        return
    i, j = table.names.index(a), table.names.index(b)
    apart = table.pair(i, j).models
    squares = fixed(float(table.units_apart[i, j]), 2)
    yield (
        f"Of the models, {squares} σ² more, σ = {fixed(100 * spread.cv, 1)} % "
        f"({spread.basis.value}) being how much samples differ: standard error "
        f"{fixed(apart.se, 4)}, {RESULT[apart.call]}"
    )
