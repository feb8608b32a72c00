"""The frames of a clip, out of the same drawing as the still.

What stands still is drawn once; what comes is laid over it where and as far as it is seen. The
last frame is the still, pixel by pixel.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
import resvg_py
from numpy.typing import NDArray
from PIL import Image

from true_margin.core.numerals import fixed, short
from true_margin.core.timelines import exact_rate
from true_margin.core.wording import say_time
from true_margin.publish.canvas import Box, Canvas, Drawing
from true_margin.publish.cues import Count, Counter, Cue, Way, along

Pixels = NDArray[np.uint8]
"""Rows of pixels of red, green, blue and alpha."""
FADE_S = 0.24
"""Ink that lands is there after so long."""
AROUND = 40
"""Ink reaches beyond its box by its stroke and its rim, at most so many pixels."""


@dataclass(frozen=True, slots=True)
class Timing:
    """How a clip runs: frames per second, its length and how long it rests at its end, in s.

    With ``cuts`` nothing glides or fades: what comes is there at once when its way would end.
    """

    rate: float
    seconds: float
    hold: float
    cuts: bool = False

    @property
    def exact(self) -> Fraction:
        """The exact frames per second: 23.976 is 24000/1001."""
        return exact_rate(self.rate)

    @property
    def frames(self) -> int:
        """How many frames there are, one at least."""
        return max(1, round(Fraction(self.seconds) * self.exact))

    @property
    def motion_s(self) -> float:
        """How long the motion lasts: what is left before the rest, half of the clip at least."""
        return max(self.seconds - self.hold, self.seconds / 2)

    def at_s(self, frame: int) -> float:
        """When a frame is shown, in seconds from the first."""
        return float(frame / self.exact)

    def frame_of(self, part: float) -> int:
        """The first frame at which a part of the motion is over."""
        exact = Fraction(part) * Fraction(self.motion_s) * self.exact
        return min(math.ceil(exact - Fraction(1, 1000)), self.frames - 1)


@dataclass(frozen=True, slots=True)
class Frame:
    """A frame; ``pixels`` are the maker's own until the next one, ``changed`` since the last."""

    number: int
    pixels: Pixels
    changed: bool


class _Moving:
    """A layer that comes: its pixels, where they lie, and how many of its columns are there."""

    def __init__(self, drawing: Drawing, cue: Cue, svg: str, boxes: Sequence[Box], scale: float):
        self.cue = cue
        x = max(math.floor(min(box.x for box in boxes)) - AROUND, 0) // 2 * 2
        y = max(math.floor(min(box.y for box in boxes)) - AROUND, 0) // 2 * 2
        right = min(math.ceil(max(b.x + b.width for b in boxes)) + AROUND, drawing.width)
        bottom = min(math.ceil(max(b.y + b.height for b in boxes)) + AROUND, drawing.height)
        wide, tall = max(right - x, 2) // 2 * 2, max(bottom - y, 2) // 2 * 2
        pixels = _thick(_drawn(drawing.part(svg, x, y, wide, tall, scale)))
        seen = np.flatnonzero(pixels[..., 3].any(axis=0))
        rows = np.flatnonzero(pixels[..., 3].any(axis=1))
        if not len(seen):
            seen, rows = np.array([0]), np.array([0])
        self.pixels = pixels[rows[0] : rows[-1] + 1, seen[0] : seen[-1] + 1]
        self.x, self.y = int(x * scale) + int(seen[0]), int(y * scale) + int(rows[0])
        self.scale = scale
        self.laid: tuple[int, int] | None = None
        self.done = False

    @property
    def width(self) -> int:
        return int(self.pixels.shape[1])

    def reach(self, part: float) -> tuple[float, float]:
        """From which to which of its columns it is seen."""
        value = along(self.cue.steps, part)
        if self.cue.way is Way.WIPE:
            return 0.0, min(max(value * self.scale - self.x, 0.0), float(self.width))
        middle = min(max(self.cue.middle * self.scale - self.x, 0.0), float(self.width))
        return middle * (1 - value), middle + (self.width - middle) * value


@dataclass(frozen=True, slots=True)
class _Sign:
    """A sign as pixels, where they lie from its pen, and how far the pen goes on."""

    pixels: Pixels
    x: int
    y: int
    advance: float


