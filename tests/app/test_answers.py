"""The API answers with models of its own: a column of the store is told by nobody's accident."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from typing import Any, get_args, get_type_hints

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient
from pydantic import BaseModel

from tests.desk.helpers import new_bench
from true_margin.app.answers.lineup import Machine
from true_margin.app.answers.tasks import Task
from true_margin.app.conflicts import ANSWERS, told_of
from true_margin.app.main import make_app
from true_margin.store import records
from true_margin.store.database import Database

APP = make_app(Database("postgresql://nobody@127.0.0.1:1/none"))
ROUTES = [route for route in APP.router.routes if isinstance(route, APIRoute)]


def _types_in(annotation: Any, known: set[type]) -> set[type]:
    """Collect all classes of the project that an annotation leads to."""
    for inner in get_args(annotation):
        _types_in(inner, known)
    if _is_ours(annotation) and annotation not in known:
        known.add(annotation)
        for hint in get_type_hints(annotation).values():
            _types_in(hint, known)
    return known


def _is_ours(kind: Any) -> bool:
    ours = isinstance(kind, type) and kind.__module__.startswith("true_margin")
    return ours and (is_dataclass(kind) or issubclass(kind, BaseModel))


@pytest.mark.parametrize("route", ROUTES, ids=lambda route: f"{route.name}")
def test_a_route_answers_with_no_record_of_the_store(route: APIRoute) -> None:
    kept = {
        kind.__qualname__
        for kind in _types_in(route.response_model, set())
        if kind.__module__.startswith("true_margin.store")
    }
    assert kept == set()


def test_there_are_routes_to_look_at_and_models_to_find() -> None:
    models = {kind for route in ROUTES for kind in _types_in(route.response_model, set())}
    assert len(ROUTES) > 100
    assert Machine in models


def test_what_the_store_knows_beyond_an_answer_stays_there() -> None:
    told = set(Machine.model_fields)
    assert told <= {field.name for field in fields(records.Machine)}
    assert "shootout_id" not in told


def test_a_conflict_tells_what_an_answer_does(database: Database) -> None:
    bench = new_bench(database, "Conflicts")
    client = TestClient(make_app(database))
    task = bench.tasks["Parade"]
    change = {"version": 99, "note": "x"}
    answer = client.patch(f"/api/v1/tasks/{task}", json=change)
    assert (answer.status_code, answer.json()["type"]) == (409, "/problems/stale")
    assert set(answer.json()["current"]) == set(Task.model_fields)
    at = f"/api/v1/shootouts/{bench.slug}/script"
    stale = client.put(at, json={"text": "Mine.", "version": 5})
    assert stale.json()["current"] == {"text": "", "version": 0}
    client.put(at, json={"text": "Theirs.", "version": 0})
    stale = client.put(at, json={"text": "Mine.", "version": 0})
    assert stale.json()["current"] == {"text": "Theirs.", "version": 1}


def test_everything_that_has_versions_has_an_answer_for_a_conflict() -> None:
    changed = {
        kind
        for kind in vars(records).values()
        if is_dataclass(kind) and "version" in {field.name for field in fields(kind)}
    }
    assert {kind for kind in changed if isinstance(kind, type)} - set(ANSWERS) <= {
        records.RunRevision,
        records.AppVersion,
    }
    assert told_of(object()) is None
