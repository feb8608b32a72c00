"""Sentences of Updates: what an update did, how well machines agree, which rounds are one."""

from __future__ import annotations

from collections.abc import Sequence

from true_margin.core.cells import Basis
from true_margin.core.numerals import fixed, short
from true_margin.core.wording import format_percent, interval_words, listed, percent_faster
from true_margin.desk.margins.words.pairs import name_round

TOO_FEW_BRIDGES = (
    "Too few machines were tested before and after to know how far estimates from older rounds "
    "may be off."
)


def say_update(
    app: str,
    versions: tuple[str | None, str | None],
    rounds: tuple[str, str],
    effect: tuple[float, float, float],
) -> str:
    """What an update did.

    Args:
        app: that was updated.
        versions: before and after it; None where they were not noted.
        rounds: names of those before and after it.
        effect: log ratio of speeds, after over before, with its interval.
    """
    delta, lo, hi = effect
    was, now = versions
    updated = now is not None and now != was
    if lo <= 0 <= hi:
        what = f"{app} {now}" if updated else f"{app} in {name_round(rounds[1])}"
        than = was if updated and was else name_round(rounds[0])
        return f"No difference found between {what} and {than}."
    word, d, a, b = ("faster", delta, lo, hi) if delta > 0 else ("slower", -delta, -hi, -lo)
    size = f"{format_percent(percent_faster(d))} % {word}"
    range_ = interval_words(a, b)
    if updated:
        return f"The update to {app} {now} made it {size} ({range_})."
    later, earlier = (name_round(name) for name in (rounds[1], rounds[0]))
    return f"{app} was {size} in {later} than in {earlier} ({range_})."


def say_uneven(cv: float, basis: Basis) -> str:
    """How much machines differ in what they gain from an update."""
    return (
        f"Machines differ by about {fixed(100 * cv, 1)} % in what they gain from an update "
        f"({basis.value}); estimates from older rounds allow for that."
    )


def say_misfit(p: float, *, disagree: bool) -> str:
    """How well the machines agree that were tested before and after."""
    if disagree:
        chance = f"less than {short(0.1)} %" if p < 0.001 else f"{format_percent(100 * p)} %"
        return (
            f"The update helped some machines more than others: chance alone would rarely do "
            f"this ({chance})."
        )
    return (
        "The machines tested before and after agree as well as their runs allow "
        f"(p = {fixed(p, 2)})."
    )


def say_merge(one: str, other: str) -> str:
    """That two rounds could be one."""
    return (
        f"{one} and {other} were run with the same app versions: as one round their runs count "
        f"together."
    )


def say_carried(setup: str, tasks: Sequence[str]) -> str:
    """On which tasks a setup has figures from earlier rounds only."""
    return f"{setup}: {listed(tasks, 3)}"
