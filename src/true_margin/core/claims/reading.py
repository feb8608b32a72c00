"""A reading: what a sentence is taken to say, in parts that a person can look at and change."""

from __future__ import annotations

from dataclasses import dataclass

from true_margin.core.claims.forms import OF_PRICES, Claim, Form
from true_margin.core.claims.names import NamedThing, Names
from true_margin.core.claims.numbers import Hedge, SpokenNumber
from true_margin.core.errors import CoreError


@dataclass(frozen=True, slots=True)
class Reading:
    """One claim, in parts.

    Attributes:
        form: what it says.
        a, b: indices of the setups; b None for one alone, a None where it is not known which.
        task: index of the task; None for the mix of all.
        number: in the form's unit (ratio, percent, fraction, seconds, money, a place, how many).
        high: the other end of a range, or out of how many.
        hedge: how firmly.
        sign: 1 where a is the faster, or the dearer; −1 the slower, or the cheaper.
        degree: "much", "slightly" or "".
        denied: whether it is said not to be so.
        half_digit: half of the last digit of the number as it was said.
    """

    form: Form
    a: int | None
    b: int | None = None
    task: int | None = None
    number: float | None = None
    high: float | None = None
    hedge: Hedge = Hedge.NONE
    sign: int = 1
    degree: str = ""
    denied: bool = False
    half_digit: float = 0.0


PAIRED = frozenset(
    (
        Form.RATIO,
        Form.FASTER,
        Form.SLOWER,
        Form.LESS_TIME,
        Form.MORE_TIME,
        Form.PART,
        Form.AS_LONG,
        Form.SAVED,
        Form.BARE,
        Form.SAME,
        Form.OPEN,
        Form.EVERY,
        Form.VALUE,
        Form.PRICE_MORE,
        Form.PRICE_PERCENT,
        Form.PRICE_RATIO,
        Form.DEARER,
    )
)
"""Forms that compare two setups."""
NUMBERED = frozenset(
    (
        Form.RATIO,
        Form.FASTER,
        Form.SLOWER,
        Form.LESS_TIME,
        Form.MORE_TIME,
        Form.PART,
        Form.AS_LONG,
        Form.SAVED,
        Form.TIME,
        Form.REAL_TIME,
        Form.PLACE,
        Form.COUNT,
        Form.PRICE,
        Form.PRICE_MORE,
        Form.PRICE_PERCENT,
        Form.PRICE_RATIO,
    )
)
"""Forms that say a number."""
NEEDS_A_TASK = frozenset((Form.SAVED, Form.TIME, Form.REAL_TIME))
"""Forms that belong to one task."""
OF_ALL = frozenset((*OF_PRICES, Form.EVERY, Form.COUNT, Form.VALUE, Form.BEST_VALUE))
"""Forms that belong to no task."""


class ReadingError(CoreError):
    """A reading lacks a part that its form needs."""

    def __init__(self, part: str, reason: str) -> None:
        super().__init__(reason)
        self.part = part


def reading_of(claim: Claim) -> Reading | None:
    """The parts of a claim, where each name stands for one thing.

    Returns:
        None where a person could not change it part by part: several tasks at once, two apps,
        a number said of every task, a limit on the price, a name that nothing has.
    """
    if claim.missing is not None or claim.apps is not None or claim.below is not None:
        return None
    if claim.every:
        return None
    number, high = claim.number, claim.high
    return Reading(
        claim.form,
        None if claim.a is None or not claim.a.which else claim.a.which[0],
        None if claim.b is None or not claim.b.which else claim.b.which[0],
        None if claim.tasks is None else claim.tasks[0],
        None if number is None else number.value,
        None if high is None else high.value,
        claim.hedge,
        claim.sign,
        claim.degree,
        claim.denied,
        0.0 if number is None else number.half_digit,
    )


def claim_of(reading: Reading, names: Names) -> Claim:
    """The claim that a reading, looked at by a person, makes.

    Raises:
        ReadingError: a part is missing that the form needs.
    """
    if reading.a is None:
        raise ReadingError("a", "say which machine is meant")
    if reading.form in PAIRED and reading.b is None:
        raise ReadingError("b", "say what it is compared with")
    if reading.b == reading.a:
        raise ReadingError("b", "this compares a machine with itself")
    if reading.form in NUMBERED and reading.number is None:
        raise ReadingError("number", "say the number")
    if reading.form in NEEDS_A_TASK and reading.task is None:
        raise ReadingError("task", "a time belongs to one task: say on which")
    if reading.form is Form.COUNT and reading.high is None:
        raise ReadingError("high", "say out of how many")

    def named(at: int | None) -> NamedThing | None:
        return None if at is None else NamedThing("S", (at,), names.setups[at])

    def said(value: float | None) -> SpokenNumber | None:
        return None if value is None else SpokenNumber(value, reading.half_digit)

    whole = reading.form in OF_ALL or reading.task is None
    return Claim(
        reading.form,
        named(reading.a),
        named(reading.b) if reading.form in PAIRED or reading.form is Form.COUNT else None,
        None if whole or reading.task is None else (reading.task,),
        number=said(reading.number) if reading.form in NUMBERED else None,
        high=said(reading.high),
        hedge=reading.hedge,
        sign=reading.sign,
        degree=reading.degree,
        denied=reading.denied,
    )
