"""A whole life of the app that can be killed: own cluster, own process, own browser."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

import httpx2 as httpx
import pytest
from playwright.sync_api import Browser, Playwright

from tests.browser.serving import launch
from tests.conftest import PROJECT
from tests.ports import own_port
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database

ROUNDS = int(os.environ.get("TRUE_MARGIN_FAULT_ROUNDS", "1"))
"""How often each fault is tried; more of them with ``make faults``."""
CUT_S = float(os.environ.get("TRUE_MARGIN_FAULT_CUT_S", "6"))
"""How long the network is cut."""


@dataclass
class Life:
    """The app as a process of its own on a durable cluster of its own."""

    folder: Path
    cluster: Cluster
    port: int = field(default_factory=own_port)
    process: subprocess.Popen[bytes] | None = None

    def __post_init__(self) -> None:
        self.cluster.start()
        self.database = Database(self.cluster.url)
        self.database.migrate()

    @property
    def address(self) -> str:
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        """Start the app and wait until it answers."""
        (self.folder / "no demo").mkdir(exist_ok=True)
        environment = {
            **os.environ,
            "DATABASE_URL": self.cluster.url,
            "TRUE_MARGIN_PORT": str(self.port),
            "TRUE_MARGIN_DATA": str(self.folder / "app"),
            "TRUE_MARGIN_WEB": str(WEB),
            "TRUE_MARGIN_DEMO": str(self.folder / "no demo"),
        }
        self.process = subprocess.Popen(
            [sys.executable, "-m", "true_margin", "demo"],
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        wait_for(self.answers, 180)

    def answers(self) -> bool:
        """Whether the app and its database answer."""
        try:
            return httpx.get(f"{self.address}/api/v1/health", timeout=5).status_code == 200
        except httpx.HTTPError:
            return False

    def kill(self) -> None:
        """End the app as a power cut would: at once, without a word."""
        assert self.process is not None
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def restart_database(self) -> None:
        """End the database at once, mid-sentence, and start it again where it was."""
        port = self.cluster.port
        assert port is not None
        pid = int((self.cluster.data / "postmaster.pid").read_text().splitlines()[0])
        os.kill(pid, signal.SIGKILL)
        while Path(f"/proc/{pid}").exists():
            time.sleep(0.02)
        # Its children notice on their own, and hold the data until they have.
        wait_for(lambda: self._started_on(port), 60)

    def _started_on(self, port: int) -> bool:
        done = self.cluster._start_on(port).returncode == 0
        if done:
            self.cluster.port = port
        return done


WEB = PROJECT / "web" / "dist"


def wait_for(ready: object, seconds: float) -> None:
    """Wait until something is so."""
    assert callable(ready)
    until = time.monotonic() + seconds
    while not ready():
        assert time.monotonic() < until, f"not so after {seconds} s"
        time.sleep(0.05)


@pytest.fixture(scope="module")
def life() -> Iterator[Life]:
    """One app for the faults of a module."""
    folder = Path(tempfile.mkdtemp(prefix="true-margin-faults-"))
    folder.chmod(0o755)
    made = Life(folder, Cluster(folder))
    made.start()
    yield made
    if made.process is not None and made.process.poll() is None:
        made.process.terminate()
        made.process.wait(timeout=30)
    made.database.close()
    made.cluster.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="module")
def browser(playwright: Playwright) -> Iterator[Browser]:
    """One browser for all faults."""
    browser = launch(playwright)
    yield browser
    browser.close()
