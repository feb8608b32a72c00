"""Formats of one's own country, fingers, eyes, ears, motion: tried in the real interface."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Page, Playwright, expect

from tests.browser.looks import OVERPRINTS, settling, visit
from tests.browser.serving import launch
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
    table = page.get_by_role("table", name=re.compile(r"^Ranking of \d+ setups, fastest first$"))
    for head in ("rank", "setup", "time", "ratio", "runs"):
        expect(table.get_by_role("columnheader", name=head, exact=True)).to_be_attached()
    row = table.get_by_role("row").filter(has=page.get_by_role("rowheader", name="Halyard L"))
    expect(row.get_by_role("cell").last).to_have_text("6")
    told = [each for each in said if "times as fast" in each]
    assert len(told) >= 5
    for each in told:
        assert re.search(r"\d\.\d+", each), each
        assert len(each.split()) > 5, each


def test_type_of_twice_the_size_overprints_nothing(
    playwright: Playwright, address: str, demo: records.Shootout
) -> None:
    """A reader who set a larger type, not a larger window: everything grows with it."""
    browser = launch(playwright, "--blink-settings=defaultFontSize=32")
    page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
    for stage in STAGES:
        visit(page, f"/s/{demo.slug}/{stage}")
        size = page.evaluate("parseFloat(getComputedStyle(document.querySelector('h1')).fontSize)")
        assert size >= 40, f"{stage} stays as small as it was"
        assert page.evaluate(OVERPRINTS) == [], stage
        assert page.evaluate("document.documentElement.scrollWidth") <= 1280, stage
    browser.close()


def test_at_four_times_the_size_all_of_it_scrolls(page: Page, demo: records.Shootout) -> None:
    """A window of 1280 by 1024 at 400 % is one of 320 by 256: no strip keeps what little there is."""
    page.set_viewport_size({"width": 320, "height": 256})
    for stage in (*STAGES, "/", "/people", "/all-time", "/room"):
        visit(page, stage if stage.startswith("/") else f"/s/{demo.slug}/{stage}")
        assert page.evaluate(OVERPRINTS) == [], stage
        assert page.evaluate("document.documentElement.scrollWidth") <= 320, stage
    visit(page, f"/s/{demo.slug}/margins")
    # Versions of one machine are told apart: each name is there whole.
    for name in ("Ferrous T9 overclocked", "Ferrous T9 stock", "Halyard S mains"):
        label = page.get_by_role("table").get_by_text(name, exact=True)
        label.scroll_into_view_if_needed()
        whole = label.evaluate("each => each.scrollHeight <= each.clientHeight + 1")
        assert whole, f"{name} is cut off"
    expect(page.get_by_role("banner")).not_to_be_in_viewport()
    expect(page.get_by_role("contentinfo")).not_to_be_in_viewport()


SPACED = """* { line-height: 1.5 !important; letter-spacing: .12em !important;
  word-spacing: .16em !important } p { margin-bottom: 2em !important }"""
"""What WCAG lets a reader set between lines, letters and words."""


def test_wider_spacing_overprints_nothing(page: Page, demo: records.Shootout) -> None:
    for stage in (*STAGES, "/", "/people", "/all-time", "/room"):
        visit(page, stage if stage.startswith("/") else f"/s/{demo.slug}/{stage}")
        with settling(page):
            style = page.add_style_tag(content=SPACED)
        assert page.evaluate(OVERPRINTS) == [], stage
        style.evaluate("each => each.remove()")


DRAWN = """() => {
  const paper = getComputedStyle(document.body).backgroundColor
  return [...document.querySelectorAll(
      '.bg-base-content, .bg-accent, .bg-mute, .hatched, .bar-dotted, .picks-slider')]
    .filter(each => each.checkVisibility() && each.getBoundingClientRect().width > 0)
    .map(each => getComputedStyle(each))
    .filter(style => style.backgroundColor === paper && style.backgroundImage === 'none')
    .length
}"""
"""How many bars and marks have become as the paper is."""


def test_forced_colours_keep_what_is_drawn(
    browser: Browser, address: str, demo: records.Shootout
) -> None:
    context = browser.new_context(
        base_url=address, forced_colors="active", viewport={"width": 1280, "height": 800}
    )
    page = context.new_page()
    for stage in STAGES:
        visit(page, f"/s/{demo.slug}/{stage}")
        assert page.evaluate(DRAWN) == 0, stage
    visit(page, f"/s/{demo.slug}/margins")
    edge = "each => [getComputedStyle(each).borderLeftStyle, getComputedStyle(each).outlineStyle]"
    assert page.locator(".rule-band").first.evaluate(edge)[0] == "dashed"
    row = page.get_by_role("row").filter(has_text="Halyard L")
    row.get_by_role("button", name=re.compile("^Halyard L ")).click()
    assert row.evaluate(edge)[1] == "solid", "what is chosen looks as what is not"
    ink = "each => [getComputedStyle(each).stroke, getComputedStyle(document.body).color]"
    stroke, text = page.get_by_role("table").locator("svg line").first.evaluate(ink)
    assert stroke == text, "what is drawn has not the colour of words"
    context.close()


def test_at_twice_the_size_nothing_is_lost(page: Page, demo: records.Shootout) -> None:
    """A window of 1280 pixels at 200 % is one of 640: everything is there, nothing sideways."""
    page.set_viewport_size({"width": 640, "height": 400})
    for stage in STAGES:
        visit(page, f"/s/{demo.slug}/{stage}")
        wide = page.evaluate("document.documentElement.scrollWidth")
        assert wide <= 640, f"{stage} is {wide} wide"
