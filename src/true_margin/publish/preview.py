"""The picture that stands beside a link to a page: 1200 by 630, the answers in large letters."""

from __future__ import annotations

from collections.abc import Sequence

from true_margin.publish.canvas import Canvas
from true_margin.publish.cards import to_png
from true_margin.publish.lettering import Face, fit_within
from true_margin.publish.looks import LOOKS, LookName

WIDTH, HEIGHT = 1200, 630
MARGIN = 64.0
MOST_LINES = 4


def draw_preview(title: str, answers: Sequence[tuple[str, str]], foot: str) -> bytes:
    """Draw the preview of a page as PNG.

    Args:
        title: of the page.
        answers: who, and what they should do, the first four are shown.
        foot: one line below.
    """
    look = LOOKS[LookName.DAY]
    canvas = Canvas(WIDTH, HEIGHT, look)
    canvas.rect(0, 0, WIDTH, HEIGHT, fill=look.paper or "#ffffff")
    room = WIDTH - 2 * MARGIN
    _put(canvas, (MARGIN, 50.0), title, "head", 50.0, (room, 70.0))
    canvas.rect(MARGIN, 134, room, 3, fill=look.ink)
    shown = list(answers[:MOST_LINES])
    step = min(96.0, 380.0 / max(len(shown), 1))
    for at, (who, what) in enumerate(shown):
        top = 166 + at * step
        _put(canvas, (MARGIN, top + 8), who, "text", 30.0, (0.34 * room, 44.0), look.mute)
        _put(canvas, (MARGIN + 0.36 * room, top), what, "head", 40.0, (0.64 * room, 60.0))
    _put(canvas, (MARGIN, HEIGHT - 70.0), foot, "text", 26.0, (room, 40.0), look.mute)
    return to_png(canvas.finish(f"{title}\n" + "\n".join(f"{who}: {what}" for who, what in shown)))


def _put(
    canvas: Canvas,
    at: tuple[float, float],
    text: str,
    face: Face,
    size: float,
    room: tuple[float, float],
    ink: str | None = None,
) -> None:
    """Set a text below a point, as large as it fits in one line; what does not fit is cut."""
    fitted = fit_within(text, face, room[0], room[1], size, least=22.0)
    canvas.lines(at[0], at[1], fitted, face=face, ink=ink)
