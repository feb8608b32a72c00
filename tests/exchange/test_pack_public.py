"""What strangers see of a pack: persons and private words are planted in every text of it."""

from __future__ import annotations

import json
from enum import StrEnum
from pathlib import PurePath
from typing import Any

import pytest
from pydantic import BaseModel

from true_margin.exchange import pack_public
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_public import CREW, for_strangers, is_given_out
from true_margin.exchange.pack_schemas import SCHEMAS

LEFT_OUT = {"scripts", "script_names", "script_answers", "script_phrasings", "pictures"}
PERSON, NOTE = "SECRET-PERSON", "Private: SECRET-NOTE"
TEXTS = [
    (table, column)
    for table, schema in SCHEMAS.items()
    for column, info in schema.model.model_fields.items()
    if table not in LEFT_OUT
    and "str" in str(info.annotation)
    and "Enum" not in str(info.annotation)
]


def is_free(table: str, column: str) -> bool:
    """Whether people write freely in a column, so that nothing refers to it."""
    return column in pack_public._NOTES or (table, column) in pack_public._FREE_NAMES


def planted(pack: Pack) -> Pack:
    """The pack with a person in every place for one, and a private note in every other text."""
    changes: dict[str, Any] = {}
    for table in SCHEMAS:
        rows = [pack.shootout] if table == "shootout" else getattr(pack, table)
        full = [row.model_copy(update=secrets(table, row)) for row in rows]
        changes[table] = full[0] if table == "shootout" else full
    return pack.model_copy(update=changes)


def secrets(table: str, row: BaseModel) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for column in type(row).model_fields:
        value = getattr(row, column)
        if isinstance(value, StrEnum) or (table, column) not in TEXTS:
            continue
        if column in pack_public._PERSONS:
            found[column] = PERSON
        elif column in pack_public._JSON:
            found[column] = json.dumps(
                {"who": PERSON, "note": NOTE, "list": [NOTE, {"who": PERSON}]}
            )
        elif is_free(table, column) and not (value is None and column in pack_public._HALVES):
            found[column] = NOTE + (PurePath(value or "").suffix if column == "name" else "")
    return found


def test_whatever_is_planted_stays_in_the_house(demo_pack: Pack) -> None:
    secret = planted(demo_pack)
    assert sum("SECRET" in row for row in dumped(secret)) > 500
    for row in dumped(for_strangers(secret)):
        assert "SECRET" not in row


def dumped(pack: Pack) -> list[str]:
    rows = [("shootout", pack.shootout.model_dump_json())]
    for table in SCHEMAS:
        if table != "shootout":
            rows += [(table, row.model_dump_json()) for row in getattr(pack, table)]
    return [f"{table} {row}" for table, row in rows]


@pytest.mark.parametrize(("table", "column"), TEXTS, ids=lambda part: part)
def test_somebody_thought_about_every_text(table: str, column: str) -> None:
    """A column that is new is given to nobody until it is named."""
    assert is_given_out(column)


def test_a_column_that_nobody_thought_about_is_given_to_nobody(
    demo_pack: Pack, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(pack_public, "_NOTES", pack_public._NOTES - {"region", "why"})
    price = demo_pack.prices[0].model_copy(update={"region": "the reviewer's own street"})
    given = for_strangers(demo_pack.model_copy(update={"prices": [price]}))
    assert given.prices[0].region is None
    assert {row.why for row in given.revisions} <= {"(private)"}


def test_persons_are_the_crew_and_what_is_no_secret_stays(demo_pack: Pack) -> None:
    given = for_strangers(demo_pack)
    assert {run.who for run in given.runs} == {CREW}
    assert {row.withdrawn_by for row in given.overrules} <= {CREW, None}
    assert [machine.name for machine in given.machines] == [
        machine.name for machine in demo_pack.machines if machine.archived_at is None
    ]
    assert any(price.source for price in given.prices)
