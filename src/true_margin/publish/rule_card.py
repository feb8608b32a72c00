"""The rule card: margins over a baseline on the one scale that every screen uses."""

from __future__ import annotations

import math

from true_margin.core.numerals import short
from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import RuleCard, RuleRow
from true_margin.publish.card_frame import (
    LARGER,
    LEAST,
    TALLEST_ROW,
    TEXT,
    Area,
    Scale,
    begin,
    call_bar,
    name_of,
    names_size,
    rows_in,
    widest,
)
from true_margin.publish.cues import beat, landing, opening
from true_margin.publish.looks import LookName, Shape

TICKS = (
    0.1,
    0.2,
    0.25,
    0.33,
    0.5,
    0.67,
    0.8,
    0.9,
    1.0,
    1.1,
    1.25,
    1.5,
    2.0,
    3.0,
    4.0,
    6.0,
    8.0,
    10.0,
    16.0,
    32.0,
)
FIGURE = 32.0
WIDEST = 2.0
"""The scale reaches so far beyond all estimates at most; intervals may run on beyond it."""


def draw_rule(card: RuleCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a rule card."""
    canvas, area = begin(shape, look, card.heading, title_at=1.0)
    tall = shape is Shape.TALL
    named = 0.0 if tall else area.width * (0.27 if shape is Shape.WIDE else 0.31)
    rows = len(card.rows)
    body = Area(area.x, area.y + 64, area.width, area.height - 64)
    places = rows_in(body, rows, TALLEST_ROW[shape])
    height = places[0].height if places else 0.0
    size = max(LEAST, min(FIGURE * LARGER[shape], height * (0.2 if tall else 0.4)))
    shown = widest([row.shown for row in card.rows], size)
    start = area.x + named + 8
    scale = log_scale(card, start, area.right - shown - 28 - start)
    # On a tall card names stand above their rows, where no line may run through them.
    stripes = [(p.y + height * 0.44 if tall else p.y, p.bottom) for p in places]
    _axis(canvas, scale, area.y + 54, stripes, card)
    largest = TEXT * LARGER[shape]
    who = [row.who for row in card.rows]
    size_of_names = names_size(who, named - 20, largest) if named else largest
    for at, (row, place) in enumerate(zip(card.rows, places, strict=True)):
        if tall:
            above = Area(place.x, place.y, place.width, height * 0.44)
            name_of(canvas, row.who, above, size_of_names)
            middle = place.y + height * 0.68
        else:
            own = Area(place.x, place.y, named - 20, height)
            name_of(canvas, row.who, own, size_of_names, two_lines=True)
            middle = place.y + height / 2
        canvas.line(scale.start, middle, scale.start + scale.length, middle, ink=canvas.look.line)
        # From the last to the first, which is what all wait for.
        since, until = beat(rows - 1 - at, rows, 0.0, 0.95)
        x = scale.place_of(math.log(row.ratio))
        with canvas.coming(opening(x, since, until)):
            _row(canvas, row, scale, middle, min(height * 0.12, 18.0), card.materiality)
        with canvas.coming(landing(until)):
            canvas.text(
                area.right, middle + size * 0.34, row.shown, size=size, face="figure", anchor="end"
            )
        canvas.tick(until)
    return canvas.finish(_alt(card))


def log_scale(card: RuleCard, start: float, length: float) -> Scale:
    """The scale of the rule: fits what is shown, 1x and the band always in view."""
    ends = [1 / (1 + card.materiality), 1 + card.materiality]
    ends += [row.ratio for row in card.rows]
    # An interval that nothing bounds would leave no room for all others.
    least, most = min(ends) / WIDEST, max(ends) * WIDEST
    for row in card.rows:
        ends += [min(max(x, least), most) for x in (row.lo, row.hi) if x is not None]
    low, high = math.log(min(ends)), math.log(max(ends))
    room = 0.06 * (high - low) + 0.01
    return Scale(low - room, high + room, start, length)


def _axis(
    canvas: Canvas, scale: Scale, y: float, stripes: list[tuple[float, float]], card: RuleCard
) -> None:
    look = canvas.look
    low, high = (
        scale.place_of(math.log(x)) for x in (1 / (1 + card.materiality), 1 + card.materiality)
    )
    for top, bottom in stripes:
        canvas.rect(low, top, high - low, bottom - top, fill=look.band)
    canvas.line(scale.start, y, scale.start + scale.length, y, thick=2)
    taken = -1e9
    one = scale.place_of(0.0)
    ticks = [t for t in TICKS if scale.low <= math.log(t) <= scale.high]
    for tick in sorted(ticks, key=lambda t: (t != 1.0, t)):
        x = scale.place_of(math.log(tick))
        words = f"{short(tick)}×"
        clear = abs(x - one) > 90 or tick == 1.0
        if not clear or (tick != 1.0 and x < taken):
            continue
        canvas.line(x, y - 14, x, y, thick=2)
        canvas.text(
            x,
            y - 22,
            words,
            size=25,
            face="figure",
            anchor="middle",
            ink=look.ink if tick == 1.0 else look.mute,
        )
        if tick != 1.0:
            taken = x + 90
    for top, bottom in stripes:
        canvas.line(one, top, one, bottom, thick=2)


def _row(
    canvas: Canvas, row: RuleRow, scale: Scale, middle: float, half: float, materiality: float
) -> None:
    x = scale.place_of(math.log(row.ratio))
    if row.call in ("bound", "noted"):
        DRAWN_BESIDE[row.call](canvas, row, scale, middle, half)
        return
    if row.lo is None or row.hi is None:
        canvas.mark(row.who.mark, x, middle, 3.2 * half)
        return
    x1, x2 = scale.place_of(math.log(row.lo)), scale.place_of(math.log(row.hi))
    edges = (scale.place_of(-math.log1p(materiality)), scale.place_of(math.log1p(materiality)))
    left, right = max(x1, edges[0]), min(x2, edges[1])
    ends = (math.log(row.lo), math.log(row.hi))
    call_bar(canvas, scale, *ends, middle, half, row.call, (left, right) if right > left else None)
    notch = (canvas.look.paper or canvas.look.halo) if row.call == "clear" else canvas.look.ink
    reach = half if row.call == "clear" else 2 * half
    canvas.line(x, middle - reach, x, middle + reach, ink=notch, thick=5)


def _bounded(canvas: Canvas, row: RuleRow, scale: Scale, middle: float, half: float) -> None:
    """A line from the end that is known, with its jaw, to an arrow where nothing is."""
    far = scale.start + scale.length
    x1 = scale.start if row.lo is None else scale.place_of(math.log(row.lo))
    x2 = far if row.hi is None else scale.place_of(math.log(row.hi))
    canvas.line(x1, middle, x2, middle, thick=5, dash="14 8")
    for end, x in ((row.lo, x1), (row.hi, x2)):
        if end is not None:
            canvas.line(x, middle - 2 * half, x, middle + 2 * half, thick=5)
    ink = canvas.look.ink
    if row.hi is None:
        tip = [(x2 - 1.6 * half, middle - half), (x2, middle), (x2 - 1.6 * half, middle + half)]
        canvas.path(tip, ink=ink, thick=5)
    if row.lo is None:
        tip = [(x1 + 1.6 * half, middle - half), (x1, middle), (x1 + 1.6 * half, middle + half)]
        canvas.path(tip, ink=ink, thick=5)


def _noted(canvas: Canvas, row: RuleRow, scale: Scale, middle: float, half: float) -> None:
    """A hatched bar from end to end, or a hatched square where the note has none."""
    x = scale.place_of(math.log(row.ratio))
    x1 = x - half if row.lo is None else scale.place_of(math.log(row.lo))
    x2 = x + half if row.hi is None else scale.place_of(math.log(row.hi))
    wide = max(x2 - x1, 2 * half)
    canvas.rect(
        (x1 + x2 - wide) / 2,
        middle - half,
        wide,
        2 * half,
        fill="url(#hatch)",
        stroke=canvas.look.ink,
    )


DRAWN_BESIDE = {"bound": _bounded, "noted": _noted}
"""How those are drawn who were not measured."""


def _alt(card: RuleCard) -> str:
    lines = [card.heading.title, f"{card.heading.subtitle}. Times as fast as {card.baseline}."]
    for row in card.rows:
        base = ", the baseline" if row.call == "baseline" else ""
        lines.append(f"{row.who.label}: {row.shown}{base}.")
    return "\n".join([*lines, *card.heading.notes, card.heading.source]).strip()
