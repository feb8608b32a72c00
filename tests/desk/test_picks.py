"""Viewers and picks through the desk: words, prices of a region, what is owned, bad input."""

from __future__ import annotations

import math
import re
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any
from uuid import UUID, uuid4

import numpy as np
import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.core.analysis import analyse
from true_margin.core.wording import say_chance
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, StaleError
from true_margin.desk.lineup import lineup
from true_margin.desk.picks import turns as pick_turns
from true_margin.desk.picks import viewers
from true_margin.desk.picks.picks import PickView, show_pick
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.shootouts import shootouts
from true_margin.store import records
from true_margin.store.database import Database
from true_margin.store.records.viewers import Viewer

DAY = date(2026, 11, 24)


@pytest.fixture
def bench(database: Database) -> Bench:
    """A takes 10 minutes and costs 300, B 5 and 900, C 2:30 and 2 000; the baseline is A."""
    bench = new_bench(database, "Picks")
    bench.machine("C")
    for setup, times in {"A": "10:00", "B": "5:00", "C": "2:30"}.items():
        for repeat in range(3):
            bench.run(setup, f"{times}.{repeat}")
    shootout = shootouts.get_shootout(database, bench.slug)
    shootouts.change_shootout(database, bench.slug, shootout.version, {"price_date": DAY})
    for name, amount in (("A", "300"), ("B", "900"), ("C", "2000")):
        price(bench, name, amount)
    return bench


def price(bench: Bench, name: str, amount: str, **more: Any) -> None:
    fields = {"kind": "list", "amount": amount, "currency": "EUR", "dated": DAY, **more}
    lineup.add_price(bench.database, machine_id(bench, name), fields)


def machine_id(bench: Bench, name: str) -> UUID:
    book = SHELF.take(bench.database, bench.slug)
    return next(machine.id for machine in book.machines if machine.name == name)


def add(bench: Bench, name: str = "Filmer", **asked: Any) -> Viewer:
    return viewers.add_viewer(bench.database, bench.slug, {"name": name, **asked}, None)


def week(bench: Bench, minutes: float, **more: Any) -> dict[str, Any]:
    """Weekly work of so many minutes of film; ``more`` goes on the task."""
    part = {
        "task_id": bench.tasks["Parade"],
        "weight": 1.0,
        "amount": 60 * minutes,
        "by_run": False,
        "accepted_s": None,
        **more,
    }
    return {"weekly": True, "tasks": [part]}


def shown(bench: Bench, viewer: Viewer) -> PickView:
    return viewers.show_viewer(bench.database, bench.slug, viewer.id)


def sentence(view: PickView) -> str:
    assert view.picked is not None, view.problem
    return view.picked.sentence.replace("\u00a0", " ")


def test_a_new_viewer_has_the_equal_mix_and_an_answer(bench: Bench) -> None:
    view = shown(bench, add(bench, budget=Decimal(1500)))
    assert sentence(view) == (
        "Buy the B, 900 EUR. Nothing under 1 500 EUR is more than 3 % faster at this work. Almost certain (over 99 %)."
    )
    assert view.picked is not None
    assert view.picked.second is not None
    assert view.picked.second.startswith("Runner-up: A (300")
    rows = {row.label: row for row in view.rows}
    assert rows["C"].why == "over the budget of 1\u00a0500\u00a0EUR".replace("\u00a0EUR", " EUR")
    assert rows["C"].flip is not None
    assert (rows["C"].flip.price, rows["C"].flip.bounded) == (Decimal(1500), True)
    assert [row.label for row in view.rows if row.frontier] == ["C", "B", "A"]
    assert rows["B"].value is not None
    # Twice as fast for three times the money.
    assert rows["B"].value.value == pytest.approx(2 / 3, rel=1e-3)


