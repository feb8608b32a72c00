"""Under which conditions each setup was tested, and which pairs were tested alike."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cached_property
from itertools import combinations
from typing import Any
from uuid import UUID

import numpy as np

from true_margin.core.choices import JudgedAs
from true_margin.core.numerals import PLAIN, writing
from true_margin.core.parity import (
    Condition,
    ConditionDifference,
    Facts,
    Subject,
    Weight,
    add_sensitivities,
    compare_parity,
    judged_apart,
    worst_weight,
)
from true_margin.core.readings import ReadingMethod
from true_margin.core.spec_rows import CONDITION_OF, SPECS, STATES, TITLES
from true_margin.core.specs import show_spec
from true_margin.core.study import FlagArray
from true_margin.core.task_rows import SETTINGS
from true_margin.desk.book.book import Book
from true_margin.desk.book.derived import derived
from true_margin.desk.book.noted import output_parts, output_words
from true_margin.store import records

MAY_BREAK = (
    Condition.ENCODER,
    Condition.TIMELINE,
    Condition.SETTINGS,
    Condition.OUTPUT,
    Condition.WORK,
)
_BY_HAND = {"stopwatch", "one press"}


class Parity:
    """Parity of every pair on every task of a book, worked out when it is asked for."""

    def __init__(self, book: Book) -> None:
        self._book = book
        self._subject = Subject(book.shootout.subject)
        self._on_trial = frozenset(
            _titles(book)[field] for field in book.shootout.trial_rows if field in _titles(book)
        )

    @cached_property
    def facts(self) -> dict[tuple[int, int], Facts]:
        """Conditions of each attempted (setup, task), by index."""
        return conditions_of(self._book)

    @cached_property
    def overruled(self) -> dict[tuple[int, frozenset[int]], records.Overrule]:
        """Standing overrules by task and pair."""
        book = self._book
        return {
            (
                book.task_index[each.task_id],
                frozenset((book.setup_index[each.setup_a_id], book.setup_index[each.setup_b_id])),
            ): each
            for each in book.overrules
            if each.withdrawn_at is None
        }

    def between(
        self, task: int, a: int, b: int, only: Iterable[Condition] = Condition
    ) -> tuple[ConditionDifference, ...]:
        """Differences between two setups on a task; none where one was not attempted."""
        one, other = self.facts.get((a, task)), self.facts.get((b, task))
        if one is None or other is None:
            return ()
        known = compare_parity(one, other, self._subject, on_trial=self._on_trial, only=only)
        moved_by = self._book.tasks[task].sensitivities
        if moved_by and Condition.SENSITIVE in only:
            known = add_sensitivities(known, one, other, moved_by)
        word = self.judged(task, a, b) if Condition.WORK in only else None
        if word is None:
            return known
        said = judged_apart(word.judged_as == JudgedAs.NEARLY, word.reason or "")
        return (said, *known) if said.weight is Weight.BREAKS else (*known, said)

    def judged(self, task: int, a: int, b: int) -> records.Judgement | None:
        """A person's word on what two setups did in a task; None for none."""
        book = self._book
        if not book.doubted_pairs:
            return None
        pair = frozenset((book.setups[a].id, book.setups[b].id))
        return book.doubted_pairs.get((book.tasks[task].id, pair))

    def breaks(self, task: int, a: int, b: int) -> bool:
        """Say whether a pair was not given the same job, overrules apart."""
        return worst_weight(self.between(task, a, b, MAY_BREAK)) is Weight.BREAKS

    @cached_property
    def broken(self) -> FlagArray | None:
        """Broken pairs that nobody overruled, shape (tasks, setups, setups); None for none."""
        k, tasks = len(self._book.setups), len(self._book.tasks)
        found = np.zeros((tasks, k, k), dtype=bool)
        for t in range(tasks):
            there = [s for s in range(k) if (s, t) in self.facts]
            if not self._may_break(t, there):
                continue
            for a, b in combinations(there, 2):
                if (t, frozenset((a, b))) not in self.overruled and self.breaks(t, a, b):
                    found[t, a, b] = found[t, b, a] = True
        return found if found.any() else None

    def _may_break(self, task: int, setups: Iterable[int]) -> bool:
        """Most tasks were the same job everywhere; then no pair needs a look."""
        if any(self._book.tasks[task].id == key for key, _ in self._book.doubted_pairs):
            return True
        values = [self.facts[s, task].values for s in setups]
        return any(len({str(v[c]) for v in values if c in v}) > 1 for c in MAY_BREAK)


