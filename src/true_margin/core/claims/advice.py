"""Sentences about what a kind of viewer should buy, read in full: the pick, its worth, payback.

A pick is a claim about one viewer's work, budget and machine: a sentence that names none, where
there are several, is asked about.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.claims.context import ALONE, Around, is_question, why_unsure
from true_margin.core.claims.grammar import signed_text
from true_margin.core.claims.names import Names
from true_margin.core.claims.numbers import (
    HEDGE,
    NUMBER,
    Hedge,
    SpokenNumber,
    read_hedge,
    read_number,
)
from true_margin.core.claims.rewrite import plain_words


class Advice(StrEnum):
    """What is said of a machine and a viewer."""

    PICK = "pick"
    WORTH = "worth it"
    PAYBACK = "payback"
    HOURS = "hours saved"


WEEKS_IN: Mapping[str, float] = {"week": 1.0, "month": 52 / 12, "year": 52.0}
_S = r"(?:the )?‹S(?P<a>\d+)›"
_V = r"(?:the |a |an |our |your |every |any )?qviewer(?P<v>\d+)qs?"
_FOR = rf"(?:,? for {_V})?"
_SAID = rf"(?:(?P<hedge>{HEDGE}) )?(?P<number>half an?|{NUMBER}|an?)"
_EACH = r"(?:(?:a|an|per|every) (?P<unit>week|year)|over its (?P<life>life)(?:time)?)"
_PICKED = (
    r"(?:(?:our|the|my) (?:pick|choice|recommendation|best buy|right (?:machine|one|choice)|"
    r"machine|one)(?: to (?:buy|get))?)"
)
_PATTERNS: Mapping[Advice, tuple[re.Pattern[str], ...]] = {
    advice: tuple(re.compile(f"^{each}$") for each in forms)
    for advice, forms in {
        Advice.PICK: (
            rf"{_S} is(?P<denied> not|n't)? {_PICKED}{_FOR}",
            rf"{_V} should(?P<denied> not|n't)? (?P<verb>buy|get|take|choose|keep|stay with) {_S}",
            rf"(?P<verb>buy|get|take|choose|keep) {_S}{_FOR}",
            rf"(?P<verb>buy|get|take|choose|keep) {_S},? if you(?: are|'re) {_V}",
        ),
        Advice.WORTH: (
            rf"{_S} is(?P<denied> not|n't)?(?: well)? worth (?:it|the money|its (?:price|money)|"
            rf"buying|the price){_FOR}",
        ),
        Advice.PAYBACK: (
            rf"{_S} (?:pays|paid|has paid) for itself (?:in|after|within)? ?"
            rf"{_SAID} (?P<unit>week|month|year)s?{_FOR}",
        ),
        Advice.HOURS: (
            rf"{_S} saves {_V} {_SAID} (?P<amount>hour|minute)s? {_EACH}",
            rf"{_S} saves {_SAID} (?P<amount>hour|minute)s? {_EACH}{_FOR}",
        ),
    }.items()
}
_LEAD = re.compile(r"^(?:so|and|but|now|honestly|in short|bottom line)[,:]? ")
_FRONT = re.compile(rf"^for {_V}[,:]? (?P<rest>.+)$")
_ORDER = re.compile(r"^\W*(Buy|Get|Take|Choose|Keep)\b")
_KEEPING = ("keep", "stay with")
_WITHIN = re.compile(r"\b(?:with)?in (?:less than|under) |\bwithin ")


_HINT = re.compile(
    r"worth|pick|choice|choose|recommend|best buy|right (?:machine|one)|should|for itself|saves"
    r"|\b(?:machine|one)\b|\b(?:buy|get|take|keep)\b",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class AdviceClaim:
    """What a sentence says of a machine for a viewer.

    Attributes:
        advice: of what kind.
        setup: place of the machine.
        viewer: place of the viewer; None where none is named.
        denied: whether it is said not to be so.
        number: weeks until it has paid for itself, or hours; None for neither.
        hedge: how firmly.
        per: "week", "year" or "life", of hours.
        keeps: whether to keep it is what is said, or to buy it; None for neither.
    """

    advice: Advice
    setup: int
    viewer: int | None
    denied: bool = False
    number: SpokenNumber | None = None
    hedge: Hedge = Hedge.NONE
    per: str = ""
    keeps: bool | None = None


def read_advice(
    text: str, names: Names, viewers: Sequence[str], around: Around = ALONE
) -> AdviceClaim | None:
    """Read a sentence about a viewer; None where it is none, or not surely one.

    Args:
        text: the sentence.
        names: what may be named.
        viewers: names of the kinds of viewers.
        around: what stands beside it; where that takes something back it is not read here.
    """
    # Most sentences give no advice: they are not taken apart for it.
    if _HINT.search(text) is None:
        return None
    if is_question(text) or why_unsure(text, around) is not None:
        return None
    text = _ORDER.sub(lambda order: order[0].lower(), _with_viewers(text, viewers))
    small, signs = signed_text(text, names)
    small = _LEAD.sub("", plain_words(small))
    front = _FRONT.match(small)
    if front is not None:
        small = f"{front['rest']} for qviewer{front['v']}q"
    within = _WITHIN.search(small) is not None
    for advice, patterns in _PATTERNS.items():
        for pattern in patterns:
            match = pattern.match(small)
            if match is None:
                continue
            found = match.groupdict()
            which = signs[int(found["a"])]
            if len(which.which) != 1 or which.model:
                return None
            claim = AdviceClaim(
                advice,
                which.which[0],
                None if found.get("v") is None else int(found["v"]),
                denied=found.get("denied") is not None,
                keeps=None if found.get("verb") is None else found["verb"] in _KEEPING,
            )
            return _with_number(claim, found, within=within)
    return None


def _with_viewers(text: str, viewers: Sequence[str]) -> str:
    """A sign in the place of each viewer's name, the longest first."""
    for place, name in sorted(enumerate(viewers), key=lambda each: -len(each[1])):
        # A name may begin or end with a sign that is no letter: "Filmer (festival)".
        whole = rf"(?<!\w){re.escape(name)}(?=s?(?!\w))"
        text = re.sub(whole, f"qviewer{place}q", text, flags=re.I)
    return text


def _with_number(
    claim: AdviceClaim, found: Mapping[str, str | None], *, within: bool
) -> AdviceClaim:
    said, unit = found.get("number"), found.get("unit") or found.get("life")
    if said is None or unit is None:
        return claim
    if said.startswith("half"):
        number = SpokenNumber(0.5, 0.1)
    else:
        number = SpokenNumber(1.0, 0.25) if said in ("a", "an") else read_number(said)
    if claim.advice is Advice.PAYBACK:
        times, per = WEEKS_IN[unit], ""
    else:
        times, per = (1.0 if found.get("amount") == "hour" else 1 / 60), unit
    hedge = read_hedge(found.get("hedge"))
    if within and hedge is Hedge.NONE:
        hedge = Hedge.UNDER
    number = SpokenNumber(times * number.value, times * number.half_digit)
    return AdviceClaim(claim.advice, claim.setup, claim.viewer, claim.denied, number, hedge, per)
