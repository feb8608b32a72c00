"""Every rule of the database has a sentence for whoever breaks it."""

from __future__ import annotations

import importlib
import pkgutil

from sqlalchemy import CheckConstraint

import true_margin.store
from true_margin.desk.errors import _BROKEN, _ENDINGS
from true_margin.store.base import Base

NEVER_MET = {
    # Kept by the code that writes these rows; nobody types them.
    "ck_invitations_role_or_person", "ck_overrules_pair_ordered", "ck_marks_says_something",
}  # fmt: skip


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
