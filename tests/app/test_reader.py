"""Numbers and days are written as whoever reads them does, everywhere but in what is given away."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

import pytest
from fastapi.testclient import TestClient

from true_margin.app.main import make_app
from true_margin.app.reader import LocaleDays, numerals_of
from true_margin.core.numerals import PLAIN, Numerals
from true_margin.desk.book.derived import MOST_LANGUAGES
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.publish import editions
from true_margin.store import records
from true_margin.store.database import Database

API = "/api/v1"
GERMAN = {"Accept-Language": "de-DE,de;q=0.9,en;q=0.8"}
FRENCH = {"Accept-Language": "fr"}
BRITISH = {"Accept-Language": "en-GB"}
DATA = re.compile(
    r"\.(amount|extras|price|stored|lo|hi|budget|resale|hour_value|energy_price|energy_cost|"
    r"tax_percent|per_eur|\w+_at|at|version|since_version|typed|specs\.\w+|text)$"
)
"""Values as they are kept or as they were typed; the pages write them."""
MADE_FOR_ALL = re.compile(r"/(cards|texts|script|shots|health|shootouts|people|me|signed-in)\?")
"""Written for everybody, or not about one shootout."""


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    return TestClient(make_app(database))


def addresses(client: TestClient, database: Database, slug: str) -> Iterator[str]:
    """All views of the demo, each with everything in it that can be asked for."""
    book = SHELF.take(database, slug)
    setups = [setup.id for setup in book.setups]
    known: dict[str, Any] = {
        "slug": slug,
        "task_id": book.tasks[0].id,
        "setup_id": setups[1],
        "viewer_id": book.viewers[0].id,
        "run_id": book.runs[0].id,
        "timeline_id": book.timelines[0].id,
        "task": book.tasks[0].id,
        "setup": setups[0],
        "a": setups[0],
        "b": setups[1],
        "minutes": 30,
        "difference": 0.05,
        "on": "2031-10-01",
        "q": "halyard",
    }
    for path, methods in client.get(f"{API}/openapi.json").json()["paths"].items():
        facts = methods.get("get", {"responses": {"200": {}}})
        named = re.findall(r"{(\w+)}", path)
        json_only = "application/json" in facts["responses"]["200"].get("content", {})
        if not json_only or path.endswith("/ready") or not set(named) <= set(known):
            continue
        asked = [p["name"] for p in facts.get("parameters", ()) if p["in"] == "query"]
        whole = {name: known[name] for name in asked if name in known}
        for query in (whole, {k: v for k, v in whole.items() if k != "task"}):
            yield path.format(**known) + "?" + "&".join(f"{k}={v}" for k, v in query.items())


def texts(value: Any, where: str = "") -> Iterator[tuple[str, str]]:
    """Every text in an answer, with where it stands."""
    if isinstance(value, str):
        yield where, value
    elif isinstance(value, dict):
        for key, each in value.items():
            yield from texts(each, f"{where}.{key}")
    elif isinstance(value, list):
        for each in value:
            yield from texts(each, where)


def versions(client: TestClient, slug: str) -> re.Pattern[str]:
    """Numbers in the demo that are names: versions of apps, of systems, of drivers."""
    rounds = client.get(f"{API}/shootouts/{slug}/rounds").json()
    found = {each["version"] for one in rounds for each in one["versions"]}
    found = {version for version in found if "." in version}
    for column in client.get(f"{API}/shootouts/{slug}/lineup").json()["columns"]:
        for field in ("system", "driver"):
            found |= {cell["text"] for cell in column["cells"].get(field, ())} - {""}
    return re.compile("|".join(sorted(map(re.escape, found), key=len, reverse=True)))


def test_no_view_writes_a_point_for_somebody_who_writes_a_comma(
    client: TestClient, database: Database, demo: records.Shootout
) -> None:
    names, commas, left = versions(client, demo.slug), 0, []
    for address in set(addresses(client, database, demo.slug)):
        answer = client.get(address, headers=GERMAN)
        if answer.status_code == 422 or MADE_FOR_ALL.search(address):
            continue
        assert answer.status_code == 200, (address, answer.text)
        for where, text in texts(answer.json()):
            grouped = re.sub(r"\d{1,3}(\.\d{3})+(?![.\d])", "", names.sub("", text))
            commas += len(re.findall(r"\d,\d", grouped))
            if re.search(r"\d\.\d", grouped) and not DATA.search(where):
                left.append(f"{address} {where}: {text}")
    assert left == []
    assert commas > 200


def test_readers_of_two_languages_do_not_get_each_others_numbers(
    client: TestClient, demo: records.Shootout
) -> None:
    ladder = f"{API}/shootouts/{demo.slug}/margins"
    picks = f"{API}/shootouts/{demo.slug}/picks"
    seen: dict[str, tuple[str, str]] = {}
    for _ in range(2):
        for language in ("de", "fr", "en-GB", "en-US"):
            asked = {"Accept-Language": language}
            now = (client.get(ladder, headers=asked).text, client.get(picks, headers=asked).text)
            assert seen.setdefault(language, now) == now
    assert "over 1.500 EUR" not in seen["en-GB"][1]
    assert "1.500 EUR" in seen["de"][1]
    assert "1\u202f500 EUR" in seen["fr"][1]
    assert "1,500 EUR" in seen["en-US"][1]
    plain = client.get(picks).text
    assert "1\u00a0500 EUR" in plain


def test_many_languages_do_not_fill_the_memory(
    client: TestClient, database: Database, demo: records.Shootout
) -> None:
    for language in ("de", "fr", "en", "sv", "pl", "es", "it", "nl", "da", "fi", "cs", "pt"):
        address = f"{API}/shootouts/{demo.slug}/margins"
        assert client.get(address, headers={"Accept-Language": language}).status_code == 200
    assert len(SHELF.take(database, demo.slug).results.answers) <= MOST_LANGUAGES


def test_what_is_given_away_is_the_same_for_everybody(
    client: TestClient, demo: records.Shootout
) -> None:
    home = f"{API}/shootouts/{demo.slug}"
    for path in ("/texts", "/tables/results.csv", "/tables/prices.md", "/card-timeline.zip"):
        plain, german = client.get(home + path), client.get(home + path, headers=GERMAN)
        assert plain.status_code == 200, path
        if path.endswith(".zip"):  # its entries carry the time
            assert abs(len(german.content) - len(plain.content)) < 20
        else:
            assert german.content == plain.content, path


def test_a_card_is_written_as_its_maker_writes(client: TestClient, demo: records.Shootout) -> None:
    home = f"{API}/shootouts/{demo.slug}/cards"
    plain, german = client.get(home).json(), client.get(home, headers=GERMAN).json()
    ratios = [re.findall(r"\d(.)\d\d× ", card["alt"]) for card in (*plain, *german)]
    assert {sign for signs in ratios[: len(plain)] for sign in signs} == {"."}
    assert {sign for signs in ratios[len(plain) :] for sign in signs} == {","}
    drawn = f"{home}/{plain[0]['card']['id']}/wide-night.svg"
    assert client.get(drawn).text != client.get(drawn, headers=GERMAN).text


def test_a_line_to_say_holds_as_it_is_written_for_its_reader(
    client: TestClient, demo: records.Shootout
) -> None:
    home = f"{API}/shootouts/{demo.slug}/script"
    offered = client.get(home, headers=GERMAN).json()["true"]
    lines = [line["text"] for line in offered]
    assert any(re.search(r"\d,\d", line) for line in lines)
    checked = client.post(f"{home}/check", json={"text": "\n".join(lines)}, headers=GERMAN).json()
    assert [(each["text"], each["verdict"]) for each in checked["claims"]] == [
        (line["text"], line["verdict"]) for line in offered
    ]


def test_a_cell_that_was_shown_reads_back_as_what_it_was(
    client: TestClient, demo: records.Shootout
) -> None:
    """What stands in a field of the sheet is what is sent when somebody presses Enter there."""
    lineup = client.get(f"{API}/shootouts/{demo.slug}/lineup", headers=GERMAN).json()
    column = lineup["columns"][0]
    shown = column["cells"]["clock_ghz"][0]["text"]
    assert re.fullmatch(r"\d,\d+", shown)
    stored = column["machine"]["specs"]["clock_ghz"]
    told = client.patch(
        f"{API}/machines/{column['machine']['id']}",
        headers=GERMAN,
        json={"version": column["machine"]["version"], "specs": {"clock_ghz": shown}},
    )
    assert told.status_code == 200, told.text
    assert told.json()["specs"]["clock_ghz"] == stored


def test_a_public_page_is_written_for_whoever_reads_it(
    client: TestClient, database: Database, demo: records.Shootout
) -> None:
    token = editions.publish_edition(database, demo.slug, None, "Marit").links[0].token
    german, plain = client.get(f"/p/{token}", headers=GERMAN), client.get(f"/p/{token}")
    assert german.headers["vary"].startswith("Accept-Language")
    assert german.headers["etag"] != plain.headers["etag"]
    today = datetime.now(UTC)
    assert f"{today:%-d %b %Y}" in plain.text
    assert re.search(rf"{today.day}\. [A-Z][a-zä]+\.? {today.year}", german.text)
    cells = re.findall(r">(\d+[.,]\d\d)×", german.text)
    assert cells
    assert all("," in cell for cell in cells)
    linked = [
        json.loads(re.findall(r'ld\+json">(.*?)</script>', page.text, re.DOTALL)[0])
        for page in (german, plain)
    ]
    assert linked[0] == linked[1]


@pytest.mark.parametrize(
    ("languages", "signs"),
    [
        ("", PLAIN),
        ("*", PLAIN),
        ("tlh-KX, ../../etc;q=2", PLAIN),
        ("de;q=0.1, fr-CA", Numerals(",", "\u00a0", LocaleDays("fr_CA"))),
        ("de-CH", Numerals(".", "’", LocaleDays("de_CH"))),
        ("xx, nl;q=0.5", Numerals(",", ".", LocaleDays("nl"))),
        ("en;q=x, pt-BR;q=0.1", Numerals(",", ".", LocaleDays("pt_BR"))),
        ("de-" + "x" * 5000, Numerals(",", ".", LocaleDays("de"))),
        ("ar", Numerals(".", ",", LocaleDays("ar"))),
    ],
)
def test_languages_that_browsers_and_others_send(languages: str, signs: Numerals) -> None:
    assert numerals_of(languages) == signs
