"""What a person says that a sentence means: kept with it, learnt, in the pack, never lost."""

from __future__ import annotations

from uuid import UUID, uuid4

import pytest
from sqlalchemy import update

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.core.claims.numbers import Hedge
from true_margin.core.claims.result import Status
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.publish import script, script_answers
from true_margin.desk.publish.script_answers import SaidClaim, ShownReading
from true_margin.desk.publish.script_check import CheckedLine
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.exchange.pack_public import for_strangers
from true_margin.store.database import Database
from true_margin.store.tables_publish import ScriptRow

SAID = "B gallops home 5 minutes sooner than A on Parade."


@pytest.fixture
def bench(database: Database) -> Bench:
    """A takes 10 minutes, B 5; nothing was learnt before."""
    with database.transaction() as session:
        session.execute(update(ScriptRow).values(phrasings={}))
    bench = new_bench(database, "Answers")
    for repeat in range(3):
        bench.run("A", f"10:00.{repeat}", method="log")
        bench.run("B", f"5:00.{repeat}", method="log")
    return bench


def check(bench: Bench, text: str) -> CheckedLine:
    (line,) = script.check_script(bench.database, bench.slug, text).claims
    return line


def said(reading: ShownReading, **changes: object) -> SaidClaim:
    parts = {
        name: getattr(reading, name)
        for name in ("says", "a", "b", "task", "number", "high", "hedge", "denied")
    }
    return SaidClaim(**{**parts, **changes})


def answer(bench: Bench, line: CheckedLine, *claims: SaidClaim) -> script.ScriptView:
    return script.answer_sentence(bench.database, bench.slug, line.key, line.text, list(claims))


def test_a_sentence_that_names_a_machine_is_never_passed_in_silence(bench: Bench) -> None:
    text = "Welcome back.\nIt was hot.\nB arrived late on Friday."
    found = script.check_script(bench.database, bench.slug, text)
    assert [(each.text, each.named) for each in found.plain] == [
        ("Welcome back.", False),
        ("It was hot.", False),
        ("B arrived late on Friday.", True),
    ]


def test_the_verdict_comes_after_the_yes_and_stays_with_the_sentence(bench: Bench) -> None:
    line = check(bench, SAID)
    assert line.status is Status.CONFIRM
    assert line.verdict in ("unread", "asked")
    assert [each.words for each in line.readings] == ["B saves 5:00 over A on Parade."]
    answer(bench, line, said(line.readings[0]))
    after = check(bench, SAID)
    assert (after.status, after.confirmed, after.verdict) == (Status.JUDGED, True, "holds")
    # Another number is another claim, and it is said with the reading.
    answer(bench, line, said(line.readings[0], number="7:00"))
    assert check(bench, SAID).verdict == "overstated"
    # It can be taken back.
    script.answer_sentence(bench.database, bench.slug, line.key, SAID, None)
    script.forget_phrasing(bench.database, bench.slug, learnt(bench)[0])
    assert check(bench, SAID).status is Status.CONFIRM


def learnt(bench: Bench) -> list[str]:
    return [each.pattern for each in script.show_script(bench.database, bench.slug).learnt]


def test_a_verdict_that_came_with_the_yes_is_no_change(bench: Bench) -> None:
    script.keep_script(bench.database, bench.slug, SAID, 0)
    line = check(bench, SAID)
    view = answer(bench, line, said(line.readings[0]))
    assert [(each.verdict, each.was) for each in view.check.claims] == [("holds", None)]


def test_a_sentence_that_claims_nothing_is_listed_as_such(bench: Bench) -> None:
    text = "B is the best machine to look at.\nHello."
    found = script.check_script(bench.database, bench.slug, text)
    assert (found.sentences, len(found.claims), len(found.plain)) == (2, 1, 1)
    answer(bench, found.claims[0])
    after = script.check_script(bench.database, bench.slug, text)
    assert [(each.text, each.said) for each in after.plain] == [
        ("B is the best machine to look at.", True),
        ("Hello.", False),
    ]


