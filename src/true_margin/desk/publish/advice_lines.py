"""Sentences of the script about what a viewer should buy, held against Picks."""

from __future__ import annotations

import math

from true_margin.core.claims.advice import read_advice
from true_margin.core.claims.advice_judge import Answer, Gain, judge_advice, which_viewer
from true_margin.core.claims.check import Around, Checked
from true_margin.core.claims.names import Names
from true_margin.core.weekly import Span
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.picks.picks import PickView
from true_margin.desk.picks.rows import UpgradeView
from true_margin.desk.picks.solve import solve
from true_margin.desk.picks.viewers import answer
from true_margin.store.records.viewers import Viewer


def check_advice(book: Book, text: str, names: Names, around: Around) -> Checked | None:
    """Judge a sentence about what a viewer should buy; None where it is none.

    Args:
        book: whose viewers are asked.
        text: the sentence.
        names: what may be named.
        around: what stands beside it.
    """
    viewers = [viewer for viewer in book.viewers if viewer.retired_at is None]
    claim = read_advice(text, names, [viewer.name for viewer in viewers], around)
    if claim is None:
        return None
    which = which_viewer(claim, [viewer.name for viewer in viewers])
    if isinstance(which, Checked):
        return which
    setups = [setup.label for setup in book.setups]
    return judge_advice(claim, _answer(book, viewers[which]), setups)


def _answer(book: Book, viewer: Viewer) -> Answer:
    return book.cached(("advice", viewer.id), lambda: _gathered(book, viewer))


def _gathered(book: Book, viewer: Viewer) -> Answer:
    """What Picks says for a viewer, by places of setups; what holds of a model of its samples."""
    view = answer(book, viewer)
    own = book.setup_index.get(viewer.owned_setup_id) if viewer.owned_setup_id else None
    pick = None if view.picked is None else book.setup_index[view.picked.setup_id]
    chance = 0.0 if view.picked is None else view.picked.prob_best
    by_label = {setup.label: place for place, setup in enumerate(book.setups)}
    gains = {}
    for row in view.rows:
        if row.upgrade is not None:
            for place in (book.setup_index[row.setup_id], *(by_label[s] for s in row.samples)):
                gains[place] = _gain(row.upgrade)
    group = _group(book, viewer, view) | ({pick} if pick is not None else set())
    return Answer(viewer.name, pick, own, frozenset(group), chance, gains, viewer.horizon_years)


def _group(book: Book, viewer: Viewer, view: PickView) -> set[int]:
    """Setups that are as good as the pick."""
    if view.picked is None:
        return set()
    try:
        solved = solve(book, viewer)
    except RefusedError:
        return set()
    if solved.contest is None or solved.decision is None:
        return set()
    return {int(solved.contest.setups[place]) for place in solved.decision.group}


def _gain(upgrade: UpgradeView) -> Gain:
    weeks = None
    if upgrade.payback_weeks is not None:
        lo, hi = upgrade.payback_lo, upgrade.payback_hi
        weeks = Span(
            upgrade.payback_weeks,
            upgrade.payback_weeks if lo is None else lo,
            math.inf if hi is None else hi,
        )
    return Gain(
        upgrade.saved_week, upgrade.saved_year, upgrade.net_worth, upgrade.payback_reason, weeks
    )
