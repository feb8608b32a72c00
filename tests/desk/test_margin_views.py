"""What stands beside the ladder: pairs, rounds, fairness, figures, findings, plans."""

from __future__ import annotations

import re
from uuid import UUID, uuid4

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins import (
    all_pairs,
    before_data,
    fairness,
    figures,
    margins,
    out_of_line,
    pairs,
    published,
    rounds_view,
    same_work,
    spec_scatter,
)
from true_margin.desk.margins.words.figures import Working
from true_margin.desk.runs.changes import merge_rounds
from true_margin.desk.runs.runs import show_run
from true_margin.desk.shootouts.shootouts import add_round
from true_margin.desk.shootouts.shootouts import list_rounds as get_rounds
from true_margin.store import records
from true_margin.store.database import Database

PARADE = "Lantern parade, export UHD"


def key_of(database: Database, slug: str, task: str) -> str:
    book = SHELF.take(database, slug)
    return str(next(t.id for t in book.tasks if t.name == task))


def setup_of(database: Database, slug: str, label: str) -> UUID:
    book = SHELF.take(database, slug)
    return next(s.id for s in book.setups if s.label == label)


def test_the_triangle_says_what_the_pairs_say(database: Database, demo: records.Shootout) -> None:
    key = key_of(database, demo.slug, PARADE)
    view = all_pairs.show_all_pairs(database, demo.slug, key)
    assert [len(row.cells) for row in view.rows] == list(range(len(view.rows)))
    slow, fast = view.rows[4], view.rows[1]
    pair = pairs.show_pair(database, demo.slug, key, fast.setup_id, slow.setup_id)
    cell = slow.cells[1]
    assert (cell.call, cell.ratio) == (pair.call, pytest.approx(pair.ratio))
    assert (cell.lo, cell.hi) == (pytest.approx(pair.lo), pytest.approx(pair.hi))
    assert sum(view.counts.values()) == sum(len(row.cells) for row in view.rows)
    open_calls = {each.key: each.open_calls for each in margins.count_open(database, demo.slug)}
    assert view.counts["open"] == open_calls[key]


def test_rounds_say_what_the_update_did_and_who_disagrees(
    database: Database, demo: records.Shootout
) -> None:
    view = rounds_view.show_rounds(database, demo.slug)
    assert [(line.name, line.versions.split(",")[0]) for line in view.rounds] == [
        ("spring", "Heddle 6.2"),
        ("autumn", "Heddle 6.3"),
    ]
    (update,) = view.updates
    assert update.sentence.startswith("The update to Heddle 6.3 made it 1")
    assert update.lo < update.ratio < update.hi
    assert [bridge.label for bridge in update.bridges if bridge.off] == ["Cairn Brick"]
    assert view.misfit is not None
    assert "helped some machines more than others" in view.misfit
    assert view.carried == ("Halyard L: Lantern parade, background render",)


def test_rounds_of_one_version_should_be_one(database: Database) -> None:
    bench = new_bench(database)
    add_round(database, bench.slug, "June", {"Heddle": "6.3"})
    add_round(database, bench.slug, "July", {"Heddle": "6.3"})
    for round_, time in zip(get_rounds(database, bench.slug)[1:], ("6:17", "6:20"), strict=True):
        bench.run("A", time, round_id=round_.id)
    merge = rounds_view.show_rounds(database, bench.slug).merge
    assert merge is not None
    assert "June and July were run with the same app versions" in merge.words
    changed = merge_rounds(database, bench.slug, merge.from_id, merge.into_id, "Jo")
    assert [run.round_id for run in changed.runs] == [merge.into_id]
    after = rounds_view.show_rounds(database, bench.slug)
    assert [(line.name, line.runs) for line in after.rounds] == [
        ("round 1", 0),
        ("June", 0),
        ("July", 2),
    ]
    assert after.merge is None
    history = show_run(database, changed.runs[0].id).revisions
    assert history[0].why == "June and July are one round: same versions"
    with pytest.raises(RefusedError):
        merge_rounds(database, bench.slug, merge.into_id, merge.into_id, "Jo")


