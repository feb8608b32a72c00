"""Clients that send in drops are given up, and one that is merely slow to read is not."""

from __future__ import annotations

import asyncio
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

import httpx2
import pytest
import uvicorn
from starlette.types import Receive, Scope, Send

from true_margin.launch import patience
from true_margin.launch.cluster import Cluster
from true_margin.launch.keeper import kept_running
from true_margin.launch.patience import Doors, Patient


async def echo(scope: Scope, receive: Receive, send: Send) -> None:
    """Answer with how much was sent; an answer to /slow takes a while."""
    assert scope["type"] == "http"
    length, more = 0, True
    while more:
        message = await receive()
        length += len(message.get("body", b""))
        more = message.get("more_body", False)
    if scope["path"] == "/slow":
        await asyncio.sleep(0.6)
    await send({"type": "http.response.start", "status": 200, "headers": []})
    await send({"type": "http.response.body", "body": str(length).encode()})


@contextmanager
def serving() -> Iterator[tuple[str, int]]:
    listening = socket.create_server(("127.0.0.1", 0))
    config = uvicorn.Config(echo, http=Patient, log_level="error", lifespan="off")
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    try:
        yield listening.getsockname()
    finally:
        server.should_exit = True
        thread.join(10)
        listening.close()


@pytest.fixture
def at(monkeypatch: pytest.MonkeyPatch) -> Iterator[tuple[str, int]]:
    monkeypatch.setattr(patience, "HEAD_S", 0.3)
    monkeypatch.setattr(patience, "LOOK_S", 0.1)
    with serving() as address:
        yield address


def is_given_up(line: socket.socket) -> bool:
    """Whether the other side ends the connection, in less time than anybody would wait."""
    line.settimeout(10)
    try:
        return line.recv(100) == b""
    except ConnectionResetError:
        return True


@pytest.mark.parametrize(
    "sent",
    [
        b"",
        b"GET / HTTP/1.1\r\nHost: a\r\n",
        b"GET / HT",
        b"POST / HTTP/1.1\r\nHost: a\r\nContent-Length: 500000\r\n\r\nabc",
        b"POST / HTTP/1.1\r\nHost: a\r\nTransfer-Encoding: chunked\r\n\r\n5\r\nab",
    ],
    ids=["nothing", "half a head", "half a line", "half a body", "half a chunk"],
)
def test_what_does_not_go_on_is_given_up(at: tuple[str, int], sent: bytes) -> None:
    with socket.create_connection(at) as line:
        line.sendall(sent)
        assert is_given_up(line)
    assert httpx2.get(f"http://{at[0]}:{at[1]}/").text == "0", "and others are served"


def test_a_head_by_drops_is_given_up_too(at: tuple[str, int]) -> None:
    with socket.create_connection(at) as line:
        line.sendall(b"GET / HTTP/1.1\r\n")
        try:
            for _ in range(200):
                line.sendall(b"X: y\r\n")
                time.sleep(0.02)
        except OSError:
            return
        assert is_given_up(line)


def test_answers_take_as_long_as_they_take(at: tuple[str, int]) -> None:
    """Longer than a head or a body may, again and again on one connection."""
    with httpx2.Client(base_url=f"http://{at[0]}:{at[1]}") as client:
        for _ in range(2):
            assert client.post("/slow", content=b"x" * 5000).text == "5000"

    def pieces() -> Iterator[bytes]:
        for _ in range(8):
            time.sleep(0.05)
            yield b"x" * 1000

    assert httpx2.post(f"http://{at[0]}:{at[1]}/", content=pieces()).text == "8000"


def test_one_address_holds_so_many_connections(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(patience, "MOST_BY_ADDRESS", 2)
    monkeypatch.setattr(patience, "MOST_CONNECTIONS", 8)
    doors = Doors()
    doors.trust("10.1.0.0/16, nonsense")
    assert [doors.enter("10.2.0.1") for _ in range(3)] == [True, True, False]
    assert [doors.enter("10.1.0.1") for _ in range(3)] == [True] * 3
    assert [doors.enter("127.0.0.1") for _ in range(3)] == [True] * 3
    assert not doors.enter("10.3.0.1"), "there are too many in all"
    doors.leave("10.2.0.1")
    assert doors.enter("10.2.0.1")


def test_a_flood_is_shut_out_and_forgotten(
    at: tuple[str, int], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(patience, "MOST_CONNECTIONS", 5)
    lines = [socket.create_connection(at) for _ in range(20)]
    assert all(is_given_up(line) for line in lines)
    for line in lines:
        line.close()
    assert httpx2.get(f"http://{at[0]}:{at[1]}/").status_code == 200


def test_the_keeper_survives_whatever_it_meets(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr("true_margin.launch.keeper.LOOK_S", 0.01)
    monkeypatch.setattr("true_margin.launch.keeper.AGAIN_S", 0.01)
    looked = threading.Semaphore(0)

    class Troubled(Cluster):
        """A cluster of a machine that has no file handle left, and then again some."""

        def __init__(self) -> None:
            self.looks = 0

        def alive(self) -> bool:
            self.looks += 1
            looked.release()
            if self.looks < 4:
                raise OSError(24, "Too many open files")
            return True

    with kept_running(Troubled()):
        for _ in range(6):
            assert looked.acquire(timeout=10)
    assert capsys.readouterr().out.count("Too many open files") == 1
