"""An odd result in words: what it is, how far off, what may be the cause, and two bars."""

from __future__ import annotations

import math
from dataclasses import dataclass

from true_margin.core.numerals import fixed
from true_margin.core.out_of_line import Finding, FindingKind
from true_margin.core.wording import faster_than, format_percent, percent_faster
from true_margin.desk.book.book import Book
from true_margin.desk.margins.pair_words import name_round, rounds_of_carried


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


def say_odd(book: Book, finding: Finding) -> OddWords:
    """Say an odd result in words."""
    return _WORDS[finding.kind](book, finding)


def _names(book: Book, finding: Finding) -> tuple[str, str, str]:
    a, b = ("" if s is None else book.setups[s].label for s in (finding.a, finding.b))
    return a, b, "the mix" if finding.task is None else book.tasks[finding.task].name


def _better_loses(book: Book, finding: Finding) -> OddWords:
    a, b, task = _names(book, finding)
    slower = format_percent(percent_faster(-finding.value))
    return OddWords(
        f"{a} should win on {task} but is {slower} % slower than {b},",
        "although every spec is equal or better.",
        ("heat", "power mode", "a background program", "a full drive"),
        f"time on {task}, {b} = 1",
        (_ratio_bar(a, -finding.value), _ratio_bar(b, 0.0)),
    )


def _app_ratio(book: Book, finding: Finding) -> OddWords:
    a, _, task = _names(book, finding)
    app = "" if finding.task is None else book.tasks[finding.task].app
    other = "" if finding.other_task is None else book.tasks[finding.other_task].app
    far = "far more" if finding.value > finding.limit else "little"
    if finding.value < 0 < finding.limit:
        far = "nothing"
    return OddWords(
        f"{a} gains {far} from {app}:",
        f"{_than(finding.value)} in {other}; the others: {_against(finding.limit)}.",
        ("a different encoder", "a different app version", "heat", "power mode"),
        f"{task}, in {app} against {other}",
        _changes((a, finding.value), ("the others", finding.limit)),
    )


def _nothing_apart(book: Book, finding: Finding) -> OddWords:
    _, _, task = _names(book, finding)
    return OddWords(
        f"{task}: every machine takes the same time.",
        "",
        ("another bottleneck", "too short a task"),
    )


def _bridge(book: Book, finding: Finding) -> OddWords:
    a, _, _ = _names(book, finding)
    app = book.tasks[finding.task].app if finding.task is not None else ""
    # δ says how the earlier round differs; since then everything is −δ faster.
    own, rest = -finding.value, -finding.limit
    since = "" if finding.round is None else f" since {name_round(book.rounds[finding.round].name)}"
    return OddWords(
        f"{a} gained {'more' if own > rest else 'less'} from the {app} update than the others:",
        f"{_change(own)}{since}, not {_change(rest)}.",
        ("another version", "the machine was in another state in one of the rounds"),
        f"by the {app} update",
        _changes((a, own), ("the others", rest)),
    )


def _carried(book: Book, finding: Finding) -> OddWords:
    a, b, task = _names(book, finding)
    setups = [s for s in (finding.a, finding.b) if s is not None]
    return OddWords(
        f"{a}'s lead over {b} on {task} rests on an estimate",
        f"from {rounds_of_carried(book, setups, finding.task)}. One new run settles it.",
        ("not timed again since the update",),
    )


def _restless(book: Book, finding: Finding) -> OddWords:
    a, _, _ = _names(book, finding)
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
