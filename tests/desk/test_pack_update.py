"""A pack that went elsewhere and came back: shown first, taken over, nothing lost."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import DEMO, PROJECT, database_apart
from tests.desk.helpers import Bench, import_zip, new_bench
from tests.desk.test_packs import comparable
from true_margin.desk.bench import observed
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, StaleError
from true_margin.desk.lineup import lineup
from true_margin.desk.margins import inquiries, judgements
from true_margin.desk.packs import incoming as pack_in
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.packs import update as pack_update
from true_margin.desk.picks import viewers
from true_margin.desk.publish import script
from true_margin.desk.runs import marks, runs
from true_margin.exchange.data_pack import Pack, read_folder, read_pack, write_pack, zip_files
from true_margin.exchange.pack_tables import PackTaskSetting
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database


@pytest.fixture(scope="module")
def elsewhere(cluster: Cluster) -> Iterator[Database]:
    """The database of somebody else."""
    with database_apart(cluster, "neighbour") as database:
        database.migrate()
        yield database


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Lent out")
    bench.run("A", "6:10")
    bench.run("B", "9:02")
    return bench


def out(database: Database, slug: str) -> Pack:
    return pack_out.export_pack(database, slug)


def zipped(pack: Pack) -> bytes:
    return zip_files(write_pack(pack))


def lend(bench: Bench, elsewhere: Database) -> Bench:
    """The same shootout at somebody else's."""
    there = import_zip(elsewhere, zipped(out(bench.database, bench.slug)))
    book = SHELF.take(elsewhere, there.slug)
    return Bench(
        elsewhere,
        there.slug,
        {s.machine: s.id for s in book.setups},
        {task.name: task.id for task in book.tasks},
    )


def take_back(bench: Bench, there: Bench) -> pack_update.PackPreview:
    content = zipped(out(there.database, there.slug))
    preview = pack_update.preview_zip(bench.database, content)
    assert preview.slug == bench.slug
    assert preview.revision is not None
    pack_update.update_from_zip(bench.database, content, bench.slug, preview.revision)
    return preview


def test_ids_are_kept_where_nothing_has_them(bench: Bench, elsewhere: Database) -> None:
    there = lend(bench, elsewhere)
    pack = out(bench.database, bench.slug)
    assert out(elsewhere, there.slug) == pack
    copy = import_zip(bench.database, zipped(pack))
    assert copy.id != pack.shootout.id


def test_what_was_done_elsewhere_is_taken_over(bench: Bench, elsewhere: Database) -> None:
    there = lend(bench, elsewhere)
    (a, b) = (each.run for each in runs.show_runs(elsewhere, there.slug).runs)
    runs.revise_run(elsewhere, a.id, 1, {"typed": "6:18"}, "Jo", "misread")
    runs.revise_run(elsewhere, a.id, 2, {"typed": "6:19"}, "Jo", "misread again")
    runs.revise_run(elsewhere, b.id, 1, {"status": "void", "reason": "wrong button"}, "Jo", "x")
    there.machine("C", specs={"cores": "8"})
    there.run("C", "7:00")
    there.task("Titles")
    there.run("A", "1:00", "Titles")
    machine = next(m for m in SHELF.take(elsewhere, there.slug).machines if m.name == "A")
    lineup.change_machine(elsewhere, machine.id, machine.version, {"specs": {"cores": "16"}})
    viewers.add_viewer(elsewhere, there.slug, {"name": "Somebody", "budget": Decimal(900)}, None)
    script.keep_script(elsewhere, there.slug, "C is faster than B.", 0)
    preview = take_back(bench, there)
    assert "new runs: 2" in preview.takes
    assert any("run 1 of A" in line and "378" not in line for line in preview.takes)
    assert comparable(out(bench.database, bench.slug)) == comparable(out(elsewhere, there.slug))
    first = runs.show_run(bench.database, a.id)
    assert [r.why for r in first.revisions] == ["misread again", "misread"]
    assert (first.run.value, first.run.version) == (379.0, 3)
    again = pack_update.preview_zip(bench.database, zipped(out(elsewhere, there.slug)))
    assert again.takes == ()


