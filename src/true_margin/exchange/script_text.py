"""A script, an article or subtitles as lines with their numbers, and a checked line as JSON."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass
from html import unescape
from typing import Any

from true_margin.core.claims.check import Checked
from true_margin.core.claims.reading import Reading
from true_margin.core.claims.result import Status
from true_margin.core.errors import CoreError
from true_margin.core.study import Study

MOST_SIGNS = 200_000
"""Longest script, in signs: some three hours of talking."""
_TIME = r"(?:(\d{1,3}):)?(\d{1,2}):(\d\d)[.,](\d{3})"
_CLOCK = re.compile(rf"^\s*{_TIME}\s*-->\s*{_TIME}")
_TAG = re.compile(r"</?[a-zA-Z][^<>]{0,80}>|<(?:\d+:)?\d+:\d\d[.,]\d{3}>|\{\\an\d\}")
_UNSEEN = re.compile("[\u200b-\u200f\u202a-\u202e\u2066-\u2069\ufeff]")
"""Marks of direction and joins, which nobody sees."""
_TURN = re.compile(r"^>>+\s*")
_SPEAKER = re.compile(r"^([A-Z][A-Z .'-]{1,24}):\s+(?=\S)")
PAUSE_S = 0.8
"""So long nothing is said between two sentences, where captions have no stops."""
FEW_STOPS = 0.1
"""Captions of which fewer end with a stop are taken to have none."""
_END = re.compile(r"(?<=[.!?])[\"'”»)]*\s+(?=[\"'“„«(]?[A-Z0-9])")


class ScriptError(CoreError):
    """The script cannot be read."""


@dataclass(frozen=True, slots=True)
class ScriptLine:
    """A sentence, with the number of the line that it begins on, from 1."""

    number: int
    text: str


def read_script(text: str) -> tuple[ScriptLine, ...]:
    """Take a script apart into sentences.

    Subtitles (SRT and WebVTT) are known by their times: numbers, times, headers and tags are
    left out, and a sentence that runs over several of them is put together; a line that rolls up
    counts once, and where captions have no stops a pause ends a sentence. Who speaks is left out.

    Raises:
        ScriptError: longer than 200 000 signs.
    """
    if len(text) > MOST_SIGNS:
        raise ScriptError(
            f"the script has {len(text)} signs: {MOST_SIGNS} are the most, check it in parts"
        )
    lines = [_UNSEEN.sub("", unescape(line)) for line in text.splitlines()]
    if any(_CLOCK.match(line) for line in lines):
        return tuple(_sentences(_with_stops(_spoken(lines)), joined=True))
    return tuple(_sentences(_without_speakers(list(enumerate(lines, start=1))), joined=False))


def caption_times(text: str) -> dict[int, float]:
    """When each line of subtitles is said, in seconds, by its number; empty for a plain script."""
    found: dict[int, float] = {}
    at: float | None = None
    for number, line in enumerate(text.splitlines(), start=1):
        clock = _CLOCK.match(line)
        if clock is not None:
            at = _seconds(clock, 1)
        elif not line.strip():
            at = None
        elif at is not None:
            found[number] = at
    return found


@dataclass(frozen=True, slots=True)
class _Said:
    """A line of subtitles; ``pause`` is how long nothing was said before it, in seconds."""

    number: int
    text: str
    pause: float


def _spoken(lines: list[str]) -> list[_Said]:
    """What is said in subtitles: each line once, also where captions roll up."""
    found: list[_Said] = []
    inside, end, pause = False, 0.0, 0.0
    for number, line in enumerate(lines, start=1):
        clock = _CLOCK.match(line)
        if clock is not None:
            pause = max(_seconds(clock, 1) - end, 0.0)
            inside, end = True, _seconds(clock, 5)
        elif not line.strip():
            inside = False
        elif inside:
            said = " ".join(_TAG.sub("", line).split())
            # Where captions roll up, a line stands in two or three of them.
            if said and said not in (each.text for each in found[-2:]):
                found.append(_Said(number, said, pause))
                pause = 0.0
    texts = _without_speakers([(each.number, each.text) for each in found])
    return [
        _Said(number, text, each.pause) for each, (number, text) in zip(found, texts, strict=True)
    ]


def _seconds(clock: re.Match[str], first: int) -> float:
    """A moment of a caption, its parts from a group on."""
    hours, minutes, seconds, thousandths = (int(clock[first + at] or 0) for at in range(4))
    return 3600 * hours + 60 * minutes + seconds + thousandths / 1000


def _with_stops(said: list[_Said]) -> list[tuple[int, str]]:
    """Lines with a stop where somebody paused, if captions have no stops of their own."""
    ended = sum(re.search(r"[.!?][\"'”»)]*(?: |$)", each.text) is not None for each in said)
    if not said or ended >= FEW_STOPS * len(said):
        return [(each.number, each.text) for each in said]
    found = []
    for at, each in enumerate(said):
        after = said[at + 1] if at + 1 < len(said) else None
        pauses = after is None or after.pause >= PAUSE_S
        text = f"{each.text}." if pauses and each.text[-1:] not in ".!?" else each.text
        found.append((each.number, text))
    return found


def _without_speakers(lines: list[tuple[int, str]]) -> list[tuple[int, str]]:
    """Lines without who says them: signs of a turn, and names in capitals that come again."""
    turned = [(number, _TURN.sub("", line.strip())) for number, line in lines]
    names = Counter(found[1] for _, line in turned if (found := _SPEAKER.match(line)))
    plain = []
    for number, line in turned:
        found = _SPEAKER.match(line)
        again = found is not None and names[found[1]] > 1
        plain.append((number, line[found.end() :] if found is not None and again else line))
    return plain


def _sentences(lines: list[tuple[int, str]], *, joined: bool) -> list[ScriptLine]:
    found: list[ScriptLine] = []
    held: tuple[int, str] | None = None
    for number, line in lines:
        text = line.strip()
        start = number
        if held is not None:
            start, text = held[0], f"{held[1]} {text}"
            held = None
        parts = [part for part in _END.split(text) if part.strip()]
        if joined and parts and not re.search(r"[.!?][\"'”»)]*$", parts[-1]):
            held = (start if len(parts) == 1 else number, parts.pop())
        found += [ScriptLine(start if at == 0 else number, part) for at, part in enumerate(parts)]
    if held is not None:
        found.append(ScriptLine(*held))
    return found


def _reading(reading: Reading, study: Study) -> dict[str, Any]:
    """What a sentence was taken to say; ``task`` null for the mix, or for all of them."""
    a, b = (None if at is None else study.setups[at] for at in (reading.a, reading.b))
    return {
        "a": a,
        "b": b,
        "task": None if reading.task is None else study.tasks[reading.task].name,
        "form": reading.form.value,
        "figure": reading.number,
        "high": reading.high,
        "hedge": reading.hedge.value,
        "sign": reading.sign,
        "degree": reading.degree,
        "denied": reading.denied,
    }


def claim_object(line: ScriptLine, checked: Checked, study: Study) -> dict[str, Any]:
    """A checked line as it is printed with ``--json``.

    ``status`` is judged, confirm (it was read, but not surely: ``verdict`` is what it would be)
    or not understood; ``reading`` what it was taken to say, null where that is several things,
    which are all in ``readings``.
    """
    status = checked.status
    readings = [_reading(each, study) for each in checked.readings]
    reason = checked.reason
    if status is Status.CONFIRM and checked.would_be is not None:
        checked = checked.would_be
    models = checked.of_models
    return {
        "line": line.number,
        "text": line.text,
        "verdict": checked.verdict.value,
        "status": status.value,
        "reading": readings[0] if len(readings) == 1 else None,
        "readings": readings,
        "of_models": None
        if models is None
        else {
            "verdict": models.verdict.value,
            "quantity": models.value,
            "lo": models.lo,
            "hi": models.hi,
            "say": models.say,
        },
        "quantity": checked.value,
        "unit": checked.quantity,
        "lo": checked.lo,
        "hi": checked.hi,
        "say": checked.say,
        "reason": reason or None,
    }
