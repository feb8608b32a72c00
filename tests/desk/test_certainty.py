"""Certainty is earned: over shootouts with holes no sentence says more than there is data for."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, fields, is_dataclass
from decimal import Decimal
from random import Random
from typing import Any

import pytest

from tests.desk.helpers import PRICED, Bench, new_bench
from true_margin.core.choices import RuleName
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.picks import viewers
from true_margin.desk.picks.picks import PickView
from true_margin.desk.publish.give_texts import texts_of
from true_margin.store.database import Database

MACHINES = ("Alder", "Birch", "Cedar", "Douglas")
TASKS = ("Parade", "Stills")
SEEDS = range(24)


@dataclass
class Holey:
    """A shootout in which much is missing, and what is there."""

    bench: Bench
    book: Book
    priced: set[str]
    timed: dict[str, set[str]]
    """Machines with runs that count, by task."""
    wanted: set[str]
    """Tasks of the viewer's week."""


def holey(database: Database, seed: int) -> Holey:
    """A shootout of one to four machines: each with or without a price, with or without runs."""
    rng = Random(seed)
    bench = new_bench(database, f"With holes {seed}")
    for name in MACHINES:
        bench.machine(name)
    bench.task("Stills", work=100.0, unit="pictures")
    ids = {m.name: m.id for m in SHELF.take(database, bench.slug).machines}
    priced, timed = set(), {task: set[str]() for task in TASKS}
    for place, name in enumerate(MACHINES):
        if rng.random() < 0.5:
            priced.add(name)
            price = {"amount": str(400 + 300 * place), "currency": "EUR", "kind": "street"}
            lineup.add_price(database, ids[name], {**price, "dated": PRICED})
        for task in TASKS:
            for run in range(rng.choice((0, 0, 1, 3))):
                seconds = 600 - 90 * place + 2 * run
                bench.run(name, f"{seconds // 60}:{seconds % 60:02d}", task, method="log")
                timed[task].add(name)
    wanted = set(rng.sample(TASKS, rng.choice((1, 2))))
    weekly = [
        {
            "task_id": bench.tasks[task],
            "weight": 1.0,
            "amount": 500.0,
            "by_run": False,
            "accepted_s": None,
        }
        for task in sorted(wanted)
    ]
    for rule in RuleName:
        asked = {
            "name": f"By {rule}",
            "weekly": True,
            "rule": rule,
            "currency": "EUR",
            "owned_setup_id": bench.setups[rng.choice(MACHINES)] if rng.random() < 0.5 else None,
            "hour_value": Decimal(20),
            "tasks": weekly,
        }
        viewers.add_viewer(database, bench.slug, asked, None)
    return Holey(bench, SHELF.take(database, bench.slug), priced, timed, wanted)


def sentences(value: object) -> Iterator[str]:
    """Every text in an answer, however deep it lies."""
    if isinstance(value, str):
        yield value
    elif is_dataclass(value):
        for each in fields(value):
            yield from sentences(getattr(value, each.name))
    elif isinstance(value, tuple | list):
        for each in value:
            yield from sentences(each)
    elif isinstance(value, dict):
        for each in value.values():
            yield from sentences(each)


def answers(holes: Holey) -> Iterator[tuple[Any, PickView]]:
    """What Picks says to each viewer."""
    for viewer in holes.book.viewers:
        yield viewer, viewers.answer(holes.book, viewer)


@pytest.fixture(scope="module", params=SEEDS)
def holes(database: Database, request: pytest.FixtureRequest) -> Holey:
    return holey(database, request.param)


def test_nobody_is_picked_without_runs_on_the_work(holes: Holey) -> None:
    known = set.intersection(*(holes.timed[task] for task in holes.wanted))
    for viewer, view in answers(holes):
        if view.picked is None:
            assert view.problem is not None, "it says why"
            assert view.problem.words
            continue
        assert view.picked.label in known, viewer.name
        named = {row.label for row in view.rows}
        assert named <= known, "a row is of what has runs"


def test_a_pick_by_money_has_a_price(holes: Holey) -> None:
    for viewer, view in answers(holes):
        if view.picked is not None and viewer.rule in (RuleName.VALUE, RuleName.WORTH):
            assert view.picked.keep or view.picked.label in holes.priced, viewer.name


def test_nobody_wins_at_any_price_without_prices(holes: Holey) -> None:
    for viewer, view in answers(holes):
        owned = {name for name, key in holes.bench.setups.items() if key == viewer.owned_setup_id}
        if len(holes.priced - owned) < 2:
            said = [text for text in sentences(view) if "any price" in text]
            # By speed alone, a price makes nobody the pick, and that is true of any.
            assert [text for text in said if not text.startswith("not the pick")] == [], viewer.name


def test_sameness_is_certified_by_nobody_who_did_not_look(holes: Holey) -> None:
    texts = [*sentences(texts_of(holes.book))]
    for _, view in answers(holes):
        texts += sentences(view)
    certified = re.compile(r"(?<!not the )(?<!not do the )same job", re.IGNORECASE)
    assert [text for text in texts if certified.search(text)] == []


def test_a_text_names_nobody_as_fast_who_was_not_timed(holes: Holey) -> None:
    timed = set.union(*holes.timed.values())
    fast = re.compile(r"fast|slower|leads?\b|wins?\b", re.IGNORECASE)
    for text in sentences(texts_of(holes.book)):
        for line in text.splitlines():
            for name in set(MACHINES) - timed:
                assert not (re.search(rf"\b{name}\b", line) and fast.search(line)), line
