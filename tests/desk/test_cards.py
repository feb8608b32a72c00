"""Kept cards: made, changed, and honest about what they leave out."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, StaleError
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards, give_timeline
from true_margin.desk.publish.cards import CardView
from true_margin.publish.looks import LookName, Shape
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Cards")
    for typed in ("6:10", "6:12", "6:11"):
        bench.run("A", typed)
    for typed in ("9:02", "9:04", "9:03"):
        bench.run("B", typed)
    return bench


def bar(bench: Bench, **more: object) -> CardView:
    fields = {"kind": "bar", "task_id": bench.tasks["Parade"], **more}
    return cards.add_card(bench.database, bench.slug, fields)


def test_a_bar_card_says_what_it_rests_on(bench: Bench) -> None:
    view = bar(bench)
    assert (view.title, view.problem) == ("A is 46 % faster than B", None)
    assert view.subtitle.startswith("Parade, against A")
    assert view.notes == ("6 runs", "bars: 95 % interval")
    assert "A as bought: 6:11, baseline." in view.alt or "A: 6:11, baseline." in view.alt
    assert "× clear" in view.alt


def test_leaving_out_is_printed_and_marking_is_kept(bench: Bench) -> None:
    view = bar(bench)
    chosen = {"left_out": [bench.setups["B"]], "highlighted": [bench.setups["A"]]}
    changed = cards.change_card(
        bench.database, bench.slug, view.card.id, view.card.version, {"setups": chosen}
    )
    assert "1 more not shown" in changed.notes
    assert changed.card.setups["highlighted"] == [str(bench.setups["A"])]
    # A part that is not named in a change stays.
    again = cards.change_card(
        bench.database, bench.slug, view.card.id, changed.card.version, {"setups": {"left_out": []}}
    )
    assert again.card.setups["highlighted"] == [str(bench.setups["A"])]
    assert "1 more not shown" not in again.notes


def test_the_order_is_the_one_that_was_chosen(bench: Bench) -> None:
    slower_first = [bench.setups["B"], bench.setups["A"]]
    view = bar(bench, setups={"order": slower_first})
    assert list(view.setup_ids) == slower_first
    lines = [
        line
        for line in view.alt.split("\n")
        if (": " in line and "×" in line) or "baseline." in line
    ]
    assert lines[0].startswith("B")


def test_figures_follow_the_runs(bench: Bench) -> None:
    view = bar(bench)
    before = cards.card_picture(bench.database, bench.slug, view.card.id, Shape.WIDE, LookName.DAY)
    bench.run("A", "8:40")
    (after,) = cards.list_cards(bench.database, bench.slug)
    assert after.notes[0] == "7 runs"
    assert before != cards.card_picture(
        bench.database, bench.slug, view.card.id, Shape.WIDE, LookName.DAY
    )


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"kind": "bar"}, "shows the times of one task"),
        ({"kind": "progress"}, "runs of one task"),
        ({"kind": "price"}, "about a viewer"),
        ({"kind": "pick"}, "about a viewer"),
    ],
)
def test_a_card_that_lacks_something_says_what(
    bench: Bench, fields: dict[str, object], says: str
) -> None:
    view = cards.add_card(bench.database, bench.slug, fields)
    assert view.problem is not None
    assert says in view.problem
    with pytest.raises(RefusedError, match=says):
        cards.card_drawing(bench.database, bench.slug, view.card.id, Shape.TALL, LookName.DAY)


def test_a_card_with_no_data_says_so(database: Database) -> None:
    empty = new_bench(database, "Nothing yet")
    view = bar(empty)
    assert view.problem == "Nothing was measured on Parade yet: time a run first."
    marks = cards.add_card(
        empty.database, empty.slug, {"kind": "progress", "task_id": empty.tasks["Parade"]}
    )
    assert marks.problem is not None
    assert "No run of Parade has marks yet" in marks.problem
    with pytest.raises(RefusedError, match="save one first"):
        give_timeline.give_timeline(database, empty.slug, Shape.WIDE, LookName.DAY, 25.0)


def test_what_is_not_there_is_refused(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="not timed in this shootout"):
        cards.add_card(bench.database, bench.slug, {"kind": "bar", "task_id": uuid4()})
    with pytest.raises(NotFoundError, match="no viewer"):
        cards.add_card(bench.database, bench.slug, {"kind": "pick", "viewer_id": uuid4()})
    with pytest.raises(RefusedError, match="not in this line-up"):
        bar(bench, setups={"order": [uuid4()]})
    with pytest.raises(NotFoundError, match="no card"):
        cards.card_drawing(bench.database, bench.slug, uuid4(), Shape.WIDE, LookName.DAY)


def test_two_who_change_a_card_lose_nothing(bench: Bench) -> None:
    view = bar(bench)
    where = (bench.database, bench.slug, view.card.id, view.card.version)
    cards.change_card(*where, {"title": "One"})
    with pytest.raises(StaleError):
        cards.change_card(*where, {"title": "Other"})
    (kept,) = cards.list_cards(bench.database, bench.slug)
    assert kept.title == "One"


def test_order_and_retiring(bench: Bench) -> None:
    one, other = bar(bench), bar(bench, title="Second")
    cards.order_cards(bench.database, bench.slug, [other.card.id, one.card.id])
    listed = cards.list_cards(bench.database, bench.slug)
    assert [each.card.id for each in listed] == [other.card.id, one.card.id]
    with pytest.raises(RefusedError, match="every card once"):
        cards.order_cards(bench.database, bench.slug, [one.card.id])
    cards.retire_card(bench.database, bench.slug, other.card.id, other.card.version, retired=True)
    first, last = cards.list_cards(bench.database, bench.slug)
    assert first.card.id == one.card.id
    assert last.card.retired_at is not None


def test_the_demo_cards_all_show_something(database: Database, demo: records.Shootout) -> None:
    for view in cards.list_cards(database, demo.slug):
        assert view.problem is None
        assert view.missing == ""
        assert view.source == "Nettle & Reed, autumn bench"


def test_a_retired_viewer_keeps_its_card(bench: Bench) -> None:
    viewer = viewers.add_viewer(bench.database, bench.slug, {"name": "Somebody"}, None)
    view = cards.add_card(bench.database, bench.slug, {"kind": "pick", "viewer_id": viewer.id})
    viewers.retire_viewer(bench.database, viewer.id, retired=True)
    book = SHELF.take(bench.database, bench.slug)
    assert cards.name_of_card(book, view.card) == "Pick card: Somebody"
