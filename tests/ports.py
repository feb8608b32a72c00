"""Ports for programs that tests start."""

from __future__ import annotations

import itertools
import os
import socket

_EACH = 500
_TURN = itertools.count()


def own_port() -> int:
    """A loopback port that nobody listens on, for a program that takes seconds to start.

    What the system gives away by itself lies higher (from 32768): between the choice and the
    program's start it would be given to another test's connection. Each process of the tests
    has ports of its own.
    """
    worker = int(os.environ.get("PYTEST_XDIST_WORKER", "gw0").removeprefix("gw")) % 20
    for turn in _TURN:
        port = 20000 + worker * _EACH + turn % _EACH
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            if probe.connect_ex(("127.0.0.1", port)) != 0:
                return port
    raise AssertionError("never comes here")
