"""Changes of several runs, taking back, pictures, trials and troubles."""

from __future__ import annotations

from typing import Any

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.bench import observed
from true_margin.desk.errors import RefusedError, StaleError
from true_margin.desk.margins.margins import show_ladder
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.runs import changes as run_changes
from true_margin.desk.runs import entry, runs
from true_margin.desk.runs import marks as run_marks
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import Pack
from true_margin.store import records
from true_margin.store.database import Database

PNG = b"\x89PNG\r\n\x1a\n" + bytes(50)


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Changes")


def seen(*found: records.Run) -> list[run_changes.RunAt]:
    return [run_changes.RunAt(run.id, run.version) for run in found]


def stored(bench: Bench) -> list[records.Run]:
    return [each.run for each in runs.show_runs(bench.database, bench.slug).runs]


def test_several_runs_are_voided_and_counted_again_together(bench: Bench) -> None:
    made = [bench.run("A", typed).run for typed in ("5:00", "5:02", "5:04")]
    void = {"status": "void", "reason": "recorder left on"}
    done = run_changes.revise_many(
        bench.database, bench.slug, seen(*made[:2]), void, "Marit", "recorder left on"
    )
    assert done.says == "Voided: 2 runs."
    assert [run.status for run in stored(bench)] == ["void", "void", "ok"]
    back = run_changes.undo_change(bench.database, bench.slug, seen(*done.runs), "Marit")
    assert [(run.status, run.reason) for run in stored(bench)] == [("ok", None)] * 3
    history = runs.show_run(bench.database, back.runs[0].id).revisions
    assert [each.why for each in history] == ["the last change taken back", "recorder left on"]


def test_one_that_was_changed_meanwhile_stops_all(bench: Bench) -> None:
    one, two = (bench.run("A", typed).run for typed in ("5:00", "5:02"))
    runs.revise_run(bench.database, two.id, 1, {"typed": "5:03"}, "Ilse", "misread")
    void = {"status": "void", "reason": "x"}
    with pytest.raises(StaleError):
        run_changes.revise_many(bench.database, bench.slug, seen(one, two), void, "Marit", "x")
    assert [run.status for run in stored(bench)] == ["ok", "ok"]


def test_runs_of_another_shootout_are_refused(bench: Bench) -> None:
    foreign = new_bench(bench.database, "Other").run("A", "5:00").run
    with pytest.raises(RefusedError, match="not in this shootout"):
        run_changes.undo_change(bench.database, bench.slug, seen(foreign), "Marit")


def test_taking_a_correction_back_gives_the_value_and_its_reading_back(bench: Bench) -> None:
    run = bench.run("A", "5:00.4", placed_u=0.05).run
    changed = runs.revise_run(
        bench.database, run.id, 1, {"typed": "~6m", "method": "remembered"}, "Marit", "misread"
    ).run
    assert changed.approximate
    (back,) = run_changes.undo_change(bench.database, bench.slug, seen(changed), "Marit").runs
    assert (back.value, back.u, back.method, back.approximate) == (
        run.value,
        run.u,
        "stopwatch",
        False,
    )


def test_taking_an_entry_back_voids_it_with_the_reason(bench: Bench) -> None:
    run = bench.run("A", "5:00").run
    run_changes.undo_change(bench.database, bench.slug, seen(run), "Marit")
    (kept,) = stored(bench)
    assert (kept.status, kept.reason) == ("void", run_changes.UNDONE_ENTRY)


def test_two_devices_add_to_the_reading_and_a_correction_keeps_that(bench: Bench) -> None:
    alone, both = bench.run("A", "5:00.0").run, bench.run("A", "5:00.0", placed_u=0.2).run
    assert both.u == pytest.approx(alone.u + 0.2)
    corrected = runs.revise_run(
        bench.database, both.id, 1, {"typed": "5:01.0"}, "Marit", "pressed late"
    ).run
    assert corrected.u == pytest.approx(alone.u + 0.2)


def test_two_timecodes_and_a_rate_are_one_run(bench: Bench) -> None:
    run = bench.run("A", "01:00:10:05 - 01:06:27:12 @ 25").run
    assert run.value == pytest.approx(377.28)
    assert (run.method, run.resolution) == ("recording", 0.04)
    assert run.u == pytest.approx(((0.04 / 6**0.5) ** 2 + (0.04 / 12**0.5) ** 2) ** 0.5)