def _titles(book: Book) -> dict[str, str]:
    """Titles of all rows by field, those of the reviewer's own as well."""
    return {**TITLES, **{str(row.id): row.title for row in book.free_rows}}


@derived
def parity_of(book: Book) -> Parity:
    """Which pairs were tested alike, on which task."""
    return Parity(book)


def spec_value(machine: records.Machine, setup: records.Setup, field: str) -> Any:
    """What a setup has in a row: its own value, else its machine's; None for nothing."""
    own = setup.specs.get(field)
    return own if own is not None else machine.specs.get(field)


@writing(PLAIN)  # kept with the book, and held against each other
def conditions_of(book: Book) -> dict[tuple[int, int], Facts]:
    """Gather what is known of each attempted (setup, task)."""
    methods = {
        key: {
            "by hand" if method.value in _BY_HAND else f"by {method.value}"
            for method in own
            if method is not ReadingMethod.STATED
        }
        for key, own in book.index.methods.items()
    }
    files = {(f.timeline_id, f.setup_id): f.fingerprint for f in book.timeline_files}
    own = [_own_conditions(book, setup) for setup in book.setups]
    about = [_about(book, setup, own) for setup in book.setups]
    return {
        (s, t): Facts(
            {**own[s], **_on_task(book, s, t, timed, files)},
            about=about[s],
            only_system=bool(book.setups[s].conditions.get("only_system")),
            encoders=_encoders(book.setups[s]),
        )
        for (s, t), timed in methods.items()
    }


def _own_conditions(book: Book, setup: records.Setup) -> dict[Condition, dict[str, str]]:
    """What the rows of the spec sheet say of a setup, by condition and by row."""
    machine = book.machine_of[setup.id]
    found: dict[Condition, dict[str, str]] = {}
    for spec in (*SPECS, *STATES):
        condition = CONDITION_OF.get(spec.field)
        if condition is None:
            continue
        state = setup.conditions.get(spec.field)
        value = state if spec in STATES else spec_value(machine, setup, spec.field)
        if value is not None:
            unit = f" {spec.unit}" if spec.unit and condition is not Condition.ROOM else ""
            found.setdefault(condition, {})[spec.title] = f"{show_spec(value)}{unit}"
    for row in book.free_rows:
        value = spec_value(machine, setup, str(row.id))
        if value is not None:
            unit = f" {row.unit}" if row.unit else ""
            found.setdefault(Condition.OWN, {})[row.title] = f"{show_spec(value)}{unit}"
    return found


def _encoders(setup: records.Setup) -> frozenset[str]:
    paths = str(setup.conditions.get("encoder", "")).split(",")
    return frozenset(path.strip() for path in paths) - {""}


def _about(
    book: Book, setup: records.Setup, conditions: list[dict[Condition, dict[str, str]]]
) -> frozenset[Condition]:
    """Conditions in which a machine's setups differ: that is what they were made for."""
    siblings = [conditions[book.setup_index[s.id]] for s in book.machine_of[setup.id].setups]
    return frozenset(
        c for c in Condition if len({frozenset(s[c].items()) for s in siblings if c in s}) > 1
    )


def _on_task(
    book: Book, setup: int, task: int, timed: set[str], files: dict[tuple[UUID, UUID | None], str]
) -> dict[Condition, str | dict[str, str]]:
    facts, tested = book.tasks[task], book.setups[setup]
    found: dict[Condition, str | dict[str, str]] = {}
    if timed:
        found[Condition.TIMING] = " and ".join(sorted(timed))
    if facts.timeline_id is not None and (facts.timeline_id, tested.id) in files:
        found[Condition.TIMELINE] = f"edit {files[facts.timeline_id, tested.id][:10]}"
    used = book.noted.settings.get((facts.id, tested.id))
    if used is not None:
        # A field that is empty on one side is a difference too.
        found[Condition.SETTINGS] = {
            spec.title: show_spec(used.settings.get(spec.field)) or "not set" for spec in SETTINGS
        }
    words = output_words(
        output_parts(book.noted, facts, tested.id), book.noted.looks.get((facts.id, tested.id))
    )
    if words:
        found[Condition.OUTPUT] = words
    return found
