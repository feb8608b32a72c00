"""An export that the page itself times by its file, in a real folder beside a real writer."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import comes_to, stored
from tests.browser.exports import drop_folder, export
from tests.desk.helpers import Bench


def watch(page: Page, bench: Bench, folder: Path, *, again: bool = False) -> None:
    """Watch a folder from the bench."""
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_label("Timed by").select_option(label="its export folder")
    if again:
        page.get_by_label("Watch on for the next export").check()
    drop_folder(page, page.get_by_text("Open this page on the machine that exports"), folder)
    expect(page.get_by_text("waits for the first byte of its export")).to_be_visible()
    expect(page.get_by_text(f"Watching “{folder.name}”")).to_be_visible()


def done(page: Page) -> None:
    """Say that the app is done, once the page has seen the file grow."""
    page.get_by_role("button", name="The app says it is done").click()


@pytest.mark.parametrize("part", [None, "film.part"])
def test_an_export_is_timed_by_its_file(
    page: Page, bench: Bench, tmp_path: Path, part: str | None
) -> None:
    watch(page, bench, tmp_path)
    thread, told = export(tmp_path, "film.mp4", 3.0, part=part)
    expect(page.get_by_role("button", name="The app says it is done")).to_be_visible()
    # A reload in the middle of it loses nothing.
    page.reload()
    # The browser may ask for leave again; else how large the file is shows, growing or done.
    again = page.get_by_role("button", name="Go on watching")
    expect(again.or_(page.get_by_text(re.compile(r"· [\d.]+ [kMG]B")))).to_be_visible()
    if again.is_visible():
        again.click()
    thread.join()
    done(page)
    comes_to(lambda: len(stored(bench)), 1)
    (run,) = stored(bench)
    assert run.method == "watch"
    if run.status == "void":
        # A busy machine looks too seldom, and says so; bench/browser_watch.py measures an idle one.
        assert "nothing was seen for" in (run.reason or "")
        return
    assert run.status == "ok"
    assert run.u is not None
    assert run.u > 0
    assert run.value == pytest.approx(told.length_s, abs=4 * run.u + 0.1)


def test_a_film_without_its_end_is_kept_and_not_counted(
    page: Page, bench: Bench, tmp_path: Path
) -> None:
    watch(page, bench, tmp_path)
    begun = b"\0\0\0\x10ftypisom\0\0\0\0" + b"\0\0\x40\0mdat" + bytes(100)
    (tmp_path / "film.mp4").write_bytes(begun)
    done(page)
    comes_to(lambda: [run.status for run in stored(bench)], ["void"])
    assert "cut off" in (stored(bench)[0].reason or "")


def test_one_export_after_another_without_a_network(
    page: Page, bench: Bench, tmp_path: Path
) -> None:
    watch(page, bench, tmp_path, again=True)
    page.context.set_offline(True)
    for name in ("one.mp4", "two.mp4"):
        thread, _ = export(tmp_path, name, 1.0)
        done(page)
        thread.join()
        expect(page.get_by_text("waits for the first byte of its export")).to_be_visible()
    expect(page.get_by_text("2 runs waiting on this device")).to_be_visible()
    page.context.set_offline(False)
    comes_to(lambda: [run.status for run in stored(bench)], ["ok", "ok"])
    page.get_by_role("button", name="Change machine or task").click()
    expect(page.get_by_text(re.compile("^Watching"))).to_have_count(0)


def test_a_file_is_no_folder(page: Page, bench: Bench, tmp_path: Path) -> None:
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_label("Timed by").select_option(label="its export folder")
    (tmp_path / "film.mp4").write_bytes(b"x")
    asked = page.get_by_text("Open this page on the machine that exports")
    drop_folder(page, asked, tmp_path / "film.mp4")
    expect(page.get_by_role("alert")).to_contain_text("not a file")
