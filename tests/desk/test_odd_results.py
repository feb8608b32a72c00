"""Odd results: in words that can be ticked off, the most first, those of one cause together."""

from __future__ import annotations

from true_margin.desk.margins.inquiries import open_inquiry
from true_margin.desk.margins.out_of_line import OddState, show_out_of_line
from true_margin.store import records
from true_margin.store.database import Database


def test_the_demo_says_what_is_odd_and_where_to_begin(
    database: Database, demo: records.Shootout
) -> None:
    view = show_out_of_line(database, demo.slug)
    count = len(view.findings)
    assert view.summary == f"{count} results do not fit the others."
    assert view.again is not None
    assert view.advice.startswith("2 of them rest on the same runs: Halyard L, ")
    assert view.again.words == "Run Halyard L again"
    # Those that rest on the same runs stand together.
    groups = [each.together for each in view.findings]
    assert len(set(groups)) == count - 1
    assert groups == sorted(groups, key=groups.index)
    for each in view.findings:
        assert each.words == f"{each.headline} {each.rest}".strip()
        assert each.causes
        assert len(each.bars) in (0, 2)
        assert all(bar.value >= 0 and bar.words for bar in each.bars)


def test_a_finding_is_new_then_looked_into_then_settled(
    database: Database, demo: records.Shootout
) -> None:
    def first() -> OddState:
        found = show_out_of_line(database, demo.slug).findings
        return next(each.state for each in found if each.words == odd.words)

    odd = show_out_of_line(database, demo.slug).findings[-1]
    fields = {
        "kind": odd.kind,
        "about": odd.words,
        "suspected": odd.causes[0],
        "task_id": odd.task_id,
        "setup_a_id": odd.a_id,
        "setup_b_id": odd.b_id,
    }
    assert first() is OddState.NEW
    open_inquiry(database, demo.slug, fields, "Jo")
    assert first() is OddState.LOOKING
    open_inquiry(database, demo.slug, {**fields, "outcome": "so it is"}, "Jo")
    assert first() is OddState.SETTLED
    left = show_out_of_line(database, demo.slug)
    assert left.summary.startswith(f"{len(left.findings) - 1} results")
