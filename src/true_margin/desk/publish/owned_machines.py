"""Machines that a viewer may own, and kinds of viewers: what pages of answers are made for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.desk.book.book import Book
from true_margin.store import records
from true_margin.store.records.viewers import Viewer

NOTHING_OWNED, ANOTHER = "none", "other"
"""Keys in addresses that no tested machine has."""


@dataclass(frozen=True, slots=True)
class Owned:
    """A machine that a reader may have: its key in addresses, and how it stands in the line-up."""

    key: str
    label: str
    setup: records.Setup | None


def owned_machines(book: Book) -> tuple[Owned, ...]:
    """Every machine that was timed, at its first setup, and "none of these"."""
    found: dict[object, Owned] = {}
    taken: set[str] = {NOTHING_OWNED, ANOTHER}
    for at, setup in enumerate(book.setups):
        machine = book.machine_of[setup.id]
        if machine.id in found or not any(book.index.ok[at, t] for t in range(len(book.tasks))):
            continue
        found[machine.id] = Owned(_key(machine.name, taken), machine.name, setup)
    return (*found.values(), Owned(NOTHING_OWNED, "None of these", None))


def kinds_of(book: Book) -> tuple[tuple[str, Viewer], ...]:
    """Every kind of viewer that answers are made for, with its key in addresses."""
    taken: set[str] = set()
    standing = [viewer for viewer in book.viewers if viewer.retired_at is None]
    return tuple((_key(viewer.name, taken), viewer) for viewer in standing)


def _key(name: str, taken: set[str]) -> str:
    """A name as a part of an address: plain letters, each once."""
    plain = "-".join(
        part for part in "".join(c if c.isascii() and c.isalnum() else " " for c in name).split()
    ).lower()
    plain = plain[:60] or "machine"
    key, again = plain, 2
    while key in taken:
        key, again = f"{plain}-{again}", again + 1
    taken.add(key)
    return key


def first_owned(book: Book, owned: Sequence[Owned]) -> Owned:
    """Whose answers the front page shows: the machine that most viewers have, else the baseline."""
    counts: dict[object, int] = {}
    for viewer in book.viewers:
        if viewer.retired_at is None and viewer.owned_setup_id in book.setup_index:
            setup = book.setups[book.setup_index[viewer.owned_setup_id]]
            key = book.machine_of[setup.id].id
            counts[key] = counts.get(key, 0) + 1
    wanted = max(counts, key=lambda key: counts[key]) if counts else None
    if wanted is None and book.baseline is not None:
        wanted = book.machine_of[book.baseline.id].id
    for each in owned:
        if each.setup is not None and book.machine_of[each.setup.id].id == wanted:
            return each
    return owned[0]


def has_owned(book: Book, viewer: Viewer, owned: Owned) -> bool:
    """Whether a viewer is kept with this machine, in whatever setup of it."""
    has = viewer.owned_setup_id
    if owned.setup is None or has not in book.setup_index:
        return owned.setup is None and has is None
    own = book.setups[book.setup_index[has]].id
    return book.machine_of[own].id == book.machine_of[owned.setup.id].id