def test_what_was_confirmed_is_learnt_and_read_in_the_next_shootout(bench: Bench) -> None:
    line = check(bench, SAID)
    answer(bench, line, said(line.readings[0]))
    assert learnt(bench) == ["A gallops home N sooner than B on T"]
    other = "A gallops home 4 minutes sooner than B on Parade."
    assert (check(bench, other).status, check(bench, other).verdict) == (Status.JUDGED, "backwards")
    next_one = new_bench(bench.database, "Next")
    for repeat in range(3):
        next_one.run("A", f"10:00.{repeat}", method="log")
        next_one.run("B", f"5:00.{repeat}", method="log")
    script.keep_script(next_one.database, next_one.slug, SAID, 0)
    assert check(next_one, SAID).verdict == "holds"
    # Forgotten there, it is asked about again, and what was confirmed here stays.
    script.forget_phrasing(next_one.database, next_one.slug, learnt(next_one)[0])
    assert check(next_one, SAID).status is Status.CONFIRM
    assert check(bench, SAID).verdict == "holds"
    with pytest.raises(RefusedError, match="Nothing like this"):
        script.forget_phrasing(next_one.database, next_one.slug, "A and B on T")


def test_an_answer_holds_where_the_sentence_stands_as_it_did(bench: Bench) -> None:
    line = check(bench, SAID)
    answer(bench, line, said(line.readings[0]))
    # Taken back in the next sentence, the same words are another matter.
    doubted = script.check_script(
        bench.database, bench.slug, f"{SAID}\nNot in every round, though."
    ).claims[0]
    assert doubted.status is Status.CONFIRM
    assert doubted.key != line.key


@pytest.mark.parametrize(
    ("changes", "field", "words"),
    [
        ({"number": "soon"}, "claims.0.number", "Type a time"),
        ({"number": None}, "claims.0.number", "Say the number."),
        ({"task": None}, "claims.0.task", "A time belongs to one task"),
        ({"b": None}, "claims.0.b", "Say what it is compared with."),
        ({"a": None}, "claims.0.a", "Say which machine is meant."),
        ({"a": uuid4()}, "claims.0.a", "not in this shootout any more"),
        ({"says": "nothing like it"}, "claims.0.says", "from the list"),
        ({"says": "times as fast", "number": "2 x 3"}, "claims.0.number", "Type a number"),
        ({"says": "wins", "number": "2", "high": None}, "claims.0.high", "out of how many"),
    ],
)
def test_a_part_that_is_missing_is_named(
    bench: Bench, changes: dict[str, object], field: str, words: str
) -> None:
    line = check(bench, SAID)
    with pytest.raises(RefusedError) as refused:
        answer(bench, line, said(line.readings[0], **changes))
    assert refused.value.field == field
    assert words in refused.value.reason
    assert check(bench, SAID).status is Status.CONFIRM


@pytest.mark.parametrize(
    ("says", "number", "words"),
    [
        ("times as fast", "2", "B is about 2 times as fast as A on Parade."),
        ("percent less time", "50 %", "B takes about 50 % less time than A on Parade."),
        ("part of the time", "50", "B takes about 50 % of the time of A on Parade."),
        ("takes", "5 min", "B takes about 5:00 on Parade."),
        ("faster", None, "B is faster than A on Parade."),
        ("cheaper", None, "B is cheaper than A."),
        ("fastest", None, "B is the fastest on Parade."),
    ],
)
def test_anything_can_be_chosen_and_is_told_in_words(
    bench: Bench, says: str, number: str | None, words: str
) -> None:
    line = check(bench, SAID)
    chosen = said(line.readings[0], says=says, number=number, hedge=Hedge.ABOUT)
    answer(bench, line, chosen)
    after = check(bench, SAID)
    assert [each.words for each in after.readings] == [words]
    assert after.verdict == ("untested" if says == "cheaper" else "holds")


def test_the_run_sheet_counts_what_waits(bench: Bench) -> None:
    script.keep_script(bench.database, bench.slug, f"{SAID}\nB is worth every cent.\n", 0)
    lines = {each.stage: each for each in show_sheet(bench.database, bench.slug).stages}
    assert lines["publish"].facts == ("2 claims",)
    assert lines["publish"].todo == ("1 to confirm", "1 not understood")


