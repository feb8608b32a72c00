"""Elapsed times read off a recording: two timecodes and a frame rate."""

from __future__ import annotations

import math
import re

from true_margin.core.errors import QuantityError
from true_margin.core.quantities import Elapsed, checked_elapsed

_TIMECODES = re.compile(
    r"^(?P<start>\d{1,4}:\d\d:\d\d[:;]\d{1,4})\s*(?:-|–|to)\s*(?P<end>\d{1,4}:\d\d:\d\d[:;]\d{1,4})"
    r"\s*(?:@|at)\s*(?P<rate>\d{1,9}(?:[.,]\d{1,30})?)\s*(?:fps|frames/s)?$",
    re.IGNORECASE,
)
_RATES = {round(n * 1000 / 1001, 2): n * 1000 / 1001 for n in (24, 30, 48, 60, 120)}
_TIMECODE = re.compile(r"^(\d{1,4}):(\d\d):(\d\d)([:;])(\d{1,4})$")


def elapsed_from_timecodes(start: str, end: str, frames_per_s: float) -> Elapsed:
    """Turn two timecodes read off a recording into one elapsed time.

    Args:
        start: timecode of the first frame of the run, ``HH:MM:SS:FF``
            (``;`` before the frames for drop-frame counting).
        end: timecode of the last frame, same form.
        frames_per_s: frame rate of the recording, in frames per second.

    Returns:
        The time between them; its resolution is one frame.

    Raises:
        QuantityError: malformed timecode, frame number at or above the rate,
            rate not positive and finite, or an end that is not after the start.

    Reference:
        SMPTE ST 12-1: drop-frame counting leaves out two frame numbers (four at
        60/1.001) each minute but the tenth.

    Example:
        >>> elapsed_from_timecodes("00:00:01:00", "00:01:01:12", 25.0).seconds
        60.48
    """
    if not (math.isfinite(frames_per_s) and frames_per_s > 0):
        raise QuantityError(f"frame rate {frames_per_s!r}: must be a positive number")
    frames = _frame_count(end, frames_per_s) - _frame_count(start, frames_per_s)
    if frames <= 0:
        raise QuantityError(f"end {end!r} is not after start {start!r}")
    return checked_elapsed(frames / frames_per_s, 1.0 / frames_per_s, f"{start} to {end}")


def parse_timecodes(text: str) -> tuple[Elapsed, float] | None:
    """Read a run off a recording: two timecodes and a frame rate in one text.

    Args:
        text: such as ``01:00:10:05 - 01:06:27:12 @ 25``.

    Returns:
        The time between them and the rate in frames per second; None where the text
        is not of this form. 29.97 and its like mean the exact rates over 1.001.

    Raises:
        QuantityError: a malformed timecode, or an end that is not after the start.
    """
    match = _TIMECODES.match(text.strip())
    if match is None:
        return None
    typed = float(match["rate"].replace(",", "."))
    rate = _RATES.get(typed, typed)
    return elapsed_from_timecodes(match["start"], match["end"], rate), rate


def _frame_count(timecode: str, frames_per_s: float) -> int:
    match = _TIMECODE.match(timecode.strip())
    if match is None or not timecode.isascii():
        raise QuantityError(f"{timecode!r} is not a timecode: write HH:MM:SS:FF")
    hours, minutes, seconds, frames = (int(match.group(i)) for i in (1, 2, 3, 5))
    nominal = round(frames_per_s)
    if minutes >= 60 or seconds >= 60 or frames >= max(nominal, 1):
        raise QuantityError(
            f"{timecode!r}: minutes and seconds are below 60, frames below {nominal}"
        )
    total_minutes = 60 * hours + minutes
    count = (60 * total_minutes + seconds) * nominal + frames
    if match.group(4) == ";":
        count -= 2 * round(nominal / 30) * (total_minutes - total_minutes // 10)
    return count
