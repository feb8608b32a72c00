"""A body is read once it is known who sends it, as far as it may be long, and off the loop."""

from __future__ import annotations

import json
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from tests.app.accounts import account
from tests.desk.helpers import Bench, new_bench
from true_margin.app import bodies
from true_margin.app.access import Access
from true_margin.app.bodies import IMPORTS, MOST_BODY, parse_json, parse_large
from true_margin.app.main import make_app
from true_margin.core.errors import CoreError
from true_margin.store.database import Database

API = "/api/v1"
JSON = {"content-type": "application/json"}


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    return new_bench(database, "Bodies")


@pytest.fixture(scope="module")
def client(database: Database) -> Iterator[TestClient]:
    access = Access(sign_in=True, names=frozenset({"testserver"}))
    with TestClient(make_app(Database(database.url), access=access)) as client:
        yield client


def cookie(database: Database, role: str, bench: Bench) -> dict[str, str]:
    return {"Cookie": f"tm_person={account(database, role, bench.slug).token}", **JSON}


def test_nobody_s_body_is_parsed_before_it_is_known_what_they_may(
    client: TestClient, bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    path, broken = f"{API}/shootouts/{bench.slug}/machines", b"{" * 1000
    reader = cookie(bench.database, "reader", bench)
    editor = cookie(bench.database, "editor", bench)
    assert client.post(path, content=broken, headers=editor).status_code == 422
    parsed: list[bytes] = []
    monkeypatch.setattr(bodies, "parse_json", parsed.append)
    assert client.post(path, content=broken, headers=reader).status_code == 403
    assert client.post(path, content=broken, headers=JSON).status_code == 401
    assert parsed == []


def test_a_body_may_be_as_long_as_what_it_does_needs(client: TestClient, bench: Bench) -> None:
    editor = cookie(bench.database, "editor", bench)
    at = f"{API}/shootouts/{bench.slug}"
    large = json.dumps({"name": "x" * (MOST_BODY + 1)}).encode()
    answer = client.post(f"{at}/machines", content=large, headers=editor)
    assert (answer.status_code, answer.json()["type"]) == (413, "/problems/too-large")
    assert "Nothing was stored" in answer.json()["detail"]

    def unsaid() -> Iterator[bytes]:
        for _ in range(MOST_BODY // 50_000 + 2):
            yield b"x" * 50_000

    assert client.post(f"{at}/machines", content=unsaid(), headers=editor).status_code == 413
    # Nor by saying that it is a form.
    form = {**editor, "content-type": "multipart/form-data; boundary=x"}
    assert client.post(f"{at}/machines", content=large, headers=form).status_code == 413
    table = "setup,task,value\n" + ("Halyard L,Parade,6:17" + " " * 60 + "\n") * 15_000
    body = json.dumps({"text": table}).encode()
    assert len(body) > MOST_BODY
    answer = client.post(f"{at}/imports/preview", content=body, headers=editor)
    assert answer.status_code == 200
    assert answer.json()["rows_total"] == 15_000


def test_a_large_body_of_nothing_but_brackets_is_refused(client: TestClient, bench: Bench) -> None:
    editor = cookie(bench.database, "editor", bench)
    path = f"{API}/shootouts/{bench.slug}/imports/preview"
    for nested in (b'{"text": [' + b"[]," * 700_000 + b"[]]}", b"[" * 200_000, b'{"a":' * 100_000):
        answer = client.post(path, content=nested, headers=editor)
        assert answer.status_code == 422, answer.text[:200]


def test_whatever_is_wrong_with_json_is_an_error_of_json() -> None:
    for wrong in (b"{", b"[" * 100_000, b"1" * 5000, b"\xff\xfe\x00"):
        with pytest.raises(json.JSONDecodeError):
            parse_json(wrong)
        with pytest.raises(CoreError):
            parse_large(wrong)
    assert parse_large(b'{"a": [1, {"b": 2}]}') == {"a": [1, {"b": 2}]}


def test_every_route_that_takes_a_whole_table_is_one_of_the_app() -> None:
    app = make_app(Database("postgresql://nobody@127.0.0.1:1/none"))
    assert {getattr(route, "path", "") for route in app.router.routes} >= IMPORTS
