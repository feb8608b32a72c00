"""Processes and connections end at random moments while eight writers write.

Whatever was acknowledged is kept, once; whatever was not is sent again until it is. The app
comes back by itself, the database that it keeps as well.
"""

from __future__ import annotations

import os
import random
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from uuid import uuid4

import httpx2
import psutil
import psycopg
import pytest
from sqlalchemy import text

from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from tests.faults.conftest import wait_for
from tests.ports import own_port
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database

ROUNDS = int(os.environ.get("TRUE_MARGIN_LOAD_ROUNDS", "5"))
SEED = int(os.environ.get("TRUE_MARGIN_LOAD_SEED", "1"))
WRITERS = 8
BACK_WITHIN_S = 60.0


@dataclass
class Served:
    """The app by two processes, with the database that it keeps itself."""

    folder: Path
    port: int = field(default_factory=own_port)
    process: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start it, as whatever keeps services running would."""
        environment = {
            **os.environ,
            "TRUE_MARGIN_PORT": str(self.port),
            "TRUE_MARGIN_DATA": str(self.folder),
            "TRUE_MARGIN_WEB": str(PROJECT / "web" / "dist"),
        }
        environment.pop("DATABASE_URL", None)
        with (self.folder.parent / f"{self.folder.name}.log").open("ab") as log:
            self.process = subprocess.Popen(
                [sys.executable, "-m", "true_margin", "serve", "--workers", "2"],
                env=environment,
                stdout=log,
                stderr=log,
            )

    def well(self) -> bool:
        """Whether it answers, and its database does."""
        try:
            return httpx2.get(f"{self.address}/api/v1/ready", timeout=5).status_code == 200
        except httpx2.HTTPError:
            return False

    def taken(self) -> bool:
        """Whether somebody holds the port."""
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", self.port))
            except OSError:
                return True
        return False

    def until_well(self) -> float:
        """Wait until it is; gives the seconds."""
        began = time.monotonic()
        wait_for(self.well, BACK_WITHIN_S)
        return time.monotonic() - began

    def postgres(self) -> int:
        """The process of the database."""
        pid = (self.folder / "postgres" / "postmaster.pid").read_text().splitlines()[0]
        return int(pid)

    def said_last(self) -> str:
        """What the app wrote of its last failure."""
        log = self.folder.with_name(f"{self.folder.name}.log").read_text(errors="replace")
        return "Traceback" + log.rpartition("Traceback")[2][-4000:]

    def url(self) -> str:
        """Where the database answers now."""
        cluster = Cluster(self.folder)
        assert cluster.running()
        return cluster.url


@dataclass
class Written:
    """What one writer had acknowledged: runs by their key, and changes by run."""

    runs: dict[str, str] = field(default_factory=dict)
    changes: dict[str, int] = field(default_factory=dict)
    tries: int = 0
    wrong: list[str] = field(default_factory=list)


def write(served: Served, bench: Bench, ended: threading.Event, told: Written) -> None:
    """Store runs and void some, sending again whatever was not acknowledged."""
    setups, parade = [str(key) for key in bench.setups.values()], str(bench.tasks["Parade"])
    with httpx2.Client(base_url=served.address, timeout=20) as there:
        while not ended.is_set():
            key = uuid4().hex
            body = {
                "setup_id": random.choice(setups),
                "task_id": parade,
                "typed": "6:17",
                "client_key": key,
            }
            path = f"/api/v1/shootouts/{bench.slug}/runs"
            stored = _until_answered(told, lambda: there.post(path, json=body))  # noqa: B023
            run = stored.json()["run"]
            told.runs[key] = run["id"]
            if len(told.runs) % 4 == 0:
                void = {
                    "version": run["version"],
                    "status": "void",
                    "reason": "phone rang",
                    "why": key,
                }
                # A change that was kept but not acknowledged conflicts with itself the next time.
                answer = _until_answered(
                    told,
                    lambda: there.patch(f"/api/v1/runs/{run['id']}", json=void),  # noqa: B023
                )
                if answer.status_code in (200, 409):
                    told.changes[run["id"]] = 1


def _until_answered(told: Written, ask: Callable[[], httpx2.Response]) -> httpx2.Response:
    while True:
        told.tries += 1
        try:
            answer = ask()
        except httpx2.HTTPError:
            time.sleep(0.1)
            continue
        if answer.status_code < 500:
            if answer.status_code not in (200, 201, 409):
                told.wrong.append(f"{answer.status_code} {answer.text[:200]}")
            return answer
        if answer.status_code != 503:
            told.wrong.append(f"{answer.status_code} {answer.text[:200]}")
        time.sleep(0.1)


@pytest.fixture(scope="module")
def served() -> Iterator[Served]:
    folder = Path(tempfile.mkdtemp(prefix="true-margin-load-"))
    folder.chmod(0o755)
    made = Served(folder)
    made.start()
    made.until_well()
    yield made
    assert made.process is not None
    made.process.terminate()
    made.process.wait(60)
    shutil.rmtree(folder, ignore_errors=True)
    folder.with_name(f"{folder.name}.log").unlink(missing_ok=True)


def _end_a_process(served: Served, chance: random.Random) -> None:
    assert served.process is not None
    own = [
        each
        for each in psutil.Process(served.process.pid).children()
        if "spawn_main" in " ".join(each.cmdline())
    ]
    if own:
        chance.choice(own).kill()


def _end_the_server(served: Served, _: random.Random) -> None:
    assert served.process is not None
    served.process.kill()
    served.process.wait()
    # Its processes end with it, which frees the port.
    wait_for(lambda: not served.taken(), BACK_WITHIN_S)
    served.start()


def _end_the_database(served: Served, _: random.Random) -> None:
    os.kill(served.postgres(), signal.SIGKILL)


def _cut_connections(served: Served, _: random.Random) -> None:
    with _beside(served) as connection:
        connection.execute(
            "select pg_terminate_backend(pid) from pg_stat_activity "
            "where datname = current_database() and pid <> pg_backend_pid()"
        )


def _slow_database(served: Served, chance: random.Random) -> None:
    with _beside(served) as connection:
        connection.execute("begin")
        connection.execute("lock table runs in exclusive mode")
        time.sleep(chance.uniform(0.5, 1.5))
        connection.execute("rollback")


def _beside(served: Served) -> psycopg.Connection[tuple[object, ...]]:
    plain = served.url().replace("postgresql+psycopg://", "postgresql://", 1)
    return psycopg.connect(plain, autocommit=True)


FAULTS = (_end_a_process, _end_the_database, _cut_connections, _slow_database, _end_the_server)


@pytest.fixture
def database(served: Served) -> Iterator[Database]:
    """Its database, looked at from outside; closed whatever comes out."""
    found = Database(served.url())
    yield found
    found.close()


@pytest.mark.timeout(3 * 3600)
def test_nothing_acknowledged_is_lost_and_nothing_doubled(
    served: Served, database: Database
) -> None:
    chance = random.Random(SEED)
    bench = new_bench(database, "Under load")
    ended, told = threading.Event(), [Written() for _ in range(WRITERS)]
    writers = [
        threading.Thread(target=write, args=(served, bench, ended, each), daemon=True)
        for each in told
    ]
    for writer in writers:
        writer.start()
    back: list[float] = []
    for round_ in range(ROUNDS):
        time.sleep(chance.uniform(0.05, 0.8))
        FAULTS[round_ % len(FAULTS)](served, chance)
        back.append(served.until_well())
        assert served.process is not None
        assert served.process.poll() is None, "another process answers in its place"
    time.sleep(1.0)
    ended.set()
    for writer in writers:
        writer.join(BACK_WITHIN_S)
        assert not writer.is_alive(), "a writer is not answered any more"
    served.until_well()
    assert [each for one in told for each in one.wrong] == [], served.said_last()
    _judge(database, bench, told)
    acknowledged = sum(len(each.runs) for each in told)
    print(
        f"{ROUNDS} rounds, {acknowledged} runs and {sum(len(e.changes) for e in told)} changes "
        f"acknowledged in {sum(e.tries for e in told)} tries; back after "
        f"{sorted(back)[len(back) // 2]:.2f} s at the median, {max(back):.2f} s at most"
    )


def _judge(database: Database, bench: Bench, told: list[Written]) -> None:
    with database.transaction() as session:
        found = {
            str(key): str(run)
            for key, run in session.execute(
                text(
                    "select client_key, r.id from runs r join shootouts s on s.id = r.shootout_id "
                    "where s.slug = :slug"
                ),
                {"slug": bench.slug},
            )
        }
        places = session.scalars(
            text(
                "select place from runs r join shootouts s on s.id = r.shootout_id "
                "where s.slug = :slug order by place"
            ),
            {"slug": bench.slug},
        ).all()
        changed: dict[str, int] = {
            str(run): int(times)
            for run, times in session.execute(
                text("select run_id, count(*) from run_revisions group by run_id")
            )
        }
    acknowledged = {key: run for one in told for key, run in one.runs.items()}
    assert acknowledged == found, "what was acknowledged is there, once, and nothing else"
    assert len(places) == len(set(places)), "no two runs have one place"
    assert changed == {run: times for one in told for run, times in one.changes.items()}
    assert len(acknowledged) > ROUNDS
