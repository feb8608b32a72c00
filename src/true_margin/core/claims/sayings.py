"""What a claim can say, as a list to choose from: a form with its side and its strength.

One table for the screen, the words of a reading, and what a person's choice comes to.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from true_margin.core.claims.forms import Form
from true_margin.core.claims.numbers import DURATION, Hedge, read_duration
from true_margin.core.claims.reading import NUMBERED, OF_ALL, PAIRED, Reading, ReadingError
from true_margin.core.numerals import numerals, short
from true_margin.core.study import Study
from true_margin.core.typed_numbers import plain_numbers
from true_margin.core.wording import count_of, format_elapsed


@dataclass(frozen=True, slots=True)
class Saying:
    """One thing that can be said.

    Attributes:
        form, sign, degree: as in a reading.
        words: between the one and the other, with "…" in the place of the number.
    """

    form: Form
    words: str
    sign: int = 1
    degree: str = ""


SAYINGS: Mapping[str, Saying] = {
    "faster": Saying(Form.BARE, "is faster than"),
    "much faster": Saying(Form.BARE, "is much faster than", degree="much"),
    "slightly faster": Saying(Form.BARE, "is slightly faster than", degree="slightly"),
    "slower": Saying(Form.BARE, "is slower than", -1),
    "much slower": Saying(Form.BARE, "is much slower than", -1, "much"),
    "slightly slower": Saying(Form.BARE, "is slightly slower than", -1, "slightly"),
    "times as fast": Saying(Form.RATIO, "is … times as fast as"),
    "percent faster": Saying(Form.FASTER, "is … % faster than"),
    "percent slower": Saying(Form.SLOWER, "is … % slower than"),
    "percent less time": Saying(Form.LESS_TIME, "takes … % less time than"),
    "percent more time": Saying(Form.MORE_TIME, "takes … % more time than"),
    "part of the time": Saying(Form.PART, "takes … % of the time of"),
    "times as long": Saying(Form.AS_LONG, "takes … times as long as"),
    "saves": Saying(Form.SAVED, "saves … over"),
    "later": Saying(Form.SAVED, "is done … after", -1),
    "same": Saying(Form.SAME, "is as fast as"),
    "too close": Saying(Form.OPEN, "is too close to call against"),
    "faster everywhere": Saying(Form.EVERY, "is faster in every task than"),
    "slower everywhere": Saying(Form.EVERY, "is slower in every task than", -1),
    "better value": Saying(Form.VALUE, "is better value than"),
    "takes": Saying(Form.TIME, "takes …"),
    "real time": Saying(Form.REAL_TIME, "runs at … times real time"),
    "fastest": Saying(Form.FASTEST, "is the fastest"),
    "slowest": Saying(Form.SLOWEST, "is the slowest"),
    "place": Saying(Form.PLACE, "is in place …"),
    "wins": Saying(Form.COUNT, "wins … tasks"),
    "best value": Saying(Form.BEST_VALUE, "is the best value"),
    "costs": Saying(Form.PRICE, "costs …"),
    "costs more": Saying(Form.PRICE_MORE, "costs … more than"),
    "costs less": Saying(Form.PRICE_MORE, "costs … less than", -1),
    "percent dearer": Saying(Form.PRICE_PERCENT, "costs … % more than"),
    "percent cheaper": Saying(Form.PRICE_PERCENT, "costs … % less than", -1),
    "times the price": Saying(Form.PRICE_RATIO, "costs … times as much as"),
    "dearer": Saying(Form.DEARER, "is dearer than"),
    "cheaper": Saying(Form.DEARER, "is cheaper than", -1),
    "same price": Saying(Form.DEARER, "costs the same as", 0),
    "cheapest": Saying(Form.CHEAPEST, "is the cheapest"),
    "dearest": Saying(Form.DEAREST, "is the most expensive"),
}
"""Everything that can be said, by its code."""
_SIGNED = frozenset((Form.BARE, Form.SAVED, Form.EVERY, Form.PRICE_MORE, Form.PRICE_PERCENT))
_HEDGES: Mapping[Hedge, str] = {
    Hedge.NONE: "",
    Hedge.ABOUT: "about ",
    Hedge.ALMOST: "almost ",
    Hedge.OVER: "over ",
    Hedge.UNDER: "under ",
    Hedge.UP_TO: "up to ",
}
_OF_TIME = (Form.SAVED, Form.TIME)


def code_of(reading: Reading) -> str:
    """The code of what a reading says."""
    signed = reading.form in _SIGNED or reading.form is Form.DEARER
    own = [code for code, saying in SAYINGS.items() if saying.form is reading.form]
    return next(
        (
            code
            for code in own
            if SAYINGS[code].degree == (reading.degree if reading.form is Form.BARE else "")
            and (not signed or SAYINGS[code].sign == reading.sign)
        ),
        own[0],
    )


def with_saying(reading: Reading, code: str) -> Reading:
    """A reading that says something else of the same.

    Raises:
        ReadingError: nothing has this code.
    """
    saying = SAYINGS.get(code)
    if saying is None:
        raise ReadingError("says", "choose what is said from the list")
    return replace(reading, form=saying.form, sign=saying.sign, degree=saying.degree)


def number_text(form: Form, value: float | None) -> str | None:
    """A number of a reading as a person would type it."""
    if value is None:
        return None
    if form in _OF_TIME:
        return format_elapsed(value) if value >= 60.0 else f"{short(value, 2)} s"
    return short(100.0 * value, 3) if form is Form.PART else short(value, 6)


def read_typed(form: Form, text: str) -> tuple[float, float]:
    """Read a number that a person typed for a form; gives it with half of its last digit.

    Raises:
        ReadingError: it is no number of this kind.
    """
    typed = plain_numbers(text.strip().casefold(), numerals())
    if form in _OF_TIME:
        if not re.fullmatch(DURATION, typed):
            raise ReadingError("number", "type a time, such as 4:45 or 12 s")
        said = read_duration(typed)
        return said.value, said.half_digit
    plain = typed.removesuffix("%").removesuffix("x").strip()
    if not re.fullmatch(r"\d{1,12}(?:\.\d{1,6})?", plain):
        raise ReadingError("number", "type a number, such as 2 or 1.5")
    digits = len(plain.partition(".")[2])
    value, half = float(plain), 0.5 * 10.0**-digits
    return (value / 100.0, half / 100.0) if form is Form.PART else (value, half)


def reading_words(reading: Reading, study: Study) -> str:
    """A reading as one plain sentence, with its task or "on the mix of 5 tasks".

    Example:
        "Brindle Tower is about 2 times as fast as Brindle Slim on the mix of 5 tasks."
    """
    words = SAYINGS[code_of(reading)].words
    number = number_text(reading.form, reading.number)
    if reading.form in NUMBERED and number is not None:
        other = number_text(reading.form, reading.high)
        if other is not None:
            number += f" of {other}" if reading.form is Form.COUNT else f" to {other}"
        words = words.replace("…", _HEDGES[reading.hedge] + number)
    elif reading.hedge is Hedge.UP_TO:
        words = f"{words} at most"
    a = "?" if reading.a is None else study.setups[reading.a]
    b = (
        ""
        if reading.form not in PAIRED and reading.form is not Form.COUNT
        else _other(reading, study)
    )
    on = ""
    if reading.form not in OF_ALL:
        weighted = count_of(sum(weight > 0 for weight in study.mix), "task")
        on = f" on the mix of {weighted}"
        if reading.task is not None:
            on = f" on {study.tasks[reading.task].name}"
    said = f"{a} {words}{b}{on}"
    return f"Not so: {said}." if reading.denied else f"{said}."


def _other(reading: Reading, study: Study) -> str:
    if reading.form not in PAIRED and reading.form is not Form.COUNT:
        return ""
    if reading.b is None:
        return "" if reading.form is Form.COUNT else " ?"
    against = " against" if reading.form is Form.COUNT else ""
    return f"{against} {study.setups[reading.b]}"
