"""What of a pack may be seen by strangers."""

from __future__ import annotations

import json
from collections.abc import Collection
from enum import StrEnum
from pathlib import PurePath
from typing import Any

from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_rows import PackRow
from true_margin.exchange.pack_schemas import SCHEMAS

PRIVATE = "private"
"""A text that begins with this word stays in the house."""
CREW = "the crew"
_PERSONS = frozenset({"who", "withdrawn_by"})
"""Columns that hold the name of whoever did something here."""
_NAMES = frozenset(
    {
        "against_machine",
        "against_setup",
        "app",
        "assumed_against_machine",
        "assumed_against_setup",
        "baseline_machine",
        "baseline_setup",
        "content",
        "currency",
        "entry",
        "field",
        "follows",
        "id",
        "inquiry",
        "kind",
        "machine",
        "machine_a",
        "machine_b",
        "model",
        "other_task",
        "own_name",
        "name",
        "owned_machine",
        "owned_setup",
        "relation",
        "round",
        "row",
        "run",
        "setup",
        "setup_a",
        "setup_b",
        "subject",
        "task",
        "timeline",
        "title",
        "version",
        "viewer",
    }
)
"""Columns by which rows know each other, and closed choices: never emptied, or nothing would
belong to anything. Whoever names a machine publishes its name."""
_NOTES = frozenset(
    {
        "about",
        "assumed_source",
        "brought_from",
        "changed",
        "app_version",
        "configuration",
        "coupon",
        "degree",
        "ends_when",
        "fixed_in",
        "measured",
        "link",
        "event",
        "note",
        "outcome",
        "own_kind",
        "pattern",
        "reason",
        "region",
        "seen_under",
        "sender",
        "sentence",
        "source",
        "starts_when",
        "subtitle",
        "timecode",
        "to",
        "suspected",
        "typed",
        "unit",
        "value",
        "why",
        "withdrawn_why",
        "words",
    }
)
"""Columns that people write freely."""
_FREE_NAMES = frozenset(
    {("extras", "name"), ("outputs", "name"), ("timeline_files", "name"), ("cards", "title")}
)
"""Names that nothing refers to: written freely too."""
_HALVES = frozenset({"assumed_source", "outcome", "own_kind", "reason", "withdrawn_why", "words"})
"""Columns without which another one of the row means nothing, such as why a run is void."""
_JSON = frozenset({"before", "conditions", "settings"})
"""Columns that hold JSON, whose texts are held to the same."""


def is_given_out(column: str) -> bool:
    """Whether somebody thought about what strangers see of a column of text; others see nothing.

    Args:
        column: of any table of a pack, one that holds text.
    """
    return column in _PERSONS | _NAMES | _NOTES | _JSON


def for_strangers(pack: Pack) -> Pack:
    """A pack without drafts, private notes, persons, and what is in the archive.

    The script, retired viewers and cards, archived machines with all that was measured on
    them, and screen pictures are left out; texts that begin with "private" are emptied.
    """
    hidden = {machine.name for machine in pack.machines if machine.archived_at is not None}
    retired = {viewer.name for viewer in pack.viewers if viewer.retired_at is not None}
    runs = {run.id for run in pack.runs if run.machine in hidden}
    inquiries = {each.id for each in pack.inquiries if _names(each, hidden)}
    cards = {
        card.place for card in pack.cards if card.retired_at is not None or card.viewer in retired
    }

    def stays(row: PackRow, table: str) -> bool:
        if _names(row, hidden) or getattr(row, "run", None) in runs:
            return False
        if getattr(row, "inquiry", None) in inquiries or getattr(row, "id", None) in inquiries:
            return False
        if table == "viewers":
            return row.name not in retired  # type: ignore[attr-defined]
        if table in ("viewer_tasks", "viewer_needs"):
            return row.viewer not in retired  # type: ignore[attr-defined]
        if table in ("cards", "card_setups"):
            at = row.place if table == "cards" else row.card  # type: ignore[attr-defined]
            return at not in cards
        return True

    left_out = {
        "scripts",
        "script_names",
        "script_answers",
        "script_phrasings",
        "pictures",
        "shootout",
    }
    kept = {
        table: [
            _without_private(table, _without_ties(row, hidden))
            for row in getattr(pack, table)
            if stays(row, table) and not (table == "machines" and row.name in hidden)
        ]
        for table in SCHEMAS
        if table not in left_out
    }
    empty: dict[str, list[PackRow]] = {table: [] for table in left_out - {"shootout"}}
    own = pack.shootout.baseline_machine
    shootout = _without_private("shootout", pack.shootout)
    if own in hidden:
        shootout = shootout.model_copy(update={"baseline_machine": None, "baseline_setup": None})
    used = {row.content for table in ("timeline_files", "outputs") for row in kept[table]}
    contents = {name: content for name, content in pack.contents.items() if name in used}
    return pack.model_copy(update={**kept, **empty, "shootout": shootout, "contents": contents})


def without_files(pack: Pack) -> Pack:
    """A pack without files that came from other programs: they name folders and disks."""
    return pack.model_copy(update={"timeline_files": [], "outputs": [], "contents": {}})


def _names(row: PackRow, machines: Collection[object]) -> bool:
    """Whether a row is about one of these machines."""
    return any(getattr(row, f, None) in machines for f in ("machine", "machine_a", "machine_b"))


def _without_ties(row: Any, machines: Collection[object]) -> Any:
    """A row that refers to one of these machines besides what it is about, without that."""
    ties: dict[str, Any] = {}
    if getattr(row, "owned_machine", None) in machines:
        ties = {"owned_machine": None, "owned_setup": None}
    if getattr(row, "assumed_against_machine", None) in machines:
        ties = {
            "assumed_against_machine": None,
            "assumed_against_setup": None,
            "assumed_ratio": None,
            "assumed_source": None,
        }
    return row.model_copy(update=ties) if ties else row


def _without_private(table: str, row: Any) -> Any:
    changes: dict[str, Any] = {}
    for field, info in type(row).model_fields.items():
        value = getattr(row, field)
        if not isinstance(value, str) or isinstance(value, StrEnum):
            continue
        free = field in _NOTES or (table, field) in _FREE_NAMES
        if field in _PERSONS:
            changes[field] = CREW
        elif field in _JSON:
            changes[field] = json.dumps(_cleaned(json.loads(value)))
        elif (free and is_private(value)) or not is_given_out(field):
            # What may not be empty says that something stood there.
            ending = PurePath(value).suffix if field == "name" else ""
            needed = info.is_required() or field in _HALVES
            changes[field] = f"({PRIVATE}){ending}" if needed else info.default
    return row.model_copy(update=changes) if changes else row


def _cleaned(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: (CREW if k in _PERSONS else _cleaned(v)) for k, v in value.items()}
    if isinstance(value, list):
        return [_cleaned(each) for each in value]
    return None if isinstance(value, str) and is_private(value) else value


def is_private(text: str) -> bool:
    """Whether a text stays in the house.

    Example:
        >>> is_private("Private: lent by a friend"), is_private("lent by a friend")
        (True, False)
    """
    return text.strip().casefold().startswith(PRIVATE)
