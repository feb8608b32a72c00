"""Specs and states: which rows a spec sheet has, in which unit, and how a typed one is read."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import TypeAlias

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import PLAIN, Numerals, localised, short
from true_margin.core.typed_numbers import plain_numbers

SpecValue: TypeAlias = str | float | int | bool | list[str]
SMALLEST = 1e-6
"""Numbers that must be more than 0 are at least this."""


class CellKind(StrEnum):
    """What a row holds."""

    TEXT = "text"
    LONG = "long text"
    NUMBER = "number"
    WHOLE = "whole number"
    CHOICE = "one of a few words"
    LIST = "list of words"
    MONTH = "year or month"
    YES = "yes or no"


@dataclass(frozen=True, slots=True)
class Spec:
    """One row of the spec sheet.

    Attributes:
        field: name it is stored under.
        title: name on the screen.
        group: heading that it stands under.
        kind: what it holds.
        unit: of a number; None for the others.
        choices: the words that may be chosen.
        least, most: bounds of a number, both allowed.
        names: other names that people give it, in lower case.
    """

    field: str
    title: str
    group: str = ""
    kind: CellKind = CellKind.TEXT
    unit: str | None = None
    choices: tuple[str, ...] = ()
    least: float = SMALLEST
    most: float = 1e9
    names: tuple[str, ...] = ()


_SCALES: dict[str, dict[str, float]] = {
    "GB": {"tb": 1000.0, "gb": 1.0, "mb": 0.001},
    "GHz": {"ghz": 1.0, "mhz": 0.001},
    "MB/s": {"gb/s": 1000.0, "mb/s": 1.0},
    "kg": {"kg": 1.0, "g": 0.001},
    "W": {"kw": 1000.0, "w": 1.0},
    "°C": {"°c": 1.0, "c": 1.0},
}
_NUMBER = re.compile(r"^(-?\d{1,12}(?:[.,]\d{1,9})?)\s*(\S*)$")
_MONTH = re.compile(r"^(19|20|21)\d\d(-(0[1-9]|1[0-2]))?$")
_YES = {"yes": True, "y": True, "true": True, "no": False, "n": False, "false": False}
LONGEST = 120
LONGEST_NOTE = 2000


def find_spec(title: str, specs: Iterable[Spec]) -> Spec | None:
    """Find a row by its title, its stored name or another name people give it.

    Case, signs and a unit in brackets do not matter.
    """
    plain = _plain(title)
    bare = _plain(re.sub(r"[\[(].*[\])]", "", title))
    return next(
        (
            s
            for s in specs
            for own in (_plain(s.title), _plain(s.field), *s.names)
            if own in (plain, bare)
        ),
        None,
    )


def _plain(title: str) -> str:
    return re.sub(r"[^a-z0-9]+", " ", title.lower()).strip()


def parse_spec(spec: Spec, text: str, signs: Numerals = PLAIN) -> SpecValue | None:
    """Read a typed cell; a number may carry its unit, thousands set apart and a decimal comma.

    Args:
        spec: the row.
        text: as typed.
        signs: of whoever typed it: whether ``6,850 MB/s`` is six thousand.

    Returns:
        The value in the row's unit; None for an empty text or a dash.

    Raises:
        QuantityError: not what the row holds, out of its bounds, or a unit of another kind.

    Example:
        >>> parse_spec(Spec("storage_gb", "Storage", kind=CellKind.NUMBER, unit="GB"), "2 TB")
        2000.0
    """
    plain = text.strip()
    if plain in ("", "-", "–"):
        return None
    longest = LONGEST_NOTE if spec.kind is CellKind.LONG else LONGEST
    if len(plain) > longest:
        raise QuantityError(f"{spec.title}: longer than {longest} signs")
    if spec.kind in (CellKind.NUMBER, CellKind.WHOLE):
        return _number(spec, plain_numbers(plain, signs))
    if spec.kind is CellKind.CHOICE:
        return _choice(spec, plain)
    if spec.kind is CellKind.LIST:
        parts = (part.strip() for part in re.split(r"[,;]", plain))
        return list(dict.fromkeys(part for part in parts if part))
    if spec.kind is CellKind.MONTH and not _MONTH.match(plain):
        raise QuantityError(f"{spec.title}: {plain!r} is no year or month; type 2031 or 2031-06")
    if spec.kind is CellKind.YES:
        if plain.lower() not in _YES:
            raise QuantityError(f"{spec.title}: {plain!r} is neither yes nor no")
        return _YES[plain.lower()]
    return plain


def show_spec(value: object) -> str:
    """Write a stored value as it would be typed, without its unit.

    Example:
        >>> show_spec(["H.264", "HEVC"]), show_spec(2000.0), show_spec(True)
        ('H.264, HEVC', '2000', 'yes')
    """
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.6f}".rstrip("0").rstrip(".")
    if isinstance(value, (list, tuple)):
        return ", ".join(str(each) for each in value)
    return str(value)


def say_spec(value: object) -> str:
    """Write a stored value for whoever reads it, without its unit; typed so, it reads back.

    Example:
        >>> say_spec(3.6), say_spec("app 3.6")
        ('3.6', 'app 3.6')
    """
    text = show_spec(value)
    return localised(text) if isinstance(value, float) else text


def _number(spec: Spec, plain: str) -> float | int:
    match = _NUMBER.match(plain) if plain.replace("°", "").isascii() else None
    if match is None:
        raise QuantityError(f"{spec.title}: {plain!r} is not a number; type it like 16 or 3.6")
    value = float(match[1].replace(",", ".")) * _scale(spec, match[2].lower(), plain)
    if not spec.least <= value <= spec.most:
        least = "more than 0" if spec.least == SMALLEST else f"at least {short(spec.least)}"
        raise QuantityError(
            f"{spec.title}: {plain!r} must be {least} and at most {short(spec.most)}"
        )
    if spec.kind is CellKind.NUMBER:
        return round(value, 6)
    if value != int(value):
        raise QuantityError(f"{spec.title}: {plain!r} must be a whole number")
    return int(value)


def _scale(spec: Spec, unit: str, text: str) -> float:
    scales = _SCALES.get(spec.unit or "", {(spec.unit or "").lower(): 1.0})
    if unit in ("", spec.title.lower()):
        return 1.0
    if unit not in scales:
        raise QuantityError(f"{spec.title}: {text!r} has a unit that does not fit")
    return scales[unit]


def _choice(spec: Spec, plain: str) -> str:
    found = [each for each in spec.choices if each.lower() == plain.lower()]
    if not found:
        words = ", ".join(spec.choices)
        raise QuantityError(f"{spec.title}: {plain!r} is none of: {words}")
    return found[0]
