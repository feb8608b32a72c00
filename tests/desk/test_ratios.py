"""Ratios noted elsewhere: typed, kept with their source, apart from what was measured."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.beside import Evidence
from true_margin.desk.margins.margins import show_ladder
from true_margin.desk.margins.pairs import PairView, show_pair
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish import cards
from true_margin.desk.publish.card_facts import card_of
from true_margin.desk.runs import entry, ratios
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.publish.card_data import RuleCard
from true_margin.publish.looks import Shape
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Said elsewhere")
    bench.machine("Tower")
    for typed in ("6:17", "6:20"):
        bench.run("A", typed)
    return bench


def note(bench: Bench, a: str, typed: str, b: str, source: str = "a forum") -> ratios.NotedAnswer:
    fields = {"setup_id": bench.setups[a], "against_id": bench.setups[b], "typed": typed}
    return ratios.note_ratio(
        bench.database, bench.tasks["Parade"], {**fields, "source": source}, "Marit"
    )


def pair(bench: Bench, a: str, b: str) -> PairView:
    key = str(bench.tasks["Parade"])
    return show_pair(bench.database, bench.slug, key, bench.setups[a], bench.setups[b])


def test_a_noted_ratio_stands_beside_the_ladder_and_never_on_it(bench: Bench) -> None:
    said = note(bench, "Tower", "3.2x", "A")
    assert said.says == (
        "Tower is said to be 3.20 times as fast as A (a forum). Noted, not measured."
    )
    view = show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert [row.label for row in view.rows] == ["A"]
    (row,) = view.beside
    assert (row.label, row.evidence, row.ranks) == ("Tower", Evidence.NOTED, "")
    assert (row.ratio, row.lo, row.hi) == pytest.approx((3.2, 3.15, 3.25))
    assert row.words == "noted: Tower is said to be 3.20 times as fast as A (a forum)"
    assert view.summary == "Only A has been timed; noted elsewhere: Tower, below."
    assert [off.label for off in view.off] == ["B"]


def test_a_pair_by_a_note_is_never_clear_and_says_its_source(bench: Bench) -> None:
    note(bench, "A", "12 % slower", "Tower")
    view = pair(bench, "A", "Tower")
    assert (view.call, view.a) == ("noted", "Tower")
    assert view.sentence == (
        "Tower is said to be 1.12 times as fast as A: noted (a forum), not measured here."
    )
    assert [(line.status, line.agrees) for line in view.noted] == [("stands in", None)]


def test_what_was_measured_stands_and_says_whether_the_two_agree(bench: Bench) -> None:
    note(bench, "B", "over 2x", "A")
    for typed in ("6:19", "6:18", "6:18", "6:19"):
        bench.run("A", typed)
        bench.run("B", typed)
    view = pair(bench, "A", "B")
    assert view.call == "level"
    (line,) = view.noted
    assert (line.status, line.agrees, line.source) == ("measured stands", False, "a forum")


def test_a_note_is_withdrawn_with_a_reason_and_stays_on_record(bench: Bench) -> None:
    first = note(bench, "Tower", "slower", "A")
    note(bench, "Tower", "2x", "A", "a maker")
    ratios.withdraw_ratio(bench.database, first.id, "read it wrongly")
    view = pair(bench, "Tower", "A")
    assert [(line.source, line.status) for line in view.noted] == [
        ("a maker", "stands in"),
        ("a forum", "withdrawn"),
    ]
    assert view.noted[1].withdrawn_why == "read it wrongly"


def test_the_entry_line_takes_a_ratio_and_asks_against_whom(bench: Bench) -> None:
    def read(line: str) -> entry.EntryReading:
        return entry.read_line(bench.database, bench.slug, line)

    whole = read("tower / parade / 38 % faster than a, noted by Ola")
    assert (whole.ready, whole.ratio, whole.against, whole.source) == (
        True,
        "38 % faster",
        "A",
        "Ola",
    )
    assert whole.value_words == "Tower is said to be 1.38 times as fast as A: noted, not measured"
    short = read("tower / parade / over 15 times")
    assert (short.ready, short.missing) == (
        False,
        "the machine that it is compared with, as in: 3.2x tarn desk noted",
    )
    assert read("tower / parade / 2x nobody").problem == "No setup is called “nobody”."
    assert read("a / parade / 2x a noted").problem == "A ratio is of two different setups."
    assert read("tower / parade / 6:17 log").ratio is None


@pytest.mark.parametrize(
    ("a", "typed", "b", "field"),
    [
        ("A", "soon", "B", "typed"),
        ("A", "2x", "A", "against_id"),
        ("A", "100 % less time", "B", "typed"),
    ],
)
def test_what_is_no_ratio_is_refused_at_its_field(
    bench: Bench, a: str, typed: str, b: str, field: str
) -> None:
    with pytest.raises(RefusedError) as refused:
        note(bench, a, typed, b)
    assert refused.value.field == field


def test_a_pack_carries_ratios_whole(bench: Bench) -> None:
    first = note(bench, "Tower", "3.2x", "A")
    note(bench, "B", "30 % less time", "A", "a magazine")
    ratios.withdraw_ratio(bench.database, first.id, "out of date")
    copied = import_zip(
        bench.database, zip_files(write_pack(export_pack(bench.database, bench.slug)))
    )

    def told(slug: str) -> list[tuple[str, str, str | None]]:
        book = SHELF.take(bench.database, slug)
        return [(ratio.typed, ratio.source, ratio.withdrawn_why) for ratio in book.ratios]

    assert told(copied.slug) == told(bench.slug)
    assert len(told(copied.slug)) == 2


def test_whoever_leads_by_a_bound_is_named_first(bench: Bench) -> None:
    bench.run("B", "9:00")
    bench.run("B", "9:01")
    bench.run("Tower", "under 2 min")
    view = show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert view.summary.endswith(" By a bound alone, Tower is faster still.")
    assert [(row.label, row.ranks) for row in view.beside] == [("Tower", "1")]


def test_a_rule_card_draws_bounds_and_notes_with_what_they_are(bench: Bench) -> None:
    note(bench, "Tower", "3.2x", "A")
    bench.run("B", "over 45 min")
    view = cards.add_card(
        bench.database, bench.slug, {"kind": "rule", "task_id": bench.tasks["Parade"]}
    )
    card = card_of(SHELF.take(bench.database, bench.slug), view.card, Shape.WIDE)
    assert isinstance(card, RuleCard)
    assert [(row.who.label, row.call, row.shown) for row in card.rows] == [
        ("A", "baseline", "1×"),
        ("B", "bound", "at most 0.14×"),
        ("Tower", "noted", "3.20× noted"),
    ]
    assert "arrow: known by a bound alone" in card.heading.notes
    assert "hatched: noted by somebody else, not measured" in card.heading.notes
    told = "Tower: noted: Tower is said to be 3.20 times as fast as A (a forum)"
    assert told in card.heading.notes
    assert "B: at most 0.14×." in view.alt
