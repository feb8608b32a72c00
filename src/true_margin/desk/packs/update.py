"""Updating a shootout from a pack of it: shown first, then taken over; nothing is taken away."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.errors import NotFoundError, RefusedError, StaleError, transaction
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.packs.add import (
    Known,
    add_rows,
    run_fields,
    spec_cells,
    trial_fields,
    viewer_fields,
    viewer_parts,
)
from true_margin.desk.packs.incoming import AndThen, leave_it, read_zipped
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_difference import Changed, TableDifference, changed_settings, differ
from true_margin.exchange.pack_tables import TABLES
from true_margin.store import cards, inquiries, lineup, records, runs, shootouts, tasks, viewers
from true_margin.store.database import Database

WHO = "a data pack"
MOST_NAMED = 8
"""So many changed rows of a table are named one by one."""
TAKEN = ("specs", "setup_specs", "runs", "viewers", "viewer_tasks", "viewer_needs")
"""Tables of which changed rows are taken over; others keep what they say here."""
CELLS = ("specs", "setup_specs")
WORDS = {
    "specs": "cells of the spec sheet",
    "setup_specs": "cells of setups",
    "free_rows": "rows of the sheet",
    "trial_rows": "rows on trial",
    "marks": "marks in runs",
    "revisions": "earlier states of runs",
    "looks": "looks at outputs",
    "outputs": "probe files",
    "round_versions": "app versions",
    "task_settings": "export settings",
    "settings_used": "settings used",
    "timeline_files": "timeline files",
    "pictures": "screen pictures",
    "inquiry_runs": "runs tried again",
    "published": "figures of others",
    "viewer_tasks": "amounts of viewers",
    "viewer_needs": "needs of viewers",
    "script_names": "names in the script",
}


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
        words = WORDS.get(each.table, each.table.replace("_", " "))
        if each.table == "card_setups":
            # Told with the cards that they belong to.
            continue
        if each.table == "scripts":
            if here.scripts and pack.scripts:
                stays.append("the script: what is written here stays")
            elif pack.scripts:
                takes.append("a script")
            continue
        new = [row for row in each.new if not _of_a_task_that_is_here(each.table, row, here)]
        if new:
            takes.append(f"new {words}: {len(new)}")
        if len(new) < len(each.new):
            stays.append(f"{words} of tasks that are here: {len(each.new) - len(new)}")
        target = takes if each.table in TAKEN else stays
        target += _say_changed(each)
        if each.only_here and each.table != "revisions":
            stays.append(f"{words} that the pack does not have: {each.only_here}")
    return tuple(takes), tuple(stays)


def _of_a_task_that_is_here(table: str, row: Any, here: Pack) -> bool:
    """Whether a row says how a known task is set: a task's job changes by a person only."""
    return table == "task_settings" and row.task in {task.name for task in here.tasks}


def _say_changed(difference: TableDifference) -> Iterator[str]:
    words = WORDS.get(difference.table, difference.table.replace("_", " "))
    for changed in difference.changed[:MOST_NAMED]:
        fields = ", ".join(
            f"{f.replace('_', ' ')} {getattr(changed.here, f)} is {getattr(changed.there, f)}"
            for f in changed.fields[:3]
        )
        yield f"{_name(difference.table, changed)}: {fields} in the pack"
    if len(difference.changed) > MOST_NAMED:
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


def _update(session: Session, target: records.Shootout, here: Pack, pack: Pack) -> None:
    found = {each.table: each for each in differ(here, pack)}
    known = _known(session, target.id)
    taken = _taken_runs(session, found.get("runs"), pack, known)
    new: dict[str, Any] = {
        table: list(found[table].new) if table in found else []
        for table in TABLES
        if table != "shootout"
    }
    # Earlier states of a run that was changed here as well are told by its own history.
    gone_on = {row.there.id for row in found["runs"].changed} - taken if "runs" in found else set()
    new["revisions"] = [row for row in new["revisions"] if row.run not in gone_on]
    if here.scripts or here.script_names:
        new["scripts"], new["script_names"] = [], []
    new["trial_rows"] = pack.trial_rows
    cells = {table: new.pop(table) for table in CELLS}
    placed = {m.name for m in new["machines"]}, {(s.machine, s.name) for s in new["setups"]}
    new["specs"] = [c for c in cells["specs"] if c.machine in placed[0]]
    new["setup_specs"] = [c for c in cells["setup_specs"] if (c.machine, c.setup) in placed[1]]
    new["runs"] = _with_free_places(session, target.id, new["runs"])
    whole = {v.name for v in new["viewers"]}
    parts = {t: [r for r in new[t] if r.viewer in whole] for t in ("viewer_tasks", "viewer_needs")}
    new |= parts
    kept_cards = {card.place for card in new["cards"]}
    new["card_setups"] = [row for row in pack.card_setups if row.card in kept_cards]
    fresh = _fresh_ids(session, new)
    known.keep_ids = fresh
    add_rows(session, target.id, pack.model_copy(update=new), known)
    _take_cells(session, target.id, here, pack, found)
    _take_viewers(session, target.id, pack, found, known)
    _take_settings(session, target, here, pack, known)


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
    return Known(
        {m.name: m.id for m in machines},
        {(s.machine, s.name): s.id for m in machines for s in m.setups},
        {task.name: task.id for task in tasks.list_tasks(session, home)},
        {round_.name: round_.id for round_ in shootouts.list_rounds(session, home)},
        keep,
        {str(each.id): each.id for each in inquiries.list_inquiries(session, home)},
        len(viewers.list_viewers(session, home)),
        len(cards.list_cards(session, home)),
    )


