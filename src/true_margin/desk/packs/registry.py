"""Every table of a pack, in the order in which rows are put into a shootout.

A table stands after those that its rows name.
"""

from __future__ import annotations

from true_margin.desk.packs import (
    asked_tables,
    lineup_tables,
    noted_tables,
    publish_tables,
    run_tables,
    sent_tables,
    task_tables,
    viewer_tables,
)
from true_margin.desk.packs.table import PackTable, Target

REGISTRY: tuple[PackTable, ...] = (
    *lineup_tables.TABLES,
    *task_tables.TASKS,
    *run_tables.RUNS,
    *noted_tables.TABLES,
    *run_tables.PICTURES,
    *task_tables.ON_TASKS,
    *asked_tables.TABLES,
    *sent_tables.TABLES,
    *viewer_tables.TABLES,
    *publish_tables.TABLES,
)


def add_rows(target: Target) -> None:
    """Put every row of a pack into a shootout; what it names is in it or known.

    Raises:
        RefusedError: a row cannot be what it says; names the file.
    """
    for table in REGISTRY:
        if table.add is not None:
            table.add(target)