def test_what_is_only_here_stays(bench: Bench, elsewhere: Database) -> None:
    there = lend(bench, elsewhere)
    mine = bench.run("A", "6:30").run
    (a, _) = (each.run for each in runs.show_runs(elsewhere, there.slug).runs)
    runs.revise_run(elsewhere, a.id, 1, {"typed": "6:20"}, "Jo", "theirs")
    runs.revise_run(bench.database, a.id, 1, {"typed": "6:25"}, "Marit", "mine")
    there.run("B", "9:09")
    script.keep_script(bench.database, bench.slug, "Mine.", 0)
    script.keep_script(elsewhere, there.slug, "Theirs.", 0)
    preview = take_back(bench, there)
    assert "runs that the pack does not have: 1" in preview.stays
    assert "the script: what is written here stays" in preview.stays
    book = SHELF.take(bench.database, bench.slug)
    assert mine.id in book.place_of
    assert len(book.runs) == 4
    assert len({run.place for run in book.runs}) == 4
    assert book.script is not None
    assert book.script.text == "Mine."
    # Both histories are told: mine, and that the pack's word was taken.
    both = runs.show_run(bench.database, a.id)
    assert both.run.value == 380.0
    assert [r.why for r in both.revisions] == ["as it stands in the pack", "mine"]


def test_an_update_that_was_not_shown_is_refused(bench: Bench, elsewhere: Database) -> None:
    there = lend(bench, elsewhere)
    there.run("B", "9:09")
    content = zipped(out(elsewhere, there.slug))
    preview = pack_update.preview_zip(bench.database, content)
    assert preview.revision is not None
    bench.run("A", "6:11")
    with pytest.raises(StaleError):
        pack_update.update_from_zip(bench.database, content, bench.slug, preview.revision)
    other = new_bench(bench.database, "Another")
    with pytest.raises(RefusedError, match="not of that shootout"):
        pack_update.update_from_zip(bench.database, content, other.slug, 1)
    assert len(SHELF.take(bench.database, bench.slug).runs) == 3


def test_a_pack_that_is_off_changes_nothing(bench: Bench, elsewhere: Database) -> None:
    there = lend(bench, elsewhere)
    there.run("B", "9:09")
    there.machine("C")
    pack = out(elsewhere, there.slug)
    half = [
        s.model_copy(update={"assumed_ratio": 2.0}) if s.machine == "C" else s for s in pack.setups
    ]
    content = zipped(pack.model_copy(update={"setups": half}))
    preview = pack_update.preview_zip(bench.database, content)
    assert preview.revision is not None
    before = out(bench.database, bench.slug)
    with pytest.raises(RefusedError, match="lacks its other half"):
        pack_update.update_from_zip(bench.database, content, bench.slug, preview.revision)
    assert out(bench.database, bench.slug) == before


def test_a_pack_of_nothing_known_is_new(bench: Bench, demo_pack: Pack) -> None:
    preview = pack_update.preview_zip(bench.database, zipped(demo_pack))
    assert (preview.slug, preview.takes, preview.runs) == (None, (), len(demo_pack.runs))


@pytest.mark.parametrize("name", ["festival-season", "memory-kit", "next-one"])
def test_every_demo_shootout_comes_back_whole(elsewhere: Database, name: str) -> None:
    pack = read_pack(read_folder(PROJECT / "demo" / name))
    first = pack_in.import_pack(elsewhere, pack)
    given = out(elsewhere, first.slug)
    # What the demo does not say is filled in on the way: only that differs.
    assert comparable(given).runs == comparable(pack).runs
    again = import_zip(elsewhere, zipped(given))
    assert comparable(out(elsewhere, again.slug)) == comparable(given)
    assert DEMO.exists()


NAMES = (
    st.text(
        st.characters(codec="utf-8", exclude_categories=("Cs", "Cc", "Zl", "Zp")),
        min_size=1,
        max_size=20,
    )
    .map(str.strip)
    .filter(bool)
)


