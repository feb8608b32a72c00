"""The private cluster and the start command when things are not as they should be."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import httpx2 as httpx
import psycopg
import pytest

from tests.conftest import PROJECT
from tests.ports import own_port
from true_margin.launch.cluster import Cluster, ClusterError, Owner, can_enter

COMMAND = [sys.executable, "-m", "true_margin"]


@pytest.fixture
def folder() -> Iterator[Path]:
    made = Path(tempfile.mkdtemp(prefix="true-margin-launch-"))
    made.chmod(0o755)
    yield made
    Cluster(made).stop()
    shutil.rmtree(made, ignore_errors=True)


def ask(cluster: Cluster, statement: str) -> object:
    address = cluster.url.replace("postgresql+psycopg", "postgresql")
    with psycopg.connect(address, autocommit=True) as connection:
        cursor = connection.execute(statement)
        return cursor.fetchone() if cursor.description else None


def server_pid(cluster: Cluster) -> int:
    return int((cluster.data / "postmaster.pid").read_text().splitlines()[0])


def wait_gone(pid: int) -> None:
    deadline = time.monotonic() + 20
    while Path(f"/proc/{pid}").exists() and time.monotonic() < deadline:
        time.sleep(0.05)


def test_power_cuts_and_half_made_clusters(folder: Path) -> None:
    """One life of a cluster: made, killed, restarted; nothing that was written is lost."""
    (folder / "postgres.making-interrupted").mkdir()
    cluster = Cluster(folder)
    cluster.start()
    assert not list(folder.glob("postgres.making-*"))
    ask(cluster, "create table kept (x int)")
    ask(cluster, "insert into kept values (42)")

    pid = server_pid(cluster)
    os.kill(pid, signal.SIGKILL)
    wait_gone(pid)
    assert (cluster.data / "postmaster.pid").exists(), "the pid file is stale now"
    again = Cluster(folder)
    again.start()
    assert ask(again, "select x from kept") == (42,)

    adopting = Cluster(folder)
    adopting.start()
    assert adopting.port == again.port, "a server that is up is taken over, not started twice"

    again.stop()
    stale = cluster.data / "postmaster.pid"
    stale.write_text(f"{os.getpid()}\n{cluster.data}\n0\n1\n\n127.0.0.1\n")
    shutil.chown(stale, *[cluster.data.owner()] * 1)
    last = Cluster(folder)
    last.start()
    assert ask(last, "select x from kept") == (42,)


def test_a_folder_with_other_files_is_left_alone(folder: Path) -> None:
    (folder / "postgres").mkdir()
    (folder / "postgres" / "letters.txt").write_text("mine")
    with pytest.raises(ClusterError, match="not a whole database"):
        Cluster(folder).start()
    assert (folder / "postgres" / "letters.txt").read_text() == "mine"


def test_a_cluster_of_a_version_that_is_missing(folder: Path) -> None:
    (folder / "postgres").mkdir()
    (folder / "postgres" / "PG_VERSION").write_text("9999\n")
    with pytest.raises(ClusterError, match="postgresql-9999"):
        Cluster(folder).start()


def test_a_closed_parent_is_named(tmp_path: Path) -> None:
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o700)
    stranger = Owner("stranger", 65533, 65533)
    tmp_path.chmod(0o755)
    assert can_enter(closed / "data" / "postgres", stranger) in (closed, *closed.parents)
    me = Owner("me", os.geteuid(), os.getegid())
    assert can_enter(closed / "data", me) is None


def start(folder: Path, port: int, **more: str) -> subprocess.Popen[str]:
    environment = {
        **os.environ,
        "TRUE_MARGIN_DATA": str(folder),
        "TRUE_MARGIN_PORT": str(port),
        **more,
    }
    return subprocess.Popen(
        [*COMMAND, "demo"],
        cwd=PROJECT,
        env=environment,
        text=True,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
    )


def wait_ready(process: subprocess.Popen[str]) -> str:
    assert process.stdout is not None
    line = process.stdout.readline()
    assert "ready" in line, line + process.stdout.read()
    return line


def other(folder: Path, command: str, port: int) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "TRUE_MARGIN_DATA": str(folder), "TRUE_MARGIN_PORT": str(port)}
    return subprocess.run(
        [*COMMAND, command],
        cwd=PROJECT,
        env=environment,
        text=True,
        capture_output=True,
        check=False,
    )


def test_start_stop_and_start_again(folder: Path) -> None:
    port = own_port()
    process = start(folder, port)
    assert wait_ready(process).strip().endswith(f"http://127.0.0.1:{port}")
    address = f"http://127.0.0.1:{port}/api/v1"
    names = [each["name"] for each in httpx.get(f"{address}/shootouts").json()]
    assert "Which machine for the festival season?" in names
    httpx.post(f"{address}/shootouts", json={"name": "Mine"}).raise_for_status()

    second = start(folder, own_port())
    output, _ = second.communicate(timeout=180)
    assert second.returncode == 2
    assert "runs already" in output
    assert "make stop" in output

    reset = other(folder, "reset-demo", port)
    assert "put aside" in reset.stdout, reset.stderr
    after = [each["name"] for each in httpx.get(f"{address}/shootouts").json()]
    assert sorted(after) == sorted([*names, "Mine"])

    process.send_signal(signal.SIGINT)
    output, _ = process.communicate(timeout=180)
    assert process.returncode == 0, output
    assert "Traceback" not in output
    assert not (folder / "postgres" / "postmaster.pid").exists()

    process = start(folder, port)
    wait_ready(process)
    kept = [each["name"] for each in httpx.get(f"{address}/shootouts").json()]
    assert "Mine" in kept
    assert other(folder, "stop", port).stdout == "Stopped.\n"
    process.communicate(timeout=180)
    assert process.returncode == 0
    assert other(folder, "stop", port).stdout == "Nothing was running.\n"


def test_a_killed_app_is_cleaned_up_by_the_next_start(folder: Path) -> None:
    port = own_port()
    process = start(folder, port)
    wait_ready(process)
    process.kill()
    process.communicate(timeout=180)
    again = start(folder, port)
    wait_ready(again)
    again.terminate()
    again.communicate(timeout=180)
    assert again.returncode == 0
    assert not (folder / "postgres" / "postmaster.pid").exists()


def test_a_taken_port_is_said_and_nothing_is_started(folder: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        process = start(folder, taken.getsockname()[1])
        output, _ = process.communicate(timeout=180)
    assert process.returncode == 2
    assert "is taken" in output
    assert "TRUE_MARGIN_PORT=" in output
    assert not (folder / "postgres").exists()


def test_another_postgresql_by_address(folder: Path, cluster: Cluster) -> None:
    address = cluster.url.replace("postgresql+psycopg", "postgresql")
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute("create database elsewhere")
    process = start(folder, own_port(), DATABASE_URL=address.rsplit("/", 1)[0] + "/elsewhere")
    wait_ready(process)
    process.terminate()
    process.communicate(timeout=180)
    assert not (folder / "postgres").exists()
    away = start(folder, own_port(), DATABASE_URL="postgresql://nobody:x@127.0.0.1:9/none")
    output, _ = away.communicate(timeout=180)
    assert away.returncode == 2
    assert "does not answer" in output


def test_a_setting_that_is_off_is_named(folder: Path) -> None:
    process = start(folder, 99999)
    output, _ = process.communicate(timeout=180)
    assert process.returncode == 2
    assert "port" in output
