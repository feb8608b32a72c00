"""``true-margin serve``: it refuses to be open to others, and several processes are as one."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx2
import psutil
import psycopg
import pytest

from tests.app.accounts import PASSWORD
from tests.ports import own_port
from true_margin.launch.cluster import Cluster

WAIT_S = 180.0
ASKED_WITHIN_S, REPLACED_WITHIN_S = 1.5, 30.0
"""Well below the minute after which a process that only hangs is given up."""


@pytest.fixture
def environment(cluster: Cluster, tmp_path: Path) -> dict[str, str]:
    """A data folder and a database of its own."""
    address = cluster.url.replace("postgresql+psycopg", "postgresql")
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute("drop database if exists served with (force)")
        connection.execute("create database served")
    return {
        **os.environ,
        "DATABASE_URL": address.rsplit("/", 1)[0] + "/served",
        "TRUE_MARGIN_DATA": str(tmp_path),
        "TRUE_MARGIN_PORT": str(own_port()),
    }


def command(*arguments: str) -> list[str]:
    return [sys.executable, "-m", "true_margin", *arguments]


def run(environment: dict[str, str], *arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        command(*arguments),
        env=environment,
        capture_output=True,
        text=True,
        check=False,
        timeout=WAIT_S,
    )


@contextmanager
def serving(environment: dict[str, str], *arguments: str) -> Iterator[subprocess.Popen[str]]:
    server = subprocess.Popen(
        command("serve", *arguments),
        env=environment,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        text=True,
    )
    try:
        yield server
    finally:
        server.terminate()
        server.wait(WAIT_S)


def until_well(there: httpx2.Client, server: subprocess.Popen[str]) -> None:
    deadline = time.monotonic() + WAIT_S
    while time.monotonic() < deadline:
        assert server.poll() is None, f"the server ended with {server.returncode}"
        try:
            if there.get("/api/v1/health").status_code == 200:
                return
        except httpx2.HTTPError:
            pass
        time.sleep(0.1)
    pytest.fail("the server did not become well")


def test_it_is_not_open_to_others(environment: dict[str, str]) -> None:
    beyond = run(environment, "serve", "--host", "0.0.0.0")  # noqa: S104
    assert beyond.returncode == 2
    assert "nobody signs in" in beyond.stderr
    nobody = run(environment, "serve", "--host", "0.0.0.0", "--sign-in")  # noqa: S104
    assert nobody.returncode == 2
    assert "true-margin invite" in nobody.stderr
    bare = run(environment, "serve", "--sign-in", "--plain", "--address", "http://bench.example")
    assert bare.returncode == 2
    assert "https://" in bare.stderr


def test_two_processes_serve_as_one_and_replace_each_other(environment: dict[str, str]) -> None:
    link = run(environment, "invite", "ada@bench.test").stdout.strip()
    base, _, token = link.partition("/invitation/")
    assert base == f"http://127.0.0.1:{environment['TRUE_MARGIN_PORT']}"
    with (
        serving(environment, "--sign-in", "--workers", "2") as server,
        httpx2.Client(base_url=base, timeout=10) as there,
    ):
        until_well(there, server)
        assert there.get("/api/v1/shootouts").status_code == 401
        form = {"name": "Ada", "email": "ada@bench.test", "password": PASSWORD}
        assert there.post(f"/invitation/{token}", data=form).status_code == 303
        body = {"name": "Two of them", "subject": "machine", "currency": "EUR"}
        made = there.post("/api/v1/shootouts", json=body)
        assert made.status_code == 201
        # Each connection may come to another process: all know the same.
        for _ in range(12):
            with httpx2.Client(base_url=base, cookies=there.cookies, timeout=10) as again:
                assert [s["slug"] for s in again.get("/api/v1/shootouts").json()] == [
                    made.json()["slug"]
                ]
        workers = _workers(server)
        assert len(workers) == 2
        # It ends while it is asked whether it goes on: nobody waits for its answer.
        workers[0].send_signal(signal.SIGSTOP)
        time.sleep(ASKED_WITHIN_S)
        workers[0].send_signal(signal.SIGKILL)
        deadline = time.monotonic() + REPLACED_WITHIN_S
        while _pids(server) == {w.pid for w in workers} or len(_pids(server)) < 2:
            assert time.monotonic() < deadline, "the process that ended was not replaced"
            time.sleep(0.1)
        until_well(there, server)
    assert server.returncode == 0


def _workers(server: subprocess.Popen[str]) -> list[psutil.Process]:
    """The processes that serve; multiprocessing has a helper of its own beside them."""
    return [
        each
        for each in psutil.Process(server.pid).children()
        if "spawn_main" in " ".join(_line(each))
    ]


def _line(process: psutil.Process) -> list[str]:
    try:
        return process.cmdline()
    except psutil.Error:
        return []


def _pids(server: subprocess.Popen[str]) -> set[int]:
    return {each.pid for each in _workers(server)}
