"""What the patterns of claims are made of: names, verbs, hedges, and how a claim is built."""

from __future__ import annotations

import re
from collections.abc import Callable

from true_margin.core.claims.forms import Claim, Form, Unread
from true_margin.core.claims.names import NamedThing
from true_margin.core.claims.numbers import HEDGE, SpokenNumber, read_hedge

DOES = (
    r"(?:exports?|exported|renders?|rendered|does|did|runs?|ran|finish(?:es|ed)?|completes?|"
    r"is|was|are|were|processes)"
)
A = r"(?:the )?‹(?P<a>[SUG]\d+)›"
B = r"(?:the )?‹(?P<b>[SUG]\d+)›"
H = rf"(?:(?P<hedge>{HEDGE}) )?"
FAST = r"(?:fast|quick)"
FASTER = r"(?:faster|quicker)"
DEGREE = (
    r"(?:(?P<degree>much|far|way|a lot|clearly|slightly|barely|a little|a bit|a touch|"
    r"marginally|hardly) )?"
)
_MUCH = ("much", "far", "way", "a lot")
_SLIGHT = ("slightly", "barely", "a little", "a bit", "a touch", "marginally", "hardly")
Reader = Callable[[re.Match[str]], Claim | Unread]


def named_thing(match: re.Match[str], name: str) -> NamedThing | None:
    sign = match.groupdict().get(name)
    return None if sign is None else NamedThing(sign[0], (), sign)


def build_claim(
    match: re.Match[str], form: Form, number: SpokenNumber | None = None, sign: int = 1
) -> Claim:
    groups = match.groupdict()
    return Claim(
        form,
        named_thing(match, "a"),
        named_thing(match, "b"),
        number=number,
        hedge=read_hedge(groups.get("hedge")),
        sign=sign,
        degree=_degree(groups.get("degree")),
    )


def _degree(word: str | None) -> str:
    if word in _MUCH:
        return "much"
    return "slightly" if word in _SLIGHT else ""


def simply(form: Form, sign: int = 1) -> Reader:
    return lambda match: build_claim(match, form, sign=sign)
