"""Readings of runs that are over: typed beside any run, put right with history, never lost."""

from __future__ import annotations

from typing import Any

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.readings import readings_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.runs import marks, runs
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Readings")


def read(bench: Bench, run: records.Run, **said: Any) -> runs.RunDetail:
    return marks.note_reading(bench.database, run.id, said)


def told(detail: runs.RunDetail) -> list[tuple[float, float | None, str | None]]:
    return [
        (m.elapsed_s, m.noise_db or m.fraction or m.file_gb, m.withdrawn_why) for m in detail.marks
    ]


def test_heat_noise_and_file_size_stand_beside_a_typed_run(bench: Bench) -> None:
    run = bench.run("A", "6:17").run
    read(bench, run, noise_db=41.0)
    read(bench, run, temperature_c=88.0)
    detail = read(bench, run, file_gb=1.2)
    # All of them are of the run's end, and none hides another.
    assert [round(mark.elapsed_s, 3) for mark in detail.marks] == [377.0, 377.001, 377.002]
    readings = readings_of(SHELF.take(bench.database, bench.slug))
    assert (readings.noise_db[0], readings.peak_c[0]) == (41.0, 88.0)


def test_late_progress_of_a_finished_run_counts_as_if_it_was_marked(bench: Bench) -> None:
    run = bench.run("A", "10:00").run
    for at, part in ((120.0, 0.4), (240.0, 0.63)):
        detail = read(bench, run, elapsed_s=at, fraction=part)
    assert detail.flags == ("slowed down",)
    with pytest.raises(RefusedError, match="goes backwards"):
        read(bench, run, elapsed_s=300.0, fraction=0.5)
    with pytest.raises(RefusedError, match="after the end"):
        read(bench, run, elapsed_s=700.0, fraction=0.9)


def test_a_mark_is_put_right_and_what_it_was_stays(bench: Bench) -> None:
    run = bench.run("A", "10:00").run
    first = read(bench, run, elapsed_s=120.0, fraction=0.4).marks[0]
    instead: dict[str, Any] = {"elapsed_s": 120.0, "fraction": 0.2}
    detail = marks.put_right(bench.database, first.id, "misread", instead)
    assert told(detail) == [(120.0, 0.4, "misread"), (120.0, 0.2, None)]
    book = SHELF.take(bench.database, bench.slug)
    assert [mark.fraction for mark in book.marks] == [0.2]
    assert [mark.fraction for mark in book.withdrawn_marks] == [0.4]
    gone = marks.put_right(bench.database, detail.marks[1].id, "not read at all", None)
    assert {mark.withdrawn_why for mark in gone.marks} == {"misread", "not read at all"}
    assert SHELF.take(bench.database, bench.slug).marks == ()


def test_what_cannot_be_leaves_the_mark_as_it_was(bench: Bench) -> None:
    run = bench.run("A", "10:00").run
    mark = read(bench, run, elapsed_s=120.0, fraction=0.4).marks[0]
    with pytest.raises(RefusedError):
        marks.put_right(bench.database, mark.id, "misread", {"elapsed_s": 120.0, "noise_db": 900.0})
    assert told(runs.show_run(bench.database, run.id)) == [(120.0, 0.4, None)]


def test_a_pack_keeps_what_was_withdrawn(bench: Bench, database: Database) -> None:
    run = bench.run("A", "10:00").run
    mark = read(bench, run, elapsed_s=120.0, noise_db=38.0).marks[0]
    marks.put_right(database, mark.id, "a door slammed", {"elapsed_s": 120.0, "noise_db": 33.0})
    pack = export_pack(database, bench.slug)
    there = import_zip(database, zip_files(write_pack(pack)))
    kept = [
        (m.elapsed_s, m.noise_db, m.withdrawn_why) for m in export_pack(database, there.slug).marks
    ]
    assert sorted(kept, key=str) == sorted(
        [(120.0, 38.0, "a door slammed"), (120.0, 33.0, None)], key=str
    )
    assert readings_of(SHELF.take(database, there.slug)).noise_db == {0: 33.0}


def test_a_device_that_sends_its_marks_again_brings_nothing_back(bench: Bench) -> None:
    run = bench.run("A", "10:00").run
    sent = [{"elapsed_s": 120.0, "fraction": 0.4}, {"elapsed_s": 240.0, "fraction": 0.6}]
    first = marks.add_marks(bench.database, run.id, sent).marks[0]
    marks.put_right(bench.database, first.id, "misread", {"elapsed_s": 121.0, "fraction": 0.2})
    detail = marks.add_marks(bench.database, run.id, sent)
    assert [mark.fraction for mark in detail.marks if mark.withdrawn_at is None] == [0.2, 0.6]
