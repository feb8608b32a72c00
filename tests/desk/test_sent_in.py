"""Results that others send in: taken as files, decided on, never mixed with own runs."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any
from uuid import UUID, uuid4

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins.margins import show_ladder
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.sent.inbox import Inbox, decide, erase, receive, show_inbox
from true_margin.desk.sent.kits import give_kit
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store.database import Database
from true_margin.store.sent import get_sent
from true_margin.watcher.kit import sealed


@pytest.fixture
def bench(database: Database) -> Bench:
    """A and B, each timed three times."""
    bench = new_bench(database, "Sent in")
    for typed in ("5:00", "5:02", "4:58"):
        bench.run("A", typed)
        bench.run("B", typed.replace("5:", "7:").replace("4:", "6:"))
    return bench


def kit_of(bench: Bench) -> dict[str, Any]:
    """What the watcher in the kit is told."""
    with zipfile.ZipFile(io.BytesIO(give_kit(bench.database, bench.slug, "Marit"))) as kit:
        packed = io.BytesIO(kit.read("true-margin-watch.pyz"))
    with zipfile.ZipFile(packed) as watcher:
        told: dict[str, Any] = json.loads(watcher.read("kit.json"))
    return told


def result_of(kit: dict[str, Any], seconds: tuple[float, ...] = (400.0, 402.0), **more: Any) -> str:
    """A result file."""
    runs = [{"seconds": each, "u": 0.1, "method": "watch", "status": "ok"} for each in seconds]
    payload = {
        "kit": kit["kit"],
        "made_at": datetime.now(UTC).isoformat(),
        "sender": "Ines",
        "model": "A",
        "consent": kit["consent"],
        "code": sha256(b"ab12-cd34").hexdigest(),
        "specs": {"memory": "16 GB"},
        "versions": {"made by": "watcher"},
        "tasks": [{"task": kit["tasks"][0]["id"], "runs": runs}],
        **more,
    }
    return sealed(payload, kit["secret"])


def sent_in(bench: Bench, text: str) -> Inbox:
    return receive(bench.database, bench.slug, text, "Marit")


def test_a_kit_holds_what_is_needed_to_run_it(bench: Bench) -> None:
    content = give_kit(bench.database, bench.slug, "Marit")
    with zipfile.ZipFile(io.BytesIO(content)) as kit:
        assert set(kit.namelist()) == {"START HERE.html", "true-margin-watch.pyz", "settings.json"}
        page = kit.read("START HERE.html").decode()
    told = kit_of(bench)
    assert told["kit"] == kit_of(bench)["kit"], "there is one kit a shootout"
    assert told["consent"] in page
    assert "Parade" in page
    assert "Heddle" in page
    assert len(content) < 600_000


def test_a_kit_of_nothing_is_refused(database: Database) -> None:
    empty = new_bench(database, "No task to give")
    kit_of(empty)
    with pytest.raises(NotFoundError):
        give_kit(database, "nowhere", "Marit")


def test_a_result_waits_for_a_decision_and_counts_nowhere(bench: Bench) -> None:
    before = show_ladder(bench.database, bench.slug, None)
    box = sent_in(bench, result_of(kit_of(bench)))
    (result,) = box.results
    assert (result.state, result.sealed, result.sender, result.model) == ("new", True, "Ines", "A")
    assert (box.waiting, box.accepted) == (1, 0)
    assert result.against.startswith("25 % slower than A here, the same model: more than samples")
    assert result.beside == "Between A and B."
    assert result.tasks[0].runs == "6:40.0 and 6:42.0"
    assert "memory: 16 GB" in result.facts
    assert show_ladder(bench.database, bench.slug, None).rows == before.rows
    assert analysis_of(SHELF.take(bench.database, bench.slug)).study.sent == ()


def test_an_accepted_one_tells_how_much_samples_differ_and_can_be_withdrawn(bench: Bench) -> None:
    def spread() -> float:
        return analysis_of(SHELF.take(bench.database, bench.slug)).unit_spread.cv

    before, key = spread(), sent_in(bench, result_of(kit_of(bench))).results[0].id
    a = bench.setups["A"]
    box = decide(bench.database, key, "accepted", "same configuration", a, "Marit")
    assert box.accepted == 1
    assert box.says.startswith("1 accepted result of models that are here")
    assert spread() > before
    rows = show_ladder(bench.database, bench.slug, None).rows
    assert {row.label for row in rows} == {"A", "B"}
    assert sum(row.runs for row in rows) == 6, "own runs only"
    with pytest.raises(RefusedError, match="cannot be declined"):
        decide(bench.database, key, "declined", "no", None, "Marit")
    gone = decide(bench.database, key, "withdrawn", "it was on battery", None, "Marit")
    assert gone.results[0].why == "it was on battery"
    assert spread() == before


def test_what_is_erased_is_gone_and_that_it_was_there_is_not(bench: Bench) -> None:
    key = sent_in(bench, result_of(kit_of(bench))).results[0].id
    with pytest.raises(RefusedError, match="not the code"):
        erase(bench.database, key, "asked by letter", "wrong", "Marit")
    box = erase(bench.database, key, "asked by letter", "ab12-cd34", "Marit")
    (result,) = box.results
    assert (result.state, result.model, result.sender, result.facts) == (
        "erased",
        "erased",
        None,
        (),
    )
    assert result.why == "asked by letter"
    with pytest.raises(RefusedError, match="already"):
        erase(bench.database, key, "again", None, "Marit")
    with pytest.raises(RefusedError, match="cannot be accepted"):
        decide(bench.database, key, "accepted", "no", None, "Marit")


def test_what_was_changed_since_is_said_to_be(bench: Bench) -> None:
    kit = kit_of(bench)
    file = json.loads(result_of(kit))
    file["result"] = file["result"].replace("400.0", "300.0")
    assert not sent_in(bench, json.dumps(file)).results[0].sealed
    file["seal"] = "é"
    file["result"] = file["result"].replace("300.0", "310.0")
    assert not sent_in(bench, json.dumps(file)).results[0].sealed


def test_a_failure_is_a_result(bench: Bench) -> None:
    kit = kit_of(bench)
    failed = {"seconds": None, "method": "watch", "status": "failed", "reason": "no room left"}
    task = {"task": kit["tasks"][0]["id"], "runs": [failed]}
    (result,) = sent_in(bench, result_of(kit, tasks=[task], model="Elsewhere")).results
    assert result.tasks[0].runs == "failed (no room left)"
    assert result.against == "No counted run of a task that is here."
    assert not result.same_model


def test_another_model_is_held_against_the_baseline(bench: Bench) -> None:
    (result,) = sent_in(bench, result_of(kit_of(bench), (250.0, 251.0), model="New one")).results
    assert result.against == "20 % faster than A."
    assert result.beside == "Ahead of all tested here, A the nearest."


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("", "not JSON"),
        ("[" * 100_000, "not JSON"),
        ("[]", "not JSON"),
        ('{"a": 1}', "no result file of a kit"),
        ('{"trueMarginResult": 2, "result": "{}", "seal": ""}', "no result file of a kit"),
        ('{"trueMarginResult": 1, "result": "x", "seal": ""}', "damaged"),
        ('{"trueMarginResult": 1, "result": "{}", "seal": ""}', "at kit"),
        ('{"trueMarginResult": 1e9000000, "result": "{}", "seal": ""}', "no result file of a kit"),
        ('{"trueMarginResult": ' + "9" * 5000 + "}", "not JSON"),
        ("x" * 700_000, "more than 600000 signs"),
    ],
)
def test_what_is_no_result_is_refused_with_the_reason(bench: Bench, text: str, why: str) -> None:
    with pytest.raises(RefusedError, match=why):
        sent_in(bench, text)
    assert show_inbox(bench.database, bench.slug).results == ()


@pytest.mark.parametrize(
    ("changes", "where"),
    [
        ({"model": ""}, "at model"),
        ({"model": "x" * 200}, "at model"),
        ({"sender": "a\x00b"}, "signs that no text has"),
        ({"sender": "a\ud800b"}, "at sender"),
        ({"tasks": []}, "at tasks"),
        ({"code": "short"}, "at code"),
        ({"made_at": "yesterday"}, "at made_at"),
        ({"made_at": "2026-11-30T10:00:00"}, "at made_at"),
    ],
)
def test_what_a_result_cannot_say_is_named(
    bench: Bench, changes: dict[str, Any], where: str
) -> None:
    with pytest.raises(RefusedError, match=where):
        sent_in(bench, result_of(kit_of(bench), **changes))


def test_times_that_cannot_be_are_refused(bench: Bench) -> None:
    kit = kit_of(bench)
    for seconds in (-1.0, 0.0, 1e-300, 1e9, float("nan"), float("inf")):
        with pytest.raises(RefusedError, match=r"seconds|damaged"):
            sent_in(bench, result_of(kit, (seconds,)))


def test_one_of_elsewhere_or_sent_twice_is_not_taken(bench: Bench, database: Database) -> None:
    other = new_bench(database, "Another field")
    with pytest.raises(RefusedError, match="another shootout"):
        sent_in(bench, result_of(kit_of(other)))
    text = result_of(kit_of(bench))
    sent_in(bench, text)
    with pytest.raises(RefusedError, match="here already"):
        sent_in(bench, text)
    key = show_inbox(database, bench.slug).results[0].id
    with pytest.raises(RefusedError, match="not in this shootout"):
        decide(database, key, "accepted", "yes", other.setups["A"], "Marit")
    with pytest.raises(NotFoundError):
        decide(database, uuid4(), "accepted", "yes", None, "Marit")


def test_no_log_is_loaded_with_a_book_and_none_is_lost(bench: Bench) -> None:
    key = sent_in(bench, result_of(kit_of(bench), log="what the watcher saw")).results[0].id
    decide(bench.database, key, "accepted", "same", bench.setups["A"], "Marit")
    (accepted,) = SHELF.take(bench.database, bench.slug).sent
    assert "log" not in (accepted.content or {})
    with bench.database.transaction() as session:
        _, whole = get_sent(session, key)
    assert (whole.content or {})["log"] == "what the watcher saw"


def test_a_task_that_is_not_here_is_said(bench: Bench) -> None:
    kit = kit_of(bench)
    runs = [{"seconds": 10.0, "method": "stopwatch", "status": "ok"}]
    text = result_of(kit, tasks=[{"task": str(UUID(int=1)), "runs": runs}])
    (result,) = sent_in(bench, text).results
    assert result.tasks[0].problem == "This task is not in the line-up."


def test_accepted_ones_travel_in_a_pack_and_the_answers_with_them(bench: Bench) -> None:
    box = sent_in(bench, result_of(kit_of(bench)))
    sent_in(bench, result_of(kit_of(bench), (500.0,), sender=None))
    a = bench.setups["A"]
    decide(bench.database, box.results[0].id, "accepted", "same configuration", a, "Marit")
    pack = export_pack(bench.database, bench.slug)
    assert [(row.model, row.sender, row.seconds) for row in pack.sent_in] == [
        ("A", "Ines", 400.0),
        ("A", "Ines", 402.0),
    ], "what waits stays here"
    copied = import_zip(bench.database, zip_files(write_pack(pack)))
    here, there = (
        analysis_of(SHELF.take(bench.database, slug)) for slug in (bench.slug, copied.slug)
    )
    assert there.unit_spread == here.unit_spread
    (result,) = show_inbox(bench.database, copied.slug).results
    assert (result.state, result.sender, result.why) == ("accepted", "Ines", "same configuration")
    assert export_pack(bench.database, copied.slug).sent_in == pack.sent_in