def _with_free_places(session: Session, home: UUID, new: Sequence[Any]) -> list[Any]:
    """New runs stand behind those that are here, in the pack's order."""
    first = runs.next_place(session, home)
    order = sorted(new, key=lambda run: run.place)
    return [run.model_copy(update={"place": first + at}) for at, run in enumerate(order)]


def _taken_runs(
    session: Session, difference: TableDifference | None, pack: Pack, known: Known
) -> set[str]:
    """Take changed runs over: with the pack's own history where it goes on from here."""
    told: dict[str, set[int]] = defaultdict(set)
    for revision in pack.revisions:
        told[revision.run].add(revision.version)
    followed: set[str] = set()
    for changed in () if difference is None else difference.changed:
        key = known.runs[changed.here.id]
        run = runs.get_run(session, key)
        fields = {
            name: value
            for name, value in run_fields(changed.there, known).items()
            if name in runs.REVISED and name != "place"
        }
        versions = set(range(run.version, changed.there.version))
        if versions and versions <= told[changed.here.id]:
            runs.follow_run(session, run, changed.there.version, fields)
            followed.add(changed.here.id)
        else:
            runs.revise_run(session, run, run.version, fields, WHO, "as it stands in the pack")
    return followed


def _take_cells(
    session: Session, home: UUID, here: Pack, pack: Pack, differences: Mapping[str, TableDifference]
) -> None:
    """Cells of the sheet that are new or other in the pack, of machines that were here."""
    touched = [
        row
        for table in CELLS
        if table in differences
        for row in (
            *differences[table].new,
            *(changed.there for changed in differences[table].changed),
        )
    ]
    if not touched:
        return
    rows = machine_rows(lineup.list_free_rows(session, home))
    own = pack.model_copy(
        update={
            "specs": [row for row in touched if not hasattr(row, "setup")],
            "setup_specs": [row for row in touched if hasattr(row, "setup")],
        }
    )
    cells = spec_cells(own, rows)
    there = {machine.name for machine in here.machines}
    for machine in lineup.list_machines(session, home, archived=None):
        if machine.name not in there:
            continue
        for setup in machine.setups:
            specs, state = cells.get((machine.name, setup.name), ({}, {}))
            if specs or state:
                lineup.change_setup(
                    session,
                    setup.id,
                    setup.version,
                    {
                        "specs": {**setup.specs, **specs},
                        "conditions": {**setup.conditions, **state},
                    },
                )
        specs, _ = cells.get((machine.name, None), ({}, {}))
        if specs:
            lineup.change_machine(
                session, machine.id, machine.version, {"specs": {**machine.specs, **specs}}
            )


def _take_viewers(
    session: Session,
    home: UUID,
    pack: Pack,
    differences: Mapping[str, TableDifference],
    known: Known,
) -> None:
    """Viewers that were here and are others in the pack."""
    names = (
        {changed.there.name for changed in differences["viewers"].changed}
        if "viewers" in differences
        else set()
    )
    for table in ("viewer_tasks", "viewer_needs"):
        if table in differences:
            names |= {row.viewer for row in differences[table].new}
            names |= {changed.there.viewer for changed in differences[table].changed}
    if not names:
        return
    stored = {viewer.name: viewer for viewer in viewers.list_viewers(session, home)}
    for viewer in pack.viewers:
        own = stored.get(viewer.name)
        if viewer.name in names and own is not None:
            fields = viewer_fields(session, home, pack, viewer, known)
            viewers.change_viewer(session, own, own.version, fields)
            viewers.set_tasks(session, own.id, viewer_parts(pack, viewer, known))


def _take_settings(
    session: Session, target: records.Shootout, here: Pack, pack: Pack, known: Known
) -> None:
    changed = set(changed_settings(here, pack))
    changes = {
        name: getattr(pack.shootout, name) for name in changed if not name.startswith("baseline")
    }
    baseline = (pack.shootout.baseline_machine, pack.shootout.baseline_setup)
    if baseline in known.setups:
        changes["baseline_setup_id"] = known.setups[baseline]
    rows = machine_rows(lineup.list_free_rows(session, target.id))
    changes["trial_rows"] = trial_fields(pack, rows)
    shootout = shootouts.find_by_id(session, target.id)
    if shootout is None:
        raise NotFoundError("The shootout is gone.")
    shootouts.change_shootout(session, shootout, shootout.version, changes)
