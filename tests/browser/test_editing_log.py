"""The log of what was seen, through the real interface: noted, corrected, withdrawn."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF

BETWEEN = "Between runs: how editing feels, and problems"


def test_a_trial_is_noted_corrected_and_withdrawn_and_nothing_goes(
    page: Page, bench: Bench
) -> None:
    bench.run("A", None, status="failed", reason="out of memory", reached=0.4)
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_text(BETWEEN).click()
    page.get_by_role("link", name="Editing log, day by day").click()
    expect(page.get_by_text("failed run")).to_be_visible()
    expect(page.get_by_text("reached 40 %. out of memory")).to_be_visible()
    page.get_by_role("button", name="Note how editing feels").press("Enter")
    page.get_by_label("What was tried").select_option("own kind")
    page.get_by_label("What was it?").fill("grading")
    page.get_by_label("How it went").select_option("stutters")
    page.get_by_label("Freezes counted").fill("3")
    page.get_by_text(re.compile("^Conditions, version")).click()
    page.get_by_label("Under which conditions").fill("UHD, two effects")
    page.get_by_label("Under which conditions").press("Enter")
    expect(page.get_by_text("At worst stutters: grading.")).to_be_visible()
    # The form goes once everything is read again; only then there is one of each field.
    expect(page.get_by_label("Freezes counted")).to_have_count(0)
    page.get_by_role("button", name="Correct").click()
    expect(page.get_by_label("Freezes counted")).to_have_value("3")
    page.get_by_label("How it went").select_option("slow")
    page.get_by_role("button", name="Note it").press("Enter")
    expect(page.get_by_text("corrected, was stutters")).to_be_visible()
    expect(page.get_by_label("Freezes counted")).to_have_count(0)
    page.get_by_role("button", name="Withdraw").click()
    page.get_by_label("Why does it count no more?").fill("the wrong machine")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("· the wrong machine"))).to_be_visible()
    kept = SHELF.take(bench.database, bench.slug).trials
    assert [(t.grade, t.freezes, t.withdrawn_why) for t in kept] == [
        ("stutters", 3, "corrected"),
        ("slow", 3, "the wrong machine"),
    ]


def test_an_entry_needs_no_task_and_takes_a_picture(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/bench?view=log")
    page.get_by_role("button", name="Note a problem").press("Enter")
    page.get_by_label("Task", exact=True).select_option("none")
    page.get_by_label("App, if any").fill("Kiln")
    page.get_by_label("What happened").select_option("device not found")
    page.get_by_label("How often").fill("3")
    page.get_by_label("In words").fill("the card reader")
    page.keyboard.press("Enter")
    day = page.get_by_role("region", name="Log by day")
    expect(day).to_contain_text("device not found, 3 times. the card reader · Kiln")
    day.get_by_label("Picture").set_input_files(
        {"name": "reader.png", "mimeType": "image/png", "buffer": page.screenshot()}
    )
    shown = day.get_by_role("img", name="Attached: reader.png")
    expect(shown).to_be_visible()
    assert shown.evaluate("each => each.decode().then(() => each.naturalWidth)") > 0
