"""Formats of one's own country, fingers, eyes, ears, motion: tried in the real interface."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.looks import visit
from tests.browser.test_stages import STAGES
from tests.desk.helpers import Bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.store import records

LEAST_TOUCH = 24
"""Pixels: the least that WCAG 2.2 asks of any target."""


@pytest.mark.parametrize(
    ("locale", "amount", "day", "point"),
    [
        ("en-GB", "1,299.50", "3 Nov 2026", "."),
        ("de-DE", "1.299,50", "3. Nov. 2026", ","),
        ("fr-FR", "1 299,50", "3 nov. 2026", ","),
    ],
)
def test_numbers_and_days_are_written_as_the_reader_is_used_to(
    browser: Browser, address: str, bench: Bench, locale: str, amount: str, day: str, point: str
) -> None:
    machine = SHELF.take(bench.database, bench.slug).machines[0]
    lineup.add_price(
        bench.database,
        machine.id,
        {"kind": "list", "amount": "1299.50", "currency": "EUR", "dated": "2026-11-03"},
    )
    context = browser.new_context(
        base_url=address, locale=locale, viewport={"width": 1280, "height": 800}
    )
    page = context.new_page()
    page.goto(f"/s/{bench.slug}/lineup?machine={machine.id}")
    expect(page.get_by_text(re.compile(spaced(amount))).first).to_be_visible()
    expect(page.get_by_text(re.compile(spaced(day))).first).to_be_visible()
    for typed in ("18.42", "18.40", "18.44"):
        bench.run("A", typed)
    bench.run("B", "12.1")
    page.goto(f"/s/{bench.slug}/margins?a={bench.setups['A']}&b={bench.setups['B']}")
    # The ratio is the page's, the sentence the server's.
    ratio = rf"1\{point}52"
    expect(
        page.locator(".ladder-ratio, .figure").get_by_text(re.compile(ratio)).first
    ).to_be_visible()
    slower = rf"could be \d+(?:\{point}\d)? % slower|interval \d+(?:\{point}\d)? to"
    expect(page.get_by_text(re.compile(slower)).first).to_be_visible()
    page.goto(f"/s/{bench.slug}/runs")
    expect(page.get_by_text(re.compile(rf"18\{point}42")).first).to_be_visible()
    assert (
        page.get_by_role("main").get_by_text(re.compile(rf"\d\{'.,'.replace(point, '')}\d")).count()
        == 0
    )
    context.close()


def spaced(text: str) -> str:
    """A pattern for a text in which any kind of space may stand."""
    return r"\s".join(re.escape(part) for part in text.split(" "))


def test_what_is_pressed_on_a_phone_is_large_enough(page: Page, bench: Bench) -> None:
    bench.run("A", "6:17")
    page.set_viewport_size({"width": 390, "height": 800})
    page.goto(f"/s/{bench.slug}/bench")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.get_by_role("button", name="Ready the timer").click()
    small = page.evaluate(
        """least => [...document.querySelectorAll('main button, main select, main input')]
          .filter(each => each.offsetParent !== null)
          .map(each => [each.getAttribute('aria-label') || each.textContent || each.name,
            // Whoever presses the label presses what it labels.
            (each.closest('label') || each).getBoundingClientRect()])
          .filter(([, box]) => Math.min(box.width, box.height) < least)
          .map(([name, box]) => `${name}: ${box.width} x ${box.height}`)""",
        LEAST_TOUCH,
    )
    assert small == [], "\n".join(small)


def test_nothing_moves_for_those_who_asked_for_that(page: Page, demo: records.Shootout) -> None:
    page.emulate_media(reduced_motion="reduce")
    for stage in ("margins", "bench", "picks"):
        visit(page, f"/s/{demo.slug}/{stage}")
        moving = page.evaluate(
            """() => [...document.querySelectorAll('main *')].filter(each => {
                 const style = getComputedStyle(each)
                 const times = `${style.transitionDuration},${style.animationDuration}`
                 return times.split(',').some(time => parseFloat(time) > 0.01)
               }).map(each => each.className).slice(0, 5)"""
        )
        assert moving == [], stage


def test_the_rule_and_the_ladder_are_read_aloud_as_sentences(
    page: Page, demo: records.Shootout
) -> None:
    """What a screen reader says of a drawn margin holds the names, the ratio and the call."""
    visit(page, f"/s/{demo.slug}/margins")
    said = page.evaluate(
        """() => [...document.querySelectorAll('main [role=img][aria-label]')]
          .map(each => each.getAttribute('aria-label'))"""
    )
    told = [each for each in said if "times as fast" in each]
    assert len(told) >= 5
    for each in told:
        assert re.search(r"\d\.\d+", each), each
        assert len(each.split()) > 5, each


def test_at_twice_the_size_nothing_is_lost(page: Page, demo: records.Shootout) -> None:
    """A window of 1280 pixels at 200 % is one of 640: everything is there, nothing sideways."""
    page.set_viewport_size({"width": 640, "height": 400})
    for stage in STAGES:
        visit(page, f"/s/{demo.slug}/{stage}")
        wide = page.evaluate("document.documentElement.scrollWidth")
        assert wide <= 640, f"{stage} is {wide} wide"