def test_hours_worth_and_payback_against_the_owned(bench: Bench) -> None:
    viewer = add(
        bench,
        rule="worth",
        owned_setup_id=bench.setups["A"],
        resale=Decimal(100),
        hour_value=Decimal(40),
        **week(bench, 66),
    )
    view = shown(bench, viewer)
    rows = {row.label: row for row in view.rows}
    # 66 minutes of film: A an hour, B a half, C a quarter; half of 40 an hour, 48 weeks.
    assert rows["A"].keep
    up = rows["B"].upgrade
    assert up is not None
    assert up.saved_week.value == pytest.approx(0.5, abs=0.001)
    assert up.words.year.startswith("24 h a year")
    assert up.words.worth.startswith("480 EUR a year")
    # 800 for 10 a week: 80 working weeks, 86.7 in the calendar, 20 months.
    assert up.words.payback == "pays for itself in 19 to 21 months"
    # In 3 years worth 1 440: the cost is back at 800/1 440 of the work.
    assert "0.56 times as much as now" in up.words.break_even
    assert up.break_even == pytest.approx(800 / 1440, rel=1e-3)
    assert (up.payback_reason, up.payback_weeks) == ("weeks", pytest.approx(86.7, rel=0.01))
    assert up.net_worth.value == pytest.approx(640, rel=0.01)
    assert up.words.net_worth.startswith("640 EUR over 3 years")
    assert sentence(view).startswith("Buy the B, 900 EUR. ")


def test_keeping_what_one_has_is_a_pick(bench: Bench) -> None:
    little = add(
        bench,
        rule="worth",
        owned_setup_id=bench.setups["A"],
        hour_value=Decimal(20),
        **week(bench, 5),
    )
    view = shown(bench, little)
    assert sentence(view).startswith("Keep A. ")
    rows = {row.label: row for row in view.rows}
    assert rows["A"].flip is None
    assert rows["A"].price.basis == "their current machine; its resale value"


def test_prices_of_the_viewers_region_come_first_with_its_tax(bench: Bench) -> None:
    price(bench, "B", "700", region="Isle", tax_included=False)
    price(bench, "C", "1000", region="Shore")
    isle = add(bench, "Isle", region="isle", tax_percent=Decimal(20), budget=Decimal(5000))
    rows = {row.label: row.price for row in shown(bench, isle).rows}
    assert rows["B"].amount == Decimal("840.00")
    assert "20 % tax added" in rows["B"].basis
    # A price that is good anywhere comes before one of another region.
    assert rows["C"].amount == Decimal("2000.00")
    anywhere = {row.label: row.price for row in shown(bench, add(bench, "Anywhere")).rows}
    assert anywhere["B"].amount == Decimal("900.00")


def test_another_currency_is_converted_by_the_day(bench: Bench) -> None:
    view = shown(bench, add(bench, currency="USD"))
    rate = Decimal("1.0524")
    rows = {row.label: row.price for row in view.rows}
    assert rows["B"].amount is not None
    assert rows["B"].amount == (900 * rate).quantize(Decimal("0.01"))
    assert "from EUR at the simulated rate" in rows["B"].basis


def test_another_state_of_the_owned_machine_costs_its_extras(bench: Bench) -> None:
    made = lineup.add_setup(bench.database, machine_id(bench, "A"), {"name": "more memory"})
    more = next(setup.id for setup in made.setups if setup.name == "more memory")
    bench.setups["A more"] = more
    for repeat in range(3):
        bench.run("A more", f"8:00.{repeat}")
    lineup.add_extra(
        bench.database, more, {"name": "kit", "amount": "120", "currency": "EUR", "dated": DAY}
    )
    viewer = add(bench, owned_setup_id=bench.setups["A"], budget=Decimal(200))
    view = shown(bench, viewer)
    assert sentence(view).startswith("Buy A more memory, 120 EUR. ")


