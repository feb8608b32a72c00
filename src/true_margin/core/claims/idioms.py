"""Idioms of speech about speed, each put in the place of the plain words that it means.

The table is ``idioms.csv``: a sense (ahead, behind, same, both, between, first, last), a
strength (strong, slight or none), and the phrase between two names, with ``*`` where the second
name stands inside it.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Callable
from functools import cache
from importlib import resources

TABLE = resources.files(__package__) / "idioms.csv"
NAME = r"(?:the )?‹[SUG]\d+›"
_A, _B = rf"(?P<a>{NAME})", rf"(?P<b>{NAME})"
_COMPARED = {
    ("ahead", ""): "is faster than",
    ("ahead", "strong"): "is much faster than",
    ("ahead", "slight"): "is slightly faster than",
    ("behind", ""): "is slower than",
    ("behind", "strong"): "is much slower than",
    ("behind", "slight"): "is slightly slower than",
    ("same", ""): "is as fast as",
}
_ALONE = {"first": "is the fastest", "last": "is the slowest"}


def say_plainly(text: str) -> str:
    """Put the plain words in the place of an idiom; a text without one comes back as it is.

    Args:
        text: a sentence in small letters, its names as signs, its task taken out or not.

    Example:
        >>> say_plainly("the ‹S0› blows the ‹S1› away on ‹T2›")
        'the ‹S0› is much faster than the ‹S1› on ‹T2›'
    """
    for part, pattern, plain in _table():
        found = pattern.search(text) if part in text else None
        if found is not None:
            return text[: found.start()] + plain(found) + text[found.end() :]
    return text


Plain = Callable[[re.Match[str]], str]


@cache
def _table() -> tuple[tuple[str, re.Pattern[str], Plain], ...]:
    """Each idiom's longest word, which is looked for first, its pattern, and what it means."""
    lines = TABLE.read_text(encoding="utf-8").splitlines()
    rows = [(row["sense"], row["strength"], row["phrase"]) for row in csv.DictReader(lines)]
    # The longest first: "is nowhere near as fast as" before "is nowhere near".
    rows.sort(key=lambda row: -len(row[2]))
    return tuple(
        (_longest_word(phrase), _pattern(sense, phrase), _plain(sense, strength))
        for sense, strength, phrase in rows
    )


def _longest_word(phrase: str) -> str:
    """The longest word without its ending: there in every form of the phrase."""
    return max(phrase.split(), key=len).removesuffix("s")


def _pattern(sense: str, phrase: str) -> re.Pattern[str]:
    # A verb is said of now and of then, of one and of several.
    words = re.escape(phrase).replace(r"\ ", " ")
    if sense in ("ahead", "behind", "same"):
        words = re.sub(r"^(\w+)s\b", _verb, words, count=1)
        words = re.sub(r"^is\b", "(?:is|was|are|were)", words)
    if r"\*" in words:
        return re.compile(rf"{_A} {words.replace(chr(92) + '*', _B)}(?= |,|$)")
    if sense in ("ahead", "behind", "same"):
        return re.compile(rf"{_A} {words} {_B}(?= |,|$)")
    if sense == "both":
        return re.compile(rf"{_A} and {_B} {words}(?= |,|$)")
    if sense == "between":
        return re.compile(rf"{words} {_A} and {_B}(?= |,|$)")
    return re.compile(rf"{_A} {words}(?= (?:on|in|at|for|with|during)\b|,|$)")


def _verb(match: re.Match[str]) -> str:
    """A verb of one, of several, and of then: beats, beat, beated; what nobody says harms none."""
    stem = match[1]
    return match[0] if stem in ("i", "wa", "ha", "get") else f"{stem}(?:s|d|ed)?"


def _plain(sense: str, strength: str) -> Plain:
    if sense in ("both", "between"):
        return lambda m: f"{m['a']} and {m['b']} are the same"
    if sense in _ALONE:
        return lambda m: f"{m['a']} {_ALONE[sense]}"
    words = _COMPARED[sense, strength]
    return lambda m: f"{m['a']} {words} {m['b']}"
