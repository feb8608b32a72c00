"""Rounds: what each update did, which machines tie it to others, and how well they agree."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.bridges import OFF_Z, Bridge, Update, list_updates
from true_margin.core.margins import decide_call
from true_margin.core.numerals import fixed
from true_margin.core.wording import format_ratio
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
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
    found = list_updates(analysis_of(book).fit, analysis_of(book).cells, shootout.confidence)
    return RoundsView(
        tuple(_rounds(book)),
        tuple(_row(book, update) for update in found),
        _uneven(book),
        _misfit(book),
        _merge(book),
        tuple(_carried(book)),
        shootout.materiality,
        shootout.confidence,
    )


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
        _say(app, (was, now), (book.rounds[update.round].name, since), (delta, lo, hi)),
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


def _say(
    app: str,
    versions: tuple[str | None, str | None],
    rounds: tuple[str, str],
    effect: tuple[float, float, float],
) -> str:
    delta, lo, hi = effect
    was, now = versions
    what = f"{app} {now}" if now and now != was else f"{app} in {_round(rounds[1])}"
    than = f"{was}" if was and now != was else f"in {_round(rounds[0])}"
    if lo <= 0 <= hi:
        return (
            f"{what} is not told apart from {than}: {format_ratio(math.exp(delta))} times as "
            f"fast, {format_ratio(math.exp(lo))} to {format_ratio(math.exp(hi))}."
        )
    word, d, a, b = ("fast", delta, lo, hi) if delta > 0 else ("slow", -delta, -hi, -lo)
    return (
        f"{what} is {format_ratio(math.exp(d))} times as {word} as {than}, "
        f"{format_ratio(math.exp(a))} to {format_ratio(math.exp(b))}."
    )


def _round(name: str) -> str:
    """A round by its name; some are named after what they are."""
    return name if name.casefold().startswith("round ") else f"the {name} round"


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
    if update.df is None:
        return "How unevenly updates land rests on no evidence: carried-over figures may be off."
    return (
        f"Updates land unevenly by {fixed(100 * update.cv, 1)} % from one setup to the next "
        f"({update.basis.value}); carried-over figures allow for it."
    )


def _misfit(book: Book) -> str | None:
    update = analysis_of(book).fit.update
    if update.misfit_p is None:
        return None
    p = update.misfit_p
    if update.bridges_disagree:
        chance = "less than 1 in 1 000" if p < 0.001 else f"{1000 * p:.0f} in 1 000"
        return (
            f"The bridge machines disagree about what the update did: the chance of such a "
            f"disagreement by scatter alone is {chance}."
        )
    return f"The bridge machines agree as well as their runs allow (p = {fixed(p, 2)})."


def _merge(book: Book) -> Merge | None:
    """Rounds with the same app versions should be one; those that are empty are none."""
    seen: dict[tuple[tuple[str, str], ...], records.Round] = {}
    table = book.index.table
    for place, round_ in enumerate(book.rounds):
        versions = tuple(sorted((v.app, v.version) for v in round_.versions))
        if not versions or not (table.round == place).any():
            continue
        if versions in seen:
            words = (
                f"{seen[versions].name} and {round_.name} were run with the same app versions: as "
                f"one round their runs count together."
            )
            return Merge(seen[versions].id, round_.id, words)
        seen[versions] = round_
    return None


def _carried(book: Book) -> Iterator[str]:
    """Setups with figures from earlier rounds only, with how many tasks."""
    carried = analysis_of(book).fit.carried
    for place in np.flatnonzero(carried.any(axis=1)).tolist():
        names = [book.tasks[t].name for t in np.flatnonzero(carried[place]).tolist()]
        shown = ", ".join(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")
        yield f"{book.setups[place].label}: {shown}"