def test_an_announced_machine_is_told_how_fast_it_must_be(bench: Bench) -> None:
    bench.machine("M")
    book = SHELF.take(bench.database, bench.slug)
    setup = book.setups[book.setup_index[bench.setups["M"]]]
    lineup.change_setup(
        bench.database,
        setup.id,
        setup.version,
        {"assumed_ratio": 1.2, "assumed_against_id": bench.setups["B"], "assumed_source": "talk"},
    )
    viewer = add(bench, budget=Decimal(1500))
    (wait,) = shown(bench, viewer).waits
    assert "It has no price yet" in wait.words
    assert (wait.state, wait.needed) == ("no price", None)
    price(bench, "M", "1200")
    (wait,) = shown(bench, viewer).waits
    # Dearer than B, so it must be more than 3 % faster.
    assert "at least 1.03 times as fast as B" in wait.words
    assert wait.needed == pytest.approx(1.03, abs=0.005)
    assert wait.words.endswith("(talk), not tested.")
    assert shown(bench, viewer).picked is not None
    assert "M" not in {row.label for row in shown(bench, viewer).rows}


def test_offers_say_what_is_picked_after_them(bench: Bench) -> None:
    price(bench, "C", "1400", until=date(2026, 11, 26))
    (offer,) = shown(bench, add(bench, budget=Decimal(1500))).offers
    assert (offer.days, offer.changes) == (2, True)
    assert offer.words.replace("\u00a0", " ") == (
        "The C offer (1 400 EUR) ends in 2 days. Then the pick is B; until then it is C."
    )


def test_what_is_tried_is_not_stored_until_it_is_kept(bench: Bench) -> None:
    viewer = add(bench, budget=Decimal(1500))
    asked = {
        "currency": "EUR",
        "budget": Decimal(1500),
        "rule": "fastest",
        "tasks": [
            {
                "task_id": bench.tasks["Parade"],
                "weight": 1.0,
                "amount": 0.0,
                "by_run": False,
                "accepted_s": None,
            }
        ],
    }
    prices = {bench.setups["C"]: Decimal("1499.5")}
    view = viewers.try_viewer(bench.database, bench.slug, asked, prices)
    assert sentence(view).startswith("Buy the C, 1 499.50 EUR")
    row = next(row for row in view.rows if row.label == "C")
    assert (row.price.tried, row.price.stored) == (True, Decimal("2000.00"))
    assert sentence(shown(bench, viewer)).startswith("Buy the B, ")
    (machine,) = viewers.keep_prices(bench.database, bench.slug, viewer.id, prices)
    assert [p.amount for p in machine.prices] == [Decimal("1499.50"), Decimal("2000.00")]
    assert machine.prices[0].source == "kept in Picks for Filmer"
    assert sentence(shown(bench, viewer)).startswith("Buy the C, ")


def test_viewers_are_copied_renamed_ordered_and_retired(bench: Bench) -> None:
    one = add(bench, needs=[{"about": "memory_gb", "relation": "at least", "value": "16"}])
    two = viewers.add_viewer(bench.database, bench.slug, {"name": "Copy"}, one.id)
    assert (two.needs, [part.weight for part in two.tasks]) == (one.needs, [1.0])
    with pytest.raises(RefusedError, match="already a viewer of this name"):
        add(bench, "Copy")
    viewers.order_viewers(bench.database, bench.slug, [two.id, one.id])
    assert [c.viewer.name for c in viewers.list_cards(bench.database, bench.slug)] == [
        "Copy",
        "Filmer",
    ]
    with pytest.raises(RefusedError, match="every viewer once"):
        viewers.order_viewers(bench.database, bench.slug, [two.id])
    viewers.retire_viewer(bench.database, two.id, retired=True)
    cards = viewers.list_cards(bench.database, bench.slug)
    assert [(c.viewer.name, c.pick is None) for c in cards] == [("Filmer", True), ("Copy", True)]
    assert cards[0].problem is not None
    assert cards[0].problem.field == "needs"
    back = viewers.retire_viewer(bench.database, two.id, retired=False)
    changed = viewers.change_viewer(bench.database, two.id, back.version, {"name": "Third"})
    with pytest.raises(StaleError):
        viewers.change_viewer(bench.database, two.id, back.version, {"name": "Fourth"})
    assert changed.name == "Third"
    with pytest.raises(NotFoundError):
        viewers.show_viewer(bench.database, bench.slug, uuid4())


