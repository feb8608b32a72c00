"""Requests that no browser of ours would send: refused in words, never a failure inside."""

from __future__ import annotations

import json
from typing import Any
from uuid import UUID, uuid4

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.desk.helpers import Bench, new_bench
from tests.desk.test_price_feed import Feed
from true_margin.app.main import make_app
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup.spec_sheet import show_lineup
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards
from true_margin.store.database import Database

API = "/api/v1"
WORDS = st.text(max_size=12) | st.sampled_from(
    [
        "",
        " ",
        "\x00",
        "6:17",
        "18.40 min",
        "=1+1",
        "../..",
        "ok",
        "void",
        "EUR",
        "2026-11-24",
        "0",
        "-1",
        "x" * 3000,
        "🙂",
        "\u202e",
    ]
)
VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**70), 2**70) | st.floats() | WORDS,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(WORDS, inner, max_size=3),
    max_leaves=5,
)


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    return TestClient(make_app(database, feed=Feed()), raise_server_exceptions=False)


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Hostile")
    bench.run("A", "6:17")
    return bench


def routes(client: TestClient) -> list[tuple[str, str]]:
    document = client.get(f"{API}/openapi.json").json()
    return [(method, path) for path, methods in document["paths"].items() for method in methods]


def bodies(client: TestClient) -> dict[tuple[str, str], list[str]]:
    """The fields of the JSON body of each route that takes one."""
    document = client.get(f"{API}/openapi.json").json()
    found = {}
    for path, methods in document["paths"].items():
        for method, facts in methods.items():
            content = facts.get("requestBody", {}).get("content", {}).get("application/json")
            if content:
                name = content["schema"]["$ref"].rsplit("/", 1)[-1]
                fields = document["components"]["schemas"][name]["properties"]
                found[method, path] = sorted(fields)
    return found


def filled(path: str, bench: Bench) -> str:
    book_run = bench.run("A", "6:18").run.id
    machine = show_lineup(bench.database, bench.slug).columns[0].machine.id
    known = {
        "{slug}": bench.slug,
        "{setup_id}": str(bench.setups["A"]),
        "{task_id}": str(bench.tasks["Parade"]),
        "{run_id}": str(book_run),
        "{machine_id}": str(machine),
        "{timeline_id}": str(uuid4()),
        "{overrule_id}": str(uuid4()),
        "{inquiry_id}": str(uuid4()),
        "{figure_id}": str(uuid4()),
        "{other}": "nowhere",
        "{row_id}": str(uuid4()),
        "{field}": "memory_gb",
        "{viewer_id}": str(_viewer(bench)),
        "{card_id}": str(_card(bench)),
        "{report_id}": str(uuid4()),
        "{link_id}": str(uuid4()),
        "{job_id}": str(uuid4()),
    }
    for name, value in known.items():
        path = path.replace(name, value)
    return path


def _card(bench: Bench) -> UUID:
    known = SHELF.take(bench.database, bench.slug).cards
    if known:
        return known[0].id
    fields = {"kind": "bar", "task_id": bench.tasks["Parade"]}
    return cards.add_card(bench.database, bench.slug, fields).card.id


def _viewer(bench: Bench) -> UUID:
    known = SHELF.take(bench.database, bench.slug).viewers
    if known:
        return known[0].id
    return viewers.add_viewer(bench.database, bench.slug, {"name": "Filmer"}, None).id


