"""A long evening on many benches: people send marks every second while strangers read.

Run it with ``python -m bench.load`` (``make soak`` runs it in full). It starts the app as
``true-margin serve --sign-in --workers N`` does, on a durable database of its own, signs people
in, and has each send events for eight lanes every second, as the bench of the web sends them:
all lanes that were pressed since in one request, of each the mark that is new. Each also
follows the events of its bench. Strangers read a public page and its files. Every answer is
counted; a lost or refused one is an error. Times are of the asking side, on the same machine,
so they hold its load as well.
"""

from __future__ import annotations

import argparse
import asyncio
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from pathlib import Path
from uuid import uuid4

import httpx2
import numpy as np
import psutil
from tests.desk.helpers import Bench, new_bench

from bench.plain_http import PlainClient
from true_margin.desk.access import people, sign_in
from true_margin.desk.access.rights import LOCAL
from true_margin.desk.publish import editions
from true_margin.launch.cluster import Cluster, free_port
from true_margin.store.database import Database

PEOPLE, A_BENCH, LANES, READERS = 50, 5, 8, 10
MARK_EVERY_S, EXPORT_S = 1.0, 60.0
"""A lane's export takes a minute here; then it stops and the next begins."""
P95_GOAL_MS = 150.0
PASSWORD = "a bench of my own"


@dataclass
class Told:
    """What the asking side saw."""

    ms: list[float] = field(default_factory=list)
    page_ms: list[float] = field(default_factory=list)
    outcomes: Counter[str] = field(default_factory=Counter)
    heard: int = 0


@contextmanager
def served(workers: int) -> Iterator[tuple[str, Database, subprocess.Popen[bytes]]]:
    """The app as it is served to others, on a data folder of its own."""
    folder = Path(tempfile.mkdtemp(prefix="true-margin-load-"))
    folder.chmod(0o755)
    port = free_port()
    environment = {
        **os.environ,
        "TRUE_MARGIN_DATA": str(folder),
        "TRUE_MARGIN_PORT": str(port),
        "TRUE_MARGIN_SIGN_IN": "1",
        "TRUE_MARGIN_WORKERS": str(workers),
    }
    environment.pop("DATABASE_URL", None)
    command = [sys.executable, "-m", "true_margin"]
    subprocess.run([*command, "invite"], env=environment, check=True, stdout=subprocess.DEVNULL)
    program = subprocess.Popen([*command, "serve"], env=environment, stdout=subprocess.DEVNULL)
    address = f"http://127.0.0.1:{port}"
    try:
        until = time.monotonic() + 60
        while not _well(address):
            if time.monotonic() > until:
                raise RuntimeError("the app does not become well")
            time.sleep(0.2)
        cluster = Cluster(folder)
        cluster.running()
        database = Database(cluster.url)
        yield address, database, program
        database.close()
    finally:
        program.terminate()
        program.wait(60)
        shutil.rmtree(folder, ignore_errors=True)


def _well(address: str) -> bool:
    try:
        return httpx2.get(f"{address}/api/v1/ready", timeout=5).status_code == 200
    except httpx2.HTTPError:
        return False


