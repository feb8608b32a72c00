"""What can go wrong in the store, told apart by the constraint's name."""

from __future__ import annotations

from sqlalchemy.exc import IntegrityError


class MissingRowError(LookupError):
    """Nothing has this id.

    Attributes:
        what: kind of thing that was asked for.
    """

    def __init__(self, what: str, key: object) -> None:
        super().__init__(f"no {what} {key}")
        self.what = what
        self.key = key


class StaleVersionError(RuntimeError):
    """The row was changed by someone else since it was read.

    Attributes:
        current: the record as it stands now.
    """

    def __init__(self, what: str, current: object) -> None:
        super().__init__(f"this {what} was changed elsewhere")
        self.what = what
        self.current = current


def constraint_of(error: IntegrityError) -> str:
    """Name the constraint that was violated; empty where the driver gives none."""
    diagnostics = getattr(error.orig, "diag", None)
    return getattr(diagnostics, "constraint_name", None) or ""
