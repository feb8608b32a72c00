"""Every rule of the database has a sentence for whoever breaks it."""

from __future__ import annotations

import importlib
import pkgutil

import pytest
from sqlalchemy import CheckConstraint
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.exc import TimeoutError as NoneFreeError

import true_margin.store
from true_margin.desk.errors import _BROKEN, _ENDINGS, DatabaseAwayError, transaction
from true_margin.store.base import Base
from true_margin.store.database import Database

NEVER_MET = {
    # Kept by the code that writes these rows; nobody types them.
    "ck_invitations_role_or_person",
    "ck_overrules_pair_ordered",
    "ck_marks_says_something",
}


def test_every_check_is_said_in_words() -> None:
    for module in pkgutil.iter_modules(true_margin.store.__path__):
        if module.name.startswith("tables"):
            importlib.import_module(f"true_margin.store.{module.name}")
    named = {
        str(rule.name)
        for table in Base.metadata.sorted_tables
        for rule in table.constraints
        if isinstance(rule, CheckConstraint)
    }
    silent = {name for name in named if name not in _BROKEN and not name.endswith(_ENDINGS)}
    assert silent == NEVER_MET
    assert len(named) > 50


@pytest.mark.parametrize(
    ("error", "away"),
    [
        (OperationalError("select 1", {}, Exception("gone")), True),
        (DatabaseError("select 1", {}, Exception("cut off"), connection_invalidated=True), True),
        (NoneFreeError("no connection came free"), True),
        (DatabaseError("select 1", {}, Exception("a fault of ours")), False),
    ],
)
def test_a_connection_that_is_gone_is_said_to_be_that(
    database: Database, error: Exception, away: bool
) -> None:
    with pytest.raises(DatabaseAwayError if away else DatabaseError), transaction(database):
        raise error
