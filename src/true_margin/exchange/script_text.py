"""A script, an article or subtitles as lines with their numbers, and a checked line as JSON."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from true_margin.core.claims.check import Checked
from true_margin.core.claims.reading import Reading
from true_margin.core.claims.result import Status
from true_margin.core.errors import CoreError
from true_margin.core.study import Study

MOST_SIGNS = 200_000
"""Longest script, in signs: some three hours of talking."""
_CLOCK = re.compile(r"^\s*(?:\d+:)?\d+:\d\d[.,]\d{3}\s*-->\s*(?:\d+:)?\d+:\d\d[.,]\d{3}")
_TAG = re.compile(r"</?[a-zA-Z][^<>]{0,80}>|\{\\an\d\}")
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
    left out, and a sentence that runs over several of them is put together.

    Raises:
        ScriptError: longer than 200 000 signs.
    """
    if len(text) > MOST_SIGNS:
        raise ScriptError(
            f"the script has {len(text)} signs: {MOST_SIGNS} are the most, check it in parts"
        )
    lines = text.splitlines()
    if any(_CLOCK.match(line) for line in lines):
        return tuple(_sentences(_spoken(lines), joined=True))
    return tuple(_sentences(list(enumerate(lines, start=1)), joined=False))


def _spoken(lines: list[str]) -> list[tuple[int, str]]:
    """What is said in subtitles, with line numbers."""
    found: list[tuple[int, str]] = []
    inside = False
    for number, line in enumerate(lines, start=1):
        if _CLOCK.match(line):
            inside = True
        elif not line.strip():
            inside = False
        elif inside:
            found.append((number, _TAG.sub("", line).strip()))
    return found


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
