"""The answer of Picks: the pick with its surety, what came second, why there is none."""

from __future__ import annotations

import math
from dataclasses import dataclass

from true_margin.core.cells import Basis
from true_margin.core.contest import Contest, NoPick, Rule
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed, short
from true_margin.core.picks import Decision
from true_margin.core.samples import UnitSpread
from true_margin.core.wording import (
    TWICE,
    format_elapsed,
    format_percent,
    likelihood,
    listed,
    percent_faster,
    ratio_of,
    say_chance,
)
from true_margin.desk.picks.words.money import say_money, say_round, years_of
from true_margin.store.records.viewers import Viewer

OWN_WORDS = ("the", "a", "an", "my", "our", "your", "their", "his", "her")
"""A name that begins with one of these needs no article."""


@dataclass(frozen=True, slots=True)
class PickContext:
    """What the sentences need to know.

    ``labels`` name the contenders; ``accepted`` are the tasks of which the viewer accepts a
    time, with it in seconds.
    """

    labels: tuple[str, ...]
    accepted: tuple[tuple[str, float], ...]
    materiality: float
    viewer: Viewer
    contest: Contest
    decision: Decision

    def label(self, place: int) -> str:
        """Name of a contender."""
        return self.labels[place]

    def price(self, place: int) -> str:
        """Price of a contender."""
        return say_money(
            int(self.contest.price[place]) * self.contest.market.unit, self.viewer.currency
        )

    def margin(self, a: int, b: int) -> Margin:
        """Margin of one contender over another at this work."""
        return self.contest.speeds.pairs.margin(a, b)

    @property
    def within(self) -> str:
        """The budget that the pick keeps to, in words; empty for none."""
        if self.viewer.budget is None:
            return ""
        return f" under {say_money(self.viewer.budget, self.viewer.currency)}"


def say_what(said: PickContext, pick: int) -> str:
    """What to do: which one to buy, at what price, or which to keep."""
    if pick == said.contest.keep:
        return f"Keep {with_article(said.label(pick))}"
    return f"Buy {with_article(said.label(pick))}, {said.price(pick)}"


def say_no_gain(pick: str, owned: str) -> str:
    """That it is not shown that a pick saves any time over what somebody has."""
    return f"That {with_article(pick)} saves you time over your {owned} is not shown."


def with_article(name: str) -> str:
    """A name as it stands in a sentence that tells somebody to buy it.

    Example:
        >>> with_article("Cairn Brick"), with_article("The loaner"), with_article("my old one")
        ('the Cairn Brick', 'The loaner', 'my old one')
    """
    first = name.split(" ", 1)[0].casefold()
    return name if first in OWN_WORDS else f"the {name}"


def say_surety(chance: float) -> str:
    """How sure the pick is, as a word and its figure."""
    word = likelihood(chance)
    return f"{word[0].upper()}{word[1:]} ({say_chance(chance)})"


def say_pick(what: str, reason: str, surety: str) -> str:
    """The pick as an order, its reason, and how sure that is."""
    return f"{what}. {reason} {surety}."


def say_reason(said: PickContext, pick: int) -> str:
    """Why it is the pick: what would have to be true of another for it not to be."""
    rule = said.contest.viewer.rule
    percent = f"more than {short(100 * said.materiality)} %"
    keep = pick == said.contest.keep
    if rule is Rule.FASTEST:
        return f"Nothing{said.within} is {percent} faster at this work."
    if rule is Rule.VALUE:
        return f"Nothing{said.within} gives {percent} more speed for its money."
    if rule is Rule.WORTH:
        years = years_of(said.viewer.horizon_years)
        # By how much is part of it: the chance beside it is of that, not of nothing at all.
        matters = say_round(said.contest.threshold, said.viewer.currency)
        # Two numbers are as many as a sentence bears: the budget is named, not counted out.
        inside = " within the budget" if said.within else ""
        if keep:
            return f"No upgrade{inside} gains over {matters} in {years}, its price paid."
        return f"Nothing{inside} gains this viewer over {matters} more in {years}."
    limits = ", ".join(
        f"{task} within {format_elapsed(seconds)}" for task, seconds in said.accepted
    )
    return f"It is the cheapest that is fast enough: {limits}."


def say_level(said: PickContext, pick: int, second: int | None) -> str | None:
    """Who is as good as the pick, and what decided; empty where the runner-up alone is."""
    others = [said.label(i) for i in said.decision.group if i != pick]
    if not others or [i for i in said.decision.group if i != pick] == [second]:
        return None
    names = listed(others)
    by = {
        "price": f"{said.label(pick)} costs less"
        if pick != said.contest.keep
        else "keeping it costs nothing",
        "noise": f"they cost the same, and {said.label(pick)} is the quieter",
        "order": f"they cost the same; {said.label(pick)} comes first in the line-up",
    }[said.decision.by]
    are = "is" if len(others) == 1 else "are"
    return f"{names} {are} as good by this rule; {by}."


