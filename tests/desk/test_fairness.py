"""Fairness through the desk: what breaks, what confounds, and a person's word on it."""

from __future__ import annotations

from uuid import UUID, uuid4

import pytest

from tests.desk.helpers import Bench, new_bench
from tests.desk.test_timelines import edit
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.margins import fairness, margins, pair_differences, pairs
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.shootouts import shootouts
from true_margin.desk.tasks import timelines
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    """A and B on one film, three runs each; A is the baseline."""
    bench = new_bench(database, "Fair or not")
    bench.machine("C")
    bench.task("Film, export", timeline="Film")
    for typed in ("5:00", "5:01", "5:02"):
        bench.run("A", typed, "Film, export")
        bench.run("B", "6:00", "Film, export")
        bench.run("C", "7:00", "Film, export")
    return bench


def note(bench: Bench, setup: str, **conditions: str | None) -> None:
    book = SHELF.take(bench.database, bench.slug)
    known = book.setups[book.setup_index[bench.setups[setup]]]
    lineup.change_setup(bench.database, known.id, known.version, {"conditions": conditions})


def bring(bench: Bench, setup: str, *frames: int) -> None:
    book = SHELF.take(bench.database, bench.slug)
    film = next(t.id for t in book.timelines if t.name == "Film")
    fields = {
        "name": "film.otio",
        "content": edit(*frames),
        "setup_id": bench.setups[setup],
        "edl_rate": None,
    }
    timelines.add_file(bench.database, film, fields, "Marit")


def key(bench: Bench) -> str:
    return str(bench.tasks["Film, export"])


def pair(bench: Bench, a: str, b: str) -> pairs.PairView:
    return pairs.show_pair(bench.database, bench.slug, key(bench), bench.setups[a], bench.setups[b])


def lines(view: pairs.PairView) -> list[tuple[str, str]]:
    return [(line.condition, line.weight) for line in view.parity]


def ladder(bench: Bench) -> margins.LadderView:
    return margins.show_ladder(bench.database, bench.slug, key(bench))


def told(bench: Bench) -> tuple[str, ...]:
    """What the run sheet says of fairness: caveats, and what has to be looked at."""
    stages = show_sheet(bench.database, bench.slug).stages
    line = next(each for each in stages if each.stage == "margins")
    return (*(fact for fact in line.facts if "caveat" in fact), *line.todo)


def test_nothing_noted_is_no_difference(bench: Bench) -> None:
    assert lines(pair(bench, "A", "B")) == []
    assert told(bench) == ()


def test_conditions_that_muddy_are_told_and_counted(bench: Bench) -> None:
    note(bench, "A", background="none", room="20")
    note(bench, "B", background="a backup", room="27")
    assert lines(pair(bench, "A", "B")) == [
        ("background programs", "muddies"),
        ("room temperature", "muddies"),
    ]
    assert pair(bench, "A", "B").call == "clear"
    assert told(bench) == ("1 caveat",)
    note(bench, "B", background=None, room="24")
    assert lines(pair(bench, "A", "B")) == []


def test_what_is_on_trial_is_allowed(bench: Bench) -> None:
    machines = spec_sheet.show_lineup(bench.database, bench.slug).columns
    for column, cores in zip(machines[:2], (8, 12), strict=True):
        specs = {"cores": str(cores), "system": f"Lathe {cores}"}
        lineup.change_machine(bench.database, column.machine.id, 1, {"specs": specs})
    assert lines(pair(bench, "A", "B")) == [("system", "muddies"), ("processor", "allowed")]
    note(bench, "B", only_system="yes")
    assert lines(pair(bench, "A", "B")) == [("processor", "allowed"), ("system", "allowed")]
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(bench.database, bench.slug, version, {"subject": "memory"})
    assert lines(pair(bench, "A", "B")) == [("processor", "muddies"), ("system", "muddies")]


def test_another_edit_than_the_baselines_is_not_the_same_job(bench: Bench) -> None:
    bring(bench, "A", 100, 50)
    bring(bench, "B", 100, 49)
    view = ladder(bench)
    assert [row.label for row in view.rows] == ["A", "C"]
    assert [(row.label, row.reason) for row in view.off] == [
        ("B", "not the same job as the baseline's: timeline differs")
    ]
    broken = pair(bench, "A", "B")
    assert broken.call == "not comparable"
    assert (
        broken.sentence
        == "A and B cannot be compared: they did not do the same job (timeline differs)."
    )
    assert told(bench) == ("1 not comparable",)


def test_a_broken_pair_beside_the_baseline_shares_its_ranks(bench: Bench) -> None:
    bring(bench, "B", 100, 50)
    bring(bench, "C", 100, 49)
    ranks = {row.label: (row.best_rank, row.worst_rank) for row in ladder(bench).rows}
    assert ranks == {"A": (1, 1), "B": (2, 3), "C": (2, 3)}
    assert pair(bench, "A", "B").call == "clear"


def overrule(bench: Bench, a: str, b: str, reason: str = "one frame of 9 000") -> records.Overrule:
    both = (bench.setups[a], bench.setups[b])
    return fairness.overrule(bench.database, UUID(key(bench)), both, reason, "Jo")


