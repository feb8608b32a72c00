"""The patterns that a claim may have, each with its reader.

A grammar, not a model: every form is listed here and in ``docs/claims.md``.
"""

from __future__ import annotations

import re
from dataclasses import replace

from true_margin.core.claims.forms import Claim, Form, Unread
from true_margin.core.claims.numbers import (
    DURATION,
    MULTIPLE,
    NUMBER,
    PART,
    Hedge,
    SpokenNumber,
    read_duration,
    read_multiple,
    read_number,
    read_part,
)
from true_margin.core.claims.pattern_parts import (
    DEGREE,
    DOES,
    FAST,
    FASTER,
    A,
    B,
    H,
    Reader,
    build_claim,
    simply,
)
from true_margin.core.claims.price_patterns import MONEY, OF_PRICE, fastest_below
from true_margin.core.numerals import short


def _percent(match: re.Match[str]) -> Claim:
    words = match["how"]
    form = {
        "faster": Form.FASTER,
        "quicker": Form.FASTER,
        "slower": Form.SLOWER,
        "less time": Form.LESS_TIME,
        "more time": Form.MORE_TIME,
    }[words]
    return build_claim(match, form, read_number(match["number"]))


def _between(match: re.Match[str]) -> Claim:
    """A range: "50 to 60 % faster", "two to three times as fast"."""
    if "high" not in match.groupdict():
        return _percent(match)
    how = match.groupdict().get("how")
    claim = _percent(match) if how else build_claim(match, Form.RATIO, read_number(match["number"]))
    return replace(claim, high=read_number(match["high"]))


def _wins_all(match: re.Match[str]) -> Claim:
    return replace(build_claim(match, Form.COUNT), every=True)


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
    return build_claim(match, Form.SAVED, read_duration(match["duration"]), 1 if before else -1)


def _part(match: re.Match[str]) -> Claim:
    return build_claim(match, Form.PART, SpokenNumber(read_part(match["part"]), 0.0))


def _real(match: re.Match[str]) -> Claim:
    how, multiple = match["how"], match.groupdict().get("multiple")
    if multiple:
        return build_claim(match, Form.REAL_TIME, read_multiple(multiple))
    claim = build_claim(
        match, Form.REAL_TIME, SpokenNumber(1.0, 0.0), -1 if how.startswith("slower") else 1
    )
    hedge = Hedge.UNDER if how.startswith("slower") else Hedge.OVER
    return claim if how.strip() in ("in", "at") else replace(claim, hedge=hedge)


def _comparative(match: re.Match[str]) -> Claim:
    how = match["how"]
    sign = -1 if how in ("slower than", "loses to", "lose to") else 1
    return build_claim(match, Form.BARE, sign=sign)


def _comparative_to(match: re.Match[str]) -> Claim:
    """ "The fastest of the laptops": faster than each of the others."""
    return build_claim(match, Form.BARE)


_PLACES = {
    word: place
    for place, word in enumerate(
        ["second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"],
        start=2,
    )
}


def read_place(text: str) -> int:
    """Read a place after the first.

    Example:
        >>> read_place("third"), read_place("12th")
        (3, 12)
    """
    return _PLACES[text] if text in _PLACES else int(re.sub(r"\D", "", text))


def _place(match: re.Match[str]) -> Claim:
    return build_claim(match, Form.PLACE, SpokenNumber(float(read_place(match["place"])), 0.0))


def _count(match: re.Match[str]) -> Claim:
    return replace(
        build_claim(match, Form.COUNT, read_number(match["number"])),
        high=read_number(match["high"]),
    )


