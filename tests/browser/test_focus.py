"""Where the focus goes: after every action of every stage, by notes and back, past the strips."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.looks import settling, visit
from tests.browser.test_stages import STAGES
from tests.browser.waiting import clock_reaches
from tests.desk.helpers import Bench
from true_margin.desk.packs.incoming import import_pack
from true_margin.exchange.data_pack import Pack
from true_margin.store import records
from true_margin.store.database import Database

ACTIONS = """() => {
  for (const each of document.querySelectorAll('[data-action]')) each.removeAttribute('data-action')
  return [...document.querySelectorAll('#root button, #root summary')]
    .filter(each => each.checkVisibility() && !each.disabled && !each.closest('[inert]'))
    .map((each, at) => {
      each.setAttribute('data-action', at)
      const name = (each.getAttribute('aria-label') || each.textContent).trim()
      // Of many alike, such as a button a run or a cell of the sheet, one stands for all.
      const words = name.endsWith('. Edit') ? ['Edit'] : name.replace(/[^a-z ]/gi, '').split(' ')
      return [at, name, each.className + '|' + words.slice(0, 2).join(' ')]
    })
}"""
"""Everything that can be pressed, each with its name and its kind."""

NOWHERE = """() => (document.activeElement === document.body || document.activeElement === null)
  && !document.querySelector('dialog[open]')"""


def focused(page: Page) -> str:
    """What has the focus, as text."""
    return str(page.evaluate("document.activeElement.textContent"))


@pytest.fixture(scope="module")
def own(database: Database, demo: records.Shootout, demo_pack: Pack) -> records.Shootout:
    """A demo of one's own, of which everything may be pressed."""
    return import_pack(database, demo_pack)


@pytest.fixture(scope="module")
def known() -> set[str]:
    """Kinds of actions that were pressed on some stage already."""
    return set()


@pytest.mark.parametrize("stage", STAGES)
def test_no_action_leaves_the_focus_nowhere(
    page: Page, own: records.Shootout, known: set[str], stage: str
) -> None:
    page.on("dialog", lambda dialog: dialog.accept())
    where = f"/s/{own.slug}/{stage}"
    visit(page, where)
    assert page.evaluate(ACTIONS), "the stage has nothing to press"
    fresh, lost = True, []
    while True:
        action = next((each for each in page.evaluate(ACTIONS) if each[2] not in known), None)
        if action is None or where not in page.url:
            # What an action opened or took away is put back before the stage is done with.
            if fresh:
                break
            page.goto("about:blank")
            visit(page, where)
            fresh = True
            continue
        fresh = False
        at, name, kind = action
        known.add(kind)
        with settling(page):
            page.locator(f"[data-action='{at}']").focus()
            page.keyboard.press("Enter")
        if page.evaluate(NOWHERE):
            lost.append(name)
        page.keyboard.press("Escape")
    assert lost == []


def test_a_note_takes_the_focus_and_gives_it_back(page: Page, demo: records.Shootout) -> None:
    visit(page, f"/s/{demo.slug}/margins")
    opener = page.get_by_role("button", name="working of the figures of Halyard L")
    for way in ("Escape", "Close"):
        opener.focus()
        page.keyboard.press("Enter")
        note = page.get_by_role("complementary", name="Figures of Halyard L")
        expect(note.get_by_role("heading").first).to_be_focused()
        if way == "Escape":
            page.keyboard.press(way)
        else:
            page.keyboard.press("Tab")
            expect(note.get_by_role("button", name="Close")).to_be_focused()
            page.keyboard.press("Enter")
        expect(opener).to_be_focused()


def test_under_a_note_on_a_phone_nothing_is_reached(page: Page, demo: records.Shootout) -> None:
    page.set_viewport_size({"width": 390, "height": 800})
    visit(page, f"/s/{demo.slug}/margins")
    page.get_by_role("button", name="working of the figures of Halyard L").click()
    note = page.get_by_role("complementary", name="Figures of Halyard L")
    expect(note).to_be_visible()
    for _ in range(30):
        page.keyboard.press("Tab")
        inside = page.evaluate(
            "document.activeElement === document.body || !!document.activeElement.closest('aside')"
        )
        assert inside, focused(page)
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    assert page.locator("[inert]").count() == 0


def test_start_stop_ready_again_by_one_key(page: Page, bench: Bench) -> None:
    """Each press of Enter finds the next one under it; what happened is said."""
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_role("button", name="Ready the timer").focus()
    said = page.get_by_role("status", name="Announcements")
    page.keyboard.press("Enter")
    timer = page.get_by_role("region", name="Timer 1, A")
    expect(timer).to_be_focused()
    page.get_by_role("button", name=re.compile("^Start")).focus()
    page.keyboard.press("Enter")
    expect(page.locator(":focus")).to_contain_text("Stop")
    clock_reaches(page, 1)
    page.keyboard.press("Enter")
    expect(page.locator(":focus")).to_contain_text("Next run")
    expect(said).to_contain_text("started.")
    expect(said).to_contain_text("ended: 0:0")


def test_the_first_stop_leads_past_the_strips(page: Page, demo: records.Shootout) -> None:
    for where in (f"/s/{demo.slug}/margins", "/", "/room"):
        page.goto(where)
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        page.keyboard.press("Tab")
        expect(page.get_by_role("link", name="Skip to the page")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_be_focused()


def test_another_stage_begins_at_its_heading(page: Page, demo: records.Shootout) -> None:
    visit(page, f"/s/{demo.slug}/margins")
    page.get_by_role("link", name="Picks").first.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1, name="Picks")).to_be_focused()


def test_what_changed_is_said_and_only_that(page: Page, own: records.Shootout) -> None:
    visit(page, f"/s/{own.slug}/margins")
    said = page.get_by_role("status", name="Announcements")
    expect(said).to_be_empty()
    page.get_by_role("combobox", name="Baseline").select_option("Cairn Brick")
    expect(said).to_contain_text("Compared with Cairn Brick now.")
    expect(said).to_contain_text("changed.")
    page.get_by_role("combobox", name="Baseline").select_option("Tarn Desk")
    expect(said).to_contain_text("Compared with Tarn Desk now.")
