"""A shootout given out and brought in again is the same shootout."""

from __future__ import annotations

import pytest

from tests.desk.helpers import import_zip, new_bench
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.packs import incoming as pack_in
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.case_result import result_object
from true_margin.exchange.data_pack import Pack, write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database


def comparable(pack: Pack) -> Pack:
    """A pack with the ids of its runs and inquiries replaced by their places."""
    places = {run.id: str(run.place) for run in pack.runs}
    asked = {inquiry.id: str(place) for place, inquiry in enumerate(pack.inquiries)}
    return pack.model_copy(
        update={
            "shootout": pack.shootout.model_copy(update={"id": None}),
            "runs": [
                r.model_copy(update={"id": places[r.id]})
                for r in sorted(pack.runs, key=lambda r: r.place)
            ],
            "inquiries": [i.model_copy(update={"id": asked[i.id]}) for i in pack.inquiries],
            "inquiry_steps": [
                s.model_copy(update={"inquiry": asked[s.inquiry]}) for s in pack.inquiry_steps
            ],
            "inquiry_runs": sorted(
                (asked[link.inquiry], places[link.run], link.step) for link in pack.inquiry_runs
            ),
            "revisions": [r.model_copy(update={"run": places[r.run]}) for r in pack.revisions],
            "marks": sorted(
                (m.model_copy(update={"run": places[m.run]}) for m in pack.marks),
                key=lambda m: (m.run, m.elapsed_s),
            ),
        }
    )


def test_out_and_in_again_is_equal(database: Database, demo: records.Shootout) -> None:
    out = pack_out.export_pack(database, demo.slug)
    again = import_zip(database, zip_files(write_pack(out)))
    assert comparable(pack_out.export_pack(database, again.slug)) == comparable(out)
    one, other = (
        result_object(analysis_of(SHELF.take(database, slug))) for slug in (demo.slug, again.slug)
    )
    assert one == other


def test_history_travels_with_the_runs(database: Database) -> None:
    bench = new_bench(database)
    run = bench.run("A", "6:17").run
    runs.revise_run(database, run.id, 1, {"typed": "6:18"}, "Jo", "misread")
    again = import_zip(database, zip_files(write_pack(pack_out.export_pack(database, bench.slug))))
    (copied,) = runs.show_runs(database, again.slug).runs
    detail = runs.show_run(database, copied.run.id)
    assert (detail.run.value, detail.run.version) == (378.0, 2)
    assert [(r.why, r.before["typed"]) for r in detail.revisions] == [("misread", "6:17")]


def test_a_pack_that_is_off_stores_nothing(database: Database, demo_pack: Pack) -> None:
    before = len(shootouts.list_shootouts(database))
    files = write_pack(demo_pack)
    files["revisions.csv"] = files["revisions.csv"].replace(b'"{', b'"[', 1)
    with pytest.raises(RefusedError, match="not JSON"):
        import_zip(database, zip_files(files))
    assert len(shootouts.list_shootouts(database)) == before


def test_resetting_the_demo_puts_the_old_one_aside(empty: Database, demo_pack: Pack) -> None:
    empty.migrate()
    kept = new_bench(empty, "My own")
    first = pack_in.import_pack(empty, demo_pack, demo=True)
    assert shootouts.archive_demo(empty) == 1
    second = pack_in.import_pack(empty, demo_pack, demo=True)
    assert second.slug == first.slug
    listed = [each.id for each in shootouts.list_shootouts(empty)]
    assert listed == [second.id, shootouts.get_shootout(empty, kept.slug).id]


def test_a_shootout_that_is_not_there(database: Database) -> None:
    with pytest.raises(NotFoundError, match="no shootout no-such-shootout"):
        shootouts.get_shootout(database, "no-such-shootout")