def test_fairness_lists_what_breaks_and_what_muddies(
    database: Database, demo: records.Shootout
) -> None:
    view = fairness.show_fairness(database, demo.slug, "mix")
    assert view.baseline == "Tarn Desk"
    overruled = [pair for pair in view.broken if pair.overrule is not None]
    assert len(overruled) == 3
    room = next(line for line in view.lines if line.condition == "room temperature")
    assert {(side.value, side.setups) for side in room.sides} == {
        ("room 20 °C", ("Tarn Desk",)),
        ("room 26.5 °C", ("Halyard L",)),
    }
    memory = next(line for line in view.allowed if line.condition == "memory")
    # Each setup stands once, with all that is known of it.
    named = [setup for side in memory.sides for setup in side.setups]
    assert len(named) == len(set(named))
    with pytest.raises(NotFoundError):
        fairness.show_fairness(database, demo.slug, "nothing")


def test_every_figure_has_its_working(database: Database, demo: records.Shootout) -> None:
    key, setup = key_of(database, demo.slug, PARADE), setup_of(database, demo.slug, "Halyard L")
    view = figures.show_figures(database, demo.slug, key, setup)
    workings = {each.title: each for each in view.workings}
    assert list(workings) == [
        "Time",
        "Speed",
        "Ratio to the baseline",
        "Rank",
        "Chance of being the fastest",
        "Spread between runs",
    ]
    ladder = margins.show_ladder(database, demo.slug, key)
    row = next(row for row in ladder.rows if row.setup_id == setup)
    assert f"{row.ratio:.2f} times as fast as Tarn Desk" in workings["Ratio to the baseline"].value
    assert workings["Rank"].value.startswith(f"{row.best_rank} to {row.worst_rank}")
    assert f"{row.speed:.2f} times real time" == workings["Speed"].value
    assert len([run for run in view.runs if run.status == "ok"]) == row.runs
    over = figures.show_figures(database, demo.slug, "mix", setup)
    assert over.workings[0].title == "Speed over the mix"
    assert len(over.workings[0].inputs) == 10
    pebble = setup_of(database, demo.slug, "Pebble")
    with pytest.raises(NotFoundError):
        figures.show_figures(database, demo.slug, key, pebble)


def test_a_chance_says_how_it_was_worked_out(database: Database) -> None:
    bench = new_bench(database)

    def chance(name: str) -> Working:
        view = figures.show_figures(database, bench.slug, None, bench.setups[name])
        return next(w for w in view.workings if w.title == "Chance of being the fastest")

    for time in ("6:17", "6:19"):
        bench.run("A", time)
        bench.run("B", time)
    assert chance("A").formula.startswith("Student's t of the difference between the two")
    bench.machine("C")
    bench.run("C", "6:18")
    assert chance("A").formula.startswith("how often it comes first in 20\u00a0000 simulated")
    bench.machine("D")
    for time in ("0:17.0", "0:17.0", "0:17.0"):
        bench.run("D", time)
    assert chance("D").formula.startswith("no other would overtake it")
    assert chance("D").value == "over 99 %"


def test_a_line_up_without_specs_shows_a_scatter_that_says_so(database: Database) -> None:
    bench = new_bench(database)
    bench.run("A", "6:17")
    view = spec_scatter.show_scatter(database, bench.slug, "mix", None)
    assert (view.field, view.points) == (None, ())
    assert view.says == "No row of numbers differs between setups."


def test_failed_attempts_are_counted_with_their_interval(database: Database) -> None:
    bench = new_bench(database)
    for time in ("6:17", "6:18", "6:19"):
        bench.run("A", time)
    bench.run("A", None, status="failed", reason="crashed")
    (row,) = margins.show_ladder(database, bench.slug, None).rows
    assert row.completion == "3 of 4 attempts completed (30 to 95 %)"
    view = figures.show_figures(database, bench.slug, None, bench.setups["A"])
    assert view.workings[-1].title == "Completion"


def test_one_editor_against_the_other(database: Database, demo: records.Shootout) -> None:
    key = key_of(database, demo.slug, "Backstage diary, export in Heddle")
    (work,) = same_work.show_same_work(database, demo.slug, key)
    said = {row.label: row for row in work.rows}
    assert said["Halyard L"].sentence.startswith("Sprocketry takes 1.48 times as long as Heddle")
    assert said["Cairn Brick"].call in ("ahead", "level", "open")
    everything = same_work.show_same_work(database, demo.slug, None)
    assert {each.differs for each in everything} == {"app", "settings"}