def test_a_need_drops_setups_and_says_which(bench: Bench) -> None:
    bench.run("B", None, status="failed", reason="crashed")
    viewer = add(bench, needs=[{"about": "failures", "relation": "none", "value": None}])
    rows = {row.label: row for row in shown(bench, viewer).rows}
    assert rows["B"].why == "needs no failed run: 1 of 4 attempts failed"
    assert rows["B"].flip is None


@pytest.mark.parametrize(
    ("asked", "field", "words"),
    [
        ({"horizon_years": 0.0}, "horizon_years", "must be above 0"),
        ({"weeks": 60.0}, "weeks", "at most 52"),
        ({"attended": 1.5}, "attended", "between 0 and 100"),
        ({"hour_value": Decimal(-1)}, "hour_value", "0 or more"),
        ({"budget": Decimal(-1)}, "budget", "0 or more"),
        ({"currency": "QQQ"}, "currency", "no currency in use"),
        ({"owned_setup_id": uuid4()}, "owned_setup_id", "a setup of this line-up"),
        (
            {"needs": [{"about": "luck", "relation": "is", "value": "good"}]},
            "needs",
            "Need 1: luck: there is no such row",
        ),
    ],
)
def test_what_nobody_can_mean_is_refused_by_field(
    bench: Bench, asked: dict[str, Any], field: str, words: str
) -> None:
    with pytest.raises(RefusedError, match=words) as refused:
        add(bench, **asked)
    assert refused.value.field == field
    with pytest.raises(RefusedError, match=words):
        viewers.try_viewer(bench.database, bench.slug, {"currency": "EUR", **asked}, {})


def test_negative_work_and_prices_are_refused(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="Parade: amount must be 0 or more") as refused:
        add(bench, **week(bench, -5))
    assert refused.value.field == "tasks"
    for prices, words in (
        ({bench.setups["C"]: Decimal(-1)}, "C: a price must be 0 or more"),
        ({uuid4(): Decimal(1)}, "outside this line-up"),
    ):
        with pytest.raises(RefusedError, match=words):
            viewers.try_viewer(bench.database, bench.slug, {"currency": "EUR"}, prices)


PROBLEMS = [
    ({"budget": Decimal(100)}, "budget", "Nothing costs 100 EUR or less: the cheapest is 300 EUR."),
    ({"tasks": []}, "tasks", "Every weight is 0"),
    ({"weekly": True, "tasks": []}, "tasks", "every amount is 0"),
    ({"rule": "worth"}, "tasks", "Money saved needs the weekly work"),
    ({"rule": "enough"}, "accepted", "which time is fast enough"),
    (
        {"currency": "SEK"},
        "currency",
        "No price can be told in SEK: no rate of SEK for 24 Nov 2026",
    ),
]


@pytest.mark.parametrize(("asked", "field", "words"), PROBLEMS)
def test_no_pick_is_explained_in_place(
    bench: Bench, asked: dict[str, Any], field: str, words: str
) -> None:
    part = {
        "task_id": bench.tasks["Parade"],
        "weight": 1.0,
        "amount": 0.0,
        "by_run": False,
        "accepted_s": None,
    }
    whole = {"currency": "EUR", "tasks": [part], **asked}
    view = viewers.try_viewer(bench.database, bench.slug, whole, {})
    assert view.picked is None
    assert view.problem is not None
    assert view.problem.field == field
    assert words in view.problem.words.replace("\u00a0", " ")


def test_no_prices_one_machine_and_an_owned_one_off_the_ladder(database: Database) -> None:
    bench = new_bench(database, "Bare")
    bench.run("A", "10:00")
    view = shown(bench, add(bench, owned_setup_id=bench.setups["B"]))
    assert view.problem is not None
    assert view.problem.words.startswith("No machine that did this work has a price")
    said = " ".join(view.notes)
    assert "Only A did all of this work. Time a second machine to have a choice." in said
    assert "B, their current machine, is not ranked on this work (not tested on" in said


