"""What stands beside a figure and is no part of it: of what several it is one, or another of them.

``mean of 5 3150``, ``3150 (mean of 5)``, ``3,150, best 3,210``: the figure is one, the rest is
kept as its note.
"""

from __future__ import annotations

import re

_KIND = r"(?:mean|average|avg|median|best|worst)"
_BEFORE = re.compile(
    rf"^(?P<note>{_KIND}(?:\s+of\s+\d{{1,4}})?)\s*[:=]?\s+(?P<body>[\d~<>≈].*)$", re.IGNORECASE
)
_BEHIND = re.compile(
    rf"^(?P<body>.*\S)\s*(?:,|\s|\()\s*(?P<note>{_KIND}\s+of\s+\d{{1,4}})\s*\)?(?P<rest>.*)$",
    re.IGNORECASE,
)
_READING = r"(?:hand|stopwatch|press|log|watch|recording|remembered|by|one)\b"
_BESIDE = re.compile(
    rf"^(?P<body>.*?\S)\s*(?:,|\s|\()\s*"
    rf"(?P<note>(?:{_KIND}|max|min)\s*[:=]?\s+[\d~<>≈][\d.,:]*(?:\s?(?!{_READING})[a-z/%]{{1,12}})?)"
    rf"\s*\)?(?P<rest>(?:\s.*)?)$",
    re.IGNORECASE,
)

FIGURE_BEGINS = frozenset("0123456789~<>≈")
"""How a figure begins; in anything else, such as why a run failed, there is nothing to take off."""


def take_notes_off(text: str) -> tuple[str, tuple[str, ...]]:
    """Take off a figure what only says of what it is a figure.

    Args:
        text: of at most some hundred signs, as typed.

    Returns:
        The figure with its reading, and the notes, in the order in which they stand.

    Example:
        >>> take_notes_off("3,150, best 3,210")
        ('3,150', ('best 3,210',))
        >>> take_notes_off("mean of 5 6:17 log"), take_notes_off("6:17 (mean of 5) log")
        (('6:17 log', ('mean of 5',)), ('6:17 log', ('mean of 5',)))
        >>> take_notes_off("9 min")
        ('9 min', ())
    """
    body, notes = text.strip(), []
    if (before := _BEFORE.match(body)) is not None:
        body, notes = before["body"], [before["note"]]
    if body[:1] not in FIGURE_BEGINS:
        return body, tuple(notes)
    if (beside := _BESIDE.match(body)) is not None:
        body = f"{beside['body']} {beside['rest'].strip()}".strip()
        notes = [*notes, beside["note"].strip()]
    if (behind := _BEHIND.match(body)) is not None:
        body = f"{behind['body']} {behind['rest'].strip()}".strip()
        notes = [*notes, behind["note"]]
    return body, tuple(notes)