def _draw_sign(drawing: Drawing, counter: Counter, sign: str, scale: float) -> _Sign:
    """Draw a sign with its pen at a whole pixel."""
    canvas = Canvas(drawing.width, drawing.height, drawing.look)
    pen = 2 * AROUND
    box = canvas.text(pen, pen + 200, sign, size=counter.size, face="figure", ink=counter.ink)
    still = Cue(Way.LAND, ((0.0, 0.0),))
    own = _Moving(drawing, still, canvas.ink_so_far, [box], scale)
    x, y = own.x - round(pen * scale), own.y - round((pen + 200) * scale)
    return _Sign(own.pixels, x, y, box.width * scale)


class FrameMaker:
    """Makes the frames of a drawing one after the other."""

    def __init__(self, drawing: Drawing, timing: Timing, scale: float = 1.0) -> None:
        """Draw everything that the frames are made of.

        Args:
            drawing: with its layers.
            timing: of the clip.
            scale: 1, or 0.5 for a preview.
        """
        self.drawing, self.timing, self.scale = drawing, timing, scale
        self.opaque = drawing.look.paper is not None
        width, height = drawing.width, drawing.height
        self.width, self.height = int(width * scale), int(height * scale)
        inner = drawing.svg[drawing.svg.index(">") + 1 : -len("</svg>")]
        self._whole = _drawn(drawing.part(inner, 0, 0, width, height, scale))
        still = _drawn(drawing.part(drawing.layers[0].svg, 0, 0, width, height, scale))
        self._under = _thick(still)
        self._shown = self._under.copy()
        self._given = still if not self.opaque else self._shown
        self._signs: dict[tuple[str, float, str], _Sign] = {}
        self._moving = [
            _Moving(drawing, layer.cue, layer.svg, layer.boxes, scale)
            for layer in drawing.layers
            if layer.cue is not None and layer.boxes
        ]

    def frames(self) -> Iterator[Frame]:
        """Give the frames in their order, once."""
        dirty: list[tuple[int, int, int, int]] = []
        for number in range(self.timing.frames):
            at_s = self.timing.at_s(number)
            before, dirty = dirty, []
            for x, y, wide, tall in before:
                place = np.s_[y : y + tall, x : x + wide]
                self._shown[place] = self._under[place]
            if number == self.timing.frames - 1 or self._rests(at_s):
                yield Frame(number, self._whole, changed=True)
                for later in range(number + 1, self.timing.frames):
                    yield Frame(later, self._whole, changed=False)
                return
            laid = [box for each in self._moving for box in self._lay(each, at_s)]
            dirty = [box for each in self._moving for box in self._float(each, at_s)]
            dirty += self._count(at_s)
            self._give([*before, *laid, *dirty])
            yield Frame(number, self._given, changed=number == 0 or bool(before or laid or dirty))

    def _rests(self, at_s: float) -> bool:
        ends = (self._ends_s(each.cue) for each in self._moving)
        return at_s >= max((self.timing.motion_s, *ends))

    def _ends_s(self, cue: Cue) -> float:
        lands = FADE_S if cue.way is Way.LAND and not self.timing.cuts else 0.0
        return cue.done * self.timing.motion_s + lands

    def _lay(self, each: _Moving, at_s: float) -> Iterator[tuple[int, int, int, int]]:
        """Lay what is there for good from now on over what is there already."""
        if each.done:
            return
        if at_s >= self._ends_s(each.cue):
            each.done = True
            left, right = 0, each.width
        elif self.timing.cuts or each.cue.way is Way.LAND:
            return
        else:
            low, high = each.reach(at_s / self.timing.motion_s)
            left, right = math.ceil(low), math.floor(high)
            if right <= left:
                return
        laid = each.laid or (left, left)
        for start, stop in ((left, min(laid[0], right)), (max(laid[1], left), right)):
            if stop > start:
                own = each.pixels[:, start:stop]
                tall, wide = own.shape[:2]
                place = np.s_[each.y : each.y + tall, each.x + start : each.x + start + wide]
                _lay_over(self._under[place], own)
                self._shown[place] = self._under[place]
                yield each.x + start, each.y, wide, tall
        each.laid = (min(laid[0], left), max(laid[1], right))

    def _float(self, each: _Moving, at_s: float) -> Iterator[tuple[int, int, int, int]]:
        """Show what is there for this frame only: ink that fades in, the edge of a wipe."""
        if each.done or self.timing.cuts:
            return
        part = at_s / self.timing.motion_s
        if each.cue.way is Way.LAND:
            seen = (at_s - each.cue.done * self.timing.motion_s) / FADE_S
            if seen > 0:
                yield from self._show(each.pixels, each.x, each.y, seen)
            return
        if part <= each.cue.steps[0][0]:
            return
        low, high = each.reach(part)
        for at, seen in ((math.floor(high), high % 1), (math.floor(low), -low % 1)):
            if 0 < seen < 1 and 0 <= at < each.width:
                yield from self._show(each.pixels[:, at : at + 1], each.x + at, each.y, seen)

    def _count(self, at_s: float) -> Iterator[tuple[int, int, int, int]]:
        part = at_s / self.timing.motion_s
        for each in self.drawing.counters:
            if self.timing.cuts or not each.values[0][0] < part < each.values[-1][0]:
                continue
            signs = _written(each, along(each.values, part))
            own = [self._sign(each, sign) for sign in signs]
            left = along(each.places, part) * self.scale
            left -= sum(sign.advance for sign in own) if each.to_left else 0.0
            top = round(each.y * self.scale)
            for sign in own:
                x, y = round(left) + sign.x, top + sign.y
                yield from self._show(sign.pixels, x, y, 1.0)
                left += sign.advance

    def _sign(self, counter: Counter, sign: str) -> _Sign:
        """A sign of a running figure, drawn once: a clip has hundreds of them."""
        key = (sign, counter.size, counter.ink)
        if key not in self._signs:
            self._signs[key] = _draw_sign(self.drawing, counter, sign, self.scale)
        return self._signs[key]

    def _show(
        self, pixels: Pixels, x: int, y: int, seen: float
    ) -> Iterator[tuple[int, int, int, int]]:
        tall, wide = pixels.shape[:2]
        _lay_over(self._shown[y : y + tall, x : x + wide], pixels, seen)
        yield x, y, wide, tall

    def _give(self, boxes: Sequence[tuple[int, int, int, int]]) -> None:
        """Bring the pixels that are given up to date; those of a clear look carry their colour."""
        if self.opaque:
            return
        for x, y, wide, tall in boxes:
            place = np.s_[y : y + tall, x : x + wide]
            self._given[place] = _thin(self._shown[place])


