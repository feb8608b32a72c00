"""Sentences about one pair: who is faster, what that rests on, and what would settle it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from true_margin.core.cells import Basis, Spread
from true_margin.core.labels import RESULT
from true_margin.core.margins import Call, Margin
from true_margin.core.notes import say_note
from true_margin.core.numerals import fixed, short
from true_margin.core.samples import UnitSpread
from true_margin.core.settling import Settling
from true_margin.core.study import NotedRatio
from true_margin.core.wording import (
    count_of,
    faster_than,
    format_percent,
    format_span,
    listed,
    say_margin,
)

Names = tuple[str, str]
TOLD_APART = 0.05
"""A setup's factor on the spread that is nearer to 1 is not worth telling."""
OF_BOUNDS = "A bound gives one end: no value, no mean and no chance."
OF_NOTES = "Nobody here knows the runs behind it: it is never clear, ahead or the same speed."


def say_call(margin: Margin, names: Names, materiality: float, *, single: bool) -> str:
    """Say which of two setups is faster, in one sentence with one number at most.

    Args:
        margin: of the first over the second.
        names: theirs.
        materiality: the smallest difference that counts, as a share.
        single: whether there is one run of each; a lead that rests on that is said with it.
    """
    if not single or margin.call is not Call.CLEAR:
        return say_margin(margin, *names, materiality)
    quick, slow = names if margin.log_ratio >= 0 else names[::-1]
    return f"{quick} is about {faster_than(abs(margin.log_ratio))} {slow} (1 run each)."


def name_round(name: str) -> str:
    """A round by its name; some are named after what they are.

    Example:
        >>> name_round("spring"), name_round("round 2")
        ('the spring round', 'round 2')
    """
    return name if name.casefold().startswith("round ") else f"the {name} round"


def say_rounds(names: Iterable[str]) -> str:
    """Rounds that figures come from, the newest first."""
    return listed([name_round(name) for name in names]) or "an earlier round"


def cannot_compare(
    names: Names, *, unmeasured: bool, broken: bool, why: Sequence[str], apart: Sequence[str]
) -> str:
    """Why there is no figure for two setups.

    Args:
        names: theirs.
        unmeasured: one has no run on everything that is asked of.
        broken: they did not do the same job.
        why: what a person says of that.
        apart: what differs in the job.
    """
    if unmeasured:
        words = "one of them was not measured on everything here"
    elif broken:
        words = f"they did not do the same job ({'; '.join((*why, *apart))})"
    else:
        words = "no machine was tested in both of their rounds"
    return f"{names[0]} and {names[1]} cannot be compared: {words}."


def job_differs(condition: str, sides: Names | None) -> str:
    """What differs in a job, with both sides where a reader can tell them apart.

    Example:
        >>> job_differs("codec", ("H.264", "HEVC")), job_differs("edit", None)
        ('codec differs: H.264 against HEVC', 'edit differs')
    """
    told = "" if sides is None else f": {sides[0]} against {sides[1]}"
    return f"{condition} differs{told}"


def say_known(name: str, bound: str | None, runs: int) -> str:
    """What a setup has on a task: its bounds, or how many runs."""
    return f"{name}: {count_of(runs, 'run') if bound is None else bound}"


def say_noted_pair(ratio: NotedRatio, names: Names, source: str) -> str:
    """A pair that was not measured, by what somebody noted."""
    return f"{say_note(ratio, *names)}: noted ({source}), not measured here."


def slower_by(name: str) -> str:
    """Heading of the slower one's loss."""
    return f"{name} slower by"


@dataclass(frozen=True, slots=True)
class Behind:
    """What stands behind a pair's figure, the faster setup's values first.

    ``rounds`` are the names of earlier rounds that it is estimated from, and ``update_cv`` the
    spread allowed for that; ``factors`` are on the spread; ``sensitive`` pairs what a task is
    sensitive to with seconds, of ``between_s``; ``topped_up`` is the plan that was run over.
    """

    names: Names
    runs: tuple[int, int]
    spread: Spread | None
    rounds: tuple[str, ...] | None
    update_cv: float
    factors: tuple[float, float]
    sensitive: tuple[tuple[str, float], ...]
    between_s: float
    fastest: Call | None
    topped_up: int | None
    confidence: float


