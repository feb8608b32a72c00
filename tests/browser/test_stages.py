"""What each stage promises, tried in the real interface."""

from __future__ import annotations

import re

import pytest
from demo.probes import probe_json
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from tests.desk.test_timelines import edit
from true_margin.desk import lineup, pack_in, runs, spec_sheet, timelines
from true_margin.desk.book import SHELF
from true_margin.exchange.data_pack import Pack
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "In the browser")


def stored(bench: Bench) -> list[records.Run]:
    return [each.run for each in runs.show_runs(bench.database, bench.slug).runs]


def entry_line(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/runs")
    expect(page.get_by_label(re.compile("Enter a run"))).to_be_focused()


def test_an_ambiguous_time_waits_for_an_answer(page: Page, bench: Bench) -> None:
    entry_line(page, bench)
    page.keyboard.type("a / parade / 18.40 min")
    page.keyboard.press("Enter")
    choice = page.get_by_role("button", name="18:24 (as a decimal number)")
    expect(choice).to_be_visible()
    expect(page.get_by_role("button", name="18:40 (as a clock)")).to_be_focused()
    assert stored(bench) == []
    choice.click()
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    assert [run.value for run in stored(bench)] == [1104.0]


def test_an_unknown_setup_can_be_added_on_the_spot(page: Page, bench: Bench) -> None:
    entry_line(page, bench)
    page.keyboard.type("Zephyr / parade / 6:17")
    page.keyboard.press("Enter")
    add = page.get_by_role("button", name="Add Zephyr to the line-up")
    expect(add).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Enter stores it in the round 1 round")).to_be_visible()
    page.get_by_role("combobox", name=re.compile("Enter a run")).press("Enter")
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    assert [run.typed for run in stored(bench)] == ["6:17"]


def test_bad_rows_are_shown_and_nothing_is_stored_until_confirmed(page: Page, bench: Bench) -> None:
    rows = [f"A,Parade,6:{i:02d}" for i in range(37)] + [
        "A,Parade,soon",
        "A,Parade,4:75",
        "C,Parade,6:17",
    ]
    page.goto(f"/s/{bench.slug}/runs?focus=import")
    page.get_by_role("textbox", name=re.compile("Paste a table")).fill(
        "setup,task,value\n" + "\n".join(rows)
    )
    page.get_by_role("button", name="Show what it means").click()
    expect(page.get_by_text("Nothing is stored yet.")).to_be_visible()
    for line, reason in (
        (39, "'soon' is not a time"),
        (40, "below 60"),
        (41, "no setup is called 'C'"),
    ):
        row = page.get_by_role("row", name=re.compile(f"^{line} "))
        expect(row).to_contain_text(reason)
    assert stored(bench) == []
    page.get_by_role("button", name="Store 37 good rows, leave out 3").click()
    expect(page.get_by_text("37 runs stored.")).to_be_visible()
    expect(page.get_by_text("Left out: line 39, 40, 41.")).to_be_visible()
    assert len(stored(bench)) == 37


def test_two_tabs_that_edit_one_machine_lose_nothing(
    page: Page, context: BrowserContext, bench: Bench
) -> None:
    page.goto(f"/s/{bench.slug}/lineup")
    page.get_by_role("combobox", name=re.compile("^rows")).select_option("all there are")
    cell = page.get_by_role("button", name=re.compile("^Cores of A"))
    cell.click()
    page.keyboard.type("8")
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    # Another tab stores another field, then the same field, while this edit is open.
    lineup.change_machine(bench.database, machine.id, 1, {"specs": {"form": "laptop"}})
    page.keyboard.press("Enter")
    expect(cell).to_have_text("8")
    expect(page.get_by_role("button", name=re.compile("^Form of A"))).to_have_text("laptop")

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
    assert (
        spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine.specs["cores"] == 10
    )


def test_another_tabs_run_appears_by_itself(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/runs")
    expect(page.get_by_role("heading", name="No runs yet")).to_be_visible()
    bench.run("A", "6:17")
    expect(page.get_by_role("button", name=re.compile("^6:17, ok"))).to_be_visible()


def test_a_run_is_voided_with_a_reason_and_keeps_its_history(page: Page, bench: Bench) -> None:
    bench.run("A", "0:04")
    page.goto(f"/s/{bench.slug}/runs")
    page.get_by_role("button", name=re.compile("^0:04, ok")).click()
    note = page.get_by_role("complementary")
    note.get_by_role("button", name="Void run").click()
    expect(note.get_by_role("button", name="Void run")).to_be_disabled()
    page.keyboard.type("false start")
    page.keyboard.press("Enter")
    expect(note.get_by_text("was 0:04, ok")).to_be_visible()
    assert [(run.status, run.reason) for run in stored(bench)] == [("void", "false start")]


def arm(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_role("button", name="Arm the lane").click()
    expect(page.get_by_role("timer")).to_have_text("0:00.0")


def test_the_lane_by_keys_from_start_to_book(page: Page, bench: Bench) -> None:
    bench.run("B", "0:09")
    arm(page, bench)
    page.keyboard.press("Space")
    page.wait_for_timeout(600)
    page.reload()
    expect(page.get_by_role("button", name="Stop lane 1")).to_be_enabled()
    page.keyboard.press("1")
    expect(page.get_by_text("A is clearly faster than B")).to_be_visible()
    second = stored(bench)[1]
    assert second.value is not None
    assert 0.5 < second.value < 8.0
    assert second.method == "stopwatch"

    page.keyboard.press("u")
    expect(page.get_by_role("button", name="Stop lane 1")).to_be_enabled()
    page.wait_for_timeout(500)
    page.keyboard.press("1")
    expect(page.get_by_text("A is clearly faster than B")).to_be_visible()
    expect(page.get_by_text("Saved in the book.")).to_be_visible()
    again = stored(bench)
    assert len(again) == 2, "the undone press made no second run"
    assert again[1].value is not None
    assert again[1].value >= second.value + 0.4, "the clock never stopped running underneath"
    history = runs.show_run(bench.database, again[1].id).revisions
    assert [revision.why for revision in history] == [
        "stopped again after an undone press", "stop pressed too early and undone",
    ]  # fmt: skip


def test_a_false_start_is_void_and_the_lane_is_armed_again(page: Page, bench: Bench) -> None:
    arm(page, bench)
    page.keyboard.press("Space")
    page.wait_for_timeout(300)
    page.keyboard.press("v")
    page.keyboard.type("false start")
    page.keyboard.press("Enter")
    expect(page.get_by_text("kept as void, false start")).to_be_visible()
    expect(page.get_by_role("timer")).to_have_text("0:00.0")
    page.keyboard.press("Space")
    page.keyboard.press("f")
    page.get_by_role("button", name="crash").click()
    expect(page.get_by_text("kept as failed, crash")).to_be_visible()
    assert [(run.status, run.reason) for run in stored(bench)] == [
        ("void", "false start"),
        ("failed", "crash"),
    ]


def test_a_lost_network_loses_no_run(page: Page, context: BrowserContext, bench: Bench) -> None:
    arm(page, bench)
    page.keyboard.press("Space")
    page.wait_for_timeout(300)
    context.set_offline(True)
    page.keyboard.press("1")
    expect(page.get_by_text("1 run kept on this device until the book has it.")).to_be_visible()
    assert stored(bench) == []
    context.set_offline(False)
    expect(page.get_by_text("Saved in the book.")).to_be_visible()
    assert len(stored(bench)) == 1


def test_a_machine_is_added_by_copy_and_specs_are_pasted(page: Page, bench: Bench) -> None:
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    lineup.change_machine(bench.database, machine.id, 1, {"specs": {"form": "laptop"}})
    page.goto(f"/s/{bench.slug}/lineup?focus=add")
    page.get_by_label("Specs like").select_option(label="A")
    page.get_by_label("Name of the machine").fill("A twin")
    page.get_by_label("Name of the machine").press("Enter")
    expect(page.get_by_text("A twin is in the line-up.")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Form of A twin: laptop"))).to_be_visible()
    page.get_by_role("button", name="Done").click()

    page.get_by_role("button", name="Paste specs").click()
    block = page.get_by_label(re.compile("Paste a block"))
    block.fill("\tA\tA twin\nCores\t8\t0\n")
    page.get_by_role("button", name="Show what would change").click()
    bad = page.get_by_role("row", name=re.compile("A twin Cores"))
    expect(bad).to_contain_text("must be at least 1")
    expect(page.get_by_role("button", name=re.compile("^Store"))).to_have_count(0)
    block.fill("\tA\tA twin\nCores\t8\t12\nStorage\t1 TB\t2 TB\n")
    page.get_by_role("button", name="Show what would change").click()
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
    note.get_by_role("button", name="Retire machine").press("Enter")
    expect(heads.first).to_contain_text("retired")
    note.get_by_role("button", name="Copy this setup").press("Enter")
    expect(heads.first).to_contain_text("as is copy")
    page.keyboard.press("Escape")
    heads.nth(2).drag_to(heads.nth(0))
    expect(heads).to_have_text([re.compile("^C"), re.compile("^B"), re.compile("^A")])


def test_two_machines_timelines_are_compared(page: Page, bench: Bench) -> None:
    bench.task("Film, export", timeline="Film")
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_role("button", name=re.compile("^Film, export")).click()
    sheet = page.get_by_role("region", name="Timeline")
    for setup, frames in (("A", (100, 50, 25)), ("B", (100, 49, 25))):
        sheet.get_by_label("Timeline file").set_input_files(
            {"name": "film.otio", "mimeType": "application/json", "buffer": edit(*frames)}
        )
        sheet.get_by_label("As saved on").select_option(label=setup)
        sheet.get_by_role("button", name="Bring in").click()
        expect(sheet.get_by_role("button", name="Bring in")).to_be_disabled()
    grid = page.get_by_role("region", name="Same job")
    expect(grid.get_by_role("button", name="edit on A: same")).to_be_visible()
    grid.get_by_role("button", name="edit on B: differs").click()
    row = grid.get_by_role("row", name=re.compile("take1.mov trimmed"))
    expect(row).to_contain_text("50 frames, at 00:00:04:00")
    expect(row).to_contain_text("49 frames, at 00:00:04:00")
    sheet.get_by_label("Timeline file").set_input_files(
        {"name": "film.otio", "mimeType": "application/json", "buffer": b"{"}
    )
    sheet.get_by_role("button", name="Bring in").click()
    expect(sheet.get_by_role("alert")).to_contain_text("not JSON")


STAGES = ["lineup", "tasks", "bench", "runs", "margins", "margins?task=mix", "runs?focus=import"]


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_nothing_serious_for_assistive_technology(
    page: Page, demo: records.Shootout, theme: str
) -> None:
    """The usual rule set for WCAG 2.2 AA, on every stage, in both themes."""
    script = (PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()
    page.emulate_media(color_scheme="dark" if theme == "dark" else "light")
    for stage in ["/", *(f"/s/{demo.slug}/{stage}" for stage in STAGES)]:
        page.goto(stage)
        page.wait_for_load_state("networkidle")
        page.evaluate(script)
        found = page.evaluate(
            "async () => (await axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']}))"
            ".violations.map(v => v.id + ' ' + v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(', '))"
        )
        assert found == [], stage


@pytest.mark.parametrize("width", [390, 768, 2560])
def test_nothing_runs_out_of_the_page(
    page: Page, demo: records.Shootout, database: Database, width: int
) -> None:
    """No stage scrolls sideways, long names included; wide tables scroll inside themselves."""
    long = new_bench(database, "A shootout whose name is far too long for any strip " * 3)
    long.machine("Extraordinarily-long-machine-name-without-a-single-space-" + "x" * 50)
    long.run("A", "6:17")
    long.setups["B"] = long.setups.popitem()[1]
    long.run("B", "6:40")
    page.set_viewport_size({"width": width, "height": 800})
    for slug in (demo.slug, long.slug):
        for stage in STAGES:
            page.goto(f"/s/{slug}/{stage}")
            expect(page.get_by_role("heading", level=1)).to_be_visible()
            wide = page.evaluate("document.documentElement.scrollWidth")
            assert wide <= width, f"{stage} is {wide} wide"


def test_an_address_that_leads_nowhere_says_so(page: Page, demo: records.Shootout) -> None:
    page.goto("/nowhere")
    expect(page.get_by_text("There is nothing at this address.")).to_be_visible()
    page.goto("/s/no-such-shootout/margins")
    expect(page.get_by_text("There is no shootout no-such-shootout.")).to_be_visible()
    page.goto(f"/s/{demo.slug}/picks")
    expect(page.get_by_text("There is nothing at this address.")).to_be_visible()


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
    expect(note).to_contain_text("they were not given the same job (timeline differs)")
    expect(page.get_by_text("not the same job as the baseline")).to_be_visible()
    note.get_by_role("button", name="Overrule").click()
    page.keyboard.type("one frame of 150 cannot matter")
    page.keyboard.press("Enter")
    expect(note).to_contain_text("A is clearly faster than B")
    expect(note).to_contain_text("one frame of 150 cannot matter")
    note.get_by_role("button", name="Withdraw").click()
    expect(note).to_contain_text("they were not given the same job")


def test_prices_extras_and_conditions_are_noted(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/lineup")
    page.get_by_role("button", name="Add price").first.click()
    note = page.get_by_role("complementary")
    note.get_by_label("Amount").fill("cheap")
    note.get_by_role("button", name="Add price").click()
    expect(note.get_by_role("alert")).to_contain_text("type it like 1290")
    note.get_by_label("Amount").fill("1 290,50")
    note.get_by_role("button", name="Add price").click()
    expect(page.get_by_role("cell").filter(has_text="1,290.50")).to_be_visible()
    note.get_by_label("Extra", exact=True).fill("dock")
    note.get_by_label("EUR").fill("89.50")
    note.get_by_role("button", name="Add extra to A").click()
    expect(page.get_by_role("cell").filter(has_text="1,380 EUR as tested")).to_be_visible()
    note.get_by_role("button", name=re.compile("^Room of A")).click()
    page.keyboard.type("warm")
    page.keyboard.press("Enter")
    expect(note.get_by_role("alert")).to_contain_text("not a number")
    page.keyboard.press("Control+a")
    page.keyboard.type("26,5 °C")
    page.keyboard.press("Enter")
    expect(note.get_by_role("button", name=re.compile("^Room of A: 26.5 °C"))).to_be_visible()


def test_every_figure_follows_confidence_and_materiality(page: Page, bench: Bench) -> None:
    for typed in ("5:00", "5:01"):
        bench.run("A", typed)
    bench.run("B", "5:12")
    page.goto(f"/s/{bench.slug}/margins")
    summary = page.get_by_test_id("summary")
    expect(summary).to_contain_text("Too close to call between A and B")
    page.get_by_label("Confidence").first.select_option("0.8")
    expect(summary).to_contain_text("A is ahead of B, perhaps by too little to matter")
    page.get_by_label("Materiality").first.select_option("0")
    expect(summary).to_contain_text("A is clearly faster than B")
    page.reload()
    expect(page.get_by_label("Materiality").first).to_have_value("0")
    page.get_by_role("button", name="night").click()
    page.reload()
    expect(page.locator("html")).to_have_attribute("data-theme", "nightbench")


def test_on_a_phone_the_stages_open_as_a_list(page: Page, bench: Bench) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/s/{bench.slug}/margins")
    page.get_by_role("button", name=re.compile("Margins")).click()
    page.get_by_role("link", name=re.compile("^4 Runs")).click()
    expect(page.get_by_role("heading", name="Runs", exact=True)).to_be_visible()
    page.get_by_text("settings").click()
    chip = page.get_by_role("group").get_by_label("Confidence")
    chip.select_option("0.9")
    expect(chip).to_have_value("0.9")


def test_a_pack_goes_out_and_comes_in_again(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    page.goto(f"/s/{bench.slug}/lineup")
    with page.expect_download() as download:
        page.get_by_role("link", name="Give out as a data pack").click()
    page.goto("/")
    page.get_by_label(re.compile("Or bring in a data pack")).set_input_files(download.value.path())
    expect(page.get_by_role("alert")).to_be_hidden()
    expect(page).to_have_url(re.compile("/margins"))
    expect(page.get_by_test_id("summary")).to_contain_text("Only A has been measured")
    page.goto("/")
    page.get_by_label(re.compile("Or bring in a data pack")).set_input_files(
        {"name": "x.zip", "mimeType": "application/zip", "buffer": b"not a zip"}
    )
    expect(page.get_by_role("alert")).to_contain_text("not a whole zip archive")


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
    page.get_by_role("button", name="Ask again").click()
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("is out of order")
    expect(alert).to_contain_text("All prices are as they were")
    page.get_by_label("out of order").uncheck()
    page.get_by_role("button", name="Ask again").click()
    row = page.get_by_role("row", name=re.compile("Halyard L maker"))
    expect(row).to_contain_text("Becomes the price that counts.")
    for box in page.get_by_role("checkbox", name=re.compile("^Add .* price of")).all():
        box.set_checked(label_of(box) == "Add list price of Halyard L from maker's list")
    page.get_by_role("button", name="Add 1 price").click()
    expect(page.get_by_label("Refresh prices", exact=True)).to_be_hidden()
    expect(page.get_by_role("cell").filter(has_text="2,390")).to_be_visible()
    assert [pair for pair in zip(before, newest(), strict=True) if pair[0] != pair[1]] == [
        ("2490.00", "2390.00")
    ]


def label_of(box: Locator) -> str:
    """What a checkbox is called."""
    return box.get_attribute("aria-label") or ""


def test_a_job_that_changes_after_runs_becomes_a_revision(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_label("start from").select_option("Village web page")
    asked = page.get_by_role("region", name="What changed")
    expect(asked).to_contain_text("Parade has 1 run made with what stands here")
    asked.get_by_role("button", name="Cancel").click()
    page.get_by_label("start from").select_option("Village web page")
    asked.get_by_label(re.compile("Only the description")).fill("never written down")
    asked.get_by_role("button", name="Put it right").click()
    line = page.get_by_text("1920x1080 at 25 frames/s, H.264 in mp4, 8 bit").first
    expect(line).to_be_visible()
    page.get_by_role("button", name=re.compile("^Bit rate of the export")).click()
    page.keyboard.press("Control+a")
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    asked.get_by_role("button", name="The job: make a new revision").click()
    tasks = page.get_by_role("navigation", name="Tasks by timeline")
    expect(tasks.get_by_role("button", name=re.compile(r"^Parade \(revision 1\)"))).to_be_visible()
    expect(tasks.get_by_role("button", name=re.compile("^Parade.* 0 runs"))).to_be_visible()
    page.get_by_role("button", name=re.compile(r"^Parade \(revision 1\)")).click()
    page.get_by_role("button", name="Open the one that follows").click()
    expect(page.get_by_text("variable bit rate 20 Mbit/s").first).to_be_visible()


def test_what_came_out_is_held_against_the_task(page: Page, bench: Bench) -> None:
    settings = {"codec": "H.264", "size": "1920x1080", "frame_rate": "25", "depth": "8",
                "bit_rate": "12", "colour": "bt709"}  # fmt: skip
    bench.task("Film, export", timeline="Film", timeline_length_s=360.0, settings=settings)
    page.goto(f"/s/{bench.slug}/tasks")
    page.get_by_role("button", name=re.compile("^Film, export")).click()
    grid = page.get_by_role("region", name="Same job")
    grid.get_by_role("button", name="output on A: unknown").click()
    note = page.get_by_role("region", name="output on A")

    def bring(length_s: float, **changes: str) -> None:
        content = probe_json({**settings, **changes}, length_s, 540_000_000)
        note.get_by_label(re.compile("Probe file")).set_input_files(
            {"name": "a.json", "mimeType": "application/json", "buffer": content}
        )
        note.get_by_role("button", name="Bring in").click()

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
    note.get_by_label(re.compile("on trial")).check()
    expect(page.get_by_role("rowheader", name=re.compile("Height"))).to_contain_text("on trial")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="B", exact=True).click()
    note.get_by_role("button", name="Put in the archive").click()
    expect(page.get_by_role("columnheader", name=re.compile("^B"))).to_be_hidden()
    page.get_by_role("button", name="Take out").click()
    expect(page.get_by_role("columnheader", name=re.compile("^B"))).to_be_visible()


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


def test_four_lanes_from_arming_to_the_margin_they_change(page: Page, bench: Bench) -> None:
    for name in ("C", "D"):
        bench.machine(name)
    page.goto(f"/s/{bench.slug}/bench")
    for place, name in enumerate("ABCD"):
        if place:
            page.get_by_role("button", name="Add a lane").click()
        page.get_by_label("Setup on the desk").select_option(label=name)
        page.get_by_role("button", name="Arm the lane").click()
    expect(page.get_by_role("timer")).to_have_count(4)
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Stop lane 1")).to_be_visible()
    page.keyboard.press("Shift+Digit3")
    expect(page.get_by_role("button", name="Stop lane 3")).to_be_visible()
    page.keyboard.press("a")
    for number in "1234":
        expect(page.get_by_role("button", name=f"Stop lane {number}")).to_be_visible()
    expect(page).to_have_title(re.compile("^● 4 running"))
    page.wait_for_timeout(1200)
    page.keyboard.press("p")
    page.get_by_label("Done so far, per cent").fill("140")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Type 0 to 100")
    page.get_by_label("Done so far, per cent").fill("40")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("at 40 %, likely done at"))).to_be_visible()
    # The digits stop their lanes on every stage, and each press once.
    page.keyboard.press("g")
    page.keyboard.press("4")
    line = page.get_by_label(re.compile("Enter a run"))
    expect(line).to_be_focused()
    page.keyboard.press("Escape")
    for digit in "1122":
        page.keyboard.press(digit)
    expect(page.get_by_text("2 runs in the book")).to_be_visible()
    page.reload()
    expect(line).to_be_focused()
    page.keyboard.press("Escape")
    for digit in "34":
        page.keyboard.press(digit)
    expect(page.get_by_text("4 runs in the book")).to_be_visible()
    expect(page).to_have_title(re.compile("^Runs"))
    made = {run.setup_id: run.value for run in stored(bench)}
    assert set(made) == set(bench.setups.values())
    assert all(value is not None and 1.0 < value < 60.0 for value in made.values())
    marks = [m for run in stored(bench) for m in runs.show_run(bench.database, run.id).marks]
    assert [mark.fraction for mark in marks] == [0.4]
    page.goto(f"/s/{bench.slug}/margins")
    expect(page.get_by_role("button", name=re.compile("^[ABCD]$"))).to_have_count(4)


def test_a_sitting_is_proposed_and_put_on_the_lanes(page: Page, bench: Bench) -> None:
    for typed in ("5:00", "5:20"):
        bench.run("A", typed)
        bench.run("B", typed)
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_label("Time there is").fill("3")
    page.get_by_role("button", name="Propose a sitting").click()
    plan = page.get_by_role("region", name="Next sitting")
    expect(plan).to_contain_text("Not even one run fits")
    page.get_by_label("Time there is").fill("30")
    page.get_by_role("button", name="Propose a sitting").click()
    expect(plan.get_by_role("listitem").first).to_contain_text("Parade")
    plan.get_by_role("button", name="Put 2 setups on the lanes").click()
    expect(page.get_by_role("timer")).to_have_count(2)
