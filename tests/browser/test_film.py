"""Times that are read off a film, frame by frame, by keys and by hand."""

from __future__ import annotations

import re
from fractions import Fraction
from pathlib import Path
from random import Random

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import comes_to, stored
from tests.browser.films import READ, steady, unsteady, write_film
from tests.desk.helpers import Bench
from true_margin.desk.runs import runs

FRAMES, MARKS = 400, 40
FILMS = {
    "23.976 a second": (steady(Fraction(24_000, 1001), FRAMES), "libx264", "film.mp4"),
    "29.97 a second": (steady(Fraction(30_000, 1001), FRAMES), "libvpx-vp9", "film.webm"),
    "50 a second": (steady(Fraction(50), FRAMES), "libx264", "film.mov"),
    "60 a second": (steady(Fraction(60), FRAMES), "libx264", "film.mkv"),
    "as things change": (unsteady(FRAMES), "libx264", "film.mp4"),
}


def open_film(page: Page, bench: Bench, path: Path) -> None:
    page.goto(f"/s/{bench.slug}/bench")
    page.get_by_role("link", name="Read times off a film").click()
    page.get_by_label("Choose a film").set_input_files(path)
    expect(page.get_by_text("frame 1 of 400")).to_be_visible()


def told_s(page: Page) -> float:
    """The moment that the page says the shown frame is at."""
    text = page.get_by_role("status").filter(has_text=" of 400").inner_text()
    minutes, seconds = re.findall(r"(\d+):(\d+\.\d+)", text)[0]
    return 60 * int(minutes) + float(seconds)


def go(page: Page, frame: int) -> None:
    """Draw the scale to a frame, and wait until it is shown."""
    page.get_by_label("Frame of the film").fill(str(frame))
    expect(page.get_by_text(f"frame {frame + 1} of 400")).to_be_visible()


@pytest.mark.parametrize("kind", FILMS)
def test_no_mark_is_off_by_more_than_half_a_frame(
    page: Page, bench: Bench, tmp_path: Path, kind: str
) -> None:
    times, codec, name = FILMS[kind]
    write_film(tmp_path / name, times, codec)
    open_film(page, bench, tmp_path / name)
    rng = Random(1)
    shown = page.get_by_role("img", name=name)
    ends = sorted(rng.sample(range(1, FRAMES), MARKS))
    for frame in ends:
        go(page, frame)
        comes_to(lambda: shown.evaluate(READ), frame)
        nearest = (
            min(times[frame + 1] - times[frame], times[frame] - times[frame - 1])
            if (frame + 1 < FRAMES)
            else times[frame] - times[frame - 1]
        )
        assert abs(told_s(page) - float(times[frame])) <= float(nearest) / 2, frame
    # Both ends by keys, a mark in between, and into the book.
    first, middle, last = ends[0], ends[MARKS // 2], ends[-1]
    go(page, first)
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("s")
    go(page, middle)
    page.get_by_label("Per cent done at this frame").fill("40")
    page.keyboard.press("Enter")
    go(page, last)
    page.get_by_role("button", name="Done here").click()
    page.get_by_role("button", name="Store this run").click()
    expect(page.get_by_text("Saved, as read off a film.")).to_be_visible()
    comes_to(lambda: len(stored(bench)), 1)
    (run,) = stored(bench)
    assert runs.show_run(bench.database, run.id).pictures == (), "nothing is sent unasked"
    page.get_by_role("button", name="Keep its stills as proof").click()
    expect(page.get_by_text("3 stills kept with it.")).to_be_visible()
    pictures = runs.show_run(bench.database, run.id).pictures
    assert [each.name.rpartition("frame ")[2] for each in pictures] == [
        f"{first + 1}, begins.jpg",
        f"{middle + 1}, 40 per cent.jpg",
        f"{last + 1}, done.jpg",
    ]
    frame_s = float(times[last] - times[last - 1])
    assert run.method == "recording"
    assert run.value == pytest.approx(
        float(times[last] - times[first]), abs=max(frame_s, 0.008) / 2
    )
    assert run.note == f"{name}, frames {first + 1} to {last + 1}"
    comes_to(lambda: len(runs.show_run(bench.database, run.id).marks), 1)
    (mark,) = runs.show_run(bench.database, run.id).marks
    assert mark.elapsed_s == pytest.approx(float(times[middle] - times[first]), abs=0.02)


def test_two_machines_in_one_film_by_keys_alone(page: Page, bench: Bench, tmp_path: Path) -> None:
    write_film(tmp_path / "two.mp4", steady(Fraction(25), FRAMES), "libx264")
    open_film(page, bench, tmp_path / "two.mp4")
    page.get_by_role("button", name="Another machine in this film").press("Enter")
    page.get_by_role("heading", level=1).click()
    steps = {"1": (25, 200), "2": (50, 300)}
    for digit, (start, end) in steps.items():
        page.keyboard.press(digit)
        page.keyboard.press("Home")
        for _ in range(start // 10):
            page.keyboard.press("Shift+ArrowRight")
        for _ in range(start % 10):
            page.keyboard.press("ArrowRight")
        expect(page.get_by_text(f"frame {start + 1} of 400")).to_be_visible()
        page.keyboard.press("s")
        for _ in range((end - start) // 10):
            page.keyboard.press("Shift+ArrowRight")
        for _ in range((end - start) % 10):
            page.keyboard.press("ArrowRight")
        expect(page.get_by_text(f"frame {end + 1} of 400")).to_be_visible()
        page.keyboard.press("e")
    for store in page.get_by_role("button", name="Store this run").all():
        expect(store).to_be_visible()
    page.get_by_role("button", name="Store this run").first.press("Enter")
    page.get_by_role("button", name="Store this run").first.press("Enter")
    comes_to(lambda: sorted(run.value or 0 for run in stored(bench)), [7.0, 10.0])
    assert len({run.setup_id for run in stored(bench)}) == 2


def test_what_is_no_film_is_said(page: Page, bench: Bench, tmp_path: Path) -> None:
    (tmp_path / "notes.mp4").write_bytes(b"no film at all" * 100)
    page.goto(f"/s/{bench.slug}/bench?view=film")
    page.get_by_label("Choose a film").set_input_files(tmp_path / "notes.mp4")
    expect(page.get_by_role("alert")).to_contain_text("notes.mp4 is no film")
