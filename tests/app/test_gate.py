"""The gate: an unpaired device is served nothing, a paired one its own bench, a revoked one nothing."""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.app.gate import COOKIE, MOST_WRONG, Gate
from true_margin.app.main import make_app
from true_margin.app.outside import Outside
from true_margin.desk.access import pairing
from true_margin.desk.bench import lanes
from true_margin.desk.publish import editions
from true_margin.desk.runs import runs
from true_margin.launch.certificate import own_addresses, own_certificate
from true_margin.store import records
from true_margin.store.database import Database

OUT = "https://bench.test:8438"


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Gate")


@pytest.fixture
def outside(database: Database) -> Iterator[TestClient]:
    """A device that comes in from outside, not paired yet."""
    own = Database(database.url)
    app = make_app(own, PROJECT / "web" / "dist")
    yield TestClient(Gate(app, database), base_url=OUT, follow_redirects=False)
    own.close()


def paired(outside: TestClient, bench: Bench, name: str = "phone") -> TestClient:
    code = pairing.make_code(bench.database, bench.slug).code
    # Typed by hand: small letters and a space do no harm.
    typed = f"{code[:3].lower()} {code[3:]}"
    answer = outside.post("/pair", data={"code": typed, "name": name})
    assert (answer.status_code, answer.headers["location"]) == (303, f"/s/{bench.slug}/bench")
    cookie = answer.headers["set-cookie"]
    assert all(word in cookie for word in ("HttpOnly", "Secure", "SameSite=strict"))
    return outside


def test_an_unpaired_device_is_served_nothing_but_the_way_in(
    outside: TestClient, bench: Bench
) -> None:
    for path in ("/", f"/s/{bench.slug}/bench", "/assets/index.js", "/theme.js"):
        answer = outside.get(path)
        assert (answer.status_code, answer.headers["location"]) == (303, "/pair"), path
    for method in ("GET", "POST", "PATCH", "PUT", "DELETE"):
        for path in ("/api/v1/shootouts", f"/api/v1/shootouts/{bench.slug}/runs", "/api/v1/clock"):
            answer = outside.request(method, path)
            assert answer.status_code == 401, (method, path)
            assert bench.slug not in answer.text
    page = outside.get("/pair?code=<script>")
    assert page.status_code == 200
    assert "<script>" not in page.text.lower()
    assert bench.slug not in page.text


def test_a_paired_device_works_on_its_own_bench_only(outside: TestClient, bench: Bench) -> None:
    other = new_bench(bench.database, "Another")
    foreign = other.run("A", "5:00").run
    own = bench.run("A", "6:00").run
    phone = paired(outside, bench)
    base = f"/api/v1/shootouts/{bench.slug}"
    for path in (
        base,
        f"{base}/bench",
        f"{base}/bench/lanes",
        f"{base}/runs",
        "/api/v1/clock",
        f"/api/v1/runs/{own.id}",
        f"/s/{bench.slug}/bench",
        "/theme.js",
    ):
        assert phone.get(path).status_code == 200, path
    fields = {
        "setup_id": str(bench.setups["A"]),
        "task_id": str(bench.tasks["Parade"]),
        "typed": "6:10",
        "client_key": "from the phone",
    }
    assert phone.post(f"{base}/runs", json=fields).status_code == 201
    made = runs.show_runs(bench.database, bench.slug).runs[-1].run
    assert made.who == "phone (paired)"
    refused = [
        ("GET", "/api/v1/shootouts"),
        ("GET", f"/api/v1/shootouts/{other.slug}"),
        ("GET", f"{base}/devices"),
        ("GET", f"/s/{other.slug}/bench"),
        ("GET", f"/api/v1/runs/{foreign.id}"),
        ("PATCH", f"/api/v1/runs/{foreign.id}"),
        ("POST", f"/api/v1/runs/{foreign.id}/marks"),
        ("GET", "/api/v1/openapi.json"),
        ("POST", f"{base}/devices/code"),
        ("POST", f"{base}/devices/watcher"),
        ("POST", f"{base}/machines"),
        ("PATCH", base),
        ("POST", "/api/v1/shootouts"),
        ("GET", "/standins/price-feed/offers"),
        ("POST", f"{base}/bench/rigs"),
        ("GET", f"{base}/../{other.slug}"),
        ("POST", f"/api/v1/shootouts/{other.slug}/runs"),
        ("DELETE", f"/api/v1/runs/{own.id}"),
        ("GET", "/api/v1/runs/nonsense"),
    ]
    for method, path in refused:
        assert phone.request(method, path, json={}).status_code in (403, 404), (method, path)


def test_a_revoked_device_is_let_in_no_longer(outside: TestClient, bench: Bench) -> None:
    phone = paired(outside, bench, name="")
    (device,) = pairing.list_devices(bench.database, bench.slug)
    assert device.name == "a device"
    pairing.revoke(bench.database, device.id)
    pairing.revoke(bench.database, device.id)
    assert phone.get(f"/api/v1/shootouts/{bench.slug}").status_code == 401
    (device,) = pairing.list_devices(bench.database, bench.slug)
    assert device.revoked_at is not None


def test_a_device_with_a_name_without_end_still_enters_runs(
    outside: TestClient, bench: Bench
) -> None:
    phone = paired(outside, bench, name="phone " * 200)
    fields = {
        "setup_id": str(bench.setups["A"]),
        "task_id": str(bench.tasks["Parade"]),
        "typed": "6:10",
        "client_key": "a long name",
    }
    assert phone.post(f"/api/v1/shootouts/{bench.slug}/runs", json=fields).status_code == 201


