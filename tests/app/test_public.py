"""What strangers and downloads meet over the wire."""

from __future__ import annotations

import io
import re
import zipfile

import opentimelineio as otio
import pytest
from fastapi.testclient import TestClient

from tests.desk.helpers import Bench, done, new_bench
from true_margin.app.main import make_app
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.publish import cards, editions
from true_margin.desk.publish.page_data import page_data
from true_margin.store import records
from true_margin.store.database import Database

API = "/api/v1"


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    return TestClient(make_app(database))


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    bench = new_bench(database, '=Over the wire, "quoted"')
    for typed in ("6:10", "6:12", "6:11"):
        bench.run("A", typed)
    bench.run("B", "9:02")
    cards.add_card(database, bench.slug, {"kind": "bar", "task_id": bench.tasks["Parade"]})
    cards.add_card(database, bench.slug, {"kind": "rule", "seconds": 7.5})
    return bench


@pytest.fixture(scope="module")
def secret(bench: Bench) -> str:
    view = editions.publish_edition(bench.database, bench.slug, "<b>Bold</b>", "Marit")
    return view.links[0].token


def test_a_public_page_needs_no_script_and_lets_nothing_in(client: TestClient, secret: str) -> None:
    page = client.get(f"/p/{secret}")
    assert page.status_code == 200
    assert page.headers["content-type"] == "text/html; charset=utf-8"
    policy = page.headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "script-src" not in policy
    assert page.headers["x-robots-tag"].startswith("noindex")
    assert page.headers["referrer-policy"] == "no-referrer"
    scripts = re.findall(r"<script[^>]*>", page.text)
    assert scripts == ['<script type="application/ld+json">']
    assert "&lt;b&gt;Bold" in page.text
    assert "<b>Bold" not in page.text
    assert len(page.content) < 400_000


def test_the_page_gives_its_answer_first_and_its_figures_folded(
    client: TestClient, database: Database, demo: records.Shootout
) -> None:
    link = editions.publish_edition(database, demo.slug, "", "Marit").links[0].token
    text = client.get(f"/p/{link}").text
    order = [
        "I have",
        '<ul class="board" id="answers">',
        '<span class="order">Buy the Cairn Brick',
        '<span class="order">Keep the Tarn Desk',
        'id="ladders"',
        "share first place, about 2.5 times as fast as Tarn Desk.</b>",
        '<ol class="bars" style="--step: ',
        'id="doubts"',
        'id="specs"',
        'id="method"',
        'id="files"',
        'id="yours"',
    ]
    places = [text.index(words) for words in order]
    assert places == sorted(places)
    # A note that concerns several rankings stands once, and tables have pages of their own.
    assert text.count("↻ Estimated from") == len(set(re.findall("↻ Estimated from[^<]*", text)))
    # Figures are folded away, as bars; only how editing felt is a table.
    assert set(re.findall("<table[^>]*>", text)) == {'<table class="feel">'}
    assert len(client.get(f"/p/{link}/1/figures.html").text.split("<table")) > 10
    answer = client.get(f"/p/{link}/1/have/tarn-desk/festival-filmer.html").text
    for words in ("Buy the Cairn Brick", "10:57", "4:45 less", "Assumed: an hour is worth 22"):
        assert words in answer


def test_bars_are_as_long_as_what_they_show(database: Database, demo: records.Shootout) -> None:
    page = page_data(SHELF.take(database, demo.slug))
    mix, parade = page.ladders[:2]
    assert mix.bars.shown == "Speed compared with Tarn Desk; longer is better."
    assert parade.bars.shown.startswith("Time for one run; shorter is better")
    # 3:56 of 10:57.
    first, last = parade.bars.rows[0], parade.bars.rows[-1]
    assert (first.value, last.value) == ("3:56", "10:57")
    assert first.share / last.share == pytest.approx(236 / 657, abs=0.002)
    assert (first.leads, last.leads) == (True, False)
    assert [each.order for each in page.answers][:2] == [
        "Buy the Cairn Brick, 940 EUR",
        "Keep the Tarn Desk",
    ]


def test_a_public_page_is_kept_and_asked_for_again(client: TestClient, secret: str) -> None:
    first = client.get(f"/p/{secret}/1")
    assert first.headers["cache-control"] == "public, no-cache"
    again = client.get(f"/p/{secret}/1", headers={"if-none-match": first.headers["etag"]})
    assert (again.status_code, again.content) == (304, b"")
    other = client.get(f"/p/{secret}/1?work0=30", headers={"if-none-match": first.headers["etag"]})
    assert other.status_code == 200


