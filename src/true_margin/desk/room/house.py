"""The house: what every new shootout begins with."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from true_margin.core.errors import QuantityError
from true_margin.core.money import check_currency
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import records, room
from true_margin.store.database import Database


def get_house(database: Database) -> records.House:
    """Give what new shootouts begin with."""
    with transaction(database) as session:
        return room.get_house(session)


def change_house(database: Database, version: int, changes: Mapping[str, Any]) -> records.House:
    """Change what new shootouts begin with; those that are there stay as they are.

    Raises:
        RefusedError: the currency is none in use.
    """
    if changes.get("currency") is not None:
        try:
            check_currency(changes["currency"])
        except QuantityError as error:
            raise RefusedError("currency", error.reason) from error
    with transaction(database) as session:
        return room.change_house(session, version, changes)
