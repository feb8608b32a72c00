"""Cards of what goes on: a race, what an update did, what a change is worth, a correction."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from uuid import UUID

from true_margin.core.margins import decide_call
from true_margin.core.numerals import say_day
from true_margin.core.wording import count_of, format_ratio, format_span, listed
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.race import RaceLane, race_of
from true_margin.desk.margins.rounds_view import UpdateRow, list_update_rows
from true_margin.desk.picks.picks import PickView
from true_margin.desk.picks.rows import PickRow
from true_margin.desk.picks.viewers import answer, find_viewer
from true_margin.desk.picks.words.money import hour_figures, say_money
from true_margin.desk.publish.card_parts import Chosen, heading_of, task_of, warnings
from true_margin.desk.publish.shown_figures import shown_figures
from true_margin.publish.card_data import (
    CardSetup,
    CorrectionCard,
    CorrectionRow,
    RaceCard,
    RaceRun,
    RuleCard,
    RuleRow,
    WorthCard,
)
from true_margin.publish.looks import Shape
from true_margin.store.cards import KeptCard
from true_margin.store.editions import EditionFigure
from true_margin.store.records.viewers import Viewer

MOST_RUNS = {Shape.WIDE: 8, Shape.TALL: 6, Shape.SQUARE: 6}
MOST_CORRECTED = {Shape.WIDE: 6, Shape.TALL: 5, Shape.SQUARE: 5}


def race_card_of(book: Book, card: KeptCard, shape: Shape) -> RaceCard:
    """One run of each setup on a task, as it went.

    Raises:
        RefusedError: no run can be raced.
    """
    task = task_of(book, card)
    if task is None:
        raise RefusedError("task_id", "A race is run on one task: choose one.")
    facts = book.tasks[task]
    race = race_of(book, str(facts.id))
    if race.problem is not None:
        raise RefusedError("task_id", race.problem)
    lanes = {lane.setup_id: lane for lane in race.lanes}
    chosen = Chosen(book, card, list(lanes), MOST_RUNS[shape])
    # Who is left out is not waited for: the first is the first of those who are shown.
    there = (lanes[key] for key in chosen.keys)
    done = [lane.points[-1][0] for lane in there if lane.finished]
    runs = []
    for key in chosen.keys:
        lane = lanes[key]
        after = lane.points[-1][0] - min(done) if lane.finished else 0.0
        behind = f"{format_span(round(after, 1))} later" if after > 0 else ""
        points = tuple((at, part) for at, part in lane.points)
        runs.append(RaceRun(chosen.who(key), points, lane.shown, behind, lane.finished))
    notes = [*_straight(book, lanes.values(), chosen), *chosen.note(), "one run of each"]
    first = race.lanes[0]
    told = first.finished and first.setup_id in chosen.keys and len(done) > 1
    found = f"{first.label} is done first" if told else ""
    says = "one run of each, side by side"
    subtitle = f"{facts.name}: {says}" if found or card.title else says
    return RaceCard(heading_of(book, card, facts.name, subtitle, notes, found), tuple(runs))


def _straight(book: Book, lanes: Iterable[RaceLane], chosen: Chosen) -> Iterator[str]:
    """Of which runs only the end is known: they are drawn straight."""
    shown = [lane for lane in lanes if lane.setup_id in chosen.keys]
    straight = [lane.label for lane in shown if not lane.marked]
    if straight:
        whom = "all" if len(straight) == len(shown) else listed(straight, 2)
        yield f"no progress noted of {whom}: drawn straight"
    runs = {run.id: run for run in book.runs}
    if any(runs[lane.run_id].simulated for lane in shown):
        yield "simulated runs are among them"


def versions_of(book: Book, card: KeptCard, _: Shape) -> RuleCard:
    """What the last update of an app did, by each machine that was timed before and after.

    Raises:
        RefusedError: no update was measured.
    """
    row = _update(book, card)
    there = {bridge.setup_id: bridge for bridge in row.bridges}
    chosen = Chosen(book, card, list(there))
    matters = math.log1p(book.shootout.materiality)
    rows = []
    for key in chosen.keys:
        own = there[key]
        call = decide_call(math.log(own.lo), math.log(own.hi), matters).value
        shown = f"{format_ratio(own.ratio)}×"
        rows.append(RuleRow(chosen.who(key), own.ratio, own.lo, own.hi, shown, call))
    before = f"{row.app} {row.version}" if row.version else row.round
    now = f"{row.app} {row.since_version}" if row.since_version else row.since
    notes = [*chosen.note(), f"together: {format_ratio(row.ratio)}×"]
    if any(own.off for own in there.values()):
        notes.insert(0, "the machines do not agree")
    return RuleCard(
        heading_of(
            book,
            card,
            f"{now} against {before}",
            f"times as fast as with {before}, by machine; right is faster",
            notes,
            row.sentence.rstrip("."),
        ),
        before,
        book.shootout.materiality,
        tuple(rows),
    )


def _update(book: Book, card: KeptCard) -> UpdateRow:
    """The newest update that machines were timed on both sides of; of the card's app if any."""
    task = task_of(book, card)
    app = None if task is None else book.tasks[task].app
    found = [
        row for row in list_update_rows(book) if row.bridges and (app is None or row.app == app)
    ]
    if not found:
        whose = "any app" if app is None else app
        raise RefusedError(
            "task_id", f"No update of {whose} was measured: time a machine before and after it."
        )
    return found[-1]


