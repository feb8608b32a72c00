"""What a card shows of a book: setups in their order, figures, calls, footnotes."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from decimal import Decimal
from uuid import UUID

from true_margin.core.analysis import Comparison
from true_margin.core.ladder import Rung
from true_margin.core.margins import own_half
from true_margin.core.spec_rows import STATES
from true_margin.core.wording import format_elapsed, format_ratio, ratio_of
from true_margin.desk.book import Book, progress_of
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins import carried, task_index, title
from true_margin.desk.pick_words import say_money
from true_margin.desk.picks import PickView
from true_margin.desk.prices import tested_price
from true_margin.desk.sheet_rows import machine_rows
from true_margin.desk.spec_sheet import cell_text
from true_margin.desk.verdicts import margin_between
from true_margin.desk.viewers import answer, find_viewer
from true_margin.publish.card_data import (
    BarCard,
    BarRow,
    Card,
    CardKind,
    Heading,
    PickCard,
    PriceCard,
    PricePoint,
    Progress,
    ProgressCard,
    RuleCard,
    RuleRow,
    SpecCard,
    Who,
)
from true_margin.publish.looks import Shape
from true_margin.store import records
from true_margin.store.cards import KeptCard

MOST = 10
"""So many setups stand on a card; the others are counted below it."""
MOST_ROWS = {Shape.WIDE: 9, Shape.TALL: 9, Shape.SQUARE: 5}
PRICE_ROW = "Price as tested"
TELLING = (
    PRICE_ROW, "Processor", "Cores", "Raised clock", "Clock", "Graphics", "Memory", "Storage",
    "System", "Power source", "Weight", "Noise class", "How obtained", "Supported until",
)  # fmt: skip
"""Rows of the spec card that come before others which differ as well."""
IN_BLOCK = {Shape.WIDE: 8, Shape.TALL: 4, Shape.SQUARE: 4}
RULES = {
    "fastest": "the fastest within the budget",
    "value": "the best value",
    "worth": "worth the most over the years",
    "enough": "the cheapest that is fast enough",
}


def card_of(book: Book, card: KeptCard, shape: Shape) -> Card:
    """Gather what a card shows.

    Raises:
        RefusedError: there is nothing to show yet, or something is missing; says what.
    """
    makers: dict[CardKind, Callable[[Book, KeptCard, Shape], Card]] = {
        CardKind.BAR: _bars,
        CardKind.RULE: _rule,
        CardKind.PRICE: _price,
        CardKind.PICK: _pick,
        CardKind.SPEC: _specs,
        CardKind.PROGRESS: _progress,
    }
    return makers[CardKind(card.kind)](book, card, shape)


class Chosen:
    """Which setups stand on a card, in which order, and how many are left out."""

    def __init__(self, book: Book, card: KeptCard, there: Sequence[UUID], most: int = MOST) -> None:
        order = [key for key in map(UUID, card.setups.get("order", ())) if key in there]
        left = set(map(UUID, card.setups.get("left_out", ())))
        first = set(map(UUID, card.setups.get("highlighted", ())))
        whole = [*order, *(key for key in there if key not in order)]
        # Whoever edits the card sees all of them in this order.
        book.answers["on card", card.id, card.version] = tuple(whole)
        wanted = [key for key in whole if key not in left]
        # What is to be seen first stands on the card even where it is far down.
        kept = {key for key in wanted if key in first}
        for key in wanted:
            if len(kept) < most:
                kept.add(key)
        self.keys = [key for key in wanted if key in kept]
        self.hidden = [key for key in whole if key not in kept]
        self._first = first
        self._book = book

    def who(self, key: UUID) -> Who:
        """A setup as it stands on a card."""
        setup = self._book.setups[self._book.setup_index[key]]
        return Who(setup.label, setup.mark, key in self._first)

    def note(self) -> Iterator[str]:
        """Say how many are left out: leaving out is honest when it is told."""
        if self.hidden:
            yield f"{len(self.hidden)} more not shown"


def _heading(book: Book, card: KeptCard, name: str, subtitle: str, notes: Sequence[str]) -> Heading:
    newest = max(
        (run.started_at or run.created_at for run in book.runs), default=book.shootout.created_at
    )
    return Heading(
        card.title or name,
        subtitle if card.subtitle is None else card.subtitle,
        tuple(notes),
        f"{book.shootout.name}, {newest:%-d %B %Y}" if card.source is None else card.source,
    )


def _task(book: Book, card: KeptCard) -> int | None:
    return None if card.task_id is None else task_index(book, str(card.task_id))


def _ladder(book: Book, card: KeptCard) -> Comparison:
    comparison = book.analysis.comparison(_task(book, card))
    if comparison is None or not comparison.rungs:
        where = title(book, _task(book, card)) if book.tasks else "this shootout"
        raise RefusedError("task_id", f"Nothing was measured on {where} yet: time a run first.")
    return comparison


def foot(book: Book, task: int | None, setups: Sequence[int]) -> Iterator[str]:
    """What a card's figures rest on: runs, level, round, overrules, what is carried over."""
    counted = [t for t, w in enumerate(book.analysis.study.mix) if w] if task is None else [task]
    runs = int(sum(book.index.ok[s, t] for s in setups for t in counted))
    yield f"{runs} {'run' if runs == 1 else 'runs'}"
    yield f"jaws: {100 * book.shootout.confidence:g} %"
    if len(book.rounds) > 1:
        yield f"round {book.rounds[-1].name}"
    over = [book.setups[s].label for s in setups if carried(book, s, task)]
    if over:
        yield f"carried over from an earlier round: {', '.join(over)}"
    words = sum(
        t in counted and pair <= set(setups)
        for t, pair in book.parity.overruled
    )  # fmt: skip
    if words:
        yield f"{words} parity {'overrule' if words == 1 else 'overrules'}"
    faked = sum(
        run.simulated for run in book.runs
        if book.setup_index[run.setup_id] in setups and book.task_index.get(run.task_id) in counted
    )  # fmt: skip
    if faked:
        yield f"{faked} of them simulated" if faked < runs else "all of them simulated"


