"""Watching a folder all day, and what is said of a server that is not trusted."""

from __future__ import annotations

import hashlib
import signal
import ssl
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.cli import cli
from true_margin.desk.runs import runs
from true_margin.launch.certificate import own_certificate
from true_margin.store.database import Database
from true_margin.watcher import command
from true_margin.watcher.calls import AwayError, CertificateError, SendError, fetch_certificate
from true_margin.watcher.send import Server, pair
from true_margin.watcher.watch import Watched

POLL_S = "0.1"
COOKIE = "tm_device=secret; Path=/"


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Watched all day")
    bench.task("Titles", work=90.0, unit="s")
    return bench


def _export(folder: Path, name: str) -> None:
    with (folder / name).open("wb", buffering=0) as file:
        for _ in range(4):
            file.write(b"x" * 500)
            time.sleep(0.1)


def test_one_export_after_another_goes_to_the_next_task(
    tmp_path: Path, address: str, bench: Bench
) -> None:
    folder = tmp_path / "out"
    folder.mkdir()
    process = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "true_margin",
            "watch",
            str(folder),
            "--pattern",
            "*.mp4",
            "--shootout",
            bench.slug,
            "--setup",
            "A",
            "--task",
            "Parade",
            "--task",
            "Titles",
            "--server",
            address,
            "--poll",
            POLL_S,
            "--repeat",
            "--log",
            str(tmp_path / "log.jsonl"),
        ],
        cwd=PROJECT,
        stdout=subprocess.PIPE,
        text=True,
    )
    assert process.stdout is not None
    said: list[str] = []
    for name in ("one.mp4", "two.mp4", "three.mp4"):
        for line in process.stdout:
            said.append(line)
            if line.startswith("Armed"):
                break
        _export(folder, name)
    for line in process.stdout:
        said.append(line)
        if line.startswith("Armed"):
            break
    process.send_signal(signal.SIGINT)
    try:
        out, _ = process.communicate(timeout=180)
    finally:
        process.kill()
    assert "Stopped watching" in out
    assert [line.strip() for line in said if line.startswith("Next")] == [
        "Next: Parade.",
        "Next: Titles.",
        "Next: Parade.",
        "Next: Titles.",
    ]
    stored = runs.show_runs(bench.database, bench.slug).runs
    titles = sum(each.run.task_id == bench.tasks["Titles"] for each in stored)
    assert (len(stored), titles) == (3, 1)
    assert all(each.run.status == "ok" for each in stored)


def test_a_mistyped_name_is_said_before_the_export(address: str, bench: Bench) -> None:
    what = Watched(Path(), "*.mp4", bench.slug, "Z", "Parade")
    with Server(address) as there, pytest.raises(SendError, match="no setup 'Z'; there are: A, B"):
        command.check_names(there, what, ("Parade",), lambda _: None)
    said: list[str] = []
    with Server("http://127.0.0.1:1") as away:
        command.check_names(away, what, ("Parade", "Titles"), said.append)
    assert "Whether Z and Parade, Titles are there is not known." in said[0]


class _Pairs(BaseHTTPRequestHandler):
    """Takes any code."""

    def do_POST(self) -> None:
        """Pair."""
        self.rfile.read(int(self.headers["Content-Length"]))
        self.send_response(200)
        self.send_header("Set-Cookie", COOKIE)
        self.end_headers()

    def log_message(self, format: str, *args: Any) -> None:  # noqa: A002 - its name
        """Say nothing."""


@pytest.fixture(scope="module")
def secure(tmp_path_factory: Any) -> Iterator[tuple[str, str]]:
    """A server with a certificate of its own: its address and its certificate's digits."""
    files = own_certificate(tmp_path_factory.mktemp("tls"), ("127.0.0.1",))
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(files.certificate, files.key)
    server = HTTPServer(("127.0.0.1", 0), _Pairs)
    server.socket = context.wrap_socket(server.socket, server_side=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    der = ssl.PEM_cert_to_DER_cert(Path(files.certificate).read_text())
    yield f"https://127.0.0.1:{server.server_address[1]}", hashlib.sha256(der).hexdigest()
    server.shutdown()
    server.server_close()


def test_a_certificate_that_is_not_trusted_is_said_to_be_that(secure: tuple[str, str]) -> None:
    address, _ = secure
    with pytest.raises(CertificateError, match=r"does not trust: .*--fingerprint"):
        pair(address, "code", "watcher")
    with Server(address) as there, pytest.raises(CertificateError, match="does not trust"):
        there.setup_id("any", "A")


def test_the_certificate_travels_with_the_pairing(secure: tuple[str, str], tmp_path: Path) -> None:
    address, digits = secure
    out = tmp_path / "token"
    parted = ":".join(digits[i : i + 2] for i in range(0, len(digits), 2)).upper()
    asked = ["pair", "code", "--server", address, "--out", str(out), "--fingerprint"]
    done = CliRunner().invoke(cli, [*asked, parted])
    assert done.exit_code == 0, done.output
    assert out.read_text() == "secret"
    # What it wrote beside the token is trusted from now on.
    assert pair(address, "code", "watcher", str(tmp_path / "token.pem")) == "secret"
    wrong = CliRunner().invoke(cli, [*asked, "00" * 32])
    assert wrong.exit_code == 2
    assert "another certificate than the desk says" in wrong.output


def test_a_server_that_is_away_is_no_bad_certificate() -> None:
    with pytest.raises(AwayError, match="does not answer"):
        fetch_certificate("https://127.0.0.1:1", "00")
