"""What stands in a cell: results with their notes, prices, specs; read back, or asked about."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from true_margin.core.entry_line import read_value_words
from true_margin.core.errors import CoreError, QuantityError
from true_margin.core.figure_notes import take_notes_off
from true_margin.core.money import Money, parse_price, split_currency
from true_margin.core.notes import parse_ratio
from true_margin.core.numerals import PLAIN, Numerals, short, writing
from true_margin.core.quantities import AmbiguousElapsed, parse_amount, parse_elapsed
from true_margin.core.readings import ReadingMethod
from true_margin.core.specs import Spec, parse_spec, say_spec
from true_margin.core.state_words import NOTHING
from true_margin.core.study import RunStatus
from true_margin.core.timecodes import parse_timecodes
from true_margin.core.wording import BOUND_WORD, format_elapsed
from true_margin.exchange.sheets.words import LONGEST, PARTED, CellKind, kind_of, without_marks

_NOTE = re.compile(r"^(?P<body>.*?\S)\s*\((?P<note>[^()]*[^\W\d_][^()]*)\)$", re.DOTALL)
MOST_TYPED = 60
"""Signs of a value as the book keeps it."""
_REACHED = re.compile(r"(\d{1,3}(?:[.,]\d+)?)\s*%")
_OVERFULL = re.compile(r"^(?P<large>\d+)\s*(?P<unit>:|m(?:in)?\s*)(?P<small>\d\d)(?:\s*s)?$")
_PLAIN_NUMBER = re.compile(r"^([<>~≈]|over|under|about)?\s*[\d.,'’ \u00a0\u202f]+$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Fix:
    """A way to write a cell that cannot be misread, and what it means in words."""

    words: str
    typed: str


class CellError(CoreError):
    """A cell that cannot be stored as it is.

    Attributes:
        fixes: what may have been meant.
    """

    def __init__(self, reason: str, fixes: tuple[Fix, ...] = ()) -> None:
        super().__init__(reason)
        self.fixes = fixes


@dataclass(frozen=True, slots=True)
class Result:
    """One result out of a cell.

    Attributes:
        typed: as the book keeps it: the cell, with its column's unit where it has none.
        method: how it was read.
        status: whether it counts.
        reason: why not; empty where it does.
        note: what stood beside it.
        words: read back.
    """

    typed: str
    method: ReadingMethod
    status: RunStatus
    reason: str
    note: str
    words: str


def read_results(
    text: str, measure: str, unit: str, signs: Numerals, foot_notes: Mapping[str, str]
) -> tuple[Result, ...]:
    """Read the results in a cell; none where nothing was tried.

    Args:
        text: of the cell, such as ``6:17*``, ``6:17, 6:20`` or ``DNF``.
        measure: ``time`` or ``amount``.
        unit: of the column; empty where its cells say it.
        signs: that its numbers are written with.
        foot_notes: of the sheet, by mark.

    Raises:
        CellError: it cannot be read, or has two meanings.
    """
    body, marks = without_marks(text)
    note = "; ".join(foot_notes[mark] for mark in marks if mark in foot_notes)
    if body.casefold() in NOTHING:
        return ()
    if len(body) > LONGEST:
        raise CellError(f"{body[:20]!r}… is too long for a result: {LONGEST} signs at most.")
    kind = kind_of(body)
    if kind is CellKind.FAILED:
        return (_failed(" ".join(body.split()), note),)
    whole = _result(body, measure, unit, signs, note)
    parts = [part for part in PARTED.split(body) if part.strip()]
    if not isinstance(whole, CellError):
        return (whole,)
    if len(parts) < 2:
        raise whole
    found = [_result(part, measure, unit, signs, note) for part in parts]
    for each in found:
        if isinstance(each, CellError):
            raise whole
    return tuple(each for each in found if isinstance(each, Result))


def _failed(text: str, note: str) -> Result:
    reason = "; ".join(part for part in (text, note) if part)
    return Result("", ReadingMethod.STOPWATCH, RunStatus.FAILED, reason, "", "failed")


def part_reached(reason: str) -> float | None:
    """How far a failed run came, where its reason says so: ``crashed at 40 %`` is 0.4."""
    match = _REACHED.search(reason)
    if match is None:
        return None
    part = float(match[1].replace(",", ".")) / 100.0
    return part if 0.0 <= part < 1.0 else None


def _result(body: str, measure: str, unit: str, signs: Numerals, note: str) -> Result | CellError:
    """One result, or why it is none."""
    text, notes = " ".join(body.split()), [note] if note else []
    while (noted := _NOTE.match(text)) is not None and not _is_unit_note(noted["note"]):
        text, notes = noted["body"].strip(), [noted["note"].strip(), *notes]
    text, beside = take_notes_off(text)
    notes = [*beside, *notes]
    said = read_value_words(text)
    typed = _with_unit(said.value, measure, unit)
    if not typed and said.status is not RunStatus.OK:
        reason = said.reason or said.status.value
        return Result("", said.method, said.status, reason, "; ".join(notes), said.status.value)
    if len(typed) > MOST_TYPED:
        return CellError(f"{typed[:20]!r}… is longer than {MOST_TYPED} signs; shorten it.")
    try:
        words = value_words(typed, measure, unit, signs)
    except CellError as error:
        return error
    except QuantityError as error:
        return CellError(error.reason, _overfull(typed))
    reason = said.reason if said.status is RunStatus.OK else said.reason or said.status.value
    return Result(typed, said.method, said.status, reason, "; ".join(notes), words)


def _is_unit_note(text: str) -> bool:
    return bool(re.fullmatch(r"(?:s|min|h|sec|pts|points|fps)", text.strip(), re.IGNORECASE))


def _with_unit(value: str, measure: str, unit: str) -> str:
    """A bare number or clock with its column's unit, so that it says what it means."""
    if measure != "time" or not value:
        return value
    if unit in ("s", "min", "h") and _PLAIN_NUMBER.match(value):
        return f"{value} {unit}"
    if unit == "h:min" and re.fullmatch(r"\d+[:.,]\d\d", value):
        return f"{re.sub('[.,]', ':', value)} h"
    if unit == "min:s" and re.fullmatch(r"\d+[.,]\d\d", value):
        return re.sub("[.,]", ":", value)
    if unit.endswith(", decimal") and _PLAIN_NUMBER.match(value):
        return _decimal_time(value, unit.partition(",")[0])
    if unit == "min:s:00":
        return re.sub(r"^(\d+:\d\d):00$", r"\1", value)
    return value


