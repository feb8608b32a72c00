"""A person's word on sameness: what was looked at, what was not the same, what only nearly was."""

from __future__ import annotations

from typing import Any
from uuid import UUID, uuid4

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from tests.desk.test_timelines import edit
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins import fairness, judgements, out_of_line, pairs, same_work
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish import script
from true_margin.desk.tasks import outputs, tasks, timelines
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database

EXPORT, OTHER = "Film, export", "Film, export in Kiln"


@pytest.fixture
def bench(database: Database) -> Bench:
    """A and B on one film in two apps, three runs each."""
    bench = new_bench(database, "By word")
    bench.task(EXPORT, timeline="Film", operation="export")
    bench.task(OTHER, app="Kiln", timeline="Film", operation="export")
    for typed in ("5:00", "5:01", "5:02"):
        bench.run("A", typed, EXPORT)
        bench.run("B", "6:00", EXPORT)
        bench.run("A", "8:00", OTHER)
    return bench


def judge(bench: Bench, **said: Any) -> records.Judgement:
    return judgements.judge(bench.database, bench.tasks[EXPORT], said, "Marit")


def of_setups(bench: Bench) -> dict[str, UUID]:
    return {"setup_id": bench.setups["A"], "other_setup_id": bench.setups["B"]}


def pair(bench: Bench) -> pairs.PairView:
    a, b = bench.setups["A"], bench.setups["B"]
    return pairs.show_pair(bench.database, bench.slug, str(bench.tasks[EXPORT]), a, b)


def work(bench: Bench) -> tuple[same_work.SameWork, ...]:
    return same_work.show_same_work(bench.database, bench.slug, None)


def state(bench: Bench, setup: str, part: str) -> str:
    rows = outputs.show_sameness(bench.database, bench.tasks[EXPORT]).rows
    return str(getattr(next(row for row in rows if row.label == setup), part))


def known(bench: Bench) -> list[str]:
    key = str(bench.tasks[EXPORT])
    return list(fairness.show_fairness(bench.database, bench.slug, key).known)


def test_two_setups_that_did_not_do_the_same_get_no_verdict(bench: Bench) -> None:
    assert pair(bench).call == "clear"
    word = judge(
        bench, **of_setups(bench), judged_as="not the same", reason="B left the titles out"
    )
    view = pair(bench)
    assert view.call == "not comparable"
    assert view.sentence == (
        "A and B cannot be compared: they did not do the same job (B left the titles out)."
    )
    assert [line.judgement and line.judgement.id for line in view.parity] == [word.id]
    (broken,) = fairness.show_fairness(bench.database, bench.slug, None).broken
    assert broken.conditions == ("the job itself",)
    judgements.withdraw(bench.database, word.id, "they were there after all")
    assert pair(bench).call == "clear"


def test_two_setups_that_nearly_did_the_same_keep_the_verdict_with_the_doubt(bench: Bench) -> None:
    judge(bench, **of_setups(bench), judged_as="nearly the same", reason="one fade less")
    view = pair(bench)
    assert view.call == "clear"
    assert [(line.condition, line.weight, line.why) for line in view.parity] == [
        ("the job itself", "muddies", "one fade less")
    ]
    (line,) = fairness.show_fairness(bench.database, bench.slug, None).lines
    assert line.sides[0].setups == ("A", "B")


def test_two_tasks_that_are_not_the_same_work_are_not_compared(bench: Bench) -> None:
    tasks.change_task(bench.database, bench.tasks["Parade"], 1, {"app": "Lathe"})
    (before,) = work(bench)
    assert [row.call for row in before.rows] == ["clear"]
    claim = "The A exports 1.6 times as fast in Heddle as in Kiln."
    (before_line,) = script.check_script(bench.database, bench.slug, claim).claims
    assert before_line.verdict == "likely"
    judge(bench, other_task_id=bench.tasks[OTHER], judged_as="not the same", reason="other footage")
    (after,) = work(bench)
    assert (after.rows, after.doubt) == ((), "Not the same work, says Marit: other footage")
    (line,) = script.check_script(bench.database, bench.slug, claim).claims
    assert (line.verdict, "other footage" in line.reason) == ("untested", True)


