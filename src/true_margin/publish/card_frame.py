"""What every card has: margins, heading, footnotes, names of setups, bars and jaws."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.publish.canvas import Canvas
from true_margin.publish.card_data import CardSetup, Heading
from true_margin.publish.cues import landing
from true_margin.publish.lettering import LEADING, Face, Fitted, fit, fit_within, letters
from true_margin.publish.looks import LOOKS, SIZES, LookName, Shape

MARGIN = 72.0
TEXT = 34.0
TITLE = {Shape.WIDE: 60.0, Shape.TALL: 76.0, Shape.SQUARE: 56.0}
SMALLER = 0.84
LARGER = {Shape.WIDE: 1.1, Shape.TALL: 1.5, Shape.SQUARE: 1.1}
"""Names and figures on a phone's shape are so much larger, where their rows are tall enough."""
TALLEST_ROW = {Shape.WIDE: 170.0, Shape.TALL: 430.0, Shape.SQUARE: 220.0}
FOOT = 25.0
FOOT_LINES = 2
LEAST = 22.0
"""Smaller text cannot be read on a phone."""


@dataclass(frozen=True, slots=True)
class Area:
    """Where something may be drawn, in pixels."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Its right end."""
        return self.x + self.width

    @property
    def bottom(self) -> float:
        """Its lower end."""
        return self.y + self.height


@dataclass(frozen=True, slots=True)
class Scale:
    """Values on a stretch of pixels; ``turn`` makes them even, as a logarithm does."""

    low: float
    high: float
    start: float
    length: float

    def place_of(self, value: float) -> float:
        """The pixel of a value; beyond the ends, the end."""
        if self.high <= self.low:
            return self.start
        part = (value - self.low) / (self.high - self.low)
        return self.start + min(max(part, 0.0), 1.0) * self.length

    def holds(self, value: float) -> bool:
        """Whether a value is on the stretch, and not beyond an end of it."""
        return self.low <= value <= self.high


def begin(
    shape: Shape, look: LookName, heading: Heading, title_at: float | None = None
) -> tuple[Canvas, Area]:
    """Begin a card: heading on top, footnotes at the bottom; gives what is left between.

    ``title_at`` is when its title lands in a clip, where it tells what is only seen then.
    """
    width, height = SIZES[shape]
    canvas = Canvas(width, height, LOOKS[look])
    room = width - 2 * MARGIN
    most = 3 if shape is Shape.TALL else 2
    title = title_of(heading.title, room, TITLE[shape], most)
    with canvas.coming(None if title_at is None else landing(title_at)):
        y = canvas.lines(MARGIN, MARGIN - 12, title, face="head")
    if heading.subtitle:
        subtitle = fit(heading.subtitle, "text", room, 31.0, least=25.0, most_lines=2)
        y = canvas.lines(MARGIN, y + 4, subtitle, ink=canvas.look.mute)
    foot = foot_of(heading, room)
    top = height - MARGIN + 14 - LEADING * foot.size * len(foot.lines)
    if any(foot.lines):
        canvas.line(MARGIN, top - 14, width - MARGIN, top - 14, ink=canvas.look.line)
        canvas.lines(MARGIN, top, foot, ink=canvas.look.mute)
    y += 26
    return canvas, Area(MARGIN, y, room, top - 14 - 22 - y)


def title_of(words: str, room: float, size: float, most_lines: int) -> Fitted:
    """A title on as few lines as it can have without being much smaller."""
    for lines in range(1, most_lines):
        fitted = fit(words, "head", room, size, least=SMALLER * size, most_lines=lines)
        if len(fitted.lines) <= lines:
            return fitted
    return fit(words, "head", room, size, least=40.0, most_lines=most_lines)


def foot_of(heading: Heading, room: float) -> Fitted:
    """The foot of a card: the source, and before it as many notes as stand on two lines.

    Notes come with the weightiest first; those that have no room are in the text alternative.
    """
    notes = list(heading.notes)
    while True:
        words = " · ".join(part for part in (*notes, heading.source) if part)
        fitted = fit(words, "text", room, FOOT, least=LEAST, most_lines=FOOT_LINES)
        if len(fitted.lines) <= FOOT_LINES:
            return fitted
        if not notes:
            height = FOOT_LINES * LEADING * LEAST + 1
            return fit_within(words, "text", room, height, LEAST, least=LEAST)
        notes.pop()


