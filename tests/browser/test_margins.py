"""Margins in full: settings, pairs and their runs, and what lies beside the ladder."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.shootouts.shootouts import get_shootout
from true_margin.store import records
from true_margin.store.database import Database


def three_machines(bench: Bench) -> None:
    """A leads by two percent over B, but for one slow run; C is far behind."""
    bench.machine("C")
    for setup, times in (
        ("A", ("5:00.0", "5:00.6", "5:01.2", "5:42.0")),
        ("B", ("5:25.0", "5:25.5", "5:26.1", "5:25.8")),
        ("C", ("9:00.0", "9:01.0", "9:00.4")),
    ):
        for time in times:
            bench.run(setup, time, method="log")


def summary(page: Page, words: str) -> None:
    expect(page.get_by_test_id("summary")).to_contain_text(words)


def test_settings_move_the_sentence_and_a_void_moves_the_call(page: Page, bench: Bench) -> None:
    three_machines(bench)
    page.goto(f"/s/{bench.slug}/margins")
    summary(page, "A and B share first place.")
    page.get_by_label("Confidence").first.select_option("0.8")
    # Of three setups at once that is no first place yet: the ranks are told together.
    summary(page, "A and B share first place.")
    page.get_by_label("Ignore differences under").first.select_option("0.1")
    summary(page, "No difference among them matters.")
    # The change is remembered with the shootout.
    kept = get_shootout(bench.database, bench.slug)
    assert (kept.confidence, kept.materiality) == (0.8, 0.1)
    page.reload()
    summary(page, "No difference among them matters.")
    page.get_by_label("Ignore differences under").first.select_option("0.03")
    page.get_by_label("Confidence").first.select_option("0.95")
    page.get_by_role("button", name="Make B the baseline").click()
    expect(page.get_by_role("button", name="B is the baseline")).to_be_visible()
    page.get_by_role("button", name=re.compile("working of the figures of A")).click()
    note = page.get_by_role("complementary")
    expect(note).to_contain_text(re.compile(r"times as fast as B"))
    page.keyboard.press("Escape")
    page.get_by_role("table").get_by_role("button", name="A", exact=True).click()
    expect(note).to_contain_text("A and B: too close to call")
    note.get_by_role("link", name="5:42").click()
    run = page.get_by_role("complementary")
    run.get_by_role("button", name="Don’t count it").click()
    expect(run.get_by_role("button", name="Don’t count it")).to_be_disabled()
    page.keyboard.type("the drive was full")
    page.keyboard.press("Enter")
    expect(run.get_by_text("was 5:42.0, counted")).to_be_visible()
    page.go_back()
    summary(page, "faster than the runner-up, B")


def test_views_beside_the_ladder_open_by_link_and_lead_to_the_pair(
    page: Page, demo: records.Shootout
) -> None:
    page.goto(f"/s/{demo.slug}/margins")
    views = page.get_by_role("navigation", name="Views")
    views.get_by_role("link", name="All pairs").click()
    expect(page.get_by_text(re.compile(r"^21 pairs: "))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Halyard L compared with Cairn Brick: ")).click()
    note = page.get_by_role("complementary", name="Halyard L compared with Cairn Brick")
    expect(note).to_contain_text("maker's leaflet, September")
    expect(note).to_contain_text("Checked: a backup program")
    views.get_by_role("link", name="Updates").click()
    expect(page.get_by_text(re.compile("^The update to Heddle 6.3 made it 1"))).to_be_visible()
    expect(page.get_by_text("The update helped some machines more than others")).to_be_visible()
    views.get_by_role("link", name="Fair test?").click()
    expect(page.get_by_role("region", name="Could affect the times")).to_contain_text(
        "26.5 °C on Halyard L"
    )
    views.get_by_role("link", name="Two apps").click()
    expect(page.get_by_role("region", name=re.compile("in Heddle against"))).to_be_visible()
    page.go_back()
    expect(page).to_have_url(re.compile("view=fairness"))


def test_an_inquiry_is_opened_noted_and_printed_with_the_pair(page: Page, bench: Bench) -> None:
    three_machines(bench)
    page.goto(f"/s/{bench.slug}/margins?view=odd")
    page.get_by_role("button", name="Note something else").click()
    page.get_by_label("What is odd?").fill("One run of A took 40 s longer")
    page.get_by_label("What do you suspect?").fill("the drive was full")
    page.get_by_role("button", name="Look into it").last.click()
    page.get_by_role("button", name="Note the next step").press("Enter")
    step = page.get_by_role("form", name="Next step")
    step.get_by_label("What happened?").select_option("tried again")
    step.get_by_label("A, Parade: 5:01").check()
    step.get_by_role("button", name="Save the step").click()
    expect(page.get_by_role("link", name="A, Parade: 5:01")).to_be_visible()
    page.get_by_role("button", name="Note the next step").click()
    step.get_by_label("What happened?").select_option("came out")
    step.get_by_label("Which runs count?").select_option("again")
    step.get_by_role("button", name="Save the step").click()
    expect(page.get_by_text("Say in words what was done")).to_be_visible()
    step.get_by_label("What came out?").fill("with room on the drive it repeats")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Open it again")).to_be_visible()
    line = page.get_by_text(re.compile("the reruns count", re.IGNORECASE)).first
    expect(line).to_be_visible()
    page.goto(f"/s/{bench.slug}/margins?a={bench.setups['A']}&b={bench.setups['B']}")
    expect(page.get_by_role("complementary")).to_contain_text("The reruns count")


def test_a_published_figure_is_set_beside_ours(page: Page, bench: Bench) -> None:
    three_machines(bench)
    page.goto(f"/s/{bench.slug}/margins?a={bench.setups['A']}&b={bench.setups['C']}")
    note = page.get_by_role("complementary")
    note.get_by_role("button", name="Add a result").click()
    note.get_by_label("Figure").fill("2,4")
    note.get_by_label("Who published it, when").fill("a leaflet, June")
    note.get_by_role("button", name="Add").click()
    expect(note).to_contain_text("higher than our interval")
    note.get_by_role("button", name="Withdraw").click()
    expect(note).to_contain_text("None added yet.")


def test_an_earlier_shootout_comes_in_as_a_round(
    page: Page, bench: Bench, database: Database
) -> None:
    three_machines(bench)
    then = new_bench(database, "The year before")
    then.machine("Old")
    for setup, time in (("A", "5:30"), ("Old", "9:30")):
        then.run(setup, time, method="log")
    page.goto(f"/s/{bench.slug}/margins?view=rounds")
    page.get_by_label("Earlier shootout", exact=True).select_option(then.slug)
    expect(page.get_by_text("New machines: Old.")).to_be_visible()
    page.get_by_role("button", name="Import as earlier rounds").click()
    expect(page.get_by_role("status").filter(has_text="2 runs brought in")).to_be_visible()
    expect(page.get_by_role("cell", name="round 1 (The year before)")).to_be_visible()
    page.get_by_role("link", name="Ranking").click()
    expect(page.get_by_role("button", name="Make Old the baseline")).to_be_visible()


def test_before_any_data_the_stage_says_what_a_difference_costs(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/margins")
    plan = page.get_by_role("region", name="How many runs do I need?")
    expect(plan).to_contain_text("plan 6 runs per setup")
    page.get_by_label(re.compile("Minutes per run")).fill("6")
    expect(plan).to_contain_text("about 1.2 hours")
    page.get_by_label("To detect a difference").fill("0")
    page.keyboard.press("Tab")
    expect(plan.get_by_role("alert")).to_contain_text("More than 0")
