"""Who may call what: every route, asked by everybody, held against a table that people read."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from pathlib import Path

import httpx2
import pytest
from fastapi.testclient import TestClient

from tests.app.accounts import account, free_row, one_of_everything, who_of
from tests.conftest import PROJECT
from tests.desk.helpers import new_bench
from tests.desk.test_price_feed import Feed
from true_margin.app.access import Access
from true_margin.app.main import make_app
from true_margin.desk.access import sign_in
from true_margin.desk.jobs import jobs
from true_margin.store.database import Database

TABLE = Path(__file__).with_name("rights.csv")
ASKERS = ("nobody", "revoked", "reader", "other", "editor", "owner")
ENDLESS = "/api/v1/shootouts/{slug}/events"
"""It never ends for whoever is let in, so only refusals are asked for."""


@dataclass
class Stage:
    """Somebody of every kind, and a shootout that has one of everything."""

    database: Database
    client: TestClient
    tokens: dict[str, str | None]
    names: dict[str, str]

    def ask(self, asker: str, method: str, path: str) -> httpx2.Response:
        """Ask as somebody, with a body that says nothing that can be stored."""
        token = self.tokens[asker]
        if "{row_id}" in path:
            # Whoever may take a row off the sheet does; the next one asks about another.
            self.names["row_id"] = free_row(self.database, self.names["slug"])
        headers = {} if token is None else {"Cookie": f"tm_person={token}"}
        for name, value in self.names.items():
            path = path.replace(f"{{{name}}}", value)
        body = {"nonsense": 1} if method in ("POST", "PUT", "PATCH") else None
        return self.client.request(method, path, json=body, headers=headers)


@pytest.fixture(scope="module")
def stage(database: Database) -> Stage:
    bench, elsewhere = new_bench(database, "Rights"), new_bench(database, "Elsewhere")
    owner, editor = account(database, "owner"), account(database, "editor", bench.slug)
    reader, other = (
        account(database, "reader", bench.slug),
        account(database, "editor", elsewhere.slug),
    )
    revoked = account(database, "owner")
    sign_in.sign_out(database, who_of(database, revoked))
    app = make_app(database, PROJECT / "web" / "dist", Feed(), Access(sign_in=True))
    tokens = {
        "nobody": None,
        "revoked": revoked.token,
        "reader": reader.token,
        "other": other.token,
        "editor": editor.token,
        "owner": owner.token,
    }
    client = TestClient(app, raise_server_exceptions=False, follow_redirects=False)
    own = jobs.bring_in(database, who_of(database, editor), b"")
    things = one_of_everything(bench, elsewhere) | {"job_id": str(own.id)}
    return Stage(database, client, tokens, things)


def read_table() -> dict[tuple[str, str], dict[str, str]]:
    with TABLE.open(newline="") as file:
        return {(row["method"], row["path"]): row for row in csv.DictReader(file)}


def outcome(answer: httpx2.Response) -> str:
    """``in`` where the rights let it through, else how it was refused."""
    if answer.status_code == 401:
        return "401"
    if answer.status_code == 403 and "/problems/forbidden" in answer.text:
        return "403"
    if answer.status_code == 404 and "nothing of yours" in answer.text:
        return "404"
    return "in"


def routes(stage: Stage) -> set[tuple[str, str]]:
    document = stage.client.app.openapi()  # type: ignore[attr-defined]
    return {(m.upper(), path) for path, methods in document["paths"].items() for m in methods}


def test_every_route_is_in_the_table_and_no_other(stage: Stage) -> None:
    assert routes(stage) == set(read_table())


@pytest.mark.parametrize(("method", "path"), sorted(read_table()))
def test_everybody_gets_what_the_table_says(stage: Stage, method: str, path: str) -> None:
    row = read_table()[method, path]
    for asker in ASKERS:
        if path == ENDLESS and row[asker] == "in":
            continue
        answer = stage.ask(asker, method, path)
        assert outcome(answer) == row[asker], (asker, answer.status_code, answer.text[:200])
        # This app was never started, so it is not ready; that is no failure inside.
        assert answer.status_code < 500 or path.endswith("/ready"), (asker, answer.text[:200])
