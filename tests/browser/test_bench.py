"""Lanes, tried in the real interface."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import comes_to, stored
from tests.browser.serving import serving
from tests.browser.waiting import clock_reaches
from tests.desk.helpers import Bench
from true_margin.desk.runs import runs
from true_margin.launch.cluster import Cluster


def arm(page: Page, bench: Bench) -> None:
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_role("button", name="Ready the timer").click()
    expect(page.get_by_role("timer")).to_have_text("0:00.0")


def test_the_lane_by_keys_from_start_to_book(page: Page, bench: Bench) -> None:
    bench.run("B", "9:00")
    arm(page, bench)
    page.keyboard.press("Space")
    clock_reaches(page, 0.6)
    page.reload()
    expect(page.get_by_role("button", name="Stop timer 1")).to_be_enabled()
    page.keyboard.press("1")
    # A press is taken back within ten seconds: a busy machine takes longer to say what it means.
    comes_to(lambda: len(stored(bench)), 2)
    second = stored(bench)[1]
    assert second.value is not None
    assert 0.5 < second.value < 60.0
    assert second.method == "stopwatch"

    page.keyboard.press("u")
    expect(page.get_by_role("button", name="Stop timer 1")).to_be_enabled()
    # What is replaced while it waits is never sent: the first press is to be in the book.
    comes_to(lambda: stored(bench)[1].status, "void")
    clock_reaches(page, second.value + 0.5)
    page.keyboard.press("1")
    expect(page.get_by_text(re.compile("faster than B|fast as B")).first).to_be_visible()
    expect(page.get_by_text("Saved.")).to_be_visible()
    comes_to(lambda: stored(bench)[1].status, "ok")
    again = stored(bench)
    assert len(again) == 2, "the undone press made no second run"
    assert again[1].value is not None
    assert again[1].value >= second.value + 0.4, "the clock never stopped running underneath"
    history = runs.show_run(bench.database, again[1].id).revisions
    assert [revision.why for revision in history] == [
        "stopped again after an undone press",
        "stop pressed too early and undone",
    ]


def test_a_false_start_is_void_and_the_lane_is_armed_again(page: Page, bench: Bench) -> None:
    arm(page, bench)
    page.keyboard.press("Space")
    clock_reaches(page, 0.6)
    page.keyboard.press("v")
    page.keyboard.type("false start")
    page.keyboard.press("Enter")
    expect(
        page.get_by_role("main").get_by_text("saved as not counted, false start")
    ).to_be_visible()
    expect(page.get_by_role("timer")).to_have_text("0:00.0")
    page.keyboard.press("Space")
    page.keyboard.press("f")
    page.get_by_role("button", name="crash").click()
    expect(page.get_by_role("main").get_by_text("saved as failed, crash")).to_be_visible()
    comes_to(
        lambda: [(run.status, run.reason) for run in stored(bench)],
        [("void", "false start"), ("failed", "crash")],
    )


def test_a_lost_network_loses_no_run(page: Page, context: BrowserContext, bench: Bench) -> None:
    arm(page, bench)
    page.keyboard.press("Space")
    clock_reaches(page, 0.6)
    context.set_offline(True)
    page.keyboard.press("1")
    expect(
        page.get_by_text("1 run waiting on this device; it is sent when the connection is back.")
    ).to_be_visible()
    assert stored(bench) == []
    context.set_offline(False)
    expect(page.get_by_text("Saved.")).to_be_visible()
    assert len(stored(bench)) == 1


def test_four_lanes_from_arming_to_the_margin_they_change(page: Page, bench: Bench) -> None:
    for name in ("C", "D"):
        bench.machine(name)
    page.goto(f"/s/{bench.slug}/bench")
    for place, name in enumerate("ABCD"):
        if place:
            page.get_by_role("button", name="Add a timer").click()
        page.get_by_label("Machine", exact=True).select_option(label=name)
        page.get_by_role("button", name="Ready the timer").click()
    expect(page.get_by_role("timer")).to_have_count(4)
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Stop timer 1")).to_be_visible()
    page.keyboard.press("Digit3")
    expect(page.get_by_role("button", name="Stop timer 3")).to_be_visible()
    page.keyboard.press("a")
    for number in "1234":
        expect(page.get_by_role("button", name=f"Stop timer {number}")).to_be_visible()
    expect(page).to_have_title(re.compile("^● 4 running"))
    clock_reaches(page, 1.2)
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
    line = page.get_by_label(re.compile("Type a run"))
    expect(line).to_be_focused()
    page.keyboard.press("Escape")
    for digit in "1122":
        page.keyboard.press(digit)
    expect(page.get_by_text("2 runs", exact=True).first).to_be_visible()
    page.reload()
    expect(line).to_be_focused()
    page.keyboard.press("Escape")
    for digit in "34":
        page.keyboard.press(digit)
    expect(page.get_by_text("4 runs", exact=True).first).to_be_visible()
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
    page.get_by_text("Plan a session", exact=True).click()
    page.get_by_label("Minutes you have").fill("3")
    page.get_by_role("button", name="Plan this session").click()
    plan = page.get_by_role("region", name="Plan a session")
    expect(plan).to_contain_text("Not even one run fits")
    page.get_by_label("Minutes you have").fill("30")
    page.get_by_role("button", name="Plan this session").click()
    expect(plan.get_by_role("listitem").first).to_contain_text("Parade")
    plan.get_by_role("button", name="Ready 2 timers").click()
    expect(page.get_by_role("timer")).to_have_count(2)


def clock_of(page: Page) -> float:
    minutes, seconds = page.get_by_role("timer").inner_text().split(":")
    return 60 * int(minutes) + float(seconds)


def test_desk_and_phone_are_one_bench_with_the_network_cut_between(
    page: Page, browser: Browser, cluster: Cluster, bench: Bench
) -> None:
    """The phone talks to another server than the desk: what they share is the database."""
    with serving(cluster.url) as second:
        phone = browser.new_context(
            base_url=second, viewport={"width": 390, "height": 780}, locale="en-GB"
        )
        share_a_bench(page, phone, bench)
        phone.close()


def share_a_bench(page: Page, phone: BrowserContext, bench: Bench) -> None:
    far = phone.new_page()
    far.goto(f"/s/{bench.slug}/bench")
    arm(page, bench)
    # What is armed and started on the desk stands on the phone, with the same clock.
    expect(far.get_by_role("timer")).to_have_text("0:00.0")
    page.keyboard.press("Space")
    expect(far.get_by_role("button", name="Stop timer 1")).to_be_visible()
    expect(far.get_by_text("Started on another device")).to_be_visible()
    clock_reaches(page, 0.6)
    assert abs(clock_of(page) - clock_of(far)) < 1.0
    # Cut off, the phone stops the lane; the desk knows nothing of it, and its clock runs on.
    phone.set_offline(True)
    far.get_by_role("button", name=re.compile("^Stop$")).click()
    stopped = clock_of(far)
    expect(far.get_by_text("1 run waiting on this device")).to_be_visible()
    clock_reaches(page, stopped + 1.0)
    expect(page.get_by_role("button", name="Stop timer 1")).to_be_visible()
    # Both stop it: the press that came first stands, on both, in one run.
    page.keyboard.press("1")
    expect(page.get_by_text("Saved.")).to_be_visible()
    phone.set_offline(False)
    expect(far.get_by_text("waiting on this device")).to_have_count(0)
    expect(page.get_by_role("timer")).to_have_text(far.get_by_role("timer").inner_text())
    assert clock_of(page) == pytest.approx(stopped, abs=0.11)
    (run,) = stored(bench)
    assert run.value == pytest.approx(stopped, abs=0.11)
    assert 0 < run.placed_u < 1, "two devices timed it"
