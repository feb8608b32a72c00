"""Tasks in full: settings, revisions, corrections, presets, playback."""

from __future__ import annotations

from typing import Any

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.analysis import mix_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.margins import margins
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.runs import entry
from true_margin.desk.tasks import outputs, tasks
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    made = new_bench(database, "Tasks")
    change(made, settings={"codec": "HEVC", "bit_rate": "60"}, operation="export")
    return made


def sheets(bench: Bench) -> dict[str, tasks.TaskSheet]:
    return {each.task.name: each for each in tasks.show_tasks(bench.database, bench.slug)}


def change(bench: Bench, name: str = "Parade", **changes: Any) -> records.Task:
    task = sheets(bench)[name].task
    return tasks.change_task(bench.database, task.id, task.version, changes)


def test_settings_are_one_line_and_can_be_typed_again(bench: Bench) -> None:
    sheet = sheets(bench)["Parade"]
    assert sheet.settings_line == "HEVC, 60 Mbit/s"
    assert sheet.typed == {"codec": "HEVC", "bit_rate": "60"}
    with pytest.raises(RefusedError, match="no picture size"):
        change(bench, settings={"size": "large"})


def test_before_any_run_a_job_is_just_changed(bench: Bench) -> None:
    changed = change(bench, settings={"bit_rate": "80"}, starts_when="key press")
    assert (changed.revision, changed.settings["bit_rate"]) == (1, 80.0)
    assert list(sheets(bench)) == ["Parade"]


def test_a_setting_that_changes_after_runs_makes_a_new_revision(bench: Bench) -> None:
    bench.run("A", "6:10")
    new = change(bench, settings={"bit_rate": "80"})
    assert (new.name, new.revision, new.settings["bit_rate"]) == ("Parade", 2, 80.0)
    old = sheets(bench)["Parade (revision 1)"]
    assert (old.runs, old.followed_by, old.task.settings["bit_rate"]) == (1, new.id, 60.0)
    assert (old.task.superseded, sheets(bench)["Parade"].runs) == (True, 0)
    with pytest.raises(RefusedError, match="A later revision follows this one"):
        change(bench, "Parade (revision 1)", settings={"bit_rate": "90"})
    assert entry.read_line(bench.database, bench.slug, "a / parade / 6:10").task_id == new.id


@pytest.mark.parametrize(
    "changes",
    [
        {"operation": "transcode"},
        {"ends_when": "file closed"},
        {"app": "Sprocketry"},
        {"timeline": "Parade, short"},
    ],
)
def test_whatever_changes_the_job_makes_a_revision(bench: Bench, changes: dict[str, str]) -> None:
    bench.run("A", "6:10")
    assert change(bench, **changes).revision == 2


def test_what_does_not_change_the_job_makes_none(bench: Bench) -> None:
    bench.run("A", "6:10")
    same = change(bench, settings={"bit_rate": "60 Mbit/s"}, note="as before", operation="export")
    assert (same.revision, same.note) == (1, "as before")
    assert change(bench, work=700.0, unit="s").revision == 1


def test_a_description_that_was_wrong_is_put_right_with_a_reason(bench: Bench) -> None:
    bench.run("A", "6:10")
    right = change(bench, settings={"bit_rate": "80"}, correction="misread the dialog")
    assert (right.revision, right.settings["bit_rate"]) == (1, 80.0)
    assert "misread the dialog (settings was HEVC, 60 Mbit/s)" in (right.note or "")
    assert sheets(bench)["Parade"].runs == 1


def test_the_mix_counts_a_revision_once(bench: Bench) -> None:
    for name, typed in (("A", "6:10"), ("B", "6:20")):
        bench.run(name, typed)
    new = change(bench, settings={"bit_rate": "80"})

    def counted() -> dict[str, float]:
        book = SHELF.take(bench.database, bench.slug)
        names = [task.name for task in book.tasks]
        return dict(zip(names, mix_of(book), strict=True))

    assert counted() == {"Parade": 0.0, "Parade (revision 1)": 1.0}
    bench.tasks["Parade"] = new.id
    bench.run("A", "7:00")
    assert counted() == {"Parade": 1.0, "Parade (revision 1)": 0.0}
    later = change(bench, settings={"bit_rate": "90"})
    bench.tasks["Parade"] = later.id
    bench.run("A", "7:30")
    assert counted() == {"Parade": 1.0, "Parade (revision 1)": 0.0, "Parade (revision 2)": 0.0}


