"""A drawing: shapes and text in pixels, the boxes that they fill, and SVG in the end."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import groupby
from typing import Literal
from xml.sax.saxutils import escape

from true_margin.publish.cues import Counter, Cue
from true_margin.publish.lettering import LEADING, Face, Fitted, letters, without_shape
from true_margin.publish.looks import CardLook, mark_of

Anchor = Literal["start", "middle", "end"]


@dataclass(frozen=True, slots=True)
class Box:
    """What an ink fills, in pixels; ``text`` is empty for shapes."""

    x: float
    y: float
    width: float
    height: float
    text: str = ""

    def meets(self, other: Box, slack: float = 0.5) -> bool:
        """Whether two boxes lie over each other by more than the slack."""
        return (
            self.x + slack < other.x + other.width
            and other.x + slack < self.x + self.width
            and self.y + slack < other.y + other.height
            and other.y + slack < self.y + self.height
        )


@dataclass(frozen=True, slots=True)
class Layer:
    """Ink that comes together: as SVG, with what it fills; without a cue it is always there."""

    cue: Cue | None
    svg: str
    boxes: tuple[Box, ...]


@dataclass(frozen=True, slots=True)
class Drawing:
    """A finished drawing; ``missing`` are characters that the fonts have no shape for.

    ``layers`` are its ink in parts as they come in a clip, ``counters`` figures that are only
    seen in one, and ``ticks`` when something is done, in parts of the motion.
    """

    svg: str
    width: int
    height: int
    alt: str
    boxes: tuple[Box, ...]
    missing: str
    look: CardLook
    layers: tuple[Layer, ...]
    counters: tuple[Counter, ...]
    ticks: tuple[float, ...]

    def part(self, svg: str, x: int, y: int, width: int, height: int, scale: float = 1.0) -> str:
        """Ink of this drawing as a picture of its own, cut to a box in whole pixels."""
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width * scale:g}" '
            f'height="{height * scale:g}" viewBox="{x} {y} {width} {height}">'
            f"{_hatch(self.look)}{svg}</svg>"
        )


class Canvas:
    """Takes ink and remembers where it went."""

    def __init__(self, width: int, height: int, look: CardLook) -> None:
        """Begin an empty drawing of a size in pixels."""
        self.width, self.height, self.look = width, height, look
        self._inks: list[tuple[Cue | None, str, tuple[Box, ...]]] = []
        self._cue: Cue | None = None
        self._counters: list[Counter] = []
        self._ticks: list[float] = []
        self._missing = ""

    @contextmanager
    def coming(self, cue: Cue | None) -> Iterator[None]:
        """Say of all ink that is drawn meanwhile how it comes in a clip."""
        before, self._cue = self._cue, cue
        try:
            yield
        finally:
            self._cue = before

    def count(self, counter: Counter) -> None:
        """Let a figure run in a clip; a still does not have it."""
        self._counters.append(counter)

    def tick(self, at: float) -> None:
        """Say when something is done, in parts of the motion."""
        self._ticks.append(at)

    @property
    def ink_so_far(self) -> str:
        """What was drawn until now, as SVG without its frame."""
        return "".join(svg for _, svg, _ in self._inks)

    def _ink(self, svg: str, *boxes: Box) -> None:
        self._inks.append((self._cue, svg, boxes))

    def text(
        self,
        x: float,
        y: float,
        text: str,
        *,
        size: float,
        face: Face = "text",
        ink: str | None = None,
        anchor: Anchor = "start",
        over: str | None = None,
    ) -> Box:
        """Set one line with its base line at ``y``; gives the box that it fills.

        ``over`` is the colour of what lies behind, which then parts lines that run through.
        """
        own = letters(face)
        advance = own.place(text)[1]
        scale = size / own.em
        wide = advance * scale
        left = x - {"start": 0.0, "middle": wide / 2, "end": wide}[anchor]
        self._missing += without_shape(text)
        look = self.look
        rim, width, shade = (look.halo, 0.11, "0.75") if look.halo else (over, 0.3, "1")
        halo = (
            ""
            if rim is None
            else (
                f' stroke="{rim}" stroke-opacity="{shade}" stroke-width="{width * own.em:.0f}"'
                ' stroke-linejoin="round" paint-order="stroke"'
            )
        )
        # Cap height and a small tail: where ink is, not where the face could reach.
        box = Box(left, y - 0.74 * size, wide, 0.96 * size, text)
        self._ink(
            f'<path fill="{ink or look.ink}"{halo} transform="translate({left:.2f} {y:.2f}) '
            f'scale({scale:.5f} {-scale:.5f})" d="{own.path(text)}"/>',
            box,
        )
        return box

    def lines(
        self,
        x: float,
        top: float,
        fitted: Fitted,
        *,
        face: Face = "text",
        ink: str | None = None,
        anchor: Anchor = "start",
    ) -> float:
        """Set several lines below ``top``; gives where they end."""
        y = top
        for line in fitted.lines:
            self.text(
                x, y + 0.86 * fitted.size, line, size=fitted.size, face=face, ink=ink, anchor=anchor
            )
            y += LEADING * fitted.size
        return y

    def rect(
        self,
        x: float,
        y: float,
        width: float,
        height: float,
        *,
        fill: str = "none",
        stroke: str | None = None,
        thick: float = 2.0,
        dash: str | None = None,
    ) -> None:
        """Draw a rectangle."""
        rim = "" if stroke is None else f' stroke="{stroke}" stroke-width="{thick:g}"'
        dashed = "" if dash is None else f' stroke-dasharray="{dash}"'
        self._ink(
            f'<rect x="{x:.2f}" y="{y:.2f}" width="{max(width, 0.0):.2f}" '
            f'height="{max(height, 0.0):.2f}" fill="{fill}"{rim}{dashed}/>',
            Box(x, y, max(width, 0.0), max(height, 0.0)),
        )

    def line(
        self,
        x1: float,
        y1: float,
        x2: float,
        y2: float,
        *,
        ink: str | None = None,
        thick: float = 2.0,
        dash: str | None = None,
    ) -> None:
        """Draw a straight line."""
        dashed = "" if dash is None else f' stroke-dasharray="{dash}"'
        self._ink(
            f'<line x1="{x1:.2f}" y1="{y1:.2f}" x2="{x2:.2f}" y2="{y2:.2f}" '
            f'stroke="{ink or self.look.ink}" stroke-width="{thick:g}"{dashed}/>',
            Box(min(x1, x2), min(y1, y2), abs(x2 - x1), abs(y2 - y1)),
        )

    def path(self, points: Iterable[tuple[float, float]], *, ink: str, thick: float = 4.0) -> None:
        """Draw a line through points."""
        own = list(points)
        steps = " ".join(f"{x:.2f} {y:.2f}" for x, y in own)
        self._ink(
            f'<polyline points="{steps}" fill="none" stroke="{ink}" stroke-width="{thick:g}" '
            'stroke-linejoin="round"/>',
            *(Box(x, y, 0.0, 0.0) for x, y in own),
        )

    def disc(self, x: float, y: float, radius: float, *, stroke: str, thick: float = 3.0) -> None:
        """Draw a ring."""
        self._ink(
            f'<circle cx="{x:.2f}" cy="{y:.2f}" r="{radius:.2f}" fill="none" '
            f'stroke="{stroke}" stroke-width="{thick:g}"/>',
            Box(x - radius, y - radius, 2 * radius, 2 * radius),
        )

    def mark(self, index: int, x: float, y: float, size: float) -> None:
        """Draw a setup's mark, with its middle at x and y."""
        colour, shape = mark_of(index, self.look)
        scale = size / 16
        halo = (
            ""
            if self.look.halo is None
            else (
                f' stroke="{self.look.halo}" stroke-opacity="0.75" stroke-width="2" '
                'paint-order="stroke"'
            )
        )
        self._ink(
            f'<path fill="{colour}"{halo} transform="translate({x - size / 2:.2f} '
            f'{y - size / 2:.2f}) scale({scale:.4f})" d="{shape}"/>',
            Box(x - size / 2, y - size / 2, size, size),
        )

    def finish(self, alt: str) -> Drawing:
        """Give the drawing with its text alternative."""
        alt = "".join(c for c in alt if c in "\t\n\r" or (c >= " " and c not in "\ufffe\uffff"))
        look = self.look
        paper = (
            ""
            if look.paper is None
            else (f'<rect width="{self.width}" height="{self.height}" fill="{look.paper}"/>')
        )
        svg = (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{self.width}" '
            f'height="{self.height}" viewBox="0 0 {self.width} {self.height}" role="img">'
            f"<title>{escape(alt.split(chr(10), maxsplit=1)[0])}</title><desc>{escape(alt)}</desc>"
            f"{_hatch(look)}{paper}{self.ink_so_far}</svg>"
        )
        return Drawing(
            svg,
            self.width,
            self.height,
            alt,
            tuple(box for _, _, boxes in self._inks for box in boxes),
            "".join(dict.fromkeys(self._missing)),
            look,
            tuple(self._layers(paper)),
            tuple(self._counters),
            tuple(sorted(self._ticks)),
        )

    def _layers(self, paper: str) -> Iterator[Layer]:
        """What is always there first, then what comes, in the order in which it was drawn."""
        still = [ink for ink in self._inks if ink[0] is None]
        yield Layer(None, paper + "".join(svg for _, svg, _ in still), ())
        moving = (ink for ink in self._inks if ink[0] is not None)
        for cue, inks in groupby(moving, key=lambda ink: ink[0]):
            own = list(inks)
            boxes = tuple(box for _, _, boxes in own for box in boxes)
            yield Layer(cue, "".join(svg for _, svg, _ in own), boxes)


def _hatch(look: CardLook) -> str:
    """The pattern that drawings may fill with."""
    return (
        '<defs><pattern id="hatch" width="10" height="10" patternUnits="userSpaceOnUse" '
        f'patternTransform="rotate(45)"><rect width="4" height="10" fill="{look.ink}"/>'
        "</pattern></defs>"
    )
