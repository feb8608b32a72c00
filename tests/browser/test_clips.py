"""Cards as films and the race for a stream, as somebody makes them."""

from __future__ import annotations

import io
import re

import av
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.browser.conftest import comes_to, stored
from tests.desk.helpers import Bench
from true_margin.desk.publish import cards, clips
from true_margin.desk.publish.clips import ClipAsked

ASKED = ClipAsked.of(
    {
        "shape": "wide",
        "look": "clear",
        "kind": "webm",
        "rate": 25.0,
        "seconds": 1.0,
        "hold": 0.4,
        "cuts": False,
    }
)


def test_a_card_is_played_scrubbed_made_and_saved(page: Page, bench: Bench) -> None:
    for setup, typed in (("A", "10:00"), ("B", "5:00")):
        bench.run(setup, typed)
    fields = {"kind": "bar", "task_id": bench.tasks["Parade"], "seconds": 1.0}
    card = cards.add_card(bench.database, bench.slug, fields).card.id
    page.goto(f"/s/{bench.slug}/publish?view=cards")
    page.get_by_label("clear", exact=True).check()
    film = page.get_by_label("As a film")
    # What has no clear background is not offered with one.
    kinds = film.get_by_label("File").locator("option").all_inner_texts()
    assert len(kinds) == 4
    assert not any("MP4" in kind for kind in kinds)
    film.get_by_label("File").select_option("webm")
    expect(film.get_by_label("Seconds")).to_have_value("1")
    film.get_by_label("Rest at end").fill("0,4")
    film.get_by_role("button", name="Play it here").click()
    video = page.locator("video")
    expect(video).to_be_visible()
    # The same frames as the file, at half the size; every moment can be sought.
    video.evaluate("each => { each.pause(); each.currentTime = 0.52 }")
    page.wait_for_function("() => !document.querySelector('video').seeking")
    facts = video.evaluate("each => [each.videoWidth, each.duration, each.currentTime]")
    assert facts == [960, 1, 0.52]
    made = clips.preview(bench.database, bench.slug, card, ASKED)
    with av.open(io.BytesIO(made), "r") as opened:
        assert len(list(opened.decode(video=0))) == 25
    film.get_by_role("button", name="Make film").click()
    with page.expect_download() as saved:
        film.get_by_role("link", name="Save film").click()
    assert saved.value.suggested_filename == "bar-card-parade-wide-clear.webm"
    with av.open(str(saved.value.path()), "r") as opened:
        stream = opened.streams.video[0]
        assert (stream.width, stream.height, stream.average_rate) == (1920, 1080, 25)
    film.get_by_label("Rest at end").fill("soon")
    expect(film.get_by_role("button", name="Make film")).to_be_disabled()
    expect(film.get_by_text("Give both lengths as seconds, such as 8.")).to_be_visible()
    page.get_by_role("button", name="Show the still").click()
    expect(video).to_have_count(0)
    page.get_by_role("link", name="Shot list").click()
    expect(page.get_by_label("Shot list").get_by_role("listitem")).to_have_count(1)


def test_a_stream_shows_the_race_until_its_link_is_turned_off(
    page: Page, bench: Bench, browser: Browser, context: BrowserContext
) -> None:
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_role("button", name="Ready the timer").click()
    page.get_by_text("Show the race in a recording or stream").click()
    page.get_by_role("button", name="Make a link").click()
    links = page.get_by_label("Links to the race")
    address = links.get_by_role("link").get_attribute("href")
    assert address is not None
    # A program that records has nobody's session.
    elsewhere = browser.new_context()
    stream = elsewhere.new_page()
    stream.goto(address)
    row = stream.get_by_label("Race").get_by_role("listitem")
    expect(row).to_contain_text("ready")
    page.keyboard.press("Space")
    expect(row.locator(".time")).to_have_text(re.compile(r"^0:0[1-9]\.\d$"))
    page.keyboard.press("1")
    comes_to(lambda: len(stored(bench)), 1)
    shown = page.get_by_role("timer").inner_text()
    expect(row.locator(".time")).to_have_text(re.compile(rf"^{shown[:4]}"))
    expect(row).to_have_class("first")
    links.get_by_role("button", name=re.compile("^Turn off")).click()
    expect(stream.get_by_role("status")).to_have_text("This link was turned off.")
    assert stream.goto(address).status == 404  # type: ignore[union-attr]
    elsewhere.close()
    assert context.pages
