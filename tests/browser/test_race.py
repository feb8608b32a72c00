"""The race of a task, as somebody plays it."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench
from true_margin.desk.runs.marks import add_marks


def raced(page: Page, bench: Bench) -> None:
    """A race in which A is ahead at first and B at the end."""
    for setup, typed, at in (("A", "1:40", 20.0), ("B", "1:20", 40.0)):
        stored = bench.run(setup, typed, method="stopwatch")
        add_marks(bench.database, stored.run.id, [{"elapsed_s": at, "fraction": 0.5}])
    page.goto(f"/s/{bench.slug}/margins?view=race")
    expect(page.get_by_test_id("race clock")).to_have_text("1:40")


def test_a_race_is_played_and_stopped_at_its_moments(page: Page, bench: Bench) -> None:
    raced(page, bench)
    lead = page.get_by_test_id("race lead")
    expect(lead).to_contain_text("B ahead of A by 20 s")
    page.get_by_role("button", name="Half way", exact=True).click()
    expect(page.get_by_test_id("race clock")).to_have_text("0:20")
    expect(lead).to_have_text("A ahead of B by 10 s, 25 % of the work")
    expect(page.get_by_role("main").get_by_role("status")).to_contain_text("A is half way first")
    page.get_by_role("button", name=re.compile("B takes the lead")).click()
    expect(page.get_by_test_id("race clock")).to_have_text("1:00")
    page.get_by_label("speed").fill("200")
    page.keyboard.press("Tab")
    page.get_by_test_id("race clock").click()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("race clock")).to_have_text("1:40")
    expect(page.get_by_role("button", name=re.compile("^Play"))).to_be_visible()
    page.get_by_label("speed").fill("fast")
    expect(page.get_by_role("alert")).to_contain_text("A number above 0")


def test_another_run_stands_for_its_setup(page: Page, bench: Bench) -> None:
    raced(page, bench)
    bench.run("B", "2:00")
    page.reload()
    page.get_by_text("Which run stands for each?").click()
    page.get_by_label("Run of B").select_option(label="2:00, round 1")
    expect(page.get_by_test_id("race clock")).to_have_text("2:00")
    expect(page.get_by_text("No progress was noted of B")).to_be_visible()
