"""The watcher for real: programs that write files, its log, and the run in the book."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from threading import Thread

import pytest

from tests.browser.serving import serving
from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.desk import runs
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database
from true_margin.watcher.log import LogError, WatchedRun, read_log
from true_margin.watcher.send import AwayError, SendError, Server
from true_margin.watcher.watch import Watched, send_log, watch

POLL_S = 0.2
PREAMBLE = """
import os, sys, time
folder = sys.argv[1]
def path(name): return os.path.join(folder, name)
def say(word): print(word, time.monotonic(), flush=True)
time.sleep(0.7)
"""
BURSTS = """
say("start")
with open(path("film.mp4"), "wb", buffering=0) as file:
    for pause in (0.1, 0.2, 2.9, 0.1):
        file.write(b"x" * 100_000)
        time.sleep(pause)
    file.write(b"x" * 100_000)
    say("end")
"""
TEMPORARY_FIRST = """
say("start")
with open(path(".film.tmp"), "wb", buffering=0) as file:
    for _ in range(8):
        file.write(b"x" * 50_000)
        time.sleep(0.15)
os.replace(path(".film.tmp"), path("film.mp4"))
say("end")
"""
DIES = """
say("start")
file = open(path("film.mp4"), "wb", buffering=0)
for _ in range(4):
    file.write(b"x" * 50_000)
    time.sleep(0.1)
say("end")
os._exit(9)
"""


def exported(
    folder: Path, program: str, expected: int | None = None
) -> tuple[WatchedRun, dict[str, float]]:
    """Watch a program; gives its run as logged, and when it says it began and ended."""
    target = folder / "out"
    target.mkdir()
    writer = subprocess.Popen(
        [sys.executable, "-c", PREAMBLE + program, str(target)], stdout=subprocess.PIPE, text=True
    )
    what = Watched(target, "*.mp4", "shoot", "A", "Parade", POLL_S, expected, give_up_s=3.0)
    watch(what, folder / "log.jsonl", lambda _: None)
    out, _ = writer.communicate(timeout=30)
    told = {word: float(at) for word, at in (line.split() for line in out.splitlines())}
    (run,) = read_log(folder / "log.jsonl")
    return run, told


@pytest.mark.parametrize("program", [BURSTS, TEMPORARY_FIRST])
def test_an_export_is_timed_within_one_look(tmp_path: Path, program: str) -> None:
    errors = []
    # A machine that stands still for a while between two looks is not the watcher's fault.
    for attempt in range(3):
        folder = tmp_path / str(attempt)
        folder.mkdir()
        run, told = exported(folder, program)
        assert run.status == "ok"
        assert run.elapsed_s is not None
        errors.append(abs(run.elapsed_s - (told["end"] - told["start"])))
        if errors[-1] < POLL_S:
            return
    raise AssertionError(f"off by {errors} s with a look every {POLL_S} s")


def test_an_export_that_dies_has_failed_with_how_far_it_came(tmp_path: Path) -> None:
    run, _ = exported(tmp_path, DIES, expected=400_000)
    assert (run.status, run.reason) == ("failed", "it stopped at 50 % of the expected size")
    fractions = [mark["fraction"] for mark in run.marks if "fraction" in mark]
    assert fractions == sorted(fractions)
    assert run.marks


def test_a_log_that_was_cut_off_or_came_twice(tmp_path: Path) -> None:
    _, _ = exported(tmp_path, DIES, expected=200_000)
    log = tmp_path / "log.jsonl"
    text = log.read_text()
    log.write_text(text + text)
    assert len(read_log(log)) == 1
    log.write_text(text + '{"event": "arm')
    assert len(read_log(log)) == 1
    log.write_text("nonsense\n" + text)
    with pytest.raises(LogError, match="line 1"):
        read_log(log)
    log.write_text("\n".join(text.splitlines()[:2]))
    assert read_log(log) == [], "a run that has not ended is not sent"


@pytest.fixture(scope="module")
def address(cluster: Cluster, database: Database) -> Iterator[str]:
    assert database.engine is not None, "migrated before it is served"
    with serving(cluster.url) as url:
        yield url


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Watched")


def log_of(folder: Path, bench: Bench, setup: str = "A") -> Path:
    log = folder / "log.jsonl"
    what = Watched(folder, "*.mp4", bench.slug, setup, "Parade", POLL_S, 1000)
    writer = Thread(target=_write, args=(folder,))
    writer.start()
    watch(what, log, lambda _: None)
    writer.join()
    return log


def _write(folder: Path) -> None:
    time.sleep(0.6)
    with (folder / "film.mp4").open("wb", buffering=0) as file:
        for _ in range(5):
            file.write(b"x" * 200)
            time.sleep(0.3)


def test_a_watched_run_is_in_the_book_once_with_its_marks(
    tmp_path: Path, address: str, bench: Bench
) -> None:
    log = log_of(tmp_path, bench)
    said: list[str] = []
    for _ in range(2):
        assert send_log(Server(address), log, said.append) == 1
    (stored,) = runs.show_runs(bench.database, bench.slug).runs
    assert (stored.run.method, stored.run.status) == ("watch", "ok")
    # A look every 0.2 s: 0.2/√6, and 0.01 s of resolution beside it.
    assert stored.run.u == pytest.approx(0.2 / 6**0.5, rel=0.01)
    assert runs.show_run(bench.database, stored.run.id).marks
    assert said[0].startswith("A: ")


def test_a_server_that_is_away_and_names_that_are_not_there(
    tmp_path: Path, address: str, bench: Bench
) -> None:
    log = log_of(tmp_path, bench, setup="Nobody")
    with pytest.raises(SendError, match="no setup 'Nobody'; there are: A, B"):
        send_log(Server(address), log, lambda _: None)
    with pytest.raises(AwayError, match="does not answer"):
        send_log(Server("http://127.0.0.1:1"), log, lambda _: None, retry=False)
    assert runs.show_runs(bench.database, bench.slug).runs == ()


def test_from_the_command_line(tmp_path: Path, address: str, bench: Bench) -> None:
    writer = Thread(target=_write, args=(tmp_path,))
    command = [
        sys.executable, "-m", "true_margin", "watch", str(tmp_path / "film.mp4"),
        "--shootout", bench.slug, "--setup", "a", "--task", "parade", "--server", address,
        "--poll", "0.2", "--log", str(tmp_path / "watched.jsonl"),
    ]  # fmt: skip
    process = subprocess.Popen(command, cwd=PROJECT, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    assert process.stdout.readline().startswith("Armed")
    writer.start()
    out, _ = process.communicate(timeout=60)
    assert process.returncode == 0, out
    assert "A: 0:0" in out
    assert len(runs.show_runs(bench.database, bench.slug).runs) == 1
    wrong = subprocess.run(
        [*command[:8], "Nobody", *command[9:]], cwd=PROJECT, capture_output=True, text=True,
        timeout=60, check=False,
    )  # fmt: skip
    assert (wrong.returncode, "no setup 'Nobody'" in wrong.stderr) == (2, True)
