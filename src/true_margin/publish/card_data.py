"""What a card shows, as plain values, by its kind."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Heading:
    """The words around a card.

    ``title`` is the finding and ``subject`` what it is about; ``notes`` say what it rests on and
    what it leaves out, the weightiest first.
    """

    title: str
    subtitle: str
    notes: tuple[str, ...]
    source: str
    subject: str = ""


@dataclass(frozen=True, slots=True)
class CardSetup:
    """A setup on a card: its name, its mark, and whether it is to be seen first."""

    label: str
    mark: int
    highlighted: bool = False


@dataclass(frozen=True, slots=True)
class BarRow:
    """A setup's time or amount with its interval; ``beside`` is its ratio and call."""

    who: CardSetup
    value: float
    lo: float
    hi: float
    shown: str
    call: str
    beside: str


@dataclass(frozen=True, slots=True)
class BarCard:
    """Times or amounts as bars from zero; ``amount`` where more is better."""

    heading: Heading
    axis: str
    rows: tuple[BarRow, ...]
    amount: bool = False


@dataclass(frozen=True, slots=True)
class RuleRow:
    """A setup on the rule: times as fast as the baseline; ``lo`` None for the baseline.

    By a bound alone (``call`` is bound) only one of ``lo`` and ``hi`` may be known, and
    ``ratio`` is that end; a ratio that somebody noted (``call`` is noted) may have neither.
    """

    who: CardSetup
    ratio: float
    lo: float | None
    hi: float | None
    shown: str
    call: str


@dataclass(frozen=True, slots=True)
class RuleCard:
    """Margins over a baseline on the rule."""

    heading: Heading
    baseline: str
    materiality: float
    rows: tuple[RuleRow, ...]


@dataclass(frozen=True, slots=True)
class PricePoint:
    """A setup's price and speed; ``over`` where it costs more than the budget."""

    who: CardSetup
    price: float
    shown: str
    ratio: float
    lo: float
    hi: float
    frontier: bool
    pick: bool
    over: bool


@dataclass(frozen=True, slots=True)
class PriceCard:
    """Price against speed, the frontier a stepped line."""

    heading: Heading
    currency: str
    baseline: str
    budget: float | None
    budget_shown: str
    points: tuple[PricePoint, ...]


@dataclass(frozen=True, slots=True)
class PickCard:
    """Which machine for a viewer, in a sentence, with what limits it."""

    heading: Heading
    who: CardSetup | None
    answer: str
    lines: tuple[str, ...]
    facts: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class SpecCard:
    """Specs beside each other; a row is its title, its cells, and whether they differ.

    ``in_block`` is how many setups stand beside each other before a second block begins.
    """

    heading: Heading
    columns: tuple[CardSetup, ...]
    rows: tuple[tuple[str, tuple[str, ...], bool], ...]
    in_block: int


@dataclass(frozen=True, slots=True)
class Progress:
    """A run on the way: elapsed seconds and the fraction done, from its marks to its end."""

    who: CardSetup
    points: tuple[tuple[float, float], ...]
    shown: str
    complete: bool


@dataclass(frozen=True, slots=True)
class ProgressCard:
    """Runs beside each other from their marks."""

    heading: Heading
    runs: tuple[Progress, ...]


@dataclass(frozen=True, slots=True)
class FeelMark:
    """How one thing went on a setup: its grade, and what was counted, in words."""

    grade: str
    counts: str


@dataclass(frozen=True, slots=True)
class FeelCard:
    """How editing felt: a row is what was tried, with a mark for each setup, None for untried.

    ``faults`` says of each setup what went wrong; empty for nothing.
    """

    heading: Heading
    columns: tuple[CardSetup, ...]
    rows: tuple[tuple[str, tuple[FeelMark | None, ...]], ...]
    faults: tuple[str, ...]
    in_block: int


@dataclass(frozen=True, slots=True)
class RaceRun:
    """A run of a race: seconds after its start with the part done then, from (0, 0) to its end.

    ``shown`` is its time, ``behind`` how much later it was done than the first.
    """

    who: CardSetup
    points: tuple[tuple[float, float], ...]
    shown: str
    behind: str
    complete: bool


@dataclass(frozen=True, slots=True)
class RaceCard:
    """One run of each setup on a task, as they went, the first that was done first."""

    heading: Heading
    runs: tuple[RaceRun, ...]


@dataclass(frozen=True, slots=True)
class WorthCard:
    """What a change of machine costs and brings a viewer.

    A figure is what it is, its value, and what is to be known of it besides.
    """

    heading: Heading
    before: CardSetup
    after: CardSetup
    figures: tuple[tuple[str, str, str], ...]


@dataclass(frozen=True, slots=True)
class CorrectionRow:
    """A figure that was published and is another now."""

    who: CardSetup
    task: str
    was: str
    now: str


@dataclass(frozen=True, slots=True)
class CorrectionCard:
    """Figures that were published and are others now."""

    heading: Heading
    rows: tuple[CorrectionRow, ...]


Card = (
    FeelCard
    | BarCard
    | RuleCard
    | PriceCard
    | PickCard
    | SpecCard
    | ProgressCard
    | RaceCard
    | WorthCard
    | CorrectionCard
)
