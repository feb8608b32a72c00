"""How long a job takes, as bars on a page: each with where the truth lies, and who shares a place.

Everything is worked out here; a template sets parts of a hundred and words, nothing else.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.ladder import Rung
from true_margin.core.margins import CALL_ORDER, Call, own_half
from true_margin.core.numerals import fixed, short
from true_margin.core.wording import count_of, format_elapsed, format_ratio
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.margins.margins import LadderRow, LadderView, ladder_of
from true_margin.desk.margins.worth import LEVEL, calls_of

STEPS_S = (
    0.001,
    0.002,
    0.005,
    0.01,
    0.02,
    0.05,
    0.1,
    0.2,
    0.5,
    1,
    2,
    5,
    10,
    20,
    30,
    60,
    120,
    180,
    300,
    600,
    900,
    1200,
    1800,
    3600,
    7200,
    10800,
    18000,
    36000,
    72000,
    180000,
)
"""Steps of an axis of times, in seconds, that people count in."""
MOST_TICKS = 6
LONGEST = 98.0
"""The longest end stands so far to the right, in parts of a hundred."""
OPEN = CALL_ORDER.index(Call.OPEN)
APART = CALL_ORDER.index(Call.NOT_COMPARABLE)
NUMBERS = ("nought", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


@dataclass(frozen=True, slots=True)
class Tick:
    """A mark of the axis: where, in parts of a hundred, and its words."""

    at: float
    words: str


@dataclass(frozen=True, slots=True)
class PageBar:
    """A setup's bar, in parts of a hundred of the axis.

    ``low`` and ``high`` are where the interval ends, None where there is none; ``tie`` says where
    in a bracket the row stands (``first``, ``inner``, ``last``, or empty), and ``note`` what is
    said beneath it.
    """

    mark: int
    label: str
    value: str
    interval: str
    share: float
    low: float | None
    high: float | None
    leads: bool
    tie: str
    note: str


@dataclass(frozen=True, slots=True)
class PageBars:
    """A job's bars: from where to where they go in words, the axis, and what the ends mean."""

    shown: str
    span: str
    ticks: tuple[Tick, ...]
    rows: tuple[PageBar, ...]
    foot: str


@dataclass(frozen=True, slots=True)
class _Reach:
    """What a row is drawn of: its value and the ends of its interval, None where there is none."""

    value: float
    low: float | None
    high: float | None

    @property
    def far(self) -> float:
        return self.value if self.high is None else max(self.value, self.high)


def page_bars(book: Book, key: str) -> PageBars:
    """The bars of a task, or of the mix, of a book."""
    view = ladder_of(book, key)
    task = next((at for at, each in enumerate(book.tasks) if str(each.id) == key), None)
    comparison = analysis_of(book).comparison(task)
    if comparison is None or not view.rows:
        return PageBars(_shown(view), "", (), (), "")
    reaches = [
        _reach(book, comparison, view, row, rung)
        for row, rung in zip(view.rows, comparison.rungs, strict=True)
    ]
    unit = LONGEST / max(each.far for each in reaches)
    ties = _ties(comparison, view)
    marks = {setup.id: setup.mark for setup in book.setups}
    rows = []
    for row, reach, (tie, words) in zip(view.rows, reaches, ties, strict=True):
        ends = None if reach.low is None or reach.high is None else (reach.low, reach.high)
        rows.append(
            PageBar(
                marks[row.setup_id],
                row.label,
                _value(view, row, reach.value),
                "" if ends is None else _interval(view, *ends),
                unit * reach.value,
                None if ends is None else unit * ends[0],
                None if ends is None else unit * ends[1],
                row.best_rank == 1,
                tie,
                "; ".join(each for each in (words, _remark(row)) if each),
            )
        )
    return PageBars(
        _shown(view),
        _span(view, reaches),
        tuple(_ticks(view, max(each.far for each in reaches), unit)),
        tuple(rows),
        _foot(book, view, drawn=any(row.low is not None for row in rows)),
    )


def _reach(
    book: Book, comparison: Comparison, view: LadderView, row: LadderRow, rung: Rung
) -> _Reach:
    """A typical time or amount with its own interval; of the mix, the speed over the baseline."""
    if view.measure is None:
        value = 1.0 if row.ratio is None or not math.isfinite(row.ratio) else row.ratio
        return _Reach(value, row.lo, row.hi)
    contrasts = comparison.pairs.contrasts
    at = contrasts.setups.tolist().index(rung.setup)
    half = own_half(contrasts, at, book.shootout.confidence)
    sign = -1.0 if view.measure == "time" else 1.0
    low, high = sorted(math.exp(sign * rung.log_speed + side) for side in (-half, half))
    value = math.exp(sign * rung.log_speed)
    if not math.isfinite(half):
        return _Reach(value, None, None)
    return _Reach(value, low, high)


