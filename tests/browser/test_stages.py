"""What holds on every stage, and margins, tried in the real interface."""

from __future__ import annotations

import re
from typing import Literal

from playwright.sync_api import Browser, Page, expect

from tests.browser.looks import COLOURS, RULES, found_by_axe, visit
from tests.desk.helpers import Bench, new_bench
from tests.desk.test_timelines import edit
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.room import keeping, overview
from true_margin.desk.tasks import timelines
from true_margin.store import records
from true_margin.store.database import Database

SCHEMES: tuple[Literal["light", "dark"], ...] = ("light", "dark")
THEMES = {"light": "daybench", "dark": "nightbench"}
SETTLED_WIDTH = """() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(
    () => done(document.documentElement.scrollWidth))))"""
STAGES = [
    "lineup",
    "tasks",
    "bench",
    "runs",
    "margins",
    "margins?task=mix",
    "runs?focus=import",
    *(f"margins?view={view}" for view in ("pairs", "rounds", "fairness", "work", "odd")),
    "picks",
    *(f"picks?view={view}" for view in ("upgrade", "turns", "ahead", "beside")),
    "publish",
    *(f"publish?view={view}" for view in ("cards", "shots", "give", "public")),
]

HOME = ("/", "/people", "/all-time", "/room")
"""Places outside of any shootout."""


def keep_all(database: Database) -> None:
    """Keep whatever the store room offers, so that it and all time have something to show."""
    offered = overview.show_room(database)
    for machine in offered.machine_offers:
        own = keeping.KeptMachine(
            machine.name, machine.machine_id, tuple(u.id for u in machine.uses)
        )
        keeping.keep(database, [own], [], "Marit")
    for task in offered.task_offers:
        job = keeping.KeptTask(task.name, task.standing_id, tuple(u.id for u in task.uses))
        keeping.keep(database, [], [job], "Marit")


def test_nothing_serious_for_assistive_technology(
    page: Page, demo: records.Shootout, database: Database
) -> None:
    """The usual rule set for WCAG 2.2 AA, on every stage, in both themes."""
    keep_all(database)
    page.emulate_media(reduced_motion="reduce")
    backgrounds = set()
    for stage in [*HOME, *(f"/s/{demo.slug}/{stage}" for stage in STAGES)]:
        visit(page, stage)
        for scheme, rules in zip(SCHEMES, (RULES, COLOURS), strict=True):
            page.emulate_media(color_scheme=scheme)
            expect(page.locator("html")).to_have_attribute("data-theme", THEMES[scheme])
            backgrounds.add(page.evaluate("getComputedStyle(document.body).backgroundColor"))
            assert found_by_axe(page, rules) == [], f"{stage}, {scheme}"
    assert len(backgrounds) == len(SCHEMES), "the theme follows the system"


def test_nothing_runs_out_of_the_page(
    page: Page, demo: records.Shootout, database: Database
) -> None:
    """No stage scrolls sideways, long names included; wide tables scroll inside themselves."""
    long = new_bench(database, "A shootout whose name is far too long for any strip " * 3)
    long.machine("Extraordinarily-long-machine-name-without-a-single-space-" + "x" * 50)
    long.run("A", "6:17")
    long.setups["B"] = long.setups.popitem()[1]
    long.run("B", "6:40")
    keep_all(database)
    stages = [f"/s/{slug}/{stage}" for slug in (demo.slug, long.slug) for stage in STAGES]
    for where in (*HOME, *stages):
        visit(page, where)
        for width in (2560, 390, 768):
            page.set_viewport_size({"width": width, "height": 800})
            wide = page.evaluate(SETTLED_WIDTH)
            assert wide <= width, f"{where} is {wide} wide at {width}"


def test_an_address_that_leads_nowhere_says_so(page: Page, demo: records.Shootout) -> None:
    page.goto("/nowhere")
    expect(page.get_by_text("Nothing at this address.")).to_be_visible()
    page.goto("/s/no-such-shootout/margins")
    # The bench's own line may say so as well, sooner or later.
    said = page.get_by_role("alert").get_by_text("There is no shootout no-such-shootout.")
    expect(said).to_be_visible()
    page.goto(f"/s/{demo.slug}/nothing")
    expect(page.get_by_text("Nothing at this address.")).to_be_visible()


def test_a_break_is_overruled_with_a_reason_and_taken_back(page: Page, bench: Bench) -> None:
    bench.task("Film, export", timeline="Film")
    for typed in ("5:00", "5:01", "5:02"):
        bench.run("A", typed, "Film, export")
        bench.run("B", "6:00", "Film, export")
    film = next(t.id for t in SHELF.take(bench.database, bench.slug).timelines if t.name == "Film")
    for setup, frames in (("A", (100, 50)), ("B", (100, 49))):
        fields = {
            "name": "f.otio",
            "content": edit(*frames),
            "setup_id": bench.setups[setup],
            "edl_rate": None,
        }
        timelines.add_file(bench.database, film, fields, "Marit")
    task, a, b = bench.tasks["Film, export"], bench.setups["A"], bench.setups["B"]
    page.goto(f"/s/{bench.slug}/margins?task={task}&a={a}&b={b}")
    note = page.get_by_role("complementary")
    expect(note).to_contain_text("they did not do the same job (timeline differs)")
    expect(page.get_by_text("not the same job as the baseline")).to_be_visible()
    note.get_by_role("button", name="Accept anyway").click()
    page.keyboard.type("one frame of 150 cannot matter")
    page.keyboard.press("Enter")
    expect(note).to_contain_text("faster than B")
    expect(note).to_contain_text("one frame of 150 cannot matter")
    note.get_by_role("button", name="Withdraw").click()
    expect(note).to_contain_text("they did not do the same job")


