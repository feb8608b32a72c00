"""Small drawings inside pages: an interval on the rule, one row high, in the page's own ink."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from html import escape

from true_margin.publish.looks import LOOKS, LookName, mark_of

# Said here too: a PDF's drawings do not know the page's own styles.
_FILLS = {
    "full": 'fill="#1d2a24"',
    "half": 'fill="#1d2a24" fill-opacity=".55"',
    "level": 'fill="none" stroke="#535c55"',
    "open": 'fill="none" stroke="#1d2a24" stroke-dasharray="4 3"',
}
WIDTH, HEIGHT = 300.0, 20.0


@dataclass(frozen=True, slots=True)
class StripScale:
    """The rule's range on a page: logarithms of ratios over a width."""

    low: float
    high: float
    materiality: float

    def place_of(self, ratio: float) -> float:
        """The place of a ratio, in pixels."""
        part = (math.log(ratio) - self.low) / (self.high - self.low)
        return min(max(part, 0.0), 1.0) * WIDTH


def strip_scale(ratios: Iterable[float | None], materiality: float) -> StripScale:
    """A scale that fits ratios, with 1x and the band always in view."""
    known = [r for r in ratios if r is not None and r > 0]
    ends = [math.log(r) for r in known] + [-math.log1p(materiality), math.log1p(materiality)]
    low, high = min(ends), max(ends)
    room = 0.05 * (high - low) + 0.01
    return StripScale(low - room, high + room, materiality)


def strip(
    scale: StripScale,
    ratio: float | None,
    lo: float | None,
    hi: float | None,
    call: str,
    label: str,
) -> str:
    """Draw one interval as inline SVG; ``label`` is its text alternative."""
    middle = HEIGHT / 2
    band = (scale.place_of(1 / (1 + scale.materiality)), scale.place_of(1 + scale.materiality))
    parts = [
        f'<rect class="band" fill="#e0dcc8" x="{band[0]:.1f}" y="0" '
        f'width="{band[1] - band[0]:.1f}" height="{HEIGHT:g}"/>',
        _line(scale.place_of(1.0), 0, HEIGHT, 1),
    ]
    if lo is not None and hi is not None and ratio is not None:
        x1, x2 = scale.place_of(lo), scale.place_of(hi)
        fill = {"clear": "full", "ahead": "half", "level": "level"}.get(call, "open")
        parts.append(
            f'<rect class="{fill}" {_FILLS[fill]} x="{x1:.1f}" width="{max(x2 - x1, 0.5):.1f}" '
            f'y="{middle - 4:g}" height="8"/>'
        )
        parts += [_line(x, middle - 8, middle + 8, 2) for x in (x1, x2)]
        parts.append(_line(scale.place_of(ratio), middle - 8, middle + 8, 2))
    elif ratio is not None:
        parts.append(f'<circle cx="{scale.place_of(ratio):.1f}" cy="{middle:g}" r="4"/>')
    return (
        f'<svg class="strip" viewBox="0 0 {WIDTH:g} {HEIGHT:g}" width="{WIDTH:g}" '
        f'height="{HEIGHT:g}" role="img" aria-label="{escape(label)}">{"".join(parts)}</svg>'
    )


def _line(x: float, y1: float, y2: float, thick: float) -> str:
    return (
        f'<line x1="{x:.1f}" x2="{x:.1f}" y1="{y1:g}" y2="{y2:g}" stroke="currentColor" '
        f'stroke-width="{thick:g}"/>'
    )


def mark_svg(index: int) -> str:
    """A setup's mark as inline SVG."""
    colour, shape = mark_of(index, LOOKS[LookName.DAY])
    return (
        f'<svg class="mark" viewBox="0 0 16 16" width="12" height="12" aria-hidden="true">'
        f'<path d="{shape}" fill="{colour}"/></svg>'
    )


def mark_symbol(index: int) -> str:
    """A setup's mark as a symbol of a page, which ``use`` shows by ``#m`` and its number."""
    colour, shape = mark_of(index, LOOKS[LookName.DAY])
    path = f'<path d="{shape}" fill="{colour}"/>'
    return f'<symbol id="m{index}" viewBox="0 0 16 16">{path}</symbol>'


def ends(rows: Sequence[tuple[float | None, float | None, float | None]]) -> list[float | None]:
    """All ratios and ends of rows, to fit a scale to."""
    return [value for row in rows for value in row]
