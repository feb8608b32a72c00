"""Times honest requests while thousands of clients send theirs in drops.

Run it with ``python -m bench.slow_clients``. The attackers open connections and send half a head,
half a body or nothing, and come again as soon as they are given up; honest people ask for what a
page of Margins asks. Alone and under attack are measured in one run.
"""

from __future__ import annotations

import argparse
import asyncio
import os
import random
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import httpx2
import psutil
from tests.conftest import PROJECT

from true_margin.launch.cluster import free_port
from true_margin.launch.patience import allow_many_files

HALVES = (
    b"",
    b"GET /s/x/margins HTTP/1.1\r\nHost: 127.0.0.1\r\nX-A: ",
    b"POST /api/v1/shootouts HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 900000\r\n\r\n{",
)
SLUG = "which-machine-for-the-festival-season"
PATHS = ("/api/v1/clock", f"/api/v1/shootouts/{SLUG}/margins", f"/api/v1/shootouts/{SLUG}/sheet")


@contextmanager
def demo() -> Iterator[tuple[int, psutil.Process]]:
    """The demo as people start it; gives its port and its process."""
    port = free_port()
    with tempfile.TemporaryDirectory(prefix="true-margin-slow-") as folder:
        Path(folder).chmod(0o755)
        told = {"TRUE_MARGIN_DATA": folder, "TRUE_MARGIN_PORT": str(port)}
        command = [sys.executable, "-m", "true_margin"]
        program = subprocess.Popen(
            [*command, "demo"], cwd=PROJECT, env=os.environ | told, stdout=subprocess.DEVNULL
        )
        try:
            until = time.monotonic() + 90
            while time.monotonic() < until:
                with suppress(httpx2.HTTPError):
                    if httpx2.get(f"http://127.0.0.1:{port}/api/v1/ready").status_code == 200:
                        break
                time.sleep(0.2)
            yield port, psutil.Process(program.pid)
        finally:
            program.terminate()
            program.wait(60)


async def attack(port: int, ended: asyncio.Event, counted: list[int]) -> None:
    """One slow client, who comes again and again."""
    while not ended.is_set():
        try:
            reader, writer = await asyncio.open_connection("127.0.0.1", port)
            counted[0] += 1
            writer.write(random.choice(HALVES))  # noqa: S311
            while not ended.is_set():
                with suppress(TimeoutError):
                    if not await asyncio.wait_for(reader.read(100), 2.0):
                        break
                writer.write(b"y")
            writer.close()
        except OSError:
            await asyncio.sleep(0.5)


async def honest(port: int, seconds: float) -> tuple[list[float], int]:
    """Ask as five people do; gives milliseconds, and how often there was no answer."""
    taken: list[float] = []
    failed = 0

    async def person() -> None:
        nonlocal failed
        async with httpx2.AsyncClient(base_url=f"http://127.0.0.1:{port}", timeout=30) as client:
            ends = time.monotonic() + seconds
            while time.monotonic() < ends:
                for path in PATHS:
                    began = time.perf_counter()
                    try:
                        answer = await client.get(path)
                        failed += answer.status_code != 200
                    except httpx2.HTTPError:
                        failed += 1
                    taken.append(1000 * (time.perf_counter() - began))
                await asyncio.sleep(0.3)

    await asyncio.gather(*(person() for _ in range(5)))
    return taken, failed


def line(name: str, taken: list[float], failed: int) -> str:
    """Words for what was measured."""
    worst = statistics.quantiles(taken, n=20)[-1]
    return (
        f"{name}: {len(taken)} requests, median {statistics.median(taken):.0f} ms, 95 in 100 "
        f"within {worst:.0f} ms, {failed} without an answer"
    )


async def measure(port: int, process: psutil.Process, clients: int, seconds: float) -> None:
    """Ask alone, then under attack."""
    print(line("alone", *await honest(port, min(seconds, 15.0))))
    ended, counted = asyncio.Event(), [0]
    attackers = [asyncio.create_task(attack(port, ended, counted)) for _ in range(clients)]
    await asyncio.sleep(2.0)
    asked = await honest(port, seconds)
    held = len(process.net_connections())
    ended.set()
    await asyncio.gather(*attackers, return_exceptions=True)
    print(line(f"with {clients} slow clients for {seconds:.0f} s", *asked))
    print(
        f"{counted[0]} connections in all, {held} held at the end, {process.num_fds()} files open"
    )


def main() -> None:
    """Print what was measured."""
    arguments = argparse.ArgumentParser()
    arguments.add_argument("--clients", type=int, default=2000)
    arguments.add_argument("--seconds", type=float, default=60.0)
    given = arguments.parse_args()
    allow_many_files()
    with demo() as (port, process):
        asyncio.run(measure(port, process, given.clients, given.seconds))


if __name__ == "__main__":
    main()
