"""Cards of a change: what another machine is worth to a viewer, and what was said wrongly."""

from __future__ import annotations

from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import CorrectionCard, CorrectionRow, WorthCard
from true_margin.publish.card_frame import (
    LARGER,
    LEAST,
    TALLEST_ROW,
    Area,
    begin,
    name_of,
    names_size,
    rows_in,
    widest,
)
from true_margin.publish.cues import beat, landing, wiping
from true_margin.publish.lettering import LEADING, fit, fit_within
from true_margin.publish.looks import LookName, Shape

BIG, SMALL = 92.0, 30.0
FIGURE = 40.0
ARROW = 70.0


def draw_worth(card: WorthCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a worth-it card: what it costs, what it saves, and when it has paid for itself."""
    canvas, area = begin(shape, look, card.heading, title_at=1.0)
    larger = {Shape.WIDE: 1.5, Shape.TALL: 1.7, Shape.SQUARE: 1.0}[shape]
    top = min(area.height * (0.18 if shape is Shape.SQUARE else 0.3), 180.0 * larger)
    _change(canvas, card, Area(area.x, area.y, area.width, top), 40.0 * larger)
    below = Area(area.x, area.y + top + 20, area.width, area.height - top - 20)
    count = len(card.figures)
    across = shape is Shape.WIDE
    rows = [] if across else rows_in(below, count, below.height)
    for at, (title, big, small) in enumerate(card.figures):
        wide = below.width / count
        own = Area(below.x + at * wide, below.y, wide - 40, below.height) if across else rows[at]
        with canvas.coming(landing(beat(at, count, 0.2, 1.0)[0])):
            _figure(canvas, (title, big, small), own, larger)
    canvas.tick(beat(count - 1, count, 0.2, 1.0)[0])
    return canvas.finish(_alt_worth(card))


def _change(canvas: Canvas, card: WorthCard, area: Area, size: float) -> None:
    """From which machine to which, with an arrow between."""
    half = (area.width - ARROW) / 2
    own = min(names_size((card.before, card.after), half, size), size)
    width = min(half, widest([card.before.label], own, "strong") + 0.8 * own + 40)
    name_of(canvas, card.before, Area(area.x, area.y, width, area.height), own, two_lines=True)
    x, y = area.x + width + 6, area.y + area.height / 2
    ink = canvas.look.mute
    canvas.line(x, y, x + ARROW - 30, y, ink=ink, thick=5)
    canvas.path(
        [(x + ARROW - 46, y - 14), (x + ARROW - 30, y), (x + ARROW - 46, y + 14)], ink=ink, thick=5
    )
    after = Area(x + ARROW, area.y, area.right - x - ARROW, area.height)
    name_of(canvas, card.after, after, own, two_lines=True)


def _figure(canvas: Canvas, words: tuple[str, str, str], area: Area, larger: float) -> None:
    title, big, small = words
    canvas.line(area.x, area.y, area.right, area.y, ink=canvas.look.line)
    line = LEAST * LEADING
    size = max(LEAST, min(SMALL * larger, (area.height - 20) / (5 * LEADING)))
    named = fit(title, "text", area.width, size, least=LEAST)
    y = canvas.lines(area.x, area.y + 10, named, ink=canvas.look.mute)
    # The figure is as large as may be, with a line left for what stands below it.
    room = area.bottom - y - (line + 6 if small else 0.0)
    largest = max(min(BIG * larger, room / LEADING), LEAST)
    said = fit(big, "head", area.width, largest, least=0.6 * largest, most_lines=1)
    if len(said.lines) > 1 or 0.6 * largest < LEAST:
        said = fit_within(big, "head", area.width, max(room, line), largest, least=LEAST)
    y = canvas.lines(area.x, y, said, face="head")
    if small:
        rest = max(area.bottom - y, line)
        below = fit_within(small, "text", area.width, rest, size, least=LEAST)
        canvas.lines(area.x, y + 2, below, ink=canvas.look.mute)


def _alt_worth(card: WorthCard) -> str:
    lines = [
        card.heading.title,
        card.heading.subtitle,
        f"From {card.before.label} to {card.after.label}.",
        *(f"{title}: {big}{f' ({small})' if small else ''}." for title, big, small in card.figures),
    ]
    kept = (*lines, *card.heading.notes, card.heading.source)
    return "\n".join(each for each in kept if each).strip()


def draw_correction(card: CorrectionCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a correction: each old figure struck, the new one beside it."""
    canvas, area = begin(shape, look, card.heading)
    tall = shape is Shape.TALL
    places = rows_in(area, len(card.rows), TALLEST_ROW[shape])
    height = places[0].height if places else 0.0
    size = max(LEAST, min(FIGURE * LARGER[shape], height * (0.24 if tall else 0.4)))
    was = widest([row.was for row in card.rows], size)
    now = widest([row.now for row in card.rows], size)
    named = area.width if tall else area.width - was - now - 110
    largest = 34.0 * LARGER[shape]
    size_of_names = names_size([row.who for row in card.rows], named * 0.55, largest)
    for at, (row, place) in enumerate(zip(card.rows, places, strict=True)):
        since, until = beat(at, len(card.rows), 0.1, 1.0)
        canvas.line(place.x, place.y, place.right, place.y, ink=canvas.look.line)
        top = height * 0.46 if tall else height
        _about(canvas, row, Area(place.x, place.y, named - 20, top), size_of_names)
        middle = place.y + (height * 0.7 if tall else height / 2)
        x = place.right - now - 70
        old = canvas.text(
            x,
            middle + 0.34 * size,
            row.was,
            size=size,
            face="figure",
            ink=canvas.look.mute,
            anchor="end",
        )
        ends = (old.x - 8, old.x + old.width + 8)
        strike = wiping(((since, ends[0]), ((since + until) / 2, ends[1] + 4)))
        with canvas.coming(strike):
            canvas.line(ends[0], middle, ends[1], middle, ink=canvas.look.accent, thick=6)
        with canvas.coming(landing((since + until) / 2)):
            canvas.text(
                place.right,
                middle + 0.34 * size,
                row.now,
                size=size,
                face="figure",
                anchor="end",
                ink=canvas.look.accent,
            )
        canvas.tick((since + until) / 2)
    return canvas.finish(_alt_correction(card))


def _about(canvas: Canvas, row: CorrectionRow, area: Area, size: float) -> None:
    """Whose figure it is, and of which task."""
    who = Area(area.x, area.y, area.width * 0.55 - 16, area.height)
    name_of(canvas, row.who, who, size, two_lines=True)
    words = fit_within(
        row.task, "text", area.width * 0.45, area.height - 6, min(size, 29.0), least=LEAST
    )
    top = area.y + (area.height - LEADING * words.size * len(words.lines)) / 2
    canvas.lines(area.x + area.width * 0.55, top, words, ink=canvas.look.mute)


def _alt_correction(card: CorrectionCard) -> str:
    lines = [card.heading.title, card.heading.subtitle]
    lines += [
        f"{row.who.label}, {row.task}: {row.was} was wrong, it is {row.now}." for row in card.rows
    ]
    kept = (*lines, *card.heading.notes, card.heading.source)
    return "\n".join(each for each in kept if each).strip()
