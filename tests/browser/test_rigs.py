"""A bench of four simulated rigs, from arming to the margin that it changes."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.conftest import DEMO
from true_margin.desk.margins import margins
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.runs import runs
from true_margin.exchange.data_pack import read_folder, read_pack
from true_margin.store.database import Database


def ladder_of(database: Database, slug: str, task: str) -> list[tuple[str, float | None]]:
    rows = margins.show_ladder(database, slug, task).rows
    return [(row.label, row.ratio) for row in rows]


def test_four_simulated_rigs_from_arming_to_the_margin_they_change(
    page: Page, database: Database
) -> None:
    shootout = import_pack(database, read_pack(read_folder(DEMO)), demo=True)
    before = runs.show_runs(database, shootout.slug).runs
    ladders = {
        str(run.run.task_id): ladder_of(database, shootout.slug, str(run.run.task_id))
        for run in before
    }
    page.goto(f"/s/{shootout.slug}/bench")
    page.get_by_text("Simulated machines", exact=True).click()
    page.get_by_label(re.compile("^at")).select_option("120")
    page.get_by_role("button", name="Add simulated machines").click()
    expect(page.get_by_text("4 simulated machines on")).to_be_visible()
    expect(page.get_by_role("timer")).to_have_count(4)
    expect(page.get_by_text("Simulated, 120× speed")).to_have_count(4)
    # What times itself is started like any other lane; its digit does not stop it.
    page.keyboard.press("a")
    page.keyboard.press("1")
    again = page.get_by_role("button", name=re.compile("Next run|Next task"))
    expect(again).to_have_count(4)
    expect(page.get_by_text(re.compile("The app’s own estimate"))).to_have_count(4)
    # A lane ends a moment before its run is in the book, and the run a moment before its marks.
    for _ in range(100):
        made = [each.run for each in runs.show_runs(database, shootout.slug).runs[len(before) :]]
        if len(made) == 4 and all(runs.show_run(database, run.id).marks for run in made):
            break
        page.wait_for_timeout(200)
    assert len(made) == 4
    assert all(run.simulated and run.method == "watch" for run in made)
    for run in made:
        marks = runs.show_run(database, run.id).marks
        assert len(marks) > 5
        assert all(mark.temperature_c is not None for mark in marks)
    # Each lane says what may be said now, and the ladder has taken the runs in.
    expect(page.get_by_role("region", name=re.compile("^Timer 1"))).to_contain_text(
        re.compile(
            "too close to call|faster than|times as fast|as failed|equally fast|not enough runs|A slip",
            re.I,
        )
    )
    task = str(made[0].task_id)
    assert ladder_of(database, shootout.slug, task) != ladders[task]
    page.goto(f"/s/{shootout.slug}/margins?task={task}")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.goto(f"/s/{shootout.slug}/runs?run={made[0].id}")
    expect(page.get_by_text("Simulated: no real machine ran it.")).to_be_visible()
