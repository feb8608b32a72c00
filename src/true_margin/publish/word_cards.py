"""Cards of words and figures: the pick of a viewer, and specs side by side."""

from __future__ import annotations

from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import PickCard, SpecCard
from true_margin.publish.card_frame import LEAST, Area, begin, name_of, rows_in
from true_margin.publish.cues import beat, landing
from true_margin.publish.lettering import LEADING, Face, Fitted, fit, fit_within
from true_margin.publish.looks import LookName, Shape

ANSWERED = 0.1
"""When in a clip the answer lands: what limits it follows."""


def draw_pick(card: PickCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a pick card: the answer large, what limits it below, figures as a list."""
    canvas, area = begin(shape, look, card.heading)
    facts = len(card.facts)
    tall_fact = {Shape.SQUARE: 60.0, Shape.WIDE: 66.0, Shape.TALL: 150.0}[shape]
    larger = 1.5 if shape is Shape.TALL else 1.0
    below = tall_fact * facts + 24
    top = Area(area.x, area.y, area.width, area.height - below)
    left = top.x
    with canvas.coming(landing(ANSWERED)):
        if card.who is not None:
            canvas.mark(card.who.mark, top.x + 40, top.y + 62, 80)
            left += 112
        answer = _block(card.answer, "head", top.right - left, 92.0 * larger, 124.0 * larger)
        y = canvas.lines(
            left,
            top.y + 62 - LEADING * answer.size * len(answer.lines) / 2,
            answer,
            face="head",
            ink=canvas.look.accent,
        )
    canvas.tick(ANSWERED)
    y = max(y, top.y + 124) + 18 * larger
    room = (area.bottom - below - y) / max(len(card.lines), 1)
    for at, line in enumerate(card.lines):
        size = larger * (40.0 if at == 0 else 31.0)
        fitted = _block(line, "text", area.width, size, room - 10)
        with canvas.coming(landing(beat(at, len(card.lines), ANSWERED + 0.15, 0.7)[0])):
            y = canvas.lines(area.x, y, fitted, ink=None if at == 0 else canvas.look.mute)
        y += 10 * larger
    facts_at = Area(area.x, area.bottom - below + 24, area.width, below - 24)
    _facts(canvas, card.facts, facts_at, larger)
    return canvas.finish(_alt_pick(card))


def _block(text: str, face: Face, width: float, size: float, height: float) -> Fitted:
    """Fit a text into a box, as large as may be."""
    return fit_within(text, face, width, height, size, least=LEAST)


def _facts(canvas: Canvas, facts: tuple[tuple[str, str], ...], area: Area, larger: float) -> None:
    rows = rows_in(area, len(facts), area.height)
    for at, ((title, value), place) in enumerate(zip(facts, rows, strict=True)):
        with canvas.coming(landing(beat(at, len(facts), 0.7, 1.0)[0])):
            canvas.line(place.x, place.y, place.right, place.y, ink=canvas.look.line)
            middle = place.y + place.height / 2
            named = fit(title, "text", place.width * 0.4, 28.0 * larger, least=LEAST)
            said = _block(value, "strong", place.width * 0.57, 30.0 * larger, place.height - 8)
            top = middle - LEADING * named.size * len(named.lines) / 2
            canvas.lines(place.x, top, named, ink=canvas.look.mute)
            top = middle - LEADING * said.size * len(said.lines) / 2
            canvas.lines(place.x + place.width * 0.43, top, said, face="strong")


def _alt_pick(card: PickCard) -> str:
    facts = [f"{title}: {value}." for title, value in card.facts]
    lines = [card.heading.title, card.heading.subtitle, card.answer, *card.lines, *facts]
    return "\n".join(
        each for each in (*lines, *card.heading.notes, card.heading.source) if each
    ).strip()


def draw_specs(card: SpecCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a spec card: setups as columns; rows whose values differ are marked."""
    canvas, area = begin(shape, look, card.heading)
    blocks = -(-len(card.columns) // card.in_block)
    for place, first in zip(
        rows_in(area, blocks, area.height), range(0, len(card.columns), card.in_block), strict=True
    ):
        _block_of_specs(canvas, card, place, first, shape)
    return canvas.finish(_alt_specs(card))


def _block_of_specs(canvas: Canvas, card: SpecCard, area: Area, first: int, shape: Shape) -> None:
    """Draw the columns from ``first`` on, as many as stand beside each other."""
    last = min(first + card.in_block, len(card.columns))
    named = area.width * (0.19 if shape is Shape.WIDE else 0.21)
    each = (area.width - named) / (last - first)
    head = min(104.0, area.height * 0.2)
    # One size for all names: the one at which the longest fits.
    size = min(
        fit(who.label, "strong", each - 54, 29.0, least=LEAST, most_lines=2).size
        for who in card.columns[first:last]
    )
    for at, who in enumerate(card.columns[first:last]):
        column = Area(area.x + named + at * each, area.y, each - 14, head)
        name_of(canvas, who, column, size, two_lines=True)
    body = Area(area.x, area.y + head, area.width, area.height - head - 12)
    places = rows_in(body, len(card.rows), 92.0)
    for row_at, (row, place) in enumerate(zip(card.rows, places, strict=True)):
        with canvas.coming(landing(beat(row_at, len(card.rows))[0])):
            _row_of_specs(canvas, row, place, named, each, (first, last))


def _row_of_specs(
    canvas: Canvas,
    row: tuple[str, tuple[str, ...], bool],
    place: Area,
    named: float,
    each: float,
    span: tuple[int, int],
) -> None:
    """Draw a row: its title, and the cells of the columns of a span."""
    title, cells, differs = row
    canvas.line(place.x, place.y, place.right, place.y, ink=canvas.look.line)
    words = _block(title, "text", named - 34, 25.0, place.height - 8)
    middle = place.y + place.height / 2
    if differs:
        # A square at the row says so without colour.
        canvas.rect(place.x, middle - 7, 10, 14, fill=canvas.look.accent)
    canvas.lines(
        place.x + 22,
        middle - LEADING * words.size * len(words.lines) / 2,
        words,
        ink=canvas.look.mute,
    )
    for at, cell in enumerate(cells[slice(*span)]):
        said = _block(cell, "strong" if differs else "text", each - 14, 26.0, place.height - 8)
        canvas.lines(
            place.x + named + at * each,
            middle - LEADING * said.size * len(said.lines) / 2,
            said,
            face="strong" if differs else "text",
        )


def _alt_specs(card: SpecCard) -> str:
    lines = [card.heading.title, card.heading.subtitle]
    for title, cells, differs in card.rows:
        pairs = zip(card.columns, cells, strict=True)
        said = "; ".join(f"{who.label} {cell}" for who, cell in pairs)
        lines.append(f"{title}{' (differs)' if differs else ''}: {said}.")
    return "\n".join(
        each for each in (*lines, *card.heading.notes, card.heading.source) if each
    ).strip()