def test_a_shootout_without_runs_or_tasks_has_viewers_too(database: Database) -> None:
    slug = shootouts.make_shootout(
        database, {"name": "Nothing yet", "subject": "machine", "currency": "EUR"}
    ).slug
    viewer = viewers.add_viewer(database, slug, {"name": "Early"}, None)
    view = viewers.show_viewer(database, slug, viewer.id)
    assert view.problem is not None
    assert view.rows == ()


def test_levers_are_said_in_the_viewers_units(bench: Bench) -> None:
    asked = {
        "currency": "EUR",
        "rule": "worth",
        "hour_value": Decimal(20),
        "owned_setup_id": bench.setups["A"],
        "budget": Decimal(1000),
        **week(bench, 1, amount=1.0, by_run=True),
    }
    levers = {
        lever.field: lever for lever in pick_turns.show_turns(bench.database, bench.slug, asked, {})
    }
    assert levers["hour_value"].above is not None
    assert levers["hour_value"].above.pick == "B"
    assert levers["amount"].now == "once a week"
    assert levers["amount"].above is not None
    # Trying the value that is offered really changes the pick.
    more = {**asked, **week(bench, 1, amount=levers["amount"].above.value, by_run=True)}
    assert sentence(viewers.try_viewer(bench.database, bench.slug, more, {})).startswith(
        "Buy the B, "
    )
    viewer = add(bench, **{k: v for k, v in asked.items() if k != "currency"})
    (saved,) = pick_turns.show_saved(bench.database, bench.slug, viewer.id, bench.setups["C"])
    assert (saved.owned, saved.own) == ("10:00", "2:30")
    assert saved.lo < saved.saved_s < saved.hi


@pytest.mark.parametrize(
    "asked",
    [
        {"rule": "worth", "hour_value": Decimal(20), "budget": Decimal(1200), "weeks": 40},
        {"rule": "worth", "hour_value": Decimal(60), "horizon_years": 1.0, "attended": 1.0},
        {"rule": "value", "budget": Decimal(1000)},
        {"rule": "fastest", "budget": Decimal(2500)},
    ],
)
def test_every_turn_that_is_offered_turns_the_pick(bench: Bench, asked: dict[str, Any]) -> None:
    """A step past the value another setup is picked, and the one that was named."""
    whole = {"currency": "EUR", "owned_setup_id": bench.setups["A"], **week(bench, 20), **asked}
    now = viewers.try_viewer(bench.database, bench.slug, whole, {}).picked
    assert now is not None
    tried = 0
    for lever in pick_turns.show_turns(bench.database, bench.slug, whole, {}):
        for turn, past in ((lever.below, 0.99), (lever.above, 1.01)):
            if turn is None or lever.task_id is not None or lever.field == "usage":
                continue
            value: Any = turn.value * past
            if lever.field in ("hour_value", "budget"):
                value = Decimal(f"{value:.2f}")
            moved = {**whole, lever.field: value}
            then = viewers.try_viewer(bench.database, bench.slug, moved, {}).picked
            name = "nothing" if then is None else f"keep {then.label}" if then.keep else then.label
            assert name == turn.pick, (lever.title, turn)
            assert then is None or then.label != now.label
            assert not re.search(r"(?<![\d.,])1 (?:years|weeks|times)", lever.now + turn.words)
            tried += 1
    assert tried > 0


