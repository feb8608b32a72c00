"""What a viewer needs of a machine besides speed: filters that come before any rule.

A need names a row of the spec sheet, or something that was observed: noise in dB, failures,
playback, an editing trial, a trouble. A setup that does not meet it, or of which it is not
known, takes no part.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from true_margin.core.choices import PlaybackQuality, TrialGrade, TrialKind, TroubleKind
from true_margin.core.errors import QuantityError
from true_margin.core.numerals import numerals
from true_margin.core.specs import CellKind, Spec, SpecValue, parse_spec, say_spec

NOISE = ("silent", "quiet", "audible", "loud")
PLAYBACK = tuple(PlaybackQuality)[::-1]
GRADES = tuple(TrialGrade)[::-1]
TRIALS = tuple(TrialKind)
TROUBLES = tuple(TroubleKind)
RELATIONS: dict[CellKind, tuple[str, ...]] = {
    CellKind.NUMBER: ("at least", "at most", "is"),
    CellKind.WHOLE: ("at least", "at most", "is"),
    CellKind.MONTH: ("not before",),
    CellKind.LIST: ("includes",),
    CellKind.YES: ("is",),
    CellKind.CHOICE: ("is", "is not"),
    CellKind.TEXT: ("is", "is not", "contains"),
    CellKind.LONG: ("contains",),
}
"""How a row of each kind may be asked for; rows of few words in order take more."""


@dataclass(frozen=True, slots=True)
class Need:
    """One need.

    Attributes:
        about: field of a row; "noise_db", "failures", "playback", "trial:…" or "trouble:…".
        relation: "at least", "at most", "is", "is not", "contains", "includes",
            "not before" or "none".
        value: what is asked for; None with "none".
    """

    about: str
    relation: str
    value: SpecValue | None = None


@dataclass(frozen=True, slots=True)
class Seen:
    """What is known of a setup.

    Attributes:
        rows: values of the spec sheet and of the tested state, by field.
        noise_db: loudest reading; None where none was taken.
        failures: attempts that failed, and attempts in all, voids left out.
        playback: the worst best quality that it held; None where nobody looked.
        trials: newest grade by kind of trial, the worst over tasks.
        troubles: how often each kind was noted.
    """

    rows: Mapping[str, SpecValue] = field(default_factory=dict)
    noise_db: float | None = None
    failures: tuple[int, int] = (0, 0)
    playback: str | None = None
    trials: Mapping[str, str] = field(default_factory=dict)
    troubles: Mapping[str, int] = field(default_factory=dict)


def relations_of(about: str, specs: Iterable[Spec]) -> tuple[str, ...]:
    """How something may be asked for; empty where there is no such thing."""
    if about in ("failures",) or about.removeprefix("trouble:") in TROUBLES:
        return ("none",)
    if about == "noise_db":
        return ("at most",)
    if about == "playback" or about.removeprefix("trial:") in TRIALS:
        return ("at least",)
    spec = next((s for s in specs if s.field == about), None)
    if spec is None:
        return ()
    return ("at most", "is") if about == "noise" else RELATIONS[spec.kind]


def read_need(about: str, relation: str, text: str | None, specs: Iterable[Spec]) -> Need:
    """Read a need as typed.

    Args:
        about: what is asked for.
        relation: how.
        text: the value as typed; None with "none".
        specs: rows of the sheet.

    Raises:
        QuantityError: there is no such row, it cannot be asked for like that, or the value
            is not one of it.

    Example:
        >>> read_need("memory_gb", "at least", "16 GB",
        ...           [Spec("memory_gb", "Memory", kind=CellKind.NUMBER, unit="GB")])
        Need(about='memory_gb', relation='at least', value=16.0)
    """
    rows = list(specs)
    ways = relations_of(about, rows)
    if not ways:
        raise QuantityError(f"{about}: there is no such row in the line-up")
    if relation not in ways:
        raise QuantityError(f"{about}: can be asked for as {' or '.join(ways)}, not {relation!r}")
    if relation == "none":
        return Need(about, relation)
    spec = _spec_of(about, rows)
    value = parse_spec(spec, text or "", numerals())
    if value is None:
        raise QuantityError(f"{spec.title}: say what is needed")
    return Need(about, relation, value)


def _spec_of(about: str, rows: Iterable[Spec]) -> Spec:
    if about == "noise_db":
        return Spec(about, "Noise", kind=CellKind.NUMBER, unit="dB", most=200)
    if about == "playback":
        return Spec(about, "Playback", kind=CellKind.CHOICE, choices=PLAYBACK[1:])
    if about.startswith("trial:"):
        return Spec(about, f"Editing trial, {about[6:]}", kind=CellKind.CHOICE, choices=GRADES[1:])
    return next(s for s in rows if s.field == about)


def say_need(need: Need, specs: Iterable[Spec]) -> str:
    """Write a need in words.

    Example:
        >>> say_need(Need("failures", "none"), [])
        'no failed run'
    """
    if need.about == "failures":
        return "no failed run"
    if need.about.startswith("trouble:"):
        return f"no trouble noted: {need.about[8:]}"
    spec = _spec_of(need.about, specs)
    unit = f" {spec.unit}" if spec.unit and spec.kind in (CellKind.NUMBER, CellKind.WHOLE) else ""
    how = "" if need.relation == "is" else f"{need.relation} "
    return f"{spec.title.lower()} {how}{say_spec(need.value)}{unit}"


def miss(need: Need, seen: Seen, specs: Iterable[Spec]) -> str | None:
    """Say why a setup does not meet a need; None where it does.

    Example:
        >>> miss(Need("failures", "none"), Seen(failures=(2, 9)), [])
        '2 of 9 attempts failed'
    """
    if need.about == "failures":
        failed, tried = seen.failures
        return f"{failed} of {tried} attempts failed" if failed else None
    if need.about.startswith("trouble:"):
        times = seen.troubles.get(need.about[8:], 0)
        return f"{need.about[8:]} noted {times} times" if times else None
    spec = _spec_of(need.about, specs)
    value = _value_of(need.about, seen)
    if value is None:
        return f"{spec.title.lower()} not known"
    if _meets(need, value):
        return None
    unit = f" {spec.unit}" if spec.unit and spec.kind in (CellKind.NUMBER, CellKind.WHOLE) else ""
    return f"{spec.title.lower()} {say_spec(value)}{unit}"


def _value_of(about: str, seen: Seen) -> SpecValue | None:
    if about == "noise_db":
        return seen.noise_db
    if about == "playback":
        return seen.playback
    if about.startswith("trial:"):
        return seen.trials.get(about[6:])
    return seen.rows.get(about)


def _meets(need: Need, value: SpecValue) -> bool:
    asked = need.value
    for words in (NOISE, PLAYBACK, GRADES):
        ordered = need.about in ("noise", "playback") or need.about.startswith("trial:")
        if ordered and value in words and asked in words:
            have, want = words.index(str(value)), words.index(str(asked))
            return {"at least": have >= want, "at most": have <= want}.get(
                need.relation, have == want
            )
    if need.relation == "includes":
        own = {_plain(each) for each in (value if isinstance(value, list) else [value])}
        return {_plain(each) for each in (asked if isinstance(asked, list) else [asked])} <= own
    if isinstance(value, (int, float)) and isinstance(asked, (int, float)):
        return {"at least": value >= asked, "at most": value <= asked}.get(
            need.relation, value == asked
        )
    if need.relation == "not before":
        # A year stands for its last month where it is had, for its first where it is asked.
        return f"{value}-12"[:7] >= f"{asked}-01"[:7]
    if need.relation == "contains":
        return _plain(asked) in _plain(value)
    same = _plain(value) == _plain(asked)
    return not same if need.relation == "is not" else same


def _plain(value: object) -> str:
    return " ".join(str(value).casefold().split())
