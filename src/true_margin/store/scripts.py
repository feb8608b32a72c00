"""Scripts in the store."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store.rows import insert_row, record_of, update_row
from true_margin.store.tables_publish import ScriptRow


@dataclass(frozen=True, slots=True)
class Script:
    """The script of a shootout; ``verdicts`` by sentence, as a person saw them last.

    ``names`` holds the id of a setup by another name that the reviewer uses for it; ``answers``
    what a person said that a sentence means, by the sentence; ``phrasings`` what was learnt of it.
    """

    id: UUID
    text: str
    verdicts: dict[str, Any]
    names: dict[str, Any]
    answers: dict[str, Any]
    phrasings: dict[str, Any]
    version: int


def get_script(session: Session, shootout_id: UUID) -> Script | None:
    """Get the script of a shootout; None where none was written yet."""
    row = session.scalar(select(ScriptRow).where(ScriptRow.shootout_id == shootout_id))
    return None if row is None else record_of(row, Script)


def list_phrasings(session: Session) -> dict[str, Any]:
    """Every phrasing that was confirmed in any shootout, by its pattern; the newest stands."""
    rows = session.scalars(select(ScriptRow.phrasings).order_by(ScriptRow.created_at))
    return {pattern: each for row in rows for pattern, each in row.items()}


def add_script(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add the script of a shootout: text, verdicts, names, answers, phrasings.

    What was learnt from other shootouts is there from the beginning, where nothing else is given.
    """
    empty: dict[str, Any] = {"text": "", "verdicts": {}, "names": {}, "answers": {}}
    own = {**empty, "phrasings": list_phrasings(session), **fields}
    return insert_row(session, ScriptRow, {**own, "shootout_id": shootout_id})


def change_script(
    session: Session, script: Script, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a script that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session, ScriptRow, script.id, version, changes, what="script", current=lambda: script
    )