def test_every_story_of_the_demo_is_found(database: Database, demo: records.Shootout) -> None:
    cards = {card.viewer.name: card for card in viewers.list_cards(database, demo.slug)}
    picks = {name: f"{'keep ' if c.keep else ''}{c.pick}" for name, c in cards.items()}
    assert picks == {
        "Festival filmer": "Cairn Brick",
        "Village teacher": "keep Tarn Desk",
        "Photo volunteer": "Cairn Brick",
        "Title maker": "Ferrous T9 stock",
    }
    book = SHELF.take(database, demo.slug)
    views = {viewer.name: viewers.answer(book, viewer) for viewer in book.viewers}
    # The offer flips one pick.
    flips = [n for n, v in views.items() if any("Then the pick is" in o.words for o in v.offers)]
    assert flips == ["Title maker"]
    # Who exports every day gets the owned machine's successor paid back; twice a month never.
    daily = next(r for r in views["Festival filmer"].rows if r.label == "Cairn Brick")
    rarely = next(r for r in views["Village teacher"].rows if r.label == "Cairn Brick")
    assert daily.upgrade is not None
    assert rarely.upgrade is not None
    assert daily.upgrade.words.payback.endswith("months")
    assert rarely.upgrade.words.payback == "pays for itself in over 100 years"
    filmer = views["Festival filmer"]
    assert any("worth waiting for if the claim holds" in wait.words for wait in filmer.waits)
    # Cairn Brick is the pick for most budgets under 1 500.
    whose = next(viewer for viewer in book.viewers if viewer.name == "Festival filmer")
    at = [show_pick(book, replace(whose, budget=Decimal(b))) for b in range(100, 1500, 100)]
    won = [v.picked.label for v in at if v.picked is not None]
    assert won.count("Cairn Brick") == 5
    assert set(won) == {"Cairn Brick", "Tarn Desk"}


def test_money_and_chances_in_words() -> None:
    assert say_money(Decimal("1553.394"), "EUR") == "1\u00a0553.39 EUR"
    assert say_money(Decimal("-1493"), "JPY") == "−1\u00a0493 JPY"
    assert say_money(Decimal("12.3456"), "KWD") == "12.346 KWD"
    assert [say_chance(p) for p in (0.0, 0.5, 0.994, 0.999)] == [
        "under 1 %",
        "50 %",
        "99 %",
        "over 99 %",
    ]


def test_a_rival_that_was_given_another_job_is_said_to_be_unknown(bench: Bench) -> None:
    """B and C each did the baseline's job, but not each other's."""
    book = SHELF.take(bench.database, bench.slug)
    broken = np.zeros((1, 3, 3), dtype=bool)
    broken[0, 1, 2] = broken[0, 2, 1] = True
    apart = replace(book)
    analysis_of.hold(apart, analyse(replace(analysis_of(book).study, broken=broken)))
    for rule, more in (("fastest", {}), ("value", {}), ("worth", week(bench, 60))):
        viewer = replace(add(bench, rule, **more), rule=rule, hour_value=Decimal(90))
        view = show_pick(apart, viewer)
        assert view.picked is not None
        rows = {row.label: row for row in view.rows}
        assert all(math.isfinite(row.lo) and math.isfinite(row.hi) for row in rows.values())
        if rule != "value":
            assert view.picked.second is not None
            assert "did not do the same job" in view.picked.second


def test_it_says_how_much_less_is_known_of_models(bench: Bench) -> None:
    note = shown(bench, add(bench)).samples
    assert note is not None
    assert note.startswith("One sample of each model was timed")
    found = re.search(r"is known to ± ([\d.]+) %, that of their models to ± ([\d.]+) %", note)
    assert found is not None
    assert float(found[2]) > float(found[1])
    assert note.endswith("the surety is said too low.")


def test_a_pick_that_is_not_shown_to_save_time_says_so(bench: Bench) -> None:
    bench.machine("D")
    for typed in ("9:59.8", "10:00.3", "9:59.7"):
        bench.run("D", typed)
    price(bench, "D", "340")
    asked = {"rule": "fastest", "budget": Decimal(350), "owned_setup_id": bench.setups["A"]}
    view = shown(bench, add(bench, "Careful", **asked, **week(bench, 600)))
    assert view.picked is not None
    assert (view.picked.label, view.picked.keep) == ("D", False)
    assert view.picked.caution == "That the D saves you time over your A is not shown."
    rich = shown(bench, add(bench, "Rich", **{**asked, "budget": None}, **week(bench, 600)))
    assert rich.picked is not None
    assert (rich.picked.label, rich.picked.caution) == ("C", None)
    # Nobody who has nothing is told to keep it.
    new = shown(bench, add(bench, "New", **{**asked, "owned_setup_id": None}))
    assert new.picked is not None
    assert new.picked.caution is None
