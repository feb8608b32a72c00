"""Serving other devices: a second listener beyond loopback, behind the gate, with TLS."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

import uvicorn
from fastapi import FastAPI

from true_margin.app.gate import Gate
from true_margin.app.outside import Outside
from true_margin.app.settings import AppSettings
from true_margin.launch.certificate import own_addresses, own_certificate
from true_margin.launch.patience import patient_options
from true_margin.store.database import Database

STARTS_WITHIN_S = 15.0


class OutsideError(RuntimeError):
    """Other devices cannot be served; the text says why."""


@contextmanager
def serving_outside(app: FastAPI, database: Database, settings: AppSettings) -> Iterator[Outside]:
    """Serve paired devices while this is open.

    Raises:
        OutsideError: the address or port cannot be used.
    """
    host, port = settings.host or "", settings.outside_port or settings.port + 1
    addresses = own_addresses(host)
    own = own_certificate(settings.data / "tls", (*addresses, socket.gethostname()))
    listening = _listen(host, port)
    config = uvicorn.Config(
        Gate(app, database),
        log_level="warning",
        lifespan="off",
        timeout_graceful_shutdown=3,
        **patient_options(),
        ssl_certfile=str(own.certificate),
        ssl_keyfile=str(own.key),
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    until = time.monotonic() + STARTS_WITHIN_S
    while not server.started:
        if not thread.is_alive() or time.monotonic() > until:
            raise OutsideError(f"Other devices cannot be served at {host}:{port}.")
        time.sleep(0.02)
    outside = Outside(
        tuple(f"https://{each}:{port}" for each in addresses),
        own.fingerprint,
        own.certificate.read_text(),
    )
    app.state.outside = outside
    try:
        yield outside
    finally:
        app.state.outside = None
        server.should_exit = True
        thread.join(timeout=10)
        listening.close()


def _listen(host: str, port: int) -> socket.socket:
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    listening = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind((host, port))
    except OSError as error:
        listening.close()
        raise OutsideError(
            f"Other devices cannot be served at {host}:{port}: {error.strerror or error}."
        ) from error
    listening.listen(128)
    return listening
