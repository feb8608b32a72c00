"""What a reviewer noted, through the API: words, steps, entries, readings, another measure."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient

from tests.app.test_line_up_and_tasks import API, said
from tests.desk.helpers import Bench, new_bench
from true_margin.app.main import make_app
from true_margin.store.database import Database

PNG = b"\x89PNG\r\n\x1a\n" + bytes(40)


@pytest.fixture(scope="module")
def client(database: Database) -> TestClient:
    return TestClient(make_app(database))


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Noted")
    bench.run("A", "2390")
    bench.run("B", "3150")
    return bench


def task(bench: Bench) -> str:
    return f"{API}/tasks/{bench.tasks['Parade']}"


def of_pair(bench: Bench, **more: Any) -> dict[str, Any]:
    both = {"setup_id": str(bench.setups["A"]), "other_setup_id": str(bench.setups["B"])}
    return {**both, "judged_as": "not the same", "reason": "no titles", **more}


def test_a_word_is_kept_shown_with_the_pair_and_taken_back(
    client: TestClient, bench: Bench
) -> None:
    kept = said(client.post(f"{task(bench)}/judgements", json=of_pair(bench)), 201)
    assert (kept["judged_as"], kept["withdrawn_at"]) == ("not the same", None)
    where = f"{API}/shootouts/{bench.slug}/margins"
    ask = {"task": str(bench.tasks["Parade"]), "a": str(bench.setups["A"])}
    pair = said(client.get(f"{where}/pair", params={**ask, "b": str(bench.setups["B"])}), 200)
    assert pair["call"] == "not comparable"
    assert pair["parity"][0]["judgement"]["id"] == kept["id"]
    again = client.post(f"{task(bench)}/judgements", json=of_pair(bench))
    assert said(again, 422)["field"] == "judged_as"
    where = f"{API}/judgements/{kept['id']}/withdrawal"
    assert said(client.post(where, json={}), 422)
    assert (
        said(client.post(where, json={"why": "seen again"}), 200)["withdrawn_why"] == "seen again"
    )


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"judged_as": "alike"}, "judged_as"),
        ({"reason": None}, "reason"),
        ({"reason": " "}, "reason"),
        ({"other_setup_id": str(uuid4())}, "other_setup_id"),
        ({"other_setup_id": None}, "other_setup_id"),
        ({"surprise": 1}, "surprise"),
    ],
)
def test_a_word_that_says_nothing_is_refused_at_its_field(
    client: TestClient, bench: Bench, more: dict[str, Any], field: str
) -> None:
    answer = said(client.post(f"{task(bench)}/judgements", json=of_pair(bench, **more)), 422)
    assert answer["field"] == field


def test_another_measure_is_shown_first_and_then_done(client: TestClient, bench: Bench) -> None:
    asked = {"version": 1, "measure": "amount", "unit": "points"}
    seen = said(client.post(f"{task(bench)}/measure", json=asked), 200)
    assert (seen["stored"], seen["problems"]) == (False, 0)
    assert [row["becomes"] for row in seen["rows"]] == ["2390 points", "3150 points"]
    done = said(client.post(f"{task(bench)}/measure", json={**asked, "really": True}), 200)
    assert done["stored"] is True
    late = said(client.post(f"{task(bench)}/measure", json={**asked, "really": True}), 409)
    assert late["current"]["measure"] == "amount"
    for odd, field in (({"measure": "observation"}, "measure"), ({"bare": "days"}, "bare")):
        wrong = client.post(f"{task(bench)}/measure", json={**asked, "version": 2, **odd})
        assert said(wrong, 422)["field"] == field


def test_the_same_task_in_another_app(client: TestClient, bench: Bench) -> None:
    made = said(client.post(f"{task(bench)}/copies", json={"app": "Kiln"}), 201)
    assert (made["name"], made["own_name"], made["app"]) == ("Parade in Kiln", "Parade", "Kiln")
    assert said(client.post(f"{task(bench)}/copies", json={"app": "heddle"}), 422)["field"] == "app"
    assert said(client.post(f"{API}/tasks/{uuid4()}/copies", json={"app": "X"}), 404)


def test_what_a_task_is_sensitive_to_is_held_to_its_limits(
    client: TestClient, bench: Bench
) -> None:
    told = {"to": "memory", "up_to_s": 20, "why": "tried with half of it"}
    kept = said(client.patch(task(bench), json={"version": 1, "sensitivities": [told]}), 200)
    assert kept["sensitivities"] == [told]
    for odd in ({"to": "", "up_to_s": 1}, {"to": "x", "up_to_s": 0}, {"to": "x", "up_to_s": 1e9}):
        answer = client.patch(task(bench), json={"version": 2, "sensitivities": [odd]})
        assert "sensitivities" in said(answer, 422)["field"]
    gone = said(client.patch(task(bench), json={"version": 2, "sensitivities": None}), 200)
    assert gone["sensitivities"] == []


def test_steps_of_an_inquiry_one_after_the_other(client: TestClient, bench: Bench) -> None:
    first = {"kind": "other", "about": "B is slow", "suspected": "a backup"}
    view = said(client.post(f"{API}/shootouts/{bench.slug}/inquiries", json=first), 201)
    where = f"{API}/inquiries/{view['inquiry']['id']}/steps"
    step = {"version": 1, "kind": "changed", "words": "backup off"}
    assert len(said(client.post(where, json=step), 201)["steps"]) == 2
    assert said(client.post(where, json=step), 409)["current"]["version"] == 2
    last = {"version": 2, "kind": "came out", "words": "it repeats", "counts": "again"}
    closed = said(client.post(where, json=last), 201)
    assert closed["inquiry"]["closed_at"] is not None
    late = client.post(where, json={**step, "version": 3})
    assert said(late, 422)["field"] == "kind"
    assert said(client.post(where, json={**step, "kind": "guessed"}), 422)["field"] == "kind"


def test_entries_of_no_task_with_a_picture(client: TestClient, bench: Bench) -> None:
    where = f"{API}/shootouts/{bench.slug}"
    seen = {"setup_id": str(bench.setups["A"]), "kind": "crash", "app": "Kiln", "times": 2}
    noted = said(client.post(f"{where}/troubles", json=seen), 201)["troubles"][0]
    assert (noted["task_id"], noted["app"]) == (None, "Kiln")
    files = {"file": ("crash.png", PNG, "image/png")}
    said(client.post(f"{API}/troubles/{noted['id']}/pictures", files=files), 201)
    (entry,) = said(client.get(f"{where}/log"), 200)["entries"]
    (picture,) = entry["pictures"]
    shown = client.get(f"{API}/pictures/{picture['id']}")
    assert (shown.status_code, shown.content) == (200, PNG)
    bad = {"file": ("crash.txt", b"no picture", "text/plain")}
    wrong = client.post(f"{API}/troubles/{noted['id']}/pictures", files=bad)
    assert said(wrong, 422)["field"] == "file"
    for odd, field in (({"times": 0}, "times"), ({"task_id": str(uuid4())}, "app")):
        answer = client.post(f"{where}/troubles", json={**seen, **odd})
        assert said(answer, 422)["field"] == field


def test_readings_of_a_run_that_is_over(client: TestClient, bench: Bench) -> None:
    run = bench.run("A", "10:00").run
    where = f"{API}/runs/{run.id}/readings"
    detail = said(client.post(where, json={"noise_db": 41}), 201)
    (mark,) = detail["marks"]
    assert (mark["elapsed_s"], mark["noise_db"]) == (600.0, 41.0)
    instead = {"why": "misheard", "instead": {"noise_db": 31}}
    right = said(client.post(f"{API}/marks/{mark['id']}/withdrawal", json=instead), 200)
    assert sorted(str(each["withdrawn_why"]) for each in right["marks"]) == ["None", "misheard"]
    assert said(client.post(where, json={}), 422)["field"] == "marks"
    assert said(client.post(where, json={"noise_db": 999}), 422)["field"] == "noise_db"


def test_a_plan_and_alike_samples_are_settings(client: TestClient, bench: Bench) -> None:
    where = f"{API}/shootouts/{bench.slug}"
    version = said(client.get(where), 200)["version"]
    changes = {"version": version, "planned_runs": 3, "unit_prior_cv": 0}
    kept = said(client.patch(where, json=changes), 200)
    assert (kept["planned_runs"], kept["unit_prior_cv"]) == (3, 0.0)
    for odd in ({"planned_runs": 0}, {"planned_runs": 2.5}, {"unit_prior_cv": -0.1}):
        answer = client.patch(where, json={"version": kept["version"], **odd})
        assert said(answer, 422)["field"] == next(iter(odd))
