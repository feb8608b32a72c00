"""Films whose every frame says which it is, and of which it is known when each is shown."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from random import Random

import av
import numpy as np
from av.video.stream import VideoStream
from numpy.typing import NDArray

BITS, BLOCK, HEIGHT = 12, 32, 64
WIDTH = BITS * BLOCK

READ = f"""(video) => {{
  const canvas = document.createElement('canvas')
  canvas.width = {WIDTH}; canvas.height = {HEIGHT}
  const drawn = canvas.getContext('2d', {{ willReadFrequently: true }})
  drawn.drawImage(video, 0, 0)
  let frame = 0
  for (let bit = 0; bit < {BITS}; bit += 1) {{
    const [red] = drawn.getImageData(bit * {BLOCK} + {BLOCK // 2}, {HEIGHT // 2}, 1, 1).data
    frame = 2 * frame + (red > 127 ? 1 : 0)
  }}
  return frame
}}"""
"""Reads which frame a player shows, off its picture."""


def steady(rate: Fraction, frames: int) -> list[Fraction]:
    """When each frame of a film with a constant rate is shown, in seconds."""
    return [place / rate for place in range(frames)]


def unsteady(frames: int) -> list[Fraction]:
    """When each frame of a recording is shown that leaves out what does not change."""
    rng, at = Random(8437), Fraction(0)
    times = []
    for _ in range(frames):
        times.append(at)
        at += Fraction(rng.choice((8, 17, 33, 34, 100, 250)), 1000)
    return times


def write_film(path: Path, times: list[Fraction], codec: str) -> None:
    """Write a film; each frame is shown at its time, with its number as light and dark fields."""
    base = Fraction(1, 1000) if path.suffix == ".webm" else Fraction(1, 60_000)
    with av.open(str(path), "w") as container:
        stream = container.add_stream(codec, rate=60)
        assert isinstance(stream, VideoStream), "a codec of pictures"
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        stream.time_base = stream.codec_context.time_base = base
        stream.codec_context.gop_size = 48
        for number, at in enumerate(times):
            frame = av.VideoFrame.from_ndarray(_picture(number), format="rgb24")
            frame.pts, frame.time_base = round(at / base), base
            container.mux(stream.encode(frame))
        container.mux(stream.encode())


def _picture(number: int) -> NDArray[np.uint8]:
    bits = [(number >> (BITS - 1 - bit)) & 1 for bit in range(BITS)]
    row = np.repeat(np.array(bits, np.uint8) * 255, BLOCK)
    return np.broadcast_to(row[None, :, None], (HEIGHT, WIDTH, 3)).copy()