def test_revisions_travel_in_a_pack(bench: Bench) -> None:
    bench.run("A", "6:10")
    change(bench, settings={"bit_rate": "80"})
    packed = zip_files(write_pack(pack_out.export_pack(bench.database, bench.slug)))
    again = import_zip(bench.database, packed)
    copied = {s.task.name: s for s in tasks.show_tasks(bench.database, again.slug)}
    assert copied["Parade (revision 1)"].followed_by == copied["Parade"].task.id
    assert [s.settings_line for s in copied.values()] == ["HEVC, 80 Mbit/s", "HEVC, 60 Mbit/s"]


def test_presets_ship_and_can_be_kept(bench: Bench) -> None:
    words = tasks.task_words(bench.database)
    assert (words.operations[0], words.events[0]) == ("export", "key press")
    tasks.keep_preset(bench.database, "Mine", {"codec": "HEVC"})
    again = tasks.keep_preset(bench.database, "Mine", {"codec": "H.264", "depth": "10"})
    own = [preset for preset in again.presets if preset.own and preset.name == "Mine"]
    assert [(p.name, p.settings) for p in own] == [("Mine", {"codec": "H.264", "depth": "10"})]
    with pytest.raises(RefusedError, match="ships with the app"):
        tasks.keep_preset(bench.database, words.presets[0].name, {})


def test_playback_is_looked_at_and_stands_in_no_figure(bench: Bench) -> None:
    task = bench.task("Parade, played", operation="playback")
    assert task.measure == "observation"
    with pytest.raises(RefusedError, match="looked at, not timed"):
        bench.run("A", "6:10", "Parade, played")
    with pytest.raises(RefusedError, match="Only playback"):
        bench.task("Looked at", measure="observation")
    bench.run("A", "6:10")
    view = margins.show_ladder(bench.database, bench.slug, None)
    assert [choice.name for choice in view.choices] == ["Parade"]
    note = {"quality": "half", "dropped": 12, "total": 1500, "note": None}
    seen = outputs.note_playback(bench.database, task.id, bench.setups["A"], note, "Jo")
    first, second = seen.rows
    assert first.playback is not None
    assert (first.playback.quality, first.playback.dropped, second.playback) == ("half", 12, None)


@pytest.mark.parametrize(
    ("seen", "says"),
    [
        ({"quality": "full", "dropped": 3, "total": None}, "both counts"),
        ({"quality": "full", "dropped": 30, "total": 3}, "cannot have been dropped"),
    ],
)
def test_counts_of_frames_that_do_not_fit(bench: Bench, seen: dict[str, Any], says: str) -> None:
    task = bench.task("Parade, played", operation="playback")
    with pytest.raises(RefusedError, match=says):
        outputs.note_playback(bench.database, task.id, bench.setups["A"], seen, "Jo")


def test_a_timed_task_is_not_looked_at(bench: Bench) -> None:
    seen = {"quality": "full", "dropped": None, "total": None}
    with pytest.raises(RefusedError, match="timed, not watched"):
        outputs.note_playback(bench.database, bench.tasks["Parade"], bench.setups["A"], seen, "Jo")


def test_runs_of_archived_machines_keep_their_job_too(bench: Bench) -> None:
    bench.run("B", "6:10")
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[1].machine
    lineup.archive_machine(bench.database, machine.id, archived=True)
    assert change(bench, settings={"bit_rate": "80"}).revision == 2


def test_a_task_becomes_looked_at_and_timed_again(bench: Bench) -> None:
    assert change(bench, operation="playback").measure == "observation"
    assert change(bench, operation="export").measure == "time"
    bench.run("A", "6:10")
    with pytest.raises(RefusedError, match="make a new task for what is looked at"):
        change(bench, operation="playback")
