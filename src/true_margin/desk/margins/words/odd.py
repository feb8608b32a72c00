"""An odd result in words: what it is, how far off, what may be the cause, and two bars."""

from __future__ import annotations

import math
from dataclasses import dataclass

from true_margin.core.numerals import fixed
from true_margin.core.out_of_line import Finding, FindingKind
from true_margin.core.wording import count_of, faster_than, format_percent, percent_faster
from true_margin.desk.margins.words.pairs import name_round


@dataclass(frozen=True, slots=True)
class OddBar:
    """One of the two numbers of an odd result: whose it is, how long, and as it is written."""

    label: str
    value: float
    words: str


@dataclass(frozen=True, slots=True)
class OddWords:
    """An odd result in words.

    ``headline`` says what is odd and ``rest`` how far; ``bars`` are the two numbers, of what
    ``measured`` says; ``causes`` are the usual ones, each short enough to be ticked.
    """

    headline: str
    rest: str
    causes: tuple[str, ...]
    measured: str = ""
    bars: tuple[OddBar, ...] = ()


@dataclass(frozen=True, slots=True)
class OddNames:
    """What an odd result is about, by name; empty where it is about none.

    ``app`` and ``other_app`` are those of its tasks, ``round`` is the one before an update, and
    ``rounds`` are those that a result is estimated from, as they stand in a sentence.
    """

    a: str
    b: str
    task: str
    app: str
    other_app: str
    round: str
    rounds: str


def say_odd(finding: Finding, names: OddNames) -> OddWords:
    """Say an odd result in words."""
    return _WORDS[finding.kind](finding, names)


def _better_loses(finding: Finding, names: OddNames) -> OddWords:
    a, b, task = names.a, names.b, names.task
    slower = format_percent(percent_faster(-finding.value))
    return OddWords(
        f"{a} should win on {task} but is {slower} % slower than {b},",
        "although every spec is equal or better.",
        ("heat", "power mode", "a background program", "a full drive"),
        f"time on {task}, {b} = 1",
        (_ratio_bar(a, -finding.value), _ratio_bar(b, 0.0)),
    )


def _app_ratio(finding: Finding, names: OddNames) -> OddWords:
    a, app, other = names.a, names.app, names.other_app
    far = "far more" if finding.value > finding.limit else "little"
    if finding.value < 0 < finding.limit:
        far = "nothing"
    return OddWords(
        f"{a} gains {far} from {app}:",
        f"{_than(finding.value)} in {other}; the others: {_against(finding.limit)}.",
        ("a different encoder", "a different app version", "heat", "power mode"),
        f"{names.task}, in {app} against {other}",
        _changes((a, finding.value), ("the others", finding.limit)),
    )


def _nothing_apart(_: Finding, names: OddNames) -> OddWords:
    return OddWords(
        f"{names.task}: every machine takes the same time.",
        "",
        ("another bottleneck", "too short a task"),
    )


def _bridge(finding: Finding, names: OddNames) -> OddWords:
    a, app = names.a, names.app
    # δ says how the earlier round differs; since then everything is −δ faster.
    own, rest = -finding.value, -finding.limit
    since = f" since {name_round(names.round)}" if names.round else ""
    return OddWords(
        f"{a} gained {'more' if own > rest else 'less'} from the {app} update than the others:",
        f"{_change(own)}{since}, not {_change(rest)}.",
        ("another version", "the machine was in another state in one of the rounds"),
        f"by the {app} update",
        _changes((a, own), ("the others", rest)),
    )


def _carried(_: Finding, names: OddNames) -> OddWords:
    return OddWords(
        f"{names.a}'s lead over {names.b} on {names.task} rests on an estimate",
        f"from {names.rounds}. One new run settles it.",
        ("not timed again since the update",),
    )


def _restless(finding: Finding, names: OddNames) -> OddWords:
    a = names.a
    factor = fixed(finding.value, 1)
    return OddWords(
        f"{a}'s times vary {factor} times as much as the others'.",
        "",
        ("heat", "a background program"),
        "how much the times of a task vary",
        (OddBar(a, finding.value, factor), OddBar("the others", 1.0, "1")),
    )


def _than(log_ratio: float) -> str:
    """How much faster or slower, up to what it is compared with."""
    if log_ratio >= 0:
        return faster_than(log_ratio)
    return f"{format_percent(percent_faster(-log_ratio))} % slower than"


def _against(log_ratio: float) -> str:
    """How much faster or slower, with nothing that it is compared with."""
    return _than(log_ratio).removesuffix(" than").removesuffix(" as")


def _change(log_ratio: float) -> str:
    """What an update did, in per cent."""
    word = "faster" if log_ratio >= 0 else "slower"
    return f"{format_percent(percent_faster(abs(log_ratio)))} % {word}"


def _changes(*sides: tuple[str, float]) -> tuple[OddBar, ...]:
    """Bars of gains in per cent; of ratios where somebody lost, which no bar from 0 can show."""
    if all(value >= 0 for _, value in sides):
        return tuple(
            OddBar(label, 100 * math.expm1(value), f"{format_percent(percent_faster(value))} %")
            for label, value in sides
        )
    return tuple(_ratio_bar(label, value) for label, value in sides)


def _ratio_bar(label: str, log_ratio: float) -> OddBar:
    return OddBar(label, math.exp(log_ratio), fixed(math.exp(log_ratio), 2))


_WORDS = {
    FindingKind.BETTER_LOSES: _better_loses,
    FindingKind.APP_RATIO: _app_ratio,
    FindingKind.NOTHING_APART: _nothing_apart,
    FindingKind.BRIDGE: _bridge,
    FindingKind.CARRIED: _carried,
    FindingKind.RESTLESS: _restless,
}


def say_count(unsettled: int, *, any_found: bool) -> str:
    """How many odd results nobody settled yet."""
    if unsettled == 0:
        return "Every odd result was looked into." if any_found else "Nothing looks odd."
    verb = "does" if unsettled == 1 else "do"
    return f"{count_of(unsettled, 'result')} {verb} not fit the others."


def check_first(results: int, setup: str, task: str) -> str:
    """Which runs to look at first, as several odd results rest on them."""
    return f"{results} of them rest on the same runs: {setup}, {task}. Check those first."


def run_again(setup: str) -> str:
    """What to run for that."""
    return f"Run {setup} again"
