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
    rf"(?P<x>(?:.+? )?(?:as fast|as quick|faster|quicker|slower)) "
    rf"(?P<than>as|than) (?P<b>{NAME})(?P<on>{_ON}),? (?:and|but) "
    rf"(?P<y>(?:.+? )?(?:as fast|as quick|faster|quicker|slower))(?P<other>{_ON})$"
)
_TIMES = re.compile(
    rf"^(?P<a>{NAME}) (?P<verb>takes|took|needs|needed) (?P<x>[^‹]+?)(?P<on>{_ON}),? and "
    rf"(?P<y>[^‹]+?)(?P<other>{_ON})$"
)
_WHILE = re.compile(
    rf"^(?:while|whereas|although) (?P<a>{NAME}) "
    rf"(?P<one>is (?:\S+ )?(?:faster|slower|quicker))(?P<on>{_ON})"
    rf", (?P<b>{NAME}) (?P<two>is (?:\S+ )?(?:faster|slower|quicker))(?P<other>{_ON})$"
)
_ASIDE = re.compile(
    rf"^{_FRONT}(?P<a>{NAME}), which (?P<one>(?:is|was|costs?|takes) .+?), (?P<two>[a-z].+)$"
)
_CHAIN = re.compile(
    rf"^{_FRONT}(?:it(?:'s| is) )?(?P<a>{NAME})(?: comes| is)? first,? then (?P<b>{NAME}),?"
    rf"(?:(?: and)? then (?P<c>{NAME}))?$"
)
_FOR_LESS = re.compile(
    rf"^(?P<a>{NAME}) gives you (?P<b>{NAME})(?:'s)? (?:(?P<task>‹T\d+›) )?speed for "
    r"(?P<by>[^‹]+?) (?P<how>less|more)$"
)
_VERSUS = re.compile(
    rf"^{_FRONT}(?P<x>[^‹]*?(?:minutes?|seconds?|hours?|\d:\d\d)[^‹]*?) for (?P<a>{NAME}),? "
    rf"(?:versus|vs\.?|against|and|but) (?P<y>[^‹]+?) for (?P<b>{NAME})(?P<on>{_ON}?)$"
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
        tie = "as" if found["y"].startswith("as ") or " as " in found["y"] else "than"
        return (
            f"{head} {found['x']} {found['than']} {found['b']}{found['on']}",
            f"{head} {found['y']} {tie} {found['b']}{found['other']}",
        )
    if (found := _TIMES.match(text)) is not None:
        head = f"{found['a']} {found['verb']}"
        return f"{head} {found['x']}{found['on']}", f"{head} {found['y']}{found['other']}"
    other = _of_one_more(text)
    if other is not None:
        return other
    found = _TWO.match(text)
    # A task that only one half names may be meant for both.
    if found is not None and ("‹T" in found["one"]) == ("‹T" in found["two"]):
        return found["one"], found["two"]
    return (text,)


def _of_one_more(text: str) -> tuple[str, ...] | None:
    """Parts of sentences that put a second claim in the middle, or at the end, of the first."""
    if (found := _WHILE.match(text)) is not None:
        # What each is compared with is the other.
        return (
            f"{found['a']} {found['one']} than {found['b']}{found['on']}",
            f"{found['b']} {found['two']} than {found['a']}{found['other']}",
        )
    if (found := _ASIDE.match(text)) is not None:
        front = found["front"] or ""
        return f"{found['a']} {found['one']}", f"{front}{found['a']} {found['two']}"
    if (found := _CHAIN.match(text)) is not None:
        front = found["front"] or ""
        first = f"{front}{found['a']} is the fastest"
        pairs = [(found["a"], found["b"])] + ([(found["b"], found["c"])] if found["c"] else [])
        return (first, *(f"{front}{one} is faster than {two}" for one, two in pairs))
    if (found := _FOR_LESS.match(text)) is not None:
        on = f" on {found['task']}" if found["task"] else ""
        same = f"{found['a']} is as fast as {found['b']}{on}"
        return same, f"{found['a']} costs {found['by']} {found['how']} than {found['b']}"
    if (found := _VERSUS.match(text)) is not None:
        on = found["on"] or (f" {found['front'].rstrip(' ,')}" if found["front"] else "")
        unit = re.search(r"minutes?|seconds?|hours?", found["x"])
        bare = unit and re.fullmatch(r"[\d.,a-z ]+", found["y"]) and not _UNIT.search(found["y"])
        y = f"{found['y']} {unit[0]}" if unit and bare else found["y"]
        return f"{found['a']} takes {found['x']}{on}", f"{found['b']} takes {y}{on}"
    return None


_UNIT = re.compile(r"minute|second|hour|\d:\d\d")
