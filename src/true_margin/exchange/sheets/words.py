"""What heads and cells of a sheet say: their kind, their unit, and the words that people use."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from types import MappingProxyType

from true_margin.core.figure_notes import take_notes_off
from true_margin.core.money import currencies_of, split_currency
from true_margin.core.state_words import FAILED_WORDS, NOTHING

FOOT_MARKS = "*†‡§¹²³⁴⁵⁶⁷⁸⁹"
LONGEST = 120
"""Signs of a cell that may be a value; what is longer is text, and read by no pattern."""
_FOOT = re.compile(rf"^(?P<mark>[{re.escape(FOOT_MARKS)}]+|\(?\d\)|\[\d\])\s*[:.]?\s*(?P<note>.+)$")
LONGEST_NOTE = 2000
_LEADS = (
    r"(?:[<>~≈]|about|around|circa|ca\.?|over|under|almost|nearly|more than|less than|at least)"
)
_DIGITS = r"\d[\d.,'’\u00a0\u202f ]*"
_TIME_UNIT = r"(?:h|hrs?|hours?|m|mins?|minutes?|s|secs?|seconds?|'|\"|′|″)"
_TIME = re.compile(
    rf"^(?:{_LEADS}\s*)?(?:\d+(?::\d\d){{1,2}}(?:[.,]\d+)?(?:\s*{_TIME_UNIT})?"
    rf"|(?:{_DIGITS}{_TIME_UNIT}\s*)+(?:\d+(?:[.,]\d+)?)?)$",
    re.IGNORECASE,
)
_PERCENT = re.compile(
    rf"^(?:{_LEADS}\s*)?[+−-]?\s*{_DIGITS}%\s*(?:faster|slower|less time)?$", re.IGNORECASE
)
_TIMES = re.compile(rf"^(?:{_LEADS}\s*)?{_DIGITS}(?:x|×|times)(?:\s+as fast)?$", re.IGNORECASE)
_NUMBER = re.compile(
    rf"^(?:{_LEADS}\s*)?[+−-]?{_DIGITS}(?P<unit>\s*[a-zµ°/²]+(?:/[a-z]+)?)?$", re.IGNORECASE
)
_GLUED = re.compile(r"^\d+(?:k|p|i|bit)$", re.IGNORECASE)
"""A picture size or a depth: a name, not a number."""


class CellKind(StrEnum):
    """What a cell looks like, before its column says more."""

    EMPTY = "empty"
    TIME = "time"
    PERCENT = "percent"
    MONEY = "money"
    NUMBER = "number"
    FAILED = "failed"
    TEXT = "text"


PARTED = re.compile(r"\s*[;\n]\s*|,\s+(?=[\d<>~≈])|\s+/\s+(?=[\d<>~≈])")
"""What stands between several results in one cell."""
_RANGE = re.compile(r"\s+(?:to|–|—|±|\+/-)\s+")
VALUES = frozenset({CellKind.TIME, CellKind.PERCENT, CellKind.MONEY, CellKind.NUMBER})


@lru_cache(maxsize=50_000)
def kind_of(cell: str) -> CellKind:
    """What a cell looks like.

    Example:
        >>> [kind_of(cell).value for cell in ("6:17*", "4K", "1,402", "DNF", "n/a", "€940")]
        ['time', 'text', 'number', 'failed', 'empty', 'money']
    """
    if len(cell) > LONGEST:
        return CellKind.TEXT
    text = " ".join(without_marks(cell)[0].split())
    bare = re.sub(r"\s*\([^)]*\)$", "", text)
    if text.casefold() in NOTHING:
        return CellKind.EMPTY
    if FAILED_WORDS.match(text):
        return CellKind.FAILED
    for kind, pattern in ((CellKind.TIME, _TIME), (CellKind.PERCENT, _PERCENT)):
        if pattern.match(bare):
            return kind
    if _TIMES.match(bare):
        return CellKind.PERCENT
    if split_currency(bare)[1]:
        return CellKind.MONEY
    if _NUMBER.match(bare) and not _GLUED.match(bare):
        return CellKind.NUMBER
    return _kind_of_parts(cell, text, bare)


def _kind_of_parts(cell: str, text: str, bare: str) -> CellKind:
    """What a cell of several results, or of one with words around it, looks like."""
    first, _ = take_notes_off(bare)
    parts = [part for part in PARTED.split(without_marks(cell)[0]) if part.strip()]
    ends = _RANGE.split(bare)
    for shorter in (first, parts[0] if len(parts) > 1 else "", ends[-1] if len(ends) == 2 else ""):
        if shorter and shorter != text and (kind := kind_of(shorter)) in VALUES:
            return kind
    return CellKind.TEXT


def without_marks(cell: str) -> tuple[str, str]:
    """A cell without the marks of its foot notes, and the marks."""
    text = cell.strip()
    body = text.rstrip(FOOT_MARKS)
    return (body.rstrip(), text[len(body) :]) if body.strip() else (text, "")


def foot_note(cell: str) -> tuple[str, str] | None:
    """The mark and the text of a foot note; None for anything else."""
    match = _FOOT.match(cell.strip()[:LONGEST_NOTE])
    return (match["mark"].strip("()[]"), match["note"].strip()) if match else None


_HEAD = re.compile(
    r"^(?P<name>.*?)\s*(?:[(\[](?P<unit>[^)\]]+)[)\]]|,\s*(?P<after>[^,]{1,12})|\s+in\s+(?P<of>\S+))$"
)
TIME_UNITS: Mapping[str, str] = MappingProxyType(
    {
        **dict.fromkeys(("s", "sec", "secs", "second", "seconds"), "s"),
        **dict.fromkeys(("m", "min", "mins", "minute", "minutes"), "min"),
        **dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), "h"),
        **dict.fromkeys(("m:s", "m:ss", "mm:ss", "min:s", "min:ss", "min:sec"), "min:s"),
        **dict.fromkeys(("h:m", "h:mm", "hh:mm", "h:min", "hours:minutes"), "h:min"),
        **dict.fromkeys(("h:m:s", "h:mm:ss", "hh:mm:ss"), "h:min:s"),
    }
)
"""How people write the units of times in heads, and what they mean."""
AMOUNT_UNITS = frozenset(
    {"points", "pts", "point", "score", "mb/s", "gb/s", "fps", "frames/s", "tracks", "photos/min"}
    | {"images/min", "files/s", "mbit/s", "gbit/s", "frames", "photos", "images", "layers"}
    | {"streams", "iops", "tokens/s", "lines/s"}
)
_AMOUNT_WORDS = re.compile(
    r"\b(?:score|scores|points|pts|fps|frames per second|tracks|throughput|benchmark)\b", re.I
)
OTHER_UNITS = frozenset(
    {"gb", "tb", "mb", "ghz", "mhz", "mt/s", "w", "db", "db(a)", "°c", "kg", "g"}
)

_ENDS_A_HEAD = OTHER_UNITS - {"w", "g"} | {"mb/s", "gb/s", "fps", "mbit/s", "min:s", "mm:ss"}
"""Units that need no bracket to be told from a name."""


@dataclass(frozen=True, slots=True)
class Head:
    """A head of a column, and the unit in it; empty where it names none."""

    name: str
    unit: str


def read_head(text: str) -> Head:
    """Take the unit off a head.

    Example:
        >>> read_head("Export 4K (min:s)"), read_head("Parade, UHD")
        (Head(name='Export 4K', unit='min:s'), Head(name='Parade, UHD', unit=''))
    """
    plain = " ".join(without_marks(text)[0].split())[:LONGEST]
    match = _HEAD.match(plain)
    if match is None or not match["name"]:
        name, _, last = plain.rpartition(" ")
        return Head(name, last) if name and last.casefold() in _ENDS_A_HEAD else Head(plain, "")
    unit = (match["unit"] or match["after"] or match["of"]).strip()
    # What stands in brackets may be anything; what only follows must be a unit.
    return Head(match["name"], unit) if is_unit(unit) else Head(plain, "")


def is_unit(text: str) -> bool:
    """Whether a text is a unit, or a currency, and nothing else."""
    plain = text.strip().casefold()
    known = plain in TIME_UNITS or plain in AMOUNT_UNITS or plain in OTHER_UNITS or plain == "%"
    return known or bool(currencies_of(text.strip()))


def names_an_amount(head: Head) -> bool:
    """Whether a head says that its values are amounts of which more is better."""
    return head.unit.casefold() in AMOUNT_UNITS or bool(_AMOUNT_WORDS.search(head.name))


def unit_of(cell: str) -> str:
    """The unit behind a number in a cell; empty where there is none.

    Example:
        >>> unit_of("6,850 MB/s"), unit_of("3.210")
        ('MB/s', '')
    """
    match = re.match(r"^[<>~≈]?\s*[\d.,'’ ]*\d\s*([^\d\s(.,'’]\S*)$", cell.strip()[:LONGEST])
    return match[1] if match else ""
