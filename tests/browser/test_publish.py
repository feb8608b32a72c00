"""Publishing in the real interface: claims, cards, report, packs, and what a stranger reads."""

from __future__ import annotations

import re
from pathlib import Path
from uuid import uuid4

from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.publish import cards, script
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.publish.looks import LookName, Shape
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
    claims = page.get_by_label("Claims", exact=True)
    expect(claims).to_contain_text("overstated")
    expect(claims).to_contain_text("measured: times as fast: 2.00, ")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_label("Script", exact=True)).to_have_value(
        "Welcome back.\nB is 2.00 times as fast as A on Parade."
    )
    expect(claims).not_to_contain_text("overstated")
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    assert script.show_script(bench.database, bench.slug).text.endswith("on Parade.")
    # New runs change what holds; the claim says what it was until a person has seen it.
    for typed in ("7:30", "7:31", "7:29", "7:30"):
        bench.run("B", typed, method="log")
    expect(claims).to_contain_text("overstated (was: holds)")
    page.get_by_role("button", name="Seen: 1 changed").click()
    expect(claims).not_to_contain_text("was: holds")


def test_what_is_not_sure_is_confirmed_part_by_part(page: Page, bench: Bench) -> None:
    measured(bench)
    page.goto(f"/s/{bench.slug}/publish")
    page.get_by_label("Script", exact=True).fill(
        "Welcome back.\nB gallops home 3 minutes sooner than A on Parade.\nB is worth every cent."
    )
    expect(page.get_by_text("2 lines to check before you record.")).to_be_visible()
    expect(page.get_by_label("Claims by outcome")).to_have_text("1 to confirm1 not understood")
    # The parts as they were read; another number is the verdict's own.
    parts = page.get_by_role("form", name="What line 2 says")
    expect(parts.get_by_label("Machine")).to_have_value(str(bench.setups["B"]))
    expect(parts.get_by_label("What is said")).to_have_value("saves")
    expect(parts.get_by_label("Number")).to_have_value("3:00")
    parts.get_by_label("Number").fill("soon")
    parts.get_by_label("Number").press("Enter")
    expect(parts).to_contain_text("Type a time, such as 4:45 or 12 s.")
    parts.get_by_label("Number").fill("5:00")
    parts.get_by_label("Number").press("Enter")
    claims = page.get_by_label("Claims", exact=True)
    expect(claims.get_by_text("1 line holds")).to_be_visible()
    # What claims nothing is said so once, and can be looked through.
    claims.get_by_role("button", name="Say what it means").click()
    claims.get_by_role("button", name="Not a claim").click()
    expect(page.get_by_text("The one claim holds.")).to_be_visible()
    claims.get_by_text("2 sentences claim nothing").click()
    claims.get_by_role("button", name="Check it after all").click()
    expect(page.get_by_text("1 line to check before you record.")).to_be_visible()


def test_two_people_on_one_script_choose(page: Page, context: BrowserContext, bench: Bench) -> None:
    measured(bench)
    page.goto(f"/s/{bench.slug}/publish")
    expect(page.get_by_label("Script", exact=True)).to_be_visible()
    # Whoever types first is told of the other, however soon the page hears of the change.
    page.route(
        "**/script",
        lambda route: route.abort() if route.request.method == "PUT" else route.continue_(),
    )
    page.get_by_label("Script", exact=True).fill("Mine, and B beats A on Parade.")
    heard = re.compile("/script$")
    with page.expect_response(lambda got: bool(heard.search(got.url)) and got.ok):
        script.keep_script(bench.database, bench.slug, "Theirs.", 0)
    page.unroute("**/script")
    page.get_by_label("Script", exact=True).press_sequentially(" ")
    page.get_by_role("button", name="Save mine").click()
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    assert script.show_script(bench.database, bench.slug).text.startswith("Mine")
    # What was typed and not kept yet outlives the tab.
    page.route(
        "**/script",
        lambda route: route.abort() if route.request.method == "PUT" else route.continue_(),
    )
    page.get_by_label("Script", exact=True).fill("Typed in the train.")
    expect(page.get_by_text("Not saved")).to_be_visible()
    page.close()
    again = context.new_page()
    again.goto(f"/s/{bench.slug}/publish")
    expect(again.get_by_label("Script", exact=True)).to_have_value("Typed in the train.")
    expect(again.get_by_text("Saved", exact=True)).to_be_visible()
    assert script.show_script(bench.database, bench.slug).text == "Typed in the train."


def test_lines_offered_unasked_can_be_added(page: Page, demo: records.Shootout) -> None:
    page.goto(f"/s/{demo.slug}/publish")
    expect(page.get_by_role("heading", name="Tempting, but wrong")).to_be_visible()
    claims = page.get_by_label("Claims", exact=True)
    expect(page.get_by_text("12 claims; 8 claim nothing")).to_be_visible()
    # What is to be fixed lies open; what holds, and what a verdict rests on, is folded.
    expect(claims.locator("ol").first.get_by_role("listitem")).to_have_count(4)
    claims.get_by_text("Why", exact=True).first.click()
    page.get_by_role("link", name="details").first.click()
    expect(page.get_by_role("complementary")).to_contain_text("times as fast")


