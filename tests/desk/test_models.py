"""Several samples of one model: what a shop sells is picked, by the mean of its samples."""

from __future__ import annotations

import math
from decimal import Decimal
from typing import Any

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.margins import pairs
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.picks import turns, viewers
from true_margin.desk.picks.picks import PickView, show_pick
from true_margin.desk.publish import cards, script
from true_margin.desk.publish.give_texts import pick_lines
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    """A (10 min, 300), and two samples of the model Halyard: B (5:00, 900), B2 (5:10, 950)."""
    bench = new_bench(database, "Samples")
    bench.machine("B2")
    for setup, times in {"A": "10:00", "B": "5:00", "B2": "5:10"}.items():
        for repeat in range(3):
            bench.run(setup, f"{times}.{repeat}")
    for name, amount in (("A", "300"), ("B", "900"), ("B2", "950")):
        price(bench, name, amount)
    sample_of(bench, "B", "Halyard")
    sample_of(bench, "B2", "halyard")
    return bench


def machine(bench: Bench, name: str) -> records.Machine:
    book = SHELF.take(bench.database, bench.slug)
    return next(each for each in book.machines if each.name == name)


def sample_of(bench: Bench, name: str, model: str | None) -> None:
    own = machine(bench, name)
    lineup.change_machine(bench.database, own.id, own.version, {"model": model})


def price(bench: Bench, name: str, amount: str) -> None:
    book = SHELF.take(bench.database, bench.slug)
    fields = {"kind": "list", "amount": amount, "currency": "EUR"}
    own = {**fields, "dated": book.shootout.price_date}
    lineup.add_price(bench.database, machine(bench, name).id, own)


def pick(bench: Bench, **asked: Any) -> PickView:
    viewer = viewers.add_viewer(bench.database, bench.slug, {"name": "Filmer", **asked}, None)
    return viewers.show_viewer(bench.database, bench.slug, viewer.id)


def test_a_model_is_one_contender_at_the_mean_speed_and_the_least_price(bench: Bench) -> None:
    view = pick(bench, rule="fastest")
    assert [row.label for row in view.rows] == ["Halyard", "A"]
    model = view.rows[0]
    assert model.samples == ("B", "B2")
    assert model.price.amount == Decimal(900)
    ladder = analysis_of(SHELF.take(bench.database, bench.slug)).compare(None).rungs
    logs = {rung.setup: rung.log_speed for rung in ladder}
    mean = (logs[1] + logs[2]) / 2 - logs[0]
    assert model.ratio == pytest.approx(math.exp(mean), rel=1e-9)
    assert view.picked is not None
    assert view.picked.label == "Halyard"
    assert "Halyard, 900 EUR" in view.picked.sentence


def test_samples_are_told_from_one_another_on_the_ladder(bench: Bench) -> None:
    rungs = analysis_of(SHELF.take(bench.database, bench.slug)).compare(None).rungs
    assert len(rungs) == 3


def test_two_samples_tell_how_much_samples_differ(bench: Bench) -> None:
    note = pick(bench, rule="fastest").samples or ""
    assert "partly measured" in note
    assert "Halyard to A" in note


def test_who_owns_one_sample_keeps_the_model(bench: Bench) -> None:
    view = pick(bench, rule="fastest", owned_setup_id=bench.setups["B2"], resale=Decimal(400))
    model = view.rows[0]
    assert model.keep
    assert model.samples == ("B", "B2")
    assert view.picked is not None
    assert view.picked.what == "Keep the Halyard"


def test_a_price_that_is_tried_is_that_of_the_model(bench: Bench) -> None:
    pick(bench, rule="fastest")
    book = SHELF.take(bench.database, bench.slug)
    view = show_pick(book, book.viewers[0], {machine(bench, "B").id: Decimal(2000)})
    assert view.rows[0].price.amount == Decimal(2000)


def test_what_one_sample_misses_the_model_misses(bench: Bench) -> None:
    own = machine(bench, "B2")
    lineup.change_machine(bench.database, own.id, own.version, {"specs": {"memory_gb": "16"}})
    other = machine(bench, "B")
    lineup.change_machine(bench.database, other.id, other.version, {"specs": {"memory_gb": "32"}})
    view = pick(
        bench, rule="fastest", needs=[{"about": "memory_gb", "relation": "at least", "value": "32"}]
    )
    model = view.rows[0]
    assert not model.open
    assert model.why is not None
    assert "(B2)" in model.why


