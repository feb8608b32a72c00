"""The script desk in the real interface: a false claim, the offered line, nothing lost."""

from __future__ import annotations

from playwright.sync_api import BrowserContext, Page, expect

from tests.desk.helpers import Bench
from true_margin.desk import script
from true_margin.store import records


def measured(bench: Bench) -> None:
    for repeat in range(3):
        bench.run("A", f"10:00.{repeat}", method="log")
        bench.run("B", f"5:00.{repeat}", method="log")


def test_a_false_claim_is_caught_and_the_offered_line_taken_by_key(
    page: Page, bench: Bench
) -> None:
    measured(bench)
    page.goto(f"/s/{bench.slug}/publish")
    page.get_by_label("Script", exact=True).focus()
    page.keyboard.type("Welcome back.\nB is three times as fast as A on Parade.")
    claims = page.get_by_label("Claims")
    expect(claims).to_contain_text("overstated")
    expect(claims).to_contain_text("times as fast: 2.00, ")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_label("Script", exact=True)).to_have_value(
        "Welcome back.\nB is 2.00 times as fast as A on Parade."
    )
    expect(claims).not_to_contain_text("overstated")
    expect(page.get_by_text("kept", exact=True)).to_be_visible()
    assert script.show_script(bench.database, bench.slug).text.endswith("on Parade.")
    # New runs change what holds; the claim says what it was until a person has seen it.
    for typed in ("7:30", "7:31", "7:29", "7:30"):
        bench.run("B", typed, method="log")
    expect(claims).to_contain_text("overstated (was: holds)")
    page.get_by_role("button", name="Seen: 1 changed").click()
    expect(claims).not_to_contain_text("was: holds")


def test_two_people_on_one_script_choose(page: Page, context: BrowserContext, bench: Bench) -> None:
    measured(bench)
    page.goto(f"/s/{bench.slug}/publish")
    expect(page.get_by_label("Script", exact=True)).to_be_visible()
    script.keep_script(bench.database, bench.slug, "Theirs.", 0)
    page.get_by_label("Script", exact=True).fill("Mine, and B beats A on Parade.")
    page.get_by_role("button", name="Keep mine").click()
    expect(page.get_by_text("kept", exact=True)).to_be_visible()
    assert script.show_script(bench.database, bench.slug).text.startswith("Mine")
    # What was typed and not kept yet outlives the tab.
    page.route("**/script", lambda route: route.abort() if route.request.method == "PUT"
               else route.continue_())  # fmt: skip
    page.get_by_label("Script", exact=True).fill("Typed in the train.")
    expect(page.get_by_text("not kept yet")).to_be_visible()
    page.close()
    again = context.new_page()
    again.goto(f"/s/{bench.slug}/publish")
    expect(again.get_by_label("Script", exact=True)).to_have_value("Typed in the train.")
    expect(again.get_by_text("kept", exact=True)).to_be_visible()
    assert script.show_script(bench.database, bench.slug).text == "Typed in the train."


def test_lines_offered_unasked_can_be_added(page: Page, demo: records.Shootout) -> None:
    page.goto(f"/s/{demo.slug}/publish")
    expect(page.get_by_role("heading", name="Tempting lines that do not")).to_be_visible()
    expect(page.get_by_label("Claims").get_by_role("listitem")).to_have_count(12)
    page.get_by_role("link", name="the pair").first.click()
    expect(page.get_by_role("complementary")).to_contain_text("times as fast")