def name_of(
    canvas: Canvas, who: CardSetup, area: Area, size: float = TEXT, *, two_lines: bool = False
) -> None:
    """Set a setup's mark and name in an area, in the middle of its height.

    With ``two_lines`` a long name is broken before it is made smaller.
    """
    mark = min(size * 0.78, area.height * 0.6)
    room = area.width - mark - 16
    ink = canvas.look.accent if who.highlighted else None
    face: Face = "strong"
    # One line where it fits on one, else two, and never taller than the area.
    largest = max(LEAST, min(size, area.height * 0.62))
    fitted = fit(who.label, face, room, largest, least=LEAST, most_lines=2 if two_lines else 1)
    if LEADING * fitted.size * len(fitted.lines) > area.height or len(fitted.lines) > 2:
        fitted = fit_within(who.label, face, room, area.height, fitted.size, least=LEAST)
    tall = LEADING * fitted.size * len(fitted.lines)
    middle = area.y + area.height / 2
    canvas.mark(who.mark, area.x + mark / 2, middle, mark)
    canvas.lines(area.x + mark + 16, middle - tall / 2, fitted, face=face, ink=ink)


def names_size(who: Sequence[CardSetup], width: float, size: float = TEXT) -> float:
    """One size for all names: the largest at which each fits on two lines beside its mark."""
    room = width - 0.78 * size - 16
    sizes = (fit(each.label, "strong", room, size, least=LEAST, most_lines=2).size for each in who)
    return min(sizes, default=size)


def rows_in(area: Area, count: int, most: float) -> list[Area]:
    """Divide an area into rows from the top on, none taller than ``most``."""
    height = min(area.height / max(count, 1), most)
    return [Area(area.x, area.y + i * height, area.width, height) for i in range(count)]


def widest(texts: Sequence[str], size: float, face: Face = "figure") -> float:
    """The width of the widest of some texts, 0 for none."""
    own = letters(face)
    return max((own.width(text, size) for text in texts), default=0.0)


def jaws(canvas: Canvas, scale: Scale, lo: float, hi: float, y: float, half: float) -> None:
    """Draw an interval: a line with square ends, like the jaws of a caliper.

    An end beyond the scale has no jaw: the line runs on to the edge.
    """
    ink = canvas.look.ink
    canvas.line(scale.place_of(lo), y, scale.place_of(hi), y, ink=ink, thick=3)
    for end in (lo, hi):
        if scale.holds(end):
            canvas.line(
                scale.place_of(end), y - half, scale.place_of(end), y + half, ink=ink, thick=4
            )


def call_bar(
    canvas: Canvas,
    scale: Scale,
    lo: float,
    hi: float,
    y: float,
    half: float,
    call: str,
    inside: tuple[float, float] | None = None,
) -> None:
    """Draw the bar of an interval, its fill the call; ``inside`` is its part in the band."""
    look = canvas.look
    x1, x2 = scale.place_of(lo), scale.place_of(hi)
    if call in ("clear", "ahead"):
        canvas.rect(x1, y - half, x2 - x1, 2 * half, fill=look.ink)
        if call == "ahead" and inside is not None:
            left, right = inside
            fill = look.paper or look.halo or look.line
            canvas.rect(left, y - half, right - left, 2 * half, fill=fill)
            canvas.rect(
                left, y - half, right - left, 2 * half, fill="url(#hatch)", stroke=look.ink, thick=3
            )
    elif call == "level":
        canvas.rect(x1, y - half, x2 - x1, 2 * half, stroke=look.mute, thick=3)
    else:
        canvas.rect(x1, y - half, x2 - x1, 2 * half, stroke=look.ink, thick=3, dash="10 8")
    ends = look.mute if call == "level" else look.ink
    for end, x in ((lo, x1), (hi, x2)):
        if scale.holds(end):
            canvas.line(x, y - 2 * half, x, y + 2 * half, ink=ends, thick=4)
