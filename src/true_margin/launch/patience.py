"""How long a connection is waited for: whoever sends a request in drops holds nothing up.

A connection that says nothing, a head that does not end, a body that comes a byte at a time are
given up after a while, and one address holds so many connections at most. Answers take as long
as they take: a page may listen for hours.
"""

from __future__ import annotations

import asyncio
import resource
from collections import Counter
from ipaddress import ip_address, ip_network
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

from true_margin.app.tries import network_of

HEAD_S = 10.0
"""For a whole head, from the first moment of the connection or from its first byte."""
LOOK_S = 5.0
LEAST_BYTES_S = 1_000
"""Of a body, on average: a file of 100 MB may take a day, and a byte a second may not."""
MOST_BY_ADDRESS = 200
"""Connections of one address in one process; a bench of eight lanes needs ten."""
MOST_CONNECTIONS = 4_000
"""In one process; beyond them the door is shut at once."""
FILES = 65_536


class Doors:
    """Who holds how many connections; proxies that are trusted bring many people each."""

    def __init__(self) -> None:
        self._held: Counter[str] = Counter()
        self._trusted = [ip_network("127.0.0.0/8"), ip_network("::1/128")]

    def trust(self, proxies: str) -> None:
        """Count no connections of these: addresses or networks, with commas between."""
        for each in proxies.split(","):
            try:
                self._trusted.append(ip_network(each.strip(), strict=False))
            except ValueError:
                continue

    def enter(self, address: str) -> bool:
        """Count a connection; says whether it may stay."""
        place = network_of(address)
        if self._held.total() >= MOST_CONNECTIONS:
            return False
        if not self._is_trusted(address) and self._held[place] >= MOST_BY_ADDRESS:
            return False
        self._held[place] += 1
        return True

    def leave(self, address: str) -> None:
        """Count it no longer."""
        place = network_of(address)
        self._held[place] -= 1
        if self._held[place] <= 0:
            del self._held[place]

    def _is_trusted(self, address: str) -> bool:
        try:
            known = ip_address(address.partition("%")[0])
        except ValueError:
            return True
        return any(known in network for network in self._trusted)


DOORS = Doors()
"""Of this process."""


class Patient(HttpToolsProtocol):
    """Speaks HTTP with clients that keep up with it."""

    _timer: asyncio.TimerHandle | None = None
    _entered = False
    _body = 0

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Take a connection, unless its address has too many."""
        super().connection_made(transport)
        self._entered = DOORS.enter(self._address())
        if not self._entered:
            transport.abort()
            return
        self._wait_for_head()

    def connection_lost(self, exc: Exception | None) -> None:
        """Let go of it."""
        self._rest()
        if self._entered:
            self._entered = False
            DOORS.leave(self._address())
        super().connection_lost(exc)

    def on_message_begin(self) -> None:
        """Begin a request: its head must end soon."""
        super().on_message_begin()
        self._wait_for_head()

    def on_headers_complete(self) -> None:
        """Have a head: its body must go on coming."""
        self._rest()
        self._body = 0
        super().on_headers_complete()
        self._timer = self.loop.call_later(LOOK_S, self._look, self.loop.time())

    def on_body(self, body: bytes) -> None:
        """Count what comes."""
        self._body += len(body)
        super().on_body(body)

    def on_message_complete(self) -> None:
        """Have the whole request: the answer takes as long as it takes."""
        self._rest()
        super().on_message_complete()

    def _address(self) -> str:
        return self.client[0] if self.client else ""

    def _wait_for_head(self) -> None:
        self._rest()
        self._timer = self.loop.call_later(HEAD_S, self._give_up)

    def _look(self, began: float) -> None:
        """Look whether a body comes as fast as it must."""
        # Where nothing is read because the app is busy, it is not the client who is slow.
        waits = self.flow.read_paused or self.loop.time() - began < 2 * LOOK_S
        if not waits and self._body < LEAST_BYTES_S * (self.loop.time() - began):
            self._give_up()
            return
        self._timer = self.loop.call_later(LOOK_S, self._look, began)

    def _give_up(self) -> None:
        self._rest()
        if self.transport is not None and not self.transport.is_closing():
            self.transport.abort()

    def _rest(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None


def patient_options() -> dict[str, Any]:
    """Options of the server by which it waits for nobody for ever."""
    return {"http": Patient, "limit_concurrency": MOST_CONNECTIONS}


def allow_many_files() -> None:
    """Ask the system for as many open files as connections may need."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = FILES if hard == resource.RLIM_INFINITY else min(FILES, hard)
    if soft < wanted:
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))
