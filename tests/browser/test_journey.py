"""The whole first hour of a reviewer, with the keyboard alone."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.waiting import clock_reaches
from true_margin.store import records


def tab_to(page: Page, name: str) -> None:
    """Press Tab until the control with this name has the focus."""
    # The shelf may hold the shootouts of many other tests.
    for _ in range(600):
        page.keyboard.press("Tab")
        found = page.evaluate(
            """() => {
                const at = document.activeElement
                // Between the last control and the first, the page itself has it.
                if (at === document.body) return ""
                const label = at.labels && at.labels[0] ? at.labels[0].textContent : ""
                return at.getAttribute("aria-label") || label || at.textContent
            }"""
        )
        if name in (found or ""):
            return
    raise AssertionError(f"Tab does not reach {name!r}")


def go(page: Page, digit: str, heading: str) -> None:
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    page.keyboard.press(digit)
    expect(page.get_by_role("heading", level=1)).to_contain_text(heading)


def line_up(page: Page, *names: str) -> None:
    for name in names:
        expect(page.get_by_label("Name of the machine")).to_be_focused()
        page.keyboard.type(name)
        page.keyboard.press("Enter")
        expect(page.get_by_text(f"{name} is in the line-up.")).to_be_visible()


def add_task(page: Page) -> None:
    expect(page.get_by_label("Name of the task")).to_be_focused()
    page.keyboard.type("Harvest film, export")
    page.keyboard.press("Tab")
    page.keyboard.type("Heddle")
    tab_to(page, "Its length (optional)")
    page.keyboard.type("11:00")
    page.keyboard.press("Enter")
    expect(page.get_by_text("No runs yet.")).to_be_visible()


def time_a_run(page: Page) -> None:
    """On the bench: arm a lane, start and stop it, and end the run as void."""
    go(page, "3", "Bench")
    tab_to(page, "Ready the timer")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Timer 1, Tall Oak")).to_be_visible()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Stop timer 1")).to_be_enabled()
    clock_reaches(page, 0.6)
    page.keyboard.press("v")
    page.keyboard.type("false start")
    page.keyboard.press("Enter")
    expect(
        page.get_by_role("main").get_by_text("saved as not counted, false start")
    ).to_be_visible()


def pick(page: Page) -> None:
    """Make a viewer, who is told why nothing can be picked for them."""
    go(page, "6", "Picks")
    tab_to(page, "New")
    page.keyboard.press("Enter")
    page.keyboard.type("Filmer")
    page.keyboard.press("Enter")
    expect(page.get_by_label("The pick")).to_be_visible()
    expect(page.get_by_role("navigation", name="All viewers")).to_contain_text("Filmer")


def say(page: Page) -> None:
    """Write a claim that says too much, and take the line that is offered."""
    go(page, "7", "Publish")
    text = page.get_by_label("Script", exact=True)
    while not text.evaluate("each => each === document.activeElement"):
        page.keyboard.press("Tab")
    page.keyboard.type("Tall Oak is twice as fast as Small Birch.")
    claims = page.get_by_label("Claims", exact=True)
    expect(claims).to_contain_text("overstated")
    page.keyboard.press("Control+Enter")
    expect(text).not_to_have_value(re.compile("twice"))
    expect(claims).not_to_contain_text("overstated")


def enter_runs(page: Page) -> None:
    line = page.get_by_label(re.compile("Type a run"))
    expect(line).to_be_focused()
    page.keyboard.type("tall")
    page.keyboard.press("Enter")
    expect(line).to_have_value("Tall Oak / ")
    page.keyboard.press("Enter")
    expect(line).to_have_value("Tall Oak / Harvest film, export / ")
    for typed in ("5:20", "5m 22s", "321"):
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
        expect(page.get_by_text("Saved.").first).to_be_visible()
        expect(line).to_have_value("Tall Oak / Harvest film, export / ")
    for typed in ("6:31", "PT6M29S", "6,5 min"):
        page.keyboard.press("Control+a")
        page.keyboard.type(f"birch / harvest / {typed}")
        page.keyboard.press("Enter")
        expect(line).to_have_value("Small Birch / Harvest film, export / ")
    expect(page.get_by_text("7 runs", exact=True).first).to_be_visible()


def test_from_the_shelf_to_a_verdict_by_keyboard(page: Page, demo: records.Shootout) -> None:
    page.goto("/")
    expect(page.get_by_role("link", name=demo.name).first).to_be_visible()
    tab_to(page, "What do you want to find out?")
    page.keyboard.type("Which desk machine?")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Start with the machines")).to_be_visible()
    line_up(page, "Tall Oak", "Small Birch")
    go(page, "2", "Tasks")
    add_task(page)
    time_a_run(page)
    go(page, "4", "Runs")
    enter_runs(page)
    go(page, "5", "Harvest film, export")
    summary = page.get_by_test_id("summary")
    expect(summary).to_contain_text("Tall Oak is 21 % faster than Small Birch")
    expect(
        page.get_by_role("img", name=re.compile("0.82 times as fast as Tall Oak"))
    ).to_be_visible()

    tab_to(page, "Small Birch")
    tab_to(page, "Small Birch")
    page.keyboard.press("Enter")
    note = page.get_by_role("complementary")
    expect(note).to_contain_text("Tall Oak compared with Small Birch")
    expect(note).to_contain_text("less time")
    page.keyboard.press("Escape")
    expect(note).to_be_hidden()

    tab_to(page, "Make Small Birch the baseline")
    page.keyboard.press("Space")
    expect(
        page.get_by_role("img", name=re.compile("1.21 times as fast as Small Birch"))
    ).to_be_visible()
    pick(page)
    say(page)


def test_the_help_and_the_find_box(page: Page, demo: records.Shootout) -> None:
    page.goto(f"/s/{demo.slug}/margins")
    expect(page.get_by_test_id("summary")).to_be_visible()
    page.keyboard.press("?")
    help_page = page.get_by_role("dialog", name="Help")
    expect(help_page).to_be_visible()
    help_page.get_by_text("An export crashed. Does it count?").click()
    expect(help_page).to_contain_text("4 of 5 attempts completed")
    help_page.get_by_role("button", name="Words").click()
    help_page.get_by_label("Search words").fill("payback")
    expect(help_page).to_contain_text("until the time saved has paid")
    page.keyboard.press("Escape")
    expect(help_page).to_be_hidden()
    page.keyboard.press("Control+k")
    page.keyboard.type("stills")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Rehearsal stills")
    page.go_back()
    expect(page.get_by_label("Task", exact=True)).to_have_value(re.compile("."))


def test_single_keys_can_be_switched_off(page: Page, demo: records.Shootout) -> None:
    page.goto(f"/s/{demo.slug}/margins")
    page.get_by_role("button", name="Help").click()
    page.get_by_role("button", name="Keys").click()
    page.get_by_label("single keys are on").uncheck()
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    page.keyboard.press("1")
    expect(page.get_by_test_id("summary")).to_be_visible()
    expect(page).to_have_url(re.compile("/margins"))
