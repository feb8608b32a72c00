"""What a person said that a sentence of the script means: kept with the sentence, and learnt."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID

from true_margin.core.claims.check import Checked, judge_readings
from true_margin.core.claims.context import Around, why_unsure
from true_margin.core.claims.forms import Form
from true_margin.core.claims.learn import Phrasing, phrasing_of
from true_margin.core.claims.names import Names
from true_margin.core.claims.numbers import Hedge
from true_margin.core.claims.reading import NUMBERED, PAIRED, Reading, ReadingError, claim_of
from true_margin.core.claims.sayings import (
    SAYINGS,
    code_of,
    number_text,
    read_typed,
    reading_words,
    with_saying,
)
from true_margin.core.study import Study
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.publish.script_names import book_names
from true_margin.store import scripts, shootouts
from true_margin.store.database import Database

MOST_ANSWERS = 2000
MOST_PHRASINGS = 500
MOST_CLAIMS = 10
"""Claims of one sentence."""


@dataclass(frozen=True, slots=True)
class SaidClaim:
    """One claim as a person chose its parts.

    ``says`` is the code of what is said; ``number`` and ``high`` are as typed, in the reader's
    signs; ``task`` None means the mix.
    """

    says: str
    a: UUID | None
    b: UUID | None
    task: UUID | None
    number: str | None
    high: str | None
    hedge: Hedge
    denied: bool


@dataclass(frozen=True, slots=True)
class ShownReading:
    """What a sentence was taken to say, in parts that can each be changed.

    ``words`` is the same as one plain sentence.
    """

    says: str
    a: UUID | None
    b: UUID | None
    task: UUID | None
    number: str | None
    high: str | None
    hedge: Hedge
    denied: bool
    words: str


@dataclass(frozen=True, slots=True)
class LearntPhrasing:
    """A phrasing that is read as a person confirmed it; ``says`` in plain words."""

    pattern: str
    says: str


def key_of(text: str, around: Around, names: Names) -> str:
    """By what an answer is kept: the sentence, and what stands around it where that matters."""
    topic = ", ".join(names.tasks[at] for at in around.topic)
    unsure = why_unsure(text, around) is not None
    doubt = f"{around.before.strip()} … {around.after.strip()}" if unsure else ""
    return "\n".join(part for part in (text, topic, doubt) if part)


def shown(book: Book, readings: Iterable[Reading]) -> tuple[ShownReading, ...]:
    """Readings for the screen."""
    study = analysis_of(book).study
    return tuple(_shown(book, study, each) for each in readings)


def _shown(book: Book, study: Study, reading: Reading) -> ShownReading:
    a, b = (None if at is None else book.setups[at].id for at in (reading.a, reading.b))
    return ShownReading(
        code_of(reading),
        a,
        b,
        None if reading.task is None else book.tasks[reading.task].id,
        number_text(reading.form, reading.number),
        number_text(reading.form, reading.high),
        reading.hedge,
        reading.denied,
        reading_words(reading, study),
    )


def answered(book: Book, key: str, names: Names) -> Checked | bool | None:
    """What a person said of a sentence.

    Returns:
        Its verdict; False where it claims nothing; None where nobody said anything, or what was
        said is of something that is not here any more.
    """
    known = {} if book.script is None else book.script.answers
    if key not in known:
        return None
    if not known[key]:
        return False
    readings = [_read_stored(book, each) for each in known[key]]
    there = [each for each in readings if each is not None]
    if len(there) < len(readings):
        return None
    try:
        return judge_readings(analysis_of(book), names, there)
    except ReadingError:
        return None


def _read_stored(book: Book, stored: Mapping[str, Any]) -> Reading | None:
    """A kept reading; None where a setup or the task of it is gone."""
    places: dict[str, int | None] = {}
    for part, index in (
        ("a", book.setup_index),
        ("b", book.setup_index),
        ("task", book.task_index),
    ):
        key = stored.get(part)
        places[part] = None if key is None else index.get(UUID(key))
        if key is not None and places[part] is None:
            return None
    return Reading(
        Form(stored["form"]),
        places["a"],
        places["b"],
        places["task"],
        stored.get("number"),
        stored.get("high"),
        Hedge(stored.get("hedge", Hedge.NONE)),
        stored.get("sign", 1),
        stored.get("degree", ""),
        stored.get("denied", False),
        stored.get("half_digit", 0.0),
    )


def stored_reading(
    reading: Reading, setups: Sequence[UUID], tasks: Sequence[UUID]
) -> dict[str, Any]:
    """A reading as it is kept: by the ids of what it names."""
    a, b = (None if at is None else str(setups[at]) for at in (reading.a, reading.b))
    return {
        "form": reading.form.value,
        "a": a,
        "b": b,
        "task": None if reading.task is None else str(tasks[reading.task]),
        "number": reading.number,
        "high": reading.high,
        "hedge": reading.hedge.value,
        "sign": reading.sign,
        "degree": reading.degree,
        "denied": reading.denied,
        "half_digit": reading.half_digit,
    }


def learnt_phrasings(book: Book) -> tuple[Phrasing, ...]:
    """Phrasings that were confirmed, of this shootout and of those before it."""
    return read_phrasings({} if book.script is None else book.script.phrasings)


def read_phrasings(known: Mapping[str, Mapping[str, Any]]) -> tuple[Phrasing, ...]:
    """Phrasings as they are kept, by their pattern."""
    return tuple(
        Phrasing(
            pattern,
            Form(each["form"]),
            Hedge(each.get("hedge", Hedge.NONE)),
            each.get("sign", 1),
            each.get("degree", ""),
            each.get("denied", False),
            each.get("number"),
        )
        for pattern, each in known.items()
    )


def list_learnt(book: Book) -> tuple[LearntPhrasing, ...]:
    """Every learnt phrasing with what it is read as."""
    return tuple(_learnt(each) for each in learnt_phrasings(book))


def _learnt(phrasing: Phrasing) -> LearntPhrasing:
    reading = Reading(
        phrasing.form, None, sign=phrasing.sign, degree=phrasing.degree, number=phrasing.number
    )
    saying = SAYINGS[code_of(reading)]
    number = number_text(phrasing.form, phrasing.number) or "N"
    said = f"A {saying.words.replace('…', number)}{' B' if phrasing.form in PAIRED else ''}"
    words = phrasing.pattern
    for sign, instead in (("‹a›", "A"), ("‹b›", "B"), ("‹t›", "T"), ("‹n›", "N")):
        words = words.replace(sign, instead)
    return LearntPhrasing(words, f"not so: {said}" if phrasing.denied else said)


def answer_sentence(
    database: Database, slug: str, key: str, text: str, claims: Sequence[SaidClaim] | None
) -> None:
    """Keep what a person said that a sentence means.

    Args:
        database: where.
        slug: of the shootout.
        key: of the sentence, as the check gave it.
        text: the sentence itself; its words are learnt where it says all of it.
        claims: its claims; empty where it claims nothing; None takes the answer back.

    Raises:
        RefusedError: a part is missing or is not here, or there are too many answers.
    """
    book = SHELF.take(database, slug)
    readings = [_read_said(book, at, each) for at, each in enumerate(claims or ())]
    names = book_names(book)
    phrasing = phrasing_of(text, readings[0], names) if len(readings) == 1 else None
    setups, tasks = [s.id for s in book.setups], [t.id for t in book.tasks]

    def change(answers: dict[str, Any], phrasings: dict[str, Any]) -> None:
        answers.pop(key, None)
        if claims is not None:
            answers[key] = [stored_reading(each, setups, tasks) for each in readings]
        if phrasing is not None:
            phrasings[phrasing.pattern] = _stored_phrasing(phrasing)
        if len(answers) > MOST_ANSWERS:
            raise RefusedError("key", f"{MOST_ANSWERS} answers are the most: take one back first.")
        if len(phrasings) > MOST_PHRASINGS:
            limit = f"{MOST_PHRASINGS} phrasings are the most: forget one first."
            raise RefusedError("key", limit)

    _keep(database, book, change)


def _stored_phrasing(phrasing: Phrasing) -> dict[str, Any]:
    return {
        "form": phrasing.form.value,
        "hedge": phrasing.hedge.value,
        "sign": phrasing.sign,
        "degree": phrasing.degree,
        "denied": phrasing.denied,
        "number": phrasing.number,
    }


def forget_phrasing(database: Database, slug: str, pattern: str) -> None:
    """Read a learnt phrasing no more; what was confirmed of single sentences stays.

    Raises:
        RefusedError: nothing like it was learnt.
    """
    book = SHELF.take(database, slug)
    wanted = [each for each in learnt_phrasings(book) if _learnt(each).pattern == pattern]
    if not wanted:
        raise RefusedError("pattern", "Nothing like this was learnt.")

    def change(_answers: dict[str, Any], phrasings: dict[str, Any]) -> None:
        for each in wanted:
            phrasings.pop(each.pattern, None)

    _keep(database, book, change)


def _keep(
    database: Database, book: Book, change: Callable[[dict[str, Any], dict[str, Any]], None]
) -> None:
    """Change answers and phrasings as they stand once nobody else can: none is written over."""
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        script = scripts.get_script(session, book.shootout.id)
        answers = {} if script is None else dict(script.answers)
        begun = scripts.list_phrasings(session) if script is None else dict(script.phrasings)
        change(answers, begun)
        changes = {"answers": answers, "phrasings": begun}
        if script is None:
            scripts.add_script(session, book.shootout.id, changes)
        else:
            # No version is asked for: an answer takes nothing away from anybody's text.
            scripts.change_script(session, script, script.version, changes)


def _read_said(book: Book, at: int, said: SaidClaim) -> Reading:
    """The reading that a person chose.

    Raises:
        RefusedError: a part is missing, or is not here.
    """
    field = f"claims.{at}"

    def place(part: str, key: UUID | None, index: Mapping[UUID, int]) -> int | None:
        if key is not None and key not in index:
            raise RefusedError(f"{field}.{part}", "This is not in this shootout any more.")
        return None if key is None else index[key]

    a, b = (place(p, k, book.setup_index) for p, k in (("a", said.a), ("b", said.b)))
    task = place("task", said.task, book.task_index)
    try:
        reading = with_saying(
            Reading(Form.BARE, a, b, task, hedge=said.hedge, denied=said.denied), said.says
        )
        number = high = None
        half_digit = 0.0
        if reading.form in NUMBERED:
            if not (said.number or "").strip():
                raise ReadingError("number", "say the number")
            number, half_digit = read_typed(reading.form, said.number or "")
            high = read_typed(reading.form, said.high)[0] if said.high else None
        reading = replace(reading, number=number, high=high, half_digit=half_digit)
        claim_of(reading, book_names(book))
    except ReadingError as error:
        reason = f"{error.reason[:1].upper()}{error.reason[1:]}."
        raise RefusedError(f"{field}.{error.part}", reason) from error
    return reading