@settings(
    max_examples=250,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(data=st.data())
def test_any_body_is_answered_or_refused(
    client: TestClient, bench: Bench, data: st.DataObject
) -> None:
    known = bodies(client)
    method, path = data.draw(st.sampled_from(sorted(known)))
    fields = known[method, path]
    body = data.draw(
        st.dictionaries(st.sampled_from(fields), VALUES, max_size=len(fields)) | VALUES
    )
    text = json.dumps(body)
    answer = client.request(
        method, filled(path, bench), content=text, headers={"content-type": "application/json"}
    )
    assert answer.status_code < 500, (method, path, text, answer.text)
    if answer.status_code >= 400:
        problem = answer.json()
        assert problem["detail"]
        assert problem["status"] == answer.status_code


@settings(max_examples=60, deadline=None)
@given(word=st.text(min_size=1, max_size=30))
def test_any_name_in_an_address_is_answered(client: TestClient, word: str) -> None:
    try:
        answer = client.get(f"{API}/shootouts/{word}/margins", params={"task": word})
    except Exception as error:
        assert "Invalid" in type(error).__name__ or isinstance(error, (UnicodeError, ValueError))
        return
    assert answer.status_code < 500


def test_every_route_says_what_is_missing(client: TestClient, bench: Bench) -> None:
    """Unknown ids: a problem document from every route, and nothing is made."""
    for method, path in routes(client):
        if "{" not in path:
            continue
        address = path
        for name in ("run_id", "setup_id", "task_id", "machine_id", "timeline_id", "overrule_id"):
            address = address.replace(f"{{{name}}}", str(uuid4()))
        address = address.replace("{slug}", "no-such-shootout")
        answer = client.request(method, address, json={})
        assert answer.status_code in (404, 422), (method, path, answer.text)
        assert answer.headers["content-type"] == "application/problem+json"


@pytest.mark.parametrize("method", ["DELETE", "PUT", "TRACE"])
def test_there_is_no_way_to_delete(client: TestClient, bench: Bench, method: str) -> None:
    run = bench.run("A", "6:19").run
    answer = client.request(method, f"{API}/runs/{run.id}")
    assert answer.status_code == 405
    assert client.get(f"{API}/runs/{run.id}").status_code == 200


def test_a_table_of_formulas_is_only_text(client: TestClient, bench: Bench) -> None:
    table = 'setup,task,value,note\n=cmd|calc!A0,Parade,6:17,"=HYPERLINK(""x"")"\n'
    body: dict[str, Any] = {"text": table}
    assert client.post(f"{API}/shootouts/{bench.slug}/imports", json=body).status_code == 201
    lineup = client.get(f"{API}/shootouts/{bench.slug}/lineup").json()
    assert "=cmd|calc!A0" in [column["machine"]["name"] for column in lineup["columns"]]


NUMBER = st.sampled_from([0, -1, 1e-300, 1e300, 1e11, 0.5, 52, 3]) | st.floats(-1e12, 1e12)
MONEY = st.sampled_from(
    ["0", "-1", "0.001", "1e9", "999999999", "NaN", "12.3456", ""]
) | st.integers(-5, 10**9).map(str)


@settings(
    max_examples=250,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(data=st.data())
def test_any_viewer_is_answered_or_refused(
    client: TestClient, bench: Bench, data: st.DataObject
) -> None:
    part = st.fixed_dictionaries(
        {"task_id": st.just(str(bench.tasks["Parade"]))},
        optional={
            "weight": NUMBER,
            "amount": NUMBER,
            "by_run": st.booleans(),
            "accepted_s": NUMBER | st.none(),
        },
    )
    viewer = st.fixed_dictionaries(
        {},
        optional={
            "weekly": st.booleans(),
            "rule": st.sampled_from(["fastest", "value", "worth", "enough"]),
            "currency": st.sampled_from(["EUR", "USD", "JPY", "KWD", "QQQ"]),
            "budget": MONEY,
            "owned_setup_id": st.sampled_from([str(bench.setups["A"]), None]),
            "resale": MONEY,
            "hour_value": MONEY,
            "attended": NUMBER,
            "weeks": NUMBER,
            "horizon_years": NUMBER,
            "tax_percent": MONEY,
            "energy_price": MONEY,
            "tasks": st.lists(part, max_size=1),
        },
    )
    setups = [str(key) for key in bench.setups.values()]
    body = {
        "viewer": data.draw(viewer),
        "prices": data.draw(st.dictionaries(st.sampled_from(setups), MONEY, max_size=2)),
    }
    for what in ("try", "turns"):
        answer = client.post(f"{API}/shootouts/{bench.slug}/picks/{what}", json=body)
        assert answer.status_code < 500, (body, answer.text)
        if answer.status_code >= 400:
            assert answer.json()["detail"]


@pytest.mark.parametrize(
    ("parts", "status"),
    [
        ([{}], 422),
        ([{"task_id": "here"}], 200),
        ([{"task_id": str(uuid4())}], 422),
        ([{"task_id": "here"}, {"task_id": "here"}], 422),
        ([{"task_id": "here", "amount": -1}], 422),
        ([{"task_id": "here", "weight": 1e300}], 422),
    ],
)
def test_parts_of_a_viewer_may_be_left_out_but_not_be_wrong(
    client: TestClient, bench: Bench, parts: list[dict[str, Any]], status: int
) -> None:
    here = str(bench.tasks["Parade"])
    asked = [{k: here if v == "here" else v for k, v in part.items()} for part in parts]
    name = f"Viewer {uuid4()}"
    path = f"{API}/shootouts/{bench.slug}/viewers"
    made = client.post(path, json={"name": name, "tasks": asked})
    assert made.status_code == (201 if status == 200 else status), made.text
    key = _viewer(bench)
    version = client.get(f"{API}/shootouts/{bench.slug}/picks").json()[0]["viewer"]["version"]
    changed = client.patch(f"{API}/viewers/{key}", json={"version": version, "tasks": asked})
    assert changed.status_code == status, changed.text


def test_what_random_requests_once_broke(client: TestClient, bench: Bench) -> None:
    """Each of these was answered with a failure inside when it was first asked."""
    run = bench.run("A", "6:20", note="a bell \x07 and \x1b[31m").run
    empty = {"method": None, "setup_id": None, "task_id": None, "round_id": None, "status": None}
    changed = client.patch(f"{API}/runs/{run.id}", json={"version": 1, "why": "x", **empty})
    assert (changed.status_code, changed.json()["run"]["status"]) == (200, "ok")
    setup = show_lineup(bench.database, bench.slug).columns[0].machine.setups[0]
    half = {"version": setup.version, "assumed_ratio": 2.0}
    refused = client.patch(f"{API}/setups/{setup.id}", json=half)
    assert (refused.status_code, refused.json()["field"]) == (422, "assumed_ratio")
    bench.machine("Bell\x07")
    for name in ("results", "specs", "prices"):
        answer = client.get(f"{API}/shootouts/{bench.slug}/tables/{name}.xlsx")
        assert answer.status_code == 200, answer.text
