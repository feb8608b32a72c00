"""The card of how editing felt: what was tried down, setups across, each a line of motion."""

from __future__ import annotations

import math
from collections.abc import Callable

from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import FeelCard, FeelMark
from true_margin.publish.card_frame import LEAST, Area, begin, name_of, rows_in
from true_margin.publish.cues import beat, landing
from true_margin.publish.lettering import LEADING, Face, fit, fit_within
from true_margin.publish.looks import LookName, Shape

BAD = frozenset({"stutters", "unusable"})
WAVES = 3
UNTRIED = "not tried"
_WAVE_POINTS = 40


def draw_feel(card: FeelCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a feel card; a grade is told by its word and by the form of its line."""
    canvas, area = begin(shape, look, card.heading)
    blocks = -(-len(card.columns) // card.in_block)
    starts = range(0, len(card.columns), card.in_block)
    for place, first in zip(rows_in(area, blocks, area.height), starts, strict=True):
        _block(canvas, card, place, first)
    return canvas.finish(_alt(card))


def _block(canvas: Canvas, card: FeelCard, area: Area, first: int) -> None:
    """Draw the setups from ``first`` on, as many as stand beside each other."""
    last = min(first + card.in_block, len(card.columns))
    named = area.width * 0.22
    each = (area.width - named) / (last - first)
    head = min(92.0, area.height * 0.2)
    size = min(
        fit(who.label, "strong", each - 54, 30.0, least=LEAST, most_lines=2).size
        for who in card.columns
    )
    for at, who in enumerate(card.columns[first:last]):
        column = Area(area.x + named + at * each, area.y, each - 14, head)
        name_of(canvas, who, column, size, two_lines=True)
    rows = len(card.rows) + any(card.faults)
    body = Area(area.x, area.y + head, area.width, area.height - head - 8)
    places = rows_in(body, rows, 118.0)
    for row_at, ((title, marks), place) in enumerate(zip(card.rows, places, strict=False)):
        with canvas.coming(landing(beat(row_at, rows)[0])):
            _title(canvas, title, place, named)
            for at, mark in enumerate(marks[first:last]):
                cell = Area(area.x + named + at * each, place.y, each - 18, place.height)
                _cell(canvas, mark, cell)
    if any(card.faults):
        with canvas.coming(landing(beat(rows - 1, rows)[0])):
            _title(canvas, "What went wrong", places[-1], named)
            for at, words in enumerate(card.faults[first:last]):
                cell = Area(area.x + named + at * each, places[-1].y, each - 18, places[-1].height)
                _said(canvas, words or "nothing noted", cell, bad=bool(words), quiet=not words)


def _title(canvas: Canvas, title: str, place: Area, width: float) -> None:
    canvas.line(place.x, place.y, place.right, place.y, ink=canvas.look.line)
    words = fit_within(title, "text", width - 20, place.height - 6, 27.0, least=LEAST)
    top = place.y + (place.height - LEADING * words.size * len(words.lines)) / 2
    canvas.lines(place.x, top, words, ink=canvas.look.mute)


def _cell(canvas: Canvas, mark: FeelMark | None, cell: Area) -> None:
    if mark is None:
        _said(canvas, UNTRIED, cell, bad=False, quiet=True)
        return
    ink = canvas.look.accent if mark.grade in BAD else canvas.look.ink
    wide = min(96.0, cell.width * 0.34)
    MOTIONS[mark.grade](canvas, cell.x, cell.y + cell.height / 2, wide, ink)
    words = mark.grade if not mark.counts else f"{mark.grade}, {mark.counts}"
    beside = Area(cell.x + wide + 14, cell.y, cell.width - wide - 14, cell.height)
    _said(canvas, words, beside, bad=mark.grade in BAD)


def _said(canvas: Canvas, words: str, cell: Area, *, bad: bool, quiet: bool = False) -> None:
    face: Face = "text" if quiet else "strong"
    fitted = fit_within(words, face, cell.width, cell.height - 6, 28.0, least=LEAST)
    top = cell.y + (cell.height - LEADING * fitted.size * len(fitted.lines)) / 2
    look = canvas.look
    ink = look.accent if bad else look.mute if quiet else look.ink
    canvas.lines(cell.x, top, fitted, face=face, ink=ink)


def _even(canvas: Canvas, x: float, y: float, wide: float, ink: str) -> None:
    canvas.line(x, y, x + wide, y, ink=ink, thick=5)


def _wavering(canvas: Canvas, x: float, y: float, wide: float, ink: str) -> None:
    steps = (at / _WAVE_POINTS for at in range(_WAVE_POINTS + 1))
    points = [(x + wide * t, y - 11 * math.sin(2 * math.pi * WAVES * t)) for t in steps]
    canvas.path(points, ink=ink, thick=5)


def _broken(canvas: Canvas, x: float, y: float, wide: float, ink: str) -> None:
    canvas.line(x, y, x + wide, y, ink=ink, thick=5, dash="18 10")


def _gone(canvas: Canvas, x: float, y: float, wide: float, ink: str) -> None:
    canvas.line(x, y, x + wide, y, ink=ink, thick=5, dash="4 16")


MOTIONS: dict[str, Callable[[Canvas, float, float, float, str], None]] = {
    "smooth": _even,
    "slow": _wavering,
    "stutters": _broken,
    "unusable": _gone,
}
"""How each grade is drawn: straight, wavering, broken, or all but gone."""


def _alt(card: FeelCard) -> str:
    lines = [card.heading.title, card.heading.subtitle]
    for title, marks in card.rows:
        said = "; ".join(
            f"{who.label} {UNTRIED if mark is None else _words(mark)}"
            for who, mark in zip(card.columns, marks, strict=True)
        )
        lines.append(f"{title}: {said}.")
    faults = zip(card.columns, card.faults, strict=True)
    lines += [f"{who.label}: {words}." for who, words in faults if words]
    return "\n".join(
        each for each in (*lines, *card.heading.notes, card.heading.source) if each
    ).strip()


def _words(mark: FeelMark) -> str:
    return f"{mark.grade} ({mark.counts})" if mark.counts else mark.grade
