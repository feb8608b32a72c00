"""Contenders of a pick by name: setups, or models where several samples of one were timed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from decimal import Decimal
from uuid import UUID

from true_margin.core.work_speed import WorkSpeeds
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book


def shared_misses(book: Book, missed: Sequence[tuple[str, ...]]) -> tuple[tuple[str, ...], ...]:
    """What each setup misses, and what another sample of its model does: that is bought too."""
    models = analysis_of(book).study.model_of
    several = {model for model, count in Counter(models).items() if count > 1}
    if not several:
        return tuple(missed)
    found: dict[str, list[str]] = {}
    for setup, model, own in zip(book.setups, models, missed, strict=True):
        found.setdefault(model, []).extend(f"{why} ({setup.label})" for why in own)
    return tuple(
        tuple(found[model]) if model in several else own
        for model, own in zip(models, missed, strict=True)
    )


def contender_name(book: Book, speeds: WorkSpeeds, place: int) -> str:
    """Name of a contender: its setup's, or its model's where several samples were timed."""
    own = speeds.of(place)
    return analysis_of(book).study.model_of[own[0]] if len(own) > 1 else book.setups[own[0]].label


def tried_prices(book: Book, what_if: Mapping[UUID, Decimal] | None) -> Mapping[UUID, Decimal]:
    """Prices to try by machine; what is tried for one sample holds for all of its model."""
    tried = dict(what_if or {})
    names = {machine.id: machine.model or machine.name for machine in book.machines}
    models = {names[key]: price for key, price in tried.items() if key in names}
    return {key: models[name] for key, name in names.items() if name in models} | tried
