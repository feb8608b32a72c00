"""What the data says of a claim: holds, likely, overstated, understated, within noise, backwards.

Section 11 of the computation page.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from true_margin.core.analysis import Analysis
from true_margin.core.claims.context import ALONE, Around, around_each
from true_margin.core.claims.forms import Claim, Several, Unread
from true_margin.core.claims.grammar import read_claim
from true_margin.core.claims.guess import guess_claims
from true_margin.core.claims.judge import Judge
from true_margin.core.claims.learn import Phrasing, read_learnt
from true_margin.core.claims.models import ModelJudge
from true_margin.core.claims.names import Names
from true_margin.core.claims.negation import deny
from true_margin.core.claims.reading import Reading, ReadingError, claim_of, reading_of
from true_margin.core.claims.result import Checked, Status
from true_margin.core.claims.verdicts import STRENGTH, Verdict

__all__ = ["Around", "Checked", "around_each", "check_line", "judge_readings", "names_of"]


def check_line(
    analysis: Analysis,
    names: Names,
    text: str,
    around: Around = ALONE,
    learnt: Sequence[Phrasing] = (),
) -> Checked | None:
    """Check one line of a script.

    Args:
        analysis: of the study.
        names: what may be named.
        text: the line.
        around: what stands before and after it.
        learnt: phrasings that a person confirmed before.

    Returns:
        The verdict; None where the line claims nothing of this kind.
    """
    claim = read_claim(text, names, around)
    if claim is None:
        return None
    if isinstance(claim, Unread) and not claim.doubted:
        claim = read_learnt(text, names, learnt) or claim
    if isinstance(claim, Unread):
        verdict = Verdict.ASKED if claim.asked else Verdict.UNREAD
        return _with_guess(analysis, names, Checked(verdict, reason=claim.reason), text, around)
    claims = claim.claims if isinstance(claim, Several) else (claim,)
    found = _weakest(analysis, names, claims)
    if found.status is Status.JUDGED:
        return found
    return _with_guess(analysis, names, found, text, around)


def judge_readings(analysis: Analysis, names: Names, readings: Sequence[Reading]) -> Checked:
    """Judge what a person says that a sentence means.

    Raises:
        ReadingError: a part is missing.
    """
    found = _weakest(analysis, names, [claim_of(each, names) for each in readings])
    return replace(found, readings=tuple(readings))


def _weakest(analysis: Analysis, names: Names, claims: Sequence[Claim]) -> Checked:
    """A sentence is as good as the weakest of its claims."""
    each = [_judged(analysis, names, one) for one in claims]
    worst = max(each, key=lambda found: STRENGTH.index(found.verdict))
    read = [reading_of(one) for one in claims]
    whole = tuple(one for one in read if one is not None)
    worst = replace(worst, readings=whole if len(whole) == len(read) else ())
    if len(each) == 1:
        return worst
    said = f"The weakest of {len(each)} claims in one sentence. {worst.reason}".strip()
    return replace(worst, reason=said)


def _with_guess(
    analysis: Analysis, names: Names, found: Checked, text: str, around: Around
) -> Checked:
    """Add what a sentence that was not surely read may say, and what that would come to."""
    claims = guess_claims(text, names, around)
    read = [reading_of(each) for each in claims]
    readings = tuple(each for each in read if each is not None)
    if len(readings) < len(read):
        readings = ()
    try:
        would_be = judge_readings(analysis, names, readings) if readings else None
    except ReadingError:
        # A part is still open: it is asked for, and nothing can be judged before.
        would_be = None
    return replace(found, readings=readings, would_be=would_be)


def _judged(analysis: Analysis, names: Names, claim: Claim) -> Checked:
    if claim.denied and not claim.every:
        found = Judge(analysis, names).judge(replace(claim, denied=False))
        return deny(found, claim, analysis.study.settings.materiality)
    of_models = ModelJudge(analysis, names).judge_models(claim)
    model_of = analysis.study.model_of
    named = (found for found in (claim.a, claim.b) if found is not None and found.model)
    models = tuple(model_of[found.which[0]] for found in named)
    if models:
        return _of_models(claim, models, of_models)
    tested = Judge(analysis, names).judge(claim)
    return replace(tested, cause=claim.cause, of_models=of_models)


def _of_models(claim: Claim, models: tuple[str, ...], judged: Checked | None) -> Checked:
    """A claim that names a model of several samples is about models alone."""
    if judged is not None:
        return replace(judged, cause=claim.cause, models=models)
    reason = f"Nothing of this kind is known of a model: name one of the samples of {models[0]}."
    return Checked(Verdict.UNTESTED, reason=reason, models=models)


def names_of(analysis: Analysis) -> Names:
    """The names of a study alone: each setup is its own machine."""
    study = analysis.study
    tasks = [task.name for task in study.tasks]
    apps = [task.app or task.name for task in study.tasks]
    return Names(study.setups, study.setups, tasks, apps, models=study.models)
