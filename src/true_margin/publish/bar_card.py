"""The bar card: times or amounts from zero, with jaws, the fill of each bar its call."""

from __future__ import annotations

from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import BarCard, BarRow
from true_margin.publish.card_frame import (
    LARGER,
    LEAST,
    TALLEST_ROW,
    Area,
    Scale,
    begin,
    jaws,
    name_of,
    names_size,
    rows_in,
    widest,
)
from true_margin.publish.cues import Count, Counter, landing, wiping
from true_margin.publish.looks import LookName, Shape

FIGURE = 34.0
BESIDE = 30.0
WIDEST = 1.5
"""The axis reaches to so many times the longest bar at most."""


def draw_bars(card: BarCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a bar card."""
    canvas, area = begin(shape, look, card.heading, title_at=1.0)
    canvas.text(area.x, area.y + 18, card.axis, size=25, ink=canvas.look.mute)
    area = Area(area.x, area.y + 38, area.width, area.height - 38)
    tall = shape is Shape.TALL
    rows = rows_in(area, len(card.rows), TALLEST_ROW[shape])
    height = rows[0].height if rows else 0.0
    size = max(LEAST, min(FIGURE * LARGER[shape], height * (0.2 if tall else 0.4)))
    small = max(LEAST, min(BESIDE * LARGER[shape], size))
    named = 0.0 if tall else area.width * (0.27 if shape is Shape.WIDE else 0.31)
    beside = widest([row.beside for row in card.rows], small, "text")
    shown = widest([row.shown for row in card.rows], size)
    # The figures stand behind the longest bar; the words on the right edge, one column.
    end = area.right - beside - (24 if beside else 0)
    # An interval that nothing bounds would leave no room for the bars.
    longest = max((row.value for row in card.rows), default=1.0)
    highest = min(max((row.hi for row in card.rows), default=1.0), WIDEST * longest)
    scale = Scale(0.0, highest, area.x + named, end - shown - 24 - area.x - named)
    canvas.line(
        scale.start, area.y, scale.start, area.y + height * len(rows), ink=canvas.look.ink, thick=2
    )
    largest = FIGURE * LARGER[shape]
    own = [row.who for row in card.rows]
    size_of_names = names_size(own, named - 20, largest) if named else largest
    for row, place in zip(card.rows, rows, strict=True):
        top = place.y
        if tall:
            above = Area(place.x + 12, top, place.width - 12, height * 0.44)
            name_of(canvas, row.who, above, size_of_names)
            middle, half = top + height * 0.66, height * 0.16
        else:
            left = Area(place.x, top, named - 20, height)
            name_of(canvas, row.who, left, size_of_names, two_lines=True)
            middle, half = top + height / 2, height * 0.24
        # All bars grow at one speed: each stands where its machine stood.
        at = row.value / longest if longest > 0 else 1.0
        with canvas.coming(wiping(((0.0, scale.start - 4), (at, scale.place_of(row.value) + 6)))):
            _bar(canvas, row, scale, middle, half)
        x = max(scale.place_of(row.value), scale.place_of(row.hi)) + 16
        with canvas.coming(landing(at)):
            jaws(canvas, scale, row.lo, row.hi, middle, half * 0.8)
            canvas.text(x, middle + size * 0.34, row.shown, size=size, face="figure")
        _count(canvas, card, (scale.start + 16, x), (row.value, at), middle + size * 0.34, size)
        canvas.tick(at)
        if row.beside:
            with canvas.coming(landing(1.0)):
                canvas.text(
                    area.right,
                    middle + small * 0.34,
                    row.beside,
                    size=small,
                    ink=canvas.look.mute,
                    anchor="end",
                )
    return canvas.finish(_alt(card))


def _count(
    canvas: Canvas,
    card: BarCard,
    places: tuple[float, float],
    end: tuple[float, float],
    y: float,
    size: float,
) -> None:
    """Let a figure run at the end of its growing bar, up to its value at a moment."""
    value, at = end
    canvas.count(
        Counter(
            Count.AMOUNT if card.amount else Count.TIME,
            ((0.0, places[0]), (at, places[1])),
            ((0.0, 0.0), (at, value)),
            y,
            size,
            canvas.look.mute,
        )
    )


def _bar(canvas: Canvas, row: BarRow, scale: Scale, middle: float, half: float) -> None:
    look = canvas.look
    ink = look.accent if row.who.highlighted else look.mute
    end = scale.place_of(row.value)
    width = end - scale.start
    top, tall = middle - half, 2 * half
    if row.call in ("open", "level"):
        dash = "12 9" if row.call == "open" else None
        canvas.rect(scale.start, top, width, tall, fill=look.band, stroke=ink, thick=3, dash=dash)
    else:
        canvas.rect(scale.start, top, width, tall, fill=ink)


def _alt(card: BarCard) -> str:
    lines = [card.heading.title, f"{card.heading.subtitle}. Bars from zero; {card.axis}."]
    lines += [
        f"{row.who.label}: {row.shown}{f', {row.beside}' if row.beside else ''}."
        for row in card.rows
    ]
    return "\n".join([*lines, *card.heading.notes, card.heading.source]).strip()
