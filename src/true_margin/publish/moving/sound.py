"""A quiet tick where something is done, on the frame that shows it."""

from __future__ import annotations

import io
import wave
from collections.abc import Sequence

import numpy as np

from true_margin.publish.moving.frames import Timing

SAMPLES_S = 48_000
"""Samples a second, as films have."""
TICK_S, PITCH_HZ, FADES_IN_S = 0.05, 1_760.0, 0.008
LOUD = 0.18
"""Of the loudest that can be: quiet, so that it lies under a voice."""


def write_ticks(ticks: Sequence[float], timing: Timing) -> bytes:
    """Write WAV: silence as long as the clip, with a tick at the frame of each moment.

    Args:
        ticks: moments in parts of the motion.
        timing: of the clip.

    Returns:
        One channel of 16 bits, 48 000 samples a second.
    """
    length = round(timing.frames / timing.exact * SAMPLES_S)
    sound = np.zeros(length)
    own = _tick()
    # Two at the same frame are one, as loud as one.
    for frame in sorted({timing.frame_of(part) for part in ticks}):
        start = round(frame / timing.exact * SAMPLES_S)
        room = sound[start : start + len(own)]
        room[:] = np.where(np.abs(room) > np.abs(own[: len(room)]), room, own[: len(room)])
    into = io.BytesIO()
    with wave.open(into, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(SAMPLES_S)
        file.writeframes(np.round(sound * 32767).astype("<i2").tobytes())
    return into.getvalue()


def _tick() -> np.ndarray:
    """A short tone that dies away."""
    at = np.arange(round(TICK_S * SAMPLES_S)) / SAMPLES_S
    return LOUD * np.cos(2 * np.pi * PITCH_HZ * at) * np.exp(-at / FADES_IN_S)
