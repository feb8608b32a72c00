"""A price feed over HTTP: what it answers, and every way in which it does not."""

from __future__ import annotations

import json
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from decimal import Decimal
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread

import pytest
from fastapi.testclient import TestClient

from true_margin.exchange import outside_calls
from true_margin.exchange.price_feed import HttpPriceFeed, PriceFeedError
from true_margin.standins.price_feed import make_price_feed

OFFER = {
    "machine": "Tarn",
    "kind": "street",
    "amount": "380.00",
    "currency": "EUR",
    "dated": "2026-11-03",
    "shop": "board",
}


@contextmanager
def answering(status: int, body: bytes, wait_s: float = 0.0) -> Iterator[str]:
    """A server that gives one answer to everything."""

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            time.sleep(wait_s)
            self.send_response(status)
            self.end_headers()
            try:
                self.wfile.write(body)
            except OSError:
                return

        def log_message(self, *_: object) -> None:
            return

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}/"
    finally:
        server.shutdown()
        server.server_close()


def asked(address: str, wait_s: float = 5.0) -> list[Decimal]:
    return [offer.amount for offer in HttpPriceFeed("The feed", address, wait_s).offers(["Tarn"])]


def test_offers_are_read_and_what_is_unknown_in_them_left_alone() -> None:
    body = json.dumps([{**OFFER, "stars": 5}]).encode()
    with answering(200, body) as address:
        assert asked(address) == [Decimal("380.00")]


@pytest.mark.parametrize(
    ("status", "body", "says"),
    [
        (503, b"", "out of order \\(it answered 503\\)"),
        (200, b"<html>", "no offer"),
        (200, b"{}", "no offer"),
        (200, json.dumps([{**OFFER, "amount": "-5"}]).encode(), "0.amount"),
        (200, json.dumps([{**OFFER, "currency": "euro"}]).encode(), "0.currency"),
        (200, b"[" + b" " * 2_000_001, "more than a list of offers"),
    ],
)
def test_an_answer_that_is_no_offers_says_why(status: int, body: bytes, says: str) -> None:
    with answering(status, body) as address, pytest.raises(PriceFeedError, match=says):
        asked(address)


def test_a_feed_that_is_slow_or_away() -> None:
    late = pytest.raises(PriceFeedError, match=r"did not answer within 0\.1 s")
    with answering(200, b"[]", wait_s=0.5) as address, late:
        asked(address, wait_s=0.1)
    with pytest.raises(PriceFeedError, match="cannot be reached"):
        asked(address)


def test_a_feed_that_sends_a_byte_now_and_then_is_not_waited_for() -> None:
    with dripping() as address, pytest.raises(PriceFeedError, match="did not answer within"):
        asked(address, wait_s=0.3)


def test_only_so_many_wait_for_a_feed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(outside_calls, "CALLS", threading.BoundedSemaphore(1))
    outside_calls.CALLS.acquire()
    with answering(200, b"[]") as address:
        with pytest.raises(PriceFeedError, match="did not answer within"):
            asked(address, wait_s=0.1)
        outside_calls.CALLS.release()
        assert asked(address) == []


@contextmanager
def dripping() -> Iterator[str]:
    """A service whose answer never ends, a byte at a time."""
    listening = socket.create_server(("127.0.0.1", 0))
    ended = threading.Event()

    def serve() -> None:
        line, _ = listening.accept()
        line.recv(4096)
        line.sendall(b"HTTP/1.1 200 OK\r\nContent-Length: 100000\r\n\r\n[")
        while not ended.wait(0.02):
            try:
                line.sendall(b" ")
            except OSError:
                break
        line.close()

    thread = threading.Thread(target=serve, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    finally:
        ended.set()
        thread.join()
        listening.close()


def test_the_simulated_feed_and_its_switches() -> None:
    feed = TestClient(make_price_feed())
    wanted = {"machine": ["Cairn Brick", "Nobody's"]}
    offers = feed.get("/offers", params=wanted).json()
    assert {offer["machine"] for offer in offers} == {"Cairn Brick"}
    assert {offer["currency"] for offer in offers} == {"EUR", "GBP", "USD"}
    assert feed.put("/switches", json={"outage": True, "slow_s": 0}).status_code == 200
    assert feed.get("/offers", params=wanted).status_code == 503
    feed.put("/switches", json={"outage": False, "slow_s": 0.2})
    before = time.monotonic()
    assert feed.get("/offers", params=wanted).status_code == 200
    assert time.monotonic() - before >= 0.2
    assert feed.put("/switches", json={"outage": False, "slow_s": 500}).status_code == 422
