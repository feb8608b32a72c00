"""Each sentence of the script: whether it claims something, with its verdict and why."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from true_margin.core.claims.check import Around, Checked, around_each, check_line
from true_margin.core.claims.context import ALONE
from true_margin.core.claims.learn import Phrasing
from true_margin.core.claims.names import Names
from true_margin.core.claims.notice import looks_english, names_a_setup
from true_margin.core.claims.result import Status
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.errors import CoreError
from true_margin.core.numerals import fixed, short
from true_margin.core.parity import Weight
from true_margin.core.wording import count_of, format_elapsed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.errors import RefusedError
from true_margin.desk.publish.advice_lines import check_advice
from true_margin.desk.publish.feel_lines import check_feel
from true_margin.desk.publish.meter_lines import check_meter
from true_margin.desk.publish.script_answers import (
    ShownReading,
    answered,
    key_of,
    learnt_phrasings,
    shown,
)
from true_margin.desk.publish.script_names import book_names
from true_margin.exchange.script_text import ScriptLine, read_script

MOST_KNOWN = 20_000
"""So many sentences are remembered with their verdict."""
WAITING = (Verdict.UNREAD.value, Verdict.ASKED.value)
"""What nobody could judge then was not seen: its verdict now is no change."""
MOVED = 0.01
"""From this change, as a part, a figure is another than the one that a person saw."""


@dataclass(frozen=True, slots=True)
class ModelVerdict:
    """What holds of the models, where one sample or a few were timed.

    ``figure`` is the figure with the wider interval, in words; ``say`` a line that holds of the
    models; ``same`` says whether the verdict is that of the machines that were tested.
    """

    verdict: str
    shown: str
    figure: str | None
    say: str | None
    same: bool


@dataclass(frozen=True, slots=True)
class CheckedLine:
    """A claim of the script.

    ``line`` is where it begins, from 1; ``key`` by what an answer to it is kept; ``status``
    whether it was judged, waits for a person to confirm its ``readings``, or was not understood;
    ``shown`` what a screen calls its verdict;
    ``confirmed`` whether a person said that it means that. ``was`` is the verdict that a person
    saw last where it is another now, ``was_figure`` the figure where that moved; ``figure`` the
    figure with its interval in words; ``behind`` the runs and what confounds the pair;
    ``models`` the same for the models. ``a``, ``b`` and ``task`` lead to the pair.
    """

    line: int
    text: str
    key: str
    status: Status
    confirmed: bool
    verdict: str
    shown: str
    was: str | None
    was_figure: str | None
    readings: tuple[ShownReading, ...]
    figure: str | None
    say: str | None
    reason: str
    behind: tuple[str, ...]
    a: UUID | None
    b: UUID | None
    task: str | None
    models: ModelVerdict | None


@dataclass(frozen=True, slots=True)
class PlainLine:
    """A sentence that claims nothing; ``said`` where a person said so.

    ``named`` is whether it names a machine: nobody is to take its silence for approval.
    """

    line: int
    text: str
    key: str
    said: bool
    named: bool


@dataclass(frozen=True, slots=True)
class ScriptCheck:
    """A script, sentence by sentence: those that claim something, and those that do not.

    ``english`` is whether it reads like English: nothing else is understood.
    """

    sentences: int
    claims: tuple[CheckedLine, ...]
    plain: tuple[PlainLine, ...]
    english: bool


@dataclass(frozen=True, slots=True)
class Seen:
    """What a person saw last of a claim: its verdict, and its figure where it had one."""

    verdict: str
    value: float | None = None
    unit: str | None = None


def read_seen(stored: Mapping[str, Any]) -> dict[str, Seen]:
    """What was seen, by sentence; older scripts keep the verdict alone."""
    return {
        text: Seen(each)
        if isinstance(each, str)
        else Seen(str(each.get("verdict")), each.get("value"), each.get("unit"))
        for text, each in stored.items()
    }


def seen_now(checked: Checked) -> dict[str, Any]:
    """What a person sees of a claim now, as it is kept."""
    return {"verdict": checked.verdict.value, "value": checked.value, "unit": checked.quantity}


@dataclass(frozen=True, slots=True)
class Sentence:
    """A sentence of the script with what was found of it; ``confirmed`` by a person."""

    line: ScriptLine
    key: str
    checked: Checked | None
    confirmed: bool
    said: bool


def check_sentences(
    book: Book, text: str, learnt: tuple[Phrasing, ...] | None = None
) -> list[Sentence]:
    """Check every sentence of a text; by what this shootout has learnt, unless told.

    Raises:
        RefusedError: it is too long.
    """
    try:
        lines = read_script(text)
    except CoreError as error:
        raise RefusedError("text", f"{error.reason[:1].upper()}{error.reason[1:]}.") from error
    names = book_names(book)
    learnt = learnt_phrasings(book) if learnt is None else learnt
    around = around_each(names, [line.text for line in lines])
    return [
        _sentence(book, names, line, beside, learnt)
        for line, beside in zip(lines, around, strict=True)
    ]


def _sentence(
    book: Book, names: Names, line: ScriptLine, around: Around, learnt: tuple[Phrasing, ...]
) -> Sentence:
    key = key_of(line.text, around, names)
    answer = answered(book, key, names)
    if answer is False:
        return Sentence(line, key, None, confirmed=False, said=True)
    if isinstance(answer, Checked):
        return Sentence(line, key, answer, confirmed=True, said=True)
    found = check_sentence(book, names, line.text, around, learnt)
    return Sentence(line, key, found, confirmed=False, said=False)


def check_text(book: Book, text: str, seen: Mapping[str, Seen]) -> ScriptCheck:
    """Check a text for the screen.

    Raises:
        RefusedError: it is too long.
    """
    sentences, names = check_sentences(book, text), book_names(book)
    claims = tuple(
        _line(book, each, each.checked, seen.get(each.line.text))
        for each in sentences
        if each.checked is not None
    )
    plain = tuple(
        PlainLine(
            each.line.number,
            each.line.text,
            each.key,
            each.said,
            names_a_setup(names.mark(each.line.text)[0]),
        )
        for each in sentences
        if each.checked is None
    )
    return ScriptCheck(len(sentences), claims, plain, looks_english(text))


@dataclass(frozen=True, slots=True)
class ClaimTally:
    """Claims of the kept script: how many there are, how many of each verdict that needs
    fixing, by its name, how many wait to be confirmed or were not understood, and how many have
    another verdict than a person saw."""

    claims: int
    wrong: dict[str, int]
    confirm: int
    not_understood: int
    changed: int

    @property
    def open(self) -> int:
        """Claims that a person has to look at."""
        return sum(self.wrong.values()) + self.confirm + self.not_understood


def tally_claims(book: Book) -> ClaimTally:
    """Count the claims of the kept script."""
    return book.cached("tally", lambda: _tally(book))


def _tally(book: Book) -> ClaimTally:
    script = book.script
    seen = {} if script is None else read_seen(script.verdicts)
    sentences = [] if script is None else check_sentences(book, script.text)
    found = [(each.line.text, each.checked) for each in sentences if each.checked is not None]
    fine = (Verdict.HOLDS, Verdict.LIKELY)
    judged = [each for _, each in found if each.status is Status.JUDGED]
    wrong = Counter(each.shown for each in judged if each.verdict not in fine)
    statuses = Counter(each.status for _, each in found)
    changed = sum(_changed(each, seen.get(text)) is not None for text, each in found)
    return ClaimTally(
        len(found), dict(wrong), statuses[Status.CONFIRM], statuses[Status.NOT_UNDERSTOOD], changed
    )


Found = dict[tuple[str, Around], Checked | None]


def _known(book: Book, learnt: tuple[Phrasing, ...]) -> Found:
    """What was found of sentences before, by what had been learnt then."""
    none: dict[tuple[Phrasing, ...], Found] = {}
    by_learnt = book.cached("claims", lambda: none)
    if learnt not in by_learnt:
        by_learnt.clear()
        by_learnt[learnt] = {}
    return by_learnt[learnt]


def check_sentence(
    book: Book,
    names: Names,
    text: str,
    around: Around = ALONE,
    learnt: tuple[Phrasing, ...] | None = None,
) -> Checked | None:
    """Check a sentence, once for a book: most lines stay while one is typed."""
    if learnt is None:
        learnt = learnt_phrasings(book)
    known = _known(book, learnt)
    key = (text, around)
    if key not in known:
        if len(known) > MOST_KNOWN:
            known.clear()
        felt = check_feel(book, text, dict(names.also))
        known[key] = (
            felt
            or check_meter(book, text, names, around)
            or check_advice(book, text, names, around)
            or check_line(analysis_of(book), names, text, around, learnt)
        )
    return known[key]


def _changed(checked: Checked, seen: Seen | None) -> Seen | None:
    """What a person saw, where it is not so any more."""
    if seen is None or seen.verdict in WAITING:
        return None
    if seen.verdict != checked.verdict.value:
        return seen
    if seen.value is None or checked.value is None or seen.unit != checked.quantity:
        return None
    moved = abs(checked.value - seen.value) > MOVED * abs(seen.value)
    return seen if moved else None


def _line(book: Book, sentence: Sentence, checked: Checked, seen: Seen | None) -> CheckedLine:
    a, b = (None if s is None else book.setups[s].id for s in (checked.a, checked.b))
    task = None
    if checked.a is not None:
        task = "mix" if checked.task is None else str(book.tasks[checked.task].id)
    was = _changed(checked, seen)
    same = was is None or was.verdict == checked.verdict.value
    return CheckedLine(
        sentence.line.number,
        sentence.line.text,
        sentence.key,
        checked.status,
        sentence.confirmed,
        checked.verdict.value,
        checked.shown,
        None if same or was is None else was.verdict,
        None if was is None or was.value is None else _value(was.unit, was.value),
        shown(book, checked.readings),
        _figure(checked),
        checked.say,
        checked.reason,
        tuple(_behind(book, checked)),
        a,
        b,
        task,
        _of_models(checked),
    )


def _value(unit: str | None, value: float) -> str:
    """A figure alone, as it would be said."""
    if unit == "seconds":
        return format_elapsed(value) if abs(value) >= 60.0 else f"{short(value, 2)} s"
    return fixed(value, 0 if unit == "rank" or abs(value) >= 20 else 2)


def _of_models(checked: Checked) -> ModelVerdict | None:
    own = checked.of_models
    if own is None:
        return None
    same = own.verdict is checked.verdict
    return ModelVerdict(own.verdict.value, own.shown, _figure(own), own.say, same)


def _figure(checked: Checked) -> str | None:
    if checked.value is None or checked.lo is None or checked.hi is None:
        return None
    if checked.lo == checked.hi == checked.value:
        # A price, or a count that is sure: nothing is known of an interval.
        return f"{checked.quantity}: {short(checked.value, 2)}"
    if checked.quantity == "seconds":
        told = [_value("seconds", each) for each in (checked.value, checked.lo, checked.hi)]
        return f"{told[0]}, {told[1]} to {told[2]}"
    digits = 0 if checked.quantity == "rank" or abs(checked.value) >= 20 else 2
    parts = [fixed(x, digits) for x in (checked.value, checked.lo, checked.hi)]
    unit = checked.quantity or ""
    if unit.startswith("%"):
        return f"{parts[0]} {unit}, {parts[1]} to {parts[2]}"
    return f"{unit}: {parts[0]}, {parts[1]} to {parts[2]}"


def _behind(book: Book, checked: Checked) -> Iterator[str]:
    """Runs, and what confounds the pair; a cause that is named where something confounds it."""
    study = analysis_of(book).study
    tasks = range(len(book.tasks)) if checked.task is None else [checked.task]
    for setup in (checked.a, checked.b):
        if setup is None:
            continue
        model = study.model_of[setup]
        if model not in checked.models:
            yield f"{book.setups[setup].label}: {_runs(book, [setup], tasks)}"
            continue
        own = [at for at, each in enumerate(study.model_of) if each == model]
        samples = len({int(study.unit_of[at]) for at in own})
        yield f"{model}: {count_of(samples, 'sample')}, {_runs(book, own, tasks)}"
    if checked.a is None or checked.b is None:
        return
    muddy = sorted(
        {
            difference.condition.value
            for t in tasks
            for difference in parity_of(book).between(t, checked.a, checked.b)
            if difference.weight is not Weight.ALLOWED
        }
    )
    if muddy:
        differed = ", ".join(muddy)
        yield f"caveat: {differed} differed"
    if checked.cause is not None:
        said = f"you name a cause ({checked.cause})"
        yield f"{said}, but the two also differ in {differed}: not proven" if muddy else said


def _runs(book: Book, setups: Iterable[int], tasks: Iterable[int]) -> str:
    return count_of(sum(int(book.index.ok[setup, t]) for setup in setups for t in tasks), "run")