def say_second(said: PickContext, pick: int, second: int) -> str:
    """What came second, and why it lost."""
    keep = second == said.contest.keep
    name = said.label(second) if keep else f"{said.label(second)} ({said.price(second)})"
    rule = said.contest.viewer.rule
    dearer = int(said.contest.price[second] - said.contest.price[pick]) * said.contest.market.unit
    money = say_money(abs(dearer), said.viewer.currency)
    costs = (
        f"but costs {money} more"
        if dearer > 0
        else f"and costs {money} less"
        if dearer < 0
        else "and costs the same"
    )
    level = said.margin(pick, second).call is Call.LEVEL
    if rule is Rule.FASTEST and level:
        return f"{name} is just as fast {costs}."
    if rule is Rule.ENOUGH:
        return f"{name} is fast enough too {costs}."
    start = f"Keeping {name}" if keep else name
    return f"Runner-up: {start}, {_lost(said, pick, second)}."


def _lost(said: PickContext, pick: int, second: int) -> str:
    rule = said.contest.viewer.rule
    margin = said.margin(pick, second)
    if margin.call is Call.NOT_COMPARABLE:
        return "which did not do the same job, so how far apart the two are is not known"
    if rule is Rule.WORTH:
        worth = said.contest.scores(said.contest.price)
        gap = float(worth[pick] - worth[second])
        half = float(said.contest.half[pick, second])
        money = say_round(abs(gap), said.viewer.currency)
        # How many years is said of the pick itself.
        if gap < 0:
            return f"{money} better over that time, too little to count"
        perhaps = "" if gap > half else "perhaps "
        return f"{perhaps}{money} worse over that time"
    if rule is Rule.VALUE:
        scores = said.contest.scores(said.contest.price)
        log = float(scores[second] - scores[pick])
        part = format_percent(100.0 * abs(1.0 - ratio_of(log)))
        return f"{part} % {'less' if log < 0 else 'more'} speed for the money"
    if margin.call is Call.CLEAR:
        word = "slower" if margin.log_ratio > 0 else "faster"
        if ratio_of(abs(margin.log_ratio)) >= TWICE:
            times = f"{short(ratio_of(abs(margin.log_ratio)), 2)} times as long"
            return f"which takes {times}" if margin.log_ratio > 0 else f"{times} here"
        return f"{format_percent(percent_faster(abs(margin.log_ratio)))} % {word}"
    if margin.call is Call.AHEAD:
        return f"slightly {'slower' if margin.log_ratio > 0 else 'faster'}"
    return "which may be slightly slower or faster (too close to call)"


SAMPLES_ALIKE = (
    "Samples of one model are taken to be alike, as this shootout is set: what holds of the "
    "machines that were timed is said of their models."
)


def say_samples(spread: UnitSpread, names: list[str], machines: float, models: float) -> str:
    """How much less is known of two models than of the two machines that were timed.

    Args:
        spread: how much samples of a model differ.
        names: of the two.
        machines, models: half widths of the two intervals, on the log scale.
    """
    how = {
        Basis.ASSUMED: f"assumed ({fixed(100 * spread.cv, 1)} %)",
        Basis.PARTLY: f"partly measured ({fixed(100 * spread.cv, 1)} %)",
        Basis.MEASURED: f"measured ({fixed(100 * spread.cv, 1)} %)",
    }[spread.basis]
    timed = (
        "One sample of each model was timed, and how much samples differ is "
        if spread.basis is Basis.ASSUMED
        else "How much samples of a model differ is "
    )
    known = [f"± {fixed(100 * math.expm1(half), 1)} %" for half in (machines, models)]
    said = (
        f"{timed}{how}. The ratio of {names[0]} to {names[1]} is known to {known[0]}, that of "
        f"their models to {known[1]}."
    )
    if spread.basis is not Basis.ASSUMED:
        return said
    return f"{said} Where samples are in truth alike, the surety is said too low."


def say_nothing(said_by: NoPick, viewer: Viewer, cheapest: str | None) -> tuple[str, str]:
    """Why there is no pick, and the field to look at."""
    money = "" if viewer.budget is None else say_money(viewer.budget, viewer.currency)
    return {
        NoPick.NO_WORK: (
            "Say how much of each task this viewer does a week: every amount is 0."
            if viewer.weekly
            else "Every weight is 0: give at least one task some weight.",
            "tasks",
        ),
        NoPick.NO_SETUPS: (
            "No machine was tested on all of this work. Time the missing runs, or leave a task "
            "out.",
            "tasks",
        ),
        NoPick.NO_PRICES: (
            "No machine that did this work has a price yet. Add prices to get a pick.",
            "prices",
        ),
        NoPick.NEEDS: (
            "No machine with a price meets all the needs. The list says which each one misses.",
            "needs",
        ),
        NoPick.BUDGET: (
            f"Nothing costs {money} or less"
            + (f": the cheapest is {cheapest}." if cheapest else "."),
            "budget",
        ),
        NoPick.NOT_FAST: (
            "Nothing within the budget is fast enough: accept a longer time, or raise the budget.",
            "accepted",
        ),
        NoPick.NO_WEEKLY: (
            "Money saved needs the weekly work: say how much of each task a week.",
            "tasks",
        ),
        NoPick.NO_LIMIT: ("Say for at least one task which time is fast enough.", "accepted"),
    }[said_by]


def say_keeping(label: str, *, keep: bool) -> str:
    """Who is picked, in a clause."""
    return f"keeping {label}" if keep else label
