"""Bringing a data pack in as a new shootout."""

from __future__ import annotations

from collections.abc import Callable
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.packs.lineup_tables import trial_fields
from true_margin.desk.packs.registry import add_rows
from true_margin.desk.packs.table import Known, Target
from true_margin.desk.shootouts.shootouts import free_slug
from true_margin.exchange.apart import PACK, read_apart
from true_margin.exchange.data_pack import Pack, read_packed
from true_margin.store import inquiries, records, runs, shootouts
from true_margin.store.database import Database

AndThen = Callable[[Session, records.Shootout], None]


def leave_it(_session: Session, _shootout: records.Shootout) -> None:
    """Keep nothing else."""


def read_zipped(content: bytes) -> Pack:
    """Read a zipped pack.

    Raises:
        RefusedError: with the file, line and reason.
    """
    try:
        return read_apart(PACK, read_packed, content)
    except CoreError as error:
        raise RefusedError("file", error.reason) from error


def import_pack(
    database: Database,
    pack: Pack,
    *,
    demo: bool = False,
    edition_of: UUID | None = None,
    and_then: AndThen = leave_it,
) -> records.Shootout:
    """Bring a pack in as a new shootout, in one transaction.

    It keeps the ids that the pack gives where nothing has them yet, so that a pack which is
    given out again can update the shootout that it came from; else it is a copy.

    Args:
        database: where to.
        pack: what to bring in.
        demo: whether it is one of the demo's.
        edition_of: the shootout that it is a frozen edition of; it never changes then.
        and_then: what else is kept in the same transaction.
    """
    with transaction(database) as session:
        own = pack.shootout.model_dump(exclude={"id", "baseline_machine", "baseline_setup"})
        known = Known(keep_ids=edition_of is None and _ids_free(session, pack))
        if known.keep_ids:
            own["id"] = pack.shootout.id
        hidden = f"edition-{uuid4().hex}"
        slug = free_slug(session, pack.shootout.name) if edition_of is None else hidden
        home = shootouts.add_shootout(session, {**own, "slug": slug, "demo": demo})
        target = Target(session, home, pack, known)
        add_rows(target)
        baseline = (pack.shootout.baseline_machine, pack.shootout.baseline_setup)
        changes = {
            "baseline_setup_id": known.setups.get(baseline),
            "trial_rows": trial_fields(pack, target.sheet_rows()),
        }
        shootout = shootouts.get_shootout(session, slug)
        shootouts.change_shootout(session, shootout, shootout.version, changes)
        if edition_of is not None:
            shootouts.freeze(session, home, edition_of)
        made = shootouts.get_shootout(session, slug)
        and_then(session, made)
        return made


def _ids_free(session: Session, pack: Pack) -> bool:
    """Whether the pack gives ids and nothing here has one of them."""
    if pack.shootout.id is None or shootouts.find_by_id(session, pack.shootout.id) is not None:
        return False
    try:
        run_ids = [UUID(row.id) for row in pack.runs]
        asked = [UUID(row.id) for row in pack.inquiries]
    except ValueError:
        return False
    return not (runs.any_known(session, run_ids) or inquiries.any_known(session, asked))