@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.lists(NAMES, min_size=1, max_size=3, unique_by=str.casefold),
    st.lists(NAMES, min_size=1, max_size=2, unique_by=str.casefold),
    st.lists(
        st.tuples(
            st.integers(0, 2),
            st.integers(0, 1),
            st.integers(1, 90_000),
            st.sampled_from(["ok", "void", "failed"]),
        ),
        max_size=12,
    ),
    st.text(max_size=60),
)
def test_any_shootout_comes_back_equal(
    elsewhere: Database,
    machines: list[str],
    tasks: list[str],
    entered: list[tuple[int, int, int, str]],
    words: str,
) -> None:
    bench = new_bench(elsewhere, "Any")
    for name in machines:
        if name.casefold() not in ("a", "b"):
            bench.machine(name)
    for name in tasks:
        if name != "Parade":
            bench.task(name)
    setups, names = list(bench.setups), list(bench.tasks)
    for setup, task, tenths, status in entered:
        more = {} if status == "ok" else {"status": status, "reason": "=1+1, so to say"}
        typed = None if status == "failed" else f"{tenths / 10:.1f} s"
        bench.run(setups[setup % len(setups)], typed, names[task % len(names)], **more)
    clean = words.replace("\x00", "").encode("utf-8", "ignore").decode()
    script.keep_script(elsewhere, bench.slug, clean, 0)
    given = out(elsewhere, bench.slug)
    again = import_zip(elsewhere, zipped(given))
    assert comparable(out(elsewhere, again.slug)) == comparable(given)


def test_a_task_that_is_set_otherwise_is_told_and_stays(bench: Bench, elsewhere: Database) -> None:
    there = lend(bench, elsewhere)
    there.run("B", "9:09")
    pack = out(elsewhere, there.slug)
    setting = PackTaskSetting(task="Parade", field="codec", value="HEVC")
    content = zipped(pack.model_copy(update={"task_settings": [setting]}))
    preview = pack_update.preview_zip(bench.database, content)
    assert preview.takes == ("new runs: 1",)
    assert "export settings of tasks that are here: 1" in preview.stays
    assert preview.revision is not None
    pack_update.update_from_zip(bench.database, content, bench.slug, preview.revision)
    (task,) = SHELF.take(bench.database, bench.slug).tasks
    assert task.settings == {}


def test_words_steps_readings_and_entries_of_elsewhere_are_taken_over(
    bench: Bench, elsewhere: Database
) -> None:
    """Everything that is only ever added to comes back, with what belongs to it."""
    mine = inquiries.open_inquiry(bench.database, bench.slug, about(bench), "Marit")
    there = lend(bench, elsewhere)
    a, b = there.setups["A"], there.setups["B"]
    word = {
        "judged_as": "nearly the same",
        "setup_id": a,
        "other_setup_id": b,
        "reason": "one fade less",
    }
    judgements.judge(elsewhere, there.tasks["Parade"], word, "Jo")
    seen = {"setup_id": a, "app": "Kiln", "kind": "scrub", "grade": "slow"}
    trial = observed.note_trial(elsewhere, there.slug, seen, "Jo").trials[0]
    observed.attach_picture(elsewhere, "trials", trial.id, "scrub.png", PNG, "Jo")
    (run, _) = (each.run for each in runs.show_runs(elsewhere, there.slug).runs)
    first = marks.note_reading(elsewhere, run.id, {"noise_db": 41.0}).marks[0]
    marks.put_right(elsewhere, first.id, "misheard", {"noise_db": 31.0})
    again = there.run("B", "9:09").run
    told = {"kind": "tried again", "run_ids": [again.id], "trial_ids": [trial.id]}
    inquiries.add_step(elsewhere, mine.inquiry.id, 1, told, "Jo")
    take_back(bench, there)
    book = SHELF.take(bench.database, bench.slug)
    assert [each.reason for each in book.judgements] == ["one fade less"]
    assert [(each.app, each.task_id) for each in book.trials] == [("Kiln", None)]
    assert [each.name for each in book.entry_pictures] == ["scrub.png"]
    assert [each.noise_db for each in book.marks] == [31.0]
    assert [each.noise_db for each in book.withdrawn_marks] == [41.0]
    (inquiry,) = book.inquiries
    view = inquiries.inquiry_view(book, inquiry)
    assert [(each.kind, [thing.words for thing in each.things]) for each in view.steps] == [
        ("suspected", []),
        ("tried again", ["B, Parade: 9:09", "A, Kiln: scrub slow"]),
    ]
    # Once more, and there is nothing left to take.
    content = zipped(out(elsewhere, there.slug))
    assert pack_update.preview_zip(bench.database, content).takes == ()


def about(bench: Bench) -> dict[str, object]:
    return {
        "kind": "other",
        "about": "B is slow",
        "suspected": "a backup program",
        "task_id": bench.tasks["Parade"],
        "setup_a_id": bench.setups["B"],
        "setup_b_id": None,
    }


PNG = b"\x89PNG\r\n\x1a\n" + bytes(40)