def _decimal_time(value: str, unit: str) -> str:
    """6.05 min by parts of a minute, written so that it cannot be 6:05; as wide as it was."""
    if not re.fullmatch(r"\d+[.,][0-5]\d", value):
        return f"{value} {unit}"
    number = float(value.replace(",", "."))
    if unit == "min":
        return f"{short_plain(60.0 * number)} s"
    return f"{short_plain(60.0 * number)} min ± 0.3 min"


def short_plain(seconds: float) -> str:
    """A number of seconds as every reader of files can take it.

    Example:
        >>> short_plain(363.0)
        '363'
    """
    with writing(PLAIN):
        return short(seconds)


def value_words(typed: str, measure: str, unit: str, signs: Numerals) -> str:
    """Read a value back in words.

    Raises:
        CellError: it has two meanings.
        QuantityError: it cannot be read.
    """
    if measure == "amount":
        amount = parse_amount(typed, signs)
        sign = f"{BOUND_WORD[amount.bound]} " if amount.bound else ""
        about = "about " if amount.approximate else ""
        return f"{sign or about}{short(amount.value)} {unit}".strip()
    timecodes = parse_timecodes(typed)
    time = timecodes[0] if timecodes is not None else parse_elapsed(typed, signs)
    if isinstance(time, AmbiguousElapsed):
        raise CellError(f"{typed} has two meanings.", _two_fixes(time))
    sign = f"{BOUND_WORD[time.bound]} " if time.bound else ""
    about = "about " if time.approximate else ""
    return f"{sign or about}{format_elapsed(time.seconds, time.resolution_s)}"


def _two_fixes(time: AmbiguousElapsed) -> tuple[Fix, ...]:
    return tuple(
        Fix(format_elapsed(each.seconds), f"{short_plain(each.seconds)} s")
        for each in (time.as_clock, time.as_decimal)
    )


def _overfull(typed: str) -> tuple[Fix, ...]:
    """7m99s may be 8:39: the only way in which its sum would be a time."""
    match = _OVERFULL.match(typed)
    if match is None or int(match["small"]) < 60:
        return ()
    words = format_elapsed(60 * int(match["large"]) + int(match["small"]))
    return (Fix(words, words),)


def read_price(text: str, currency: str, signs: Numerals) -> tuple[Money, str] | None:
    """Read a price and the note beside it; None where there is none.

    Raises:
        CellError: it cannot be read.
    """
    body, _ = without_marks(text)
    if body.casefold() in NOTHING:
        return None
    if len(body) > LONGEST:
        raise CellError(f"{body[:20]!r}… is too long for a price.")
    noted = _NOTE.match(body)
    note = noted["note"].strip() if noted else ""
    amount = noted["body"].strip() if noted else body
    said = split_currency(amount)[1]
    own = currency if not said or currency in said else said[0]
    try:
        return parse_price(amount, own, signs), note
    except QuantityError as error:
        raise CellError(error.reason) from error


def read_spec(text: str, spec: Spec, signs: Numerals, unit: str = "") -> str | None:
    """Read a spec and write it as it would be typed; None where there is none.

    Args:
        text: of the cell.
        spec: the row that it is for.
        signs: that its numbers are written with.
        unit: of a bare number, where the column's head says one.

    Raises:
        CellError: the row cannot hold it.
    """
    body, _ = without_marks(text)
    if body.casefold() in NOTHING:
        return None
    plain = " ".join(body.split())
    if (
        spec.unit
        and unit
        and unit.casefold() != spec.unit.casefold()
        and _PLAIN_NUMBER.match(plain)
    ):
        plain = f"{plain} {unit}"
    try:
        value = parse_spec(spec, plain, signs)
    except QuantityError as error:
        raise CellError(error.reason) from error
    behind = f" {spec.unit}" if spec.unit and not isinstance(value, (str, bool, list)) else ""
    return f"{say_spec(value)}{behind}"


def read_ratio(text: str) -> str | None:
    """Check a ratio and give it as typed; None where there is none.

    Raises:
        CellError: it is no ratio.
    """
    body, _ = without_marks(text)
    if body.casefold() in NOTHING:
        return None
    try:
        parse_ratio(body)
    except QuantityError as error:
        raise CellError(error.reason) from error
    return body


def noted(result: Result, more: str) -> Result:
    """A result with a note of its row as well."""
    return replace(result, note="; ".join(part for part in (result.note, more) if part))
