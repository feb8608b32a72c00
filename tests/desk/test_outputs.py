"""The same job on every setup: settings used, outputs, looks, and what parity makes of them."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

import pytest
from demo.probes import probe_json

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins import fairness, margins, pairs
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.shootouts import shootouts
from true_margin.desk.tasks import outputs, tasks
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store.database import Database

SETTINGS = {
    "codec": "H.264",
    "size": "1920x1080",
    "frame_rate": "25",
    "depth": "8",
    "bit_rate": "12",
    "colour": "bt709",
}


@pytest.fixture
def bench(database: Database) -> Bench:
    made = new_bench(database, "Outputs")
    task = tasks.show_tasks(database, made.slug)[0].task
    fields = {"settings": SETTINGS, "timeline": "Film", "timeline_length_s": 360.0}
    tasks.change_task(database, task.id, task.version, fields)
    for name in ("A", "B"):
        for typed in ("6:10", "6:12", "6:11"):
            bench_run = made.run(name, typed if name == "A" else typed.replace("6", "7"))
            assert bench_run.run.status == "ok"
    return made


def bring(
    bench: Bench, name: str, length_s: float = 360.0, size: int = 540_000_000, **more: Any
) -> outputs.Sameness:
    settings = {**SETTINGS, **more.pop("settings", {})}
    fields = {
        "name": "out.json",
        "content": probe_json(settings, length_s, size),
        "run_id": None,
        "really": False,
        **more,
    }
    return outputs.add_output(
        bench.database, bench.tasks["Parade"], bench.setups[name], fields, "Jo"
    )


def row(bench: Bench, name: str) -> outputs.SetupSameness:
    found = outputs.show_sameness(bench.database, bench.tasks["Parade"])
    return next(each for each in found.rows if each.label == name)


def breaks(bench: Bench) -> list[tuple[str, str, str]]:
    between = parity_of(SHELF.take(bench.database, bench.slug)).between(0, 0, 1)
    return [(d.condition.value, d.here, d.there) for d in between if d.weight.value == "breaks"]


def test_nothing_noted_is_unknown(bench: Bench) -> None:
    first = row(bench, "A")
    assert (first.timeline, first.settings, first.output) == ("unknown", "unknown", "unknown")
    bare = bench.task("Stills")
    found = outputs.show_sameness(bench.database, bare.id).rows[0]
    assert (found.timeline, found.settings) == ("none", "none")
    with pytest.raises(NotFoundError):
        outputs.show_sameness(bench.database, uuid4())


def test_settings_as_the_task_has_them_and_not(bench: Bench) -> None:
    task = bench.tasks["Parade"]
    outputs.note_settings(bench.database, task, bench.setups["A"], {}, "Jo")
    assert (row(bench, "A").settings, breaks(bench)) == ("same", [])
    outputs.note_settings(bench.database, task, bench.setups["B"], {"depth": "10"}, "Jo")
    apart = row(bench, "B")
    assert apart.settings == "differs"
    assert apart.settings_apart == (outputs.SettingApart("Bit depth", "8", "10"),)
    assert breaks(bench) == [("export settings", "bit depth 8", "bit depth 10")]
    view = margins.show_ladder(bench.database, bench.slug, str(task))
    assert [each.label for each in view.off] == ["B"]
    outputs.note_settings(bench.database, task, bench.setups["B"], {}, "Jo")
    assert (row(bench, "B").settings, breaks(bench)) == ("same", [])
    with pytest.raises(RefusedError, match="not a number"):
        outputs.note_settings(bench.database, task, bench.setups["B"], {"bit_rate": "much"}, "Jo")


def test_outputs_alike_are_the_same(bench: Bench) -> None:
    bring(bench, "A", size=541_000_000)
    bring(bench, "B", size=538_000_000)
    assert (row(bench, "A").output, row(bench, "B").output) == ("same", "same")
    assert breaks(bench) == []
    assert row(bench, "A").probe is not None


@pytest.mark.parametrize(
    ("more", "part"),
    [
        ({"settings": {"size": "1280x720"}}, "picture size"),
        ({"length_s": 359.9}, "length"),
        ({"size": 400_000_000}, "file size"),
        ({"settings": {"codec": "HEVC"}}, "codec"),
        ({"settings": {"colour": "bt601"}}, "colour"),
    ],
)
def test_a_wrong_output_breaks_the_comparison(
    bench: Bench, more: dict[str, Any], part: str
) -> None:
    bring(bench, "A")
    bring(bench, "B", **more)
    assert row(bench, "B").output == "differs"
    assert part in {each.part for each in row(bench, "B").parts if not each.ok}
    ((condition, here, there),) = breaks(bench)
    assert condition == "output"
    assert here != there
    line = next(s for s in show_sheet(bench.database, bench.slug).stages if s.stage == "tasks")
    assert any("wrong" in each for each in line.todo)
    assert fairness.tally(SHELF.take(bench.database, bench.slug)).breaks == 1
    pair = pairs.show_pair(
        bench.database, bench.slug, str(bench.tasks["Parade"]), bench.setups["A"], bench.setups["B"]
    )
    assert pair.call == "not comparable"


def test_the_probe_of_another_clip_needs_a_persons_word(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="probably the probe of another clip") as refused:
        bring(bench, "B", length_s=90.0)
    assert (refused.value.field, row(bench, "B").probe) == ("really", None)
    bring(bench, "B", length_s=90.0, really=True)
    assert row(bench, "B").output == "differs"


def test_what_is_no_probe_file_or_of_another_run_is_refused(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="not JSON") as refused:
        bring(bench, "A", content=b"no")
    assert refused.value.field == "file"
    other = bench.run("B", "7:00").run
    with pytest.raises(RefusedError, match="not made of this task on this setup"):
        bring(bench, "A", run_id=other.id)
    bring(bench, "B", run_id=other.id)
    probe = row(bench, "B").probe
    assert probe is not None
    assert probe.run_id == other.id
    with pytest.raises(RefusedError, match="not in this shootout"):
        outputs.note_look(bench.database, bench.tasks["Parade"], uuid4(), {"plays": True}, "Jo")


def test_a_person_may_see_what_no_probe_says(bench: Bench) -> None:
    task = bench.tasks["Parade"]
    seen: dict[str, bool | None] = {"plays": True, "in_sync": True, "colour_right": None}
    outputs.note_look(bench.database, task, bench.setups["A"], seen, "Jo")
    assert (row(bench, "A").output, row(bench, "B").output) == ("looked at", "unknown")
    outputs.note_look(bench.database, task, bench.setups["B"], {**seen, "in_sync": False}, "Jo")
    assert row(bench, "B").output == "differs"
    assert breaks(bench) == [("output", "sound in sync yes", "sound in sync no")]


def test_everything_noted_travels_in_a_pack(bench: Bench) -> None:
    task = bench.tasks["Parade"]
    run = bench.run("B", "7:00").run
    bring(bench, "A")
    bring(bench, "B", run_id=run.id, settings={"size": "1280x720"})
    outputs.note_settings(bench.database, task, bench.setups["B"], {"depth": "10"}, "Jo")
    outputs.note_look(bench.database, task, bench.setups["A"], {"plays": True}, "Jo")
    out = pack_out.export_pack(bench.database, bench.slug)
    again = import_zip(bench.database, zip_files(write_pack(out)))
    (copied,) = tasks.show_tasks(bench.database, again.slug)
    before, after = (
        [(r.settings, r.output, r.parts, r.settings_apart, r.look and r.look.plays) for r in s.rows]
        for s in (
            outputs.show_sameness(bench.database, task),
            outputs.show_sameness(bench.database, copied.task.id),
        )
    )
    assert after == before
    files = write_pack(out)
    files["probe-1.json"] = b"{}"
    with pytest.raises(RefusedError, match=r"probe-1\.json"):
        import_zip(bench.database, zip_files(files))
    assert json.loads(write_pack(out)["probe-2.json"])["streams"][0]["width"] == 1280


def test_the_summary_says_that_the_leaders_were_not_given_the_same_job(bench: Bench) -> None:
    bench.machine("C")
    for typed in ("9:00", "9:01", "9:02"):
        bench.run("C", typed)
    book = SHELF.take(bench.database, bench.slug)
    base = {"baseline_setup_id": bench.setups["C"]}
    shootouts.change_shootout(bench.database, bench.slug, book.shootout.version, base)
    bring(bench, "A")
    bring(bench, "B", settings={"size": "1280x720"})
    view = margins.show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert view.summary.startswith("A and B lead, and cannot be compared: they did not do the")
