"""Denials: "is not faster than", "never beats": the claim is judged, and its verdict turned."""

from __future__ import annotations

from dataclasses import replace

from true_margin.core.claims.forms import Claim, Form
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import OF_MARGIN, Verdict

_TURNED_NUMBER = {
    Verdict.HOLDS: Verdict.BACKWARDS,
    Verdict.LIKELY: Verdict.NOISE,
    Verdict.OVERSTATED: Verdict.HOLDS,
    Verdict.BACKWARDS: Verdict.HOLDS,
}
_TURNED_PLACE = {
    Verdict.HOLDS: Verdict.BACKWARDS,
    Verdict.LIKELY: Verdict.NOISE,
    Verdict.BACKWARDS: Verdict.HOLDS,
}


def deny(found: Checked, claim: Claim, materiality: float) -> Checked:
    """Judge the denial of a claim that was judged.

    Args:
        found: what the claim itself came to.
        claim: what is denied.
        materiality: log ratios below which no difference matters.
    """
    if found.verdict in (Verdict.UNTESTED, Verdict.ASKED, Verdict.UNREAD):
        return found
    if claim.form is Form.BARE and not claim.degree:
        return replace(found, verdict=_not_faster(found, claim.sign, 1.0 + materiality))
    if claim.form in OF_MARGIN:
        return replace(found, verdict=_TURNED_NUMBER.get(found.verdict, found.verdict))
    if claim.form in (Form.FASTEST, Form.SLOWEST, Form.PLACE):
        return replace(found, verdict=_TURNED_PLACE.get(found.verdict, found.verdict))
    reason = "This denies something that is not read as a denial: say what is so."
    return replace(found, verdict=Verdict.UNREAD, reason=reason)


def _not_faster(found: Checked, sign: int, matters: float) -> Verdict:
    """Whether one is not faster (sign 1), or not slower (−1), by more than matters."""
    if found.lo is None or found.hi is None or found.lo <= 0:
        return Verdict.NOISE
    lo, hi = (found.lo, found.hi) if sign > 0 else (1 / found.hi, 1 / found.lo)
    if hi < matters:
        return Verdict.HOLDS
    return Verdict.BACKWARDS if lo > 1.0 else Verdict.NOISE
