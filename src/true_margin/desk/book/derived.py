"""What follows from the rows of a book, worked out once and kept with it.

A function over a book that is marked as ``derived`` is memoised in the book's ``results``.
It stands in the module that it belongs to, so that the book rests on nothing but its rows.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from threading import RLock
from typing import Any, Generic, Protocol, Self, TypeVar, overload

from true_margin.core.numerals import Numerals, numerals

Value = TypeVar("Value")
MOST_LANGUAGES = 8
"""Answers of a book are kept in so many ways of writing at once."""


class Results:
    """What was worked out of one book so far.

    Two books are equal by their rows; what was worked out of them takes no part in that.
    """

    def __init__(self) -> None:
        self.derived: dict[object, Any] = {}
        self.answers: dict[Numerals, dict[Hashable, Any]] = {}
        # One result may ask for another.
        self.lock = RLock()

    def cached(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """Give the answer to a question as its reader writes numbers, worked out once.

        Where many ask the same at once, one works it out and the others wait for it.
        """
        known = self._answers_now()
        if key not in known:
            with self.lock:
                if key not in known:
                    known[key] = compute()
        value: Value = known[key]
        return value

    def _answers_now(self) -> dict[Hashable, Any]:
        signs = numerals()
        if signs not in self.answers and len(self.answers) >= MOST_LANGUAGES:
            self.answers.clear()
        return self.answers.setdefault(signs, {})


class HasResults(Protocol):
    """A record of rows that keeps what follows from them."""

    @property
    def results(self) -> Results:
        """What was worked out so far."""


Record = TypeVar("Record", bound=HasResults)


class Derived(Generic[Record, Value]):
    """A function of a record, memoised with the record; in a class, an attribute of it.

    ``held`` and ``hold`` let an updated record reuse what still holds of the one before.
    """

    def __init__(self, compute: Callable[[Record], Value]) -> None:
        self._compute = compute
        self.__doc__ = compute.__doc__

    def __call__(self, record: Record) -> Value:
        results = record.results
        if self not in results.derived:
            with results.lock:
                if self not in results.derived:
                    results.derived[self] = self._compute(record)
        value: Value = results.derived[self]
        return value

    @overload
    def __get__(self, record: None, owner: type[Record]) -> Self: ...
    @overload
    def __get__(self, record: Record, owner: type[Record]) -> Value: ...
    def __get__(self, record: Record | None, owner: type[Record]) -> Self | Value:
        return self if record is None else self(record)

    def held(self, record: Record) -> Value | None:
        """Give the value if it was worked out of this record already."""
        value: Value | None = record.results.derived.get(self)
        return value

    def hold(self, record: Record, value: Value) -> None:
        """Keep a value that is known to be what would be worked out of this record."""
        record.results.derived[self] = value

    def reuse(self, before: Record, record: Record) -> None:
        """Keep the value of an earlier record, if it has one, where the rows behind it stay."""
        value = self.held(before)
        if value is not None:
            self.hold(record, value)


def derived(compute: Callable[[Record], Value]) -> Derived[Record, Value]:
    """Mark a function of a record as one whose value is kept with the record."""
    return Derived(compute)
