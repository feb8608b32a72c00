"""Tasks, timelines and outputs, tried in the real interface."""

from __future__ import annotations

import re

from demo.probes import probe_json
from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench
from tests.desk.test_timelines import edit


def test_two_machines_timelines_are_compared(page: Page, bench: Bench) -> None:
    bench.task("Film, export", timeline="Film")
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_role("button", name=re.compile("^Film, export")).click()
    sheet = page.get_by_role("region", name="Timeline")
    for setup, frames in (("A", (100, 50, 25)), ("B", (100, 49, 25))):
        sheet.get_by_label("Timeline file").set_input_files(
            {"name": "film.otio", "mimeType": "application/json", "buffer": edit(*frames)}
        )
        sheet.get_by_label("Saved from").select_option(label=setup)
        sheet.get_by_role("button", name="Import").click()
        expect(sheet.get_by_role("button", name="Import")).to_be_disabled()
    grid = page.get_by_role("region", name="Same job")
    expect(grid.get_by_role("button", name="edit on A: same")).to_be_visible()
    grid.get_by_role("button", name="edit on B: differs").click()
    row = grid.get_by_role("row", name=re.compile("take1.mov trimmed"))
    expect(row).to_contain_text("50 frames, at 00:00:04:00")
    expect(row).to_contain_text("49 frames, at 00:00:04:00")
    sheet.get_by_label("Timeline file").set_input_files(
        {"name": "film.otio", "mimeType": "application/json", "buffer": b"{"}
    )
    sheet.get_by_role("button", name="Import").click()
    expect(sheet.get_by_role("alert")).to_contain_text("not JSON")


