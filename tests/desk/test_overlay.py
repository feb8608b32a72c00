"""The race as it runs, for whoever has a link: what is shown, and nothing else."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient

from tests.desk.helpers import Bench, new_bench
from true_margin.app.main import make_app
from true_margin.desk.bench import lanes, overlay
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Running")
    bench.run("A", "6:10", note="told to nobody")
    return bench


def put(bench: Bench, setup: str, phase: str, **more: Any) -> None:
    lane = {
        "id": uuid4().hex,
        "setup_id": str(bench.setups[setup]),
        "task_id": str(bench.tasks["Parade"]),
        "phase": phase,
        "key": uuid4().hex,
        "queue": [],
        "marks": [],
        "started_ms": 0.0,
        **more,
    }
    kind = {"running": "started", "stopped": "stopped", "gone": "gone"}.get(phase, "armed")
    event = lanes.NewEvent(uuid4().hex, 1, kind, bench.database.clocks.bench_ms(), lane)
    lanes.put_events(bench.database, bench.slug, [event])


def token_of(bench: Bench) -> str:
    return overlay.make_link(bench.database, bench.slug)[0].token


def test_it_shows_the_lanes_with_their_marks_and_clock(bench: Bench) -> None:
    token = token_of(bench)
    assert overlay.race_now(bench.database, token).lanes == ()
    began = bench.database.clocks.bench_ms() - 4000
    marks = [
        {"elapsed_s": 2.0, "fraction": 0.4},
        {"elapsed_s": 1.0, "fraction": 0.2},
        {"elapsed_s": 3.0, "fraction": 0.9, "withdrawn": True},
        {"elapsed_s": 1.5, "temperature_c": 70.0},
    ]
    put(bench, "A", "running", started_ms=began, marks=marks)
    put(bench, "B", "stopped", started_ms=began, elapsed_s=3.5)
    race = overlay.race_now(bench.database, token)
    assert [(lane.label, lane.phase, lane.elapsed_s) for lane in race.lanes] == [
        ("A", "running", None),
        ("B", "stopped", 3.5),
    ]
    assert race.lanes[0].marks == ((1.0, 0.2), (2.0, 0.4))
    assert race.now_ms - race.lanes[0].started_ms >= 4000


def test_a_link_that_was_turned_off_shows_nothing(bench: Bench) -> None:
    token = token_of(bench)
    (link,) = overlay.list_links(bench.database, bench.slug)
    overlay.revoke_link(bench.database, bench.slug, link.id)
    with pytest.raises(NotFoundError):
        overlay.race_now(bench.database, token)
    again = token_of(bench)
    assert again != token
    assert overlay.race_now(bench.database, again).lanes == ()


def test_a_link_to_a_race_opens_no_page_and_the_other_way_round(bench: Bench) -> None:
    token = token_of(bench)
    with TestClient(make_app(bench.database)) as client:
        assert client.get(f"/p/{token}").status_code == 404
        shown = client.get(f"/api/v1/shootouts/{bench.slug}/public").json()
        assert shown["links"] == []
        made = client.get(f"/overlay/{token}")
        assert made.status_code == 200
        assert made.headers["cache-control"] == "no-store"
        assert "script-src 'self'" in made.headers["content-security-policy"]
        assert client.get("/overlay/race.js").headers["content-type"].startswith("text/javascript")
        assert client.get(f"/overlay/{token}?size=400").status_code == 422
        for wrong in ("", "x", token[:-1], "../health"):
            assert client.get(f"/overlay/{wrong}/race.json").status_code == 404


def test_nothing_but_the_race_gets_out(bench: Bench) -> None:
    token = token_of(bench)
    put(bench, "A", "running", started_ms=1.0, conditions={"ambient_c": 21.0}, queue=[])
    with TestClient(make_app(bench.database)) as client:
        told = client.get(f"/overlay/{token}/race.json")
    assert set(told.json()) == {"lanes", "now_ms"}
    (lane,) = told.json()["lanes"]
    assert set(lane) == {
        "label",
        "task",
        "mark",
        "shape",
        "phase",
        "started_ms",
        "elapsed_s",
        "factor",
        "marks",
    }
    assert "nobody" not in told.text


def test_there_are_so_many_links_and_no_more(bench: Bench) -> None:
    for _ in range(overlay.MOST_LINKS):
        overlay.make_link(bench.database, bench.slug)
    with pytest.raises(RefusedError, match="12 links are the most: turn one off first"):
        overlay.make_link(bench.database, bench.slug)
