"""What outlives one shootout: kept, ranked over years, taken along, found again."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.publish import editions
from true_margin.desk.shootouts import shootouts


def film(bench: Bench, version: str, times: dict[str, list[str]]) -> None:
    """Runs of a long film in one version of its app."""
    bench.task("Harbour film", settings={"codec": "HEVC"})
    first = shootouts.list_rounds(bench.database, bench.slug)[0]
    shootouts.change_round(bench.database, first.id, None, {"Heddle": version})
    for machine, typed in times.items():
        bench.machine(machine, specs={"memory_gb": "16"})
        for each in typed:
            bench.run(machine, each, "Harbour film", method="log")


def years(bench: Bench) -> Bench:
    """Two shootouts that share a yardstick and a film; gives the later one."""
    film(bench, "6.2", {"Yardstick": ["12:00", "12:02"], "Old Lantern": ["24:00", "24:02"]})
    later = new_bench(bench.database, "Harbour, a year on")
    film(later, "6.3", {"Yardstick": ["10:00", "10:01"], "New Lantern": ["4:00", "4:01"]})
    return later


def test_what_comes_back_is_kept_and_ranked_over_all_versions(page: Page, bench: Bench) -> None:
    years(bench)
    page.goto("/room")
    offers = page.get_by_role("region", name="Not kept yet")
    expect(offers.get_by_label(re.compile("^Yardstick"))).to_be_checked()
    expect(offers.get_by_label(re.compile("^Harbour film"))).to_be_checked()
    for name in ("Old Lantern", "New Lantern"):
        offers.get_by_label(re.compile(f"^{name}")).check()
    offers.get_by_role("button", name=re.compile("^Keep ")).click()
    expect(page.get_by_role("link", name=re.compile("^New Lantern"))).to_be_visible()

    page.get_by_role("link", name="All time", exact=True).first.click()
    page.get_by_role("button", name=re.compile("Harbour film")).click()
    expect(page.get_by_role("heading", level=1)).to_have_text("The record: 4:00, New Lantern.")
    ranking = page.get_by_role("table")
    row = ranking.get_by_role("row").filter(has_text="Old Lantern")
    expect(row).to_contain_text("≈ 20:0")
    expect(row).to_contain_text("6.2, ↻ 1")
    beside = page.get_by_role("complementary", name="How sure it is")
    expect(beside).to_contain_text("hangs on one machine, the Yardstick")
    expect(beside).to_contain_text("Time the Old Lantern again in Heddle 6.3")


def test_a_correction_is_asked_about_where_the_machine_was_tested(page: Page, bench: Bench) -> None:
    years(bench)
    page.goto("/room")
    offers = page.get_by_role("region", name="Not kept yet")
    offers.get_by_role("button", name=re.compile("^Keep ")).click()
    page.get_by_role("link", name=re.compile("^Yardstick")).click()
    note = page.get_by_role("complementary", name="Machine")
    note.get_by_label("It is now").fill("32")
    note.get_by_label("Since").fill("2026-10-01")
    note.get_by_role("button", name="Note it").click()
    expect(note).to_contain_text("was 16")

    page.goto(f"/s/{bench.slug}/lineup")
    asked = page.get_by_role("region", name="Corrected in the store room")
    expect(asked).to_contain_text("Memory of the Yardstick is 32 GB since 1 October 2026")
    asked.get_by_role("button", name="Before: correct it here").click()
    expect(asked).to_have_count(0)
    expect(page.get_by_role("row", name=re.compile("^Memory"))).to_contain_text("32")


def test_a_setup_that_was_another_state_or_machine_is_put_right(page: Page, bench: Bench) -> None:
    later = years(bench)
    page.goto("/room")
    offers = page.get_by_role("region", name="Not kept yet")
    offers.get_by_role("button", name=re.compile("^Keep ")).click()
    page.get_by_role("link", name=re.compile("^Yardstick")).click()
    note = page.get_by_role("complementary", name="Machine")
    name = later_name(later)
    note.get_by_role("button", name=f"as is in {name}: another state").last.click()
    note.get_by_label("In which state was it?").fill("with its lid closed")
    note.get_by_role("button", name="Save state").click()
    expect(note.get_by_text("with its lid closed", exact=True)).to_be_visible()
    note.get_by_role("button", name=f"with its lid closed in {name}: not this machine").click()
    expect(note.get_by_text("with its lid closed", exact=True)).to_have_count(0)


def later_name(bench: Bench) -> str:
    """The name of a shootout."""
    return shootouts.get_shootout(bench.database, bench.slug).name


def test_a_series_begins_with_everything_and_takes_the_rest_from_the_store_room(
    page: Page, bench: Bench
) -> None:
    later = years(bench)
    page.goto("/room")
    offers = page.get_by_role("region", name="Not kept yet")
    offers.get_by_label(re.compile("^Old Lantern")).check()
    offers.get_by_role("button", name=re.compile("^Keep ")).click()
    expect(page.get_by_role("link", name=re.compile("^Old Lantern"))).to_be_visible()

    page.goto("/")
    page.get_by_label("What do you want to find out?").fill("Harbour, two years on")
    page.get_by_text("More: what is compared").click()
    page.get_by_label("Goes on from").select_option("Harbour, a year on")
    page.get_by_role("button", name="Start shootout").click()
    page.wait_for_url("**/s/harbour-two-years-on*/lineup")
    expect(page.get_by_role("button", name=re.compile("New Lantern")).first).to_be_visible()
    page.get_by_role("button", name="Add machine").click()
    room = page.get_by_role("group", name="From the store room")
    room.get_by_label(re.compile("^Old Lantern")).check()
    room.get_by_role("button", name="Take 1 machine").click()
    expect(page.get_by_role("button", name=re.compile("Old Lantern")).first).to_be_visible()
    page.goto(page.url.split("?")[0] + "?focus=settings")
    expect(page.get_by_text("Series:")).to_contain_text("Harbour, a year on")
    to_it = page.get_by_role("link", name="Harbour, a year on")
    expect(to_it).to_have_attribute("href", f"/s/{later.slug}/margins")


def test_a_published_figure_is_found_again_and_says_that_it_holds_no_more(
    page: Page, bench: Bench
) -> None:
    bench.machine("Quokka")
    bench.run("Quokka", "6:10", method="log")
    editions.publish_edition(bench.database, bench.slug, None, "Marit")
    bench.run("Quokka", "6:20", method="log")
    page.goto("/")
    page.get_by_label("Search shootouts").fill("quokka parade")
    found = page.get_by_role("region", name="Found inside shootouts")
    expect(found).to_contain_text("6:10")
    found.get_by_role("link", name="Quokka, Parade").click()
    register = page.get_by_text("1 published figure: 1 would read otherwise now")
    register.click()
    expect(page.get_by_role("row").filter(has_text="Quokka")).to_contain_text("6:15")