def _off(book: Book, comparison: Comparison) -> Iterator[str]:
    off = [book.setups[each.setup].label for each in comparison.standing.off]
    if off:
        yield (
            f"not on this ladder: {', '.join(off)}"
            if len(off) < 4
            else (f"{len(off)} setups are not on this ladder")
        )


def say_time(seconds: float) -> str:
    """Write a typical time as a clock, with tenths below a minute."""
    return format_elapsed(seconds, 0.1 if seconds < 60 else 1.0)


def _bars(book: Book, card: KeptCard, _: Shape) -> BarCard:
    task = _task(book, card)
    if task is None:
        raise RefusedError(
            "task_id", "A bar card shows the times of one task: choose one, or take a rule card."
        )
    comparison = _ladder(book, card)
    rungs = {book.setups[rung.setup].id: rung for rung in comparison.rungs}
    chosen = Chosen(book, card, list(rungs))
    facts = book.tasks[task]
    rows = tuple(_bar_row(book, comparison, rungs[key], chosen.who(key)) for key in chosen.keys)
    base = book.baseline
    amount = facts.measure == "amount"
    axis = (
        f"{facts.unit or 'amount'}, more is better" if amount
        else ("seconds, less is better" if all(row.value < 60 for row in rows)
              else "minutes:seconds, less is better")
    )  # fmt: skip
    against = f"against {base.label}, {_app(book, facts)}" if base is not None else facts.app
    shown = [rungs[key].setup for key in chosen.keys]
    notes = [*foot(book, task, shown), *chosen.note(), *_off(book, comparison)]
    return BarCard(_heading(book, card, facts.name, against, notes), axis, rows)


def _app(book: Book, task: records.Task) -> str:
    """An app with the version of the latest round."""
    versions = book.rounds[-1].versions if book.rounds else ()
    own = next((v.version for v in versions if v.app == task.app), None)
    return task.app if own is None else f"{task.app} {own}"


def _bar_row(book: Book, comparison: Comparison, rung: Rung, who: Who) -> BarRow:
    assert comparison.task is not None
    contrasts = comparison.pairs.contrasts
    at = contrasts.setups.tolist().index(rung.setup)
    half = own_half(contrasts, at, book.shootout.confidence)
    theta = float(contrasts.estimate[at])
    facts = book.tasks[comparison.task]
    if facts.measure == "amount":
        value, lo, hi = (ratio_of(x) for x in (theta, theta - half, theta + half))
        shown = f"{value:,.0f}".replace(",", " ") if value >= 100 else f"{value:.3g}"
    else:
        value, lo, hi = (ratio_of(-x) for x in (theta, theta + half, theta - half))
        shown = say_time(value)
    call, beside = _call(book, comparison, rung)
    return BarRow(who, value, lo, hi, shown, call, beside)


def _call(book: Book, comparison: Comparison, rung: Rung) -> tuple[str, str]:
    """The call over the baseline, and how it stands beside the figure."""
    base = book.analysis.study.baseline
    if rung.setup == base:
        return "baseline", "baseline"
    margin = None if base is None else margin_between(comparison, rung.setup, base)
    if margin is None or rung.ratio is None:
        return "", ""
    return margin.call.value, f"{format_ratio(rung.ratio)}× {margin.call.value}"


