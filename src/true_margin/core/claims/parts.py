"""One sentence that claims several things, taken apart into sentences that each claim one."""

from __future__ import annotations

import re

from true_margin.core.claims.idioms import NAME

_ON = r"(?: (?:on|in|at|for|with|during) (?:the )?‹T\d+›)"
_FRONT = r"(?P<front>(?:on|in|at|for|with|during) (?:the )?‹T\d+›,? )?"
_BOTH = re.compile(
    rf"^{_FRONT}(?P<a>{NAME}) (?P<verb>.+?) both (?P<b>{NAME}) and (?P<c>{NAME})(?P<rest>{_ON}?)$"
)
_WHICH = re.compile(
    rf"^{_FRONT}(?P<one>{NAME} .+ (?P<b>{NAME})), which (?:in turn )?(?P<two>.+ {NAME})$"
)
_TWICE = re.compile(
    rf"^(?P<a>{NAME}) (?P<verb>is|was|runs|ran) "
    rf"(?P<x>.+? (?:as fast|as quick|faster|quicker|slower)) "
    rf"(?P<than>as|than) (?P<b>{NAME})(?P<on>{_ON}),? (?:and|but) "
    rf"(?P<y>.+? (?:as fast|as quick|faster|quicker|slower))(?P<other>{_ON})$"
)
_TIMES = re.compile(
    rf"^(?P<a>{NAME}) (?P<verb>takes|took|needs|needed) (?P<x>[^‹]+?)(?P<on>{_ON}),? and "
    rf"(?P<y>[^‹]+?)(?P<other>{_ON})$"
)
_TWO = re.compile(
    rf"^(?P<one>{NAME} .+?),? (?:and|but|while|whereas|yet|;) (?P<two>{NAME} (?!and\b).+)$"
)


def parts_of(text: str) -> tuple[str, ...]:
    """Sentences that a sentence is made of; it alone where it is one.

    Args:
        text: in plain words, its names as signs.

    Example:
        >>> parts_of("the ‹S0› beats both the ‹S1› and the ‹S2› on ‹T3›")
        ('the ‹S0› beats the ‹S1› on ‹T3›', 'the ‹S0› beats the ‹S2› on ‹T3›')
    """
    if (found := _BOTH.match(text)) is not None:
        front = found["front"] or ""
        head = f"{front}{found['a']} {found['verb']}"
        return tuple(f"{head} {found[each]}{found['rest']}" for each in "bc")
    if (found := _WHICH.match(text)) is not None:
        front = found["front"] or ""
        return f"{front}{found['one']}", f"{front}{found['b']} {found['two']}"
    if (found := _TWICE.match(text)) is not None:
        head = f"{found['a']} {found['verb']}"
        tail = f"{found['than']} {found['b']}"
        return (
            f"{head} {found['x']} {tail}{found['on']}",
            f"{head} {found['y']} {tail}{found['other']}",
        )
    if (found := _TIMES.match(text)) is not None:
        head = f"{found['a']} {found['verb']}"
        return f"{head} {found['x']}{found['on']}", f"{head} {found['y']}{found['other']}"
    found = _TWO.match(text)
    # A task that only one half names may be meant for both.
    if found is not None and ("‹T" in found["one"]) == ("‹T" in found["two"]):
        return found["one"], found["two"]
    return (text,)