_BEFORE = r"(?P<how>before|ahead of|earlier than|sooner than|after|behind|later than)"
_OVER = r"(?P<how>over|against|compared with|compared to|on)"
_TAKES = r"(?:takes|took|needs|needed|take|need)"
_FORMS: tuple[tuple[str, Reader], ...] = (
    (rf"{A} {DOES} {H}(?P<multiple>{MULTIPLE}) {FASTER} than {B}", _asked),
    (
        rf"{A} {DOES} {H}(?P<multiple>{MULTIPLE}) as {FAST} as {B}",
        lambda m: build_claim(m, Form.RATIO, read_multiple(m["multiple"])),
    ),
    (
        rf"{A} (?:{DOES} at|has|reaches) {H}(?P<multiple>{MULTIPLE}) the speed of {B}",
        lambda m: build_claim(m, Form.RATIO, read_multiple(m["multiple"])),
    ),
    (rf"{A} {DOES} {H}(?P<number>{NUMBER}) ?% (?P<how>faster|quicker|slower) than {B}", _percent),
    (rf"{A} {_TAKES} {H}(?P<number>{NUMBER}) ?% (?P<how>less time|more time) than {B}", _percent),
    (
        rf"{A} {DOES} (?:between |from )?(?P<number>{NUMBER})(?: ?%)? ?(?:and|to|–|-) ?"
        rf"(?P<high>{NUMBER}) ?% (?P<how>faster|quicker|slower) than {B}",
        _between,
    ),
    (
        rf"{A} {_TAKES} (?:between |from )?(?P<number>{NUMBER})(?: ?%)? ?(?:and|to|–|-) ?"
        rf"(?P<high>{NUMBER}) ?% (?P<how>less time|more time) than {B}",
        _between,
    ),
    (
        rf"{A} {DOES} (?:between |from )?(?P<number>{NUMBER}) ?(?:and|to|–|-) ?"
        rf"(?P<high>{NUMBER}) (?:times|x) as {FAST} as {B}",
        _between,
    ),
    (
        rf"{A} (?:(?:is|was|comes(?: in)?|came(?: in)?|finishes|finished|lands?|takes) )"
        r"(?:the |in )?(?P<place>second|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth|"
        r"\d+(?:nd|rd|th))(?:[- ](?:fastest|quickest|place))?(?: of all| here| machine| overall)?",
        _place,
    ),
    (
        rf"{A} (?:wins|won) (?:every|each|all)(?: (?:the|single))?(?: (?:{NUMBER}))? "
        r"(?:tasks?|tests?|jobs?|exports?)",
        _wins_all,
    ),
    (rf"{A} (?:wins|won) (?:everything|them all|the lot|across the board)", _wins_all),
    (
        rf"{A} (?:wins|won|leads) (?:in )?(?P<number>{NUMBER}) (?:out )?of (?:the )?"
        rf"(?P<high>{NUMBER})(?: (?:tasks?|tests?|jobs?|exports?))?",
        _count,
    ),
    (
        rf"{A} (?:beats|is faster than|is ahead of) {B} (?:in |on )?(?P<number>{NUMBER}) "
        rf"(?:out )?of (?:the )?(?P<high>{NUMBER})(?: (?:tasks?|tests?|jobs?|exports?))?",
        _count,
    ),
    (
        rf"{A} (?:is|was) the (?:fastest|quickest)(?: machine| one)? (?:under|below|for under|"
        rf"for less than) (?P<money>{MONEY})",
        fastest_below,
    ),
    (rf"{A} (?:is|was) (?:the )?(?:fastest|quickest) (?:of|among) {B}", _comparative_to),
    (
        rf"{A} (?:{_TAKES}|{DOES} (?:it )?in) {H}(?P<part>{PART}|half) ?the time (?:of|that) "
        rf"{B}(?: (?:takes|needs))?",
        _part,
    ),
    (
        rf"{A} {_TAKES} {H}(?P<multiple>{MULTIPLE}) (?:as long as|the time (?:of|that)) {B}",
        lambda m: build_claim(m, Form.AS_LONG, read_multiple(m["multiple"])),
    ),
    (rf"{A} saves {H}(?P<duration>{DURATION}) {_OVER} {B}", _saved),
    (rf"{A} {DOES} {H}(?P<duration>{DURATION}) {_BEFORE} {B}", _saved),
    (
        rf"{A} {DOES} {H}(?P<duration>{DURATION}) (?P<how>(?:faster|quicker|slower) than) {B}",
        _saved,
    ),
    (
        rf"{A} {DOES} {H}(?:at )?{H.replace('hedge', 'later')}(?P<multiple>{MULTIPLE}) "
        r"(?P<how>)(?:faster than )?real ?time",
        _real,
    ),
    (rf"{A} {DOES} (?:at )?(?P<how>{FASTER} than|slower than|in|at) real ?time", _real),
    (
        rf"{A} {DOES} (?:it )?in {H}(?P<duration>{DURATION})",
        lambda m: build_claim(m, Form.TIME, read_duration(m["duration"])),
    ),
    (
        rf"{A} {_TAKES} {H}(?P<duration>{DURATION})",
        lambda m: build_claim(m, Form.TIME, read_duration(m["duration"])),
    ),
    (
        rf"{A} and {B} (?:are|were|run|perform)(?: about)? (?:the same|level|equal|equally "
        rf"{FAST}|tied|on a par)",
        simply(Form.SAME),
    ),
    (rf"{A} {DOES} (?:just |exactly )?as {FAST} as {B}", simply(Form.SAME)),
    (rf"{A} {_TAKES} as long as {B}", simply(Form.SAME)),
    (rf"{A} (?:matches|match|is level with|is on a par with) {B}", simply(Form.SAME)),
    (rf"there(?: is|'s) no (?:real |visible )?difference between {A} and {B}", simply(Form.SAME)),
    (rf"(?:it is )?too close to call between {A} and {B}", simply(Form.OPEN)),
    (rf"{A} and {B}(?::| are| were) too close to call", simply(Form.OPEN)),
    (rf"(?:there are )?not enough runs to compare {A} and {B}", simply(Form.OPEN)),
    (
        rf"{A} (?:is|was) the (?:fastest|quickest)(?: of all| here| of them all| machine)?",
        simply(Form.FASTEST),
    ),
    (rf"{A} (?:wins|won)", simply(Form.FASTEST)),
    (rf"nothing is {FASTER} than {A}", simply(Form.FASTEST)),
    (rf"{A} (?:is|was) the slowest(?: of all| here| of them all| machine)?", simply(Form.SLOWEST)),
    (rf"{A} (?:is|was) the best value", simply(Form.BEST_VALUE)),
    (rf"{A} (?:is|was|gives|offers) (?:a )?better value than {B}", simply(Form.VALUE)),
    (rf"{A} gives more (?:speed )?for the money than {B}", simply(Form.VALUE)),
    (rf"{A} {DOES} {DEGREE}(?P<how>faster than|quicker than|slower than) {B}", _comparative),
    (rf"{A} {DEGREE}(?P<how>beats|beat|outruns|outperforms|loses to|lose to) {B}", _comparative),
    *OF_PRICE,
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
            return _in_every(claim)
        return claim
    return None


def _in_every(claim: Claim) -> Claim | Unread:
    if claim.form is Form.BARE and not claim.degree:
        return replace(claim, form=Form.EVERY)
    if claim.b is not None and claim.form in _SAID_OF_EVERY:
        return replace(claim, every=True)
    return Unread("in every task: say how two of them compare.")


_SAID_OF_EVERY = frozenset(
    (
        Form.RATIO,
        Form.FASTER,
        Form.SLOWER,
        Form.LESS_TIME,
        Form.MORE_TIME,
        Form.PART,
        Form.AS_LONG,
        Form.BARE,
        Form.SAME,
        Form.OPEN,
    )
)
"""What may be said of each task at once."""
