"""Needs of viewers: as stored, as typed and packed, and what each setup is known to have."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from true_margin.core.errors import QuantityError
from true_margin.core.needs import GRADES, PLAYBACK, Need, Seen, miss, read_need, say_need
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import Spec, show_spec
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.derived import derived
from true_margin.desk.book.readings import readings_of
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.errors import RefusedError
from true_margin.store import records

MOST_NEEDS = 30


def need_rows(free_rows: Iterable[records.FreeRow]) -> tuple[Spec, ...]:
    """Every row that a need may name."""
    return (*machine_rows(tuple(free_rows)), *STATES)


def read_needs(
    typed: Sequence[Mapping[str, Any]], free_rows: Iterable[records.FreeRow]
) -> list[dict[str, Any]]:
    """Read needs as typed, to be stored.

    Raises:
        RefusedError: one of them makes no sense; says which.
    """
    rows = need_rows(free_rows)
    found = []
    for place, each in enumerate(typed, start=1):
        try:
            need = read_need(each["about"], each["relation"], each.get("value"), rows)
        except QuantityError as error:
            raise RefusedError("needs", f"Need {place}: {error.reason}") from error
        found.append({"about": need.about, "relation": need.relation, "value": need.value})
    return found


def stored_needs(stored: Iterable[Mapping[str, Any]]) -> tuple[Need, ...]:
    """Turn stored needs into the core's."""
    return tuple(Need(each["about"], each["relation"], each.get("value")) for each in stored)


def packed_need(need: Mapping[str, Any], rows: Iterable[Spec]) -> dict[str, str | None]:
    """A need as a pack writes it: rows by their title."""
    titles = {spec.field: spec.title for spec in rows}
    value = need.get("value")
    return {
        "about": titles.get(need["about"], need["about"]),
        "relation": need["relation"],
        "value": None if value is None else show_spec(value),
    }


def unpacked_need(cells: Mapping[str, Any], rows: Iterable[Spec]) -> dict[str, Any]:
    """A need of a pack, as it would be typed."""
    fields = {spec.title: spec.field for spec in rows}
    return {**cells, "about": fields.get(cells["about"], cells["about"])}


def misses(book: Book, needs: Sequence[Need]) -> tuple[tuple[str, ...], ...]:
    """Why each setup misses needs, in words; empty where it meets all of them."""
    rows = need_rows(book.free_rows)
    known = {spec.field for spec in rows}
    # A row that was taken off the sheet since asks for nothing.
    asked = [n for n in needs if n.about in known or not _is_row(n.about)]
    return tuple(
        tuple(
            f"needs {say_need(need, rows)}: {why}"
            for need in asked
            if (why := miss(need, seen, rows)) is not None
        )
        for seen in seen_of(book)
    )


def _is_row(about: str) -> bool:
    return about not in ("noise_db", "failures", "playback") and ":" not in about


def say_needs(book: Book, needs: Iterable[Need]) -> list[str]:
    """Each need in words."""
    rows = need_rows(book.free_rows)
    known = {spec.field for spec in rows}
    return [
        say_need(n, rows) if n.about in known or not _is_row(n.about) else f"{n.about} (gone)"
        for n in needs
    ]


@derived
def seen_of(book: Book) -> tuple[Seen, ...]:
    """What is known of each setup besides its speed."""
    fields = [spec.field for spec in need_rows(book.free_rows)]
    noise = readings_of(book).noise_db
    failed = book.index.tried.sum(axis=1) - book.index.ok.sum(axis=1)
    playback: dict[Any, list[str]] = {}
    for held in book.noted.playbacks.values():
        playback.setdefault(held.setup_id, []).append(held.quality)
    # The newest of each task (or app without one) and kind counts, and of those the worst.
    newest = {
        (trial.task_id or trial.app, trial.setup_id, trial.kind): trial
        for trial in sorted(book.trials, key=lambda each: each.noted_at)
        if trial.withdrawn_at is None
    }
    trials: dict[Any, dict[str, str]] = {}
    for trial in newest.values():
        own = trials.setdefault(trial.setup_id, {})
        known = own.get(trial.kind)
        own[trial.kind] = trial.grade if known is None else min(known, trial.grade, key=_grade)
    troubles: dict[Any, dict[str, int]] = {}
    for trouble in book.troubles:
        if trouble.withdrawn_at is not None or trouble.fixed_in is not None:
            continue
        times = troubles.setdefault(trouble.setup_id, {})
        times[trouble.kind] = times.get(trouble.kind, 0) + (trouble.times or 1)
    return tuple(
        Seen(
            rows=_rows(book, setup, fields),
            noise_db=noise.get(i),
            failures=(int(failed[i]), int(book.index.tried[i].sum())),
            playback=min(playback[setup.id], key=PLAYBACK.index) if setup.id in playback else None,
            trials=trials.get(setup.id, {}),
            troubles=troubles.get(setup.id, {}),
        )
        for i, setup in enumerate(book.setups)
    )


def _grade(word: str) -> int:
    return GRADES.index(word)


def _rows(book: Book, setup: records.Setup, fields: Iterable[str]) -> dict[str, Any]:
    machine = book.machine_of[setup.id]
    own = ((f, setup.conditions.get(f, spec_value(machine, setup, f))) for f in fields)
    return {field: value for field, value in own if value is not None}
