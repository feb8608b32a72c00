"""Line-up, prices, tasks and outputs through the API, as any client would use it."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

import pytest
from demo.probes import probe_json
from fastapi.testclient import TestClient

from tests.desk.helpers import Bench, done, new_bench
from tests.desk.test_price_feed import Feed, offer
from true_margin.app.main import make_app
from true_margin.store.database import Database

API = "/api/v1"
SETTINGS = {
    "codec": "H.264",
    "size": "1920x1080",
    "frame_rate": "25",
    "depth": "8",
    "bit_rate": "12",
    "colour": "bt709",
}


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    return TestClient(make_app(database, feed=Feed(offer("A", "900"))))


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Through the API")


def said(answer: Any, status: int) -> Any:
    assert answer.status_code == status, answer.text
    return answer.json()


def test_a_cell_is_typed_shown_and_refused_at_its_row(client: TestClient, bench: Bench) -> None:
    sheet = said(client.get(f"{API}/shootouts/{bench.slug}/lineup"), 200)
    machine = sheet["columns"][0]["machine"]
    address = f"{API}/machines/{machine['id']}"
    changed = said(client.patch(address, json={"version": 1, "specs": {"memory_gb": "16 GB"}}), 200)
    assert changed["specs"] == {"memory_gb": 16.0}
    problem = said(client.patch(address, json={"version": 2, "specs": {"cores": "0"}}), 422)
    assert (problem["field"], problem["type"]) == ("cores", "/problems/refused")
    assert "at least 1" in problem["detail"]
    stale = said(client.patch(address, json={"version": 1, "specs": {"cores": "4"}}), 409)
    assert stale["current"]["specs"] == {"memory_gb": 16.0}


def test_rows_marks_and_the_archive(client: TestClient, bench: Bench) -> None:
    own = f"{API}/shootouts/{bench.slug}"
    sheet = said(
        client.post(f"{own}/free-rows", json={"title": "Height", "unit": "cm", "number": True}), 201
    )
    row = next(each for each in sheet["rows"] if each["free_row_id"])
    said(client.put(f"{own}/rows/{row['field']}/trial", json={"on_trial": True}), 200)
    said(client.put(f"{own}/rows/wings/trial", json={"on_trial": True}), 422)
    renamed = said(
        client.patch(f"{API}/free-rows/{row['free_row_id']}", json={"title": "Tall"}), 200
    )
    assert [r["title"] for r in renamed["rows"] if r["free_row_id"]] == ["Tall"]
    said(client.post(f"{API}/free-rows/{row['free_row_id']}/removal"), 200)
    said(client.post(f"{API}/free-rows/{row['free_row_id']}/removal"), 404)
    machine = sheet["columns"][1]["machine"]["id"]
    said(client.post(f"{API}/machines/{machine}/archive", json={"archived": True}), 200)
    now = said(client.get(f"{own}/lineup"), 200)
    assert ([c["machine"]["name"] for c in now["columns"]], now["archived"][0]["name"]) == (
        ["A"],
        "B",
    )
    said(client.post(f"{own}/archive", json={"archived": True}), 200)
    listed = said(client.get(f"{API}/shootouts", params={"archived": True}), 200)
    assert bench.slug in [each["slug"] for each in listed]


def test_prices_from_a_feed(client: TestClient, bench: Bench) -> None:
    own = f"{API}/shootouts/{bench.slug}/prices"
    preview = said(client.post(f"{own}/preview"), 200)
    assert (preview["without"], [float(c["amount"]) for c in preview["changes"]]) == (
        ["B"],
        [900.0],
    )
    key = preview["changes"][0]["key"]
    feed = Feed(offer("A", "900"))
    first = said(client.post(f"{own}/refresh", json={"keys": [key]}), 202)
    assert (first["state"], first["step"]) == ("running", "waiting")
    assert done(bench.database, first["id"], feed).stored == 1
    shown = said(client.get(f"{API}/jobs/{first['id']}"), 200)
    assert (shown["state"], shown["stored"], shown["problem"]) == ("done", 1, None)
    again = said(client.post(f"{own}/refresh", json={"keys": [key]}), 202)
    failed = done(bench.database, again["id"], feed)
    assert failed.problem is not None
    assert (failed.state, failed.problem.kind, failed.problem.field) == (
        "failed",
        "refused",
        "keys",
    )
    assert "other offers than those you saw" in failed.problem.detail
    away = done(
        bench.database,
        said(client.post(f"{own}/refresh", json={"keys": ["x"]}), 202)["id"],
        Feed(away=True),
    )
    assert away.problem is not None
    assert (away.problem.kind, "All prices are as they were" in away.problem.detail) == (
        "feed-away",
        True,
    )
    said(client.get(f"{API}/jobs/{uuid4()}"), 404)
    assert said(client.get(f"{API}/rates", params={"on": "2026-11-24"}), 200)
    said(client.get(f"{API}/rates", params={"on": "soon"}), 422)


def test_a_price_in_a_currency_that_is_none(client: TestClient, bench: Bench) -> None:
    machine = bench.machine("C").id
    body = {"kind": "list", "amount": "5", "currency": "XYZ", "dated": "2026-11-01"}
    problem = said(client.post(f"{API}/machines/{machine}/prices", json=body), 422)
    assert (problem["field"], "no currency in use" in problem["detail"]) == ("currency", True)
    named = {"name": "x", "currency": "XYZ"}
    assert said(client.post(f"{API}/shootouts", json=named), 422)["field"] == "currency"


def test_what_came_out_is_brought_in_and_judged(client: TestClient, bench: Bench) -> None:
    task = bench.task("Film", timeline="Film", timeline_length_s=360.0, settings=SETTINGS).id
    address = f"{API}/tasks/{task}/outputs"
    setup = {"setup_id": str(bench.setups["A"])}

    def bring(content: bytes, **more: str) -> Any:
        return client.post(address, files={"file": ("../x.json", content)}, data={**setup, **more})

    whole = said(bring(probe_json(SETTINGS, 360.0, 540_000_000)), 201)
    assert (whole["rows"][0]["output"], whole["rows"][0]["probe"]["name"]) == ("same", "x.json")
    other = said(bring(probe_json(SETTINGS, 90.0, 540_000_000)), 422)
    assert other["field"] == "really"
    said(bring(probe_json(SETTINGS, 90.0, 540_000_000), really="true"), 201)
    assert said(bring(b"no"), 422)["field"] == "file"
    assert "2 MB at most" in said(bring(b" " * 3_000_000), 422)["detail"]
    whole_probe = {"file": ("x.json", probe_json(SETTINGS, 360.0, 540_000_000))}
    nowhere = f"{API}/tasks/{uuid4()}/outputs"
    said(client.post(nowhere, files=whole_probe, data=setup), 404)
    look = {**setup, "plays": True, "in_sync": False}
    seen = said(client.post(f"{API}/tasks/{task}/looks", json=look), 201)
    assert seen["rows"][0]["look"]["in_sync"] is False
    used = {**setup, "settings": {"depth": "10"}}
    apart = said(client.post(f"{API}/tasks/{task}/settings-used", json=used), 201)
    assert apart["rows"][0]["settings"] == "differs"
    said(client.post(f"{API}/tasks/{task}/playback", json={**setup, "quality": "full"}), 422)


def test_a_form_for_tasks_and_a_preset_of_ones_own(client: TestClient) -> None:
    words = said(client.get(f"{API}/task-words"), 200)
    assert "playback" in words["operations"]
    kept = said(client.post(f"{API}/presets", json={"name": "API", "settings": SETTINGS}), 201)
    assert "API" in [each["name"] for each in kept["presets"] if each["own"]]
    bad = {"name": "API 2", "settings": {"size": "large"}}
    assert said(client.post(f"{API}/presets", json=bad), 422)["field"] == "settings"


def test_a_revision_is_answered_with_the_task_that_follows(
    client: TestClient, bench: Bench
) -> None:
    bench.run("A", "6:10")
    task = bench.tasks["Parade"]
    change = {"version": 1, "operation": "transcode"}
    new = said(client.patch(f"{API}/tasks/{task}", json=change), 200)
    assert (new["revision"], new["follows_id"]) == (2, str(task))
    wrong = {"version": 1, "operation": "juggle"}
    said(client.patch(f"{API}/tasks/{new['id']}", json=wrong), 422)


def test_marks_pace_and_a_sitting(client: TestClient, bench: Bench) -> None:
    run = bench.run("A", "5:00").run
    marks = {"marks": [{"elapsed_s": 60, "fraction": 0.25}]}
    assert said(client.post(f"{API}/runs/{run.id}/marks", json=marks), 201)["marks"]
    backwards = {"marks": [{"elapsed_s": 90, "fraction": 0.1}]}
    assert said(client.post(f"{API}/runs/{run.id}/marks", json=backwards), 422)["field"] == "marks"
    over = {"marks": [{"elapsed_s": 90, "fraction": 1.5}]}
    said(client.post(f"{API}/runs/{run.id}/marks", json=over), 422)
    own = f"{API}/shootouts/{bench.slug}"
    body = {"task_id": str(bench.tasks["Parade"]), **marks}
    assert said(client.post(f"{own}/bench/pace", json=body), 200)["projected_s"] == 240.0
    for minutes in ("0", "-5", "5000", "soon", "nan"):
        said(client.get(f"{own}/sitting", params={"minutes": minutes}), 422)
    assert said(client.get(f"{own}/sitting", params={"minutes": 60}), 200)["runs"] == []


def test_a_watchers_reading_follows_its_looks(client: TestClient, bench: Bench) -> None:
    def stored(poll_s: float | None, key: str) -> float:
        body = {
            "setup_id": str(bench.setups["A"]),
            "task_id": str(bench.tasks["Parade"]),
            "typed": "5:00.00",
            "method": "watch",
            "poll_s": poll_s,
            "client_key": key,
        }
        return float(
            said(client.post(f"{API}/shootouts/{bench.slug}/runs", json=body), 201)["run"]["u"]
        )

    assert stored(0.5, "watched-1") == pytest.approx(0.5 / 6**0.5, rel=0.01)
    assert stored(None, "watched-2") == pytest.approx(1 / 6**0.5, rel=0.01)