def test_a_failed_run_keeps_how_far_it_came_and_what_was_seen_before(bench: Bench) -> None:
    fields: dict[str, Any] = {
        "status": "failed",
        "reason": "crash",
        "reached": 0.4,
        "conditions": {"recorder_off": False, "fresh_boot": True},
    }
    run = bench.run("A", "2:00", **fields).run
    detail = runs.show_run(bench.database, run.id)
    assert detail.run.reached == 0.4
    assert detail.wrong_before == ("screen recorder on",)


def test_an_apps_own_estimate_is_judged_afterwards(bench: Bench) -> None:
    run = bench.run("A", "5:00").run
    detail = run_marks.add_marks(
        bench.database,
        run.id,
        [{"elapsed_s": 60.0, "left_s": 300.0}, {"elapsed_s": 200.0, "event": "fan starts"}],
    )
    (estimate,) = detail.estimates
    assert (estimate.said_s, estimate.error_s) == (360.0, 60.0)
    assert [mark.event for mark in detail.marks] == [None, "fan starts"]


@pytest.mark.parametrize(
    ("mark", "says"),
    [
        ({"elapsed_s": 5.0}, "says nothing"),
        ({"elapsed_s": 5.0, "event": "  "}, "says nothing"),
        ({"elapsed_s": 5.0, "temperature_c": 900.0}, "not between"),
        ({"elapsed_s": 5.0, "cpu_load": float("nan")}, "a number is needed"),
    ],
)
def test_marks_that_say_nothing_or_too_much(
    bench: Bench, mark: dict[str, float], says: str
) -> None:
    run = bench.run("A", "5:00").run
    with pytest.raises(RefusedError, match=says):
        run_marks.add_marks(bench.database, run.id, [mark])


def test_pictures_are_kept_as_they_came(bench: Bench) -> None:
    run = bench.run("A", "5:00").run
    (picture,) = run_marks.attach_picture(bench.database, run.id, "end.png", PNG, "Marit").pictures
    assert (picture.name, picture.media_type, picture.size) == ("end.png", "image/png", len(PNG))
    assert run_marks.show_picture(bench.database, picture.id) == ("image/png", PNG)
    for content, says in ((b"<svg/>", "neither"), (PNG + bytes(5_000_000), "larger than 5 MB")):
        with pytest.raises(RefusedError, match=says):
            run_marks.attach_picture(bench.database, run.id, "x.png", content, "Marit")


def test_why_a_run_is_flagged_is_said_with_its_figures(bench: Bench) -> None:
    for setup in "AB":
        for typed in ("5:00", "5:01", "5:00", "5:02"):
            bench.run(setup, typed)
    odd = bench.run("A", "6:30").run
    detail = runs.show_run(bench.database, odd.id)
    assert "odd one" in detail.flags
    (because,) = (each for each in detail.because if each.startswith("odd: "))
    assert "30 % slower than the other 4" in because
    assert "three times the usual spread" in because


def test_the_newest_trial_counts_and_every_trouble(bench: Bench) -> None:
    task, setup = bench.tasks["Parade"], bench.setups["A"]
    run = bench.run("A", "5:00").run
    for grade in ("stutters", "smooth"):
        tried = {"setup_id": setup, "kind": "scrub", "grade": grade, "freezes": 1}
        found = observed.note_trial(bench.database, bench.slug, {"task_id": task, **tried}, "Marit")
    assert [(each.kind, each.grade) for each in found.trials] == [("scrub", "smooth")]
    for note in ("first", "second"):
        trouble = {"setup_id": setup, "kind": "crash", "note": note, "run_id": run.id}
        found = observed.note_trouble(
            bench.database, bench.slug, {"task_id": task, **trouble}, "Marit"
        )
    assert [each.note for each in found.troubles] == ["second", "first"]
    assert len(runs.show_run(bench.database, run.id).troubles) == 2


@pytest.mark.parametrize(
    ("seen_there", "says"),
    [
        ({"kind": "scrub", "grade": "slow", "dropped": 3}, "both numbers"),
        ({"kind": "scrub", "grade": "slow", "dropped": 9, "total": 5}, "cannot be dropped"),
    ],
)
def test_trials_that_cannot_be(bench: Bench, seen_there: dict[str, object], says: str) -> None:
    fields = {"setup_id": bench.setups["A"], **seen_there}
    with pytest.raises(RefusedError, match=says):
        observed.note_trial(
            bench.database, bench.slug, {"task_id": bench.tasks["Parade"], **fields}, "Marit"
        )


