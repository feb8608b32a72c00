"""The whole way to a published page by keys alone and by roles and names alone.

In a language that writes 1.450,50, at 400 % (a window of 320 by 256), in forced colours: with
everything at once that a person may need, nothing is known of where things stand.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from true_margin.desk.book.shelf import SHELF
from true_margin.store import editions
from true_margin.store.database import Database

MOST_STOPS = 400


class Keys:
    """A person who sees nothing and has no pointer."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def to(self, thing: Locator) -> None:
        """Press Tab until something has the focus."""
        expect(thing).to_be_visible()
        for _ in range(MOST_STOPS):
            if thing.evaluate("each => each === document.activeElement"):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"Tab does not reach {thing}")

    def press(self, role: str, name: str | re.Pattern[str]) -> None:
        """Go to something by its role and name, and press it."""
        self.to(self.page.get_by_role(role, name=name, exact=isinstance(name, str)))  # type: ignore[arg-type]
        self.page.keyboard.press("Enter")

    def write(self, name: str | re.Pattern[str], text: str) -> None:
        """Go to a field by its name and write something into it."""
        exact = isinstance(name, str)
        field = self.page.get_by_role("textbox", name=name, exact=exact)
        self.to(field.or_(self.page.get_by_role("combobox", name=name, exact=exact)))
        self.page.keyboard.press("ControlOrMeta+A")
        self.page.keyboard.type(text)

    def enter(self, name: str | re.Pattern[str], text: str) -> None:
        """Write something and press Enter."""
        self.write(name, text)
        self.page.keyboard.press("Enter")

    def hears(self, words: str) -> None:
        """What happened was said."""
        expect(self.page.get_by_role("status", name="Announcements")).to_contain_text(words)

    def go_on(self, strong: str | re.Pattern[str], button: str) -> None:
        """Take what Next offers, once it offers this."""
        strip = self.page.get_by_role("contentinfo")
        expect(strip).to_contain_text(strong)
        self.to(strip.get_by_role("link", name=button, exact=True))
        self.page.keyboard.press("Enter")


@pytest.fixture
def keys(browser: Browser, address: str) -> Iterator[Keys]:
    """Such a person in front of the shelf."""
    context = browser.new_context(
        base_url=address,
        locale="de-DE",
        viewport={"width": 320, "height": 256},
        forced_colors="active",
        reduced_motion="reduce",
    )
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.goto("/")
    yield Keys(page)
    assert errors == []
    context.close()


def test_from_an_empty_shelf_to_a_published_page(keys: Keys, database: Database) -> None:
    page = keys.page
    keys.enter("What do you want to find out?", "By ear and by key")
    machines_and_a_task(keys)
    slug = page.url.split("/s/")[1].split("/")[0]
    times(keys)
    prices_and_a_viewer(keys)
    keys.go_on("Write your script:", "Open script")
    keys.write("Script", "Falun is faster than Old tower.\nThat is all.")
    keys.hears("The one claim holds.")
    keys.go_on("Make a card:", "Make a card")
    keys.press("button", "Save card")
    keys.hears("Card added.")
    keys.go_on("Publish the page:", "Publish")
    keys.press("button", "Publish edition 1")
    keys.hears("Edition published.")
    expect(page.get_by_role("contentinfo")).to_contain_text("Up to date.")
    with database.transaction() as session:
        home = SHELF.take(database, slug).shootout.id
        assert len(editions.list_editions(session, home)) == 1
    assert page.evaluate("document.documentElement.scrollWidth") <= 320


def machines_and_a_task(keys: Keys) -> None:
    for name in ("Old tower", "Falun"):
        keys.enter("Name of the machine", name)
        keys.hears("Machine added.")
        expect(keys.page.get_by_text(f"{name} is in the line-up.")).to_be_visible()
    keys.go_on("Add a task:", "Add task")
    keys.write("Name of the task", "Wedding film")
    keys.enter("App", "Weftline")
    keys.hears("Task added.")


def times(keys: Keys) -> None:
    """Two runs each, typed as a German would; one of them said by what it was, aloud."""
    keys.go_on("Time Wedding film on Old tower.", "Type it")
    line = re.compile("Type a run")
    for typed, shown, setup in (
        ("12:10,5", "12:10,5", "old"),
        ("7:38,2", "7:38,2", "falun"),
        ("12:06,4", "12:06,4", "old"),
        ("7:41", "7:41", "falun"),
    ):
        keys.enter(line, f"{setup} / wedding / {typed}")
        expect(keys.page.get_by_role("button", name=shown).first).to_be_visible()


def prices_and_a_viewer(keys: Keys) -> None:
    page = keys.page
    for name, amount in (("Old tower", "300"), ("Falun", "1.450,50")):
        keys.go_on(f"Add the price of {name}", "Add price")
        keys.enter("Price", amount)
        keys.hears("Price added.")
        # The note lies over the strip that offers what is next.
        keys.page.keyboard.press("Escape")
        keys.page.keyboard.press("Escape")
    keys.go_on("Who is it for?", "Add viewer")
    keys.press("button", "New")
    page.keyboard.type("Wedding filmer")
    page.keyboard.press("Enter")
    keys.hears("Viewer added.")
    expect(page.get_by_label("The pick")).to_contain_text(re.compile(r"Falun|Old tower"))
    page.keyboard.press("Escape")
    keys.write("Budget", "1.500,25")
    expect(page.get_by_role("slider", name=re.compile("Budget"))).to_have_attribute(
        "aria-valuetext", re.compile(r"^1500,25 ")
    )
    keys.press("button", "Save")
