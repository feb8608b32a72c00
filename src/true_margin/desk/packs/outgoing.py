"""Giving a whole shootout out as a data pack."""

from __future__ import annotations

from typing import Any

from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.shelf import load_book
from true_margin.desk.errors import transaction
from true_margin.desk.packs.noted_tables import probe_name
from true_margin.desk.packs.registry import REGISTRY
from true_margin.desk.packs.run_tables import picture_name
from true_margin.desk.packs.table import Source, copy
from true_margin.desk.packs.task_tables import content_name
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_tables import PackShootout
from true_margin.store import outputs, runs, shootouts, timelines
from true_margin.store.database import Database


@writing(PLAIN)
def export_pack(database: Database, slug: str) -> Pack:
    """Give a whole shootout as a pack."""
    with transaction(database) as session:
        # The archive goes with it, so not the book that the screens share.
        book = load_book(session, shootouts.get_shootout(session, slug), archive=True)
        revisions = [
            (run.id, revision)
            for run in book.runs
            if run.version > 1
            for revision in runs.list_revisions(session, run.id)
        ]
        there = {each.id for each in book.trials} | {each.id for each in book.troubles}
        pictures = (
            *outputs.list_pictures(session, [run.id for run in book.runs]),
            *(p for p in book.entry_pictures if {p.trial_id, p.trouble_id} & there),
        )
        contents = {
            content_name(place, file): timelines.file_content(session, file.id)
            for place, file in enumerate(book.timeline_files, start=1)
        }
        contents |= {
            probe_name(place): outputs.output_content(session, file.id)
            for place, file in enumerate(book.output_files, start=1)
        }
        contents |= {
            picture_name(place, picture): outputs.picture_content(session, picture.id)[1]
            for place, picture in enumerate(pictures, start=1)
        }
    source = Source(book, revisions, pictures)
    tables: dict[str, Any] = {table.name: list(table.rows(source)) for table in REGISTRY}
    baseline = source.setup_columns(book.baseline and book.baseline.id, before="baseline_")
    shootout = copy(book.shootout, PackShootout, **baseline)
    return Pack(shootout=shootout, contents=contents, **tables)