def test_a_job_that_changes_after_runs_becomes_a_revision(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_label("start from").select_option("Village web page")
    asked = page.get_by_role("region", name="What changed")
    expect(asked).to_contain_text("Parade has 1 run made with what stands here")
    asked.get_by_role("button", name="Cancel").click()
    page.get_by_label("start from").select_option("Village web page")
    asked.get_by_label(re.compile("Just a typo in the description")).fill("never written down")
    asked.get_by_role("button", name="Fix it").click()
    line = page.get_by_text("1920x1080 at 25 frames/s, H.264 in mp4, 8 bit").first
    expect(line).to_be_visible()
    expect(asked).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Bit rate of the export")).click()
    page.keyboard.press("Control+a")
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    asked.get_by_role("button", name="The job changed: start a new version").click()
    expect(page.get_by_text("variable bit rate 20 Mbit/s").first).to_be_visible()
    tasks = page.get_by_role("navigation", name="Tasks by timeline")
    expect(tasks.get_by_role("button", name=re.compile(r"^Parade \(revision 1\)"))).to_be_visible()
    expect(tasks.get_by_role("button", name=re.compile("^Parade.* 0 runs"))).to_be_visible()
    page.get_by_role("button", name=re.compile(r"^Parade \(revision 1\)")).click()
    page.get_by_role("button", name="Open the one that follows").click()
    expect(page.get_by_text("variable bit rate 20 Mbit/s").first).to_be_visible()


def test_what_came_out_is_held_against_the_task(page: Page, bench: Bench) -> None:
    settings = {
        "codec": "H.264",
        "size": "1920x1080",
        "frame_rate": "25",
        "depth": "8",
        "bit_rate": "12",
        "colour": "bt709",
    }
    bench.task("Film, export", timeline="Film", timeline_length_s=360.0, settings=settings)
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_role("button", name=re.compile("^Film, export")).click()
    grid = page.get_by_role("region", name="Same job")
    grid.get_by_role("button", name="output on A: unknown").click()
    note = page.get_by_role("region", name="output on A")

    def bring(length_s: float, **changes: str) -> None:
        content = probe_json({**settings, **changes}, length_s, 540_000_000)
        note.get_by_label(re.compile("Media info")).set_input_files(
            {"name": "a.json", "mimeType": "application/json", "buffer": content}
        )
        note.get_by_role("button", name="Import").click()

    bring(90.0)
    expect(note.get_by_role("alert")).to_contain_text("probably the probe of another clip")
    bring(360.0, size="1280x720")
    expect(note.get_by_role("row", name="≠ picture size 1920x1080 1280x720")).to_be_visible()
    expect(grid.get_by_role("button", name="output on A: differs")).to_be_visible()
    bring(360.0)
    expect(grid.get_by_role("button", name="output on A: same")).to_be_visible()
    note.get_by_label("sound in sync").select_option("no")
    expect(grid.get_by_role("button", name="output on A: differs")).to_be_visible()
    grid.get_by_role("button", name="settings on B: unknown").click()
    page.get_by_role("button", name="As the task has it").click()
    expect(grid.get_by_role("button", name="settings on B: same")).to_be_visible()


def test_what_is_seen_of_playback_is_noted(page: Page, bench: Bench) -> None:
    bench.task("Parade, played", operation="playback")
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_role("button", name=re.compile("^Parade, played")).click()
    page.get_by_role("button", name="seen on A: unknown").click()
    note = page.get_by_role("region", name="seen on A")
    note.get_by_label("Best quality held").select_option("half")
    note.get_by_label("Dropped frames").fill("30")
    note.get_by_label("of how many").fill("3")
    note.get_by_role("button", name="Note it").click()
    expect(note.get_by_role("alert")).to_contain_text("cannot have been dropped")
    note.get_by_label("of how many").fill("3000")
    note.get_by_role("button", name="Note it").click()
    seen = "seen on A: half quality, 30 of 3000 dropped"
    expect(page.get_by_role("button", name=seen)).to_be_visible()


def test_a_task_gets_another_measure_and_another_app(page: Page, bench: Bench) -> None:
    """What would change is shown first; the same task in a second app is told apart."""
    bench.run("A", "2390")
    bench.run("B", "3150")
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_role("button", name="Make it an amount").click()
    asked = page.get_by_role("form", name="Another measure")
    asked.get_by_label("Unit").fill("points")
    page.keyboard.press("Enter")
    expect(asked.get_by_role("row", name="A 2390")).to_contain_text("2390 points")
    asked.get_by_role("button", name="Read 2 runs again").click()
    expect(page.get_by_text("a score or rate (higher is better), in points")).to_be_visible()
    page.get_by_role("button", name="The same in another app").press("Enter")
    page.keyboard.type("Kiln")
    page.keyboard.press("Enter")
    tasks = page.get_by_role("navigation", name="Tasks by timeline")
    expect(tasks.get_by_role("button", name=re.compile("^Parade in Heddle"))).to_be_visible()
    made = tasks.get_by_role("button", name=re.compile("^Parade in Kiln"))
    expect(made).to_have_attribute("aria-current", "true")
    expect(page.get_by_text("told apart as Parade in Kiln")).to_be_visible()


def test_what_is_typed_stays_when_one_leaves_the_page(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    page.goto(f"/s/{bench.slug}/tasks?focus=add")
    page.get_by_label("Name of the task").fill("Holiday film, export")
    page.get_by_role("link", name="Runs").click()
    page.get_by_role("link", name="Tasks").click()
    page.get_by_role("button", name="Add task").click()
    expect(page.get_by_label("Name of the task")).to_have_value("Holiday film, export")
    page.get_by_role("button", name="Cancel").click()
    page.get_by_role("button", name="Add what moves it").click()
    page.keyboard.type("memory")
    page.keyboard.press("Tab")
    page.keyboard.type("20 s")
    page.keyboard.press("Enter")
    expect(page.get_by_text("memory, up to 0:20")).to_be_visible()
    page.get_by_label("start from").select_option("Village web page")
    asked = page.get_by_role("region", name="What changed")
    expect(asked).to_be_visible()
    page.get_by_role("link", name="Runs").click()
    page.get_by_role("link", name="Tasks").click()
    expect(asked).to_be_visible()
    asked.get_by_role("button", name="The job changed: start a new version").click()
    expect(asked).to_have_count(0)
