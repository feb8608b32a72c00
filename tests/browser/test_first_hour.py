"""The first hour: from an empty shelf to a published page, by what Next and the screens offer."""

from __future__ import annotations

import re
import time

import pytest
from playwright.sync_api import Locator, Page, expect

from true_margin.desk.book.shelf import SHELF
from true_margin.store import editions
from true_margin.store.database import Database

MOST_ACTIONS = 60
PASTE = """Old tower / wedding film / 12:10
New laptop / wedding film / 7:38
Old tower / wedding film / 12:06
New laptop / wedding film / 7:41
Old tower / wedding film / 12:12
New laptop / wedding film / 7:39"""


class Hand:
    """A person at the keyboard: every click, every field that is filled is one action."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.actions = 0

    def click(self, thing: Locator) -> None:
        """Click something."""
        thing.click()
        self.actions += 1

    def fill(self, thing: Locator, text: str) -> None:
        """Fill a field."""
        thing.fill(text)
        self.actions += 1

    def press(self, key: str) -> None:
        """Press a key."""
        self.page.keyboard.press(key)
        self.actions += 1

    def go_on(self, strong: str | re.Pattern[str], button: str) -> None:
        """Take what Next offers, once it offers this."""
        strip = self.page.get_by_role("contentinfo")
        expect(strip).to_contain_text(strong)
        self.click(strip.get_by_role("link", name=button, exact=True))


@pytest.fixture
def hand(page: Page) -> Hand:
    """A person in front of the shelf."""
    page.goto("/")
    return Hand(page)


def test_from_nothing_to_a_published_page(hand: Hand, page: Page, database: Database) -> None:
    hand.fill(page.get_by_label("What do you want to find out?"), "Which one for weddings?")
    hand.press("Enter")
    two_machines_and_a_task(hand, page)
    slug = page.url.split("/s/")[1].split("/")[0]
    two_runs_each(hand, page)
    prices_and_a_viewer(hand, page)
    three_lines(hand, page)
    a_card(hand, page)
    hand.go_on("Publish the page:", "Publish")
    hand.click(page.get_by_role("button", name="Publish edition 1"))
    expect(page.get_by_label("Links").get_by_role("link")).to_be_visible()
    expect(page.get_by_role("contentinfo")).to_contain_text("Up to date. Nothing left to do.")
    with database.transaction() as session:
        home = SHELF.take(database, slug).shootout.id
        assert len(editions.list_editions(session, home)) == 1
    assert hand.actions <= MOST_ACTIONS, f"{hand.actions} actions"


def two_machines_and_a_task(hand: Hand, page: Page) -> None:
    for name in ("Old tower", "New laptop"):
        field = page.get_by_label("Name of the machine")
        expect(field).to_be_visible()
        hand.fill(field, name)
        hand.press("Enter")
        expect(page.get_by_text(f"{name} is in the line-up.")).to_be_visible()
    hand.go_on("Add a task:", "Add task")
    hand.fill(page.get_by_label("Name of the task"), "Wedding film")
    hand.fill(page.get_by_label("App", exact=True), "Weftline")
    hand.press("Enter")
    expect(page.get_by_role("region", name="Wedding film")).to_be_visible()


def two_runs_each(hand: Hand, page: Page) -> None:
    hand.go_on("Time Wedding film on Old tower.", "Type it")
    line = page.get_by_role("combobox", name=re.compile("Type a run"))
    for typed, setup in (("12:10", "old"), ("7:38", "new"), ("12:06", "old"), ("7:41", "new")):
        hand.fill(line, f"{setup} / wedding / {typed}")
        hand.press("Enter")
        expect(page.get_by_role("button", name=typed, exact=True)).to_be_visible()


def prices_and_a_viewer(hand: Hand, page: Page) -> None:
    for name, amount in (("Old tower", "300"), ("New laptop", "1450")):
        hand.go_on(f"Add the price of {name}", "Add price")
        price = page.get_by_label("Price", exact=True)
        expect(price).to_be_focused()
        hand.fill(price, amount)
        hand.press("Enter")
        expect(price).to_have_value("")
    hand.go_on("Who is it for?", "Add viewer")
    hand.click(page.get_by_role("button", name="New", exact=True))
    page.keyboard.type("Wedding filmer")
    hand.actions += 1
    hand.press("Enter")
    expect(page.get_by_label("The pick")).to_contain_text("Old tower")


def three_lines(hand: Hand, page: Page) -> None:
    hand.go_on("Write your script:", "Open script")
    hand.fill(
        page.get_by_label("Script", exact=True),
        "New laptop is 59 % faster than Old tower on Wedding film.\n"
        "New laptop is faster than Old tower.\nThat is all for today.",
    )
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    expect(page.get_by_label("Claims", exact=True)).to_contain_text("holds")


def a_card(hand: Hand, page: Page) -> None:
    hand.go_on("Make a card:", "Make a card")
    hand.click(page.get_by_role("button", name="Save card"))
    expect(page.get_by_role("img").first).to_be_visible()


def test_a_first_verdict_from_a_paste_of_six_lines(hand: Hand, page: Page) -> None:
    began = time.monotonic()
    hand.click(page.get_by_role("button", name="Start from your notes"))
    hand.fill(page.get_by_label("Paste a table, or type one result a line"), PASTE)
    hand.click(page.get_by_role("button", name="Preview"))
    expect(page.get_by_role("heading", name="6 results are ready.")).to_be_visible()
    hand.fill(page.get_by_label("What do you want to find out?", exact=True), "Pasted wedding")
    hand.click(page.get_by_role("button", name="Make the shootout"))
    expect(page.get_by_test_id("summary")).to_contain_text("New laptop is 59 % faster than Old")
    assert hand.actions <= 10
    # A whole test of a busy machine takes longer than a person who waits for nothing.
    assert time.monotonic() - began < 60.0
