"""The web folder: plain files that lead to each other and nowhere else, and say what Picks says."""

from __future__ import annotations

import io
import re
import zipfile
from dataclasses import replace
from datetime import date
from html import unescape
from pathlib import Path, PurePosixPath
from xml.etree import ElementTree

import pytest

from tests.desk.helpers import Bench, priced_bench
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.picks import viewers
from true_margin.desk.picks.picks import show_pick
from true_margin.desk.publish import editions, script
from true_margin.desk.publish.answer_pages import Answer, answer_for, say_hours
from true_margin.desk.publish.folder_files import (
    LIST,
    Asked,
    check_address,
    folder_files,
    write_folder,
    zip_folder,
)
from true_margin.desk.publish.owned_machines import Owned, kinds_of, owned_machines
from true_margin.store import records
from true_margin.store.database import Database
from true_margin.store.records.viewers import Viewer

PRICED = date(2026, 11, 1)
ADDRESS = "https://reviews.example/films/"
_LINK = re.compile(r'(?:href|src)="([^"]*)"|url\("([^"]*)"\)')


@pytest.fixture(scope="module")
def demo_folder(database: Database, demo: records.Shootout) -> dict[str, bytes]:
    editions.publish_edition(database, demo.slug, None, "Marit")
    return dict(folder_files(database, demo.slug, Asked(ADDRESS)))


@pytest.fixture
def bench(database: Database) -> Bench:
    return priced_bench(database, "Folder")


def links_of(page: str) -> list[str]:
    return [unescape(one or other) for one, other in _LINK.findall(page)]


def test_every_link_leads_to_a_file_of_the_folder(demo_folder: dict[str, bytes]) -> None:
    followed = 0
    for path, content in demo_folder.items():
        if not path.endswith((".html", ".css")) or "files/" in path:
            continue
        for link in links_of(content.decode()):
            if link.startswith((ADDRESS, "data:", "#")):
                continue
            assert not re.match(r"[a-z]+:|//|/", link), (path, link)
            file, _, place = link.partition("#")
            target = str(PurePosixPath(path).parent / file) if file else path
            parts: list[str] = []
            for part in PurePosixPath(target).parts:
                parts = parts[:-1] if part == ".." else [*parts, part]
            target = "/".join(parts)
            assert target in demo_folder, (path, link)
            if place:
                assert f'id="{place}"' in demo_folder[target].decode(), (path, link)
            followed += 1
    assert followed > 500


def test_pages_are_small_and_none_has_a_script(demo_folder: dict[str, bytes]) -> None:
    assert len(demo_folder["index.html"]) <= 60_000
    answers = [path for path in demo_folder if path.startswith("have/")]
    assert len(answers) == 8 * 5
    assert max(len(demo_folder[path]) for path in answers) <= 30_000
    for path, content in demo_folder.items():
        if path.endswith(".html") and "files/" not in path:
            scripts = re.findall(r"<script[^>]*>", content.decode())
            assert set(scripts) <= {'<script type="application/ld+json">'}
            assert '<meta name="robots" content="noindex">' in content.decode()


def test_what_the_pages_say_is_what_picks_says(
    database: Database, demo: records.Shootout, demo_folder: dict[str, bytes]
) -> None:
    frozen = editions.show_public(database, demo.slug).editions[0].frozen_slug
    book = SHELF.take(database, frozen)
    for viewer_key, viewer in kinds_of(book):
        picked = viewers.answer(book, viewer).picked
        assert picked is not None
        own = next(each for each in owned_machines(book) if each.label == "Tarn Desk")
        text = demo_folder[f"have/{own.key}/{viewer_key}.html"].decode()
        assert picked.what.split(", ")[0] in text
        for each in owned_machines(book):
            page = demo_folder[f"have/{each.key}/{viewer_key}.html"].decode()
            answer = answer_for(book, each, viewer_key, viewer)
            assert unescape(page).count(answer.order) > 1
            if answer.duo is not None:
                assert f"{answer.duo.own} {answer.duo.own_time}" in unescape(page)


