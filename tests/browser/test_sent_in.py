"""A kit is given out, its form is filled in elsewhere, and what comes back is decided on."""

from __future__ import annotations

import re
import zipfile
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench


def kit_page(page: Page, bench: Bench, folder: Path) -> Path:
    """The kit, saved on the bench and unpacked."""
    page.goto(f"/s/{bench.slug}/runs")
    page.get_by_role("button", name="Sent in by others").click()
    with page.expect_download() as saved:
        page.get_by_role("button", name="Save the kit").click()
    with zipfile.ZipFile(saved.value.path()) as kit:
        kit.extractall(folder)
    expect(page.get_by_text("First given out on")).to_be_visible()
    return folder / "START HERE.html"


def filled(page: Page, start: Path, model: str) -> Path:
    """A result that somebody wrote with the kit's form, in a page of their own."""
    with page.context.new_page() as form:
        form.goto(start.as_uri())
        form.get_by_label("Maker and model of the machine").fill(model)
        form.get_by_label("run 1").fill("nearly seven")
        form.get_by_label("What is stored is as it says above").check()
        form.get_by_role("button", name="Save the result file").click()
        expect(form.get_by_role("alert")).to_contain_text("“nearly seven” is no time")
        form.get_by_label("run 1").fill("6:40.5")
        form.get_by_label("run 2").fill("failed: no room left")
        with form.expect_download() as saved:
            form.get_by_role("button", name="Save the result file").click()
        expect(form.get_by_role("status")).to_contain_text("Your code is")
        path = start.parent / saved.value.suggested_filename
        saved.value.save_as(path)
    return path


def test_a_result_of_a_kit_comes_in_and_is_decided_on(
    page: Page, bench: Bench, tmp_path: Path
) -> None:
    for typed in ("5:00", "5:02"):
        bench.run("A", typed)
        bench.run("B", "9:00")
    result = filled(page, kit_page(page, bench, tmp_path), "A")
    page.get_by_label("Add a result file").set_input_files(result)
    row = page.get_by_role("listitem").filter(has_text="no name given")
    expect(row).to_contain_text("slower than A here, the same model")
    expect(row).to_contain_text("6:40.5 and failed (no room left)")
    expect(page.get_by_text("Its seal does not fit")).to_have_count(0)

    row.get_by_role("button", name="Accept").click()
    expect(row.get_by_label("The same model and settings as")).to_have_value(str(bench.setups["A"]))
    row.get_by_label("Why is it accepted?").fill("same memory")
    page.keyboard.press("Enter")
    expect(row).to_contain_text("accepted: same memory")
    expect(page.get_by_text("1 accepted result of models that are here")).to_be_visible()

    row.get_by_role("button", name="Erase for its sender").click()
    row.get_by_label("Who wishes it?").fill("its sender, by letter")
    row.get_by_label(re.compile("The sender’s code")).fill("wrong")
    row.get_by_role("button", name="Erase it for good").click()
    expect(page.get_by_role("alert")).to_contain_text("not the code of this result")
    row.get_by_label(re.compile("The sender’s code")).fill("")
    row.get_by_role("button", name="Erase it for good").click()
    expect(page.get_by_text("erased: its sender, by letter")).to_be_visible()
    expect(page.get_by_text("6:40.5")).to_have_count(0)


def test_a_file_that_is_no_result_is_refused_with_the_reason(
    page: Page, bench: Bench, tmp_path: Path
) -> None:
    kit_page(page, bench, tmp_path)
    page.get_by_label("Add a result file").set_input_files(tmp_path / "settings.json")
    expect(page.get_by_role("alert")).to_contain_text("This is no result file")
    expect(page.get_by_text("Nothing was sent in yet.")).to_be_visible()
