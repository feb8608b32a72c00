"""The price card: price against speed, the frontier a stepped line, the pick ringed."""

from __future__ import annotations

import math
from itertools import pairwise

from true_margin.core.numerals import fixed, short
from true_margin.core.wording import format_ratio
from true_margin.publish.canvas import Box, Canvas, Drawing
from true_margin.publish.card_data import PriceCard, PricePoint
from true_margin.publish.card_frame import Area, Scale, begin
from true_margin.publish.cues import landing, wiping
from true_margin.publish.lettering import letters
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.rule_card import TICKS, WIDEST

LABEL = 27.0
PRICE = 24.0
MARK = 26.0
REACHES = (24.0, 32.0, 44.0, 60.0, 85.0, 120.0, 170.0, 230.0, 300.0)
"""How far from its mark a name may stand, the nearest first."""
FRONT_DONE, PICKED = 0.7, 0.9
"""When in a clip the line has passed all prices, and when the pick is ringed."""
CROSSING = 400.0
"""Crossing a line is as bad as standing so much further off."""


def draw_price(card: PriceCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a price card."""
    canvas, area = begin(shape, look, card.heading, title_at=1.0)
    plot = Area(area.x + 96, area.y + 36, area.width - 96 - 40, area.height - 36 - 78)
    along = _prices(card, plot)
    up = _speeds(card, plot)
    _over_budget(canvas, card, along, plot)
    _axes(canvas, card, along, up, plot)
    front = ((0.0, plot.x), (FRONT_DONE, plot.right + 8))
    with canvas.coming(wiping(front)):
        lines = _frontier(canvas, card, along, up, plot)
    if card.budget is not None:
        lines.append(Box(along.place_of(card.budget) - 2, plot.y, 4, plot.height))
    # Each comes as the line passes its price.
    comes = {
        id(point): landing(FRONT_DONE * (along.place_of(point.price) - plot.x) / plot.width)
        for point in card.points
    }
    taken = []
    for point in card.points:
        with canvas.coming(comes[id(point)]):
            taken.append(_mark(canvas, point, along, up))
    for point in sorted(card.points, key=lambda p: (not p.pick, not p.frontier)):
        with canvas.coming(comes[id(point)]):
            taken.append(_label(canvas, card, point, along, up, plot, taken, lines))
    return canvas.finish(_alt(card))


def _prices(card: PriceCard, plot: Area) -> Scale:
    ends = [p.price for p in card.points] + ([card.budget] if card.budget is not None else [])
    low, high = min(ends, default=0.0), max(ends, default=1.0)
    room = 0.08 * (high - low) or 0.1 * high or 1.0
    return Scale(max(low - room, 0.0), high + room, plot.x, plot.width)


def _speeds(card: PriceCard, plot: Area) -> Scale:
    ends = [1.0] + [p.ratio for p in card.points]
    # An interval that nothing bounds would leave no room for all others.
    least, most = min(ends) / WIDEST, max(ends) * WIDEST
    ends += [min(max(x, least), most) for p in card.points for x in (p.lo, p.hi)]
    low, high = math.log(min(ends)), math.log(max(ends))
    room = 0.08 * (high - low) + 0.02
    # Faster stands higher: the rule turned upright.
    return Scale(-high - room, -low + room, plot.y, plot.height)


def _over_budget(canvas: Canvas, card: PriceCard, along: Scale, plot: Area) -> None:
    if card.budget is None:
        return
    look, x = canvas.look, along.place_of(card.budget)
    if look.paper is not None:
        canvas.rect(x, plot.y, plot.right - x, plot.height, fill=look.band)
    canvas.line(x, plot.y, x, plot.bottom, ink=look.accent, thick=3, dash="12 8")
    canvas.text(
        x - 12 if x > plot.x + plot.width / 2 else x + 12,
        plot.y - 8,
        card.budget_shown,
        size=PRICE,
        ink=look.accent,
        anchor="end" if x > plot.x + plot.width / 2 else "start",
    )


def _axes(canvas: Canvas, card: PriceCard, along: Scale, up: Scale, plot: Area) -> None:
    look = canvas.look
    canvas.line(plot.x, plot.y, plot.x, plot.bottom)
    canvas.line(plot.x, plot.bottom, plot.right, plot.bottom)
    last = 1e9
    for tick in TICKS:
        place = -math.log(tick)
        if not up.low <= place <= up.high or last - up.place_of(place) < 52:
            continue
        last = y = up.place_of(place)
        canvas.line(plot.x - 12, y, plot.x, y)
        if tick == 1.0:
            canvas.line(plot.x, y, plot.right, y, ink=look.line, thick=2)
        canvas.text(
            plot.x - 20,
            y + 9,
            f"{short(tick)}×",
            size=25,
            face="figure",
            anchor="end",
            ink=look.ink if tick == 1.0 else look.mute,
        )
    step = _step(along.high - along.low, plot.width / 150)
    price = math.ceil(along.low / step) * step
    while price <= along.high:
        x = along.place_of(price)
        canvas.line(x, plot.bottom, x, plot.bottom + 12)
        shown = fixed(price, 0, grouped=True)
        if plot.x < x < plot.right - 60:
            canvas.text(
                x, plot.bottom + 42, shown, size=25, face="figure", anchor="middle", ink=look.mute
            )
        price += step
    canvas.text(
        plot.right,
        plot.bottom + 76,
        f"price, {card.currency}",
        size=25,
        anchor="end",
        ink=look.mute,
    )
    canvas.text(
        plot.x - 96, plot.y - 8, f"times as fast as {card.baseline}", size=25, ink=look.mute
    )


def _step(span: float, most: float) -> float:
    """A round step that gives at most so many ticks."""
    least = span / max(most, 1.0)
    power = 10 ** math.floor(math.log10(max(least, 1e-9)))
    return float(next(m * power for m in (1, 2, 5, 10) if m * power >= least))


def _frontier(canvas: Canvas, card: PriceCard, along: Scale, up: Scale, plot: Area) -> list[Box]:
    """Draw the frontier; gives where its line runs."""
    own = sorted((p for p in card.points if p.frontier), key=lambda p: p.price)
    if not own:
        return []
    steps: list[tuple[float, float]] = []
    for point in own:
        x, y = along.place_of(point.price), up.place_of(-math.log(point.ratio))
        if steps:
            steps.append((x, steps[-1][1]))
        steps.append((x, y))
    steps.append((plot.right, steps[-1][1]))
    canvas.path(steps, ink=canvas.look.mute, thick=3)
    return [
        Box(min(x1, x2) - 2, min(y1, y2) - 2, abs(x2 - x1) + 4, abs(y2 - y1) + 4)
        for (x1, y1), (x2, y2) in pairwise(steps)
    ]


def _mark(canvas: Canvas, point: PricePoint, along: Scale, up: Scale) -> Box:
    x, y = along.place_of(point.price), up.place_of(-math.log(point.ratio))
    top, low = up.place_of(-math.log(point.hi)), up.place_of(-math.log(point.lo))
    if low - top > 2:
        canvas.line(x, top, x, low, thick=3)
        for ratio, end in ((point.hi, top), (point.lo, low)):
            if up.holds(-math.log(ratio)):
                canvas.line(x - 10, end, x + 10, end, thick=4)
    canvas.mark(point.who.mark, x, y, MARK)
    reach = MARK / 2 + 4
    if point.pick:
        with canvas.coming(landing(PICKED)):
            canvas.disc(x, y, MARK, stroke=canvas.look.accent, thick=5)
        canvas.tick(PICKED)
        reach = MARK + 4
    return Box(x - reach, min(y - reach, top), 2 * reach, max(2 * reach, low - top))


def _label(
    canvas: Canvas,
    card: PriceCard,
    point: PricePoint,
    along: Scale,
    up: Scale,
    plot: Area,
    taken: list[Box],
    lines: list[Box],
) -> Box:
    """Name a point where no other ink is: beside it, above or below, further off if need be."""
    x, y = along.place_of(point.price), up.place_of(-math.log(point.ratio))
    strong, figure = letters("strong"), letters("figure")
    words = (point.who.label, point.shown)
    width = max(strong.width(words[0], LABEL), figure.width(words[1], PRICE))
    height = 62.0
    best, found = 1e18, (x, y)
    for reach in REACHES:
        for dx, dy in ((1, 0), (-1, 0), (0, -1), (0, 1), (1, -1), (1, 1), (-1, -1), (-1, 1)):
            left = x + dx * reach - (width if dx < 0 else 0) - (width / 2 if dx == 0 else 0)
            top = y + dy * reach - (height if dy < 0 else 0) - (height / 2 if dy == 0 else 0)
            left = min(max(left, plot.x + 6), plot.right + 40 - width)
            top = min(max(top, plot.y), plot.bottom - height)
            box = Box(left, top, width, height)
            cost = reach + sum(1e6 for other in taken if box.meets(other, 1.0))
            # A line is crossed only where there is no room far around.
            cost += sum(CROSSING for line in lines if box.meets(line, -4.0))
            if cost < best:
                best, found = cost, (left, top)
        if best <= reach:
            break
    left, top = found
    if best > 70 or abs(left + width / 2 - x) > width:
        canvas.line(
            x,
            y,
            min(max(x, left), left + width),
            min(max(y, top), top + height),
            ink=canvas.look.mute,
            thick=1.5,
        )
    look = canvas.look
    ink = look.accent if point.who.highlighted or point.pick else None
    behind = look.band if card.budget is not None and left > along.place_of(card.budget) else None
    behind = behind or look.paper
    canvas.text(left, top + 26, words[0], size=LABEL, face="strong", ink=ink, over=behind)
    canvas.text(left, top + 55, words[1], size=PRICE, face="figure", ink=look.mute, over=behind)
    return Box(left, top, width, height)


def _alt(card: PriceCard) -> str:
    lines = [
        card.heading.title,
        f"{card.heading.subtitle}. Price against speed, as times as fast as {card.baseline}.",
    ]
    for point in sorted(card.points, key=lambda p: p.price):
        said = [
            f"{point.who.label}: {point.shown}, {format_ratio(point.ratio)} times as fast "
            f"({format_ratio(point.lo)} to {format_ratio(point.hi)})"
        ]
        said += [
            words
            for there, words in (
                (point.pick, "the pick"),
                (point.frontier, "on the frontier"),
                (point.over, "over the budget"),
            )
            if there
        ]
        lines.append(", ".join(said) + ".")
    return "\n".join([*lines, *card.heading.notes, card.heading.source]).strip()