def test_start_up_stands_with_a_pair(database: Database) -> None:
    bench = new_bench(database)
    bench.task("Short", work=60.0, unit="s", operation="export")
    bench.task("Long", work=600.0, unit="s", operation="export")
    for setup, start in (("A", 10), ("B", 20)):
        for task, work in (("Short", 30), ("Long", 300)):
            for extra in (0.0, 0.2):
                bench.run(setup, f"{start + work + extra} s", task, method="log")
    key = str(bench.tasks["Short"])
    view = pairs.show_pair(database, bench.slug, key, bench.setups["A"], bench.setups["B"])
    lines = {line.setup: line.words for line in view.fixed_cost}
    assert lines["A"].startswith("0:10 of start-up")
    assert "30.0 s for a minute of timeline" in lines["B"]


def test_speed_against_a_spec(database: Database, demo: records.Shootout) -> None:
    key = key_of(database, demo.slug, PARADE)
    view = spec_scatter.show_scatter(database, demo.slug, key, "cores")
    assert {point.x for point in view.points} == {6, 8, 12, 16}
    assert view.says.startswith("In 16 of 17 pairs")
    assert spec_scatter.show_scatter(database, demo.slug, key, None) == view
    price = spec_scatter.show_scatter(database, demo.slug, "mix", "price")
    assert (price.unit, "not a cause" in price.says) == ("EUR", True)
    with pytest.raises(RefusedError):
        spec_scatter.show_scatter(database, demo.slug, key, "ports")


def test_off_the_ladder_comes_with_the_run_that_mends_it(database: Database) -> None:
    bench = new_bench(database)
    bench.task("Titles")
    for task in ("Parade", "Titles"):
        bench.run("A", "6:17", task)
    bench.run("B", "6:40", "Parade")
    (off,) = margins.show_ladder(database, bench.slug, "mix").off
    assert off.mend is not None
    assert off.mend.words == "run Titles on B (about 6 min)"
    assert (off.mend.setup_id, off.mend.task_id) == (bench.setups["B"], bench.tasks["Titles"])


def test_before_any_data_it_says_what_a_difference_costs(database: Database) -> None:
    bench = new_bench(database)
    plan = before_data.plan_before_data(database, bench.slug, 0.05, minutes=6.0)
    (row,) = plan.rows
    # n = ceil(2 · 0.02² · (t + t)² / ln(1.05)²), at df 3: 3.1824 and, for 80 % power, 0.9785.
    assert (row.runs_each, row.basis) == (6, "assumed")
    assert row.hours == pytest.approx(2 * 6 * 6 / 60)
    assert plan.summary.startswith("To settle a difference of 5 %, plan 6 runs per setup")
    tiny = before_data.plan_before_data(database, bench.slug, 0.001, minutes=6.0)
    assert "To settle that a difference of 0.1 % is too small to matter" in tiny.summary
    small = before_data.plan_before_data(database, bench.slug, 0.015, minutes=6.0)
    assert small.summary.startswith("Not worth it")
    with pytest.raises(RefusedError):
        before_data.plan_before_data(database, bench.slug, 0.0)


def published_fields(bench: Bench, **more: object) -> dict[str, object]:
    return {
        "task_id": bench.tasks["Parade"],
        "setup_a_id": bench.setups["A"],
        "setup_b_id": bench.setups["B"],
        "kind": "times as fast",
        "value": 1.5,
        "source": "a magazine",
        **more,
    }


def test_a_published_figure_beside_ours(database: Database) -> None:
    bench = new_bench(database)
    for time in ("5:00", "5:01", "5:02"):
        bench.run("A", time, method="log")
    for time in ("7:30", "7:31", "7:32"):
        bench.run("B", time, method="log")

    def words(**more: object) -> published.PublishedView:
        key = str(bench.tasks["Parade"])
        figure = published.note_published(
            database, bench.slug, published_fields(bench, **more), "Jo"
        )
        view = pairs.show_pair(database, bench.slug, key, bench.setups["A"], bench.setups["B"])
        return next(each for each in view.published if each.figure.id == figure.id)

    assert words().inside is True
    assert words().words.startswith("Agrees with ours: 1.50 times as fast")
    off = words(kind="% faster", value=80.0)
    assert off.inside is False
    assert "higher than our interval" in off.words
    alone = words(kind="value", value=301.0, setup_b_id=None)
    assert alone.words.startswith("Agrees with ours: 5:01")
    gone = published.withdraw_published(database, off.figure.id)
    assert gone.withdrawn_at is not None
    key = str(bench.tasks["Parade"])
    left = pairs.show_pair(database, bench.slug, key, bench.setups["A"], bench.setups["B"])
    assert off.figure.id not in {each.figure.id for each in left.published}


