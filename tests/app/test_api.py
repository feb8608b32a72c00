"""The API from outside: its document, its problem documents, its strictness."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient
from openapi_spec_validator import validate

from tests.desk.helpers import Bench, done, new_bench
from tests.desk.test_timelines import edit
from true_margin.app.main import make_app
from true_margin.desk.packs.outgoing import export_pack
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database

API = "/api/v1"


@pytest.fixture(scope="module")
def client(database: Database, tmp_path_factory: pytest.TempPathFactory) -> TestClient:
    web = tmp_path_factory.mktemp("web")
    (web / "assets").mkdir()
    (web / "index.html").write_text("<title>True Margin</title>")
    (web / "theme.js").write_text("// theme")
    (web / "assets" / "app.js").write_text("// app")
    # Not entered as a context: its end would close the database of all tests.
    return TestClient(make_app(database, web))


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    return new_bench(database, "Over the wire")


def problem(answer: Any, status: int, kind: str) -> dict[str, Any]:
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    body: dict[str, Any] = answer.json()
    assert (body["type"], body["status"]) == (f"/problems/{kind}", status)
    assert body["title"]
    assert body["detail"]
    return body


def test_the_document_is_openapi_and_describes_every_field(client: TestClient) -> None:
    document = client.get(f"{API}/openapi.json").json()
    validate(document)
    assert document["openapi"].startswith("3.1")
    requests = (
        "NewFreeRow",
        "SetupChange",
        "NewRun",
        "NewMachine",
        "NewTask",
        "ShootoutChange",
        "RunChange",
        "NewPrice",
    )
    for name in requests:
        schema = document["components"]["schemas"][name]
        assert schema["additionalProperties"] is False
        for field, facts in schema["properties"].items():
            described = "description" in facts or any(
                "description" in each for each in facts.get("anyOf", [])
            )
            assert described, f"{name}.{field}"
    assert not any("delete" in methods for methods in document["paths"].values())


def test_every_stage_answers(client: TestClient, demo: records.Shootout) -> None:
    for stage in ("", "/sheet", "/lineup", "/tasks", "/bench", "/rounds", "/runs", "/margins"):
        answer = client.get(f"{API}/shootouts/{demo.slug}{stage}")
        assert answer.status_code == 200, stage
    ladder = client.get(f"{API}/shootouts/{demo.slug}/margins", params={"task": "mix"}).json()
    assert ladder["title"] == "All tasks, equal mix of 10"


def test_a_whole_small_shootout_over_the_wire(client: TestClient) -> None:
    slug = client.post(f"{API}/shootouts", json={"name": "Wire"}).json()["slug"]
    setups = [
        client.post(f"{API}/shootouts/{slug}/machines", json={"name": name}).json()["setups"][0][
            "id"
        ]
        for name in ("A", "B")
    ]
    task = client.post(
        f"{API}/shootouts/{slug}/tasks", json={"name": "Parade", "app": "Heddle"}
    ).json()["id"]
    for setup, times in zip(setups, (("5:00", "5:02"), ("6:17", "6:15")), strict=True):
        for typed in times:
            run = {"setup_id": setup, "task_id": task, "typed": typed, "client_key": str(uuid4())}
            answer = client.post(f"{API}/shootouts/{slug}/runs", json=run)
            assert answer.status_code == 201
    ladder = client.get(f"{API}/shootouts/{slug}/margins").json()
    assert [row["label"] for row in ladder["rows"]] == ["A", "B"]
    assert ladder["summary"].startswith("A is 25 % faster than B")
    price = {"kind": "list", "amount": "1 290,50", "currency": "EUR", "dated": "2026-11-24"}
    machine = client.get(f"{API}/shootouts/{slug}/lineup").json()["columns"][0]["machine"]["id"]
    prices = client.post(f"{API}/machines/{machine}/prices", json=price).json()["prices"]
    assert [(p["amount"], p["kind"]) for p in prices] == [("1290.50", "list")]
    bad = client.post(f"{API}/machines/{machine}/prices", json={**price, "amount": "cheap"})
    assert "type it like 1290" in problem(bad, 422, "refused")["detail"]


def run_body(bench: Bench, **more: Any) -> dict[str, Any]:
    own = {
        "setup_id": str(bench.setups["A"]),
        "task_id": str(bench.tasks["Parade"]),
        "typed": "6:17",
        "client_key": str(uuid4()),
    }
    return own | more


@pytest.mark.parametrize(
    ("more", "kind", "field"),
    [
        ({"typed": "4:75"}, "refused", "typed"),
        ({"typed": "18.40 min"}, "ambiguous-time", "typed"),
        ({"typed": "x" * 61}, "invalid", "typed"),
        ({"colour": "red"}, "invalid", "colour"),
        ({"status": "late"}, "invalid", "status"),
        ({"status": "void"}, "refused", "reason"),
        ({"setup_id": "nonsense"}, "invalid", "setup_id"),
        ({"setup_id": str(uuid4())}, "refused", "setup_id"),
        ({"client_key": "short"}, "invalid", "client_key"),
        ({"method": "sundial"}, "invalid", "method"),
    ],
)
def test_refusals_name_the_field(
    client: TestClient, bench: Bench, more: dict[str, Any], kind: str, field: str
) -> None:
    answer = client.post(f"{API}/shootouts/{bench.slug}/runs", json=run_body(bench, **more))
    assert problem(answer, 422, kind)["field"] == field


def test_both_meanings_come_with_the_question(client: TestClient, bench: Bench) -> None:
    answer = client.post(
        f"{API}/shootouts/{bench.slug}/runs", json=run_body(bench, typed="18.40 min")
    )
    body = problem(answer, 422, "ambiguous-time")
    assert [m["words"] for m in body["meanings"]] == ["18:40", "18:24"]


def test_what_is_not_there(client: TestClient) -> None:
    problem(client.get(f"{API}/shootouts/nowhere"), 404, "not-found")
    problem(client.get(f"{API}/runs/{uuid4()}"), 404, "not-found")
    problem(client.get(f"{API}/no/such/thing"), 404, "not-found")
    assert client.get(f"{API}/shootouts/%00").status_code in (404, 422)
    problem(
        client.patch(f"{API}/machines/{uuid4()}", json={"version": 1, "name": "X"}),
        404,
        "not-found",
    )


@pytest.mark.parametrize("body", [b"", b"{", b"[]", b'"text"', b"\xff"])
def test_bodies_that_are_none(client: TestClient, bench: Bench, body: bytes) -> None:
    answer = client.post(
        f"{API}/shootouts/{bench.slug}/runs",
        content=body,
        headers={"content-type": "application/json"},
    )
    assert 400 <= answer.status_code < 500


@pytest.mark.parametrize("text", ["a\x00b", "\ud800"])
def test_text_that_a_database_cannot_hold_is_refused(
    client: TestClient, bench: Bench, text: str
) -> None:
    body = '{"name": ' + ascii(text).replace("'", '"').replace("\\x00", "\\u0000") + "}"
    answer = client.post(
        f"{API}/shootouts/{bench.slug}/machines",
        content=body,
        headers={"content-type": "application/json"},
    )
    assert problem(answer, 422, "invalid")["field"] == "name"


def test_changed_elsewhere_shows_what_stands_now(client: TestClient, database: Database) -> None:
    own = new_bench(database, "Two tabs")
    machine = client.get(f"{API}/shootouts/{own.slug}/lineup").json()["columns"][0]["machine"]
    address = f"{API}/machines/{machine['id']}"
    assert (
        client.patch(
            address, json={"version": machine["version"], "specs": {"cores": "8"}}
        ).status_code
        == 200
    )
    answer = client.patch(address, json={"version": machine["version"], "specs": {"cores": "12"}})
    body = problem(answer, 409, "stale")
    assert body["current"]["specs"] == {"cores": 8}
    assert body["current"]["version"] == 2


def test_packs_go_out_and_come_in(
    client: TestClient, database: Database, demo: records.Shootout
) -> None:
    out = client.get(f"{API}/shootouts/{demo.slug}/pack")
    assert out.headers["content-type"] == "application/zip"
    assert out.content == zip_files(write_pack(export_pack(database, demo.slug)))
    answer = client.post(f"{API}/packs", files={"file": ("x.zip", out.content)})
    assert answer.status_code == 202
    made = done(database, answer.json()["id"])
    assert made.slug is not None
    assert client.get(f"{API}/shootouts/{made.slug}").json()["name"] == demo.name
    bad = client.post(f"{API}/packs", files={"file": ("x.zip", b"not a zip")})
    failed = done(database, bad.json()["id"])
    assert failed.problem is not None
    assert (failed.state, failed.problem.kind, failed.problem.field) == (
        "failed",
        "refused",
        "file",
    )


def test_pages_for_every_deep_link_and_files_for_themselves(client: TestClient) -> None:
    for path in ("/", "/s/any/margins", "/s/any/margins?task=mix", "/no/such/page"):
        assert "True Margin" in client.get(path).text
    assert client.get("/theme.js").text == "// theme"
    asset = client.get("/assets/app.js")
    assert "immutable" in asset.headers["cache-control"]
    assert client.get("/assets/none.js").status_code == 404


@pytest.mark.parametrize(
    "path", ["/..%2f..%2fetc/passwd", "/assets/..%2f..%2fpyproject.toml", "/%2e%2e/theme.js"]
)
def test_no_path_leads_out(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert "root:" not in answer.text
    assert "[project]" not in answer.text


def test_a_database_that_is_away_is_said(tmp_path: Path) -> None:
    away = Database("postgresql://nobody:x@127.0.0.1:9/none")
    with TestClient(make_app(away)) as client:
        body = problem(client.get(f"{API}/shootouts"), 503, "database-away")
        problem(client.get(f"{API}/health"), 503, "database-away")
    assert "was not saved" in body["detail"]


def test_health(client: TestClient) -> None:
    assert client.get(f"{API}/health").json()["status"] == "ok"


def test_timelines_come_in_as_files(client: TestClient, database: Database) -> None:
    own = new_bench(database, "Files")
    client.post(
        f"{API}/shootouts/{own.slug}/tasks",
        json={"name": "Film", "app": "Heddle", "timeline": "Film"},
    )
    tasks = client.get(f"{API}/shootouts/{own.slug}/tasks").json()
    timeline = next(
        each["task"]["timeline_id"] for each in tasks if each["task"]["timeline"] == "Film"
    )
    address = f"{API}/timelines/{timeline}/files"
    for name, content, says in (
        ("film.otio", b"{", "not JSON"),
        ("film.otio", b"[" * 100_000, "nested too deeply"),
        ("film.exe", b"MZ", "use .otio, .otioz or .edl"),
        ("film.otio", b"0" * 100_000_001, "100 MB at most"),
    ):
        answer = client.post(address, files={"file": (name, content)})
        assert says in problem(answer, 422, "refused")["detail"]
    bad_rate = client.post(address, files={"file": ("film.edl", b"")}, data={"edl_rate": "-25"})
    assert problem(bad_rate, 422, "invalid")["field"] == "edl_rate"
    sent = {"file": ("C:\\edits\\../film.otio", edit(100, 50))}
    sheet = client.post(address, files=sent, data={"setup_id": str(own.setups["A"])}).json()
    assert sheet["setups"][0]["file"]["name"] == "film.otio"
    assert sheet["facts"]["clips"] == 2
