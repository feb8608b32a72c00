"""Eight lanes run while the server is killed, the database restarted, the network cut.

No run is lost, none doubled, and no time is wrong by more than 50 ms against the presses
as the browser itself saw them.
"""

from __future__ import annotations

import itertools
import re
import time

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.waiting import clock_reaches
from tests.desk.helpers import Bench, new_bench
from tests.faults.conftest import CUT_S, ROUNDS, Life
from true_margin.desk.bench import lanes
from true_margin.desk.runs import runs

WRONG_BY_S = 0.050
_SEQ = itertools.count(1)
# When the browser saw each key press, before anything of the app hears of it.
PRESSES = """() => { window.presses = {}; window.addEventListener('keydown', event => {
  window.presses[event.code] ??= performance.timeOrigin + event.timeStamp
}, { capture: true }) }"""


def eight_lanes(life: Life) -> Bench:
    """A shootout with eight setups, each armed on its lane."""
    bench = new_bench(life.database, "Faults")
    for name in "CDEFGH":
        bench.machine(name)
    events = [
        lanes.NewEvent(
            "the test itself",
            next(_SEQ),
            "armed",
            time.time() * 1000.0,
            {
                "id": f"lane {name} {bench.slug}",
                "number": place,
                "setup_id": str(setup),
                "task_id": str(bench.tasks["Parade"]),
                "queue": [],
                "phase": "armed",
                "key": f"run {name} {bench.slug}",
                "marks": [],
            },
        )
        for place, (name, setup) in enumerate(bench.setups.items(), start=1)
    ]
    lanes.put_events(bench.database, bench.slug, events)
    return bench


def started(browser: Browser, life: Life, bench: Bench) -> Page:
    """A page on which all eight lanes run."""
    page = browser.new_context(base_url=life.address, locale="en-GB").new_page()
    page.goto(f"/s/{bench.slug}/bench")
    expect(page.get_by_role("timer")).to_have_count(8, timeout=30_000)
    page.evaluate(PRESSES)
    page.keyboard.press("a")
    expect(page.get_by_role("button", name=re.compile("^Stop timer"))).to_have_count(8)
    clock_reaches(page, 0.8)
    return page


def elapsed(page: Page) -> dict[str, float]:
    """True seconds of each lane, by the presses that the browser saw."""
    presses = page.evaluate("() => window.presses")
    return {
        code[-1]: (at - presses["KeyA"]) / 1000
        for code, at in presses.items()
        if code.startswith("Digit")
    }


def judge(page: Page, bench: Bench) -> None:
    """Every lane's run is in the book once, with the time of its presses."""
    expect(page.get_by_text("waiting on this device")).to_have_count(0, timeout=120_000)
    truth = elapsed(page)
    assert len(truth) == 8
    made = [each.run for each in runs.show_runs(bench.database, bench.slug).runs]
    assert len(made) == 8, "none lost, none doubled"
    labels = dict(zip(bench.setups.values(), "12345678", strict=True))
    for run in made:
        assert (run.status, run.version) == ("ok", 1)
        assert run.value == pytest.approx(truth[labels[run.setup_id]], abs=WRONG_BY_S)
    page.context.close()


@pytest.mark.parametrize("round_", range(ROUNDS))
def test_the_server_is_killed_while_eight_lanes_run(
    browser: Browser, life: Life, round_: int
) -> None:
    bench = eight_lanes(life)
    page = started(browser, life, bench)
    for digit in "12":
        page.keyboard.press(digit)
    # With requests of those two on their way.
    life.kill()
    for place, digit in enumerate("345"):
        page.keyboard.press(digit)
        clock_reaches(page, 1.0 + 0.15 * place)
    expect(page.get_by_text("waiting on this device")).to_be_visible()
    life.start()
    for digit in "678":
        page.keyboard.press(digit)
    judge(page, bench)


@pytest.mark.parametrize("round_", range(ROUNDS))
def test_the_database_is_restarted_during_a_stop(browser: Browser, life: Life, round_: int) -> None:
    bench = eight_lanes(life)
    page = started(browser, life, bench)
    for digit in "1234":
        page.keyboard.press(digit)
    life.restart_database()
    for digit in "5678":
        page.keyboard.press(digit)
    judge(page, bench)
    assert life.answers(), "the app found its database again by itself"


@pytest.mark.parametrize("round_", range(ROUNDS))
def test_the_network_is_cut_and_the_page_reloaded_after(
    browser: Browser, life: Life, round_: int
) -> None:
    bench = eight_lanes(life)
    page = started(browser, life, bench)
    page.context.set_offline(True)
    for place, digit in enumerate("1234567"):
        page.keyboard.press(digit)
        clock_reaches(page, 0.9 + 0.1 * place)
    page.wait_for_timeout(1000 * CUT_S)
    presses = page.evaluate("() => window.presses")
    page.context.set_offline(False)
    page.reload()
    expect(page.get_by_role("timer")).to_have_count(8, timeout=30_000)
    page.evaluate(PRESSES)
    page.evaluate("earlier => Object.assign(window.presses, earlier)", presses)
    page.keyboard.press("8")
    judge(page, bench)


def test_what_a_dead_database_is_said_as(life: Life) -> None:
    """While the database is away the app says so, and nothing else is wrong with it."""
    assert life.answers()
    port = life.cluster.port
    life.cluster.stop()
    assert not life.answers()
    life.cluster.port = port
    assert life._started_on(port or 0)
    assert life.answers()
