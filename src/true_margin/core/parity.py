"""Parity: whether two setups were tested under the same conditions.

Section 10 of the computation page. A difference between two setups is allowed,
confounds the comparison (it may move the time), or breaks it (it is not the same
job); which of the three depends on what the shootout puts on trial.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from types import MappingProxyType

from true_margin.core.numerals import localised
from true_margin.core.wording import format_span

ROOM_APART_C = 5.0
"""Rooms further apart than this may move a time, in °C."""


class Subject(StrEnum):
    """What a shootout puts on trial."""

    MACHINE = "machine"
    PROCESSOR = "processor"
    GRAPHICS = "graphics"
    MEMORY = "memory"
    STORAGE = "storage"
    SYSTEM = "system"
    APP = "app"
    SETTING = "setting"


class Condition(StrEnum):
    """What can differ between two tests."""

    PROCESSOR = "processor"
    GRAPHICS = "graphics"
    MEMORY = "memory"
    DRIVES = "drives"
    SYSTEM = "system"
    DRIVER = "driver"
    APP_VERSION = "app version"
    ENCODER = "encoder path"
    POWER = "power"
    BACKGROUND = "background programs"
    CACHES = "caches"
    BOOT = "fresh boot"
    SCREEN = "screen"
    ROOM = "room temperature"
    TIMING = "how it was timed"
    OWN = "row of our own"
    TIMELINE = "timeline"
    SETTINGS = "export settings"
    OUTPUT = "output"
    WORK = "the job itself"
    SENSITIVE = "what the task is sensitive to"


class Weight(StrEnum):
    """What a difference does to a comparison; the later one weighs more."""

    ALLOWED = "allowed"
    CONFOUNDS = "muddies"
    BREAKS = "breaks"


@dataclass(frozen=True, slots=True)
class Facts:
    """Conditions of one setup on one task; what is not known is left out.

    Attributes:
        values: each known condition in words, or in words by part where it has several
            (source and mode of the power); the room in °C, as a number in text.
        about: conditions in which this setup differs from its machine's others on purpose.
        encoders: encoder paths that the machine could use on this task.
        only_system: True where the machine runs no other operating system.
    """

    values: Mapping[Condition, str | Mapping[str, str]]
    about: frozenset[Condition] = frozenset()
    encoders: frozenset[str] = frozenset()
    only_system: bool = False


@dataclass(frozen=True, slots=True)
class Sensitivity:
    """What moves the time of a task besides the machine, by so many seconds at most.

    Attributes:
        to: a condition, by its words, or anything else.
        up_to_s: seconds.
        why: how it is known; empty where nobody says.
    """

    to: str
    up_to_s: float
    why: str = ""


@dataclass(frozen=True, slots=True)
class ConditionDifference:
    """One condition that differs: what it is on each side, what it does, and why.

    ``sensitive_to`` names what the task is sensitive to where that is why.
    """

    condition: Condition
    here: str
    there: str
    weight: Weight
    why: str = field(default="")
    sensitive_to: str | None = None


_A, _M, _B = Weight.ALLOWED, Weight.CONFOUNDS, Weight.BREAKS
_ORDER = tuple(Subject)
_STATE = (_M,) * 8


def _row(*weights: Weight) -> Mapping[Subject, Weight]:
    return MappingProxyType(dict(zip(_ORDER, weights, strict=True)))


#                                machine processor graphics memory storage system app setting
TABLE: Mapping[Condition, Mapping[Subject, Weight]] = MappingProxyType(
    {
        Condition.PROCESSOR: _row(_A, _A, _M, _M, _M, _M, _M, _M),
        Condition.GRAPHICS: _row(_A, _M, _A, _M, _M, _M, _M, _M),
        Condition.MEMORY: _row(_A, _M, _M, _A, _M, _M, _M, _M),
        Condition.DRIVES: _row(_A, _M, _M, _M, _A, _M, _M, _M),
        Condition.SYSTEM: _row(_M, _M, _M, _M, _M, _A, _M, _M),
        Condition.DRIVER: _row(_M, _M, _M, _M, _M, _A, _M, _M),
        Condition.APP_VERSION: _row(_M, _M, _M, _M, _M, _M, _A, _M),
        Condition.ENCODER: _row(_B, _B, _B, _B, _B, _B, _A, _B),
        Condition.POWER: _row(*_STATE),
        Condition.BACKGROUND: _row(*_STATE),
        Condition.CACHES: _row(*_STATE),
        Condition.BOOT: _row(*_STATE),
        Condition.SCREEN: _row(*_STATE),
        Condition.ROOM: _row(*_STATE),
        Condition.TIMING: _row(*_STATE),
        Condition.OWN: _row(_A, _M, _M, _M, _M, _M, _M, _M),
        Condition.TIMELINE: _row(_B, _B, _B, _B, _B, _B, _B, _B),
        Condition.SETTINGS: _row(_B, _B, _B, _B, _B, _B, _M, _B),
        Condition.OUTPUT: _row(_B, _B, _B, _B, _B, _B, _M, _B),
        Condition.WORK: _row(_B, _B, _B, _B, _B, _B, _B, _B),
        Condition.SENSITIVE: _row(*_STATE),
    }
)
"""What a difference does, before the exceptions that ``weigh`` knows."""

_IF_THE_SETTING = (Condition.ENCODER, Condition.TIMELINE, Condition.SETTINGS, Condition.OUTPUT)
_OWN_PATHS = (Subject.MACHINE, Subject.PROCESSOR, Subject.GRAPHICS, Subject.SYSTEM)


_MEASURED = frozenset(Condition) - {Condition.SYSTEM, Condition.DRIVER, Condition.APP_VERSION}
"""Conditions whose words hold numbers; elsewhere 24.1 is a version, which nobody writes 24,1."""
_DECIMAL = re.compile(r"(?<![\w.])\d+\.\d+(?![\w.])")
_JOB = (Condition.TIMELINE, Condition.SETTINGS, Condition.OUTPUT)


def compare_parity(
    one: Facts,
    other: Facts,
    subject: Subject,
    *,
    across_rounds: bool = False,
    on_trial: frozenset[str] = frozenset(),
    only: Iterable[Condition] = Condition,
) -> tuple[ConditionDifference, ...]:
    """List the conditions that differ between two setups on one task.

    Args:
        one, other: what is known of each; a condition, or a part of one, that only one
            side knows is no difference.
        subject: what the shootout puts on trial.
        across_rounds: True where the two were measured in different rounds, whose
            app versions the fit takes out.
        on_trial: parts that the reviewer puts on trial besides; what is the same job
            stays what it is.
        only: conditions to look at; all of them unless it is given.

    Returns:
        Differences, the heaviest first, then in the order of ``Condition``.

    Reference:
        Computation page, section 10, table of conditions and subjects.
    """
    found = []
    for condition in only:
        parts = _parts_apart(condition, one, other)
        marked = {} if condition in _JOB else {k: v for k, v in parts.items() if k in on_trial}
        rest = {k: v for k, v in parts.items() if k not in marked}
        if rest:
            weight, why = weigh(condition, one, other, subject, across_rounds=across_rounds)
            found.append(ConditionDifference(condition, *_words(condition, rest), weight, why))
        if marked:
            words = _words(condition, marked)
            found.append(
                ConditionDifference(
                    condition, *words, Weight.ALLOWED, "it is marked as what is compared"
                )
            )
    return tuple(sorted(found, key=lambda d: -list(Weight).index(d.weight)))


NOT_NOTED = "not noted"


def add_sensitivities(
    differences: tuple[ConditionDifference, ...],
    one: Facts,
    other: Facts,
    sensitivities: Iterable[Sensitivity],
) -> tuple[ConditionDifference, ...]:
    """Let what a task is sensitive to muddy its pairs, even where it is on trial.

    Only a condition that both sides are known to have alike leaves the pair as it is; what is
    not known never counts as the same.

    Returns:
        The differences, those of the sensitivities with what they may do.
    """
    found = list(differences)
    for each in sensitivities:
        why = f"this task is sensitive to {each.to}, up to {format_span(each.up_to_s)}"
        known = next((c for c in Condition if c.value == each.to.casefold()), None)
        if known is None:
            found.append(
                ConditionDifference(
                    Condition.SENSITIVE, each.to, "", Weight.CONFOUNDS, why, each.to
                )
            )
            continue
        place = next((i for i, d in enumerate(found) if d.condition is known), None)
        if place is not None:
            if found[place].weight is not Weight.BREAKS:
                found[place] = replace(
                    found[place], weight=Weight.CONFOUNDS, why=why, sensitive_to=each.to
                )
        elif known not in one.values or known not in other.values:
            here, there = (_words_of(known, facts) for facts in (one, other))
            found.append(ConditionDifference(known, here, there, Weight.CONFOUNDS, why, each.to))
    return tuple(sorted(found, key=lambda d: -list(Weight).index(d.weight)))


def _words_of(condition: Condition, facts: Facts) -> str:
    parts = _parts(facts.values.get(condition))
    words = ", ".join(f"{part.lower()} {value}".strip() for part, value in parts.items())
    return say_condition(condition, words) or NOT_NOTED


def judged_apart(nearly: bool, reason: str) -> ConditionDifference:
    """What a person's word on two setups does to them, whatever is known of either.

    Args:
        nearly: they did nearly the same; else it was not the same job.
        reason: why, in the person's words.
    """
    weight, said = (Weight.CONFOUNDS, "nearly") if nearly else (Weight.BREAKS, "not")
    words = f"{said} the same, by a person's word"
    return ConditionDifference(Condition.WORK, words, "", weight, reason)


def _parts_apart(condition: Condition, one: Facts, other: Facts) -> dict[str, tuple[str, str]]:
    """Parts of a condition that both sides know and that are not alike."""
    here, there = (_parts(facts.values.get(condition)) for facts in (one, other))
    return {
        part: (here[part], there[part])
        for part in here
        if part in there and _differs(condition, here[part], there[part])
    }


def _parts(value: str | Mapping[str, str] | None) -> Mapping[str, str]:
    if value is None:
        return {}
    return {"": value} if isinstance(value, str) else value


def _words(condition: Condition, parts: Mapping[str, tuple[str, str]]) -> tuple[str, str]:
    """Both sides in words; the name of a part stands before its value where it has one."""
    here, there = (
        ", ".join(
            f"{part.lower()} {pair[side]}" if part else pair[side] for part, pair in parts.items()
        )
        for side in (0, 1)
    )
    return say_condition(condition, here), say_condition(condition, there)


def say_condition(condition: Condition, words: str) -> str:
    """Words of a condition as whoever reads them writes numbers."""
    if condition not in _MEASURED:
        return words
    written = _DECIMAL.sub(lambda found: localised(found[0]), words)
    return f"{written} °C" if condition is Condition.ROOM and written else written


def _differs(condition: Condition, here: str, there: str) -> bool:
    if condition is Condition.ROOM:
        return abs(float(here) - float(there)) > ROOM_APART_C
    return here != there


def weigh(
    condition: Condition, one: Facts, other: Facts, subject: Subject, *, across_rounds: bool
) -> tuple[Weight, str]:
    """Say what a difference in one condition does, and why.

    Returns:
        The weight, and a reason where an exception decided.
    """
    weight = TABLE[condition][subject]
    about = one.about | other.about
    if condition is Condition.ENCODER and subject in _OWN_PATHS:
        if one.encoders & other.encoders:
            return Weight.BREAKS, "both have this hardware encoder, but only one used it"
        return Weight.ALLOWED, "they have no encoder path in common"
    if condition in _IF_THE_SETTING and subject is Subject.SETTING and condition in about:
        return Weight.ALLOWED, "it is the setting on trial"
    if condition is Condition.POWER and subject is Subject.MACHINE and condition in about:
        return Weight.ALLOWED, "this is what the two setups compare"
    if condition is Condition.APP_VERSION and across_rounds and subject is not Subject.SETTING:
        return Weight.ALLOWED, "corrected for the update"
    own_system = one.only_system or other.only_system
    if condition in (Condition.SYSTEM, Condition.DRIVER) and subject is Subject.MACHINE:
        if own_system:
            return Weight.ALLOWED, "they cannot run the same operating system"
        return weight, ""
    return weight, ""


def worst_weight(differences: tuple[ConditionDifference, ...]) -> Weight:
    """The heaviest of some differences; allowed where there is none."""
    order = list(Weight)
    return max((d.weight for d in differences), key=order.index, default=Weight.ALLOWED)
