"""The store room over the wire: what it answers, and what it refuses in terms of a field."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient

from tests.app.test_api import API, problem
from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.app.main import make_app
from true_margin.store.database import Database


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    # Not entered as a context: its end would close the database of all tests.
    return TestClient(make_app(database, PROJECT / "web" / "dist"))


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Room over the wire")
    bench.machine("Wired Desk", specs={"memory_gb": "16"})
    bench.task("Wired film")
    for typed in ("6:17", "6:18"):
        bench.run("Wired Desk", typed, "Wired film")
    return bench


@pytest.fixture(scope="module")
def room(client: TestClient, bench: Bench) -> dict[str, Any]:
    """The store room once the shootout's machine and task are kept."""
    body = {
        "machines": [{"name": "Wired Desk", "setup_ids": [str(bench.setups["Wired Desk"])]}],
        "tasks": [{"name": "Wired film", "task_ids": [str(bench.tasks["Wired film"])]}],
    }
    answer = client.post(f"{API}/room/kept", json=body)
    assert answer.status_code == 201, answer.text
    kept: dict[str, Any] = answer.json()
    return kept


def own(room: dict[str, Any], part: str, name: str) -> dict[str, Any]:
    found: dict[str, Any] = next(each for each in room[part] if each["name"] == name)
    return found


def test_what_is_kept_is_answered_and_ranked(client: TestClient, room: dict[str, Any]) -> None:
    task = own(room, "tasks", "Wired film")
    choices = client.get(f"{API}/all-time").json()
    assert {"id": task["id"], "shootouts": 1}.items() <= own(
        {"tasks": choices}, "tasks", "Wired film"
    ).items()
    view = client.get(f"{API}/all-time/{task['id']}").json()
    # Its round says no version, so that it has no place.
    assert view["lines"] == []
    assert "does not say which version of Heddle it was" in view["left_out"][0]
    machine = own(room, "machines", "Wired Desk")
    history = client.get(f"{API}/room/machines/{machine['id']}/history").json()
    assert history == {"name": "Wired Desk", "tasks": []}
    assert client.get(f"{API}/room/machines/{machine['id']}/worth").json() == []


def test_who_changed_it_first_is_told_with_what_stands(
    client: TestClient, room: dict[str, Any]
) -> None:
    machine = own(room, "machines", "Wired Desk")
    path = f"{API}/room/machines/{machine['id']}"
    changed = client.patch(path, json={"version": machine["version"], "sample": "no 1"}).json()
    assert (changed["sample"], changed["version"]) == ("no 1", machine["version"] + 1)
    answer = client.patch(path, json={"version": machine["version"], "sample": "no 2"})
    stands = problem(answer, 409, "stale")["current"]
    assert (stands["name"], stands["sample"]) == ("Wired Desk", "no 1")


@pytest.mark.parametrize(
    ("method", "path", "body", "field"),
    [
        ("POST", "/room/machines", {"name": "wired desk"}, "name"),
        ("POST", "/room/machines", {"name": "  "}, "name"),
        ("POST", "/room/machines", {"name": "Ok", "keeping": "stolen"}, "keeping"),
        ("POST", "/room/kept", {"machines": [{"name": "X", "setup_ids": []}]}, "setup_ids"),
        ("POST", "/room/kept", {"machines": [{"name": "X", "setup_ids": [str(uuid4())]}]}, "setup"),
        ("POST", "/room/file", {"text": "{}}"}, "file"),
        ("PATCH", "/house", {"version": 1, "confidence": 0.2}, "confidence"),
        ("PATCH", "/house", {"version": 1, "currency": "euro"}, "currency"),
    ],
)
def test_what_cannot_be_is_refused_by_field(
    client: TestClient, room: dict[str, Any], method: str, path: str, body: Any, field: str
) -> None:
    assert room
    before = client.get(f"{API}/room").json()
    answer = client.request(method, f"{API}{path}", json=body)
    assert answer.status_code == 422, answer.text
    assert field in answer.text
    assert client.get(f"{API}/room").json() == before


def test_what_is_not_there_is_said_not_to_be(client: TestClient) -> None:
    for path in (f"/all-time/{uuid4()}", f"/room/machines/{uuid4()}/history"):
        problem(client.get(f"{API}{path}"), 404, "not-found")
    problem(client.post(f"{API}/shootouts/no-such/continued", json={"name": "X"}), 404, "not-found")
    assert client.get(f"{API}/search", params={"q": "no-such-thing-anywhere"}).json() == []
    assert client.get(f"{API}/search", params={"q": "x" * 201}).status_code == 422


def test_a_saved_room_is_a_file_that_reads_back(client: TestClient, room: dict[str, Any]) -> None:
    assert room
    saved = client.get(f"{API}/room/file")
    assert 'filename="store-room.json"' in saved.headers["content-disposition"]
    came = client.post(f"{API}/room/file", json={"text": saved.text}).json()
    assert (came["machines"], came["tasks"]) == (0, 0)
    assert {"Wired Desk", "Wired film"} <= set(came["known"])