def test_a_trouble_belongs_to_its_run(bench: Bench) -> None:
    run = bench.run("B", "5:00").run
    trouble = {"setup_id": bench.setups["A"], "kind": "crash", "run_id": run.id}
    with pytest.raises(RefusedError, match="not made of this task on this setup"):
        observed.note_trouble(
            bench.database, bench.slug, {"task_id": bench.tasks["Parade"], **trouble}, "Marit"
        )
    other = {"setup_id": bench.setups["A"], "kind": "other"}
    with pytest.raises(RefusedError, match="needs a note"):
        observed.note_trouble(
            bench.database, bench.slug, {"task_id": bench.tasks["Parade"], **other}, "Marit"
        )


def test_what_came_with_a_pack_is_taken_back_without_its_foreign_ids(
    database: Database, demo_pack: Pack
) -> None:
    """Earlier revisions of a pack name no place, or one of another database."""
    shootout = import_pack(database, demo_pack)
    runs_there = [each.run for each in runs.show_runs(database, shootout.slug).runs]
    revised = next(run for run in runs_there if run.version > 1)
    back = run_changes.undo_change(database, shootout.slug, seen(revised), "Marit").runs[0]
    assert (back.setup_id, back.task_id, back.version) == (
        revised.setup_id,
        revised.task_id,
        revised.version + 1,
    )
    assert back.status == "ok"


def test_a_run_that_was_moved_goes_back_to_where_it_was(bench: Bench) -> None:
    run = bench.run("A", "5:00").run
    moved = runs.revise_run(
        bench.database, run.id, 1, {"setup_id": bench.setups["B"]}, "Marit", "wrong machine"
    ).run
    (back,) = run_changes.undo_change(bench.database, bench.slug, seen(moved), "Marit").runs
    assert (moved.setup_id, back.setup_id) == (bench.setups["B"], bench.setups["A"])


def test_rounds_are_renamed_put_in_order_and_given_their_versions(database: Database) -> None:
    bench = new_bench(database, "Rounds")
    bench.run("A", "6:17")
    first = shootouts.list_rounds(database, bench.slug)[0]
    older = shootouts.add_round(database, bench.slug, "winter", {"Heddle": "8.1"})
    ordered = shootouts.order_rounds(database, bench.slug, [older.id, first.id])
    assert [round_.name for round_ in ordered] == ["winter", "round 1"]
    view = show_ladder(database, bench.slug, str(bench.tasks["Parade"]))
    assert view.round == "round 1"
    changed = shootouts.change_round(database, first.id, "spring", {"Heddle": "8.2"})
    assert (changed.name, changed.versions[0].version) == ("spring", "8.2")
    with pytest.raises(RefusedError, match="Another round is called 'Winter'"):
        shootouts.change_round(database, first.id, "Winter", {})
    with pytest.raises(RefusedError, match="every round once"):
        shootouts.order_rounds(database, bench.slug, [older.id, older.id])
    # A run of before goes to its round by the version that it was run with.
    read = entry.read_line(database, bench.slug, "a / parade / 6:30 @8.1")
    assert (read.ready, read.round, read.typed) == (True, "winter", "6:30")
    assert entry.read_line(database, bench.slug, "a / parade / 6:30 @spring").round == "spring"
    assert entry.read_line(database, bench.slug, "a / parade / 6:30 @9").problem == (
        "No round is called “9”."
    )
    timecodes = "a / parade / 01:00:10:05 - 01:06:27:12 @ 25"
    assert entry.read_line(database, bench.slug, timecodes).method == "recording"


def test_the_reading_and_the_round_of_a_run_may_be_put_right(database: Database) -> None:
    bench = new_bench(database, "Readings")
    run = bench.run("A", "6:17").run
    winter = shootouts.add_round(database, bench.slug, "winter", {})
    changes = {"method": "log", "round_id": winter.id}
    after = runs.revise_run(database, run.id, run.version, changes, "Jo", "it was the log").run
    assert (after.method, after.round_id) == ("log", winter.id)
    assert after.u < run.u
    (revision,) = runs.show_run(database, run.id).revisions
    assert (revision.why, revision.before["method"]) == ("it was the log", "stopwatch")