def say_behind(behind: Behind) -> Iterator[str]:
    """What stands behind a pair's figure, a line each."""
    first, second = behind.names
    yield f"{count_of(behind.runs[0], 'run')} of {first}, {behind.runs[1]} of {second}"
    if behind.spread is not None:
        yield f"Runs vary by {fixed(100 * behind.spread.cv, 1)} % ({behind.spread.basis.value})"
    if behind.rounds is not None:
        yield (
            f"Estimated from {say_rounds(behind.rounds)} "
            f"(± {fixed(100 * behind.update_cv, 1)} % for the update)"
        )
    for name, factor in zip(behind.names, behind.factors, strict=True):
        if abs(factor - 1.0) >= TOLD_APART:
            yield f"{name} varies {fixed(factor, 1)} times as much as the others"
    for what, up_to_s in behind.sensitive:
        between = format_span(behind.between_s)
        whole = up_to_s >= behind.between_s
        part = (
            f"all of the {between}" if whole else f"up to {format_span(up_to_s)} of the {between}"
        )
        yield f"Of what is between them, {what} may make {part}"
    if behind.fastest is not None:
        yield f"By the fastest run of each: {RESULT[behind.fastest]}"
    if behind.topped_up is not None:
        yield (
            f"Runs were added after the plan of {behind.topped_up}: judged at "
            f"{short(100 * behind.confidence)} %"
        )


@dataclass(frozen=True, slots=True)
class OfModels:
    """What is known of the models that two setups are samples of.

    ``variance`` is what samples add, in multiples of σ²; without it they are taken to be alike.
    """

    spread: UnitSpread
    variance: float = 0.0
    se: float = 0.0
    call: Call = Call.OPEN


@dataclass(frozen=True, slots=True)
class Formula:
    """The terms of a margin's working; ``shares`` are of the variance, ``rho`` between runs."""

    margin: Margin
    names: Names
    spread: Spread | None
    prior_df: float
    prior_cv: float
    materiality: float
    shares: tuple[float, float]
    rho: float
    rounding: bool
    models: OfModels | None


def say_formula(terms: Formula) -> Iterator[str]:
    """The working of a margin, a line each."""
    margin, spread = terms.margin, terms.spread
    yield "Log speed is −ln of the time (or +ln of the amount); runs of a cell are averaged."
    if spread is not None:
        yield (
            f"Spread² = (prior {short(terms.prior_df)} × {short(100 * terms.prior_cv)} %² + "
            f"scatter of repeats) / ({short(terms.prior_df)} + {spread.repeat_df}) = "
            f"({fixed(100 * spread.cv, 2)} %)²"
        )
    yield from _allowances(terms)
    df = fixed(margin.df, 1) if math.isfinite(margin.df) else "unlimited"
    apart, error = fixed(margin.log_ratio, 4, signed=True), fixed(margin.se, 4)
    yield f"Difference of log speeds {apart}, standard error {error}"
    level = short(100 * margin.confidence)
    yield f"Student's t at {level} % with {df} degrees of freedom gives the interval"
    yield (
        f"Result {RESULT[margin.call]}: the interval against the smallest difference that counts, "
        f"{short(100 * terms.materiality)} %"
    )
    if terms.models is not None:
        yield _models(terms.models)


def _allowances(terms: Formula) -> Iterator[str]:
    """What widens the interval besides the spread of the task."""
    if any(abs(share - 1.0) > 0.005 for share in terms.shares):
        one, other = (
            f"{name} {fixed(share, 2)}"
            for name, share in zip(terms.names, terms.shares, strict=True)
        )
        yield f"Shares of that variance: {one}, {other} (drawn towards 1)"
    if terms.rho >= 0.005:
        yield f"Neighbouring runs correlate by {fixed(terms.rho, 2)}: means are worth less for it"
    if terms.rounding:
        yield "Rounding is the same in every run: more runs do not average it away"


