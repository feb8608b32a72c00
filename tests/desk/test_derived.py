"""What follows from a record is worked out once, kept with it, and reused where it holds."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass, field, replace

from true_margin.core.numerals import Numerals, writing
from true_margin.desk.book.derived import MOST_LANGUAGES, Results, derived

CALLS: list[str] = []


@derived
def total_of(record: Record) -> int:
    """Sum of the rows."""
    CALLS.append("total")
    return sum(record.rows)


@derived
def slow_of(record: Record) -> int:
    """Takes long, as an analysis does."""
    CALLS.append("slow")
    time.sleep(0.05)
    return len(record.rows)


@dataclass(frozen=True)
class Record:
    rows: tuple[int, ...]
    results: Results = field(default_factory=Results, init=False, compare=False)

    @derived
    def doubled(self) -> tuple[int, ...]:
        """Each row twice."""
        CALLS.append("doubled")
        return tuple(2 * row for row in self.rows)

    @derived
    def half_of_total(self) -> float:
        """Rests on another derived value."""
        return total_of(self) / 2


def setup_function() -> None:
    CALLS.clear()


def test_a_function_and_an_attribute_are_worked_out_once() -> None:
    record = Record((1, 2, 3))
    assert [total_of(record) for _ in range(3)] == [6, 6, 6]
    assert [record.doubled for _ in range(3)] == [(2, 4, 6)] * 3
    assert CALLS == ["total", "doubled"]


def test_one_may_rest_on_another() -> None:
    assert Record((1, 2)).half_of_total == 1.5
    assert CALLS == ["total"]


def test_records_are_equal_by_their_rows_whatever_was_worked_out() -> None:
    one, other = Record((1, 2)), Record((1, 2))
    total_of(one)
    assert one == other
    assert total_of.held(one) == 3
    assert total_of.held(other) is None


def test_a_changed_record_begins_with_nothing_and_takes_over_what_holds() -> None:
    before = Record((1, 2))
    assert (total_of(before), before.doubled) == (3, (2, 4))
    after = replace(before)
    assert total_of.held(after) is None
    total_of.reuse(before, after)
    Record.doubled.reuse(before, after)
    assert (total_of(after), after.doubled) == (3, (2, 4))
    assert CALLS == ["total", "doubled"]


def test_what_was_never_worked_out_is_not_taken_over() -> None:
    before, after = Record((1,)), Record((1,))
    total_of.reuse(before, after)
    assert total_of.held(after) is None
    total_of.hold(after, 99)
    assert total_of(after) == 99
    assert CALLS == []


def test_many_who_ask_at_once_wait_for_one() -> None:
    record = Record((1, 2, 3))
    found: list[int] = []
    threads = [threading.Thread(target=lambda: found.append(slow_of(record))) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == [3] * 8
    assert CALLS == ["slow"]


def test_answers_are_kept_by_the_signs_that_they_are_written_with() -> None:
    results = Results()
    made: list[str] = []

    def answer(words: str) -> str:
        def make() -> str:
            made.append(words)
            return words

        return results.cached("what", make)

    assert answer("1.5") == "1.5"
    with writing(Numerals(",", ".")):
        assert answer("1,5") == "1,5"
    assert answer("never made") == "1.5"
    assert made == ["1.5", "1,5"]


def test_signs_without_end_do_not_fill_the_memory() -> None:
    results = Results()
    for number in range(3 * MOST_LANGUAGES):
        with writing(Numerals(chr(0x2460 + number), " ")):
            results.cached("what", lambda: "answer")
    assert len(results.answers) <= MOST_LANGUAGES
