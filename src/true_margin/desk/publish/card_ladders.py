"""Cards of a ladder: times as bars, margins on the rule."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator
from uuid import UUID

from true_margin.core.analysis import Comparison
from true_margin.core.labels import RESULT
from true_margin.core.ladder import Rung
from true_margin.core.margins import Call, own_half
from true_margin.core.numerals import fixed, short
from true_margin.core.wording import faster_than, format_ratio, listed, ratio_of, say_time
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.beside import BesideRow, Evidence, list_beside
from true_margin.desk.margins.margins import title
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.worth import leading_group
from true_margin.desk.publish.card_parts import Chosen, foot, heading_of, task_of, warnings
from true_margin.publish.card_data import BarCard, BarRow, CardSetup, RuleCard, RuleRow
from true_margin.publish.looks import Shape
from true_margin.store import records
from true_margin.store.cards import KeptCard


def bars_of(book: Book, card: KeptCard, _: Shape) -> BarCard:
    """Times or amounts of one task, as bars."""
    task = task_of(book, card)
    if task is None:
        raise RefusedError(
            "task_id",
            "This card shows the times of one task: choose one, or compare speeds instead.",
        )
    comparison = _ladder(book, card)
    rungs = {book.setups[rung.setup].id: rung for rung in comparison.rungs}
    chosen = Chosen(book, card, list(rungs))
    facts = book.tasks[task]
    rows = tuple(_bar_row(book, comparison, rungs[key], chosen.who(key)) for key in chosen.keys)
    base = book.baseline
    amount = facts.measure == "amount"
    axis = (
        f"{facts.unit or 'amount'}, more is better"
        if amount
        else (
            "seconds, less is better"
            if all(row.value < 60 for row in rows)
            else "minutes:seconds, less is better"
        )
    )
    against = f"against {base.label}, {_app(book, facts)}" if base is not None else facts.app
    shown = [rungs[key].setup for key in chosen.keys]
    notes = [
        *warnings(book, task, shown),
        *chosen.note(),
        *_off(book, comparison),
        *foot(book, task, shown),
    ]
    found = finding(book, comparison, chosen)
    subtitle = f"{facts.name}, {against}" if found or card.title else against
    return BarCard(heading_of(book, card, facts.name, subtitle, notes, found), axis, rows, amount)


def rule_of(book: Book, card: KeptCard, _: Shape) -> RuleCard:
    """Margins over the baseline, of a task or the mix."""
    task = task_of(book, card)
    comparison = _ladder(book, card)
    base = book.baseline
    rungs = {book.setups[rung.setup].id: rung for rung in comparison.rungs}
    if base is None or base.id not in rungs:
        name = "no baseline" if base is None else base.label
        raise RefusedError(
            "task_id",
            f"The baseline ({name}) is not ranked here: choose another baseline, or another task.",
        )
    beside = {
        row.setup_id: row
        for row in list_beside(book, comparison)
        if (row.lo, row.hi, row.ratio) != (None, None, None)
    }
    chosen = Chosen(book, card, [*rungs, *beside])
    rows = []
    for key in chosen.keys:
        if key in beside:
            rows.append(_beside_row(beside[key], chosen.who(key)))
            continue
        rung = rungs[key]
        margin = margin_between(comparison, rung.setup, rungs[base.id].setup)
        call, _beside = _call(book, comparison, rung)
        inside = margin is None or call == "baseline"
        lo = None if inside or margin is None else ratio_of(margin.lo)
        hi = None if inside or margin is None else ratio_of(margin.hi)
        ratio = rung.ratio or 1.0
        shown = "1×" if lo is None else f"{format_ratio(ratio)}× {call}"
        rows.append(RuleRow(chosen.who(key), ratio, lo, hi, shown, call))
    shown_at = [rungs[key].setup for key in chosen.keys if key in rungs]
    drawn = {key for key in chosen.keys if key in beside}
    notes = [
        *warnings(book, task, shown_at),
        *chosen.note(),
        *_off(book, comparison, drawn),
        *_signs(beside[key] for key in drawn),
        *foot(book, task, shown_at),
    ]
    matters = short(100 * book.shootout.materiality)
    scale = f"times as fast as {base.label}, right is faster; shaded: less than {matters} %"
    found, name = finding(book, comparison, chosen), title(book, task)
    subtitle = f"{name}: {scale}" if found or card.title else scale
    return RuleCard(
        heading_of(book, card, name, subtitle, notes, found),
        base.label,
        book.shootout.materiality,
        tuple(rows),
    )


def finding(book: Book, comparison: Comparison, chosen: Chosen) -> str:
    """What a card shows, as its title; empty where those who lead are not all on it."""
    rungs = comparison.rungs
    group = [book.setups[rungs[at].setup] for at in leading_group(comparison)]
    if len(rungs) < 2 or not {setup.id for setup in group} <= set(chosen.keys):
        return ""
    lead, second = (each.setup for each in rungs[:2])
    margin = margin_between(comparison, lead, second)
    if margin is None or margin.call is Call.NOT_COMPARABLE:
        return ""
    if len(group) == len(rungs):
        return _all_alike(book, comparison)
    names = listed((setup.label for setup in group), MOST_NAMED)
    if len(group) > 1:
        return f"{names} share first place"
    base = next((rung for rung in rungs if rung.setup == comparison.study.baseline), None)
    against = rungs[1] if base is None or base.setup == lead else base
    by = faster_than(rungs[0].log_speed - against.log_speed)
    return f"{names} is {by} {book.setups[against.setup].label}"


MOST_NAMED = 3


def _all_alike(book: Book, comparison: Comparison) -> str:
    """That no setup is apart from another, or that none is surely first."""
    k = len(comparison.rungs)
    if comparison.pairs.count(Call.LEVEL) < k * (k - 1) // 2:
        return "Too close to call"
    if comparison.task is None:
        return "All are equally fast"
    amount = book.tasks[comparison.task].measure == "amount"
    return "All come to the same" if amount else "All take the same time"


def _ladder(book: Book, card: KeptCard) -> Comparison:
    comparison = analysis_of(book).comparison(task_of(book, card))
    if comparison is None or not comparison.rungs:
        where = title(book, task_of(book, card)) if book.tasks else "this shootout"
        raise RefusedError("task_id", f"Nothing was measured on {where} yet: time a run first.")
    return comparison


def _beside_row(row: BesideRow, who: CardSetup) -> RuleRow:
    """A setup that was not measured, as the rule draws it: one end, or a noted ratio."""
    if row.evidence is Evidence.NOTED and row.ratio is not None:
        shown = f"{format_ratio(row.ratio)}× noted"
        return RuleRow(who, row.ratio, row.lo, row.hi, shown, row.evidence.value)
    if row.lo is not None and row.hi is not None:
        shown = f"{format_ratio(row.lo)} to {format_ratio(row.hi)}×"
        return RuleRow(who, row.lo, row.lo, row.hi, shown, row.evidence.value)
    ends = [f"at least {format_ratio(row.lo)}×"] if row.lo is not None else []
    ends += [f"at most {format_ratio(row.hi)}×"] if row.hi is not None else []
    known = row.lo if row.lo is not None else row.hi
    return RuleRow(who, known or 1.0, row.lo, row.hi, " ".join(ends), row.evidence.value)


def _signs(rows: Iterable[BesideRow]) -> Iterator[str]:
    """What the signs mean that stand for those who were not measured."""
    kinds = {row.evidence for row in rows}
    if Evidence.BOUND in kinds:
        yield "arrow: known by a bound alone"
    if Evidence.NOTED in kinds:
        yield "hatched: noted by somebody else, not measured"


def _off(book: Book, comparison: Comparison, drawn: Container[UUID] = ()) -> Iterator[str]:
    for beside in list_beside(book, comparison):
        # Of a noted ratio the source is told wherever it stands.
        if beside.setup_id not in drawn or beside.evidence is Evidence.NOTED:
            yield f"{beside.label}: {beside.words}"
    off = [book.setups[each.setup].label for each in comparison.standing.off]
    if off:
        yield (
            f"not ranked: {', '.join(off)}"
            if len(off) < 4
            else (f"{len(off)} setups are not ranked")
        )


def _app(book: Book, task: records.Task) -> str:
    """An app with the version of the latest round."""
    versions = book.rounds[-1].versions if book.rounds else ()
    own = next((v.version for v in versions if v.app == task.app), None)
    return task.app if own is None else f"{task.app} {own}"


def _bar_row(book: Book, comparison: Comparison, rung: Rung, who: CardSetup) -> BarRow:
    assert comparison.task is not None
    contrasts = comparison.pairs.contrasts
    at = contrasts.setups.tolist().index(rung.setup)
    half = own_half(contrasts, at, book.shootout.confidence)
    theta = float(contrasts.estimate[at])
    facts = book.tasks[comparison.task]
    if facts.measure == "amount":
        value, lo, hi = (ratio_of(x) for x in (theta, theta - half, theta + half))
        shown = fixed(value, 0, grouped=True) if value >= 100 else short(value, 3)
    else:
        value, lo, hi = (ratio_of(-x) for x in (theta, theta + half, theta - half))
        shown = say_time(value)
    call, beside = _call(book, comparison, rung)
    return BarRow(who, value, lo, hi, shown, call, beside)


def _call(book: Book, comparison: Comparison, rung: Rung) -> tuple[str, str]:
    """The call over the baseline, and how it stands beside the figure."""
    base = analysis_of(book).study.baseline
    if rung.setup == base:
        return "baseline", "baseline"
    margin = None if base is None else margin_between(comparison, rung.setup, base)
    if margin is None or rung.ratio is None:
        return "", ""
    return margin.call.value, f"{format_ratio(rung.ratio)}× {RESULT[margin.call]}"
