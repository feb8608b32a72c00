"""Updating a shootout from a pack of it: shown first, then taken over; nothing is taken away."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.desk.errors import NotFoundError, RefusedError, StaleError, transaction
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.packs.incoming import AndThen, leave_it, read_zipped
from true_margin.desk.packs.lineup_tables import trial_fields
from true_margin.desk.packs.registry import REGISTRY, add_rows
from true_margin.desk.packs.table import Known, Target, Updating
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_difference import Changed, TableDifference, changed_settings, differ
from true_margin.store import (
    cards,
    inquiries,
    lineup,
    outputs,
    records,
    runs,
    shootouts,
    tasks,
    viewers,
)
from true_margin.store.database import Database

MOST_NAMED = 8
"""So many changed rows of a table are named one by one."""
BY_NAME = {table.name: table for table in REGISTRY}


@dataclass(frozen=True, slots=True)
class PackPreview:
    """What a pack would do: ``slug`` of the shootout that it may update, None where it is new.

    ``takes`` says what an update takes over, ``stays`` what stays as it is here although the
    pack says otherwise; ``revision`` is that of the shootout it was held against.
    """

    name: str
    runs: int
    slug: str | None
    revision: int | None
    takes: tuple[str, ...]
    stays: tuple[str, ...]


def preview_zip(database: Database, content: bytes) -> PackPreview:
    """Say what a zipped pack would do; stores nothing."""
    pack = read_zipped(content)
    target = _target(database, pack)
    if target is None:
        return PackPreview(pack.shootout.name, len(pack.runs), None, None, (), ())
    here = pack_out.export_pack(database, target.slug)
    found = differ(here, pack)
    takes, stays = _say(here, pack, found)
    return PackPreview(
        pack.shootout.name, len(pack.runs), target.slug, target.revision, takes, stays
    )


def _target(database: Database, pack: Pack) -> records.Shootout | None:
    if pack.shootout.id is None:
        return None
    with transaction(database) as session:
        found = shootouts.find_by_id(session, pack.shootout.id)
    return None if found is None or found.archived_at is not None else found


def _say(
    here: Pack, pack: Pack, differences: Sequence[TableDifference]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    takes, stays = [], []
    for field in changed_settings(here, pack):
        was, now = getattr(here.shootout, field), getattr(pack.shootout, field)
        takes.append(f"{field.replace('_', ' ')}: {was} is {now} in the pack")
    for each in differences:
        table = BY_NAME[each.table]
        if table.part_of is not None:
            # Told with the rows that they belong to.
            continue
        if each.table == "scripts":
            if here.scripts and pack.scripts:
                stays.append("the script: what is written here stays")
            elif pack.scripts:
                takes.append("a script")
            continue
        new = [row for row in each.new if not _of_a_task_that_is_here(each.table, row, here)]
        if new:
            takes.append(f"new {table.words}: {len(new)}")
        if len(new) < len(each.new):
            stays.append(f"{table.words} of tasks that are here: {len(each.new) - len(new)}")
        target = stays if table.take is None else takes
        target += _say_changed(each)
        if each.only_here and each.table != "revisions":
            stays.append(f"{table.words} that the pack does not have: {each.only_here}")
    return tuple(takes), tuple(stays)


def _of_a_task_that_is_here(table: str, row: Any, here: Pack) -> bool:
    """Whether a row says how a known task is set: a task's job changes by a person only."""
    return table == "task_settings" and row.task in {task.name for task in here.tasks}


def _say_changed(difference: TableDifference) -> Iterator[str]:
    for changed in difference.changed[:MOST_NAMED]:
        fields = ", ".join(
            f"{f.replace('_', ' ')} {getattr(changed.here, f)} is {getattr(changed.there, f)}"
            for f in changed.fields[:3]
        )
        yield f"{_name(difference.table, changed)}: {fields} in the pack"
    if len(difference.changed) > MOST_NAMED:
        words = BY_NAME[difference.table].words
        yield f"other {words} that differ: {len(difference.changed) - MOST_NAMED}"


def _name(table: str, changed: Changed) -> str:
    row = changed.here
    if table == "runs":
        return f"run {row.place} of {row.machine} {row.setup} on {row.task}"
    parts = [
        getattr(row, f, None)
        for f in (
            "machine",
            "setup",
            "name",
            "row",
            "task",
            "field",
            "viewer",
            "round",
            "app",
            "title",
        )
    ]
    return " ".join(str(part) for part in parts if part) or table


