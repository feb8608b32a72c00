"""Machines, specs and prices, tried in the real interface."""

from __future__ import annotations

import re
from typing import Any

from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.browser.conftest import comes_to
from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.packs import incoming as pack_in
from true_margin.exchange.data_pack import Pack
from true_margin.store.database import Database


def specs_of_a(bench: Bench) -> dict[str, Any]:
    return spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine.specs


def test_two_tabs_that_edit_one_machine_lose_nothing(
    page: Page, context: BrowserContext, bench: Bench
) -> None:
    page.goto(f"/s/{bench.slug}/lineup")
    page.get_by_role("combobox", name=re.compile("^rows")).select_option("all rows")
    cell = page.get_by_role("button", name=re.compile("^Cores of A"))
    cell.click()
    page.keyboard.type("8")
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    # Another tab stores another field, then the same field, while this edit is open.
    lineup.change_machine(bench.database, machine.id, 1, {"specs": {"form": "laptop"}})
    page.keyboard.press("Enter")
    expect(cell).to_have_text("8")
    expect(page.get_by_role("button", name=re.compile("^Type of A"))).to_have_text("laptop")
    comes_to(lambda: specs_of_a(bench).get("cores"), 8)

    cell.click()
    page.keyboard.press("Control+a")
    page.keyboard.type("10")
    now = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    lineup.change_machine(bench.database, machine.id, now.version, {"specs": {"cores": "12"}})
    page.keyboard.press("Enter")
    asked = page.get_by_text("Changed elsewhere meanwhile. Keep which?")
    expect(asked).to_be_visible()
    expect(page.get_by_role("button", name="Theirs: 12")).to_be_visible()
    page.get_by_role("button", name="Yours: 10").click()
    expect(cell).to_have_text("10")
    comes_to(lambda: specs_of_a(bench)["cores"], 10)


def test_a_machine_is_added_by_copy_and_specs_are_pasted(page: Page, bench: Bench) -> None:
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    lineup.change_machine(bench.database, machine.id, 1, {"specs": {"form": "laptop"}})
    page.goto(f"/s/{bench.slug}/lineup?focus=add")
    page.get_by_label("Specs like").select_option(label="A")
    page.get_by_label("Name of the machine").fill("A twin")
    page.get_by_label("Name of the machine").press("Enter")
    expect(page.get_by_text("A twin is in the line-up.")).to_be_visible()
    page.get_by_role("combobox", name=re.compile("^rows")).select_option("filled rows")
    expect(page.get_by_role("button", name=re.compile("^Type of A twin: laptop"))).to_be_visible()
    page.get_by_role("button", name="Done").click()

    page.get_by_role("button", name="Paste specs").click()
    block = page.get_by_label(re.compile("Paste a block"))
    block.fill("\tA\tA twin\nCores\t8\t0\n")
    page.get_by_role("button", name="Preview").click()
    bad = page.get_by_role("row", name=re.compile("A twin Cores"))
    expect(bad).to_contain_text("must be at least 1")
    expect(page.get_by_role("button", name=re.compile("^Store"))).to_have_count(0)
    block.fill("\tA\tA twin\nCores\t8\t12\nStorage\t1 TB\t2 TB\n")
    page.get_by_role("button", name="Preview").click()
    page.get_by_role("button", name="Store 4 changes").click()
    stored = page.get_by_role("button", name=re.compile("^Storage of A twin: 2000 GB"))
    expect(stored).to_be_visible()


def test_machines_move_by_keyboard_and_by_drag(page: Page, bench: Bench) -> None:
    bench.machine("C")
    page.goto(f"/s/{bench.slug}/lineup")
    heads = page.get_by_role("columnheader").filter(has=page.get_by_role("button"))
    expect(heads).to_have_text([re.compile("^A"), re.compile("^B"), re.compile("^C")])
    page.get_by_role("button", name="B", exact=True).press("Enter")
    note = page.get_by_role("complementary")
    note.get_by_role("button", name="Move left").press("Enter")
    expect(heads).to_have_text([re.compile("^B"), re.compile("^A"), re.compile("^C")])
    note.get_by_role("button", name="Stop testing it (its runs still count)").press("Enter")
    expect(heads.first).to_contain_text("retired")
    note.get_by_role("button", name="Copy this setup").press("Enter")
    expect(heads.first).to_contain_text("as is copy")
    page.keyboard.press("Escape")
    heads.nth(2).drag_to(heads.nth(0))
    expect(heads).to_have_text([re.compile("^C"), re.compile("^B"), re.compile("^A")])