def test_an_overrule_needs_a_break_and_prints_its_reason(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="Nothing breaks this pair"):
        overrule(bench, "A", "B")
    bring(bench, "A", 100, 50)
    bring(bench, "B", 100, 49)
    with pytest.raises(RefusedError, match="Two setups"):
        overrule(bench, "A", "A")
    kept = overrule(bench, "B", "A")
    assert [row.label for row in ladder(bench).rows] == ["A", "B", "C"]
    (line,) = pair(bench, "A", "B").parity
    assert line.overrule is not None
    assert (line.weight, line.overrule.reason, line.overrule.who) == (
        "breaks",
        "one frame of 9 000",
        "Jo",
    )
    assert told(bench) == ()
    with pytest.raises(RefusedError, match="overruled already"):
        overrule(bench, "A", "B")

    withdrawn = fairness.withdraw(bench.database, kept.id, "Ines")
    assert withdrawn.withdrawn_at is not None
    again = fairness.withdraw(bench.database, kept.id, "Jo")
    assert (again.withdrawn_by, again.withdrawn_at) == ("Ines", withdrawn.withdrawn_at)
    assert [row.label for row in ladder(bench).rows] == ["A", "C"]
    assert len(SHELF.take(bench.database, bench.slug).overrules) == 1
    with pytest.raises(NotFoundError):
        fairness.withdraw(bench.database, uuid4(), "Ines")


def test_timing_by_hand_against_a_log_muddies(bench: Bench) -> None:
    bench.task("Titles")
    bench.run("A", "1:00", "Titles")
    bench.run("B", "1:01", "Titles", method="log")
    view = pairs.show_pair(
        bench.database, bench.slug, str(bench.tasks["Titles"]), bench.setups["A"], bench.setups["B"]
    )
    (line,) = view.parity
    assert (line.condition, line.here, line.there) == ("how it was timed", "by hand", "by log")


def test_the_demo_leaves_a_lost_frame_a_small_picture_and_a_warm_room(
    database: Database, demo: records.Shootout
) -> None:
    book = SHELF.take(database, demo.slug)
    assert fairness.tally(book) == fairness.Tally(breaks=3, muddy=1)
    labels = [setup.label for setup in book.setups]
    base, warm = labels.index("Tarn Desk"), labels.index("Halyard L")
    found = {
        d.condition.value
        for d in parity_of(book).between(0, base, warm)
        if d.weight.value == "muddies"
    }
    assert found == {"room temperature"}
    battery, mains = labels.index("Halyard S battery"), labels.index("Halyard S mains")
    weights = {d.condition.value: d.why for d in parity_of(book).between(0, battery, mains)}
    assert weights == {"power": "this is what the two setups compare"}


def test_a_row_of_ones_own_takes_part_in_fairness_and_can_be_on_trial(database: Database) -> None:
    bench = new_bench(database, "Own rows")
    for name in ("A", "B"):
        bench.run(name, "6:17")
    sheet = spec_sheet.add_free_row(database, bench.slug, "Cooling pad", None, number=False)
    row = next(row for row in sheet.rows if row.title == "Cooling pad")
    for column, value in zip(sheet.columns, ("yes", "no"), strict=True):
        machine = column.machine
        cells = {row.field: value}
        lineup.change_machine(database, machine.id, machine.version, {"specs": cells})

    def weight() -> tuple[str, str, str]:
        book = SHELF.take(database, bench.slug)
        lines = pair_differences.parity_lines(book, 0, 0, 1)
        (own,) = [line for line in lines if line.condition == "row of our own"]
        return own.here, own.there, own.weight

    # Of whole machines everything that is theirs is on trial; of their memory it is not.
    assert weight() == ("cooling pad yes", "cooling pad no", "allowed")
    version = shootouts.get_shootout(database, bench.slug).version
    shootouts.change_shootout(database, bench.slug, version, {"subject": "memory"})
    assert weight()[2] == "muddies"
    spec_sheet.put_on_trial(database, bench.slug, row.field, on_trial=True)
    assert weight()[2] == "allowed"


def test_the_matrix_says_each_condition_of_each_setup(bench: Bench) -> None:
    note(bench, "A", background="none", room="20")
    note(bench, "B", background="none", room="27")
    view = fairness.show_fairness(bench.database, bench.slug, key(bench))
    matrix = view.matrix
    assert matrix is not None
    assert matrix.verdict == "Fair as far as noted, with 1 caveat."
    assert matrix.because == ("Room temperature: 27 °C on B, against 20 °C on A.",)
    at = matrix.labels.index("B")
    rows = {row.title: row for row in matrix.rows}
    assert (rows["Room"].base, rows["Room"].cells[at].state, rows["Room"].cells[at].words) == (
        "20 °C",
        "muddies",
        "27 °C",
    )
    assert rows["Background programs"].cells[at].state == "same"
    assert rows["Same edit"].cells[at].state == "unknown"
    # A row that nobody noted anything of is not there, but for those of the job.
    assert "Encoder path" not in rows


def test_a_pair_that_did_not_do_the_same_job_is_the_verdict(bench: Bench) -> None:
    bring(bench, "A", 100, 50)
    bring(bench, "B", 100, 49)
    matrix = fairness.show_fairness(bench.database, bench.slug, key(bench)).matrix
    assert matrix is not None
    assert matrix.verdict == "1 pair not comparable."
    cell = matrix.rows[0].cells[matrix.labels.index("B")]
    assert (matrix.rows[0].title, cell.state) == ("Same edit", "breaks")
