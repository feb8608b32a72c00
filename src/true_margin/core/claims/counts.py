"""Claims that count: in how many tasks a setup is ahead of another, or of all.

Section 11 of the computation page: a count holds where each task is sure, one way or the other.
"""

from __future__ import annotations

from collections.abc import Sequence

from true_margin.core.claims.forms import Claim
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.wording import count_of


def judge_count(
    claim: Claim, verdicts: Sequence[Verdict], nearest: Sequence[bool], who: tuple[str, str | None]
) -> Checked:
    """Judge a count of tasks that are won.

    Args:
        claim: with the count, and out of how many, in its number and its other end.
        verdicts: of being ahead, a task each.
        nearest: whether it leads by the figures alone, a task each.
        who: the names: of the one, and of the other where there is one.
    """
    tasks = len(verdicts)
    said = tasks if claim.number is None else claim.number.value
    out_of = tasks if claim.high is None else claim.high.value
    if out_of != tasks:
        reason = f"{count_of(tasks, 'task')} count here, not {out_of:g}."
        return Checked(Verdict.UNTESTED, reason=reason)
    if Verdict.UNTESTED in verdicts:
        return Checked(Verdict.UNTESTED, reason="Not every task was measured on both.")
    sure = sum(each is Verdict.HOLDS for each in verdicts)
    most = sum(each is not Verdict.BACKWARDS for each in verdicts)
    if sure == most:
        verdict = Verdict.HOLDS
        if said != sure:
            verdict = Verdict.OVERSTATED if said > sure else Verdict.UNDERSTATED
    elif said > most:
        verdict = Verdict.OVERSTATED
    elif said < sure:
        verdict = Verdict.UNDERSTATED
    else:
        verdict = Verdict.LIKELY if said == sum(nearest) else Verdict.NOISE
    one, other = who
    named = "" if other is None else f" {other}"
    verb = "wins" if other is None else "beats"
    on = "" if other is None else "in "
    say = f"{one} {verb}{named} {on}{sure} of {tasks} tasks." if sure == most else None
    return Checked(verdict, "tasks", float(sum(nearest)), float(sure), float(most), say)
