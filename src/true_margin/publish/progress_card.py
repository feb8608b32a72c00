"""The progress card: runs side by side, from the marks that were noted on the way."""

from __future__ import annotations

import math

from true_margin.core.wording import format_elapsed
from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import ProgressCard
from true_margin.publish.card_frame import Area, Scale, begin, name_of, rows_in, widest
from true_margin.publish.cues import landing, wiping
from true_margin.publish.looks import LookName, Shape, mark_of

FIGURE = 34.0


def draw_progress(card: ProgressCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a progress card: a lane a run, on one axis of time, thicker where more is done."""
    canvas, area = begin(shape, look, card.heading, title_at=1.0)
    tall = shape is Shape.TALL
    named = 0.0 if tall else area.width * (0.27 if shape is Shape.WIDE else 0.31)
    shown = widest([run.shown for run in card.runs], FIGURE)
    longest = max((run.points[-1][0] for run in card.runs), default=1.0)
    start = area.x + named
    scale = Scale(0.0, longest, start, area.right - shown - 28 - start)
    lanes = rows_in(
        Area(area.x, area.y, area.width, area.height - 60), len(card.runs), 760.0 if tall else 300.0
    )
    bottom = lanes[-1].bottom if lanes else area.y
    _axis(canvas, scale, area.y, bottom)
    for run, lane in zip(card.runs, lanes, strict=True):
        room = min(lane.height * 0.4, 90.0) if tall else lane.height
        name_of(canvas, run.who, Area(lane.x, lane.y, (area.width if tall else named) - 20, room))
        top = lane.y + (room if tall else lane.height * 0.12)
        own = Area(start, top, scale.length, lane.bottom - lane.height * 0.12 - top)
        end = run.points[-1][0]
        # All lines go at one speed: each is where its machine was.
        with canvas.coming(wiping(((0.0, start - 4), (end / longest, scale.place_of(end) + 10)))):
            _lane(
                canvas,
                run.points,
                scale,
                own,
                canvas.look.accent
                if run.who.highlighted
                else mark_of(run.who.mark, canvas.look)[0],
            )
        size = min(FIGURE, own.height * 0.6)
        with canvas.coming(landing(end / longest)):
            canvas.text(
                scale.place_of(end) + 16,
                own.y + own.height / 2 + size * 0.34,
                run.shown,
                size=size,
                face="figure",
                ink=None if run.complete else canvas.look.accent,
            )
        if run.complete:
            canvas.tick(end / longest)
    return canvas.finish(_alt(card))


def _axis(canvas: Canvas, scale: Scale, top: float, bottom: float) -> None:
    step = next(
        (
            s
            for s in (1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14400)
            if scale.high / s <= scale.length / 150
        ),
        86400,
    )
    for at in range(math.floor(scale.high / step) + 1):
        x = scale.place_of(at * step)
        canvas.line(x, top, x, bottom + 10, ink=canvas.look.line)
        canvas.text(
            x,
            bottom + 42,
            format_elapsed(at * step),
            size=25,
            face="figure",
            ink=canvas.look.mute,
            anchor="start" if at == 0 else "middle",
        )


def _lane(
    canvas: Canvas, points: tuple[tuple[float, float], ...], scale: Scale, lane: Area, ink: str
) -> None:
    """How much is done by when: the line climbs from the lane's foot to its top."""
    canvas.line(
        lane.x, lane.bottom, scale.place_of(points[-1][0]), lane.bottom, ink=canvas.look.mute
    )
    line = [(scale.place_of(t), lane.bottom - part * lane.height) for t, part in points]
    canvas.path(line, ink=ink, thick=6)
    for x, y in line[1:-1]:
        canvas.disc(x, y, 6, stroke=ink, thick=4)
    end = line[-1][0]
    canvas.line(end, lane.y, end, lane.bottom, thick=4)


def _alt(card: ProgressCard) -> str:
    lines = [card.heading.title, f"{card.heading.subtitle}. How much was done by when."]
    for run in card.runs:
        marks = "; ".join(
            f"{100 * part:.0f} % at {format_elapsed(t)}" for t, part in run.points[1:-1]
        )
        lines.append(f"{run.who.label}: {f'{marks}; ' if marks else ''}ended at {run.shown}.")
    return "\n".join([*lines, *card.heading.notes, card.heading.source]).strip()
