"""The app in a thread, for a browser to look at."""

from __future__ import annotations

import shutil
import socket
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn
from playwright.sync_api import Browser, Playwright

from tests.conftest import PROJECT
from true_margin.app.access import OPEN, Access
from true_margin.app.main import make_app
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database


@contextmanager
def throwaway_cluster(name: str) -> Iterator[Cluster]:
    """A running cluster of its own that is not durable, and gone afterwards."""
    folder = Path(tempfile.mkdtemp(prefix=f"true-margin-{name}-"))
    # The database's owner may be another user than the one who runs this.
    folder.chmod(0o755)
    cluster = Cluster(folder, durable=False)
    cluster.start()
    try:
        yield cluster
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-sync",
    "--disable-component-update",
    "--no-first-run",
]


@contextmanager
def serving(url: str, access: Access = OPEN, *, works: bool = True) -> Iterator[str]:
    """Serve the app with its built pages on a free port; gives its address."""
    web = PROJECT / "web" / "dist"
    assert (web / "assets").exists(), "the pages are not built: make setup"
    # Named as TCP, asyncio sends small answers at once; else each waits 40 ms for the other side.
    listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.bind(("127.0.0.1", 0))
    listening.listen()
    # A database object of its own: the app closes it at its end.
    app = make_app(Database(url), web, access=access, works=works, standins=True)
    server = uvicorn.Server(uvicorn.Config(app, log_level="error"))
    app.state.ending = lambda: server.should_exit
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    server.should_exit = True
    thread.join(timeout=60)


def launch(playwright: Playwright, *more: str) -> Browser:
    """Start Debian's Chromium, with more of its flags; no browser is fetched."""
    binary = shutil.which("chromium")
    assert binary is not None, "chromium is missing: make setup"
    return playwright.chromium.launch(executable_path=binary, args=[*FLAGS, *more])
