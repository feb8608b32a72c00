"""Text as outlines, set in the shipped fonts: the same on every machine, no font needed."""

from __future__ import annotations

import re
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, Literal

import uharfbuzz
from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont

FONTS = Path(__file__).parent / "fonts"
Face = Literal["head", "text", "strong", "figure"]
LEADING = 1.22
"""From one line to the next, in sizes."""
CUT = "…"
"""Ends what did not fit."""
NO_SHAPE = "□"
"""Stands for a character that the fonts have no shape for; named in the drawing too."""
Point = tuple[float, float]
_SPACES = re.compile(r"[ \t\r\n]+")


@dataclass(frozen=True, slots=True)
class PlacedLetters:
    """A glyph and where it begins, in units of its font."""

    glyph: int
    x: int
    y: int


class _RelativePen(BasePen):  # type: ignore[misc] # the library has no types
    """Writes a glyph as path data that can be moved by its first point alone."""

    def __init__(self, glyphs: Any) -> None:
        super().__init__(glyphs)
        self.first: Point = (0.0, 0.0)
        self.steps: list[str] = []
        self._at: Point = (0.0, 0.0)
        self._begun: Point = (0.0, 0.0)

    def _by(self, letter: str, *points: Point) -> None:
        x, y = self._at
        self.steps.append(letter + " ".join(f"{px - x:g} {py - y:g}" for px, py in points))
        self._at = points[-1]

    def _moveTo(self, pt: Point) -> None:  # noqa: N802
        if self.steps:
            self._by("m", pt)
        else:
            self.first = self._at = pt
        self._begun = pt

    def _lineTo(self, pt: Point) -> None:  # noqa: N802
        self._by("l", pt)

    def _curveToOne(self, pt1: Point, pt2: Point, pt3: Point) -> None:  # noqa: N802
        self._by("c", pt1, pt2, pt3)

    def _qCurveToOne(self, pt1: Point, pt2: Point) -> None:  # noqa: N802
        self._by("q", pt1, pt2)

    def _closePath(self) -> None:  # noqa: N802
        self.steps.append("z")
        self._at = self._begun


@dataclass(frozen=True, slots=True)
class Outline:
    """A glyph: where its outline begins, and the steps from there; units of the font."""

    x: float
    y: float
    steps: str


class Letters:
    """One face: what its characters look like and how wide they are."""

    def __init__(self, face: Face) -> None:
        """Read the face's file."""
        data = (FONTS / f"{face}.ttf").read_bytes()
        self._font = uharfbuzz.Font(uharfbuzz.Face(data))
        shapes = TTFont(FONTS / f"{face}.ttf")
        self._order = shapes.getGlyphOrder()
        self._shapes = shapes.getGlyphSet()
        self._known = frozenset(shapes.getBestCmap())
        self._outlines: dict[int, Outline] = {}
        self._lock = threading.Lock()
        self.em: int = shapes["head"].unitsPerEm
        self.ascent: float = shapes["hhea"].ascent / self.em
        self.descent: float = -shapes["hhea"].descent / self.em

    def knows(self, character: str) -> bool:
        """Whether there is a shape for a character."""
        return ord(character) in self._known or character.isspace()

    def shown(self, text: str) -> str:
        """A text in which characters without a shape are replaced by a mark."""
        stand_in = NO_SHAPE if self.knows(NO_SHAPE) else "?"
        return "".join(
            " " if c.isspace() else c if self.knows(c) else stand_in for c in _SPACES.sub(" ", text)
        )

    @lru_cache(maxsize=4096)  # noqa: B019 - one object a face, kept for ever
    def place(self, text: str) -> tuple[tuple[PlacedLetters, ...], int]:
        """Place the glyphs of one line; gives them and how far the line advances."""
        buffer = uharfbuzz.Buffer()
        buffer.add_str(self.shown(text))
        buffer.guess_segment_properties()
        uharfbuzz.shape(self._font, buffer, {"kern": True, "liga": False})
        placed, at = [], 0
        # An empty text has no positions at all.
        for info, position in zip(buffer.glyph_infos, buffer.glyph_positions or (), strict=True):
            placed.append(PlacedLetters(info.codepoint, at + position.x_offset, position.y_offset))
            at += position.x_advance
        return tuple(placed), at

    def width(self, text: str, size: float) -> float:
        """Width of one line at a size, both in pixels."""
        return self.place(text)[1] * size / self.em

    def path(self, text: str) -> str:
        """One line as SVG path data from its beginning on, in units of the font, y upwards."""
        parts = []
        for placed in self.place(text)[0]:
            outline = self._outline(placed.glyph)
            if outline.steps:
                x, y = placed.x + outline.x, placed.y + outline.y
                parts.append(f"M{x:g} {y:g}{outline.steps}")
        return "".join(parts)

    def _outline(self, glyph: int) -> Outline:
        # Glyphs are unpacked when they are read first, which two threads must not do at once.
        with self._lock:
            return self._drawn(glyph)

    def _drawn(self, glyph: int) -> Outline:
        if glyph not in self._outlines:
            pen = _RelativePen(self._shapes)
            self._shapes[self._order[glyph]].draw(pen)
            self._outlines[glyph] = Outline(*pen.first, "".join(pen.steps))
        return self._outlines[glyph]