def test_the_feed_and_the_preview_can_be_read(demo_folder: dict[str, bytes]) -> None:
    feed = ElementTree.fromstring(demo_folder["feed.xml"])  # noqa: S314 - our own
    atom = "{http://www.w3.org/2005/Atom}"
    assert [each.text for each in feed.iter(f"{atom}title")][-1] == "Edition 1"
    assert feed.find(f"{atom}link").attrib["href"] == f"{ADDRESS}feed.xml"  # type: ignore[union-attr]
    assert demo_folder["og/index.png"].startswith(b"\x89PNG")
    front = demo_folder["index.html"].decode()
    assert f'<link rel="canonical" href="{ADDRESS}">' in front
    assert f'content="{ADDRESS}og/index.png"' in front
    figures = demo_folder["figures.html"].decode()
    assert f"&lt;a href=&#34;{ADDRESS}&#34;&gt;&lt;img" in figures
    assert f"{ADDRESS}index.html#job-1" in unescape(figures)
    answer = unescape(demo_folder["have/tarn-desk/festival-filmer.html"].decode())
    assert f'<a href="{ADDRESS}have/tarn-desk/festival-filmer.html">All of it</a>' in answer


def test_an_answer_says_what_it_assumes_and_marks_paid_links(bench: Bench) -> None:
    editions.publish_edition(bench.database, bench.slug, None, "Marit")
    files = dict(folder_files(bench.database, bench.slug))
    page = unescape(files["have/a/film-maker.html"].decode())
    for words in (
        "Buy the B",
        "Parade takes 5:00 instead of 10:00.",
        "5:00 less",
        "It gives back 50 minutes a week, 40 hours a year.",
        "Assumed: an hour is worth 20 EUR, half of the waiting counts, 48 working weeks a year",
        "the old machine sells for nothing.",
        'href="https://shop.example/b" rel="sponsored nofollow">A shop</a>',
        "affiliate link",
        "Some links to shops are affiliate links",
    ):
        assert words in page, words
    assert "og:image" not in page
    # Whoever has the faster one already keeps it; whoever has none is told no saving.
    assert "Keep the B" in unescape(files["have/b/film-maker.html"].decode())
    nobody = unescape(files["have/none/film-maker.html"].decode())
    assert "instead of" not in nobody
    assert "It gives back" not in nobody


def test_names_that_run_together_have_pages_of_their_own(bench: Bench) -> None:
    """A machine "A", kind "b c" and a machine "A b", kind "c" are two answers."""
    database, slug = bench.database, bench.slug
    bench.machine("A Film")
    for _ in range(3):
        bench.run("A Film", "7:00", method="log")
    viewer = SHELF.take(database, slug).viewers[0]
    viewers.add_viewer(database, slug, {"name": "Maker", "currency": "EUR"}, viewer.id)
    editions.publish_edition(database, slug, None, "Marit")
    files = dict(folder_files(database, slug))
    pages = [path for path in files if path.startswith("have/")]
    assert len(pages) == len(set(pages)) == 5 * 3
    assert "Film maker: " in files["have/a/film-maker.html"].decode()
    assert "Maker: " in files["have/a-film/maker.html"].decode()


def test_the_folder_is_brought_up_to_date_in_place(bench: Bench, tmp_path: Path) -> None:
    database, slug = bench.database, bench.slug
    with pytest.raises(RefusedError, match="Publish an edition first"):
        write_folder(database, slug, tmp_path)
    editions.publish_edition(database, slug, None, "Marit")
    told: list[float] = []
    first = write_folder(database, slug, tmp_path, step=lambda _words, part: told.append(part))
    assert (first.same, first.removed) == (0, 0)
    assert told == sorted(told)
    assert 0 <= told[0] <= told[-1] <= 1
    own = tmp_path / "have" / "mine.html"
    own.write_text("somebody's own page")
    before = {path: path.read_bytes() for path in tmp_path.rglob("*") if path.is_file()}
    again = write_folder(database, slug, tmp_path)
    assert (again.changed, again.removed) == (0, 0)
    assert {path: path.read_bytes() for path in tmp_path.rglob("*") if path.is_file()} == before
    assert all(path.stat().st_mode & 0o044 == 0o044 for path in before if path.name != "mine.html")
    # Another edition: the first stays, a viewer who has gone is gone, other files are not touched.
    viewer = SHELF.take(database, slug).viewers[0]
    viewers.change_viewer(database, viewer.id, viewer.version, {"name": "Somebody else"})
    editions.publish_edition(database, slug, "Renamed.", "Marit")
    third = write_folder(database, slug, tmp_path)
    assert third.removed == 4
    assert not (tmp_path / "have/a/film-maker.html").exists()
    assert (tmp_path / "have/a/somebody-else.html").exists()
    assert own.read_text() == "somebody's own page"
    old = (tmp_path / "edition-1/index.html").read_text()
    assert '<a href="../index.html">see the newest</a>' in old
    assert 'href="edition-1/index.html"' in (tmp_path / "index.html").read_text()
    kept = (tmp_path / "edition-1/index.html").stat().st_mtime_ns
    write_folder(database, slug, tmp_path)
    assert (tmp_path / "edition-1/index.html").stat().st_mtime_ns == kept


