"""What every answer carries, what is too much, and what a log line tells."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from tests.desk.helpers import Bench, new_bench
from true_margin.app import hardening
from true_margin.app.access import Access
from true_margin.app.hardening import HEADERS, LOG, REQUEST_ID
from true_margin.app.logs import log_requests
from true_margin.app.main import make_app
from true_margin.desk.publish import editions
from true_margin.store.database import Database

API = "/api/v1"


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    return TestClient(make_app(database))


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Hardened")
    bench.run("A", "6:17")
    bench.run("B", "6:40")
    return bench


@pytest.mark.parametrize("path", [f"{API}/health", f"{API}/nowhere", f"{API}/shootouts/none/runs"])
def test_every_answer_tells_browsers_what_it_may_do(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert answer.headers["Cache-Control"] == "no-store"
    for header, value in HEADERS.items():
        assert answer.headers[header] == value
    assert "unsafe-inline" not in HEADERS["Content-Security-Policy"].split("style-src")[0]
    assert len(answer.headers[REQUEST_ID]) == 16
    assert client.get(path).headers[REQUEST_ID] != answer.headers[REQUEST_ID]


def test_what_is_too_much_is_refused_before_it_is_read(
    client: TestClient, bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = f"{API}/shootouts/{bench.slug}/script/check"
    monkeypatch.setattr(hardening, "MOST_BODY", 1000)
    large = {"text": "x" * 2000}
    answer = client.post(path, json=large)
    assert (answer.status_code, answer.json()["type"]) == (413, "/problems/too-large")

    # Nobody has to say how much is coming.
    def pieces() -> Iterator[bytes]:
        for _ in range(20):
            yield b"x" * 100

    answer = client.post(path, content=pieces(), headers={"content-type": "application/json"})
    assert answer.status_code == 413
    monkeypatch.setattr(hardening, "MOST_UPLOAD", 1000)
    file = {"file": ("x.zip", b"y" * 5000, "application/zip")}
    assert client.post(f"{API}/packs", files=file).status_code == 413
    assert client.post(path, json={"text": "short"}).status_code == 200


def test_a_log_line_holds_no_secret_and_nothing_typed(
    client: TestClient, bench: Bench, tmp_path: Path
) -> None:
    before = LOG.handlers, LOG.level, LOG.propagate
    try:
        log_requests(tmp_path)
        (link,) = editions.publish_edition(bench.database, bench.slug, None, "Marit").links
        page = client.get(f"/p/{link.token}/1?work0=TYPED", headers={"cookie": "tm_device=SECRET"})
        client.post(f"{API}/shootouts/{bench.slug}/script/check", json={"text": "TYPED"})
        LOG.handlers[0].flush()
        text = (tmp_path / "log" / "requests.jsonl").read_text()
    finally:
        LOG.handlers[0].close()
        LOG.handlers, LOG.level, LOG.propagate = before
        logging.getLogger("true_margin").setLevel(logging.NOTSET)
    for secret in (link.token, "SECRET", "TYPED"):
        assert secret not in text
    # An app that another test left open in this process writes its lines here as well.
    lines = [json.loads(line) for line in text.splitlines()]
    ours = ("/p/…/1", f"{API}/shootouts/{bench.slug}/script/check")
    first, second = (line for line in lines if line["path"] in ours)
    assert first["path"] == "/p/…/1"
    assert first["request"] == page.headers[REQUEST_ID]
    assert (second["method"], second["status"]) == ("POST", 200)
    assert second["ms"] > 0


def test_metrics_count_by_route_and_are_for_this_machine(client: TestClient) -> None:
    client.get("/api/v1/shootouts/s3cret-name/sheet")
    told = client.get("/metrics")
    assert told.status_code == 200
    assert 'route="/api/v1/shootouts/{slug}/sheet",status="404"' in told.text
    assert "true_margin_request_seconds_bucket" in told.text
    assert "s3cret" not in told.text
    assert client.get("/metrics", headers={"X-Forwarded-For": "10.1.1.1"}).status_code == 404


def test_ready_is_said_once_changes_are_heard(database: Database) -> None:
    own = Database(database.url)
    with TestClient(make_app(own)) as started:
        assert started.get("/api/v1/ready").json()["status"] == "ready"
    other = Database(database.url)
    never_started = TestClient(make_app(other))
    assert never_started.get("/api/v1/ready").status_code == 503
    other.close()


def test_browsers_come_by_tls_only_where_a_proxy_speaks_it(database: Database) -> None:
    def told(access: Access) -> str | None:
        asked = TestClient(make_app(database, access=access), base_url="https://bench.example")
        return asked.get("/sign-in").headers.get("strict-transport-security")

    https = "https://bench.example"
    assert told(Access(sign_in=True, address=https, proxied=True)) == "max-age=31536000"
    assert told(Access(sign_in=True, address=https)) is None
    assert told(Access(sign_in=True, address="http://127.0.0.1:8437", proxied=True)) is None
