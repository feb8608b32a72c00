"""A standing task over shootouts: who is ranked, what is carried over, what is left out."""

from __future__ import annotations

from datetime import date
from itertools import count
from uuid import UUID

import pytest
from sqlalchemy import text

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError
from true_margin.desk.lineup import lineup
from true_margin.desk.room import all_time, history, keeping, overview
from true_margin.desk.runs import earlier
from true_margin.desk.shootouts import shootouts
from true_margin.desk.tasks import outputs
from true_margin.store.database import Database

WHO = "Marit"
_NUMBERS = count(1)


def year(database: Database, version: str | None, times: dict[str, list[str]]) -> Bench:
    """A shootout of one year: machines timed on one film in one version of its app."""
    bench = new_bench(database, f"Years {next(_NUMBERS)} {version}")
    bench.task("Long film", settings={"codec": "HEVC", "depth": "10"})
    round_ = shootouts.list_rounds(database, bench.slug)[0]
    if version is not None:
        shootouts.change_round(database, round_.id, None, {"Heddle": version})
    for machine, typed in times.items():
        bench.machine(machine)
        for each in typed:
            bench.run(machine, each, "Long film", method="log")
    return bench


def keep_all(database: Database, benches: list[Bench], tag: str) -> UUID:
    """Say that machines of one name are one, and that all did the same job; gives the job."""
    by_name: dict[str, list[UUID]] = {}
    for bench in benches:
        for name, setup in bench.setups.items():
            by_name.setdefault(name, []).append(setup)
    view = keeping.keep(
        database,
        [
            keeping.KeptMachine(f"{name} {tag}", None, tuple(setups))
            for name, setups in by_name.items()
            if len(name) > 1
        ],
        [keeping.KeptTask(f"Film {tag}", None, tuple(b.tasks["Long film"] for b in benches))],
        WHO,
    )
    return next(task.id for task in view.tasks if task.name == f"Film {tag}")


def three_years(database: Database, tag: str) -> tuple[UUID, list[Bench]]:
    """The yardstick in all three versions, two machines in one each."""
    benches = [
        year(database, "6.2", {"Yard": ["12:00", "12:02"], "Old": ["24:00", "24:04"]}),
        year(database, "6.9", {"Yard": ["11:00", "11:01"], "Mid": ["5:30", "5:31"]}),
        year(database, "6.10", {"Yard": ["10:00", "10:01"], "New": ["4:00", "4:01"]}),
    ]
    return keep_all(database, benches, tag), benches


def test_everybody_is_ranked_as_of_the_newest_version(database: Database) -> None:
    task, benches = three_years(database, "a")
    view = all_time.show_all_time(database, task)
    assert [version.name for version in view.versions] == ["6.2", "6.9", "6.10"]
    assert [(line.label, line.carried, line.timed_in) for line in view.lines] == [
        ("New a", 0, "6.10"),
        ("Mid a", 1, "6.9"),
        ("Yard a", 0, "6.10"),
        ("Old a", 2, "6.2"),
    ]
    old = view.lines[-1]
    # It took twice as long as the yardstick then, and so it does now.
    assert old.value == pytest.approx(1200, rel=0.01)
    assert old.lo is not None
    assert old.hi is not None
    assert old.lo < 1200 < old.hi
    assert [(point.column, point.shown) for point in old.points] == [(0, "24:02")]
    assert view.headline == "The record: 4:00, New a."
    assert view.sentence.startswith("In Heddle 6.2 the best was 12:01.")
    assert view.weakest is not None
    assert "hangs on one machine, the Yard a" in view.weakest
    assert [step.links for step in view.steps] == [("Yard a",), ("Yard a",)]
    assert view.next is not None
    assert view.next.slug in {bench.slug for bench in benches}
    assert view.next.words.startswith(f"Time the {view.next.label} again in Heddle 6.10, about")
    assert view.left_out == ()


def test_what_cannot_be_timed_any_more_is_not_proposed(database: Database) -> None:
    task, _ = three_years(database, "b")
    for name in ("Old b", "Mid b"):
        held = next(m for m in overview.show_room(database).machines if m.name == name)
        keeping.change_machine(database, held.id, held.version, {"keeping": "gone"}, WHO)
    assert all_time.show_all_time(database, task).next is None


def test_a_new_run_a_correction_and_a_machine_that_is_parted_show_at_once(
    database: Database,
) -> None:
    task, benches = three_years(database, "c")

    def labels() -> list[str]:
        return [line.label for line in all_time.show_all_time(database, task).lines]

    assert labels() == ["New c", "Mid c", "Yard c", "Old c"]
    for typed in ("2:00", "2:01"):
        benches[-1].run("Yard", typed, "Long film", method="log")
    # The yardstick alone says what the updates did: Mid's old figure follows it.
    assert labels() == ["Mid c", "New c", "Yard c", "Old c"]
    keeping.move_setups(database, [benches[-1].setups["New"]], None, None, WHO)
    assert labels() == ["Mid c", "Yard c", "Old c"]