def test_prices_extras_and_conditions_are_noted(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/lineup")
    page.get_by_role("button", name="Add price").first.click()
    note = page.get_by_role("complementary")
    note.get_by_label("Price", exact=True).fill("cheap")
    note.get_by_role("button", name="Add price").click()
    expect(note.get_by_role("alert")).to_contain_text("type it like 1290")
    note.get_by_label("Price", exact=True).fill("1 290,50")
    note.get_by_role("button", name="Add price").click()
    expect(page.get_by_role("columnheader").filter(has_text="1,290.50")).to_be_visible()
    note.get_by_label("Extra", exact=True).fill("dock")
    note.get_by_role("textbox", name="EUR").fill("89.50")
    note.get_by_role("button", name="Add extra to A").click()
    expect(page.get_by_role("columnheader").filter(has_text="as tested: 1,380 EUR")).to_be_visible()
    note.get_by_role("button", name=re.compile("^Room of A")).click()
    page.keyboard.type("warm")
    page.keyboard.press("Enter")
    expect(note.get_by_role("alert")).to_contain_text("not a number")
    page.keyboard.press("Control+a")
    page.keyboard.type("26,5 °C")
    page.keyboard.press("Enter")
    expect(note.get_by_role("button", name=re.compile("^Room of A: 26.5 °C"))).to_be_visible()


def label_of(box: Locator) -> str:
    """What a checkbox is called."""
    return box.get_attribute("aria-label") or ""


def test_prices_are_refreshed_from_a_feed_that_may_fail(
    page: Page, database: Database, demo_pack: Pack
) -> None:
    demo = pack_in.import_pack(database, demo_pack)

    def newest() -> list[str]:
        columns = spec_sheet.show_lineup(database, demo.slug).columns
        return [str(column.machine.prices[0].amount) for column in columns[:6]]

    before = newest()
    page.goto(f"/s/{demo.slug}/lineup")
    page.get_by_role("button", name="Refresh prices").click()
    expect(page.get_by_text("Nothing is stored yet.")).to_be_visible()
    page.get_by_label("out of order").check()
    page.get_by_role("button", name="Check again").click()
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("is out of order")
    expect(alert).to_contain_text("All prices are as they were")
    page.get_by_label("out of order").uncheck()
    page.get_by_role("button", name="Check again").click()
    row = page.get_by_role("row", name=re.compile("Halyard L maker"))
    expect(row).to_contain_text("Becomes the price that counts.")
    for box in page.get_by_role("checkbox", name=re.compile("^Add .* price of")).all():
        box.set_checked(label_of(box) == "Add list price of Halyard L from maker's list")
    page.get_by_role("button", name="Add 1 price").click()
    expect(page.get_by_label("Refresh prices", exact=True)).to_be_hidden()
    expect(page.get_by_role("columnheader").filter(has_text="2,390")).to_be_visible()
    assert [pair for pair in zip(before, newest(), strict=True) if pair[0] != pair[1]] == [
        ("2490.00", "2390.00")
    ]


def test_rows_of_ones_own_marks_and_the_archive(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/lineup")
    page.get_by_role("button", name="Add a row of your own").click()
    page.get_by_label("Name of the row").fill("Height")
    page.get_by_label(re.compile("Unit")).fill("cm")
    page.get_by_role("button", name="Add row").click()
    page.get_by_role("button", name=re.compile("^Height of A")).click()
    page.keyboard.type("tall")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("not a number")
    page.keyboard.press("Control+a")
    page.keyboard.type("41 cm")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile("^Height of A: 41 cm"))).to_be_visible()
    page.get_by_role("rowheader", name=re.compile("Height")).get_by_role("button").click()
    note = page.get_by_role("complementary")
    # The server has the last word on it, so it is pressed, not expected to be set at once.
    note.get_by_label(re.compile("what is compared")).click()
    expect(page.get_by_role("rowheader", name=re.compile("Height"))).to_contain_text("compared")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="B", exact=True).click()
    note.get_by_role("button", name="Archive it (hides it and its runs)").click()
    expect(page.get_by_role("columnheader", name=re.compile("^B"))).to_be_hidden()
    page.get_by_role("button", name="Restore").click()
    expect(page.get_by_role("columnheader", name=re.compile("^B"))).to_be_visible()


def test_a_price_is_typed_where_one_came_from_a_price(page: Page, bench: Bench) -> None:
    page.set_viewport_size({"width": 1280, "height": 700})
    page.goto(f"/s/{bench.slug}/lineup")
    page.get_by_role("button", name="Add price").first.click()
    amount = page.get_by_label("Price", exact=True)
    expect(amount).to_be_focused()
    expect(amount).to_be_in_viewport()
    page.keyboard.type("1 290")
    page.keyboard.press("Enter")
    expect(page.get_by_role("complementary").get_by_text(re.compile("1.290"))).to_be_visible()


def test_the_plan_and_the_samples_are_set_and_said(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/lineup?focus=settings")
    page.get_by_role("button", name=re.compile("^Runs planned: no number of runs")).press("Enter")
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    expect(page.get_by_text("3 runs of each setup on each task")).to_be_visible()
    page.get_by_role("button", name=re.compile("^How much samples of one model differ")).click()
    page.keyboard.press("Control+a")
    page.keyboard.type("0 %")
    page.keyboard.press("Enter")
    expect(page.get_by_text("of one model are treated as alike")).to_be_visible()
    kept = SHELF.take(bench.database, bench.slug).shootout
    assert (kept.planned_runs, kept.unit_prior_cv) == (3, 0.0)
    page.goto("/")
    page.get_by_label("What do you want to find out?").fill("With a plan")
    page.get_by_text("More: what is compared").click()
    page.get_by_label("Planned runs").fill("5")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Line-up")).to_be_visible()
