"""Serving: one process, or several behind one socket; over TLS beyond this machine."""

from __future__ import annotations

import errno
import logging
import os
import shutil
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from multiprocessing.connection import wait
from pickle import UnpicklingError
from typing import Any

import uvicorn
from fastapi import FastAPI
from uvicorn.config import STARTUP_FAILURE
from uvicorn.supervisors.multiprocess import Multiprocess, Process

from true_margin.app.lifeline import PARENT, end_with_parent
from true_margin.app.logs import log_requests
from true_margin.app.main import feed_of, make_app, outside_of, use_rates
from true_margin.app.metrics import FOLDER
from true_margin.app.settings import AppSettings
from true_margin.desk.jobs.worker import Worker
from true_margin.launch.address import HOST, is_outside
from true_margin.launch.certificate import own_addresses, own_certificate
from true_margin.launch.errors import StartError
from true_margin.launch.outside import OutsideError, serving_outside
from true_margin.launch.patience import DOORS, allow_many_files, patient_options
from true_margin.store.database import Database

LOG = logging.getLogger("uvicorn.error")
ENDS_WITHIN_S = 3
LOOK_S = 0.5
TOLD = (
    "data",
    "web",
    "address",
    "price_feed",
    "rates",
    "standins",
    "sign_in",
    "plain",
    "read_replica",
    "trusted_proxies",
)
"""Settings that the processes need."""
WAITING = 1024
"""Connections that may wait to be taken; a whole bench comes back at once after a cut."""


def serve(database: Database, settings: AppSettings) -> None:
    """Serve until told to stop.

    Raises:
        StartError: the address or port cannot be used.
    """
    shown = settings.address or f"http://{HOST}:{settings.port}"
    allow_many_files()
    DOORS.trust(settings.trusted_proxies)
    listening = listen(settings)
    try:
        if settings.workers > 1:
            _serve_by_several(database, settings, listening, shown)
        else:
            _serve_alone(database, settings, listening, shown)
    except OutsideError as error:
        raise StartError(str(error)) from error
    finally:
        listening.close()


def _serve_alone(
    database: Database, settings: AppSettings, listening: socket.socket, shown: str
) -> None:
    log_requests(settings.data)
    use_rates(settings)
    app = make_app(
        database,
        settings.web,
        feed_of(settings),
        settings.access(),
        works=True,
        standins=settings.standins,
    )
    app.state.outside = outside_of(settings)
    server = uvicorn.Server(uvicorn.Config(app, **_options(settings)))
    app.state.ending = lambda: server.should_exit
    with _outside(app, database, settings):
        print(f"True Margin is ready: {shown}", flush=True)
        print("Ctrl-C stops it and its database.", flush=True)
        server.run(sockets=[listening])


def _serve_by_several(
    database: Database, settings: AppSettings, listening: socket.socket, shown: str
) -> None:
    """Serve by processes that share the socket; one that ends is replaced."""
    os.environ |= _for_workers(database, settings)
    config = uvicorn.Config(
        "true_margin.app.main:app_from_environment",
        factory=True,
        workers=settings.workers,
        # A large book is worked out for seconds, in which a process answers nothing.
        timeout_worker_healthcheck=60,
        **_options(settings),
    )
    print(f"True Margin is ready: {shown} ({settings.workers} processes)", flush=True)
    # Each process has a socket of its own; this one kept the port until they have theirs.
    listening.close()
    with _working():
        _Balanced(config, settings).run()


class _Balanced(Multiprocess):
    """Processes that are each given connections by the system in turns.

    On a socket that they share, whichever is idle takes all connections that wait, and keeps
    them. A process that ends takes its socket with it, so nobody waits at a closed door.
    """

    def __init__(self, config: uvicorn.Config, settings: AppSettings) -> None:
        self._settings = settings
        self._given: list[socket.socket] = []
        super().__init__(config, sockets=[])

    @property
    def sockets(self) -> list[socket.socket]:
        """Asked for once for each process that is about to start."""
        for earlier in self._given:
            earlier.close()
        self._given = [listen(self._settings, shared_port=True)]
        return self._given

    @sockets.setter
    def sockets(self, _: list[socket.socket]) -> None:
        """None are shared."""

    def keep_subprocess_alive(self) -> None:
        """Replace each process that ended, or that answers nothing for too long.

        One that ends while it is asked, or while another is, is noticed at once.
        """
        for place, process in enumerate(self.processes):
            if self.should_exit.is_set():
                return
            if self._goes_on(process):
                continue
            process.kill()
            process.join()
            if process.exitcode == STARTUP_FAILURE:
                LOG.error("a process could not start, and would not the next time: stopping")
                self.should_exit.set()
                return
            self.processes[place] = Process(self.config, self.sockets)
            self.processes[place].start()

    def _goes_on(self, process: Process) -> bool:
        own, asked = process.process.sentinel, process.parent_conn
        all_ends = [each.process.sentinel for each in self.processes]
        try:
            asked.send(b"ping")
            ready = wait([asked, *all_ends], self.config.timeout_worker_healthcheck)
            if asked in ready:
                asked.recv()
        except (OSError, EOFError, UnpicklingError):
            return False
        # Where another one ended, this one is asked again in a moment.
        return own not in ready and bool(ready)


