"""Claims about setups that were not measured: what a bound proves, and what is only noted.

Section 11 of the computation page: a one-sided margin holds what its interval proves and is
otherwise untested; a noted one is untested, with what was noted.
"""

from __future__ import annotations

import math

from true_margin.core.analysis import Analysis
from true_margin.core.bounds import BoundMargin
from true_margin.core.claims.forms import Claim, Form
from true_margin.core.claims.verdicts import MUCH, OF_MARGIN, SLIGHT, Verdict, region
from true_margin.core.margins import Call
from true_margin.core.noted import note_of_pair
from true_margin.core.notes import say_note
from true_margin.core.wording import format_ratio


def judge_bound(claim: Claim, margin: BoundMargin) -> Verdict:
    """Judge a claim by a margin of which one end, or neither, is known to be more.

    Args:
        claim: about the two setups, in this order.
        margin: of the first over the second.
    """
    if claim.number is not None:
        if claim.form not in OF_MARGIN:
            return Verdict.UNTESTED
        turn = OF_MARGIN[claim.form][0]
        lo, hi = sorted((turn(margin.lo), turn(margin.hi)))
        least, most = region(claim.form, claim.number, claim.hedge)
        return Verdict.HOLDS if least <= lo and hi <= most else Verdict.UNTESTED
    if claim.form is Form.SAME:
        return Verdict.HOLDS if margin.call is Call.LEVEL else Verdict.UNTESTED
    if claim.form is Form.OPEN or not claim.sign:
        return Verdict.UNTESTED
    lo, hi = sorted((claim.sign * margin.lo, claim.sign * margin.hi))
    least = math.log(MUCH) if claim.degree == "much" else 0.0
    most = math.log(SLIGHT) if claim.degree and claim.degree != "much" else math.inf
    return Verdict.HOLDS if lo > 0.0 and lo >= least and hi <= most else Verdict.UNTESTED


def say_proven(analysis: Analysis, margin: BoundMargin, task: int) -> str | None:
    """A line that the known end of a margin proves; None where it proves no side."""
    names, on = analysis.study.setups, f" on {analysis.study.tasks[task].name}"
    return say_over(names[margin.a], names[margin.b], (margin.lo, margin.hi), on)


def say_over(a: str, b: str, ends: tuple[float, float], on: str) -> str | None:
    """A line that an interval proves, by its nearer end; None where it holds 1.

    Args:
        a, b: names.
        ends: of the log ratio of their speeds.
        on: which task, to stand at the end.
    """
    least = ends[0]
    if ends[1] < 0.0:
        a, b, least = b, a, -ends[1]
    if least <= 0.0:
        return None
    # Cut, not rounded: what is said must not be more than what is proven.
    proven = math.floor(100.0 * math.exp(least)) / 100.0
    if proven <= 1.0:
        return f"{a} is faster than {b}{on}."
    return f"{a} is over {format_ratio(proven)} times as fast as {b}{on}."


def noted_words(analysis: Analysis, a: int, b: int, task: int) -> str | None:
    """What somebody else says of a pair that nobody measured; None for nothing."""
    found = note_of_pair(analysis.study, task, a, b)
    if found is None:
        return None
    note = found[1]
    names = analysis.study.setups
    said = say_note(note.ratio, names[note.a], names[note.b])
    return f"Noted elsewhere, not measured here: {said} ({note.source})."
