"""The next thing, from the first machine to the published page, and the headline of a ladder."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.bench.bench import show_sitting
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.margins.margins import show_ladder
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards, editions, script
from true_margin.desk.run_sheet.next_thing import NextThing
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    """A and B with the task Parade; nothing timed."""
    return new_bench(database, "Next")


def following(bench: Bench) -> NextThing:
    return show_sheet(bench.database, bench.slug).next[0]


def kinds(bench: Bench) -> list[str]:
    return [each.kind for each in show_sheet(bench.database, bench.slug).next]


def summary(bench: Bench, task: str | None = "Parade") -> str:
    key = "mix" if task is None else str(bench.tasks[task])
    return show_ladder(bench.database, bench.slug, key).summary


def test_it_leads_from_the_first_machine_to_the_published_page(database: Database) -> None:
    fields = {"name": "From nothing", "subject": "machine", "currency": "EUR"}
    bench = Bench(database, shootouts.make_shootout(database, fields).slug)
    assert following(bench).action.words == "Add machine"
    bench.machine("A")
    assert following(bench).strong == "Add the second:"
    bench.machine("B")
    assert following(bench).strong == "Add a task:"
    bench.task("Parade")
    asked = following(bench)
    assert (asked.strong, asked.action.words) == ("Time Parade on A.", "Ready the timer")
    assert asked.other is not None
    assert asked.other.stage == "runs"
    bench.run("A", "10:00")
    # One machine was timed: nothing is settled while the other was not.
    asked = following(bench)
    assert (asked.strong, asked.text) == ("Now the same on B:", "Parade, about 10 min.")
    bench.run("B", "2:00")
    asked = following(bench)
    assert asked.strong == "B looks 5 times as fast as A."
    assert asked.text == "Run A once more to see that it repeats, about 6 min."
    bench.run("A", "10:01")
    bench.run("B", "2:01")
    assert kinds(bench) == ["prices", "viewer", "script", "card", "page"]
    book = SHELF.take(bench.database, bench.slug)
    listed = {"kind": "list", "amount": "900", "currency": "EUR"}
    for machine in book.machines:
        dated = {"dated": book.shootout.price_date}
        lineup.add_price(bench.database, machine.id, {**listed, **dated})
    assert following(bench).action.words == "Add viewer"
    viewers.add_viewer(bench.database, bench.slug, {"name": "Filmer", "rule": "fastest"}, None)
    assert following(bench).action.words == "Open script"
    script.keep_script(bench.database, bench.slug, "A is faster than B on Parade.", 0)
    assert following(bench).strong == "1 claim needs checking"
    script.keep_script(bench.database, bench.slug, "B is faster than A on Parade.", 1)
    assert following(bench).kind == "card"
    cards.add_card(bench.database, bench.slug, {"kind": "bar", "task_id": bench.tasks["Parade"]})
    asked = following(bench)
    assert (asked.action.words, asked.action.search) == ("Publish", {"view": "public"})
    editions.publish_edition(bench.database, bench.slug, None, "Marit")
    assert (following(bench).strong, following(bench).kind) == ("Up to date.", "done")
    bench.run("B", "2:00.5")
    asked = following(bench)
    assert (asked.text, asked.action.words) == ("1 run since edition 1.", "Publish edition 2")


def test_a_slip_is_asked_about_before_anything_else(bench: Bench) -> None:
    for name, time in (("A", "10:00"), ("A", "10:02"), ("B", "5:00"), ("B", "5:01")):
        bench.run(name, time)
    slip = bench.run("A", "0:03").run
    assert following(bench).kind == "odd run"
    assert following(bench).text == "0:03 is far from the other runs (10:00 to 10:02)."
    assert following(bench).action.search == {"run": str(slip.id)}
    runs.revise_run(bench.database, slip.id, 1, {"checked": True}, "Jo", "it is right")
    assert "odd run" not in kinds(bench)


def test_a_leader_is_told_from_the_runner_up_and_the_baseline(bench: Bench) -> None:
    bench.machine("C")
    for name, time in (("A", "10:00"), ("B", "5:00"), ("C", "4:00")):
        for tenth in range(3):
            bench.run(name, f"{time}.{tenth}")
    assert summary(bench) == ("C is 25 % faster than the runner-up, B, and 2.5 times as fast as A.")


def test_a_leading_group_shares_first_place(bench: Bench) -> None:
    bench.machine("C")
    bench.machine("D")
    for name, time in (("A", "10:00"), ("B", "5:00"), ("C", "5:02"), ("D", "6:00")):
        for tenth in range(2):
            bench.run(name, f"{time}.{tenth}")
    assert summary(bench) == (
        "B and C share first place, about 2 times as fast as A. Too close to rank among "
        "themselves. The next, D, takes 20 % longer."
    )


def test_a_task_that_tells_nothing_apart_names_no_winner(bench: Bench) -> None:
    bench.machine("C")
    for name in ("A", "B", "C"):
        for tenth in range(8):
            bench.run(name, f"10:00.{tenth}", method="log")
    assert summary(bench) == ("All 3 setups take the same time, 10:00.")
    assert summary(bench, None) == ("All 3 setups are equally fast on the mix.")


def test_a_field_that_is_too_close_names_no_winner(bench: Bench) -> None:
    bench.machine("C")
    for name, time in (("A", "10:00"), ("B", "10:10"), ("C", "10:20")):
        bench.run(name, time)
    assert summary(bench) == ("All 3 setups: too close to call. None is surely the fastest.")


def test_what_cannot_be_timed_is_not_proposed(bench: Bench) -> None:
    # C is only announced, D never got through: neither is the next thing.
    machines = {name: bench.machine(name) for name in ("C", "D")}
    for name, time in (("A", "10:00"), ("B", "2:00")):
        bench.run(name, f"{time}.1")
        bench.run(name, f"{time}.2")
    bench.run("D", None, status="failed", reason="crashed")
    announced = machines["C"].setups[0]
    said = {"assumed_ratio": 1.2, "assumed_against_id": bench.setups["A"], "assumed_source": "they"}
    lineup.change_setup(bench.database, announced.id, announced.version, said)
    assert kinds(bench)[0] == "prices"


# Slow waves: neighbours are alike, and the whole tells the two machines apart by little.
WAVES = (300, 302, 304, 305, 304, 302, 300, 298, 296, 295, 296, 298)


def wave(bench: Bench, day: int, times: tuple[int, ...]) -> None:
    for place, seconds in enumerate(times):
        at = datetime(2026, 10, day, 9, tzinfo=UTC) + timedelta(minutes=12 * place)
        bench.run("A", f"{seconds} s", started_at=at)
        bench.run("B", f"{seconds + 4} s", started_at=at + timedelta(minutes=6))


def test_a_new_session_is_asked_for_where_runs_of_one_resemble_each_other(bench: Bench) -> None:
    wave(bench, 12, WAVES)
    asked = following(bench)
    assert asked.kind == "new session"
    assert "in a new session" in asked.text
    plan = show_sitting(bench.database, bench.slug, 60)
    assert plan.says.endswith("instead of going on with it.")
    # Once that is there, more runs in it are worth their time again.
    wave(bench, 13, WAVES[:3])
    assert "new session" not in kinds(bench)
    assert "instead of" not in show_sitting(bench.database, bench.slug, 60).says


def test_nobody_asks_for_another_session_where_no_time_is_known(bench: Bench) -> None:
    for seconds in WAVES:
        bench.run("A", f"{seconds} s")
        bench.run("B", f"{seconds + 4} s")
    assert "new session" not in kinds(bench)
