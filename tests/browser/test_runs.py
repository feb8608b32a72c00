"""The entry line, tables and the history of runs, tried in the real interface."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import comes_to, stored
from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF


def entry_line(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/runs")
    expect(page.get_by_label(re.compile("Type a run"))).to_be_focused()


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
    comes_to(lambda: [run.value for run in stored(bench)], [1104.0])


def test_an_unknown_setup_can_be_added_on_the_spot(page: Page, bench: Bench) -> None:
    entry_line(page, bench)
    page.keyboard.type("Zephyr / parade / 6:17")
    page.keyboard.press("Enter")
    add = page.get_by_role("button", name="Add Zephyr to the line-up")
    expect(add).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_text("Enter saves it (round: round 1)")).to_be_visible()
    page.get_by_role("combobox", name=re.compile("Type a run")).press("Enter")
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    comes_to(lambda: [run.typed for run in stored(bench)], ["6:17"])


def test_what_needs_somebody_is_asked_and_the_rest_goes_in(page: Page, bench: Bench) -> None:
    table = "machine\tParade\tloud\tRAM\nA\t6:17\t44\t16 GB\nB\t7m99s\t39\t32 GB\nC\t5:02\t41\t8\n"
    page.goto(f"/s/{bench.slug}/runs?focus=import")
    page.get_by_label("Paste your table, as it is").fill(table)
    page.get_by_role("button", name="Preview").click()
    expect(page.get_by_role("heading", name="2 results and 3 specs are ready.")).to_be_visible()
    expect(page.get_by_text("1 column and 1 cell need you;")).to_be_visible()
    page.get_by_label("Column loud is").select_option(label="Spec row")
    expect(page.get_by_role("heading", name="2 results and 6 specs are ready.")).to_be_visible()
    expect(page.get_by_text("7m99s has 99 seconds. Type 8m39s, or 8:39.")).to_be_visible()
    page.get_by_role("button", name="8:39").click()
    assert stored(bench) == []
    page.get_by_role("button", name="Import 3 results").click()
    told = "Imported: 3 results, 6 specs, 1 new machine. 0"
    expect(page.get_by_text(told.removesuffix(" 0"))).to_be_visible()
    comes_to(lambda: [run.value for run in stored(bench)], [377, 519, 302])
    page.get_by_role("button", name="Undo: take all of it back").click()
    told = "Taken back: 3 runs, 6 specs, 1 machine. All of it is kept."
    expect(page.get_by_text(told)).to_be_visible()
    # The new machine went to the archive, with its run.
    runs = stored(bench)
    assert len(runs) < 3
    assert {run.status for run in runs} == {"void"}


def test_what_was_taken_back_is_not_said_to_be_saved(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/runs")
    field = page.get_by_role("combobox", name=re.compile("Type a run"))
    field.fill("a / parade / over 2 h")
    expect(page.get_by_text("over 2:00:00 · stopwatch")).to_be_visible()
    field.press("Enter")
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text(re.compile("^Taken back"))).to_be_visible()
    expect(page.get_by_text("Saved.", exact=True)).to_be_hidden()


def test_a_ratio_is_noted_in_the_line_and_stands_beside_the_ladder(
    page: Page, bench: Bench
) -> None:
    bench.run("A", "6:17")
    page.goto(f"/s/{bench.slug}/runs")
    field = page.get_by_role("combobox", name=re.compile("Type a run"))
    field.fill("b / parade / 38 % faster than a, noted by a forum")
    field.press("Enter")
    # Read back while it is typed as well; only what is stored says that it was noted.
    expect(page.get_by_text(re.compile(r"1\.38 times as fast as A .*Noted, not"))).to_be_visible()
    comes_to(lambda: [run.typed for run in stored(bench)], ["6:17"])
    page.goto(f"/s/{bench.slug}/margins?task={bench.tasks['Parade']}")
    expect(page.get_by_text("not timed: noted")).to_be_visible()
    page.get_by_role("button", name=re.compile("^B not timed")).press("Enter")
    page.get_by_role("button", name=re.compile("^A as is|^A$")).last.press("Enter")
    note = page.get_by_role("complementary")
    expect(note.get_by_text("nothing was measured here, so it stands in")).to_be_visible()


def test_old_notes_become_a_shootout_by_the_keyboard_alone(page: Page, bench: Bench) -> None:
    page.goto("/")
    page.get_by_role("button", name="Start from your notes").press("Enter")
    page.get_by_label("Paste a table, or type one result a line").fill(
        "Alder / photos / 8:46\nBirch / photos / 3:10\nAlder / photos / 8:44\nBirch / photos / 3:12"
    )
    page.get_by_role("button", name="Preview").press("Enter")
    expect(page.get_by_role("heading", name="4 results are ready.")).to_be_visible()
    page.get_by_label("What do you want to find out?", exact=True).fill("Old notes")
    page.get_by_role("button", name="Make the shootout").press("Enter")
    expect(
        page.get_by_text(re.compile("Birch is clearly faster|Birch.* as fast")).first
    ).to_be_visible()
    assert "/margins" in page.url


def test_another_tabs_run_appears_by_itself(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/runs")
    expect(page.get_by_role("heading", name="No runs yet")).to_be_visible()
    bench.run("A", "6:17")
    expect(page.get_by_role("button", name="6:17")).to_be_visible()


def test_a_run_is_voided_with_a_reason_and_keeps_its_history(page: Page, bench: Bench) -> None:
    bench.run("A", "0:04")
    page.goto(f"/s/{bench.slug}/runs")
    page.get_by_role("button", name=re.compile("^0:04")).click()
    note = page.get_by_role("complementary")
    note.get_by_role("button", name="Don’t count it").click()
    expect(note.get_by_role("button", name="Don’t count it")).to_be_disabled()
    page.keyboard.type("false start")
    page.keyboard.press("Enter")
    expect(note.get_by_text("was 0:04, counted")).to_be_visible()
    comes_to(lambda: [(run.status, run.reason) for run in stored(bench)], [("void", "false start")])


def test_the_book_is_narrowed_to_what_is_looked_for(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    bench.run("B", "6:30")
    bench.run("B", None, status="failed", reason="crash")
    page.goto(f"/s/{bench.slug}/runs")
    page.get_by_label("Show only one setup").select_option(label="B")
    expect(page.get_by_role("button", name="6:17")).to_be_hidden()
    expect(page.get_by_role("button", name="6:30")).to_be_visible()
    page.get_by_label("Show only one state").select_option("failed")
    expect(page.get_by_role("button", name="6:30")).to_be_hidden()
    expect(page.get_by_role("button", name=re.compile("failed"))).to_be_visible()
    page.get_by_label("Show only one state").select_option("void")
    expect(page.get_by_text("No run is like this.")).to_be_visible()
    page.get_by_role("button", name="show all").click()
    expect(page.get_by_role("button", name="6:17")).to_be_visible()
    expect(page.get_by_text("3 runs", exact=True).first).to_be_visible()


def test_several_runs_are_voided_and_taken_back(page: Page, bench: Bench) -> None:
    for typed in ("5:00", "5:02", "5:04"):
        bench.run("A", typed)
    entry_line(page, bench)
    page.get_by_role("button", name="Change several").click()
    for typed in ("5:00", "5:04"):
        page.get_by_role("button", name=typed).click()
    page.get_by_label("Why? It is kept with each run.").fill("recorder left on")
    page.get_by_role("button", name="Void 2 runs").click()
    expect(page.get_by_text("Voided: 2 runs.")).to_be_visible()
    comes_to(lambda: [run.status for run in stored(bench)], ["void", "ok", "void"])
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Taken back: 2 runs.")).to_be_visible()
    comes_to(lambda: [run.status for run in stored(bench)], ["ok", "ok", "ok"])


def test_an_entered_run_is_taken_back_and_stays_in_the_book_as_void(
    page: Page, bench: Bench
) -> None:
    entry_line(page, bench)
    page.keyboard.type("a / parade / 01:00:10:05 - 01:06:27:12 @ 25")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("^Entered: A: 6:17"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Taken back: A, 6:17.28.")).to_be_visible()
    comes_to(lambda: [(run.status, run.method) for run in stored(bench)], [("void", "recording")])


def test_a_picture_is_attached_and_a_large_book_draws_what_is_in_view(
    page: Page, bench: Bench, tmp_path: Path
) -> None:
    for place in range(60):
        name = f"Task {place:02d}"
        bench.task(name)
        bench.run("A", "5:00", name)
    picture = tmp_path / "end.png"
    page.goto(f"/s/{bench.slug}/runs")
    expect(page.get_by_role("heading", name="Task 00")).to_be_visible()
    page.screenshot(path=picture)
    heads = page.get_by_role("heading", level=2)
    expect(page.get_by_role("heading", name="Task 59")).to_have_count(0)
    assert heads.count() < 40
    page.mouse.move(600, 600)
    page.mouse.wheel(0, 100_000)
    expect(page.get_by_role("heading", name="Task 59")).to_be_visible()
    page.get_by_role("button", name="5:00").last.click()
    page.get_by_label("Attach a picture").set_input_files(picture)
    expect(page.get_by_role("img", name="Attached: end.png")).to_be_visible()
    svg = tmp_path / "drawn.svg"
    svg.write_text("<svg/>")
    page.get_by_label("Attach a picture").set_input_files(svg)
    expect(page.get_by_role("alert")).to_contain_text("neither a PNG nor a JPEG")


def test_a_reading_is_typed_beside_a_run_and_put_right(page: Page, bench: Bench) -> None:
    run = bench.run("A", "10:00").run
    page.goto(f"/s/{bench.slug}/runs?run={run.id}")
    note = page.get_by_role("complementary")
    field = note.get_by_label("Another reading")
    field.fill("63 % at 7:20")
    expect(note.get_by_text("understood: 63 %, at 7:20")).to_be_visible()
    field.press("Enter")
    expect(note.get_by_role("listitem").filter(has_text="63 %")).to_contain_text("7:20")
    field.fill("41 dB")
    field.press("Enter")
    note.get_by_role("button", name="Fix: 41 dB").click()
    page.keyboard.type("31 dB")
    page.keyboard.press("Tab")
    page.keyboard.type("misheard")
    page.keyboard.press("Enter")
    expect(note.get_by_text("31 dB")).to_be_visible()
    note.get_by_role("button", name="All 3 readings, withdrawn ones too").click()
    expect(note.get_by_role("listitem").filter(has_text="41 dB")).to_contain_text("misheard")


def test_the_entry_line_keeps_what_stands_beside_a_figure(page: Page, bench: Bench) -> None:
    bench.task("Lens points", measure="amount", unit="points")
    page.goto(f"/s/{bench.slug}/runs")
    line = page.get_by_role("combobox", name=re.compile("Type a run"))
    line.fill("a / lens / 3150, best 3210")
    expect(page.get_by_text("3150 · best 3210")).to_be_visible()
    line.press("Enter")
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    (run,) = SHELF.take(bench.database, bench.slug).runs
    assert (run.value, run.note) == (3150.0, "best 3210")