def test_runs_that_were_brought_in_from_an_earlier_one_count_once(database: Database) -> None:
    then = year(database, "6.2", {"Yard": ["12:00", "12:02"], "Old": ["24:00", "24:04"]})
    now = year(database, "6.3", {"Yard": ["10:00", "10:01"]})
    earlier.bring_in(database, now.slug, then.slug, [then.tasks["Long film"]])
    task = keep_all(database, [then, now], "d")
    # The copies are setups of the later shootout, and are one with the originals by name.
    for offer in overview.show_room(database).machine_offers:
        if offer.name == "Old" and any(use.slug == now.slug for use in offer.uses):
            key = next(m.id for m in overview.show_room(database).machines if m.name == "Old d")
            copied = tuple(use.id for use in offer.uses if use.slug == now.slug)
            keeping.keep(database, [keeping.KeptMachine("Old d", key, copied)], [], WHO)
    lines = {line.label: line for line in all_time.show_all_time(database, task).lines}
    assert [(p.column, p.runs) for p in lines["Yard d"].points] == [(0, 2), (1, 2)]
    assert [(p.column, p.runs) for p in lines["Old d"].points] == [(0, 2)]


def test_what_has_no_place_says_why(database: Database) -> None:
    benches = [
        year(database, "5.0", {"Lost": ["30:00", "30:01"]}),
        year(database, "6.2", {"Yard": ["12:00", "12:02"], "Eight": ["9:00", "9:01"]}),
        year(database, None, {"Nameless": ["3:00"]}),
    ]
    benches[1].machine("Broken")
    benches[1].run("Broken", None, "Long film", status="failed", reason="no space left")
    benches[1].machine("Endless")
    benches[1].run("Endless", "> 2:00:00", "Long film")
    seen = {"depth": "8"}
    outputs.note_settings(
        database, benches[1].tasks["Long film"], benches[1].setups["Eight"], seen, WHO
    )
    task = keep_all(database, benches, "e")
    view = all_time.show_all_time(database, task)
    ranked = [line.label for line in view.lines if line.value is not None]
    assert ranked == ["Yard e"]
    told = " ".join(view.left_out)
    assert "Lost e was timed in 5.0, and no machine links that to 6.2." in told
    assert "Eight e was exported with other settings (Bit depth: 10 or 8)" in told
    assert "Broken e failed every time." in told
    assert "Endless e is only known to take more or less than a limit." in told
    assert "1 run in “" in told
    assert view.next is None


def test_a_machine_that_is_not_kept_is_told_and_one_in_the_archive_is_not(
    database: Database,
) -> None:
    bench = year(database, "6.2", {"Yard": ["12:00", "12:02"], "Stray": ["9:00", "9:01"]})
    task = keep_all(database, [bench], "m")
    assert [line.label for line in all_time.show_all_time(database, task).lines] == [
        "Stray m",
        "Yard m",
    ]
    stray = bench.setups["Stray"]
    keeping.move_setups(database, [stray], None, None, WHO)
    view = all_time.show_all_time(database, task)
    assert [line.label for line in view.lines] == ["Yard m"]
    (told,) = view.left_out
    assert told.startswith("Stray of “Years")
    assert told.endswith("is not in the store room yet: keep it there to rank it.")
    machine = next(m for m in SHELF.take(database, bench.slug).machines if m.name == "Stray")
    lineup.archive_machine(database, machine.id, archived=True)
    assert all_time.show_all_time(database, task).left_out == ()
    offered = overview.show_room(database).machine_offers
    assert not any(use.id == stray for offer in offered for use in offer.uses)


def test_a_machine_whose_parts_were_changed_is_two(database: Database) -> None:
    benches = [
        year(database, "6.2", {"Yard": ["12:00", "12:02"]}),
        year(database, "6.3", {"Yard": ["11:00", "11:02"]}),
    ]
    for bench, memory in zip(benches, ("16", "32"), strict=True):
        bench.machine("Laptop", specs={"memory_gb": memory, "read_mbs": f"{memory}00"})
        bench.run("Laptop", "8:00" if memory == "16" else "6:00", "Long film", method="log")
    task = keep_all(database, benches, "f")
    lines = [line.label for line in all_time.show_all_time(database, task).lines]
    assert lines == ["Laptop f (memory 32)", "Laptop f (memory 16)", "Yard f"]


