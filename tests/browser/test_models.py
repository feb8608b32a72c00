"""Several samples of a model, and a plan before the first run, by keyboard in the interface."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.test_picks import priced_field
from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.picks import viewers
from true_margin.desk.publish import script
from true_margin.desk.shootouts import shootouts


def test_samples_of_a_model_are_picked_as_one(page: Page, bench: Bench) -> None:
    priced_field(bench)
    viewers.add_viewer(bench.database, bench.slug, {"name": "Filmer", "rule": "fastest"}, None)
    page.goto(f"/s/{bench.slug}/lineup")
    for name in ("B", "C"):
        page.get_by_role("button", name=name, exact=True).click()
        cell = page.get_by_role("button", name="Model that it is a sample of")
        cell.focus()
        page.keyboard.press("Enter")
        page.keyboard.type("Halyard")
        page.keyboard.press("Enter")
        expect(cell).to_contain_text("Halyard")
        page.get_by_role("button", name="Close").click()
    expect(page.get_by_text("a sample of Halyard")).to_have_count(2)

    page.goto(f"/s/{bench.slug}/picks")
    pick = page.get_by_label("The pick")
    expect(pick).to_contain_text("Halyard, 900 EUR")
    expect(pick).to_contain_text("How much samples of a model differ is partly measured")
    page.get_by_text("One run on Halyard of the viewer's own").click()
    expect(pick.get_by_role("listitem").filter(has_text="Parade")).to_contain_text(" to ")
    expect(page.get_by_text("mean of B, C")).to_be_visible()


def test_a_script_says_what_holds_of_the_models(page: Page, bench: Bench) -> None:
    priced_field(bench)
    text = "B is twice as fast as A on Parade."
    script.keep_script(bench.database, bench.slug, text, 0)
    page.goto(f"/s/{bench.slug}/publish")
    claims = page.get_by_role("listitem").filter(has_text="of the models")
    expect(claims).to_contain_text("holds")
    expect(claims).to_contain_text(re.compile("of the models: ?likely"))
    expect(claims).to_contain_text("Of the models, say: B is over 1.")


def test_a_plan_is_frozen_before_the_first_run(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/lineup?focus=settings")
    plan = page.get_by_role("region", name="Plan")
    expect(plan.get_by_text("Say first how many runs are planned.")).to_be_visible()
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(bench.database, bench.slug, version, {"planned_runs": 2})
    page.reload()
    field = plan.get_by_label(re.compile("What would count"))
    field.focus()
    page.keyboard.type("two minutes sooner")
    page.keyboard.press("Enter")
    expect(plan.get_by_text(re.compile("^Planned on .*What would count: two min"))).to_be_visible()
    assert len(SHELF.take(bench.database, bench.slug).plans) == 1
    bench.run("A", "10:00")
    page.reload()
    told = plan.get_by_role("list", name="Done otherwise")
    expect(told).to_contain_text("Fewer runs than the 2 planned: A on Parade (1).")
    expect(told).to_contain_text("Planned and not timed: B.")
    expect(plan.get_by_role("button")).to_have_count(0)
