"""What may be named in a script: setups, machines, tasks, apps, and names that a person has set."""

from __future__ import annotations

from uuid import UUID

from true_margin.core.claims.names import Names
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import scripts, shootouts
from true_margin.store.database import Database

MOST_NAMES = 100


def book_names(book: Book) -> Names:
    """What may be named in a script: setups, machines, tasks, apps, and machines by form."""
    return book.cached("names", lambda: _names(book))


def _names(book: Book) -> Names:
    groups: dict[str, list[int]] = {}
    for i, setup in enumerate(book.setups):
        form = spec_value(book.machine_of[setup.id], setup, "form")
        if form:
            groups.setdefault(f"{str(form).casefold()}s", []).append(i)
    return Names(
        tuple(setup.label for setup in book.setups),
        tuple(setup.machine for setup in book.setups),
        tuple(task.name for task in book.tasks),
        tuple(task.app for task in book.tasks),
        {name: tuple(own) for name, own in groups.items()},
        {name: book.setup_index[key] for name, key in own_names(book).items()},
        analysis_of(book).study.model_of,
    )


def own_names(book: Book) -> dict[str, UUID]:
    """Names that the reviewer has set, of setups that are there."""
    known = {} if book.script is None else book.script.names
    own = {name: UUID(str(key)) for name, key in known.items()}
    return {name: key for name, key in own.items() if key in book.setup_index}


def name_setup(database: Database, slug: str, name: str, setup_id: UUID | None) -> None:
    """Let a name stand for a setup in the script; for none, take it back.

    Raises:
        RefusedError: the setup is not in this line-up, or there are too many names.
    """
    book = SHELF.take(database, slug)
    if setup_id is not None and setup_id not in book.setup_index:
        raise RefusedError("setup_id", "This setup is not in this line-up.")
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        script = scripts.get_script(session, book.shootout.id)
        names = {} if script is None else dict(script.names)
        names.pop(name, None)
        if setup_id is not None:
            names[name] = str(setup_id)
        if len(names) > MOST_NAMES:
            raise RefusedError("name", f"{MOST_NAMES} names are the most: take one back first.")
        if script is None:
            scripts.add_script(session, book.shootout.id, {"names": names})
        else:
            # No version is asked for: another name takes nothing away from anybody's text.
            scripts.change_script(session, script, script.version, {"names": names})
