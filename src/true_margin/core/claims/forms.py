"""The forms that a claim may have: a pattern each, and its reader.

A grammar, not a model: every form is listed here and in ``docs/claims.md``.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from true_margin.core.claims.names import NamedThing
from true_margin.core.claims.numbers import (
    DURATION,
    HEDGE,
    MULTIPLE,
    NUMBER,
    PART,
    Hedge,
    SpokenNumber,
    read_duration,
    read_hedge,
    read_multiple,
    read_number,
    read_part,
)
from true_margin.core.numerals import short


class Form(StrEnum):
    """What a claim says."""

    RATIO = "times as fast"
    FASTER = "% faster"
    SLOWER = "% slower"
    LESS_TIME = "% less time"
    MORE_TIME = "% more time"
    PART = "part of the time"
    AS_LONG = "times as long"
    SAVED = "time saved"
    TIME = "time"
    REAL_TIME = "times real time"
    BARE = "faster"
    SAME = "the same"
    OPEN = "too close to call"
    FASTEST = "the fastest"
    SLOWEST = "the slowest"
    EVERY = "faster in every task"
    VALUE = "better value"
    BEST_VALUE = "the best value"


@dataclass(frozen=True, slots=True)
class Claim:
    """A sentence that was read.

    Attributes:
        form: what it says.
        a, b: what is compared; b None for one alone.
        tasks: indices that the named task may mean; None where none is named.
        missing: what is named and is not there.
        number: the number, in the form's unit (ratio, percent, fraction, seconds).
        hedge: how firmly.
        sign: of a bare comparative or a saving: 1 where a is the faster, −1 the slower.
        degree: "much", "slightly" or "" of a bare comparative.
        apps: two apps that one setup is compared in.
        cause: the cause that it names.
        denied: whether it is said not to be so.
    """

    form: Form
    a: NamedThing | None = None
    b: NamedThing | None = None
    tasks: tuple[int, ...] | None = None
    missing: str | None = None
    number: SpokenNumber | None = None
    hedge: Hedge = Hedge.NONE
    sign: int = 1
    degree: str = ""
    apps: tuple[str, str] | None = None
    cause: str | None = None
    denied: bool = False


@dataclass(frozen=True, slots=True)
class Several:
    """Claims of one sentence: it holds where all of them do."""

    claims: tuple[Claim, ...]


@dataclass(frozen=True, slots=True)
class Unread:
    """A sentence that claims something and was not read; ``asked`` where it is a question."""

    reason: str
    asked: bool = False


_DOES = (
    r"(?:exports?|exported|renders?|rendered|does|did|runs?|ran|finish(?:es|ed)?|completes?|"
    r"is|was|are|were|processes)"
)
_A = r"(?:the )?‹(?P<a>[SUG]\d+)›"
_B = r"(?:the )?‹(?P<b>[SUG]\d+)›"
_H = rf"(?:(?P<hedge>{HEDGE}) )?"
_FAST = r"(?:fast|quick)"
_FASTER = r"(?:faster|quicker)"
_DEGREE = (
    r"(?:(?P<degree>much|far|way|a lot|clearly|slightly|barely|a little|a bit|a touch|"
    r"marginally|hardly) )?"
)
_MUCH = ("much", "far", "way", "a lot")
_SLIGHT = ("slightly", "barely", "a little", "a bit", "a touch", "marginally", "hardly")
_Read = Callable[[re.Match[str]], Claim | Unread]


def _named_thing(match: re.Match[str], name: str) -> NamedThing | None:
    sign = match.groupdict().get(name)
    return None if sign is None else NamedThing(sign[0], (), sign)


def _claim(
    match: re.Match[str], form: Form, number: SpokenNumber | None = None, sign: int = 1
) -> Claim:
    groups = match.groupdict()
    return Claim(
        form,
        _named_thing(match, "a"),
        _named_thing(match, "b"),
        number=number,
        hedge=read_hedge(groups.get("hedge")),
        sign=sign,
        degree=_degree(groups.get("degree")),
    )


def _degree(word: str | None) -> str:
    if word in _MUCH:
        return "much"
    return "slightly" if word in _SLIGHT else ""


def _percent(match: re.Match[str]) -> Claim:
    words = match["how"]
    form = {
        "faster": Form.FASTER,
        "quicker": Form.FASTER,
        "slower": Form.SLOWER,
        "less time": Form.LESS_TIME,
        "more time": Form.MORE_TIME,
    }[words]
    return _claim(match, form, read_number(match["number"]))


def _asked(match: re.Match[str]) -> Unread:
    said = read_multiple(match["multiple"])
    n = short(said.value)
    return Unread(
        f"{n} times faster may mean {n} times as fast or {short(said.value + 1)} times as fast: "
        f"say which.",
        asked=True,
    )


def _saved(match: re.Match[str]) -> Claim:
    before = match["how"] in (
        "before",
        "ahead of",
        "earlier than",
        "sooner than",
        "faster than",
        "quicker than",
        "over",
        "against",
        "compared with",
        "compared to",
        "on",
    )
    return _claim(match, Form.SAVED, read_duration(match["duration"]), 1 if before else -1)


def _part(match: re.Match[str]) -> Claim:
    return _claim(match, Form.PART, SpokenNumber(read_part(match["part"]), 0.0))


def _real(match: re.Match[str]) -> Claim:
    how, multiple = match["how"], match.groupdict().get("multiple")
    if multiple:
        return _claim(match, Form.REAL_TIME, read_multiple(multiple))
    claim = _claim(
        match, Form.REAL_TIME, SpokenNumber(1.0, 0.0), -1 if how.startswith("slower") else 1
    )
    hedge = Hedge.UNDER if how.startswith("slower") else Hedge.OVER
    return claim if how.strip() in ("in", "at") else replace(claim, hedge=hedge)


def _comparative(match: re.Match[str]) -> Claim:
    how = match["how"]
    sign = -1 if how in ("slower than", "loses to", "lose to") else 1
    return _claim(match, Form.BARE, sign=sign)


def _simple(form: Form, sign: int = 1) -> _Read:
    return lambda match: _claim(match, form, sign=sign)


_BEFORE = r"(?P<how>before|ahead of|earlier than|sooner than|after|behind|later than)"
_OVER = r"(?P<how>over|against|compared with|compared to|on)"
_TAKES = r"(?:takes|took|needs|needed|take|need)"
_FORMS: tuple[tuple[str, _Read], ...] = (
    (rf"{_A} {_DOES} {_H}(?P<multiple>{MULTIPLE}) {_FASTER} than {_B}", _asked),
    (
        rf"{_A} {_DOES} {_H}(?P<multiple>{MULTIPLE}) as {_FAST} as {_B}",
        lambda m: _claim(m, Form.RATIO, read_multiple(m["multiple"])),
    ),
    (
        rf"{_A} (?:{_DOES} at|has|reaches) {_H}(?P<multiple>{MULTIPLE}) the speed of {_B}",
        lambda m: _claim(m, Form.RATIO, read_multiple(m["multiple"])),
    ),
    (
        rf"{_A} {_DOES} {_H}(?P<number>{NUMBER}) ?% (?P<how>faster|quicker|slower) than {_B}",
        _percent,
    ),
    (
        rf"{_A} {_TAKES} {_H}(?P<number>{NUMBER}) ?% (?P<how>less time|more time) than {_B}",
        _percent,
    ),
    (
        rf"{_A} (?:{_TAKES}|{_DOES} (?:it )?in) {_H}(?P<part>{PART}|half) ?the time (?:of|that) "
        rf"{_B}(?: (?:takes|needs))?",
        _part,
    ),
    (
        rf"{_A} {_TAKES} {_H}(?P<multiple>{MULTIPLE}) as long as {_B}",
        lambda m: _claim(m, Form.AS_LONG, read_multiple(m["multiple"])),
    ),
    (rf"{_A} saves {_H}(?P<duration>{DURATION}) {_OVER} {_B}", _saved),
    (rf"{_A} {_DOES} {_H}(?P<duration>{DURATION}) {_BEFORE} {_B}", _saved),
    (
        rf"{_A} {_DOES} {_H}(?P<duration>{DURATION}) (?P<how>(?:faster|quicker|slower) than) {_B}",
        _saved,
    ),
    (
        rf"{_A} {_DOES} {_H}(?:at )?{_H.replace('hedge', 'later')}(?P<multiple>{MULTIPLE}) "
        r"(?P<how>)(?:faster than )?real ?time",
        _real,
    ),
    (rf"{_A} {_DOES} (?:at )?(?P<how>{_FASTER} than|slower than|in|at) real ?time", _real),
    (
        rf"{_A} {_DOES} (?:it )?in {_H}(?P<duration>{DURATION})",
        lambda m: _claim(m, Form.TIME, read_duration(m["duration"])),
    ),
    (
        rf"{_A} {_TAKES} {_H}(?P<duration>{DURATION})",
        lambda m: _claim(m, Form.TIME, read_duration(m["duration"])),
    ),
    (
        rf"{_A} and {_B} (?:are|were|run|perform)(?: about)? (?:the same|level|equal|equally "
        rf"{_FAST}|tied|on a par)",
        _simple(Form.SAME),
    ),
    (rf"{_A} {_DOES} (?:just |exactly )?as {_FAST} as {_B}", _simple(Form.SAME)),
    (rf"{_A} {_TAKES} as long as {_B}", _simple(Form.SAME)),
    (rf"{_A} (?:matches|match|is level with|is on a par with) {_B}", _simple(Form.SAME)),
    (
        rf"there(?: is|'s) no (?:real |visible )?difference between {_A} and {_B}",
        _simple(Form.SAME),
    ),
    (rf"(?:it is )?too close to call between {_A} and {_B}", _simple(Form.OPEN)),
    (rf"{_A} and {_B}(?::| are| were) too close to call", _simple(Form.OPEN)),
    (rf"(?:there are )?not enough runs to compare {_A} and {_B}", _simple(Form.OPEN)),
    (
        rf"{_A} (?:is|was) the (?:fastest|quickest)(?: of all| here| of them all| machine)?",
        _simple(Form.FASTEST),
    ),
    (rf"{_A} (?:wins|won)", _simple(Form.FASTEST)),
    (rf"nothing is {_FASTER} than {_A}", _simple(Form.FASTEST)),
    (
        rf"{_A} (?:is|was) the slowest(?: of all| here| of them all| machine)?",
        _simple(Form.SLOWEST),
    ),
    (rf"{_A} (?:is|was) the best value", _simple(Form.BEST_VALUE)),
    (rf"{_A} (?:is|was|gives|offers) (?:a )?better value than {_B}", _simple(Form.VALUE)),
    (rf"{_A} gives more (?:speed )?for the money than {_B}", _simple(Form.VALUE)),
    (rf"{_A} {_DOES} {_DEGREE}(?P<how>faster than|quicker than|slower than) {_B}", _comparative),
    (rf"{_A} {_DEGREE}(?P<how>beats|beat|outruns|outperforms|loses to|lose to) {_B}", _comparative),
)
_COMPILED = tuple((re.compile(pattern), read) for pattern, read in _FORMS)


def match_form(text: str, *, every: bool, apps: tuple[str, str] | None) -> Claim | Unread | None:
    if apps is not None:
        # One setup in two apps: the second stands for itself.
        text = re.sub(r"\b(as|than) itself\b", r"\1 ‹S999›", text)
    for pattern, read in _COMPILED:
        found = pattern.fullmatch(text)
        if found is None:
            continue
        claim = read(found)
        if isinstance(claim, Unread):
            return claim
        if apps is not None and claim.b is not None:
            claim = replace(claim, b=None)
        if every:
            bare = claim.form is Form.BARE
            return (
                replace(claim, form=Form.EVERY)
                if bare
                else Unread("in every task: say only that one is faster or slower than the other.")
            )
        return claim
    return None
