"""A line that says what became of a try in place of a time: failed, or not tried."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.runs import entry
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "States")
    for typed in ("6:17", "6:20"):
        bench.run("A", typed)
    return bench


def read(bench: Bench, value: str) -> entry.EntryReading:
    return entry.read_line(bench.database, bench.slug, f"A / Parade / {value}")


@pytest.mark.parametrize(
    ("value", "reason"),
    [
        ("DNF", "did not finish"),
        ("dnf, out of disk", "out of disk"),
        ("crashed at 40 %", "crashed at 40 %"),
        ("froze", "froze"),
        ("out of memory", "out of memory"),
        ("failed: no disk", "no disk"),
    ],
)
def test_a_failure_is_ready_to_be_stored_with_its_reason(
    bench: Bench, value: str, reason: str
) -> None:
    found = read(bench, value)
    assert (found.status, found.reason, found.typed) == ("failed", reason, "")
    assert (found.ready, found.problem) == (True, None)


@pytest.mark.parametrize("value", ["n/a", "N/A", "–", "-", "not tried", "untested"])
def test_what_was_not_tried_is_no_run(bench: Bench, value: str) -> None:
    found = read(bench, value)
    assert (found.ready, found.problem) == (False, entry.NOT_TRIED)
    assert found.status == "ok"


@pytest.mark.parametrize("value", ["6:17 froze", "nothing much", "n/b"])
def test_what_is_neither_is_said_to_be_no_time(bench: Bench, value: str) -> None:
    found = read(bench, value)
    assert not found.ready
    assert found.problem is not None
