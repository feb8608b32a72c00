"""A person's word on whether it was the same work: kept with the reason, withdrawn with one."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.choices import JudgedAs
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.store import judgements, records, shootouts, tasks
from true_margin.store.database import Database
from true_margin.store.shootout_lookup import home_of


def judge(
    database: Database, task_id: UUID, fields: Mapping[str, Any], who: str
) -> records.Judgement:
    """Keep what a person says of a setup on a task, of two setups on it, or of two tasks.

    Args:
        database: where the shootout is.
        task_id: the task, or one of two.
        fields: ``judged_as``, and what it is about: ``part`` and ``setup_id`` of what was looked
            at; else ``reason`` with either ``setup_id`` and ``other_setup_id`` or
            ``other_task_id``.
        who: who says so.

    Raises:
        RefusedError: it is about nothing that can be the same, or the same was said already.
    """
    own = {name: value for name, value in fields.items() if value is not None}
    _check(own)
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        _check_home(session, home, own)
        told = {**own, "task_id": task_id, "who": who, "noted_at": datetime.now(UTC)}
        key = judgements.add_judgement(session, told)
        known = judgements.list_judgements(session, home)
        kept = next(each for each in known if each.id == key)
        if any(_said_already(each, kept) for each in known):
            raise RefusedError("judged_as", "This was said already, and still stands.")
        # What was said before of the same two is replaced by this, and stays on record.
        for each in known:
            if each.id != key and each.withdrawn_at is None and _about(each) == _about(kept):
                judgements.withdraw_judgement(session, each.id, datetime.now(UTC), "said anew")
        shootouts.bump_revision(session, home)
        return kept


def _check(told: Mapping[str, Any]) -> None:
    looked = told["judged_as"] == JudgedAs.LOOKED
    if looked and ("part" not in told or "setup_id" not in told):
        raise RefusedError("part", "Say on which setup you looked, and at what.")
    if looked and ("other_task_id" in told or "other_setup_id" in told):
        raise RefusedError("setup_id", "What was looked at is of one setup.")
    if looked:
        return
    if "part" in told:
        raise RefusedError("part", "A part is said only of what was looked at.")
    if "reason" not in told:
        raise RefusedError("reason", "Say why: the reason is printed wherever it counts.")
    setups = {"setup_id", "other_setup_id"} & told.keys()
    if len(setups) == 1 or bool(setups) == ("other_task_id" in told):
        raise RefusedError("other_setup_id", "It is about two setups of a task, or two tasks.")


def _check_home(session: Session, home: UUID, told: Mapping[str, Any]) -> None:
    for name in ("setup_id", "other_setup_id"):
        if name in told and home_of(session, "setups", told[name]) != home:
            raise RefusedError(name, "This setup is not in this shootout's line-up.")
    other = told.get("other_task_id")
    if other is not None and tasks.task_home(session, other) != home:
        raise RefusedError("other_task_id", "This task is not in this shootout.")


def _about(word: records.Judgement) -> tuple[object, ...]:
    return (word.task_id, word.other_task_id, word.setup_id, word.other_setup_id, word.part)


def _said_already(known: records.Judgement, word: records.Judgement) -> bool:
    return (
        known.id != word.id
        and known.withdrawn_at is None
        and (*_about(known), known.judged_as, known.reason)
        == (*_about(word), word.judged_as, word.reason)
    )


def withdraw(database: Database, judgement_id: UUID, why: str) -> records.Judgement:
    """Say that a word counts no more, and why; it stays on record.

    Raises:
        NotFoundError: no such word.
    """
    with transaction(database) as session:
        home = tasks.task_home(session, judgements.judgement_task(session, judgement_id))
        judgements.withdraw_judgement(session, judgement_id, datetime.now(UTC), why)
        shootouts.bump_revision(session, home)
        known = judgements.list_judgements(session, home)
    kept = next((each for each in known if each.id == judgement_id), None)
    if kept is None:
        raise NotFoundError(f"There is no word {judgement_id}.")
    return kept
