"""Tables of runs: the runs themselves, earlier states of them, marks and pictures."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterator
from typing import Any
from uuid import UUID, uuid4

from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import (
    WHO,
    Known,
    PackTable,
    Source,
    Target,
    Updating,
    copy,
    json_object,
)
from true_margin.desk.runs.marks import picture_columns
from true_margin.exchange.pack_tables import PackMark, PackPicture, PackRevision, PackRun
from true_margin.store import outputs, records, runs


def picture_name(place: int, picture: records.RunPicture) -> str:
    """What a picture of the screen is called in a pack."""
    return f"picture-{place}.{picture.media_type.rsplit('/', 1)[-1]}"


def _runs(source: Source) -> Iterator[PackRun]:
    rounds = {round_.id: round_.name for round_ in source.book.rounds}
    tasks = source.task_names
    for run in source.book.runs:
        yield copy(
            run,
            PackRun,
            id=str(run.id),
            task=tasks[run.task_id],
            round=rounds[run.round_id],
            conditions=json.dumps(run.conditions),
            **source.setup_columns(run.setup_id),
        )


def _revisions(source: Source) -> Iterator[PackRevision]:
    for key, revision in source.revisions:
        yield copy(revision, PackRevision, run=str(key), before=json.dumps(revision.before))


def _marks(source: Source) -> Iterator[PackMark]:
    marks = (*source.book.marks, *source.book.withdrawn_marks)
    in_time = sorted(marks, key=lambda mark: mark.elapsed_s)
    return (copy(mark, PackMark, run=str(mark.run_id)) for mark in in_time)


def _pictures(source: Source) -> Iterator[PackPicture]:
    entries: dict[UUID, tuple[str, records.Trial | records.Trouble]] = {
        **{each.id: ("trial", each) for each in source.book.trials},
        **{each.id: ("trouble", each) for each in source.book.troubles},
    }
    for place, picture in enumerate(source.pictures, start=1):
        named: dict[str, Any] = {"content": picture_name(place, picture)}
        if picture.run_id is not None:
            named["run"] = str(picture.run_id)
        else:
            key = picture.trial_id or picture.trouble_id
            entry, logged = entries[key or picture.id]
            named |= source.setup_columns(logged.setup_id)
            named |= {"run": None, "entry": entry, "entry_at": logged.noted_at}
        yield copy(picture, PackPicture, **named)


def _columns(run: PackRun, known: Known) -> dict[str, Any]:
    """A run of a pack as the store keeps it."""
    return {
        **run.model_dump(exclude={"id", "machine", "setup", "task", "round"}),
        "setup_id": known.setups[run.machine, run.setup],
        "task_id": known.tasks[run.task],
        "round_id": known.rounds[run.round],
        "conditions": json_object("runs.csv", "conditions", run.conditions),
    }


def _add_runs(target: Target) -> None:
    known, new = target.known, []
    for run in target.pack.runs:
        key = known.runs[run.id] = UUID(run.id) if known.keep_ids else uuid4()
        new.append({**_columns(run, known), "id": key, "client_key": f"pack-{run.id}"[:80]})
    runs.add_runs(target.session, target.home, new)


def _add_revisions(target: Target) -> None:
    for revision in target.pack.revisions:
        fields = revision.model_dump(exclude={"run"})
        fields["before"] = json_object("revisions.csv", "before", revision.before)
        runs.add_revision(target.session, target.known.runs[revision.run], fields)


def _add_marks(target: Target) -> None:
    known = target.known.runs
    rows = target.pack.marks
    marks = [{"run_id": known[m.run], **m.model_dump(exclude={"run"})} for m in rows]
    runs.add_marks(target.session, marks)


def _add_pictures(target: Target) -> None:
    for picture in target.pack.pictures:
        kept = {"name", "who", "added_at"}
        fields = {
            **picture.model_dump(include=kept),
            **picture_columns(picture.name, target.pack.contents[picture.content]),
        }
        outputs.add_picture(target.session, fields | _pictured(target, picture))


def _pictured(target: Target, picture: PackPicture) -> dict[str, UUID]:
    """The run or the entry of the log that a picture belongs to."""
    if picture.run is not None:
        return {"run_id": target.known.runs[picture.run]}
    entry, at = picture.entry, picture.entry_at
    setup = target.known.setup(picture)
    if entry is None or at is None or (entry, setup, at) not in target.known.logged:
        raise RefusedError("file", f"pictures.csv: {picture.name} belongs to nothing that is here.")
    return {f"{entry}_id": target.known.logged[entry, setup, at]}


def _followed(updating: Updating) -> set[str]:
    """Runs whose history in the pack goes on from where they stand here."""
    versions: dict[str, set[int]] = defaultdict(set)
    for revision in updating.pack.revisions:
        versions[revision.run].add(revision.version)
    difference = updating.differences.get("runs")
    found = set()
    for changed in () if difference is None else difference.changed:
        since = set(range(changed.here.version, changed.there.version))
        if since and since <= versions[changed.here.id]:
            found.add(changed.here.id)
    return found


def _new_revisions(updating: Updating) -> list[Any]:
    """Earlier states, but of runs that were changed here as well: their own history tells."""
    apart = {run.id for run in updating.changed("runs")} - _followed(updating)
    return [row for row in updating.new("revisions") if row.run not in apart]


def _take_runs(target: Target, updating: Updating) -> None:
    """Take changed runs over: with the pack's own history where it goes on from here."""
    followed = _followed(updating)
    for there in updating.changed("runs"):
        run = runs.get_run(target.session, target.known.runs[there.id])
        fields = {
            name: value
            for name, value in _columns(there, target.known).items()
            if name in runs.REVISED and name != "place"
        }
        if there.id in followed:
            runs.follow_run(target.session, run, there.version, fields)
        else:
            why = "as it stands in the pack"
            runs.revise_run(target.session, run, run.version, fields, WHO, why)


RUNS = (
    PackTable(name="runs", words="runs", rows=_runs, add=_add_runs, take=_take_runs),
    PackTable(
        name="revisions",
        words="earlier states of runs",
        rows=_revisions,
        add=_add_revisions,
        added=_new_revisions,
    ),
    PackTable(name="marks", words="marks in runs", rows=_marks, add=_add_marks),
)
PICTURES = (PackTable(name="pictures", words="screen pictures", rows=_pictures, add=_add_pictures),)