@pytest.mark.parametrize(
    "path",
    [
        "/p/nothing",
        "/p/{t}/2",
        "/p/{t}/x",
        "/p/{t}/-1",
        "/p/{t}/99999999999999999999",
        "/p/{t}/1/files/nothing",
        "/p/{t}/x/files/results.csv",
        "/p/{t}/1/files/%2e%2e%2fstyle.css",
        "/p/{t}/1/have/nothing.html",
        "/p/{t}/1/have/%2e%2e/index.html",
        "/p/{t}/1/site/site.css",
        "/p/{t}/1/fonts/nothing.ttf",
        "/p/{t}/x/runs.html",
        "/p/fonts/nothing.ttf",
        "/p/{t}x",
    ],
)
def test_what_is_not_there_says_the_same_everywhere(
    client: TestClient, secret: str, path: str
) -> None:
    answer = client.get(path.replace("{t}", secret))
    assert answer.status_code == 404
    assert "This page is gone or was never here" in answer.text
    assert answer.headers["cache-control"] == "no-store"


@pytest.mark.parametrize("path", ["", "/1", "/1/site.css"])
def test_an_address_with_a_slash_at_its_end_leads_to_the_page(
    client: TestClient, secret: str, path: str
) -> None:
    asked = client.get(f"/p/{secret}{path}/?value=12", follow_redirects=False)
    assert asked.status_code == 308
    assert asked.headers["location"] == f"/p/{secret}{path}?value=12"
    assert client.get(f"/p/{secret}{path}/").status_code == 200


@pytest.mark.parametrize("path", ["/p/", "/p//", "/p/\\elsewhere.example/", "/p/../"])
def test_a_slash_leads_nobody_elsewhere(client: TestClient, path: str) -> None:
    answer = client.get(path, follow_redirects=False)
    there = answer.headers.get("location", "/p/")
    assert there.startswith("/p/") or answer.status_code != 308
    assert "//" not in there


def test_every_file_that_a_page_offers_is_there(client: TestClient, secret: str) -> None:
    page = client.get(f"/p/{secret}/1").text
    offered = sorted(set(re.findall(r'(?:href|src)="(/p/[^"#]+)"', page)))
    assert len(offered) > 12
    for path in offered:
        answer = client.get(path)
        assert answer.status_code == 200, path
        assert answer.content, path


def test_pictures_tables_and_texts_are_given(client: TestClient, bench: Bench) -> None:
    base = f"{API}/shootouts/{bench.slug}"
    (bar, _) = client.get(f"{base}/cards").json()
    png = client.get(f"{base}/cards/{bar['card']['id']}/tall-night.png?save=true")
    assert png.headers["content-type"] == "image/png"
    assert "attachment" in png.headers["content-disposition"]
    svg = client.get(f"{base}/cards/{bar['card']['id']}/square-clear.svg")
    assert svg.text.startswith("<svg")
    assert client.get(f"{base}/cards/{bar['card']['id']}/round-day.svg").status_code == 422
    table = client.get(f"{base}/tables/results.csv")
    assert table.headers["content-type"].startswith("text/csv")
    assert table.text.startswith("Task,Setup,Typical")
    assert client.get(f"{base}/tables/secrets.csv").status_code == 422
    texts = client.get(f"{base}/texts").json()
    assert texts["chapters"].splitlines() == ["0:00 Parade", "0:06 All tasks, equal mix of 1"]
    assert "4 runs of 1 task counted" in texts["description"]


def test_cards_drop_into_an_edit(client: TestClient, bench: Bench) -> None:
    base = f"{API}/shootouts/{bench.slug}"
    answer = client.get(f"{base}/card-timeline.zip?shape=wide&look=clear&rate=29.97")
    with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
        names = archive.namelist()
        timeline = otio.adapters.read_from_string(archive.read("cards.otio").decode(), "otio_json")
        lines = archive.read("lines.vtt").decode()
    clips = list(timeline.find_clips())
    assert [clip.name for clip in clips] == ["Parade", "All tasks, equal mix of 1"]
    for clip in clips:
        assert clip.media_reference.target_url in names
    assert [clip.source_range.duration.value for clip in clips] == [180, 225]
    assert lines.startswith("WEBVTT\n\n00:00:00.000 --> 00:00:06.006\nA is 46 % faster than B.")
    assert "00:00:06.006 --> 00:00:13.514" in lines
    assert client.get(f"{base}/card-timeline.zip?rate=0").status_code == 422


def test_a_pack_is_shown_before_it_is_taken(client: TestClient, bench: Bench) -> None:
    base = f"{API}/shootouts/{bench.slug}"
    content = client.get(f"{base}/pack").content
    file = {"file": ("x.zip", content, "application/zip")}
    preview = client.post(f"{API}/packs/preview", files=file).json()
    assert (preview["slug"], preview["takes"]) == (bench.slug, [])
    stale = done(bench.database, client.post(f"{base}/pack?revision=1", files=file).json()["id"])
    assert stale.problem is not None
    assert (stale.state, stale.problem.kind) == ("failed", "stale")
    asked = client.post(f"{base}/pack?revision={preview['revision']}", files=file)
    assert asked.status_code == 202
    assert done(bench.database, asked.json()["id"]).slug == bench.slug
    broken = client.post(
        f"{API}/packs/preview", files={"file": ("x.zip", b"no", "application/zip")}
    )
    assert (broken.status_code, broken.json()["field"]) == (422, "file")
