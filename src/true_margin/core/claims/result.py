"""A claim with its verdict."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.claims.forms import Form
from true_margin.core.claims.reading import Reading
from true_margin.core.claims.verdicts import Verdict

NOT_THE_SAME = "not the same"
"""What a screen calls a claim of sameness where one of the two is faster."""
_SAMENESS = (Form.SAME, Form.OPEN)


class Status(StrEnum):
    """How far a sentence was understood."""

    JUDGED = "judged"
    CONFIRM = "confirm"
    """It was read, but not surely: a person is asked whether that is what it says."""
    NOT_UNDERSTOOD = "not understood"


@dataclass(frozen=True, slots=True)
class Checked:
    """A claim with its verdict.

    Attributes:
        verdict: what the data says.
        quantity: what the figure is, such as "times as fast"; None where there is none.
        value, lo, hi: the figure and its interval, in the claim's unit.
        say: a line that holds, to say instead or as well; None where there is none.
        reason: why it was not judged, or what is worth knowing; empty otherwise.
        a, b: indices of the setups, where they are single ones.
        task: index of the task; None for the mix or several.
        cause: the cause that the sentence names.
        of_models: the same for the models that the machines are samples of; None where that
            is no other question.
        models: names of the models, where the claim itself is about models.
        readings: what it was taken to say, a claim each; of a sentence that is not surely read
            what it may say; empty where that cannot be told part by part.
        would_be: the verdict that a sentence not surely read would have, if it says just that.
    """

    verdict: Verdict
    quantity: str | None = None
    value: float | None = None
    lo: float | None = None
    hi: float | None = None
    say: str | None = None
    reason: str = ""
    a: int | None = None
    b: int | None = None
    task: int | None = None
    cause: str | None = None
    of_models: Checked | None = None
    models: tuple[str, ...] = ()
    readings: tuple[Reading, ...] = ()
    would_be: Checked | None = None

    @property
    def shown(self) -> str:
        """The verdict as a screen calls it: that two are the same is never said too small."""
        of_sameness = bool(self.readings) and all(
            each.form in _SAMENESS and not each.denied for each in self.readings
        )
        wrong = of_sameness and self.verdict is Verdict.UNDERSTATED
        return NOT_THE_SAME if wrong else self.verdict.value

    @property
    def status(self) -> Status:
        """How far it was understood."""
        if self.verdict not in (Verdict.UNREAD, Verdict.ASKED):
            return Status.JUDGED
        return Status.CONFIRM if self.readings else Status.NOT_UNDERSTOOD
