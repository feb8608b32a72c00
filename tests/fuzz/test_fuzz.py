"""Damaged input is read or refused with a reason, and soon; nothing else ever happens.

A few cases of each kind by default; ``make soak`` runs 100 000 of each. A case that fails
is named by its number and made again by ``damaged``.
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable

import pytest

from tests.desk.helpers import new_bench
from tests.fuzz.mutate import damaged
from tests.fuzz.targets import REFUSALS, Target, claims, packs, probes, tables, timelines, times
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish import cards
from true_margin.exchange.data_pack import write_pack
from true_margin.store.database import Database

CASES = int(os.environ.get("TRUE_MARGIN_FUZZ_CASES", "600"))
FIRST = int(os.environ.get("TRUE_MARGIN_FUZZ_FIRST", "0"))
MOST_S = 1.0
MAKERS: dict[str, Callable[[], Target]] = {
    "times": times,
    "tables": tables,
    "timelines": timelines,
    "probes": probes,
    "claims": claims,
}


def try_all(target: Target) -> None:
    """Read every case; processor time is taken, since other work may stand beside."""
    for each in target.good:
        target.read(each)
    for case in range(FIRST, FIRST + CASES):
        good = target.good[case % len(target.good)]
        content = damaged(good, target.good, case)
        began = time.process_time()
        try:
            target.read(content)
        except REFUSALS as refusal:
            assert str(refusal), f"case {case} is refused without a reason"
        except Exception as error:
            raise AssertionError(f"case {case}: {content[:300]!r}") from error
        took = time.process_time() - began
        assert took < MOST_S, f"case {case} took {took:.2f} s: {content[:300]!r}"


@pytest.mark.timeout(6 * 3600)
@pytest.mark.parametrize("name", sorted(MAKERS))
def test_damaged_input_is_read_or_refused(name: str) -> None:
    try_all(MAKERS[name]())


@pytest.mark.timeout(6 * 3600)
def test_damaged_packs_are_read_or_refused(database: Database) -> None:
    bench = new_bench(database, "A small pack")
    bench.run("A", "6:17")
    bench.run("B", None, status="failed", reason="out of disk")
    cards.add_card(database, bench.slug, {"kind": "bar", "task_id": bench.tasks["Parade"]})
    try_all(packs(write_pack(export_pack(database, bench.slug))))


def test_the_same_number_makes_the_same_case() -> None:
    good = (b"6:17", b"A,B\n1,2\n")
    assert damaged(good[1], good, 7) == damaged(good[1], good, 7)
    assert len({damaged(good[1], good, n) for n in range(50)}) > 40