def test_a_word_on_sameness_stands_beside_the_verdict_and_is_taken_back(
    page: Page, bench: Bench
) -> None:
    """Two setups by keyboard, then what was looked at on one of them."""
    bench.task("Film, export", timeline="Film")
    for typed in ("5:00", "5:01", "5:02"):
        bench.run("A", typed, "Film, export")
        bench.run("B", "6:00", "Film, export")
    task, a, b = bench.tasks["Film, export"], bench.setups["A"], bench.setups["B"]
    page.goto(f"/s/{bench.slug}/margins?task={task}&a={a}&b={b}")
    note = page.get_by_role("complementary")
    note.get_by_role("button", name="Say that it was not the same job").press("Enter")
    page.keyboard.type("B left the titles out")
    page.keyboard.press("Enter")
    expect(note).to_contain_text("they did not do the same job (B left the titles out)")
    note.get_by_role("button", name="Undo").click()
    page.keyboard.type("they were there")
    page.keyboard.press("Enter")
    expect(note).to_contain_text("faster than B")
    page.goto(f"/s/{bench.slug}/tasks?task={task}")
    page.get_by_role("button", name="edit on B: unknown").click()
    page.get_by_role("button", name="I looked: the edit is the same").click()
    expect(page.get_by_role("button", name="edit on B: looked at")).to_be_visible()
    page.goto(f"/s/{bench.slug}/margins?view=fairness")
    known = page.get_by_role("region", name="How much is known")
    expect(known).to_contain_text("looked at by a person in 1")


def test_every_figure_follows_confidence_and_materiality(page: Page, bench: Bench) -> None:
    for typed in ("5:00", "5:01"):
        bench.run("A", typed)
    bench.run("B", "5:12")
    page.goto(f"/s/{bench.slug}/margins")
    summary = page.get_by_test_id("summary")
    expect(summary).to_contain_text("A and B: too close to call")
    page.get_by_label("Confidence").first.select_option("0.8")
    expect(summary).to_contain_text("A is faster than B, perhaps by less than")
    page.get_by_label("Ignore differences under").first.select_option("0")
    expect(summary).not_to_contain_text("perhaps by less than")
    expect(summary).to_contain_text("faster than B")
    page.reload()
    expect(page.get_by_label("Ignore differences under").first).to_have_value("0")
    page.get_by_role("button", name="night").click()
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "nightbench")


def test_on_a_phone_the_stages_open_as_a_list(page: Page, bench: Bench) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/s/{bench.slug}/margins")
    page.get_by_role("button", name=re.compile("Margins")).click()
    page.get_by_role("link", name=re.compile("^4 Runs")).click()
    expect(page.get_by_role("heading", name="Runs", exact=True)).to_be_visible()
    page.get_by_text("settings", exact=True).click()
    chip = page.get_by_role("group").get_by_label("Confidence")
    chip.select_option("0.9")
    expect(chip).to_have_value("0.9")


def test_a_pack_goes_out_and_comes_in_again(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    page.goto(f"/s/{bench.slug}/lineup?focus=settings")
    with page.expect_download() as download:
        page.get_by_role("link", name="Download data pack").click()
    page.goto("/")
    page.get_by_label(re.compile("Or import a data pack")).set_input_files(download.value.path())
    # It is of a shootout that is here: that is said first, and a copy is made on demand.
    expect(page.get_by_label("What the pack would do")).to_contain_text("Nothing new in this pack")
    page.get_by_role("button", name="Import as a copy").click()
    expect(page).to_have_url(re.compile("/margins"))
    expect(page.get_by_test_id("summary")).to_contain_text("Only A has been timed")
    page.goto("/")
    page.get_by_label(re.compile("Or import a data pack")).set_input_files(
        {"name": "x.zip", "mimeType": "application/zip", "buffer": b"not a zip"}
    )
    expect(page.get_by_role("alert")).to_contain_text("not a whole zip archive")


def test_two_devices_see_each_other(browser: Browser, address: str, bench: Bench) -> None:
    phone = browser.new_context(base_url=address, viewport={"width": 390, "height": 844})
    desk = browser.new_context(base_url=address)
    there, here = phone.new_page(), desk.new_page()
    listening = f"**/shootouts/{bench.slug}/events"
    for page in (there, here):
        with page.expect_request(listening):
            page.goto(f"/s/{bench.slug}/runs")
    # The run sheet asks every few seconds too; without it only an event can bring the news.
    there.route("**/sheet", lambda route: route.abort())
    here.get_by_label(re.compile("Type a run")).fill("a / parade / 6:17")
    here.keyboard.press("Enter")
    expect(there.get_by_text("1 run")).to_be_visible()
    phone.close()
    desk.close()
