"""Sentences of a ranking: its headline, what it is worth, its notes, and who is not on it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.core.notes import say_note
from true_margin.core.numerals import fixed, short
from true_margin.core.study import NotedRatio
from true_margin.core.wording import (
    TWICE,
    count_of,
    faster_than,
    format_elapsed,
    format_percent,
    format_ratio,
    format_span,
    listed,
)

MOST_NAMED = 3
"""So many setups of a leading group are named; of more than these it says how many."""
NO_TASKS = "No tasks yet"
TIMES_REAL_TIME = "times real time"


def name_mix(tasks: int) -> str:
    """The mix as a heading."""
    return f"All tasks, equal mix of {tasks}"


def name_speed(unit: str | None) -> str:
    """In what the speed of a task with an amount of work is given."""
    if unit in ("s", None):
        return TIMES_REAL_TIME
    return f"{unit}/{'s' if unit == 'frames' else 'min'}"


def say_completion(ok: int, tried: int, lo: float, hi: float) -> str:
    """How many attempts were completed, with the interval of their share."""
    return f"{ok} of {tried} attempts completed ({100 * lo:.0f} to {100 * hi:.0f} %)"


def say_specs(
    cores: object, memory_gb: float | None, power: str | None, clock_ghz: float | None
) -> str:
    """What a setup is, in a line; mains power is taken for granted."""
    parts = [
        f"{cores} cores" if cores else None,
        f"{short(memory_gb)} GB" if memory_gb else None,
        power if power and power != "mains" else None,
        f"{short(clock_ghz)} GHz" if clock_ghz else None,
    ]
    return ", ".join(part for part in parts if part)


# ── Notes under a ranking ──

NOTHING_APART = "All setups take the same time here; this task does not separate them."
UPDATE_UNEVEN = "The update did not help every machine equally: see Updates."


def no_baseline(name: str) -> str:
    """That there are no ratios, as the baseline was not timed."""
    return (
        f"{name} was not timed here, so there are no ratios: "
        f"a marker makes another setup the baseline."
    )


def say_estimated(rounds: str, update_cv: float, basis: str) -> str:
    """That figures come from earlier rounds, and what is allowed for that."""
    return (
        f"↻ Estimated from {rounds}, before the update; extra uncertainty "
        f"{fixed(100 * update_cv, 1)} % ({basis})."
    )


def say_restless(name: str, factor: float) -> str:
    """That a setup's times vary more than the others'."""
    return (
        f"{name}'s times vary {fixed(factor, 1)} times as much as the others'; its interval is "
        f"wider for it."
    )


# ── The headline ──


def one_alone(leader: str | None, bounded: Sequence[str], noted: Sequence[str]) -> str:
    """The headline where one setup was timed at most."""
    if leader is None:
        return "Nothing to compare yet: no machine has been timed here."
    for others, how in ((bounded, "by bounds alone"), (noted, "noted elsewhere")):
        if others:
            return f"Only {leader} has been timed; {how}: {', '.join(others)}, below."
    return f"Only {leader} has been timed. Time a second machine to compare."


def leaders_apart(leader: str, rival: str) -> str:
    """The headline where the two in front did not do the same job."""
    return f"{leader} and {rival} lead, and cannot be compared: they did not do the same job."


def nobody_leads(setups: int) -> tuple[str, str]:
    """The headline where anybody may be the fastest."""
    return f"All {setups} setups: too close to call.", "None is surely the fastest."


def all_the_same(setups: int, seconds: float | None, amount: str | None) -> str:
    """The headline where no difference matters: on a task with a typical value, or on the mix."""
    every = f"All {count_of(setups, 'setup')}"
    if seconds is not None:
        typical = format_elapsed(seconds, 0.1 if seconds < 60.0 else 1.0)
        return f"{every} take the same time, {typical}."
    if amount is not None:
        return f"{every} come to the same, {amount}."
    return f"{every} are equally fast on the mix."


def say_amount(value: float, unit: str | None, digits: int = 3) -> str:
    """An amount with its unit.

    Example:
        >>> say_amount(84.21, "tracks"), say_amount(3.0, None)
        ('84.2 tracks', '3')
    """
    return f"{short(value, digits)} {unit or ''}".strip()


def one_leads(
    name: str, runner: str, lead: float, least: float | None, beyond: tuple[float, str] | None
) -> tuple[str, str]:
    """The headline where one setup leads.

    Args:
        name: of it.
        runner: who comes second.
        lead: over the second, as a log ratio.
        least: the smallest difference that counts, where the lead may be less than that.
        beyond: its lead over the baseline, and that one's name.

    Returns:
        The headline, and what else there is to say: a sentence bears two numbers.
    """
    first = f"{name} is {faster_than(lead)} the runner-up, {runner}"
    little = "" if least is None else f", perhaps by less than {short(100 * least)} %"
    more = "" if beyond is None else f"{faster_than(beyond[0])} {beyond[1]}"
    if little and more:
        return f"{first}{little}.", f"It is {more}."
    return f"{first}{little}{f', and {more}' if more else ''}.", ""


def many_lead(
    names: Sequence[str], worth: tuple[float, str] | None, *, same: bool, after: str
) -> tuple[str, str]:
    """The headline where several share first place.

    Args:
        names: theirs.
        worth: their lead over the baseline, as a log ratio, and that one's name.
        same: whether no difference among them matters.
        after: who comes next.
    """
    over = "" if worth is None else f", about {faster_than(worth[0])} {worth[1]}"
    why = "No difference among them matters." if same else "Too close to rank among themselves."
    return f"{listed(names, MOST_NAMED)} share first place{over}.", f"{why} {after}"


def next_after(name: str, behind: float, *, amount: bool) -> str:
    """Who comes after a leading group, that being ``behind`` times as fast."""
    if behind >= TWICE:
        return f"They are {short(behind, 2)} times as fast as the next, {name}."
    if amount:
        return f"The next, {name}, comes to {format_percent(100.0 * (1.0 - 1.0 / behind))} % less."
    return f"The next, {name}, takes {format_percent(100.0 * (behind - 1.0))} % longer."


def ahead_by_bound(names: Sequence[str]) -> str:
    """Who is ahead of all that was timed by a bound alone; empty for nobody."""
    if not names:
        return ""
    are = "is" if len(names) == 1 else "are"
    return f" By a bound alone, {' and '.join(names)} {are} faster still."


MAY_BE_FASTER = " One that is known by a bound only may be faster still."


def say_shared(first: int, last: int, *, same: bool) -> str:
    """That rows share their ranks, counted from 0; ``same`` where no difference matters."""
    how = "share first place" if first == 0 else "equally fast" if same else "too close to rank"
    return f"{first + 1}–{last + 1} {how}"


def say_saved(lead: float, took: float, step: float, *, several: bool) -> str:
    """What the leading group takes in place of the baseline, and what that saves, in seconds."""
    about = "about " if several else ""
    instead = f"{about}{format_elapsed(lead, step)} instead of {format_elapsed(took, step)}"
    return f"{instead[0].upper()}{instead[1:]}. {format_span(took - lead)} saved each time."


# ── Beside the ranking, and below it ──


def say_bounds(over: float | None, under: float | None, *, amount: bool) -> str | None:
    """What bounds say of a setup on a task, the tightest of each side."""
    parts = [
        f"{words} {short(value) if amount else format_elapsed(value)}"
        for value, words in ((over, "more than"), (under, "less than"))
        if value is not None
    ]
    return " and ".join(parts) or None


def say_by_bound(
    bound: str | None, at_least: float | None, at_most: float | None, base: str | None
) -> str:
    """What a bound says of a setup against the baseline."""
    parts = [
        f"{words} {format_ratio(ratio)} times as fast as {base}"
        for words, ratio in (("at least", at_least), ("at most", at_most))
        if ratio is not None and base is not None
    ]
    words = " and ".join(parts) or "not tied to the baseline"
    return f"{bound}: {words}, by a bound alone" if bound else f"{words}, by a bound alone"


def say_by_notes(notes: Sequence[tuple[NotedRatio, tuple[str, str], str]]) -> str:
    """What was noted of a setup: ratios with the names of the two, and where each is from."""
    said = "; ".join(f"{say_note(ratio, *names)} ({source})" for ratio, names, source in notes)
    return f"noted: {said}"


NOT_THE_SAME_JOB = "not the same job as the baseline's"


def another_job(task: str | None, condition: str, sides: tuple[str, str] | None) -> str:
    """What makes a setup's job another than the baseline's; ``task`` is named on the mix."""
    on = "" if task is None else f" on {task}"
    what = "" if sides is None else f", {sides[0]} against {sides[1]}"
    return f"{NOT_THE_SAME_JOB}{on}: {condition} differs{what}"


def tied_to_nothing(bound: str) -> str:
    """That a setup has a bound only, and nobody to hold it against."""
    return f"only a bound, linked to nothing here: {bound}"


def on_a_bound(task: str, bound: str | None) -> str:
    """A task of which only a bound is known."""
    return f"{task} ({bound})"


@dataclass(frozen=True, slots=True)
class Failures:
    """Failures that keep a setup off a ranking: how many tries, and the reasons told."""

    tries: int
    reasons: tuple[str, ...]


def why_off(
    lacks: Sequence[str],
    cannot: Sequence[str],
    bounded: Sequence[str],
    failures: Failures,
    *,
    mix: bool,
) -> str:
    """Why a setup is not on a ranking: tasks it lacks, failed, or is known by a bound on."""
    reasons = []
    if bounded:
        reasons.append(f"known by a bound alone on {listed(bounded, 3)}")
    if cannot:
        on = f" on {listed(cannot, 3)}" if mix else ""
        told = f": {'; '.join(failures.reasons)}" if failures.reasons else ""
        reasons.append(f"failed{on} {failures.tries} of {failures.tries}{told}")
    if lacks:
        reasons.append(f"not tested on {listed(lacks, 3)}" if mix else "not tested")
    if not reasons:
        reasons.append("tested only in another round; no machine links it to the baseline's")
    return "; ".join(reasons)


def say_assumed(ratio: float, base: str, source: str | None) -> str:
    """What is said of a setup that was not measured, and by whom."""
    return f"; claimed: {fixed(ratio, 2)} times as fast as {base} ({source})"


def say_mend(
    task: str, setup: str, seconds: float | None, more: int, *, tied: bool, again: bool
) -> str:
    """The run that would bring a setup onto a ranking.

    Args:
        task: to be run.
        setup: on which.
        seconds: that a run usually takes.
        more: tasks that are missing after it.
        tied: whether rounds are linked to the others already.
        again: whether the task failed before.
    """
    after = f", then {count_of(more, 'more task')}" if more and tied else ""
    about = "" if seconds is None else f" (about {max(1, round(seconds / 60))} min)"
    tie = "" if tied else " in the latest round, to link it to the others"
    return f"run {task} on {setup}{' once more' if again else ''}{tie}{about}{after}"


def ranks_between(low: int, high: int) -> str:
    """Ranks that a setup may have.

    Example:
        >>> ranks_between(2, 2), ranks_between(1, 3)
        ('2', '1–3')
    """
    return f"{low}" if low == high else f"{low}–{high}"