def _models(models: OfModels) -> str:
    spread = models.spread
    if spread.cv == 0:
        return "Samples of a model are taken to be alike: of the models holds what holds of these"
    return (
        f"Of the models, {fixed(models.variance, 2)} σ² more, σ = {fixed(100 * spread.cv, 1)} % "
        f"({spread.basis.value}) being how much samples differ: standard error "
        f"{fixed(models.se, 4)}, {RESULT[models.call]}"
    )


def say_settling(
    need: Settling,
    have: tuple[int, int],
    names: Names,
    basis: Basis,
    bench_s: float | None,
    materiality: float,
) -> str:
    """What would settle a call that is not clear.

    Args:
        need: runs that it would take.
        have: runs of each that there are.
        names: theirs.
        basis: of the spread that the number rests on.
        bench_s: seconds on the bench for the runs that are missing; None where unknown.
        materiality: the smallest difference that counts, as a share.
    """
    if need.runs_each is None:
        return (
            "More runs will not settle it: the difference is almost exactly "
            f"{short(100 * materiality)} %."
        )
    bench = "some time" if bench_s is None else _bench_time(bench_s)
    if not need.worth_it:
        return f"Not worth it: it would take {need.runs_each} runs on each, {bench}."
    more = [max(0, need.runs_each - n) for n in have]
    # Where nobody has measured how runs scatter, four in ten of such numbers do not do.
    settled = "Likely settled" if basis is Basis.MEASURED else "Perhaps settled"
    if not any(more):
        return f"{settled} by one more run on each."
    (n, name), *rest = [(n, name) for n, name in zip(more, names, strict=True) if n]
    parts = [f"{count_of(n, 'more run')} on {name}", *(f"{n} on {name}" for n, name in rest)]
    return f"{settled} by {listed(parts)}, {bench}."


def _bench_time(seconds: float) -> str:
    if seconds > 5400:
        return f"about {seconds / 3600:.0f} hours"
    return f"about {max(1, round(seconds / 60))} min"


IN_THE_ARCHIVE = "Saved. Its machine is in the archive, so it counts in no figure."


def say_saved_run(label: str, task: str, value: str, pair: str | None) -> str:
    """What a run means that counts; ``pair`` is the sentence on who is nearest to it."""
    return f"{label}: {value}. {f'First run on {task}.' if pair is None else pair}"


def say_saved_as(label: str, task: str, status: str, reason: str | None) -> str:
    """What a run was saved as that does not count."""
    return f"{label} on {task}: saved as {status}, {reason}."


def say_moved(names: Names, was: Call, now: Call) -> str:
    """That a call became another one."""
    return f"{names[0]} against {names[1]}: was {RESULT[was]}, now {RESULT[now]}"


def is_it_a_slip(doubt: str) -> str:
    """Ask about a time that stands out."""
    return f"{doubt} A slip?"


def far_from(value: str, ends: Names, *, own: bool, task: str) -> str:
    """That a time is far from all others: of its own setup, or of the task."""
    known = ends[0] if ends[0] == ends[1] else f"{ends[0]} to {ends[1]}"
    whose = "the other runs" if own else f"the other times on {task}"
    return f"{value} is far from {whose} ({known})."


def off_by(value: str, ratio: float, others: int) -> str:
    """That a time is off from the middle of the setup's others, ``ratio`` times as long."""
    size = format_percent(100 * (ratio - 1 if ratio > 1 else 1 / ratio - 1))
    rest = "the other run" if others == 1 else f"the other {count_of(others, 'run')}"
    return f"{value} is {size} % {'slower' if ratio > 1 else 'faster'} than {rest}."
