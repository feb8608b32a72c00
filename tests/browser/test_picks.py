"""Picks in the real interface: a viewer by keyboard, a price drawn past its flip price."""

from __future__ import annotations

import re
from datetime import date
from decimal import Decimal

from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.picks import viewers
from true_margin.desk.shootouts import shootouts
from true_margin.store import records

DAY = date(2026, 11, 24)


def priced_field(bench: Bench) -> None:
    """A takes 10 minutes for 300, B 5 for 900, C 2:30 for 2 000."""
    bench.machine("C")
    for setup, times in {"A": "10:00", "B": "5:00", "C": "2:30"}.items():
        for repeat in range(3):
            bench.run(setup, f"{times}.{repeat}")
    shootout = shootouts.get_shootout(bench.database, bench.slug)
    shootouts.change_shootout(bench.database, bench.slug, shootout.version, {"price_date": DAY})
    amounts = {"A": "300", "B": "900", "C": "2000"}
    for machine in SHELF.take(bench.database, bench.slug).machines:
        fields = {"kind": "list", "amount": amounts[machine.name], "currency": "EUR", "dated": DAY}
        lineup.add_price(bench.database, machine.id, fields)


def says(page: Page, words: str) -> None:
    expect(page.get_by_label("The pick")).to_contain_text(words)


def test_a_viewer_by_keyboard_and_a_price_past_its_flip_price(page: Page, bench: Bench) -> None:
    priced_field(bench)
    page.goto(f"/s/{bench.slug}/picks")
    expect(page.get_by_role("heading", name="Who is it for?")).to_be_visible()
    page.get_by_role("button", name="New").focus()
    page.keyboard.press("Enter")
    page.keyboard.type("Filmer")
    page.keyboard.press("Enter")
    says(page, "Buy the C, 2,000 EUR")
    page.get_by_label("Budget", exact=True).focus()
    page.keyboard.type("1500")
    says(page, "Buy the B, 900 EUR")
    page.get_by_role("button", name="Save").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Unsaved changes")).to_be_hidden()
    (kept,) = SHELF.take(bench.database, bench.slug).viewers
    assert (kept.name, kept.budget) == ("Filmer", Decimal(1500))
    # Drawn along the price, C comes within the budget: that is its flip price.
    expect(page.get_by_text("would win at 1,500 EUR or less").first).to_be_visible()
    mark = page.locator("[data-setup=C]")
    box = mark.bounding_box()
    scale = page.locator("[data-setup=B]").bounding_box()
    assert box is not None
    assert scale is not None
    per_euro = (box["x"] - scale["x"]) / 1100
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.move(*middle)
    page.mouse.down()
    page.mouse.move(middle[0] - 400 * per_euro, middle[1], steps=8)
    says(page, "Buy the B, 900 EUR")
    page.mouse.move(middle[0] - 640 * per_euro, middle[1], steps=8)
    page.mouse.up()
    expect(page.get_by_label("The pick")).to_contain_text(re.compile(r"C, 1,\d\d0 EUR"))
    page.get_by_role("button", name="Undo").click()
    says(page, "Buy the B, 900 EUR")
    # The same with the arrow keys, and kept.
    page.get_by_text("Try prices").click()
    slider = page.get_by_label("Price of B")
    slider.focus()
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    says(page, "Buy the B, 930 EUR.")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Unsaved changes")).to_be_hidden()
    says(page, "Buy the B, 930 EUR.")
    prices = next(
        m.prices for m in SHELF.take(bench.database, bench.slug).machines if m.name == "B"
    )
    assert [p.amount for p in prices] == [Decimal("930.00"), Decimal("900.00")]
    page.reload()
    says(page, "Buy the B, 930 EUR.")