def worth_of(book: Book, card: KeptCard, _: Shape) -> WorthCard:
    """What changing to another machine costs and brings a viewer.

    Raises:
        RefusedError: the viewer has no machine here, or nothing to change to has a price.
    """
    if card.viewer_id is None:
        raise RefusedError("viewer_id", "This card is about a viewer: choose one.")
    viewer = find_viewer(book, card.viewer_id)
    owned = viewer.owned_setup_id
    if owned is None or owned not in book.setup_index:
        raise RefusedError(
            "viewer_id", f"What {viewer.name} has now is not said: choose it in Picks."
        )
    view = answer(book, viewer)
    row = _changing_to(view, card)
    if row is None or row.upgrade is None or row.price.amount is None:
        raise RefusedError(
            "viewer_id", f"Nothing that {viewer.name} could change to has a price and was timed."
        )
    mine = book.setups[book.setup_index[owned]]
    after = book.setups[book.setup_index[row.setup_id]]
    upgrade, money = row.upgrade, viewer.currency
    hours, lo, hi = hour_figures(upgrade.saved_year)
    resale = f"{say_money(viewer.resale, money)} for the old one taken off" if viewer.resale else ""
    figures = (
        ("costs", say_money(row.price.amount - viewer.resale, money), resale),
        ("saves a year", f"{hours} h", f"{lo} to {hi} h"),
        (*_payback(upgrade.words.payback_short), upgrade.words.payback_span),
    )
    shown = [book.setup_index[owned], book.setup_index[row.setup_id]]
    notes = [
        *warnings(book, None, shown),
        f"prices of {say_day(book.shootout.price_date, whole=True)}",
    ]
    return WorthCard(
        heading_of(
            book,
            card,
            f"{viewer.name}: is it worth it?",
            f"{viewer.name}: changing from {mine.label} to {after.label}",
            notes,
            _verdict(view, viewer, row),
        ),
        CardSetup(mine.label, mine.mark),
        CardSetup(after.label, after.mark, highlighted=True),
        figures,
    )


def _changing_to(view: PickView, card: KeptCard) -> PickRow | None:
    """The machine that the card shows: the one to be seen first, else the pick, else whichever
    comes nearest to paying."""
    rows = [row for row in view.rows if not row.keep and row.upgrade is not None]
    first = set(map(UUID, card.setups.get("highlighted", ())))
    wanted = next((row for row in rows if row.setup_id in first), None)
    picked = None if view.picked is None else view.picked.setup_id
    pick = next((row for row in rows if row.setup_id == picked), None)
    best = max(
        (row for row in rows if row.open),
        key=lambda row: row.upgrade.net_worth.value if row.upgrade else -math.inf,
        default=None,
    )
    return wanted or pick or best


def _verdict(view: PickView, viewer: Viewer, row: PickRow) -> str:
    """Whether it is worth it, as Picks decides."""
    picked = view.picked
    if picked is None or not (picked.keep or picked.setup_id == row.setup_id) or picked.caution:
        return ""
    return f"{viewer.name}: {picked.what[:1].lower()}{picked.what[1:]}"


def _payback(payback: str) -> tuple[str, str]:
    """What the time until it has paid for itself is called, and that time."""
    at_no_time = payback in ("at once", "not sure", "never")
    return ("pays for itself" if at_no_time else "pays for itself after"), payback


def correction_of(book: Book, card: KeptCard, shape: Shape) -> CorrectionCard:
    """Figures of the last two editions that are others now.

    Raises:
        RefusedError: nothing was published, or all of it still holds.
    """
    if not book.said:
        raise RefusedError("kind", "Nothing was published yet: a correction says what was.")
    now = shown_figures(book)
    labels = {setup.label: setup for setup in book.setups}
    wrong: dict[tuple[str, str], EditionFigure] = {}
    for said in book.said:
        what = (said.task, said.label)
        if what in now and said.label in labels and now[what] != said.shown:
            wrong.setdefault(what, said)
    task = task_of(book, card)
    if task is not None:
        own = book.tasks[task].name
        wrong = {what: said for what, said in wrong.items() if what[0] == own}
    if not wrong:
        raise RefusedError("kind", "Every published figure still holds: nothing to correct.")
    chosen = Chosen(book, card, list({labels[label].id: None for _, label in wrong}), len(labels))
    rows = [
        CorrectionRow(chosen.who(labels[label].id), task, said.shown, now[task, label])
        for (task, label), said in wrong.items()
        if labels[label].id in chosen.keys
    ]
    kept = rows[: MOST_CORRECTED[shape]]
    numbers = sorted({said.number for said in wrong.values()})
    notes = [f"struck: as {listed((f'edition {number}' for number in numbers), 2)} had it"]
    if len(rows) > len(kept):
        notes.insert(0, f"{count_of(len(rows) - len(kept), 'more figure')} changed")
    return CorrectionCard(
        heading_of(
            book,
            card,
            "Correction",
            "what was said, and what it is now",
            notes,
            f"Correction: {count_of(len(rows), 'figure')} changed",
        ),
        tuple(kept),
    )