def update_from_zip(
    database: Database, content: bytes, slug: str, revision: int, and_then: AndThen = leave_it
) -> records.Shootout:
    """Take over what a pack has and the shootout has not, in one transaction.

    Args:
        database: where the shootout is.
        content: the zipped pack.
        slug: of the shootout that was shown.
        revision: that was shown.
        and_then: what else is kept in the same transaction.

    Raises:
        RefusedError: the pack is off, or of another shootout; nothing is stored.
        StaleError: the shootout was changed since it was shown.
    """
    pack = read_zipped(content)
    target = _target(database, pack)
    if target is None or target.slug != slug:
        raise RefusedError("file", "This pack is not of that shootout: bring it in as a copy.")
    here = pack_out.export_pack(database, slug)
    with transaction(database) as session:
        # Locks the row first; what was read above must still be what stands.
        now = shootouts.bump_revision(session, target.id)
        if now != revision + 1:
            raise StaleError("shootout", shootouts.get_shootout(session, slug))
        _update(session, target, here, pack)
        updated = shootouts.get_shootout(session, slug)
        and_then(session, updated)
        return updated


def _update(session: Session, shootout: records.Shootout, here: Pack, pack: Pack) -> None:
    updating = Updating(here, pack, {each.table: each for each in differ(here, pack)})
    known = _known(session, shootout.id)
    new = {table.name: table.fresh(updating) for table in REGISTRY}
    new["runs"] = _with_free_places(session, shootout.id, new["runs"])
    known.keep_ids = _fresh_ids(session, new)
    target = Target(session, shootout.id, pack.model_copy(update=new), known)
    add_rows(target)
    for table in REGISTRY:
        if table.take is not None:
            table.take(target, updating)
    _take_settings(target, shootout, updating)


def _fresh_ids(session: Session, new: Mapping[str, Any]) -> bool:
    try:
        keys = [UUID(row.id) for row in new["runs"]]
        asked = [UUID(row.id) for row in new["inquiries"]]
    except ValueError:
        return False
    return not (runs.any_known(session, keys) or inquiries.any_known(session, asked))


def _known(session: Session, home: UUID) -> Known:
    """Ids of everything in the shootout by the names that packs use."""
    machines = lineup.list_machines(session, home, archived=None)
    stored, _ = runs.read_runs(session, home)
    keep = {str(run.id): run.id for run in stored}
    asked = inquiries.list_inquiries(session, home)
    return Known(
        {m.name: m.id for m in machines},
        {(s.machine, s.name): s.id for m in machines for s in m.setups},
        {task.name: task.id for task in tasks.list_tasks(session, home)},
        {round_.name: round_.id for round_ in shootouts.list_rounds(session, home)},
        keep,
        {str(each.id): each.id for each in asked},
        {(str(each.id), step.place): step.id for each in asked for step in each.steps},
        {},
        _logged(session, home),
        len(viewers.list_viewers(session, home)),
        len(cards.list_cards(session, home)),
    )


def _logged(session: Session, home: UUID) -> dict[tuple[str, UUID | None, datetime], UUID]:
    """Entries of the log by what they are, their setup, and when they were noted."""
    kinds = (
        ("trial", outputs.list_trials(session, home)),
        ("trouble", outputs.list_troubles(session, home)),
    )
    return {(kind, each.setup_id, each.noted_at): each.id for kind, own in kinds for each in own}


def _with_free_places(session: Session, home: UUID, new: Sequence[Any]) -> list[Any]:
    """New runs stand behind those that are here, in the pack's order."""
    first = runs.next_place(session, home)
    order = sorted(new, key=lambda run: run.place)
    return [run.model_copy(update={"place": first + at}) for at, run in enumerate(order)]


def _take_settings(target: Target, shootout: records.Shootout, updating: Updating) -> None:
    wanted = updating.pack.shootout
    changed = set(changed_settings(updating.here, updating.pack))
    changes = {name: getattr(wanted, name) for name in changed if not name.startswith("baseline")}
    baseline = (wanted.baseline_machine, wanted.baseline_setup)
    if baseline in target.known.setups:
        changes["baseline_setup_id"] = target.known.setups[baseline]
    changes["trial_rows"] = trial_fields(updating.pack, target.sheet_rows())
    stored = shootouts.find_by_id(target.session, shootout.id)
    if stored is None:
        raise NotFoundError("The shootout is gone.")
    shootouts.change_shootout(target.session, stored, stored.version, changes)
