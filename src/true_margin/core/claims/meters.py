"""Sentences about heat, noise and power, read in full: an amount, a comparison, the most of all."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.claims.context import ALONE, Around, is_question, why_unsure
from true_margin.core.claims.grammar import signed_text
from true_margin.core.claims.names import NamedThing, Names
from true_margin.core.claims.numbers import HEDGE, Hedge, SpokenNumber, read_hedge, read_number
from true_margin.core.claims.rewrite import plain_words


class Meter(StrEnum):
    """What a meter shows, by its unit."""

    HEAT = "°C"
    NOISE = "dB"
    POWER = "W"


_UNITS = {
    Meter.HEAT: r"(?:°c|° c|degrees?(?: celsius)?|celsius)",
    Meter.NOISE: r"(?:db(?:\(?a\)?)?|decibels?)",
    Meter.POWER: r"(?:w|watts?)",
}
UNIT_WORD = {Meter.HEAT: "degrees", Meter.NOISE: "decibels", Meter.POWER: "watts"}
_REACHES = (
    r"(?:is|gets|runs|reaches|hits|makes|draws|pulls|uses|consumes|takes|needs|sits|stays)"
    r"(?: (?:up to|at|to))?|(?:climbs|goes|rises) (?:up )?to|peaks at"
)
_NUMBER = r"(?P<number>\d+(?:[.,]\d+)?(?: and a half)?)"
_A, _B = r"(?:the )?‹S(?P<a>\d+)›", r"(?:the )?‹S(?P<b>\d+)›"
_ON = r"(?: (?:on|in|at|during|while exporting|under load on) (?:the )?‹T(?P<task>\d+)›)?"
_LOAD = r"(?: (?:under load|at full load|at its peak|from the wall|loud|hot))?"
_SIGNS = {
    Meter.HEAT: re.compile(r"(\d) ?° ?C\b"),
    Meter.NOISE: re.compile(r"(\d) ?dB(?:\(A\))?"),
    Meter.POWER: re.compile(r"(\d) ?W\b"),
}
_SHORT_IS = re.compile(r"['’]s (?=(?:much )?(?:quieter|louder|noisier|cooler|hotter|warmer)\b)")
_IN_FRONT = re.compile(r"^\s*(?:under|at full) load,? ", re.IGNORECASE)
THAN_WORDS: Mapping[str, tuple[Meter, int]] = {
    "quieter": (Meter.NOISE, -1),
    "louder": (Meter.NOISE, 1),
    "noisier": (Meter.NOISE, 1),
    "cooler": (Meter.HEAT, -1),
    "colder": (Meter.HEAT, -1),
    "hotter": (Meter.HEAT, 1),
    "warmer": (Meter.HEAT, 1),
}
MOST_WORDS: Mapping[str, tuple[Meter, int]] = {
    "quietest": (Meter.NOISE, -1),
    "loudest": (Meter.NOISE, 1),
    "noisiest": (Meter.NOISE, 1),
    "coolest": (Meter.HEAT, -1),
    "hottest": (Meter.HEAT, 1),
}
_SIGN = {"less": -1, "more": 1, "least": -1, "most": 1}
_DEGREE = (
    r"(?:(?P<much>much|far|a lot|way|noticeably|significantly)|(?P<little>slightly|a bit|a little))"
)
_IS, _POWER = r"(?:is|runs|stays|gets)", r"(?:power|electricity|energy)"
_DRAWS = r"(?:draws|uses|pulls|consumes|needs|takes)"
_AMOUNT = rf"(?:(?P<hedge>{HEDGE}) )?{_NUMBER} ?(?P<unit>[°a-z()]+(?: c| celsius)?)"
_PATTERNS = tuple(
    re.compile(rf"^{each}{_LOAD}{_ON}{_LOAD}$")
    for each in (
        rf"{_A} (?:{_REACHES}) {_AMOUNT}",
        rf"{_A} {_IS} (?:{_AMOUNT} |{_DEGREE} )?(?P<than>{'|'.join(THAN_WORDS)}) than {_B}",
        rf"{_A} {_IS} (?P<than>{'|'.join(THAN_WORDS)}) than {_B} by {_AMOUNT}",
        rf"{_A} {_DRAWS} (?:{_DEGREE} )?(?P<power>less|more) {_POWER} than {_B}",
        rf"{_A} {_DRAWS} {_AMOUNT} (?P<power>less|more) than {_B}",
        rf"{_A} (?:is|runs|stays) the (?P<most>{'|'.join(MOST_WORDS)})"
        r"(?: (?:one|machine|of them|of them all|of all|here))?",
        rf"{_A} {_DRAWS} the (?P<power_most>least|most) {_POWER}",
    )
)


_HINT = re.compile(
    r"°|degree|celsius|db\b|decibel|watt|\dW\b|\d W\b|quiet|loud|nois|cool|cold|hot|warm"
    r"|power|electricity|energy",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class MeterClaim:
    """What a sentence says of a meter.

    Attributes:
        meter: which.
        a: place of the setup; b: of the one it is compared with; None for none.
        sign: 1 where it is said to show more, −1 less, 0 where an amount alone is said.
        most: whether it is said to show the most, or the least, of all.
        number: the amount, or by how much; None for none.
        hedge: how firmly.
        task: place of the task; None for any.
        degree: "much", "slightly" or "".
    """

    meter: Meter
    a: int
    b: int | None = None
    sign: int = 0
    most: bool = False
    number: SpokenNumber | None = None
    hedge: Hedge = Hedge.NONE
    task: int | None = None
    degree: str = ""


def read_meter(text: str, names: Names, around: Around = ALONE) -> MeterClaim | None:
    """Read a sentence about heat, noise or power; None where it is none, or not surely one.

    Args:
        text: the sentence.
        names: what may be named.
        around: what stands beside it; where that takes something back it is not read here.
    """
    # Most sentences speak of nothing that a meter shows: they are not taken apart for it.
    if _HINT.search(text) is None:
        return None
    if is_question(text) or why_unsure(text, around) is not None:
        return None
    small, signs = signed_text(_in_words(text), names)
    small = plain_words(small)
    for pattern in _PATTERNS:
        match = pattern.match(small)
        if match is not None:
            claim = _claim({key: word for key, word in match.groupdict().items() if word}, signs)
            # A task that was announced before may be meant: that is not read here.
            return None if claim is None or (around.topic and claim.task is None) else claim
    return None


def _in_words(text: str) -> str:
    """Units in words, before a large letter is taken for a name; what stands in front dropped."""
    for meter, sign in _SIGNS.items():
        text = sign.sub(rf"\1 {UNIT_WORD[meter]}", text)
    return _IN_FRONT.sub("", _SHORT_IS.sub(r" is ", text))


def _claim(said: Mapping[str, str], signs: list[NamedThing]) -> MeterClaim | None:
    places = {}
    for part in ("a", "b", "task"):
        which = signs[int(said[part])].which if part in said else ()
        if len(which) > 1 or (part in said and (not which or signs[int(said[part])].model)):
            return None
        places[part] = which[0] if which else None
    a, unit = places["a"], _meter_of(said.get("unit"))
    if a is None or ("unit" in said and unit is None):
        return None
    meter, sign, most = unit, 0, False
    for part, words in (("than", THAN_WORDS), ("most", MOST_WORDS)):
        if part in said:
            meter, sign = words[said[part]]
            most = part == "most"
    if "power" in said or "power_most" in said:
        meter, sign = Meter.POWER, _SIGN[said.get("power") or said["power_most"]]
        most = "power_most" in said
    # A number must be in the unit of what is said.
    if meter is None or unit not in (None, meter):
        return None
    number = read_number(said["number"]) if "number" in said else None
    hedge, b, task = read_hedge(said.get("hedge")), places["b"], places["task"]
    degree = "much" if "much" in said else "slightly" if "little" in said else ""
    return MeterClaim(meter, a, b, sign, most, number, hedge, task, degree)


def _meter_of(unit: str | None) -> Meter | None:
    if unit is None:
        return None
    return next((meter for meter, form in _UNITS.items() if re.fullmatch(form, unit)), None)
