"""Tables of viewers: who asks, what each task is to them, and what they need."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from true_margin.desk.book.needs import need_rows, packed_need, read_needs, unpacked_need
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, Updating, copy
from true_margin.exchange.pack_viewers import PackViewer, PackViewerNeed, PackViewerTask
from true_margin.store import lineup, viewers


def _viewers(source: Source) -> Iterator[PackViewer]:
    for viewer in source.book.viewers:
        owned = source.setup_columns(viewer.owned_setup_id, before="owned_")
        yield copy(viewer, PackViewer, **owned)


def _viewer_tasks(source: Source) -> Iterator[PackViewerTask]:
    names = source.task_names
    for viewer in source.book.viewers:
        known = [part for part in viewer.tasks if part.task_id in names]
        for part in sorted(known, key=lambda part: names[part.task_id]):
            yield copy(part, PackViewerTask, viewer=viewer.name, task=names[part.task_id])


def _viewer_needs(source: Source) -> Iterator[PackViewerNeed]:
    rows = need_rows(source.book.free_rows)
    for viewer in source.book.viewers:
        for need in viewer.needs:
            yield PackViewerNeed(viewer=viewer.name, **packed_need(need, rows))


def _columns(target: Target, viewer: PackViewer) -> dict[str, Any]:
    """A viewer of a pack as the store keeps it, needs included.

    Raises:
        RefusedError: it owns half a setup, or a need is none.
    """
    free_rows = lineup.list_free_rows(target.session, target.home)
    rows = need_rows(free_rows)
    if (viewer.owned_machine is None) != (viewer.owned_setup is None):
        raise RefusedError("file", f"viewers.csv: {viewer.name} owns half a setup")
    typed = [
        unpacked_need(need.model_dump(exclude={"viewer"}), rows)
        for need in target.pack.viewer_needs
        if need.viewer == viewer.name
    ]
    try:
        needs = read_needs(typed, free_rows)
    except RefusedError as error:
        reason = f"viewer_needs.csv, {viewer.name}: {error.reason}"
        raise RefusedError("file", reason) from error
    fields = viewer.model_dump(exclude={"owned_machine", "owned_setup"})
    owned = target.known.setup(viewer, before="owned_")
    return {**fields, "owned_setup_id": owned, "needs": needs}


def _parts(target: Target, viewer: PackViewer) -> list[dict[str, Any]]:
    """What each task is to a viewer of a pack."""
    return [
        {**part.model_dump(exclude={"viewer", "task"}), "task_id": target.known.tasks[part.task]}
        for part in target.pack.viewer_tasks
        if part.viewer == viewer.name
    ]


def _add_viewers(target: Target) -> None:
    for position, viewer in enumerate(target.pack.viewers, start=target.known.viewers):
        columns = {**_columns(target, viewer), "position": position}
        key = viewers.add_viewer(target.session, target.home, columns)
        viewers.set_tasks(target.session, key, _parts(target, viewer))


def _take_viewers(target: Target, updating: Updating) -> None:
    """Viewers that were here and are others in the pack."""
    names = {viewer.name for viewer in updating.changed("viewers")}
    for table in ("viewer_tasks", "viewer_needs"):
        names |= {row.viewer for row in (*updating.new(table), *updating.changed(table))}
    if not names:
        return
    whole = Target(target.session, target.home, updating.pack, target.known)
    stored = {v.name: v for v in viewers.list_viewers(target.session, target.home)}
    added = {viewer.name for viewer in updating.new("viewers")}
    for viewer in updating.pack.viewers:
        if viewer.name in names - added and viewer.name in stored:
            known = stored[viewer.name]
            viewers.change_viewer(target.session, known, known.version, _columns(whole, viewer))
            viewers.set_tasks(target.session, known.id, _parts(whole, viewer))


def _of_new_viewers(table: str, updating: Updating) -> list[Any]:
    names = {viewer.name for viewer in updating.new("viewers")}
    return [row for row in updating.new(table) if row.viewer in names]


def _leave_taken(_target: Target, _updating: Updating) -> None:
    """Taken over with the viewer."""


TABLES = (
    PackTable(name="viewers", words="viewers", rows=_viewers, add=_add_viewers, take=_take_viewers),
    PackTable(
        name="viewer_tasks",
        words="amounts of viewers",
        rows=_viewer_tasks,
        added=lambda updating: _of_new_viewers("viewer_tasks", updating),
        take=_leave_taken,
    ),
    PackTable(
        name="viewer_needs",
        words="needs of viewers",
        rows=_viewer_needs,
        added=lambda updating: _of_new_viewers("viewer_needs", updating),
        take=_leave_taken,
    ),
)