def test_a_figure_that_moved_is_told_beside_the_new_one(bench: Bench) -> None:
    text = "A takes about ten minutes on Parade."
    script.keep_script(bench.database, bench.slug, text, 0)
    for typed in ("9:40", "9:41", "9:42"):
        bench.run("A", typed, method="log")
    (line,) = script.show_script(bench.database, bench.slug).check.claims
    assert (line.verdict, line.was, line.was_figure) == ("holds", None, "10:00")
    seen = script.see_script(bench.database, bench.slug, 1)
    assert seen.check.claims[0].was_figure is None


def test_answers_travel_in_the_pack_and_not_to_strangers(bench: Bench) -> None:
    line = check(bench, SAID)
    script.keep_script(bench.database, bench.slug, f"{SAID}\nB is worth every cent.\n", 0)
    answer(bench, line, said(line.readings[0]))
    answer(bench, check(bench, "B is worth every cent."))
    pack = pack_out.export_pack(bench.database, bench.slug)
    assert [(each.sentence, each.form, each.number) for each in pack.script_answers] == [
        (SAID, "time saved", 300.0),
        ("B is worth every cent.", None, None),
    ]
    brought = import_zip(bench.database, zip_files(write_pack(pack)))
    again = script.show_script(bench.database, brought.slug)
    assert [(each.confirmed, each.verdict) for each in again.check.claims] == [(True, "holds")]
    assert [each.said for each in again.check.plain] == [True]
    assert [each.pattern for each in again.learnt] == ["A gallops home N sooner than B on T"]
    public = for_strangers(pack)
    assert (public.script_answers, public.script_phrasings) == ([], [])


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"against_machine": None, "against_setup": None}, "lacks a setup"),
        ({"number": None}, "number"),
    ],
)
def test_a_pack_with_half_an_answer_is_refused(
    bench: Bench, changes: dict[str, object], words: str
) -> None:
    line = check(bench, SAID)
    answer(bench, line, said(line.readings[0]))
    pack = pack_out.export_pack(bench.database, bench.slug)
    broken = [pack.script_answers[0].model_copy(update=changes)]
    pack = pack.model_copy(update={"script_answers": broken})
    with pytest.raises(RefusedError, match=words):
        import_zip(bench.database, zip_files(write_pack(pack)))


@pytest.mark.parametrize("pattern", ["‹a› ‹a› ‹b› ‹n›", "beats ‹b› by ‹n›", "‹a› laps ‹b›"])
def test_a_pack_with_a_phrasing_that_cannot_be_read_is_refused(bench: Bench, pattern: str) -> None:
    line = check(bench, SAID)
    answer(bench, line, said(line.readings[0]))
    pack = pack_out.export_pack(bench.database, bench.slug)
    broken = [pack.script_phrasings[0].model_copy(update={"pattern": pattern, "number": None})]
    pack = pack.model_copy(update={"script_phrasings": broken})
    with pytest.raises(RefusedError, match="each of its parts, once"):
        import_zip(bench.database, zip_files(write_pack(pack)))


def test_answers_of_two_people_at_once_are_both_kept(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    first, second = check(bench, SAID), check(bench, "B is worth every cent.")
    answer(bench, first, said(first.readings[0]))
    # The second was read of a book from before the first was kept.
    before = SHELF.take(bench.database, bench.slug)
    answer(bench, second)
    monkeypatch.setattr(SHELF, "take", lambda *_: before)
    script_answers.answer_sentence(bench.database, bench.slug, "C is nice.", "C is nice.", [])
    monkeypatch.undo()
    kept = SHELF.take(bench.database, bench.slug).script
    assert kept is not None
    assert set(kept.answers) == {SAID, "B is worth every cent.", "C is nice."}


def test_a_setup_that_goes_takes_its_answer_with_it(bench: Bench) -> None:
    line = check(bench, SAID)
    answer(bench, line, said(line.readings[0]))
    book_script = script.show_script(bench.database, bench.slug)
    assert book_script.check.sentences == 0
    gone = said(line.readings[0], b=UUID(int=7))
    with pytest.raises(RefusedError, match="any more"):
        answer(bench, line, gone)


def test_a_text_in_another_language_is_said_to_be_so(bench: Bench) -> None:
    german = "Der Turm ist auf der Parade doppelt so schnell wie das alte Gerät, sagen wir. " * 3
    assert not script.check_script(bench.database, bench.slug, german).english
    assert script.check_script(bench.database, bench.slug, SAID).english