def test_many_editions_do_not_make_the_page_long(bench: Bench) -> None:
    for number in range(1, 9):
        editions.publish_edition(bench.database, bench.slug, f"Note {number}.", "Marit")
    page = dict(folder_files(bench.database, bench.slug, Asked(ADDRESS)))["index.html"].decode()
    folds = page.partition('<h2 id="editions">')[2]
    # Five are told with their notes, what is older is a list of links in one fold.
    assert re.findall(r"Note (\d)\.", folds) == ["8", "7", "6", "5", "4"]
    earlier = folds.partition("<b>Earlier editions</b><span>3</span>")[2]
    assert re.findall(r">Edition (\d)</a>", earlier) == ["3", "2", "1"]
    assert "edition-1/index.html" in earlier


def test_a_list_that_points_outside_removes_nothing(bench: Bench, tmp_path: Path) -> None:
    editions.publish_edition(bench.database, bench.slug, None, "Marit")
    outside = tmp_path / "keep.txt"
    outside.write_text("mine")
    folder = tmp_path / "site"
    write_folder(bench.database, bench.slug, folder)
    (folder / LIST).write_text("../keep.txt\n/etc/hostname\n")
    assert write_folder(bench.database, bench.slug, folder).removed == 0
    assert outside.read_text() == "mine"
    blocked = tmp_path / "blocked"
    blocked.write_text("a file")
    with pytest.raises(RefusedError, match="cannot be written"):
        write_folder(bench.database, bench.slug, blocked)


def test_the_zip_holds_the_same_and_no_script_of_the_reviewer(bench: Bench) -> None:
    script.keep_script(bench.database, bench.slug, "My SECRET draft about B.", 0)
    editions.publish_edition(bench.database, bench.slug, None, "SECRET-PERSON")
    listed = Asked(ADDRESS.rstrip("/"), listed=True)
    with zipfile.ZipFile(io.BytesIO(zip_folder(bench.database, bench.slug, listed))) as archive:
        names = archive.namelist()
        everything = b"".join(archive.read(name) for name in names)
        front = archive.read("index.html").decode()
    assert set(names) == set(dict(folder_files(bench.database, bench.slug)))
    assert b"SECRET" not in everything
    assert "noindex" not in front


@pytest.mark.parametrize(
    "address", ["films", "javascript:alert(1)", 'https://x/"onload=', "ftp://x/"]
)
def test_an_address_must_be_one(address: str) -> None:
    with pytest.raises(RefusedError, match="Type an address"):
        check_address(address)
    assert check_address("  https://x.example/a ") == "https://x.example/a/"
    assert check_address("") == ""


def test_an_answer_says_from_which_week_on_it_is_another(bench: Bench) -> None:
    book = SHELF.take(bench.database, bench.slug)
    key, viewer = kinds_of(book)[0]
    own = next(each for each in owned_machines(book) if each.label == "A")
    changes = answer_for(book, own, key, viewer).changes
    told = [line for line in changes if line.startswith("With ")]
    assert told == ["With half of this work a week: keep A."]
    for factor, keep in ((1.0, False), (0.5, True)):
        week = tuple(replace(part, amount=part.amount * factor) for part in viewer.tasks)
        picked = show_pick(book, replace(viewer, tasks=week)).picked
        assert picked is not None
        assert picked.keep is keep
    fastest = replace(viewer, rule="fastest")
    assert not any("a week:" in line for line in _other_answer(book, own, fastest).changes)


def _other_answer(book: Book, own: Owned, viewer: Viewer) -> Answer:
    return answer_for(book, own, "another kind", viewer)


@pytest.mark.parametrize(
    ("hours", "words"),
    [
        (0.0, "0 seconds"),
        (1 / 3600, "1 second"),
        (10 / 3600, "10 seconds"),
        (90 / 3600, "2 minutes"),
        (0.5, "30 minutes"),
        (1.6, "1.6 hours"),
        (33.0, "33 hours"),
    ],
)
def test_a_length_of_time_is_said_in_a_unit_that_does_not_stretch_it(
    hours: float, words: str
) -> None:
    assert say_hours(hours) == words
