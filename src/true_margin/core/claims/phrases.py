"""Whole sentences that are built in another order, put into the order that the forms have.

The table is ``phrases.csv``; each pattern matches in full, so that nothing of the sentence is left
unread. ``<a>`` and ``<b>`` are names, ``<t>`` a task, ``<on>`` "on a task", ``<x>`` and ``<y>``
what is said, the others as listed here.
"""

from __future__ import annotations

import csv
import re
from functools import cache
from importlib import resources

from true_margin.core.claims.idioms import NAME

_TASK = r"(?:the )?‹T\d+›"
_PLACES = r"(?:on|in|at|for|with|during)"
_ON = rf"(?: {_PLACES} (?:every |each )?{_TASK})"
_DO = (
    r"(?:export|render|do|finish|develop|bounce|complete|process|get through|get done with|clean"
    r"|denoise|chew through)(?:ing)?"
)
_UNIT = re.compile(r"(?:hours?|minutes?|mins?|seconds?|secs?|s)\b|\d:\d\d")
_NUMBER_ALONE = re.compile(r"[\d.,]+|[a-z]+(?:[ -][a-z]+)?")
_HERE = r"(?: else| here| on (?:this|the|our|my) bench| we(?:'ve)? tested| in the field| so far)*"
_PARTS = {
    "<a>": rf"(?P<a>{NAME})",
    "<b>": rf"(?P<b>{NAME})",
    "<t>": rf"(?P<t>{_TASK})",
    "<on>": rf"(?P<on>{_ON})",
    "<on?>": rf"(?P<on>{_ON}?)",
    "<x>": r"(?P<x>[^‹]+?)",
    "<y>": r"(?P<y>[^‹]+?)",
    "<how>": r"(?P<x>faster|slower|quicker|\S+ as fast|\S+ ?% faster|\S+ times as fast)",
    "<do>": _DO,
    "<does>": _DO.replace("(?:ing)?", "(?:s|es)?"),
    "<takes>": r"(?:takes?|took|needs?|needed|spends?|spent|clock(?:s|ed)(?: in at)?)",
    "<done>": r"(?:done|finished|ready|through)",
    "<faster>": r"(?:faster|quicker)",
    "<none>": rf"(?:nothing|no (?:other )?machine|none of (?:them|the others)){_HERE}",
    "<all>": (
        r"(?:every(?:thing| other machine| machine)|all (?:of )?(?:them|the others"
        rf"|the other machines|the rest)){_HERE}"
    ),
    "<rest>": (
        r"(?:anything|everything|everyone|any other machine|all (?:of )?(?:them|the others"
        rf"|the rest)|the (?:rest|others|field)){_HERE}"
    ),
    "<reaches>": (
        r"(?:beats|touches|can touch|comes close to|comes near|gets near|can beat|can match"
        r"|matches|catches|tops|outruns|keeps up with|can keep up with)"
    ),
    "<you are>": r"(?:you are|you're|we are|we're)",
    "<going>": r"(?:going|moving|switching|upgrading|stepping up|changing)",
    "<swap>": r"(?:swap|trade|exchange|replace)(?:d|ped|ping|ing|s)?",
    "<place>": r"(?P<x>first|second|third|fourth|fifth|last)",
}
"""What stands for what in the shapes."""
TABLE = resources.files(__package__) / "phrases.csv"
"""What is said, with these parts, and the plain order of it."""
_PART = re.compile(r"(?<!\?P)<[a-z? ]+>")


def _compiled(pattern: str) -> re.Pattern[str]:
    return re.compile(_PART.sub(lambda match: _PARTS[match[0]], pattern))


@cache
def _shapes() -> tuple[tuple[re.Pattern[str], str], ...]:
    rows = csv.DictReader(TABLE.read_text(encoding="utf-8").splitlines())
    return tuple((_compiled(row["sentence"]), row["plain"]) for row in rows)


_SUPERLATIVE = re.compile(
    r"\bthe (fastest|quickest|slowest|cheapest|dearest|priciest|most expensive)"
    r"(?: one| machine| box| computer| here| of (?:all|them all)"
    r"| of the (?:lot|bunch|pack|group|field|two|three|four|five|six|seven|eight)"
    r"| on (?:this|the|my|our) (?:bench|desk)| we(?:'ve)? tested| in the (?:field|group|test)"
    r"| by (?:far|a mile|a long way|some distance|a country mile))+(?= |,|$)"
)


_PERCENT = {
    "a third": "33.3",
    "one third": "33.3",
    "two thirds": "66.7",
    "a quarter": "25",
    "three quarters": "75",
    "a fifth": "20",
    "a tenth": "10",
    "half again": "50",
}
_FRACTION = re.compile(rf"\b({'|'.join(_PERCENT)}) (faster|quicker|slower|less time|more time)\b")
_LOOK_AT = re.compile(
    rf"^(?:if (?:you|we) look at|looking at|look at|take|when it comes to|as for|speaking of) "
    rf"({_TASK})[,:] "
)


def put_in_order(text: str) -> str:
    """Put a sentence into the order of the forms; one that is in none of these comes back as it is.

    Args:
        text: in small letters, its names as signs, its numbers in figures.

    Example:
        >>> put_in_order("it takes the ‹S0› 5 minutes to export the ‹T1›")
        'the ‹S0› takes 5 minutes on the ‹T1›'
    """
    text = _SUPERLATIVE.sub(r"the \1", text)
    text = _FRACTION.sub(lambda match: f"{_PERCENT[match[1]]} % {match[2]}", text)
    text = _LOOK_AT.sub(r"on \1, ", text)
    front = re.match(rf"^(?:{_PLACES} )({_TASK}),? (?=.*{NAME})", text)
    body, on = (text, "") if front is None else (text[front.end() :], f" on {front[1]}")
    for pattern, shape in _shapes():
        found = pattern.fullmatch(body)
        if found is None or (on and "‹T" in body):
            continue
        parts = {name: value or "" for name, value in found.groupdict().items()}
        if "x" in parts and "y" in parts and "takes {y}" in shape:
            parts["y"] = _with_unit(parts["x"], parts["y"])
        return shape.format(**parts) + on
    return text


def _with_unit(first: str, second: str) -> str:
    """ "Five minutes …, … ten": the unit of the first is meant for the second."""
    unit = _UNIT.search(first)
    if unit is None or _UNIT.search(second) or not _NUMBER_ALONE.fullmatch(second):
        return second
    return second if ":" in unit[0] else f"{second} {unit[0]}"