def test_the_mix_sums_and_weekly_work_keeps_its_unit(page: Page, bench: Bench) -> None:
    priced_field(bench)
    bench.task("Titles, export", work=90.0, unit="s")
    for setup, time in (("A", "1:00"), ("B", "0:50"), ("C", "0:40")):
        bench.run(setup, time, "Titles, export")
    viewers.add_viewer(bench.database, bench.slug, {"name": "Mixer"}, None)
    page.goto(f"/s/{bench.slug}/picks")
    parade = page.get_by_label("Parade", exact=True)
    titles = page.get_by_label("Titles, export", exact=True)
    expect(parade).to_have_value("50")
    parade.fill("80")
    expect(titles).to_have_value("20")
    titles.fill("100")
    expect(parade).to_have_value("0")
    page.get_by_label("Amounts per week").click()
    says(page, "every amount is 0")
    amount = page.get_by_label("Titles, export", exact=True)
    amount.fill("9")
    expect(page.get_by_label("The pick")).to_contain_text("over 99 %")
    # Nine minutes of a film of a minute and a half are six times.
    page.get_by_label("Unit of Titles, export").select_option("times")
    expect(amount).to_have_value("6")
    amount.fill("-3")
    expect(page.get_by_text("Titles, export: amount must be 0 or more, got −")).to_be_visible()
    amount.fill("some")
    page.keyboard.press("Tab")
    expect(
        page.get_by_text("Type a number without a sign between thousands, such as 1200 or 12.5.")
    ).to_be_visible()


def test_bad_wishes_are_explained_in_place_and_lose_nothing(
    page: Page, demo: records.Shootout
) -> None:
    page.goto(f"/s/{demo.slug}/picks")
    says(page, "Cairn Brick, 940 EUR")
    kept_for = page.get_by_label("Kept for", exact=True)
    kept_for.fill("0")
    expect(page.get_by_text("The horizon must be above 0")).to_be_visible()
    says(page, "This is the last answer that could be worked out.")
    says(page, "Cairn Brick, 940 EUR")
    kept_for.fill("3")
    page.get_by_role("combobox", name="Has now").select_option("none of these")
    page.get_by_label("Budget", exact=True).fill("100")
    says(page, "Nothing costs 100 EUR or less: the cheapest is 380 EUR.")
    page.get_by_role("button", name="Undo").click()
    says(page, "Cairn Brick, 940 EUR")
    # Each viewer has an address of its own, and its answer stands there.
    page.get_by_role("navigation", name="All viewers").get_by_text("Title maker").click()
    says(page, "Ferrous T9 stock, 1,790 EUR")
    assert "viewer=" in page.url
    page.get_by_role("link", name="What would change it").click()
    page.get_by_role("button", name=re.compile(r"at [\d.]+ EUR: Cairn Brick")).first.click()
    says(page, "Cairn Brick, 940 EUR")
    expect(page.get_by_text("Unsaved changes to this viewer")).to_be_visible()
    page.go_back()
    page.go_back()
    says(page, "Nothing under 1,500 EUR is more than 3 % faster")


def test_somebody_elses_change_is_not_undone_by_keeping_ones_own(page: Page, bench: Bench) -> None:
    priced_field(bench)
    viewer = viewers.add_viewer(bench.database, bench.slug, {"name": "Filmer"}, None)
    page.goto(f"/s/{bench.slug}/picks")
    says(page, "Buy the C, 2,000 EUR")
    page.get_by_label("Budget", exact=True).fill("1500")
    says(page, "Buy the B, 900 EUR")
    changes = {"hour_value": Decimal(77)}
    viewers.change_viewer(bench.database, viewer.id, viewer.version, changes)
    # The page reads the new viewer before its own change is kept.
    with page.expect_response(lambda answer: answer.url.endswith("/picks")):
        pass
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("was changed elsewhere since you opened it")).to_be_visible()
    page.get_by_role("button", name="Save mine over it").click()
    expect(page.get_by_text("Unsaved changes")).to_be_hidden()
    (kept,) = SHELF.take(bench.database, bench.slug).viewers
    assert (kept.budget, kept.hour_value) == (Decimal(1500), Decimal(77))
