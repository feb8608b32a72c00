"""Who is asking, and what they may do: the one place where that is decided."""

from __future__ import annotations

import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from uuid import UUID

from true_margin.desk.errors import transaction
from true_margin.store import shootout_lookup
from true_margin.store.database import Database

BELIEVED_S = 5.0
"""Nothing ever moves to another shootout; only the demo's addresses change hands."""
MOST_BELIEVED = 10_000
_HOMES: dict[tuple[str, str, str], tuple[float, UUID]] = {}
LOCAL_NAME = "local person"


class Right(StrEnum):
    """What a route asks of whoever calls it."""

    NONE = "none"
    """Nothing: it tells nothing about anybody's work."""
    KNOWN = "known"
    """Being somebody: a person who is signed in, or a paired device."""
    READ = "read"
    """Seeing the shootout."""
    WRITE = "write"
    """Working on the shootout; where none is named, on any."""
    OWN = "own"
    """Deciding who else gets in and what the world sees; where none is named, over all."""
    MAKE = "make"
    """Making shootouts: working on all of them."""


_ENOUGH = {
    Right.READ: frozenset({"reader", "editor", "owner"}),
    Right.WRITE: frozenset({"editor", "owner"}),
    Right.OWN: frozenset({"owner"}),
}
_RANK = {"reader": 1, "editor": 2, "owner": 3}


@dataclass(frozen=True, slots=True)
class Who:
    """Somebody who asks.

    Attributes:
        name: that goes into the history of what they change.
        kind: ``local`` (the person at the machine itself), ``person``, ``device`` or
            ``nobody``.
        roles: by shootout; the key None stands for all shootouts.
        person_id: of the account, of a device that of the person who paired it.
        signed_in_id: the browser in which they are signed in.
    """

    name: str
    kind: str
    roles: Mapping[UUID | None, str] = field(default_factory=dict)
    person_id: UUID | None = None
    signed_in_id: UUID | None = None

    def role_in(self, home: UUID | None) -> str | None:
        """The strongest role in a shootout; None stands for all shootouts."""
        found = {self.roles.get(home), self.roles.get(None)} - {None}
        return max(found, key=lambda role: _RANK[str(role)], default=None)

    def may(self, right: Right, home: UUID | None = None) -> bool:
        """Whether they may do something to a shootout, or beside all of them."""
        if self.kind == "local" or right is Right.NONE:
            return True
        if right is Right.KNOWN:
            return self.kind != "nobody"
        if right is Right.MAKE:
            return self.kind == "person" and self.roles.get(None) in _ENOUGH[Right.WRITE]
        if home is None and right is not Right.OWN:
            return any(role in _ENOUGH[right] for role in self.roles.values())
        return self.role_in(home) in _ENOUGH[right]


NOBODY = Who("nobody", "nobody")
LOCAL = Who(LOCAL_NAME, "local")
"""On loopback without accounts there is one person, who may do everything."""


def known_home(database: Database, collection: str, key: UUID | str) -> UUID | None:
    """Which shootout a thing belonged to a moment ago, without asking anybody; None if unknown."""
    known = _HOMES.get((database.url, collection, str(key)))
    return known[1] if known is not None and time.monotonic() - known[0] < BELIEVED_S else None


def find_home(database: Database, collection: str, key: UUID | str) -> UUID | None:
    """Which shootout a thing belongs to; None where there is no such thing.

    Args:
        database: where it is kept.
        collection: first part of its address, such as ``machines``; ``shootouts`` for one itself.
        key: its id, or the name in the address of a shootout.
    """
    known = known_home(database, collection, key)
    if known is not None:
        return known
    with transaction(database) as session:
        if collection == "shootouts":
            home = shootout_lookup.home_of_slug(session, str(key))
        else:
            home = shootout_lookup.home_of(session, collection, UUID(str(key)))
    if len(_HOMES) > MOST_BELIEVED:
        _HOMES.clear()
    if home is not None:
        _HOMES[database.url, collection, str(key)] = (time.monotonic(), home)
    return home