def test_one_set_of_rigs_stands_on_a_bench_at_a_time(
    database: Database, demo: records.Shootout, monkeypatch: pytest.MonkeyPatch
) -> None:
    idle = (sys.executable, "-c", "import time; time.sleep(60)")
    monkeypatch.setattr("true_margin.desk.bench.rigs.PROGRAM", idle)
    path = f"/api/v1/shootouts/{demo.slug}/bench/rigs"
    app = make_app(Database(database.url))
    with TestClient(app) as desk:
        assert desk.post(path, json={}).status_code == 201
        again = desk.post(path, json={})
        assert (again.status_code, "already" in again.text) == (422, True)
        program = app.state.rigs[demo.slug]
    assert program.poll() is not None, "they end with the app"


def test_a_code_is_good_once_and_only_the_newest(outside: TestClient, bench: Bench) -> None:
    older = pairing.make_code(bench.database, bench.slug).code
    code = pairing.make_code(bench.database, bench.slug).code
    assert outside.post("/pair", data={"code": older}).status_code == 422
    assert outside.post("/pair", data={"code": code}).status_code == 303
    outside.cookies.clear()
    again = outside.post("/pair", data={"code": code})
    assert again.status_code == 422
    assert "wrong or too old" in again.text


def test_guessing_is_slowed_down(outside: TestClient, bench: Bench) -> None:
    for _ in range(MOST_WRONG):
        assert outside.post("/pair", data={"code": "AAAAAA"}).status_code == 422
    code = pairing.make_code(bench.database, bench.slug).code
    assert outside.post("/pair", data={"code": code}).status_code == 429


@pytest.mark.parametrize("cookie", ["", "nonsense", "x" * 5000, "tm_device", '"', "a=b; ;;"])
def test_a_cookie_that_is_none(outside: TestClient, cookie: str) -> None:
    for header in (cookie, f"{COOKIE}={cookie}"):
        answer = outside.get("/api/v1/shootouts", headers={"Cookie": header})
        assert answer.status_code == 401


def test_the_desk_shows_code_and_square_where_others_are_let_in(bench: Bench) -> None:
    # The bench's own database: nothing here closes another one.
    app = make_app(bench.database)
    desk = TestClient(app)
    base = f"/api/v1/shootouts/{bench.slug}/devices"
    shut = desk.post(f"{base}/code")
    assert (shut.status_code, "make demo HOST" in shut.text) == (422, True)
    app.state.outside = Outside((OUT,), "AB:CD")
    shown = desk.post(f"{base}/code").json()
    assert len(shown["code"]) == 6
    assert shown["square"].startswith("data:image/svg+xml")
    assert desk.get(base).json()["addresses"] == [OUT]


def test_the_certificate_is_kept_and_made_again_for_a_new_address(tmp_path: Path) -> None:
    first = own_certificate(tmp_path / "tls", ("192.0.2.7", "desk"))
    assert first.key.stat().st_mode & 0o077 == 0, "the key is for this user only"
    assert own_certificate(tmp_path / "tls", ("192.0.2.7",)) == first
    moved = own_certificate(tmp_path / "tls", ("192.0.2.8",))
    assert moved.fingerprint != first.fingerprint
    moved.certificate.write_text("damaged")
    assert own_certificate(tmp_path / "tls", ("192.0.2.8",)).fingerprint != moved.fingerprint
    assert own_addresses("desk.test") == ("desk.test",)
    assert own_addresses("::")


def test_rigs_that_ended_with_the_app_leave_the_bench(bench: Bench) -> None:
    lane = {
        "id": "rig lane",
        "setup_id": str(bench.setups["A"]),
        "queue": [],
        "key": "k",
        "task_id": str(bench.tasks["Parade"]),
        "phase": "armed",
        "timed_by": "rig",
    }
    event = lanes.NewEvent("rig", 1, "armed", time.time() * 1000.0 - 5000, lane)
    lanes.put_events(bench.database, bench.slug, [event])
    assert lanes.clear_rigs(bench.database) >= 1
    (left,) = lanes.show_lanes(bench.database, bench.slug).lanes
    assert left.lane["phase"] == "gone"
    assert lanes.clear_rigs(bench.database) == 0


def test_a_public_page_is_read_by_strangers_and_nothing_else(
    outside: TestClient, bench: Bench
) -> None:
    bench.run("A", "6:10")
    bench.run("B", "9:10")
    (link,) = editions.publish_edition(bench.database, bench.slug, None, "Marit").links
    page = outside.get(f"/p/{link.token}")
    assert page.status_code == 200
    assert "How long a job takes" in page.text
    assert outside.get("/p/fonts/head.ttf").status_code == 200
    assert outside.post(f"/p/{link.token}").status_code in (303, 401)
    for path in ("/p/../api/v1/shootouts", "/p/%2e%2e/api/v1/shootouts", "/p/fonts/..%2fhead.ttf"):
        assert bench.slug not in outside.get(path).text
    # A paired phone works on the bench; links and reports are the desk's.
    phone = paired(outside, bench)
    base = f"/api/v1/shootouts/{bench.slug}"
    for path in (f"{base}/public", f"{base}/reports", f"{base}/pack"):
        assert phone.get(path).status_code == 403, path