def test_states_of_a_machine_are_lines_of_their_own(database: Database) -> None:
    bench = year(database, "6.2", {"Laptop": ["8:00", "8:01"], "Battery": ["9:00", "9:01"]})
    task = keep_all(database, [bench], "g")
    room = overview.show_room(database)
    key = next(m.id for m in room.machines if m.name == "Laptop g")
    keeping.move_setups(database, [bench.setups["Battery"]], key, "on battery", WHO)
    lines = [line.label for line in all_time.show_all_time(database, task).lines]
    assert lines == ["Laptop g as is", "Laptop g on battery"]


def test_a_task_without_runs_has_nothing_to_rank(database: Database) -> None:
    bench = year(database, "6.2", {})
    view = all_time.show_all_time(database, keep_all(database, [bench], "h"))
    assert (view.lines, view.steps, view.weakest) == ((), (), None)
    assert view.headline == "Nothing to rank yet."
    with pytest.raises(NotFoundError):
        all_time.show_all_time(database, UUID(int=3))


def test_a_machine_that_lost_pace_by_itself_is_told_apart_from_the_updates(
    database: Database,
) -> None:
    benches = [
        year(
            database,
            "6.2",
            {"Yard": ["12:00", "12:01", "12:00"], "Tired": ["6:00", "6:01", "6:00"]},
        ),
        year(
            database,
            "6.3",
            {"Yard": ["10:00", "10:01", "10:00"], "Tired": ["6:30", "6:31", "6:30"]},
        ),
    ]
    third = year(database, "6.3", {"Yard": ["10:00", "10:01"], "Twin": ["5:00"]})
    task = keep_all(database, [*benches, third], "i")
    machines = {m.name: m.id for m in overview.show_room(database).machines}
    tired = history.show_history(database, machines["Tired i"])
    (told,) = [each for each in tired.tasks if each.standing_id == task]
    assert "longer than in 6.2, beyond what updates did to the others" in told.finding
    assert told.finding.endswith("Either it lost pace, or the update helps it less.")
    assert [row.change for row in told.stretches] == ["", "slower"]
    twin = history.show_history(database, machines["Twin i"])
    (alone,) = [each for each in twin.tasks if each.standing_id == task]
    assert alone.finding.startswith("Timed once so far")
    assert history.show_worth(database, machines["Twin i"]) == ()


def test_before_a_machine_goes_what_to_time_on_it_is_told(database: Database) -> None:
    three_years(database, "j")
    machines = {m.name: m.id for m in overview.show_room(database).machines}
    worth = history.show_worth(database, machines["Old j"])
    assert [each.name for each in worth] == ["Film j"]
    assert "replaces its estimate by a measured time" in worth[0].words


def test_the_best_of_each_version_goes_by_the_prices_of_its_day(database: Database) -> None:
    task, benches = three_years(database, "l")
    days = ("2024-10-05", "2025-10-04", "2026-10-03")
    prices = {
        # Half as fast for a third of the money; dearer and cheaper later on.
        "Yard": [("2024-01-01", "900"), ("2026-12-01", "10")],
        "Old": [("2024-01-01", "300"), ("2024-10-05", "250")],
        "Mid": [("2025-11-01", "2000")],
        "New": [("2026-01-01", "1500")],
    }
    for bench, day in zip(benches, days, strict=True):
        for machine in SHELF.take(database, bench.slug).machines:
            for dated, amount in prices.get(machine.name, []):
                fields = {
                    "kind": "list",
                    "amount": amount,
                    "currency": "EUR",
                    "dated": date.fromisoformat(dated),
                }
                lineup.add_price(database, machine.id, fields)
        with database.transaction() as session:
            session.execute(
                text(
                    "update runs set started_at = :day from shootouts s "
                    "where s.id = shootout_id and s.slug = :slug"
                ),
                {"day": f"{day}T10:00:00Z", "slug": bench.slug},
            )
            session.execute(
                text("update shootouts set revision = revision + 1 where slug = :slug"),
                {"slug": bench.slug},
            )
    best = all_time.show_all_time(database, task).best
    assert [(each.version, each.fastest, each.value) for each in best] == [
        ("6.2", "Yard l, 12:01, 900 EUR", "Old l, 24:02, 250 EUR"),
        # Mid's price came after its runs, and one price alone is no comparison.
        ("6.9", "Mid l, 5:30", None),
        ("6.10", "New l, 4:00, 1\u00a0500 EUR", "New l, 4:00, 1\u00a0500 EUR"),
    ]


def test_tasks_of_most_shootouts_come_first(database: Database) -> None:
    three_years(database, "k")
    counts = [each.shootouts for each in all_time.list_standing(database) if not each.demo]
    assert counts == sorted(counts, reverse=True)