def test_nearly_the_same_footage_puts_two_tasks_side_by_side_with_the_doubt(bench: Bench) -> None:
    bench.task("Reel, export", timeline="Reel", operation="export")
    bench.run("A", "2:30", "Reel, export")
    reason = "the same cut, other camera"
    judge(
        bench, other_task_id=bench.tasks["Reel, export"], judged_as="nearly the same", reason=reason
    )
    doubted = next(each for each in work(bench) if each.doubt)
    assert doubted.doubt == f"Only nearly the same work, says Marit: {reason}"
    assert [row.label for row in doubted.rows] == ["A"]
    # What rests on a doubt is not called out of line.
    found = out_of_line.show_out_of_line(bench.database, bench.slug).findings
    assert not [each for each in found if each.kind == "app off its ratio"]


def test_what_was_looked_at_is_told_apart_from_what_a_file_proves(bench: Bench) -> None:
    assert state(bench, "A", "timeline") == "unknown"
    assert "not known in 2" in known(bench)[0]
    judge(bench, judged_as="looked at", part="timeline", setup_id=bench.setups["A"])
    assert state(bench, "A", "timeline") == "looked at"
    assert known(bench)[0] == (
        "The edit, of 2 jobs done: looked at by a person in 1, not known in 1."
    )
    film = next(t.id for t in SHELF.take(bench.database, bench.slug).timelines if t.name == "Film")
    for setup, frames in ((None, (100, 50)), ("A", (100, 49))):
        file = {
            "name": "f.otio",
            "content": edit(*frames),
            "setup_id": setup and bench.setups[setup],
            "edl_rate": None,
        }
        timelines.add_file(bench.database, film, file, "Marit")
    # A file that differs goes before a person's word.
    assert state(bench, "A", "timeline") == "differs"
    assert known(bench)[0] == "The edit, of 2 jobs done: not the same in 1, not known in 1."


def test_a_word_said_anew_replaces_the_one_before_which_stays(bench: Bench) -> None:
    judge(bench, **of_setups(bench), judged_as="nearly the same", reason="one fade less")
    with pytest.raises(RefusedError, match="said already"):
        judge(bench, **of_setups(bench), judged_as="nearly the same", reason="one fade less")
    judge(bench, **of_setups(bench), judged_as="not the same", reason="no fades at all")
    words = SHELF.take(bench.database, bench.slug).judgements
    assert [(word.reason, word.withdrawn_why) for word in words] == [
        ("one fade less", "said anew"),
        ("no fades at all", None),
    ]


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"judged_as": "looked at"}, "part"),
        ({"judged_as": "looked at", "part": "output"}, "part"),
        ({"judged_as": "not the same", "reason": "x"}, "other_setup_id"),
        ({"judged_as": "nearly the same", "setup_id": "A", "other_setup_id": "B"}, "reason"),
        ({"judged_as": "not the same", "reason": "x", "setup_id": "A"}, "other_setup_id"),
        (
            {"judged_as": "not the same", "reason": "x", "setup_id": "A", "other_setup_id": "A"},
            "other_setup_id",
        ),
        ({"judged_as": "not the same", "reason": "x", "part": "output", "setup_id": "A"}, "part"),
        (
            {"judged_as": "looked at", "part": "output", "setup_id": "A", "other_setup_id": "B"},
            "setup_id",
        ),
    ],
)
def test_a_word_about_nothing_is_refused(bench: Bench, said: dict[str, Any], field: str) -> None:
    named = {name: bench.setups.get(value, value) for name, value in said.items()}
    with pytest.raises(RefusedError) as error:
        judge(bench, **named)
    assert error.value.field == field
    assert SHELF.take(bench.database, bench.slug).judgements == ()


def test_a_word_about_what_is_elsewhere_is_refused(bench: Bench, database: Database) -> None:
    other = new_bench(database, "Elsewhere")
    for said in (
        {"judged_as": "looked at", "part": "output", "setup_id": other.setups["A"]},
        {"judged_as": "not the same", "reason": "x", "other_task_id": other.tasks["Parade"]},
    ):
        with pytest.raises(RefusedError, match="not in this shootout"):
            judge(bench, **said)
    with pytest.raises(NotFoundError):
        judgements.withdraw(database, uuid4(), "x")


def test_a_pack_keeps_every_word(bench: Bench, database: Database) -> None:
    word = judge(bench, **of_setups(bench), judged_as="not the same", reason="no titles")
    judgements.withdraw(database, word.id, "they were there")
    judge(bench, judged_as="looked at", part="output", setup_id=bench.setups["B"], reason="all")
    judge(
        bench, other_task_id=bench.tasks[OTHER], judged_as="nearly the same", reason="other grain"
    )
    pack = export_pack(database, bench.slug)
    there = import_zip(database, zip_files(write_pack(pack)))
    assert export_pack(database, there.slug).judgements == pack.judgements
    assert len(pack.judgements) == 3
