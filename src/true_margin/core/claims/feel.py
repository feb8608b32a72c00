"""Sentences about how editing felt and what went wrong: read, and judged by what was noted.

They claim no figure. A grade is held against the worst of those that count, a fault against how
often it was noted; that nobody noted one is no proof.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.core.choices import TrialGrade
from true_margin.core.claims.verdicts import Verdict

_GRADES = {
    "is smooth": TrialGrade.SMOOTH,
    "feels smooth": TrialGrade.SMOOTH,
    "stays smooth": TrialGrade.SMOOTH,
    "is slow": TrialGrade.SLOW,
    "feels slow": TrialGrade.SLOW,
    "stutters": TrialGrade.STUTTERS,
    "is unusable": TrialGrade.UNUSABLE,
}
_KINDS = {
    "scrubbing": "scrub",
    "seeking": "seek",
    "playing at full quality": "playback full",
    "playing at half quality": "playback half",
    "playing at a quarter of the quality": "playback quarter",
    "switching pages": "page switch",
    "importing": "import",
    "importing stills": "import of stills",
    "fast forwarding": "fast forward",
}
_FAULTS = {"crashed": "crash", "froze": "freeze", "lost work": "work lost"}
_COUNTS = {"once": 1, "twice": 2, "three times": 3, "four times": 4, "five times": 5}
_ONE = "|".join(re.escape(each) for each in sorted(_KINDS, key=len, reverse=True))
_FELT = re.compile(
    rf"^(?:the\s+)?(?P<who>.{{1,120}}?)\s+(?P<grade>{'|'.join(_GRADES)})\s+(?:when|while)\s+"
    rf"(?P<what>{_ONE})(?:\s+in\s+(?P<app>.{{1,120}}?))?[.!]?$",
    re.IGNORECASE,
)
_WENT = re.compile(
    rf"^(?:the\s+)?(?P<who>.{{1,120}}?)\s+(?P<never>never\s+)?(?P<fault>{'|'.join(_FAULTS)})"
    rf"(?:\s+(?P<times>{'|'.join(_COUNTS)}|\d{{1,4}}\s+times))?"
    r"(?:\s+in\s+(?P<app>.{1,120}?))?[.!]?$",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class FeelClaim:
    """What a sentence says of one setup besides speed.

    Attributes:
        who: the setup, as it is called in the sentence.
        app: the app, as it is called; None for any.
        grade: how ``what`` went; None where a fault is claimed.
        what: what was tried, or the fault.
        times: how often the fault; None where the sentence does not say, 0 for never.
    """

    who: str
    app: str | None
    grade: TrialGrade | None
    what: str
    times: int | None = None


def read_feel(sentence: str) -> FeelClaim | None:
    """Read a sentence about how editing felt or what went wrong; None where it is none.

    Example:
        >>> read_feel("The Pebble stutters when scrubbing in Heddle.")
        FeelClaim(who='Pebble', app='Heddle', grade=<TrialGrade.STUTTERS: 'stutters'>, \
what='scrub', times=None)
        >>> read_feel("Halyard S crashed twice.").times
        2
    """
    text = " ".join(sentence.split())
    if (felt := _FELT.match(text)) is not None:
        grade = _GRADES[felt["grade"].casefold()]
        return FeelClaim(felt["who"], felt["app"], grade, _KINDS[felt["what"].casefold()])
    if (went := _WENT.match(text)) is not None:
        times = 0 if went["never"] else _count(went["times"])
        return FeelClaim(went["who"], went["app"], None, _FAULTS[went["fault"].casefold()], times)
    return None


def _count(words: str | None) -> int | None:
    if words is None:
        return None
    return _COUNTS.get(words.casefold()) or int(words.split()[0])


def judge_grade(said: TrialGrade, noted: Sequence[str]) -> tuple[Verdict, str | None]:
    """Hold a grade against the newest of each condition; gives the verdict and the worst noted.

    Args:
        said: the grade that a sentence claims.
        noted: newest grades of what it is about, under each condition; empty for none.

    Example:
        >>> judge_grade(TrialGrade.SMOOTH, ["smooth", "slow"])
        (<Verdict.OVERSTATED: 'overstated'>, 'slow')
    """
    order = [grade.value for grade in TrialGrade]
    if not noted:
        return Verdict.UNTESTED, None
    worst = max(noted, key=order.index)
    apart = order.index(worst) - order.index(said.value)
    if apart == 0:
        return Verdict.HOLDS, worst
    if said is TrialGrade.SMOOTH:
        return (Verdict.OVERSTATED if apart == 1 else Verdict.BACKWARDS), worst
    if worst == TrialGrade.SMOOTH:
        return Verdict.BACKWARDS, worst
    return (Verdict.UNDERSTATED if apart > 0 else Verdict.OVERSTATED), worst


def judge_fault(said: int | None, noted: int) -> Verdict:
    """Hold how often a fault is said to have happened against how often it was noted.

    Args:
        said: how often; None where a sentence does not say, 0 for never.
        noted: how often it was noted.

    Example:
        >>> judge_fault(None, 2).value, judge_fault(3, 2).value, judge_fault(0, 0).value
        ('holds', 'overstated', 'likely')
    """
    if said == 0:
        return Verdict.LIKELY if noted == 0 else Verdict.BACKWARDS
    if noted == 0:
        return Verdict.UNTESTED
    if said is None or said == noted:
        return Verdict.HOLDS
    return Verdict.OVERSTATED if said > noted else Verdict.UNDERSTATED


def say_grade(who: str, grade: str, what: str, app: str | None) -> str:
    """A sentence about a grade that is read as what it says.

    Example:
        >>> say_grade("Pebble", "slow", "scrub", None)
        'Pebble is slow when scrubbing.'
    """
    doing = next(words for words, kind in _KINDS.items() if kind == what)
    verb = next(words for words, each in _GRADES.items() if each.value == grade)
    return f"{who} {verb} when {doing}{f' in {app}' if app else ''}."


def say_fault(who: str, fault: str, times: int, app: str | None) -> str:
    """A sentence about a fault that is read as what it says.

    Example:
        >>> say_fault("Pebble", "crash", 2, "Heddle"), say_fault("Pebble", "freeze", 7, None)
        ('Pebble crashed twice in Heddle.', 'Pebble froze 7 times.')
    """
    verb = next(words for words, kind in _FAULTS.items() if kind == fault)
    often = next((words for words, n in _COUNTS.items() if n == times), f"{times} times")
    return f"{who} {verb} {often}{f' in {app}' if app else ''}."
