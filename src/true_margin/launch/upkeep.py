"""What the command line does to the data beside serving it: invitations, the demo anew."""

from __future__ import annotations

from pathlib import Path

from true_margin.app.settings import AppSettings
from true_margin.desk.access.people import invite
from true_margin.desk.access.rights import LOCAL
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.publish.folder_files import Asked, Step, Written, write_folder
from true_margin.desk.room.keeping import keep_demo
from true_margin.desk.shootouts.shootouts import archive_demo
from true_margin.exchange.data_pack import read_folder, read_pack
from true_margin.launch.address import where_served
from true_margin.launch.errors import StartError
from true_margin.launch.opened import at_hand
from true_margin.store.database import Database


def invite_owner(settings: AppSettings, role: str, email: str | None) -> str:
    """Make an invitation from the command line; gives its link.

    Whoever may run this holds the data anyway.
    """
    settings = where_served(settings.model_copy(update={"sign_in": True}))
    with at_hand(settings) as opened:
        opened.database.migrate()
        made = invite(opened.database, LOCAL, role, note=email)
        return f"{settings.address}/invitation/{made.token}"


def publish_to(settings: AppSettings, slug: str, folder: Path, asked: Asked, step: Step) -> Written:
    """Write the web folder of a shootout, or bring one that is there up to date.

    Raises:
        StartError: there is no such shootout, nothing was published, or the folder cannot be
            written.
    """
    with at_hand(settings) as opened:
        opened.database.migrate()
        try:
            return write_folder(opened.database, slug, folder, asked, step)
        except NotFoundError as error:
            raise StartError(
                f"There is no shootout {slug!r}: see the end of its address."
            ) from error
        except RefusedError as error:
            raise StartError(error.reason) from error


def load_demo(database: Database, folder: Path) -> int:
    """Load every demo pack, by the same way in that a user has."""
    # The first by name comes in last, and so stands first on the shelf.
    packs = sorted((path.parent for path in folder.glob("*/datapackage.json")), reverse=True)
    for path in packs:
        import_pack(database, read_pack(read_folder(path)), demo=True)
    keep_demo(database)
    return len(packs)


def reset_demo(settings: AppSettings) -> tuple[int, int]:
    """Put the demo shootouts aside and load fresh ones; own shootouts stay.

    Returns:
        How many were put aside, and how many were loaded.
    """
    with at_hand(settings) as opened:
        opened.database.migrate()
        return archive_demo(opened.database), load_demo(opened.database, settings.demo)
