"""Snippets for other sites: bars as inline SVG with their text and a link; no script, no picture
to fetch.

The type is that of the page that it is put into, and so are the colours of the letters.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

WIDTH, ROW, BAR = 640, 34, 12
LABEL, FIGURE = 190, 70
"""Widths of the names at the left and the figures at the right, in pixels."""
_INK, _PICK = "#56625b", "#b93a22"


@dataclass(frozen=True, slots=True)
class EmbedBar:
    """A bar of a snippet: its name, its figure, its length as a part of the longest."""

    label: str
    figure: str
    share: float
    picked: bool = False


def embed(title: str, bars: Sequence[EmbedBar], said: str, link: str) -> str:
    """A figure that can be put into any page.

    Args:
        title: what the bars are of.
        bars: from the top; may be none.
        said: the finding in a sentence, which is also the text alternative.
        link: where the reader finds all of it.
    """
    drawn = _svg(title, bars) if bars else ""
    return (
        f"<figure>{drawn}<figcaption>{escape(said)} "
        f'<a href="{escape(link, quote=True)}">All of it</a></figcaption></figure>'
    )


def _svg(title: str, bars: Sequence[EmbedBar]) -> str:
    height = ROW * len(bars)
    spoken = "; ".join(f"{bar.label} {bar.figure}" for bar in bars)
    room = WIDTH - LABEL - FIGURE - 20
    rows = []
    for at, bar in enumerate(bars):
        y = at * ROW + ROW // 2
        fill = _PICK if bar.picked else _INK
        rows.append(
            f'<text x="0" y="{y + 5}">{escape(bar.label)}</text>'
            f'<rect x="{LABEL}" y="{y - BAR // 2}" width="{room * bar.share:.1f}" '
            f'height="{BAR}" fill="{fill}"/>'
            f'<text x="{WIDTH}" y="{y + 5}" text-anchor="end">{escape(bar.figure)}</text>'
        )
    return (
        f'<svg viewBox="0 0 {WIDTH} {height}" role="img" '
        f'aria-label="{escape(f"{title}: {spoken}", quote=True)}" '
        f'font-size="15" fill="currentColor" style="max-width:{WIDTH}px;width:100%">'
        f"{''.join(rows)}</svg>"
    )
