"""The week that an answer assumes, and the nearest one that has another answer."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from true_margin.core.numerals import short
from true_margin.core.wording import count_of, format_span
from true_margin.desk.book.book import Book
from true_margin.desk.margins.margins import ladder_of
from true_margin.desk.picks.contenders import contender_name
from true_margin.desk.picks.picks import Picked
from true_margin.desk.picks.solve import solve
from true_margin.desk.picks.words.answer import with_article
from true_margin.desk.picks.words.money import say_money, years_of
from true_margin.store import records
from true_margin.store.records.viewers import Viewer, ViewerTask

LESS = (("half", 0.5), ("a quarter", 0.25), ("a tenth", 0.1))
MORE = (("twice as much", 2.0), ("four times as much", 4.0), ("ten times as much", 10.0))
"""Other weeks than a kind's that an answer is looked for in."""
NEAR = 8
"""What would change an answer is told of so many machines nearest in speed to the pick."""


@dataclass(frozen=True, slots=True)
class WeekLine:
    """One job of the viewer's week, as long as it takes on either machine."""

    work: str
    own: str
    pick: str


def week_lines(
    book: Book, viewer: Viewer, own: records.Setup | None, picked: Picked
) -> tuple[tuple[WeekLine, ...], WeekLine | None]:
    """The week job by job on both machines, where both did all of it."""
    if own is None or picked.keep or not viewer.weekly:
        return (), None
    lines, sums = [], [0.0, 0.0]
    for part in viewer.tasks:
        at = book.task_index.get(part.task_id)
        if at is None or part.amount <= 0:
            continue
        task = book.tasks[at]
        found = {row.setup_id: row.typical for row in ladder_of(book, str(task.id)).rows}
        times = [found.get(own.id), found.get(picked.setup_id)]
        if task.measure != "time" or None in times:
            return (), None
        spent = [runs_a_week(book, part) * (each or 0.0) for each in times]
        sums = [a + b for a, b in zip(sums, spent, strict=True)]
        lines.append(WeekLine(say_work(task, part), format_span(spent[0]), format_span(spent[1])))
    if not lines:
        return (), None
    return tuple(lines), WeekLine("Waiting a week", format_span(sums[0]), format_span(sums[1]))


def say_work(task: records.Task, part: ViewerTask) -> str:
    """How much of a job a week holds, in words."""
    if part.by_run or not task.work:
        return f"{task.name}, {count_of(round(part.amount), 'time')}"
    if task.unit in ("s", None):
        return f"{task.name}, {short(part.amount / 60.0, 3)} minutes of timeline"
    return f"{task.name}, {short(part.amount, 4)} {task.unit}"


def say_assumed(viewer: Viewer) -> str:
    """What the sums assume of the reader, all of it."""
    waiting = round(100 * viewer.attended)
    counted = {100: "all of the waiting counts", 50: "half of the waiting counts"}.get(
        waiting, f"{waiting} % of the waiting counts"
    )
    hour = say_money(viewer.hour_value, viewer.currency)
    resale = (
        f"the old machine sells for {say_money(viewer.resale, viewer.currency)}"
        if viewer.resale
        else "the old machine sells for nothing"
    )
    return (
        f"Assumed: an hour is worth {hour}, {counted}, {short(viewer.weeks)} working weeks a year, "
        f"{years_of(viewer.horizon_years)} of use, {resale}."
    )


def other_weeks(book: Book, viewer: Viewer, picked: Picked) -> Iterator[str]:
    """The nearest week with less and with more of this work that has another answer."""
    # By every other rule the same machine wins however much of the work there is.
    if viewer.rule != "worth" or not viewer.weekly:
        return
    for weeks in (LESS, MORE):
        # With ever more of it an ever faster one wins: where the farthest week has the same
        # answer, so have those before.
        if _in_week(book, viewer, picked, weeks[-1][1]) is None:
            continue
        for words, factor in weeks:
            other = _in_week(book, viewer, picked, factor)
            if other is not None:
                yield f"With {words} of this work a week: {other}."
                break


def _in_week(book: Book, viewer: Viewer, picked: Picked, factor: float) -> str | None:
    """What to do in a week with so many times the work; None for the same, or for no answer."""
    much = tuple(replace(part, amount=part.amount * factor) for part in viewer.tasks)
    solved = solve(book, replace(viewer, tasks=much))
    contest, decision = solved.contest, solved.decision
    if contest is None or decision is None or decision.pick is None:
        return None
    keep = decision.pick == contest.keep
    setup = book.setups[int(contest.setups[decision.pick])]
    if (keep, setup.id) == (picked.keep, picked.setup_id):
        return None
    name = with_article(contender_name(book, contest.speeds, decision.pick))
    return f"{'keep' if keep else 'buy'} {name}"


def runs_a_week(book: Book, part: ViewerTask) -> float:
    """How often a week's amount makes the job run."""
    task = book.tasks[book.task_index[part.task_id]]
    return part.amount if part.by_run or not task.work else part.amount / task.work