def prepare(database: Database, count: int) -> tuple[list[tuple[str, Bench]], str]:
    """People who are signed in, each with the bench that they work on; and a public page."""
    benches = []
    for number in range(max(1, count // A_BENCH)):
        bench = new_bench(database, f"Evening {number}")
        for name in "CDEFGH":
            bench.machine(name)
        for typed in ("6:17", "6:20", "6:15"):
            bench.run("A", typed)
            bench.run("B", typed.replace("6", "7", 1))
        benches.append(bench)
    tokens = []
    for number in range(count):
        email = f"person{number}@bench.test"
        made = people.invite(database, LOCAL, "editor", benches[number // A_BENCH].slug)
        people.accept(database, made.token, email, f"Person {number}", PASSWORD)
        signed_in = sign_in.sign_in(database, email, PASSWORD, "bench", f"10.0.0.{number}")
        tokens.append((signed_in.token, benches[number // A_BENCH]))
    view = editions.publish_edition(database, benches[0].slug, None, "Person 0")
    return tokens, f"/p/{view.links[0].token}"


@dataclass
class Lane:
    """A lane as its device knows it."""

    id: str
    number: int
    setup_id: str
    key: str
    began: float

    def event(self, device: str, seq: int, task: str) -> str:
        """Mark it, or stop it where its export is over and begin the next."""
        now = time.time()
        elapsed, key = now - self.began, self.key
        stopped = elapsed >= EXPORT_S
        mark = f'{{"elapsed_s":{elapsed:.2f},"fraction":{elapsed / EXPORT_S:.4f}}}'
        text = (
            f'{{"client":"{device}","seq":{seq},"kind":"{"stopped" if stopped else "mark"}",'
            f'"at_ms":{now * 1000:.1f},"lane":{{"id":"{self.id}","number":{self.number},'
            f'"setup_id":"{self.setup_id}","task_id":"{task}","queue":[],"key":"{key}",'
            f'"started_ms":{self.began * 1000:.1f},"marks":[{"" if stopped else mark}],'
            + (f'"phase":"stopped","elapsed_s":{elapsed:.2f}' if stopped else '"phase":"running"')
            + "}}"
        )
        if stopped:
            self.key, self.began = uuid4().hex, now
        return text


async def person(
    address: str, token: str, bench: Bench, number: int, until: float, told: Told
) -> None:
    """Send what eight lanes do, every second, for as long as the evening goes."""
    setups, task = [str(key) for key in bench.setups.values()], str(bench.tasks["Parade"])
    device, seq, now = f"device-{number}", 0, time.time()
    lanes = [
        Lane(f"{device}-{at}", at + 1, setups[at], uuid4().hex, now - EXPORT_S * at / LANES)
        for at in range(LANES)
    ]
    there = PlainClient(address, f"tm_person={token}")
    follower = asyncio.create_task(_follow(address, token, bench, until, told))
    await asyncio.sleep((number % PEOPLE) * MARK_EVERY_S / PEOPLE)
    while time.monotonic() < until:
        turn = time.monotonic()
        events = [lane.event(device, seq + at, task) for at, lane in enumerate(lanes)]
        seq += LANES
        body = f'{{"events":[{",".join(events)}]}}'.encode()
        path = f"/api/v1/shootouts/{bench.slug}/bench/events"
        told.ms.append(await _timed(there, "POST", path, body, "", told))
        await asyncio.sleep(max(0.0, turn + MARK_EVERY_S - time.monotonic()))
    follower.cancel()
    with suppress(asyncio.CancelledError):
        await follower
    there.close()


async def _timed(
    there: PlainClient, method: str, path: str, body: bytes, what: str, told: Told
) -> float:
    began = time.perf_counter()
    try:
        status, found = await there.ask(method, path, body)
        told.outcomes[f"{what}{status}"] += 1
        if status != 200:
            told.outcomes[found[:120].decode(errors="replace")] += 1
    except (OSError, asyncio.IncompleteReadError) as error:
        there.close()
        told.outcomes[f"{what}{type(error).__name__}"] += 1
    return 1000 * (time.perf_counter() - began)


async def _follow(address: str, token: str, bench: Bench, until: float, told: Told) -> None:
    """Follow the bench as an open page does."""
    there = PlainClient(address, f"tm_person={token}")
    while time.monotonic() < until:
        try:
            async for piece in there.follow(f"/api/v1/shootouts/{bench.slug}/events"):
                told.heard += piece.count(b'"task_id"')
        except (OSError, asyncio.IncompleteReadError, ValueError) as error:
            told.outcomes[f"events {type(error).__name__}"] += 1
            there.close()
            await asyncio.sleep(0.5)


async def stranger(address: str, page: str, number: int, until: float, told: Told) -> None:
    """Read a public page, and now and then a file of it."""
    there = PlainClient(address)
    await asyncio.sleep(number / READERS)
    turn = 0
    while time.monotonic() < until:
        turn += 1
        path = page if turn % 5 else f"{page}/1/files/results.csv"
        told.page_ms.append(await _timed(there, "GET", path, b"", "page ", told))
        await asyncio.sleep(1.0)
    there.close()


GROUPS = Path("/sys/fs/cgroup/cpu")
PERIOD_US = 20_000


@contextmanager
def held_back(program: subprocess.Popen[bytes], share: float | None) -> Iterator[None]:
    """Let each process that serves have so much of one core, and no more.

    Where the asking side and the database need the other cores, a second process could show
    nothing: so each gets a part that leaves room for all.
    """
    if share is None:
        yield
        return
    made = []
    try:
        for each in _serving(program):
            group = GROUPS / f"true-margin-{each.pid}"
            group.mkdir()
            made.append(group)
            (group / "cpu.cfs_period_us").write_text(str(PERIOD_US))
            (group / "cpu.cfs_quota_us").write_text(str(int(share * PERIOD_US)))
            (group / "cgroup.procs").write_text(str(each.pid))
        yield
    except OSError as error:
        raise SystemExit(f"--share needs the right to make a group of processes: {error}") from None
    finally:
        for group in made:
            for pid in (group / "cgroup.procs").read_text().split():
                (GROUPS / "cgroup.procs").write_text(pid)
            group.rmdir()


def _serving(program: subprocess.Popen[bytes]) -> list[psutil.Process]:
    """The processes that answer: those that hold the port, one where there is only one."""
    found = psutil.Process(program.pid)
    children = [each for each in found.children() if "postgres" not in each.name()]
    workers = [each for each in children if "spawn_main" in " ".join(each.cmdline())]
    return workers or [found]


def memory_mb(program: subprocess.Popen[bytes]) -> float:
    """Memory of the app's processes together, what they share counted once."""
    found = psutil.Process(program.pid)
    total = 0.0
    for each in (found, *found.children(recursive=True)):
        with suppress(psutil.Error):
            if "postgres" not in each.name():
                total += each.memory_full_info().uss
    return total / 1e6


def processor_s(program: subprocess.Popen[bytes]) -> tuple[float, float, float]:
    """Processor seconds so far: of the app, of the database, of the asking side."""
    app = database = 0.0
    found = psutil.Process(program.pid)
    for each in (found, *found.children(recursive=True)):
        with suppress(psutil.Error):
            used = each.cpu_times()
            app += used.user + used.system
    for each in psutil.process_iter(["name"]):
        with suppress(psutil.Error):
            if "postgres" in each.name():
                used = each.cpu_times()
                database += used.user + used.system
    own = psutil.Process().cpu_times()
    return app, database, own.user + own.system


async def evening(
    address: str,
    tokens: list[tuple[str, Bench]],
    page: str,
    seconds: float,
    program: subprocess.Popen[bytes],
) -> tuple[Told, list[tuple[float, float]]]:
    """Let everybody work for so long; gives what they saw, and memory over time."""
    told, until = Told(), time.monotonic() + seconds
    memory: list[tuple[float, float]] = []

    async def watch() -> None:
        began = time.monotonic()
        while time.monotonic() < until:
            memory.append((time.monotonic() - began, await asyncio.to_thread(memory_mb, program)))
            await asyncio.sleep(min(15.0, seconds / 8))

    await asyncio.gather(
        watch(),
        *(
            person(address, token, bench, number, until, told)
            for number, (token, bench) in enumerate(tokens)
        ),
        *(stranger(address, page, number, until, told) for number in range(READERS)),
    )
    return told, memory


def say(told: Told, memory: list[tuple[float, float]], seconds: float) -> None:
    """Print what came of it."""
    p50, p95, p99 = np.percentile(told.ms, [50, 95, 99])
    print(
        f"  marks: {len(told.ms)} requests of {LANES} events, {len(told.ms) / seconds:.1f}/s; "
        f"median {p50:.0f} ms, 95 % within {p95:.0f} ms, 99 % within {p99:.0f} ms, "
        f"longest {max(told.ms):.0f} ms (goal: 95 % within {P95_GOAL_MS:.0f} ms)"
    )
    quarters = np.array_split(np.array(told.ms), 4)
    words = ", ".join(f"{np.percentile(each, 95):.0f}" for each in quarters)
    print(f"  95 % within, by quarters of the time: {words} ms")
    q50, q95 = np.percentile(told.page_ms, [50, 95])
    print(f"  public page: {len(told.page_ms)} readings, median {q50:.0f} ms, 95 % {q95:.0f} ms")
    print(f"  lanes heard by open pages: {told.heard} ({told.heard / seconds:.0f}/s)")
    print(f"  outcomes: {dict(told.outcomes)}")
    settled = [mb for at, mb in memory if at > seconds / 4]
    print(
        f"  memory: {memory[0][1]:.0f} MB at first, {settled[0]:.0f} MB after a quarter, "
        f"{settled[-1]:.0f} MB at the end"
    )


def run(workers: int, seconds: float, count: int, share: float | None) -> None:
    """One evening with so many processes and people."""
    with served(workers) as (address, database, program):
        tokens, page = prepare(database, count)
        print(
            f"{workers} processes, {count} people, {READERS} strangers, {seconds:.0f} s:",
            flush=True,
        )
        before = processor_s(program)
        with held_back(program, share):
            told, memory = asyncio.run(evening(address, tokens, page, seconds, program))
        used = [now - then for then, now in zip(before, processor_s(program), strict=True)]
        say(told, memory, seconds)
        app, database_s, asking = (1000 * each / len(told.ms) for each in used)
        print(
            f"  processor time by request of marks, all else included: app {app:.1f} ms, "
            f"database {database_s:.1f} ms, asking side {asking:.1f} ms"
        )


def main() -> None:
    """Run the evening."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--seconds", type=float, default=60.0)
    asked.add_argument("--workers", type=int, default=2)
    asked.add_argument("--people", type=int, default=PEOPLE, help="a multiple of 5")
    asked.add_argument("--share", type=float, help="part of one core that each process gets")
    given = asked.parse_args()
    run(given.workers, given.seconds, given.people, given.share)


if __name__ == "__main__":
    main()
