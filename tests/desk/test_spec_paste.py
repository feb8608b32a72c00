"""Pasted specs: shown first, all or nothing."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import spec_paste, spec_sheet
from true_margin.store.database import Database

BLOCK = "\tA\tB\tC\nCores\t8\t12\t16\nStorage\t512 GB\t1 TB\t-\n"


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Specs")


def specs(bench: Bench) -> dict[str, tuple[int | None, float | None]]:
    columns = spec_sheet.show_lineup(bench.database, bench.slug).columns
    return {
        c.machine.name: (c.machine.specs.get("cores"), c.machine.specs.get("storage_gb"))
        for c in columns
    }


def test_a_block_is_shown_and_then_stored(bench: Bench) -> None:
    preview = spec_paste.preview_specs(bench.database, bench.slug, BLOCK)
    assert (preview.layout, preview.new, preview.bad) == ("across", ("C",), 0)
    assert [(c.machine, c.field, c.before, c.after) for c in preview.changes][:2] == [
        ("A", "cores", "", "8"),
        ("B", "cores", "", "12"),
    ]
    assert specs(bench) == {"A": (None, None), "B": (None, None)}
    spec_paste.commit_specs(bench.database, bench.slug, BLOCK)
    assert specs(bench) == {"A": (8, 512), "B": (12, 1000), "C": (16, None)}
    assert spec_paste.preview_specs(bench.database, bench.slug, BLOCK).changes == ()


def test_one_bad_cell_stores_nothing(bench: Bench) -> None:
    bad = BLOCK.replace("12", "0")
    preview = spec_paste.preview_specs(bench.database, bench.slug, bad)
    assert [c.problem for c in preview.changes if c.problem] == [
        "Cores: '0' must be at least 1 and at most 100000"
    ]
    with pytest.raises(RefusedError, match="nothing was"):
        spec_paste.commit_specs(bench.database, bench.slug, bad)
    assert specs(bench) == {"A": (None, None), "B": (None, None)}
