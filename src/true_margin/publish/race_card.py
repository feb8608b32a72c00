"""The race card: one run of each setup side by side, from its marks; made to be seen moving."""

from __future__ import annotations

from itertools import pairwise

from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.card_data import RaceCard, RaceRun
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
from true_margin.publish.cues import Count, Counter, Steps, landing, wiping
from true_margin.publish.looks import LookName, Shape

FIGURE = 36.0
BEHIND = 28.0
CLOCK = 46.0
QUARTERS = (0.25, 0.5, 0.75)


def draw_race(card: RaceCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a race card: a track a run, full where all of the work is done."""
    canvas, area = begin(shape, look, card.heading, title_at=1.0)
    tall = shape is Shape.TALL
    longest = max((run.points[-1][0] for run in card.runs), default=1.0) or 1.0
    _clock(canvas, area, longest)
    area = Area(area.x, area.y + CLOCK + 18, area.width, area.height - CLOCK - 18)
    places = rows_in(area, len(card.runs), TALLEST_ROW[shape])
    height = places[0].height if places else 0.0
    size = max(LEAST, min(FIGURE * LARGER[shape], height * (0.2 if tall else 0.36)))
    small = max(LEAST, min(BEHIND * LARGER[shape], size * 0.8))
    named = 0.0 if tall else area.width * (0.27 if shape is Shape.WIDE else 0.31)
    shown = widest([run.shown for run in card.runs], size)
    behind = widest([run.behind for run in card.runs], small, "text")
    # Two columns stand beside each other, or one above the other where a row is tall enough.
    side = max(shown, behind) if tall or shape is Shape.SQUARE else shown + behind + 30
    track = Area(area.x + named, 0.0, area.width - named - side - 24, 0.0)
    largest = FIGURE * LARGER[shape]
    names = [run.who for run in card.runs]
    size_of_names = names_size(names, named - 20, largest) if named else largest
    for run, place in zip(card.runs, places, strict=True):
        if tall:
            name_of(
                canvas, run.who, Area(place.x, place.y, place.width, height * 0.44), size_of_names
            )
            middle, half = place.y + height * 0.66, height * 0.14
        else:
            own = Area(place.x, place.y, named - 20, height)
            name_of(canvas, run.who, own, size_of_names, two_lines=True)
            middle, half = place.y + height / 2, height * 0.24
        lane = Area(track.x, middle - half, track.width, 2 * half)
        _lane(canvas, run, lane, longest)
        # Beside each other both stand in columns of their own.
        column = None if tall or shape is Shape.SQUARE else behind
        _ends(canvas, run, (area.right, middle), (size, small), run.points[-1][0] / longest, column)
    return canvas.finish(_alt(card))


def _clock(canvas: Canvas, area: Area, longest: float) -> None:
    """The time of the race, which runs in a clip only: a still would show the end twice."""
    canvas.text(
        area.x, area.y + CLOCK * 0.7, "share of the work done", size=25, ink=canvas.look.mute
    )
    canvas.count(
        Counter(
            Count.TIME,
            ((0.0, area.right), (1.0, area.right)),
            ((0.0, 0.0), (1.0, longest)),
            area.y + CLOCK * 0.8,
            CLOCK,
            canvas.look.ink,
            to_left=True,
        )
    )


def _lane(canvas: Canvas, run: RaceRun, lane: Area, longest: float) -> None:
    look = canvas.look
    for part in QUARTERS:
        x = lane.x + part * lane.width
        canvas.line(x, lane.y, x, lane.bottom, ink=look.line)
    canvas.rect(lane.x, lane.y, lane.width, lane.height, stroke=look.line, thick=2)
    done = run.points[-1][1]
    ink = look.accent if run.who.highlighted else look.mute
    with canvas.coming(wiping(_front(run, lane, longest))):
        if run.complete:
            canvas.rect(lane.x, lane.y, done * lane.width, lane.height, fill=ink)
        else:
            canvas.rect(
                lane.x,
                lane.y,
                done * lane.width,
                lane.height,
                fill=look.band,
                stroke=look.accent,
                thick=3,
                dash="12 9",
            )


def _front(run: RaceRun, lane: Area, longest: float) -> Steps:
    """Where the front of a lane is when, in parts of the motion."""
    steps = [(at / longest, lane.x + part * lane.width) for at, part in run.points]
    kept = [steps[0], *(b for a, b in pairwise(steps) if b[0] > a[0])]
    at, x = kept[-1]
    return (*kept[:-1], (at, x + 4)) if len(kept) > 1 else ((0.0, lane.x), (at or 1.0, x + 4))


def _ends(
    canvas: Canvas,
    run: RaceRun,
    right: tuple[float, float],
    sizes: tuple[float, float],
    at: float,
    column: float | None,
) -> None:
    """The time of a run and how far behind the first it was; both land when it is done.

    ``column`` is the width of what stands beside the time; None where it stands below.
    """
    (x, middle), (size, small) = right, sizes
    room = 0.0 if column is None else column + 30
    lift = 0.34 * size if column is not None or not run.behind else -0.1 * size
    with canvas.coming(landing(at)):
        canvas.text(
            x - room,
            middle + lift,
            run.shown,
            size=size,
            face="figure",
            anchor="end",
            ink=None if run.complete else canvas.look.accent,
        )
        if run.behind:
            canvas.text(
                x,
                middle + (1.05 * small if column is None else 0.34 * small),
                run.behind,
                size=small,
                ink=canvas.look.mute,
                anchor="end",
            )
    if run.complete:
        canvas.tick(at)


def _alt(card: RaceCard) -> str:
    lines = [card.heading.title, f"{card.heading.subtitle}. One run of each, from its marks."]
    for run in card.runs:
        behind = f", {run.behind}" if run.behind else ""
        lines.append(f"{run.who.label}: {run.shown}{behind}.")
    return "\n".join([*lines, *card.heading.notes, card.heading.source]).strip()
