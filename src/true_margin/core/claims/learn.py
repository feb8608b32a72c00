"""Phrasings that a person confirmed once: read again where every word is the same.

A phrasing is the confirmed sentence with a sign in the place of each name and of its number. It
is matched in full or not at all, so that it never reads more than was confirmed.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache

from true_margin.core.claims.forms import OF_PRICES, Claim, Form
from true_margin.core.claims.grammar import signed_text
from true_margin.core.claims.names import NamedThing, Names
from true_margin.core.claims.numbers import (
    DURATION,
    MULTIPLE,
    NUMBER,
    Hedge,
    SpokenNumber,
    read_duration,
    read_multiple,
    read_number,
)
from true_margin.core.claims.price_patterns import MONEY, read_money
from true_margin.core.claims.reading import NUMBERED, Reading

_SLOT = re.compile(r"‹([abtn])›")


@dataclass(frozen=True, slots=True)
class Phrasing:
    """One way to say one thing.

    Attributes:
        pattern: the words, with ‹a›, ‹b› for setups, ‹t› for the task, ‹n› for the number.
        form, hedge, sign, degree, denied: what it says, as in a reading.
        number: the number where the words hold none ("a landslide": 2); None otherwise.
    """

    pattern: str
    form: Form
    hedge: Hedge = Hedge.NONE
    sign: int = 1
    degree: str = ""
    denied: bool = False
    number: float | None = None


def phrasing_of(text: str, reading: Reading, names: Names) -> Phrasing | None:
    """The phrasing of a sentence whose reading was confirmed.

    Returns:
        None where the sentence does not say all of it itself: a setup or the task was taken
        from what stands around, a name in it has no part in the claim, or it says another number.
    """
    small, signs = signed_text(text, names)
    roles = {
        key: role
        for key, role in (
            (("S", reading.a), "a"),
            (("S", reading.b), "b"),
            (("T", reading.task), "t"),
        )
        if key[1] is not None
    }
    told: list[str] = []

    def role_of(match: re.Match[str]) -> str:
        named = signs[int(match[2])]
        own = next((role for (kind, at), role in roles.items() if _is(named, kind, at)), None)
        if own is None or own in told:
            told.append("?")
            return match[0]
        told.append(own)
        return f"‹{own}›"

    pattern = re.sub(r"(?:\bthe )?‹([A-Z])(\d+)›", role_of, small)
    if "?" in told or set(told) != set(roles.values()):
        return None
    number = reading.number
    if number is not None and reading.form in NUMBERED:
        pattern, found = _take_number(pattern, reading.form, number)
        if not found and re.search(rf"\b(?:{NUMBER})\b|\d", re.sub("‹.›", "", pattern)):
            # The sentence says a number, and the person meant another: that is no way to put it.
            return None
        number = None if found else number
    return Phrasing(
        pattern, reading.form, reading.hedge, reading.sign, reading.degree, reading.denied, number
    )


def _is(named: NamedThing, kind: str, at: int | None) -> bool:
    return named.kind == kind and at is not None and at in named.which


def _number_of(form: Form) -> tuple[str, Callable[[str], SpokenNumber]]:
    """How the number of a form is written, and how it is read."""
    if form in (Form.SAVED, Form.TIME):
        return DURATION, read_duration
    if form in (Form.RATIO, Form.AS_LONG, Form.REAL_TIME, Form.PRICE_RATIO):
        return MULTIPLE, read_multiple
    if form in OF_PRICES and form is not Form.PRICE_PERCENT:
        return MONEY, read_money
    return NUMBER, read_number


def _take_number(pattern: str, form: Form, number: float) -> tuple[str, bool]:
    """Put ‹n› in the place of the number; says whether it stands there, once."""
    written, read = _number_of(form)
    own = [
        match
        for match in re.finditer(rf"(?<![\w.,‹])(?:{written})(?![\w‹])", pattern)
        if read(match[0]).value == number
    ]
    if len(own) != 1:
        return pattern, False
    return f"{pattern[: own[0].start()]}‹n›{pattern[own[0].end() :]}", True


def read_learnt(text: str, names: Names, learnt: Sequence[Phrasing]) -> Claim | None:
    """Read a sentence by what was confirmed before; None where nothing matches in full."""
    if not learnt:
        return None
    small, signs = signed_text(text, names)
    for phrasing in learnt:
        found = _compiled(phrasing.pattern, phrasing.form).fullmatch(small)
        if found is not None:
            return _claim(phrasing, found, signs)
    return None


@cache
def _compiled(pattern: str, form: Form) -> re.Pattern[str]:
    slots = {
        "a": r"(?:the )?‹S(?P<a>\d+)›",
        "b": r"(?:the )?‹S(?P<b>\d+)›",
        "t": r"(?:the )?‹T(?P<t>\d+)›",
        "n": rf"(?P<n>{_number_of(form)[0]})",
    }
    words, last = "", 0
    for slot in _SLOT.finditer(pattern):
        words += re.escape(pattern[last : slot.start()]) + slots[slot[1]]
        last = slot.end()
    return re.compile(words + re.escape(pattern[last:]))


def _claim(phrasing: Phrasing, found: re.Match[str], signs: list[NamedThing]) -> Claim | None:
    groups = found.groupdict()
    a, b, task = (
        None if groups.get(role) is None else signs[int(groups[role] or 0)] for role in "abt"
    )
    said = groups.get("n")
    number = None
    if said is not None:
        number = _number_of(phrasing.form)[1](said)
    elif phrasing.number is not None:
        number = SpokenNumber(phrasing.number, 0.0)
    return Claim(
        phrasing.form,
        a,
        b,
        None if task is None else task.which,
        number=number,
        hedge=phrasing.hedge,
        sign=phrasing.sign,
        degree=phrasing.degree,
        denied=phrasing.denied,
    )