def _rule(book: Book, card: KeptCard, _: Shape) -> RuleCard:
    task = _task(book, card)
    comparison = _ladder(book, card)
    base = book.baseline
    rungs = {book.setups[rung.setup].id: rung for rung in comparison.rungs}
    if base is None or base.id not in rungs:
        name = "no baseline" if base is None else base.label
        raise RefusedError(
            "task_id", f"The baseline ({name}) does not stand on this ladder: choose another "
            "baseline, or another task.",
        )  # fmt: skip
    chosen = Chosen(book, card, list(rungs))
    rows = []
    for key in chosen.keys:
        rung = rungs[key]
        margin = margin_between(comparison, rung.setup, rungs[base.id].setup)
        call, _beside = _call(book, comparison, rung)
        inside = margin is None or call == "baseline"
        lo = None if inside or margin is None else ratio_of(margin.lo)
        hi = None if inside or margin is None else ratio_of(margin.hi)
        ratio = rung.ratio or 1.0
        shown = "1×" if lo is None else f"{format_ratio(ratio)}× {call}"
        rows.append(RuleRow(chosen.who(key), ratio, lo, hi, shown, call))
    shown_at = [rungs[key].setup for key in chosen.keys]
    notes = [*foot(book, task, shown_at), *chosen.note(), *_off(book, comparison)]
    matters = 100 * book.shootout.materiality
    subtitle = f"times as fast as {base.label}, right is faster; shaded: less than {matters:g} %"
    return RuleCard(
        _heading(book, card, title(book, task), subtitle, notes), base.label,
        book.shootout.materiality, tuple(rows),
    )  # fmt: skip


def _picked(book: Book, card: KeptCard) -> tuple[PickView, str, Decimal | None, str]:
    if card.viewer_id is None:
        raise RefusedError("viewer_id", "This card is about a viewer: choose one.")
    viewer = find_viewer(book, card.viewer_id)
    view = answer(book, viewer)
    if not view.rows:
        why = "no setup did all of this work" if view.problem is None else view.problem.words
        raise RefusedError("viewer_id", f"{viewer.name}: {why}")
    return view, viewer.name, viewer.budget, RULES[viewer.rule]


def _price(book: Book, card: KeptCard, _: Shape) -> PriceCard:
    view, name, budget, _rule = _picked(book, card)
    rows = {row.setup_id: row for row in view.rows if row.price.amount is not None}
    if not rows:
        raise RefusedError("viewer_id", f"No setup has a price for {name}: add one in Line-up.")
    chosen = Chosen(book, card, list(rows))
    pick = None if view.picked is None else view.picked.setup_id
    points = []
    for key in chosen.keys:
        row = rows[key]
        assert row.price.amount is not None
        points.append(PricePoint(
            chosen.who(key), float(row.price.amount), say_money(row.price.amount, view.currency),
            row.ratio, row.lo, row.hi, row.frontier, key == pick,
            budget is not None and row.price.amount > budget,
        ))  # fmt: skip
    shown = [book.setup_index[key] for key in chosen.keys]
    unpriced = [row.label for row in view.rows if row.price.amount is None]
    notes = [*foot(book, None, shown), f"prices of {book.shootout.price_date:%-d %B %Y}",
             *chosen.note()]  # fmt: skip
    if unpriced:
        notes.append(f"no price: {', '.join(unpriced)}")
    shown_budget = "" if budget is None else f"budget {say_money(budget, view.currency)}"
    return PriceCard(
        _heading(book, card, f"{name}: price against speed", "ringed: the pick; line: more speed "
                 "costs more along it", notes),
        view.currency, view.reference or "the baseline",
        None if budget is None else float(budget), shown_budget, tuple(points),
    )  # fmt: skip