def test_from_a_false_claim_to_a_stranger_with_the_link(
    page: Page, browser: Browser, address: str, bench: Bench
) -> None:
    measured(bench)
    page.goto(f"/s/{bench.slug}/publish")
    page.get_by_label("Script", exact=True).focus()
    page.keyboard.type("B is three times as fast as A on Parade.")
    expect(page.get_by_label("Claims", exact=True)).to_contain_text("overstated")
    page.get_by_role("button", name="Use this line").click()
    expect(page.get_by_label("Script", exact=True)).to_have_value(
        "B is 2.00 times as fast as A on Parade."
    )
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()

    page.get_by_role("link", name="Cards", exact=True).click()
    page.get_by_role("button", name="Save card").click()
    picture = page.get_by_role("img", name="B: 5:00, 2.00× clear.")
    expect(picture).to_be_visible()
    page.get_by_label("Title", exact=True).fill("The parade, for everybody")
    expect(page.get_by_role("img", name="The parade, for everybody")).to_be_visible()
    page.get_by_label("Show B").uncheck()
    expect(page.get_by_text("1 more not shown").first).to_be_visible()
    page.get_by_label("Show B").check()
    page.get_by_label("9:16").check()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save PNG").click()
    png = Path(saved.value.path()).read_bytes()
    assert png[:8] == b"\x89PNG\r\n\x1a\n"
    assert (int.from_bytes(png[16:20], "big"), int.from_bytes(png[20:24], "big")) == (1080, 1920)
    (kept,) = cards.list_cards(bench.database, bench.slug)
    assert png == cards.card_picture(
        bench.database, bench.slug, kept.card.id, Shape.TALL, LookName.DAY
    )
    link_for_strangers(page, browser, address, bench)


def link_for_strangers(page: Page, browser: Browser, address: str, bench: Bench) -> None:
    """Publish, read it as a stranger, publish a correction, revoke."""
    page.get_by_role("link", name="Public page").click()
    page.get_by_label("Note to readers (optional)").fill("Our first edition.")
    page.get_by_role("button", name="Publish edition 1").click()
    link = page.get_by_label("Links").get_by_role("link")
    where = link.get_attribute("href")
    assert where is not None
    expect(page.get_by_text("Edition 1 is up to date.")).to_be_visible()

    # A stranger: another browser profile, without any script.
    stranger = browser.new_context(base_url=address, java_script_enabled=False)
    seen = stranger.new_page()
    seen.goto(where)
    expect(seen.get_by_role("heading", level=1)).to_have_text(bench_name(bench))
    expect(seen.get_by_text("Our first edition.")).to_be_visible()
    expect(seen.get_by_role("img", name="The parade, for everybody")).to_be_visible()
    expect(seen.get_by_text("overstated")).to_have_count(0)
    seen.get_by_label("Parade", exact=True).fill("60")
    seen.get_by_role("button", name="Show my pick").click()
    expect(seen.locator(".flag")).to_contain_text("price")
    # A later edition says what changed; a revoked link leads nowhere.
    bench.run("A", "9:59.9", method="log")
    page.get_by_role("button", name="Publish edition 2").click()
    expect(page.get_by_label("Editions")).to_contain_text("1 run more.")
    seen.goto(where)
    expect(seen.get_by_text("Changed since edition 1")).to_be_visible()
    page.get_by_role("button", name="Turn off").click()
    page.get_by_role("button", name="Turn it off for good").click()
    expect(page.get_by_text("Every link is turned off")).to_be_visible()
    seen.goto(where)
    expect(seen.get_by_role("heading", level=1)).to_have_text("Nothing here")
    stranger.close()


def bench_name(bench: Bench) -> str:
    return SHELF.take(bench.database, bench.slug).shootout.name


def test_a_report_is_made_beside_the_work(page: Page, bench: Bench) -> None:
    measured(bench)
    page.goto(f"/s/{bench.slug}/publish?view=give")
    page.get_by_role("button", name="Make report").click()
    expect(page.get_by_role("progressbar", name="Report")).to_be_visible()
    expect(page.get_by_role("link", name="Download PDF")).to_be_visible()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Download PDF").click()
    assert Path(saved.value.path()).read_bytes().startswith(b"%PDF-")
    with page.expect_download() as table:
        page.get_by_role("link", name="results as XLSX").click()
    assert table.value.suggested_filename == f"{bench.slug}-results.xlsx"
    expect(page.get_by_label("Description")).to_have_value(re.compile("B is 2 times as fast as A"))


def test_a_pack_that_came_back_is_shown_before_it_is_taken(
    page: Page, bench: Bench, tmp_path: Path
) -> None:
    measured(bench)
    pack = pack_out.export_pack(bench.database, bench.slug)
    more = pack.runs[-1].model_copy(update={"id": str(uuid4()), "value": 299.0, "place": 99})
    file = tmp_path / "back.zip"
    file.write_bytes(zip_files(write_pack(pack.model_copy(update={"runs": [*pack.runs, more]}))))
    page.goto("/")
    page.get_by_label("Or import a data pack").set_input_files(file)
    shown = page.get_by_label("What the pack would do")
    expect(shown).to_contain_text("new runs: 1")
    page.get_by_role("button", name="Update this one").click()
    expect(page).to_have_url(re.compile(f"/s/{bench.slug}/margins"))
    assert len(SHELF.take(bench.database, bench.slug).runs) == 7
    file.write_bytes(b"PK not a pack")
    page.goto("/")
    page.get_by_label("Or import a data pack").set_input_files(file)
    expect(page.get_by_role("alert")).to_contain_text("not a whole zip archive")
