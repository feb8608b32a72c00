"""A drawing: shapes and text in pixels, the boxes that they fill, and SVG in the end."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal
from xml.sax.saxutils import escape

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
class Drawing:
    """A finished drawing; ``missing`` are characters that the fonts have no shape for."""

    svg: str
    width: int
    height: int
    alt: str
    boxes: tuple[Box, ...]
    missing: str


class Canvas:
    """Takes ink and remembers where it went."""

    def __init__(self, width: int, height: int, look: CardLook) -> None:
        """Begin an empty drawing of a size in pixels."""
        self.width, self.height, self.look = width, height, look
        self._parts: list[str] = []
        self._boxes: list[Box] = []
        self._missing = ""

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
        self._parts.append(
            f'<path fill="{ink or look.ink}"{halo} transform="translate({left:.2f} {y:.2f}) '
            f'scale({scale:.5f} {-scale:.5f})" d="{own.path(text)}"/>'
        )
        # Cap height and a small tail: where ink is, not where the face could reach.
        box = Box(left, y - 0.74 * size, wide, 0.96 * size, text)
        self._boxes.append(box)
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
        self._parts.append(
            f'<rect x="{x:.2f}" y="{y:.2f}" width="{max(width, 0.0):.2f}" '
            f'height="{max(height, 0.0):.2f}" fill="{fill}"{rim}{dashed}/>'
        )
        self._boxes.append(Box(x, y, max(width, 0.0), max(height, 0.0)))

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
        self._parts.append(
            f'<line x1="{x1:.2f}" y1="{y1:.2f}" x2="{x2:.2f}" y2="{y2:.2f}" '
            f'stroke="{ink or self.look.ink}" stroke-width="{thick:g}"{dashed}/>'
        )
        self._boxes.append(Box(min(x1, x2), min(y1, y2), abs(x2 - x1), abs(y2 - y1)))

    def path(self, points: Iterable[tuple[float, float]], *, ink: str, thick: float = 4.0) -> None:
        """Draw a line through points."""
        own = list(points)
        steps = " ".join(f"{x:.2f} {y:.2f}" for x, y in own)
        self._parts.append(
            f'<polyline points="{steps}" fill="none" stroke="{ink}" stroke-width="{thick:g}" '
            'stroke-linejoin="round"/>'
        )
        for x, y in own:
            self._boxes.append(Box(x, y, 0.0, 0.0))

    def disc(self, x: float, y: float, radius: float, *, stroke: str, thick: float = 3.0) -> None:
        """Draw a ring."""
        self._parts.append(
            f'<circle cx="{x:.2f}" cy="{y:.2f}" r="{radius:.2f}" fill="none" '
            f'stroke="{stroke}" stroke-width="{thick:g}"/>'
        )
        self._boxes.append(Box(x - radius, y - radius, 2 * radius, 2 * radius))

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
        self._parts.append(
            f'<path fill="{colour}"{halo} transform="translate({x - size / 2:.2f} '
            f'{y - size / 2:.2f}) scale({scale:.4f})" d="{shape}"/>'
        )
        self._boxes.append(Box(x - size / 2, y - size / 2, size, size))

    def finish(self, alt: str) -> Drawing:
        """Give the drawing with its text alternative."""
        alt = "".join(c for c in alt if c in "\t\n\r" or (c >= " " and c not in "\ufffe\uffff"))
        look = self.look
        paper = (
            ""
            if look.paper is None
            else (f'<rect width="{self.width}" height="{self.height}" fill="{look.paper}"/>')
        )
        hatch = (
            '<defs><pattern id="hatch" width="10" height="10" patternUnits="userSpaceOnUse" '
            f'patternTransform="rotate(45)"><rect width="4" height="10" fill="{look.ink}"/>'
            "</pattern></defs>"
        )
        svg = (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{self.width}" '
            f'height="{self.height}" viewBox="0 0 {self.width} {self.height}" role="img">'
            f"<title>{escape(alt.split(chr(10), maxsplit=1)[0])}</title><desc>{escape(alt)}</desc>"
            f"{hatch}{paper}{''.join(self._parts)}</svg>"
        )
        missing = "".join(dict.fromkeys(self._missing))
        return Drawing(svg, self.width, self.height, alt, tuple(self._boxes), missing)