def test_what_would_change_the_pick_names_the_model(bench: Bench) -> None:
    parade = {"task_id": bench.tasks["Parade"], "weight": 1.0, "amount": 0.0, "by_run": False}
    asked = {"currency": "EUR", "rule": "fastest", "budget": Decimal(1000)}
    asked["tasks"] = [{**parade, "accepted_s": None}]
    levers = turns.show_turns(bench.database, bench.slug, asked, {})
    budget = next(lever for lever in levers if lever.field == "budget")
    assert budget.below is not None
    assert budget.below.pick == "A"
    levers = turns.show_turns(bench.database, bench.slug, {**asked, "budget": Decimal(500)}, {})
    budget = next(lever for lever in levers if lever.field == "budget")
    assert budget.above is not None
    assert budget.above.pick == "Halyard"


def test_a_model_travels_with_its_pack(bench: Bench) -> None:
    pack = export_pack(bench.database, bench.slug)
    there = import_zip(bench.database, zip_files(write_pack(pack)))
    machines = SHELF.take(bench.database, there.slug).machines
    assert {m.name: m.model for m in machines} == {"A": None, "B": "Halyard", "B2": "Halyard"}


def test_a_machine_can_stand_for_itself_again(bench: Bench) -> None:
    sample_of(bench, "B2", None)
    assert [row.label for row in pick(bench, rule="fastest").rows] == ["B", "B2", "A"]


def test_one_run_of_an_own_sample_is_promised_with_its_interval(bench: Bench) -> None:
    view = pick(bench, rule="fastest")
    (run,) = view.predicted
    assert run.lo < run.seconds < run.hi
    assert run.words == (
        f"On a Halyard of your own, one run of Parade takes {run.span}, nineteen times in twenty."
    )


def test_a_script_is_judged_for_the_machines_and_for_the_models(bench: Bench) -> None:
    (line,) = script.check_script(
        bench.database, bench.slug, "B is faster than B2 on Parade."
    ).claims
    assert line.models is None
    (line,) = script.check_script(
        bench.database, bench.slug, "B is twice as fast as A on Parade."
    ).claims
    assert line.verdict == "holds"
    assert line.models is not None
    assert (line.models.verdict, line.models.same) == ("likely", False)
    assert line.models.say is not None
    assert line.models.say.startswith("Halyard is over 1.")


def test_a_model_in_a_script_rests_on_the_runs_of_all_its_samples(bench: Bench) -> None:
    (line,) = script.check_script(
        bench.database, bench.slug, "Halyard is faster than A on Parade."
    ).claims
    assert line.verdict == "holds"
    assert line.behind[:2] == ("Halyard: 2 samples, 6 runs", "A: 3 runs")


def test_a_text_that_recommends_says_what_is_known_of_samples(bench: Bench) -> None:
    pick(bench, rule="fastest")
    book = SHELF.take(bench.database, bench.slug)
    lines = list(pick_lines(book))
    assert lines[0].startswith("Filmer: Buy the Halyard, 900 EUR.")
    assert lines[-1].startswith("How much samples of a model differ is partly measured")


def test_an_accepted_time_is_promised_with_its_interval(bench: Bench) -> None:
    parade = {"task_id": bench.tasks["Parade"], "weight": 1.0, "amount": 0.0, "by_run": False}
    asked = {"rule": "enough", "tasks": [{**parade, "accepted_s": 400.0}]}
    view = pick(bench, **asked)
    (run,) = view.predicted
    assert run.accepted
    book = SHELF.take(bench.database, bench.slug)
    assert f"Filmer: {run.words}" in list(pick_lines(book))
    card = cards.add_card(
        bench.database, bench.slug, {"kind": "pick", "viewer_id": book.viewers[0].id}
    )
    promised = f"one run of Parade on a sample of its own: {run.span}, nineteen times in twenty"
    assert promised in card.notes
    assert "few samples of each model timed; how much samples differ is partly measured" in (
        card.notes
    )


def test_the_working_of_a_pair_has_the_samples_in_it(bench: Bench) -> None:
    a, b = bench.setups["A"], bench.setups["B"]
    shown = pairs.show_pair(bench.database, bench.slug, str(bench.tasks["Parade"]), b, a)
    line = next(each for each in shown.formula if each.startswith("Of the models"))
    # One sample of A, two of Halyard: 1 + 1/2.
    assert line.startswith("Of the models, 1.50 σ² more")


def test_a_model_spelt_otherwise_is_the_same_model(bench: Bench) -> None:
    assert {machine(bench, name).model for name in ("B", "B2")} == {"Halyard"}
    sample_of(bench, "A", "b")
    assert machine(bench, "A").model == "B"