def _written(counter: Counter, value: float) -> str:
    if counter.count is Count.TIME:
        return say_time(value)
    last = counter.values[-1][1]
    return fixed(value, 0, grouped=True) if last >= 100 else short(round(value, 2), 3)


def _drawn(svg: str) -> Pixels:
    """Draw a picture; colours are not multiplied by their alpha."""
    png = resvg_py.svg_to_bytes(svg_string=svg, skip_system_fonts=True)
    with Image.open(io.BytesIO(bytes(png))) as picture:
        return np.array(picture.convert("RGBA"))


def _thick(pixels: Pixels) -> Pixels:
    """Multiply colours by their alpha."""
    alpha = pixels[..., 3:4].astype(np.uint16)
    out = pixels.copy()
    if not (alpha == 255).all():
        out[..., :3] = _by(pixels[..., :3].astype(np.uint16), alpha)
    return out


def _thin(pixels: Pixels) -> Pixels:
    """Divide colours by their alpha."""
    alpha = pixels[..., 3:4].astype(np.uint32)
    out = pixels.copy()
    own = np.maximum(alpha, 1)
    out[..., :3] = np.minimum((pixels[..., :3].astype(np.uint32) * 255 + own // 2) // own, 255)
    return out


def _by(values: NDArray[np.uint16], alpha: NDArray[np.uint16]) -> NDArray[np.uint16]:
    """Values times alpha over 255, rounded."""
    product = values * alpha + np.uint16(128)
    return (product + (product >> np.uint16(8))) >> np.uint16(8)


def _lay_over(under: Pixels, over: Pixels, seen: float = 1.0) -> None:
    """Lay pixels over others in place, as far as they are seen; both multiplied by alpha."""
    own = over.astype(np.uint16)
    if seen < 1.0:
        own = _by(own, np.full((1, 1, 1), round(255 * max(seen, 0.0)), np.uint16))
    under[:] = own + _by(under.astype(np.uint16), np.uint16(255) - own[..., 3:4])
