"""The forms that a claim may have: a pattern each, and its reader.

A grammar, not a model: every form is listed here and in ``docs/claims.md``.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.claims.names import NamedThing
from true_margin.core.claims.numbers import Hedge, SpokenNumber


class Form(StrEnum):
    """What a claim says."""

    RATIO = "times as fast"
    FASTER = "% faster"
    SLOWER = "% slower"
    LESS_TIME = "% less time"
    MORE_TIME = "% more time"
    PART = "part of the time"
    AS_LONG = "times as long"
    SAVED = "time saved"
    TIME = "time"
    REAL_TIME = "times real time"
    BARE = "faster"
    SAME = "the same"
    OPEN = "too close to call"
    FASTEST = "the fastest"
    SLOWEST = "the slowest"
    EVERY = "faster in every task"
    VALUE = "better value"
    BEST_VALUE = "the best value"
    PLACE = "place"
    COUNT = "wins so many"
    PRICE = "costs"
    PRICE_MORE = "costs more"
    PRICE_PERCENT = "% dearer"
    PRICE_RATIO = "times the price"
    DEARER = "dearer"
    CHEAPEST = "the cheapest"
    DEAREST = "the dearest"


OF_PRICES = frozenset(
    (
        Form.PRICE,
        Form.PRICE_MORE,
        Form.PRICE_PERCENT,
        Form.PRICE_RATIO,
        Form.DEARER,
        Form.CHEAPEST,
        Form.DEAREST,
    )
)
"""What prices alone say; they are known exactly, and belong to no task."""


@dataclass(frozen=True, slots=True)
class Claim:
    """A sentence that was read.

    Attributes:
        form: what it says.
        a, b: what is compared; b None for one alone.
        tasks: indices that the named task may mean; None where none is named.
        missing: what is named and is not there.
        number: the number, in the form's unit (ratio, percent, fraction, seconds, money, a place,
            how many).
        high: the other end of a range ("50 to 60 %"), or out of how many; None for neither.
        hedge: how firmly.
        sign: of a bare comparative or a saving: 1 where a is the faster (or the dearer), −1 the
            slower (or the cheaper).
        degree: "much", "slightly" or "" of a bare comparative.
        apps: two apps that one setup is compared in.
        cause: the cause that it names.
        denied: whether it is said not to be so.
        every: whether a number, or a denial, is said of every task.
        below: only those that cost less than this take part.
    """

    form: Form
    a: NamedThing | None = None
    b: NamedThing | None = None
    tasks: tuple[int, ...] | None = None
    missing: str | None = None
    number: SpokenNumber | None = None
    hedge: Hedge = Hedge.NONE
    sign: int = 1
    degree: str = ""
    apps: tuple[str, str] | None = None
    cause: str | None = None
    denied: bool = False
    high: SpokenNumber | None = None
    every: bool = False
    below: float | None = None


@dataclass(frozen=True, slots=True)
class Several:
    """Claims of one sentence: it holds where all of them do."""

    claims: tuple[Claim, ...]


@dataclass(frozen=True, slots=True)
class Unread:
    """A sentence that claims something and was not read.

    Attributes:
        reason: why, to be read by a person.
        asked: whether it may mean two things, and the reason says which.
        doubted: whether what stands around it, or how it is written, is the reason: then no
            phrasing that was learnt reads it either.
    """

    reason: str
    asked: bool = False
    doubted: bool = False
