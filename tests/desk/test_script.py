"""The script desk: verdicts attached to the data, lines offered, nothing lost."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.errors import RefusedError, StaleError
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.publish import script
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.runs import runs
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database

TEXT = "Hello.\nB is twice as fast as A on Parade.\nB is faster than A in every task.\n"


@pytest.fixture
def bench(database: Database) -> Bench:
    """A takes 10 minutes, B 5; of B one slow run is in the book."""
    bench = new_bench(database, "Script")
    for repeat in range(3):
        bench.run("A", f"10:00.{repeat}", method="log")
        bench.run("B", f"5:00.{repeat}", method="log")
    return bench


def test_verdicts_change_with_the_runs_and_say_what_they_were(bench: Bench) -> None:
    view = script.keep_script(bench.database, bench.slug, TEXT, 0)
    assert [(c.line, c.verdict, c.was) for c in view.check.claims] == [
        (2, "holds", None),
        (3, "holds", None),
    ]
    assert view.check.claims[0].figure is not None
    assert view.check.claims[0].figure.startswith("times as fast: 2.00, ")
    assert view.check.claims[0].behind[:2] == ("B: 3 runs", "A: 3 runs")
    assert view.check.claims[0].task == str(bench.tasks["Parade"])
    for typed in ("6:30", "6:31", "6:29", "6:30"):
        bench.run("B", typed, method="log")
    again = script.show_script(bench.database, bench.slug)
    assert (again.check.claims[0].verdict, again.check.claims[0].was) == ("overstated", "holds")
    lines = {
        line.stage: (line.facts, line.todo)
        for line in show_sheet(bench.database, bench.slug).stages
    }
    assert lines["publish"] == (("2 claims",), ("1 overstated", "1 changed"))
    # What is kept anew does not hide the change; a person's look does.
    kept = script.keep_script(bench.database, bench.slug, TEXT + "More.\n", again.version)
    assert kept.check.claims[0].was == "holds"
    seen = script.see_script(bench.database, bench.slug, kept.version)
    assert (seen.check.claims[0].verdict, seen.check.claims[0].was) == ("overstated", None)


def test_two_people_get_a_choice(bench: Bench) -> None:
    kept = script.keep_script(bench.database, bench.slug, TEXT, 0)
    with pytest.raises(StaleError):
        script.keep_script(bench.database, bench.slug, "Other.", 0)
    script.keep_script(bench.database, bench.slug, "Mine.", kept.version)
    with pytest.raises(StaleError):
        script.keep_script(bench.database, bench.slug, "Theirs.", kept.version)
    assert script.show_script(bench.database, bench.slug).text == "Mine."


def test_what_is_typed_is_checked_without_being_kept(bench: Bench) -> None:
    (line,) = script.check_script(bench.database, bench.slug, "A beats B on Parade.").claims
    assert (line.verdict, line.say) == ("backwards", "B is 2.00 times as fast as A on Parade.")
    assert script.show_script(bench.database, bench.slug).version == 0
    with pytest.raises(RefusedError, match="200000 are the most"):
        script.check_script(bench.database, bench.slug, "x" * 200_001)
    with pytest.raises(RefusedError, match="no script yet"):
        script.see_script(bench.database, bench.slug, 1)


def test_another_name_stands_for_a_setup(bench: Bench) -> None:
    text = "The big grey one beats A on Parade."
    assert script.check_script(bench.database, bench.slug, text).claims[0].verdict != "holds"
    view = script.name_setup(bench.database, bench.slug, "big grey one", bench.setups["B"])
    assert view.names == {"big grey one": bench.setups["B"]}
    assert script.check_script(bench.database, bench.slug, text).claims[0].verdict == "holds"
    back = script.name_setup(bench.database, bench.slug, "big grey one", None)
    assert back.names == {}
    with pytest.raises(RefusedError, match="not in this line-up"):
        script.name_setup(bench.database, bench.slug, "x", bench.tasks["Parade"])


def test_the_script_travels_in_the_pack(bench: Bench) -> None:
    script.name_setup(bench.database, bench.slug, "grey", bench.setups["B"])
    version = script.show_script(bench.database, bench.slug).version
    long = TEXT + "and so on, " * 15_000
    script.keep_script(bench.database, bench.slug, long, version)
    out = pack_out.export_pack(bench.database, bench.slug)
    again = import_zip(bench.database, zip_files(write_pack(out)))
    view = script.show_script(bench.database, again.slug)
    assert view.text == long
    assert list(view.names) == ["grey"]
    assert [c.verdict for c in view.check.claims] == ["holds", "holds"]


def test_the_demos_script_is_wrong_in_a_third(database: Database, demo: records.Shootout) -> None:
    view = script.show_script(database, demo.slug)
    assert len(view.check.claims) == 12
    assert [c.verdict for c in view.check.claims if c.verdict != "holds"] == [
        "overstated",
        "within noise",
        "within noise",
        "understated",
    ]
    assert [each.verdict for each in view.true] == ["holds"] * 5
    assert len(view.tempting) == 5
    assert not {each.verdict for each in view.tempting} & {"holds", "likely"}


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # By what meters showed beside runs.
        ("The Cairn Brick is quieter than the Halyard L.", "holds"),
        ("Halyard L hits 95 degrees.", "overstated"),
        ("Cairn Brick draws less power than the Tarn Desk.", "holds"),
        ("Cairn Brick is the quietest.", "likely"),
        # By what Picks says for a viewer.
        ("The festival filmer should buy the Cairn Brick.", "holds"),
        ("The festival filmer should buy the Ferrous T9 stock.", "overstated"),
        ("The village teacher should keep the Tarn Desk.", "holds"),
        ("The Cairn Brick pays for itself within a year for the photo volunteer.", "overstated"),
        ("The Cairn Brick saves the festival filmer 29 hours a year.", "holds"),
        ("The Halyard L isn't worth the money.", "asked"),
    ],
)
def test_meters_and_picks_are_asked_too(
    database: Database, demo: records.Shootout, text: str, verdict: str
) -> None:
    (line,) = script.check_script(database, demo.slug, text).claims
    assert line.verdict == verdict
    if line.say is not None:
        (again,) = script.check_script(database, demo.slug, line.say).claims
        assert again.verdict == "holds"


def test_groups_and_two_apps(database: Database, demo: records.Shootout) -> None:
    def verdict(text: str) -> str:
        (line,) = script.check_script(database, demo.slug, text).claims
        return line.verdict

    # The weakest of the laptops decides.
    assert verdict("The laptops are faster than Tarn Desk on rehearsal stills.") in (
        "holds",
        "untested",
    )
    text = "Halyard L is 1.5 times as fast in Heddle as in Sprocketry on the backstage diary."
    assert verdict(text) == "holds"
    assert verdict("Cairn Brick is faster than Tarn Desk on the lantern parade.") == "asked"
    assert runs.show_runs(database, demo.slug).runs
