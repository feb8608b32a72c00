"""Sentences of the script about how editing felt, held against the log of what was seen."""

from __future__ import annotations

from true_margin.core.claims.check import Checked
from true_margin.core.claims.feel import (
    FeelClaim,
    judge_fault,
    judge_grade,
    read_feel,
    say_fault,
    say_grade,
)
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.entry_line import Match, MatchState, match_name
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import log_of

LEAST_SHORT = 3
"""A short name has so many signs at least: "it" and "he" are no machines."""


def check_feel(book: Book, text: str, other_names: dict[str, int]) -> Checked | None:
    """Judge a sentence about how editing felt or what went wrong; None where it is none.

    Args:
        book: whose log is asked.
        text: the sentence.
        other_names: names that the reviewer has set for setups.
    """
    claim = read_feel(text)
    if claim is None:
        return None
    setup = _setup(book, claim.who, other_names)
    if setup.state is MatchState.SEVERAL:
        which = ", ".join(book.setups[at].label for at in setup.candidates[:4])
        return Checked(Verdict.ASKED, reason=f"{claim.who} may mean {which}: say which.")
    if setup.index is None:
        # The other grammar says what it does not know.
        return None
    app = claim.app
    if app is not None:
        apps = list(dict.fromkeys(task.app for task in (*book.tasks, *book.observed)))
        found = match_name(app, apps)
        app = app if found.index is None else apps[found.index]
    if claim.grade is None:
        return _fault(book, claim, setup.index, app)
    return _grade(book, claim, setup.index, app)


def _setup(book: Book, who: str, other_names: dict[str, int]) -> Match:
    own = next((at for name, at in other_names.items() if name.casefold() == who.casefold()), None)
    if own is not None:
        return Match(who, MatchState.ONE, own, (own,))
    labels = [setup.label for setup in book.setups]
    if len(who) < LEAST_SHORT and who.casefold() not in {label.casefold() for label in labels}:
        return Match(who, MatchState.NONE)
    return match_name(who, labels)


def _grade(book: Book, claim: FeelClaim, at: int, app: str | None) -> Checked:
    assert claim.grade is not None
    setup = book.setups[at]
    noted = []
    for feel in log_of(book).feels:
        if feel.setup_id != setup.id or (app is not None and feel.app != app):
            continue
        for row in feel.rows:
            last = next((cell for cell in reversed(row.cells) if cell is not None), None)
            if row.what == claim.what and last is not None:
                noted.append(last.grade)
    verdict, worst = judge_grade(claim.grade, noted)
    if worst is None:
        reason = f"Nobody noted how {claim.what} goes on {setup.label}."
        return Checked(verdict, reason=reason)
    say = say_grade(setup.label, worst, claim.what, app)
    reason = "Graded by hand, not timed."
    if len(noted) > 1:
        reason += f" The worst of {len(noted)} counts."
    return Checked(verdict, say=say, reason=reason)


def _fault(book: Book, claim: FeelClaim, at: int, app: str | None) -> Checked:
    setup = book.setups[at]
    noted = sum(
        entry.times or 1
        for entry in log_of(book).entries
        if (entry.setup_id, entry.what, entry.sort) == (setup.id, claim.what, "trouble")
        and entry.withdrawn_why is None
        and (app is None or entry.app == app)
    )
    verdict = judge_fault(claim.times, noted)
    if noted == 0:
        reason = (
            f"No {claim.what} of {setup.label} is noted, which is no proof that there was none."
        )
        return Checked(verdict, reason=reason)
    return Checked(verdict, say=say_fault(setup.label, claim.what, noted, app))