def test_a_published_figure_where_ours_is_missing_or_lies_above(database: Database) -> None:
    bench = new_bench(database)
    bench.machine("C")
    for time in ("5:00", "5:01", "5:02"):
        bench.run("A", time, method="log")
    for time in ("7:30", "7:31", "7:32"):
        bench.run("B", time, method="log")

    def words(task: int | None = 0, **more: object) -> list[str]:
        published.note_published(database, bench.slug, published_fields(bench, **more), "Jo")
        book = SHELF.take(database, bench.slug)
        places = [book.setup_index[bench.setups[name]] for name in "ABC"]
        pair = (places[0], places[2 if more.get("setup_b_id") == bench.setups["C"] else 1])
        return [each.words for each in published.published_on(book, task, *pair)]

    missing = "We have no figure of our own here to compare it with."
    assert words(setup_b_id=bench.setups["C"]) == [missing]
    (below,) = words(kind="% less time", value=10.0)
    assert re.search(r"^3[01] % lower than our interval \(1\.50 times as fast", below)
    (mix,) = words(task=None, task_id=None)
    assert mix.startswith("Agrees with ours: 1.50 times as fast")
    # A time that was published too short lies below ours, though it says faster.
    short = words(kind="value", value=240.0, setup_b_id=None)
    assert any(re.search(r"% lower than our interval \(5:01", each) for each in short)
    assert missing not in short


def test_withdrawing_what_was_never_published_is_refused(database: Database) -> None:
    with pytest.raises(NotFoundError):
        published.withdraw_published(database, uuid4())


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"setup_b_id": uuid4()}, "setup_a_id"),
        ({"setup_a_id": uuid4()}, "setup_a_id"),
        ({"task_id": uuid4()}, "task_id"),
        ({"value": 0.0}, "value"),
        ({"value": float("inf")}, "value"),
        ({"kind": "% less time", "value": 100.0}, "value"),
        ({"setup_b_id": None}, "setup_b_id"),
        ({"kind": "value"}, "setup_b_id"),
        ({"kind": "value", "setup_b_id": None, "task_id": None}, "task_id"),
    ],
)
def test_a_figure_that_fits_nothing_is_refused(
    database: Database, more: dict[str, object], field: str
) -> None:
    bench = new_bench(database)
    with pytest.raises(RefusedError) as refused:
        published.note_published(database, bench.slug, published_fields(bench, **more), "Jo")
    assert refused.value.field == field


def test_the_demo_is_out_of_line_where_its_stories_are(
    database: Database, demo: records.Shootout
) -> None:
    view = out_of_line.show_out_of_line(database, demo.slug)
    kinds = [(each.kind, re.split(" gains |: ", each.words)[0]) for each in view.findings]
    assert ("app off its ratio", "Cairn Brick") in kinds
    assert ("app off its ratio", "Halyard L") in kinds
    assert ("tells nothing apart", "Heddle launch") in kinds
    assert any(kind == "bridge disagrees" for kind, _ in kinds)
    assert len(view.inquiries) == 1
    assert len(view.inquiries[0].runs) == 3


def test_a_setup_that_is_known_by_a_bound_is_not_said_to_be_unmeasured(database: Database) -> None:
    """On the mix, and in the picks that follow from it."""
    bench = new_bench(database)
    bench.task("Film")
    for setup in ("A", "B"):
        bench.run(setup, "6:00")
    bench.run("A", "20:00", "Film")
    bench.run("B", "over 2 h", "Film")
    (off,) = margins.show_ladder(database, bench.slug, "mix").off
    assert off.reason == "known by a bound alone on Film (more than 2:00:00)"
    assert off.mend is not None
    assert off.mend.words == "run Film on B (about 20 min)"