@cache
def letters(face: Face) -> Letters:
    """The letters of a face, read once."""
    return Letters(face)


def without_shape(text: str) -> str:
    """The characters of a text that no face has a shape for, each once."""
    known = letters("text")
    return "".join(dict.fromkeys(c for c in text if not known.knows(c)))


@dataclass(frozen=True, slots=True)
class Fitted:
    """A text broken into lines that fit, and the size at which they do."""

    lines: tuple[str, ...]
    size: float


def fit(
    text: str, face: Face, width: float, size: float, *, least: float, most_lines: int = 1
) -> Fitted:
    """Break and shrink a text until it fits a width; nothing of it is left out.

    Args:
        text: any.
        face: to set it in.
        width: in pixels, more than 0.
        size: largest size, in pixels.
        least: below this size more lines are taken instead.
        most_lines: at the largest size that fits.
    """
    own = letters(face)
    at = size
    while True:
        lines = tuple(_broken(own, text, width, at))
        if len(lines) <= most_lines:
            return Fitted(lines, at)
        if at <= least:
            # At the smallest size that can be read, more lines are the lesser evil.
            return Fitted(lines, at)
        at = max(least, at * 0.94)


def fit_within(
    text: str, face: Face, width: float, height: float, size: float, *, least: float
) -> Fitted:
    """Break and shrink a text until it fits a box; what does not fit at ``least`` is cut.

    A text too small to be read says nothing either; what is cut stands in the text alternative.

    Args:
        text: any.
        face: to set it in.
        width: of the box, in pixels, more than 0.
        height: of the box, in pixels.
        size: largest size, in pixels.
        least: smallest size, in pixels.
    """
    own = letters(face)
    at = max(size, least)
    while True:
        lines = tuple(_broken(own, text, width, at))
        room = max(1, int((height + 1e-6) // (LEADING * at)))
        if len(lines) <= room:
            return Fitted(lines, at)
        if at <= least:
            return Fitted((*lines[: room - 1], _shortened(own, lines[room - 1], width, at)), at)
        at = max(least, at * 0.94)


def _shortened(letters: Letters, line: str, width: float, size: float) -> str:
    while line and letters.width(line + CUT, size) > width:
        line = line[:-1]
    return line.rstrip(" ,;·") + CUT


def _broken(letters: Letters, text: str, width: float, size: float) -> Iterator[str]:
    line = ""
    for word in _SPACES.sub(" ", text).strip().split(" "):
        longer = f"{line} {word}" if line else word
        if letters.width(longer, size) <= width:
            line = longer
            continue
        if line:
            yield line
        *whole, line = _cut(letters, word, width, size)
        yield from whole
    yield line


def _cut(letters: Letters, word: str, width: float, size: float) -> list[str]:
    """Cut a word that is wider than a line."""
    parts, part = [], ""
    for character in word:
        if part and letters.width(part + character, size) > width:
            parts.append(part)
            part = ""
        part += character
    return [*parts, part]