def _pick(book: Book, card: KeptCard, _: Shape) -> PickCard:
    view, name, budget, rule = _picked(book, card)
    picked = view.picked
    notes = [*foot(book, None, [book.setup_index[row.setup_id] for row in view.rows]),
             f"prices of {book.shootout.price_date:%-d %B %Y}"]  # fmt: skip
    heading = _heading(book, card, name, rule, notes)
    facts: list[tuple[str, str]] = []
    if budget is not None:
        facts.append(("budget", say_money(budget, view.currency)))
    if view.needs:
        facts.append(("needs", "; ".join(view.needs)))
    if picked is None:
        problem = view.problem.words if view.problem else "No setup is left to pick."
        return PickCard(heading, None, "No pick", (problem,), tuple(facts))
    row = next(row for row in view.rows if row.setup_id == picked.setup_id)
    setup = book.setups[book.setup_index[picked.setup_id]]
    if row.upgrade is not None:
        facts.append(("payback", row.upgrade.payback))
    if row.flip is not None and not picked.keep:
        facts.append(("flip price", row.flip.words))
    lines = [each for each in (picked.sentence, picked.level, picked.second) if each]
    answer_words = f"Keep {picked.label}" if picked.keep else (
        f"{picked.label}, {say_money(picked.price, view.currency)}"
    )  # fmt: skip
    who = Who(setup.label, setup.mark)
    return PickCard(heading, who, answer_words, tuple(lines), tuple(facts[:4]))


def _specs(book: Book, card: KeptCard, shape: Shape) -> SpecCard:
    if not book.setups:
        raise RefusedError("kind", "There is no setup yet: add a machine in Line-up first.")
    chosen = Chosen(book, card, [setup.id for setup in book.setups], 8)
    setups = [book.setups[book.setup_index[key]] for key in chosen.keys]
    rows = []
    for spec in (*machine_rows(book.free_rows), *STATES):
        if spec.field in ("note", "shared"):
            continue
        cells = tuple(
            cell_text(book.machine_of[setup.id], setup, spec.field) or "–" for setup in setups
        )
        if any(cell != "–" for cell in cells):
            unit = f" {spec.unit}" if spec.unit else ""
            told = tuple(cell if cell == "–" else f"{cell}{unit}" for cell in cells)
            rows.append((spec.title, told, len(set(cells)) > 1))
    if not rows:
        raise RefusedError("kind", "The spec sheet is empty: fill in a row in Line-up first.")
    rows.append(_price_row(book, setups))
    # What tells them apart comes first, and of that what viewers ask for.
    telling = {title: place for place, title in enumerate(TELLING)}
    rows.sort(key=lambda row: (not row[2], telling.get(row[0], len(TELLING))))
    kept = rows[: MOST_ROWS[shape]]
    notes = [*chosen.note()]
    if len(rows) > len(kept):
        notes.append(f"{len(rows) - len(kept)} more rows in the table")
    subtitle = "a square marks rows that differ" if any(row[2] for row in kept) else ""
    return SpecCard(
        _heading(book, card, "What was tested", subtitle, notes),
        tuple(chosen.who(key) for key in chosen.keys), tuple(kept), IN_BLOCK[shape],
    )  # fmt: skip


def _price_row(book: Book, setups: Sequence[records.Setup]) -> tuple[str, tuple[str, ...], bool]:
    """What each cost as tested."""
    prices = [tested_price(book, setup).amount for setup in setups]
    currency = book.shootout.currency
    cells = tuple("–" if p is None else say_money(p, currency) for p in prices)
    return PRICE_ROW, cells, len(set(cells)) > 1


def _progress(book: Book, card: KeptCard, _: Shape) -> ProgressCard:
    task = _task(book, card)
    if task is None:
        raise RefusedError("task_id", "A progress card shows runs of one task: choose one.")
    facts = book.tasks[task]
    found: dict[UUID, tuple[records.Run, list[tuple[float, float]]]] = {}
    for run in book.runs:
        marks = book.marks_of.get(run.id, [])
        points = [(m.elapsed_s, m.fraction) for m in progress_of(marks)]
        end = run.value if run.status == "ok" else (points[-1][0] if points else None)
        counts = run.task_id == facts.id and run.status in ("ok", "failed") and points and end
        if counts and facts.measure == "time":
            found[run.setup_id] = (run, points)
    if not found:
        raise RefusedError(
            "task_id", f"No run of {facts.name} has marks yet: read the progress while it runs."
        )
    there = sorted(found, key=lambda key: found[key][0].value or math.inf)
    chosen = Chosen(book, card, there, 8)
    runs = []
    for key in chosen.keys:
        run, points = found[key]
        done = run.status == "ok" and run.value is not None
        end_s = run.value if done and run.value is not None else points[-1][0]
        whole = [(0.0, 0.0), *((t, f) for t, f in points if t < end_s)]
        whole.append((end_s, 1.0) if done else points[-1])
        shown = say_time(end_s) if done else f"failed at {say_time(end_s)}"
        runs.append(Progress(chosen.who(key), tuple(whole), shown, done))
    notes = ["the newest run with marks of each", *chosen.note()]
    return ProgressCard(
        _heading(book, card, facts.name, "how much was done by when", notes), tuple(runs)
    )
