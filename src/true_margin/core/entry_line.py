"""One run typed as a line: ``halyard l / parade / 6:17 log``.

Parts are divided by ``/``: setup, task, value with its reading, and if wanted
the round. Names may be shortened; nothing is guessed where two would fit.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.errors import QuantityError
from true_margin.core.figure_notes import take_notes_off
from true_margin.core.notes import read_note
from true_margin.core.readings import ReadingMethod
from true_margin.core.state_words import FAILED_WORDS
from true_margin.core.study import RunStatus
from true_margin.core.timecodes import parse_timecodes

_STATUS = re.compile(r"^(?P<value>.*?)\s*\b(?P<word>void|failed)\b[:,\s]*(?P<reason>.*)$", re.I)
_NOT_A_SLASH = re.compile(r"\bn/a(?![\w/])|\+/-", re.IGNORECASE)
# A semicolon divides parts, but not the frames from the seconds of a timecode.
_DIVIDER = re.compile(r"\s*/\s*|\s*(?:(?<!\d\d:\d\d:\d\d);|;(?!\d\d(?:\D|$)))\s*")
_UNIT_SLASH = re.compile(
    r"(?<=\d)(\s?[a-z]{1,12})/(?=(?:s|sec|second|min|minute|h|hr|hour)s?\b)", re.IGNORECASE
)
_AT = re.compile(r"^(?P<value>.*\S)\s*@\s*(?P<round>[^@/]{1,80})$")
"""The round, or the version that it was run with, behind a value."""
MOST_NOTED = 300
"""Signs of a value with its notes."""
_KEPT = "\x1f"
"""Stands for a slash that parts nothing while a line is taken apart."""
_METHOD_WORDS = {
    "hand": ReadingMethod.STOPWATCH,
    "stopwatch": ReadingMethod.STOPWATCH,
    "press": ReadingMethod.ONE_PRESS,
    "log": ReadingMethod.LOG,
    "watch": ReadingMethod.WATCH,
    "recording": ReadingMethod.RECORDING,
    "remembered": ReadingMethod.REMEMBERED,
}


def split_line(line: str) -> list[str]:
    """Take a line apart at its slashes; those of ``6850 MB/s``, ``+/-``, ``n/a`` part nothing."""
    kept = _UNIT_SLASH.sub(rf"\1{_KEPT}", line)
    kept = _NOT_A_SLASH.sub(lambda sign: sign[0].replace("/", _KEPT), kept)
    return [part.strip().replace(_KEPT, "/") for part in _DIVIDER.split(kept)]


class MatchState(StrEnum):
    """How a typed name was matched."""

    ONE = "one"
    SEVERAL = "several"
    NONE = "none"
    MISSING = "missing"


@dataclass(frozen=True, slots=True)
class Match:
    """A typed name held against the known ones.

    Attributes:
        text: what was typed.
        state: one, several, none, or nothing typed.
        index: of the match, where there is one.
        candidates: indices that would fit, best first; for completion.
    """

    text: str
    state: MatchState
    index: int | None = None
    candidates: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class NotedEntry:
    """Which setup a ratio is to, and who says so; empty where the line does not tell."""

    against: Match
    source: str


@dataclass(frozen=True, slots=True)
class Entry:
    """A line, taken apart.

    Attributes:
        setup, task: the matched names.
        round: the matched round; None where the line names none.
        value: the typed time or amount; empty where the line has none.
        method: how it was read; a hand stopwatch unless the line says otherwise.
        status: ok, void or failed.
        reason: why it is void or failed; empty otherwise.
        note: what stands beside the figure, such as ``best 3210``; empty for nothing.
        part: the part being typed (0 setup, 1 task, 2 value, 3 round).
        noted: of a ratio to another setup, without times; ``value`` is then the ratio.
    """

    setup: Match
    task: Match
    round: Match | None
    value: str
    method: ReadingMethod
    status: RunStatus
    reason: str
    part: int
    noted: NotedEntry | None = None
    note: str = ""


def read_entry(
    line: str, setups: Sequence[str], tasks: Sequence[str], rounds: Sequence[str]
) -> Entry:
    """Take an entry line apart and match its names.

    Args:
        line: as typed.
        setups, tasks, rounds: the known names.

    Returns:
        Matches and texts; the value is not read here.

    Example:
        >>> entry = read_entry("hal l / par / 6:17 log", ["Halyard L"], ["Lantern parade"], [])
        >>> entry.setup.index, entry.task.index, entry.value, entry.method.value
        (0, 0, '6:17', 'log')
    """
    parts = split_line(line)
    setup = match_name(parts[0], setups)
    if len(parts) == 2 and len(tasks) == 1 and re.match(r"^[\d~>']", parts[1]):
        parts.insert(1, tasks[0])
    task = match_name(parts[1] if len(parts) > 1 else "", tasks)
    body = parts[2] if len(parts) > 2 else ""
    at = None if _is_timecodes(body) else _AT.match(body)
    if at is not None and len(parts) == 3:
        body = at["value"]
        parts = [*parts[:2], body, at["round"]]
    note = read_note(body)
    if note is not None:
        against = match_name(note.against, setups)
        return Entry(
            setup,
            task,
            None,
            note.ratio,
            ReadingMethod.STATED,
            RunStatus.OK,
            "",
            min(len(parts), 4) - 1,
            NotedEntry(against, note.source),
        )
    notes: tuple[str, ...] = ()
    if len(body) <= MOST_NOTED and not _is_timecodes(body):
        body, notes = take_notes_off(body)
    said = read_value_words(body)
    round_ = match_name(parts[3], rounds) if len(parts) > 3 and parts[3] else None
    part = min(len(parts), 4) - 1
    return Entry(
        setup,
        task,
        round_,
        said.value,
        said.method,
        said.status,
        said.reason,
        part,
        note="; ".join(notes),
    )


@dataclass(frozen=True, slots=True)
class ValueWords:
    """A value with the words around it taken off: how it was read, and what became of it."""

    value: str
    method: ReadingMethod
    status: RunStatus
    reason: str


def read_value_words(body: str) -> ValueWords:
    """Take the reading and the state off a value, such as ``6:17 log`` or ``failed no disk``.

    A word for a failure alone says why as well: ``DNF``, ``crashed at 40 %``.
    """
    status, reason = RunStatus.OK, ""
    if (said := _STATUS.match(body)) is not None:
        status, reason = RunStatus(said["word"].lower()), said["reason"].strip()
        body = said["value"].strip()
    elif (ended := FAILED_WORDS.match(body)) is not None:
        why = body.strip()
        if ended[0].casefold() == "dnf":
            why = body[ended.end() :].strip(" :,.;()") or "did not finish"
        return ValueWords("", ReadingMethod.STOPWATCH, RunStatus.FAILED, why)
    value, method = _split_method(body)
    return ValueWords(value, method, status, reason)


def _split_method(body: str) -> tuple[str, ReadingMethod]:
    if _is_timecodes(body):
        return body, ReadingMethod.RECORDING
    value, _, last = body.rpartition(" ")
    method = _METHOD_WORDS.get(last.lower())
    if method is None:
        return body, ReadingMethod.STOPWATCH
    return value.removesuffix(" by").removesuffix(" one").strip(), method


def _is_timecodes(body: str) -> bool:
    try:
        return parse_timecodes(body) is not None
    except QuantityError:
        # Of this form, though it cannot be: the value's own reading says why.
        return True


def match_name(text: str, names: Sequence[str]) -> Match:
    """Match a typed name: exact, then by beginning, then word by word.

    Args:
        text: as typed; case does not matter.
        names: the known names.

    Returns:
        One match, several candidates, or none.
    """
    if names.count(text.strip()) == 1:
        exact = names.index(text.strip())
        return Match(text, MatchState.ONE, exact, (exact,))
    wanted = _fold(text)
    if not wanted:
        return Match(text, MatchState.MISSING, None, tuple(range(len(names))))
    folded = [_fold(name) for name in names]
    if folded.count(wanted) > 1:
        return Match(text, MatchState.SEVERAL, None, tuple(_places(wanted, folded)))
    if wanted in folded:
        exact = folded.index(wanted)
        longer = tuple(i for i, name in enumerate(folded) if i != exact and wanted in name)
        return Match(text, MatchState.ONE, exact, (exact, *longer))
    for fits in (_begins, _words_begin, _words_within):
        candidates = tuple(i for i, name in enumerate(folded) if fits(wanted, name))
        if len(candidates) == 1:
            return Match(text, MatchState.ONE, candidates[0], candidates)
        if candidates:
            return Match(text, MatchState.SEVERAL, None, candidates)
    return Match(text, MatchState.NONE)


def _places(wanted: str, folded: Sequence[str]) -> list[int]:
    return [i for i, name in enumerate(folded) if name == wanted]


def entry_name(name: str) -> str:
    """Write a name so that an entry line takes it for one part: its dividers become spaces.

    Example:
        >>> entry_name("Export 1080p/50")
        'Export 1080p 50'
    """
    return " ".join(re.sub(r"[/;]", " ", name).split())


def _fold(text: str) -> str:
    return " ".join(re.sub(r"[^\w\s+]", " ", text.casefold()).split())


def _begins(wanted: str, name: str) -> bool:
    return name.startswith(wanted)


def _words_begin(wanted: str, name: str) -> bool:
    """Each typed word begins a word of the name, in order: "hal l" for Halyard L."""
    words = iter(name.split())
    return all(any(word.startswith(part) for word in words) for part in wanted.split())


def _words_within(wanted: str, name: str) -> bool:
    return all(any(word.startswith(part) for word in name.split()) for part in wanted.split())
