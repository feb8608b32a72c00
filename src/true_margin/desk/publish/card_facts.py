"""What a card shows of a book: gathered by its kind."""

from __future__ import annotations

import math
from collections.abc import Callable
from uuid import UUID

from true_margin.core.choices import CardKind
from true_margin.core.wording import say_time
from true_margin.desk.book.analysis import progress_of
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.publish.card_changes import correction_of, race_card_of, versions_of, worth_of
from true_margin.desk.publish.card_choices import pick_of, price_of_viewer, specs_of
from true_margin.desk.publish.card_feels import feels_of
from true_margin.desk.publish.card_ladders import bars_of, rule_of
from true_margin.desk.publish.card_parts import Chosen, heading_of, task_of
from true_margin.publish.card_data import Card, Progress, ProgressCard
from true_margin.publish.looks import Shape
from true_margin.store import records
from true_margin.store.cards import KeptCard


def card_of(book: Book, card: KeptCard, shape: Shape) -> Card:
    """Gather what a card shows.

    Raises:
        RefusedError: there is nothing to show yet, or something is missing; says what.
    """
    return CARDS[CardKind(card.kind)](book, card, shape)


def _progress(book: Book, card: KeptCard, _: Shape) -> ProgressCard:
    task = task_of(book, card)
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
    notes = [*chosen.note(), "the newest run with marks of each"]
    first = next((run for run in runs if run.complete), None)
    found_first = first is not None and there[0] == chosen.keys[0] and len(runs) > 1
    found_out = f"{first.who.label} was done first" if found_first and first else ""
    says = "share of the export finished over time"
    subtitle = f"{facts.name}: {says}" if found_out or card.title else says
    return ProgressCard(heading_of(book, card, facts.name, subtitle, notes, found_out), tuple(runs))


CARDS: dict[CardKind, Callable[[Book, KeptCard, Shape], Card]] = {
    CardKind.BAR: bars_of,
    CardKind.RULE: rule_of,
    CardKind.PRICE: price_of_viewer,
    CardKind.PICK: pick_of,
    CardKind.SPEC: specs_of,
    CardKind.PROGRESS: _progress,
    CardKind.FEEL: feels_of,
    CardKind.RACE: race_card_of,
    CardKind.WORTH: worth_of,
    CardKind.VERSIONS: versions_of,
    CardKind.CORRECTION: correction_of,
}
"""Every kind of card, with what gathers its values out of a book.

What is gathered says by its type how it is drawn (``DRAWERS``).
"""
