"""Numbers as people say them: multiples, parts, percentages, lengths of time, hedges."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from enum import StrEnum

_WORDS = {
    "a": 1,
    "an": 1,
    "one": 1,
    "two": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "seven": 7,
    "eight": 8,
    "nine": 9,
    "ten": 10,
    "eleven": 11,
    "twelve": 12,
    "fifteen": 15,
    "twenty": 20,
    "thirty": 30,
    "forty": 40,
    "fifty": 50,
    "sixty": 60,
    "hundred": 100,
}
NUMBER = (
    rf"(?:\d+(?:[.,]\d+)?|{'|'.join(w for w in _WORDS if w not in ('a', 'an'))})"
    r"(?: and a half)?"
)
MULTIPLE = rf"(?:twice|double|thrice|triple|half|{NUMBER} ?(?:x|×|times))"
PART = (
    rf"(?:{NUMBER} ?% of|half(?: of)?|(?:a|one) (?:third|quarter|fifth|tenth) of|"
    r"two thirds of|three quarters of)"
)
_UNIT = r"(?:hours?|h|minutes?|mins?|min|seconds?|secs?|sec|s)"
DURATION = (
    rf"(?:\d+:\d\d(?::\d\d)?|half an? (?:hour|minute)|an? {_UNIT}|"
    rf"{NUMBER} ?{_UNIT}(?: (?:and )?{NUMBER} ?{_UNIT}| (?:and )?[0-5]?\d(?![\d.,:%]| ?%|\w))?)"
)
HEDGES = {
    "about": "about",
    "around": "about",
    "roughly": "about",
    "approximately": "about",
    "some": "about",
    "circa": "about",
    "almost": "almost",
    "nearly": "almost",
    "close to": "almost",
    "just under": "almost",
    "not quite": "almost",
    "over": "over",
    "more than": "over",
    "at least": "over",
    "well over": "over",
    "upwards of": "over",
    "under": "under",
    "less than": "under",
    "at most": "under",
    "well under": "under",
    "up to": "up to",
}
HEDGE = "(?:" + "|".join(sorted(HEDGES, key=len, reverse=True)) + ")"


class Hedge(StrEnum):
    """How firmly a number is said."""

    NONE = "none"
    ABOUT = "about"
    ALMOST = "almost"
    OVER = "over"
    UNDER = "under"
    UP_TO = "up to"


@dataclass(frozen=True, slots=True)
class SpokenNumber:
    """A number as said; ``half_digit`` is half of its last digit."""

    value: float
    half_digit: float


def read_hedge(text: str | None) -> Hedge:
    """Read a hedge; none for none."""
    return Hedge(HEDGES[text.strip()]) if text else Hedge.NONE


def read_number(text: str) -> SpokenNumber:
    """Read a number in figures or in words.

    Example:
        >>> read_number("1,77"), read_number("six and a half")
        (SpokenNumber(value=1.77, half_digit=0.005), SpokenNumber(value=6.5, half_digit=0.25))
    """
    plain = text.strip()
    half = plain.endswith(" and a half")
    plain = plain.removesuffix(" and a half").strip()
    if plain in _WORDS:
        value, digit = float(_WORDS[plain]), 0.5
    else:
        value = float(plain.replace(",", "."))
        decimals = len(re.split(r"[.,]", plain)[1]) if re.search(r"[.,]", plain) else 0
        digit = 0.5 * 10.0**-decimals
    return SpokenNumber(value + 0.5, 0.25) if half else SpokenNumber(value, digit)


def read_multiple(text: str) -> SpokenNumber:
    """Read how many times: twice, half, three times, 1.8x."""
    plain = text.strip()
    fixed = {"twice": 2.0, "double": 2.0, "thrice": 3.0, "triple": 3.0, "half": 0.5}
    if plain in fixed:
        return SpokenNumber(fixed[plain], 0.5)
    return read_number(re.sub(r" ?(?:x|×|times)$", "", plain))


def read_part(text: str) -> float:
    """Read a part of something, as a fraction."""
    plain = text.strip().removesuffix(" of")
    if plain.endswith("%"):
        return read_number(plain[:-1]).value / 100.0
    parts = {"half": 1 / 2, "third": 1 / 3, "quarter": 1 / 4, "fifth": 1 / 5, "tenth": 1 / 10}
    if plain in ("two thirds", "three quarters"):
        return 2 / 3 if plain == "two thirds" else 3 / 4
    return parts[plain.split()[-1]]


_SECONDS = {"h": 3600.0, "m": 60.0, "s": 1.0}


def read_duration(text: str) -> SpokenNumber:
    """Read a length of time, in seconds.

    Example:
        >>> read_duration("2:33").value, read_duration("7 and a half minutes").value
        (153.0, 450.0)
    """
    plain = text.strip()
    if ":" in plain:
        value = 0.0
        for part in plain.split(":"):
            value = 60 * value + int(part)
        return SpokenNumber(value, 0.5)
    if plain.startswith("half a"):
        return SpokenNumber(1800.0 if "hour" in plain else 30.0, 15.0)
    total, digit = 0.0, math.inf
    for number, unit in re.findall(rf"({NUMBER}|an?) ?({_UNIT})\b", plain):
        size = _SECONDS[unit[0]]
        said = read_number(number)
        total += said.value * size
        digit = min(digit, said.half_digit * size)
    rest = re.search(rf"({_UNIT}) (?:and )?(\d{{1,2}})$", plain)
    if rest is not None and rest[1][0] in "hm":
        # "6 minutes 39": of the unit below.
        size = _SECONDS["m" if rest[1][0] == "h" else "s"]
        total, digit = total + int(rest[2]) * size, 0.5 * size
    return SpokenNumber(total, digit)
