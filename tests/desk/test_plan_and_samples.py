"""What a shootout says before any run: how many are planned, and how alike samples are."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup
from true_margin.desk.margins import pairs
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.picks import viewers
from true_margin.desk.picks.picks import PickView, show_pick
from true_margin.desk.picks.words.answer import SAMPLES_ALIKE
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    """A is a little faster than B; two runs of each."""
    bench = new_bench(database, "Planned")
    for a, b in (("5:00", "5:18"), ("5:02", "5:20")):
        bench.run("A", a)
        bench.run("B", b)
    return bench


def settle(bench: Bench, **changes: object) -> None:
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(bench.database, bench.slug, version, changes)


def pair(bench: Bench) -> pairs.PairView:
    a, b = bench.setups["A"], bench.setups["B"]
    return pairs.show_pair(bench.database, bench.slug, str(bench.tasks["Parade"]), a, b)


def pick(bench: Bench) -> PickView:
    book = SHELF.take(bench.database, bench.slug)
    if not book.viewers:
        for machine, amount in zip(book.machines, ("900", "300"), strict=True):
            fields = {"kind": "list", "amount": amount, "currency": "EUR"}
            dated = {"dated": book.shootout.price_date}
            lineup.add_price(bench.database, machine.id, {**fields, **dated})
        viewers.add_viewer(bench.database, bench.slug, {"name": "Filmer", "rule": "fastest"}, None)
        book = SHELF.take(bench.database, bench.slug)
    return show_pick(book, book.viewers[0])


def test_runs_beyond_the_plan_are_judged_more_strictly_and_said_so(bench: Bench) -> None:
    settle(bench, planned_runs=2)
    as_planned = pair(bench)
    assert not [line for line in as_planned.behind if "after the plan" in line]
    bench.run("A", "5:01")
    topped_up = pair(bench)
    assert "Runs were added after the plan of 2: judged at 99 %" in topped_up.behind
    settle(bench, planned_runs=None)
    free = pair(bench)
    assert not [line for line in free.behind if "after the plan" in line]
    assert free.hi is not None
    assert topped_up.hi is not None
    assert topped_up.hi > free.hi


def test_a_plan_is_a_whole_number_of_runs(bench: Bench) -> None:
    with pytest.raises(RefusedError):
        settle(bench, planned_runs=0)
    with pytest.raises(RefusedError):
        settle(bench, unit_prior_cv=0.9)


def test_two_states_of_one_machine_are_one_sample(bench: Bench) -> None:
    machine = SHELF.take(bench.database, bench.slug).machines[0]
    lineup.add_setup(bench.database, machine.id, {"name": "on battery"})
    book = SHELF.take(bench.database, bench.slug)
    study = analysis_of(book).study
    assert [
        (setup.machine, unit) for setup, unit in zip(book.setups, study.units, strict=True)
    ] == [("A", 0), ("A", 0), ("B", 1)]


def test_samples_that_are_taken_for_alike_are_said_to_be(bench: Bench) -> None:
    assert "assumed (1.5 %)" in (pick(bench).samples or "")
    before = pair(bench)
    settle(bench, unit_prior_cv=0.0)
    assert pick(bench).samples == SAMPLES_ALIKE
    # Margins of the machines on the bench do not move.
    after = pair(bench)
    assert (after.lo, after.hi, after.call) == (before.lo, before.hi, before.call)


def test_a_pack_keeps_the_plan_and_the_samples(bench: Bench, database: Database) -> None:
    settle(bench, planned_runs=3, unit_prior_cv=0.02)
    there = import_zip(database, zip_files(write_pack(export_pack(database, bench.slug))))
    assert (there.planned_runs, there.unit_prior_cv) == (3, 0.02)
