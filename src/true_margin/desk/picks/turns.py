"""What would change a pick: levers with the values at which it turns, in words and to try."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from true_margin.core.margins import time_saved
from true_margin.core.numerals import short
from true_margin.core.sensitivity import Lever, Turn, find_turns
from true_margin.core.wording import count_of, format_elapsed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.picks.solve import Prices, market_of, solve
from true_margin.desk.picks.viewers import checked_prices, find_viewer, tried
from true_margin.desk.picks.words.money import say_round, years_of
from true_margin.store.database import Database
from true_margin.store.records.viewers import Viewer


@dataclass(frozen=True, slots=True)
class TurnView:
    """A value from which on another setup is picked; ``value`` in the unit of the field."""

    value: float
    words: str
    pick: str


@dataclass(frozen=True, slots=True)
class LeverView:
    """One thing that may move; ``field`` is the viewer's, ``task_id`` where it is of a task."""

    field: str
    task_id: UUID | None
    title: str
    now: str
    below: TurnView | None
    above: TurnView | None


@dataclass(frozen=True, slots=True)
class TaskSaved:
    """Time that a setup saves over the owned one on one run of a task."""

    task_id: UUID
    task: str
    owned: str
    own: str
    saved_s: float
    lo: float
    hi: float


def show_turns(
    database: Database, slug: str, asked: Mapping[str, Any], prices: Prices
) -> tuple[LeverView, ...]:
    """What would change the pick of a viewer as asked for."""
    book = SHELF.take(database, slug)
    viewer = tried(book, asked)
    solved = solve(book, viewer, checked_prices(book, viewer.currency, prices))
    if solved.contest is None or solved.decision is None or solved.decision.pick is None:
        return ()
    market = market_of(book, viewer, solved.prices, solved.missed)
    pick = int(solved.contest.setups[solved.decision.pick])
    levers = find_turns(
        analysis_of(book), solved.contest.viewer, market, solved.contest.speeds, pick
    )
    return tuple(_lever(book, viewer, lever) for lever in levers)


_FIELDS = {
    "hour": ("hour_value", "What an hour is worth"),
    "attended": ("attended", "Share of the waiting that is lost time"),
    "weeks": ("weeks", "Working weeks a year"),
    "horizon": ("horizon_years", "Horizon"),
    "usage": ("usage", "All of the weekly work"),
    "budget": ("budget", "Budget"),
}


def _lever(book: Book, viewer: Viewer, lever: Lever) -> LeverView:
    if lever.task is not None:
        task = book.tasks[lever.task]
        field = (
            "accepted_s" if lever.name == "accepted" else "amount" if viewer.weekly else "weight"
        )
        title = {"accepted_s": f"Accepted time, {task.name}"}.get(field, task.name)
        task_id: UUID | None = task.id
    else:
        field, title = _FIELDS[lever.name]
        task_id = None

    def turn(turning: Turn | None) -> TurnView | None:
        if turning is None:
            return None
        value = _own_unit(book, viewer, lever, field, turning.value)
        words = _words(book, viewer, lever, field, turning.value)
        return TurnView(value, words, _picked(book, viewer, turning.pick))

    now = _words(book, viewer, lever, field, lever.value)
    return LeverView(field, task_id, title, now, turn(lever.below), turn(lever.above))


def _picked(book: Book, viewer: Viewer, setup: int | None) -> str:
    """What is picked beyond a turn; a setup that stands for a model goes by the model's name."""
    if setup is None:
        return "nothing"
    models = analysis_of(book).study.model_of
    samples = [at for at, model in enumerate(models) if model == models[setup]]
    name = models[setup] if len(samples) > 1 else book.setups[setup].label
    keeps = any(book.setups[at].id == viewer.owned_setup_id for at in samples)
    return f"keep {name}" if keeps and viewer.rule != "value" else name


def _own_unit(book: Book, viewer: Viewer, lever: Lever, field: str, value: float) -> float:
    """A lever's value as the viewer's field holds it."""
    if field == "amount" and lever.task is not None and _by_run(book, viewer, lever.task):
        return value / (book.tasks[lever.task].work or 1.0)
    return value


def _by_run(book: Book, viewer: Viewer, task: int) -> bool:
    return any(p.by_run for p in viewer.tasks if p.task_id == book.tasks[task].id)


def _words(book: Book, viewer: Viewer, lever: Lever, field: str, value: float) -> str:
    if field in ("hour_value", "budget"):
        if field == "hour_value" and value < 100:
            return f"{short(value, 3)} {viewer.currency}"
        return say_round(value, viewer.currency)
    if field == "attended":
        return f"{100 * value:.0f} %"
    if field == "horizon_years":
        return years_of(float(f"{value:.2g}"))
    if field == "weeks":
        return count_of(round(value), "week")
    if field == "usage":
        return f"{short(value, 2)} times" if value != 1 else "as it is"
    if field == "accepted_s":
        return format_elapsed(value)
    return _work_words(book, viewer, lever, field, value)


def _work_words(book: Book, viewer: Viewer, lever: Lever, field: str, value: float) -> str:
    assert lever.task is not None
    if field == "weight":
        total = sum(p.weight for p in viewer.tasks if p.task_id in book.task_index)
        own = next(p.weight for p in viewer.tasks if p.task_id == book.tasks[lever.task].id)
        share = value / (total - own + value) if total - own + value > 0 else 1.0
        return f"{100 * share:.0f} % of the mix"
    task = book.tasks[lever.task]
    if _by_run(book, viewer, lever.task) or task.work is None:
        times = _plain(value / (task.work or 1.0))
        return "once a week" if times == "1" else f"{times} times a week"
    if task.unit in ("s", None):
        return f"{_plain(value / 60)} min a week"
    return f"{_plain(value)} {task.unit} a week"


def _plain(value: float) -> str:
    return short(value, 3) if value < 1000 else f"{value:.0f}"


def show_saved(
    database: Database, slug: str, viewer_id: UUID, setup_id: UUID
) -> tuple[TaskSaved, ...]:
    """Time that a setup saves a viewer over the owned one, task by task."""
    book = SHELF.take(database, slug)
    viewer = find_viewer(book, viewer_id)
    setup = book.setup_index.get(setup_id)
    owned = book.setup_index.get(viewer.owned_setup_id) if viewer.owned_setup_id else None
    if setup is None or owned is None:
        raise RefusedError("setup_id", "This viewer owns no setup to compare with.")
    found = []
    for at, task in enumerate(book.tasks):
        if task.measure != "time" or task.superseded:
            continue
        pairs = analysis_of(book).compare(at).pairs
        places = pairs.contrasts.setups.tolist()
        if setup not in places or owned not in places or setup == owned:
            continue
        i, j = places.index(setup), places.index(owned)
        if not pairs.comparable[i, j]:
            continue
        saved = time_saved(pairs.contrasts, i, j, book.shootout.confidence)
        theta = analysis_of(book).fit.theta[:, at]
        found.append(
            TaskSaved(
                task.id,
                task.name,
                _time(theta[owned]),
                _time(theta[setup]),
                saved.seconds,
                saved.lo,
                saved.hi,
            )
        )
    return tuple(found)


def _time(theta: float) -> str:
    return format_elapsed(math.exp(-float(theta)))