@contextmanager
def _working() -> Iterator[None]:
    """A process beside those that answer does what waits in the queue; it is replaced too."""
    ended = threading.Event()

    def watch() -> None:
        while not ended.is_set():
            program = subprocess.Popen([sys.executable, "-m", "true_margin", "work"])
            while program.poll() is None and not ended.wait(LOOK_S):
                pass
            if ended.is_set():
                program.terminate()
                try:
                    program.wait(ENDS_WITHIN_S + 5)
                except subprocess.TimeoutExpired:
                    program.kill()
            ended.wait(LOOK_S)

    thread = threading.Thread(target=watch, name="working")
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join()


def _for_workers(database: Database, settings: AppSettings) -> dict[str, str]:
    """What the processes are told; by their environment, which no list of processes shows."""
    metrics = settings.data / "metrics"
    shutil.rmtree(metrics, ignore_errors=True)
    metrics.mkdir(parents=True)
    told = {
        PARENT: str(os.getpid()),
        FOLDER: str(metrics),
        "DATABASE_URL": database.url,
        "TRUE_MARGIN_LOG": "-",
    }
    if database.folder is not None:
        told["TRUE_MARGIN_DATABASE_FOLDER"] = str(database.folder)
    for name in TOLD:
        value = getattr(settings, name, None)
        if value is not None:
            told[f"TRUE_MARGIN_{name.upper()}"] = str(value)
    return told


def _options(settings: AppSettings) -> dict[str, Any]:
    options: dict[str, Any] = {
        "log_level": "warning",
        "timeout_graceful_shutdown": ENDS_WITHIN_S,
        "server_header": False,
        **patient_options(),
        # Only proxies that are named may say for whom they ask; this machine's where none is.
        "proxy_headers": settings.sign_in,
        "forwarded_allow_ips": settings.trusted_proxies,
    }
    if _speaks_tls(settings):
        names = (*own_addresses(settings.host or ""), socket.gethostname())
        own = own_certificate(settings.data / "tls", names)
        options |= {"ssl_certfile": str(own.certificate), "ssl_keyfile": str(own.key)}
    return options


def _speaks_tls(settings: AppSettings) -> bool:
    return settings.sign_in and is_outside(settings.host) and not settings.plain


@contextmanager
def _outside(app: FastAPI, database: Database, settings: AppSettings) -> Iterator[None]:
    """Serve paired devices too, where an address beyond loopback was asked for."""
    if settings.sign_in or not is_outside(settings.host):
        yield
        return
    with serving_outside(app, database, settings) as outside:
        print(f"Paired devices are let in at: {', '.join(outside.addresses)}", flush=True)
        print("On the desk: Bench, Pair a device.", flush=True)
        yield


def listen(settings: AppSettings, *, shared_port: bool = False) -> socket.socket:
    """Take the port.

    Args:
        settings: name it.
        shared_port: whether other processes of this app listen there too.

    Raises:
        StartError: it is taken, or cannot be used.
    """
    host = settings.host if settings.sign_in and settings.host else HOST
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # Named as TCP, asyncio sends small answers at once; else each waits 40 ms for the other side.
    listening = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    if shared_port:
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
    try:
        listening.bind((host, settings.port))
    except OSError as error:
        listening.close()
        raise _port_error(settings.port, error) from error
    listening.listen(WAITING)
    listening.set_inheritable(True)
    return listening


def check_port(settings: AppSettings) -> None:
    """Refuse a taken port before anything is started for nothing."""
    listen(settings).close()


def _port_error(port: int, error: OSError) -> StartError:
    if error.errno == errno.EADDRINUSE:
        return StartError(
            f"Port {port} is taken by another program, or True Margin runs already. "
            f"Stop it with: make stop. Or use another port: TRUE_MARGIN_PORT={port + 1} make demo"
        )
    return StartError(f"Port {port} cannot be used: {error.strerror}")


def work(settings: AppSettings) -> None:
    """Do what waits in the queue of the database that DATABASE_URL names, until told to stop.

    Raises:
        StartError: no database is named.
    """
    if settings.database_url is None:
        raise StartError("Say whose work to do: DATABASE_URL is not set.")
    # Started beside processes that answer; alone it stays until it is told to end.
    end_with_parent()
    use_rates(settings)
    database = Database(settings.database_url)
    worker = Worker(database)
    ended = threading.Event()
    for name in (signal.SIGTERM, signal.SIGINT):
        signal.signal(name, lambda *_: ended.set())
    worker.start()
    ended.wait()
    worker.close()
    database.close()
