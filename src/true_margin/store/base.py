"""What all tables share: names of constraints, keys, versions."""

from __future__ import annotations

import uuid
from datetime import datetime
from enum import StrEnum
from typing import Any, ClassVar

from sqlalchemy import CheckConstraint, DateTime, ForeignKey, MetaData, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

NAMING = {
    "ix": "ix_%(table_name)s_%(column_0_N_name)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s",
    "pk": "pk_%(table_name)s",
}


class Base(DeclarativeBase):
    """Base of all rows; names constraints so that their errors can be told apart."""

    metadata = MetaData(naming_convention=NAMING)
    type_annotation_map: ClassVar[dict[Any, Any]] = {
        datetime: DateTime(timezone=True),
        dict[str, Any]: JSONB,
        list[str]: JSONB,
        list[dict[str, Any]]: JSONB,
    }


class Keyed:
    """A row with an id of its own."""

    id: Mapped[uuid.UUID] = mapped_column(primary_key=True, default=uuid.uuid4)


class Versioned(Keyed):
    """A row whose changes are counted, so that nobody overwrites another's."""

    version: Mapped[int] = mapped_column(default=1)
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


def shootout_key() -> Mapped[uuid.UUID]:
    """The column that says which shootout a row belongs to."""
    return mapped_column(ForeignKey("shootouts.id", ondelete="RESTRICT"), index=True)


def filled(column: str) -> CheckConstraint:
    """The rule that a text is not blank."""
    return CheckConstraint(f"btrim({column}) <> ''", name=f"{column}_filled")


def one_of(column: str, choices: type[StrEnum]) -> CheckConstraint:
    """A rule that a column holds one of the values of a choice, or nothing."""
    values = ", ".join(f"'{choice.value}'" for choice in choices)
    return CheckConstraint(f"{column} IN ({values})", name=f"{column}_known")