def _ties(comparison: Comparison, view: LadderView) -> list[tuple[str, str]]:
    """Where each row stands in a bracket of those that share a place, and what that says.

    Brackets that would overlap are not drawn: then each row says which places it may have.
    """
    rows, calls = view.rows, calls_of(comparison)
    close = (calls == LEVEL) | (calls == OPEN)
    groups = [(each.first, each.last) for each in view.groups]
    spans = [each for each in _spans(close) if not any(_within(each, group) for group in groups)]
    spans = sorted({*groups, *spans})
    found = [("", _not_same(calls[at], rows[:at])) for at in range(len(rows))]
    for first, last in spans:
        alone = all(last < a or b < first for a, b in spans if (a, b) != (first, last))
        for at in range(first, last + 1):
            if alone:
                own = calls[first : last + 1, first : last + 1]
                place = "first" if at == first else "last" if at == last else "inner"
                words = _of_all(own, first) if at == last else ""
            else:
                place, words = "", f"place {rows[at].best_rank} to {rows[at].worst_rank}"
            said = found[at][1].split("; ")
            found[at] = (place, "; ".join(dict.fromkeys(each for each in (words, *said) if each)))
    return found


def _within(span: tuple[int, int], other: tuple[int, int]) -> bool:
    return other[0] <= span[0] and span[1] <= other[1]


def _of_all(calls: np.ndarray, first: int) -> str:
    """What is said of all in a bracket, by their calls among each other."""
    many = len(calls)
    count = NUMBERS[many] if many < len(NUMBERS) else str(many)
    among = calls[np.triu_indices(many, 1)]
    if (among == LEVEL).all():
        return f"No difference between these {count}"
    if np.isin(among, (LEVEL, OPEN)).all():
        return f"These {count} cannot be told apart"
    return f"These {count} " + ("share first place" if first == 0 else "are too close to rank")


def _spans(close: np.ndarray) -> list[tuple[int, int]]:
    """The longest runs of neighbouring rows of which no two can be told apart."""
    found: list[tuple[int, int]] = []
    for first in range(len(close)):
        last = first
        while last + 1 < len(close) and close[first : last + 1, last + 1].all():
            last += 1
        if last > first and (not found or last > found[-1][1]):
            found.append((first, last))
    return found


def _not_same(calls: np.ndarray, above: Sequence[LadderRow]) -> str:
    """Those above that a row is not compared with, as they did another job."""
    names = [row.label for row, call in zip(above, calls, strict=False) if call == APART]
    return f"not compared with {', '.join(names)}: not the same job" if names else ""


def _remark(row: LadderRow) -> str:
    late = "estimated from an earlier round, so less sure" if row.carried else ""
    return "; ".join(each for each in (late, row.completion) if each)


def _shown(view: LadderView) -> str:
    if view.measure == "time":
        return "Time for one run; shorter is better, and half as long is twice as fast."
    if view.measure == "amount":
        return f"{view.unit or 'Amount'}; longer is better."
    return f"Speed compared with {view.baseline}; longer is better."


def _value(view: LadderView, row: LadderRow, value: float) -> str:
    if view.measure is None:
        return "1×" if row.call == "baseline" else f"{format_ratio(value)}×"
    return write_value(view, value)


def write_value(view: LadderView, value: float) -> str:
    """A time or an amount in the step that its ladder bears."""
    if view.measure == "time":
        return format_elapsed(value, view.resolution or 1.0)
    if view.measure == "amount":
        return fixed(value, 0 if value >= 100 else 1 if value >= 10 else 2, grouped=True)
    return f"{format_ratio(value)}×"


def _interval(view: LadderView, low: float, high: float) -> str:
    ends = [write_value(view, each).removesuffix("×") for each in (low, high)]
    return ends[0] if ends[0] == ends[1] else f"{ends[0]} to {ends[1]}"


def _span(view: LadderView, reaches: Sequence[_Reach]) -> str:
    """From where to where the bars go, as the fold says it while it is shut."""
    values = [each.value for each in reaches]
    if view.measure is None:
        return f"up to {write_value(view, max(values))}"
    low, high = (write_value(view, each) for each in (min(values), max(values)))
    return low if low == high else f"{low} to {high}"


def _ticks(view: LadderView, far: float, unit: float) -> Iterator[Tick]:
    """A handful of marks from nought, in steps that people count in."""
    if view.measure == "time":
        steps: Sequence[float] = STEPS_S
    else:
        decade = 10.0 ** math.floor(math.log10(far))
        steps = [part * decade for part in (0.1, 0.2, 0.25, 0.5, 1.0, 2.0)]
    step = next((each for each in steps if far / each <= MOST_TICKS), far / MOST_TICKS)
    for at in range(math.floor(far / step + 1e-9) + 1):
        yield Tick(unit * at * step, _tick_words(view, at * step, step))


def _tick_words(view: LadderView, value: float, step: float) -> str:
    if value == 0:
        return "0"
    if view.measure != "time":
        return short(value, 3) + ("" if view.measure else "×")
    if step >= 3600:
        return f"{short(value / 3600, 3)} h"
    if step >= 60:
        return f"{short(value / 60, 3)} min"
    return f"{short(value, 3)} s"


def _foot(book: Book, view: LadderView, *, drawn: bool) -> str:
    runs = count_of(sum(row.runs for row in view.rows), "run")
    if not drawn:
        return f"{runs}."
    chance = short(100 * book.shootout.confidence)
    return f"Marked ends: the {chance} % interval. {runs}."
