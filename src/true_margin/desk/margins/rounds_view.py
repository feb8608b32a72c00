"""Rounds: what each update did, which machines tie it to others, and how well they agree."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.bridges import OFF_Z, Bridge, Update, list_updates
from true_margin.core.margins import decide_call
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.words.rounds import (
    TOO_FEW_BRIDGES,
    say_carried,
    say_merge,
    say_misfit,
    say_uneven,
    say_update,
)
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class BridgeRow:
    """A setup that ties a round to others: what the update did on it alone.

    ``ratio`` is times as fast since the update; ``off`` where it does not agree with the rest.
    """

    setup_id: UUID
    label: str
    ratio: float
    lo: float
    hi: float
    off: bool


@dataclass(frozen=True, slots=True)
class UpdateRow:
    """What lies between a round and the latest one, for one app; times as fast since then."""

    app: str
    round: str
    version: str | None
    since: str
    since_version: str | None
    ratio: float
    lo: float
    hi: float
    call: str
    sentence: str
    bridges: tuple[BridgeRow, ...]


@dataclass(frozen=True, slots=True)
class RoundLine:
    """One round: its app versions, its runs, and where it came from."""

    name: str
    versions: str
    runs: int
    setups: int
    brought_from: str | None


@dataclass(frozen=True, slots=True)
class Merge:
    """Two rounds that were run with the same versions, and could be one."""

    from_id: UUID
    into_id: UUID
    words: str


@dataclass(frozen=True, slots=True)
class RoundsView:
    """Every round and update of a shootout."""

    rounds: tuple[RoundLine, ...]
    updates: tuple[UpdateRow, ...]
    uneven: str | None
    misfit: str | None
    merge: Merge | None
    carried: tuple[str, ...]
    materiality: float
    confidence: float


def show_rounds(database: Database, slug: str) -> RoundsView:
    """Give what each update did, with the machines that say so."""
    book = SHELF.take(database, slug)
    shootout = book.shootout
    return RoundsView(
        tuple(_rounds(book)),
        list_update_rows(book),
        _uneven(book),
        _misfit(book),
        _merge(book),
        tuple(_carried(book)),
        shootout.materiality,
        shootout.confidence,
    )


def list_update_rows(book: Book) -> tuple[UpdateRow, ...]:
    """What each update did, the earliest first."""
    analysis = analysis_of(book)
    found = list_updates(analysis.fit, analysis.cells, book.shootout.confidence)
    return tuple(_row(book, update) for update in found)


def _rounds(book: Book) -> Iterator[RoundLine]:
    table = book.index.table
    for place, round_ in enumerate(book.rounds):
        here = table.round == place
        versions = ", ".join(f"{v.app} {v.version}" for v in round_.versions)
        setups = len(np.unique(table.setup[here]))
        yield RoundLine(round_.name, versions, int(here.sum()), setups, round_.brought_from)


def _row(book: Book, update: Update) -> UpdateRow:
    app = analysis_of(book).fit.app_names[update.app]
    reference = _reference(book, update)
    # δ says how the earlier round differs; since then everything is −δ faster.
    delta, lo, hi = -update.log_effect, -update.hi, -update.lo
    call = decide_call(lo, hi, math.log1p(book.shootout.materiality))
    was = _version(book, app, update.round)
    now = None if reference is None else _version(book, app, reference)
    since = "" if reference is None else book.rounds[reference].name
    return UpdateRow(
        app,
        book.rounds[update.round].name,
        was,
        since,
        now,
        math.exp(delta),
        math.exp(lo),
        math.exp(hi),
        call.value,
        say_update(app, (was, now), (book.rounds[update.round].name, since), (delta, lo, hi)),
        tuple(_bridge(book, bridge) for bridge in update.bridges),
    )


def _reference(book: Book, update: Update) -> int | None:
    app = analysis_of(book).fit.app_names[update.app]
    return max(
        (e.place for e in analysis_of(book).fit.rounds if e.app == app and e.reference),
        default=None,
    )


def _version(book: Book, app: str, place: int) -> str | None:
    return next((v.version for v in book.rounds[place].versions if v.app == app), None)


def _bridge(book: Book, bridge: Bridge) -> BridgeRow:
    setup = book.setups[bridge.setup]
    # Two standard errors: the bridges are there to be held against each other.
    half = 2 * bridge.se
    return BridgeRow(
        setup.id,
        setup.label,
        math.exp(-bridge.log_effect),
        math.exp(-bridge.log_effect - half),
        math.exp(-bridge.log_effect + half),
        analysis_of(book).fit.update.bridges_disagree and abs(bridge.z) > OFF_Z,
    )


def _uneven(book: Book) -> str | None:
    update = analysis_of(book).fit.update
    if update.basis is None:
        return None
    return TOO_FEW_BRIDGES if update.df is None else say_uneven(update.cv, update.basis)


def _misfit(book: Book) -> str | None:
    update = analysis_of(book).fit.update
    if update.misfit_p is None:
        return None
    return say_misfit(update.misfit_p, disagree=update.bridges_disagree)


def _merge(book: Book) -> Merge | None:
    """Rounds with the same app versions should be one; those that are empty are none."""
    seen: dict[tuple[tuple[str, str], ...], records.Round] = {}
    table = book.index.table
    for place, round_ in enumerate(book.rounds):
        versions = tuple(sorted((v.app, v.version) for v in round_.versions))
        if not versions or not (table.round == place).any():
            continue
        if versions in seen:
            words = say_merge(seen[versions].name, round_.name)
            return Merge(seen[versions].id, round_.id, words)
        seen[versions] = round_
    return None


def _carried(book: Book) -> Iterator[str]:
    """Setups with figures from earlier rounds only, with how many tasks."""
    carried = analysis_of(book).fit.carried
    for place in np.flatnonzero(carried.any(axis=1)).tolist():
        names = [book.tasks[t].name for t in np.flatnonzero(carried[place]).tolist()]
        yield say_carried(book.setups[place].label, names)
