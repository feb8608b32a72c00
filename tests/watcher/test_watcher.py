"""The watcher for real: programs that write files, its log, and the run in the book."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Thread
from typing import Any, cast
from unittest.mock import patch

import pytest

from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.core.specs import parse_spec
from true_margin.desk.bench import lanes
from true_margin.desk.runs import runs
from true_margin.exchange.spec_table import read_specs
from true_margin.store.database import Database
from true_margin.watcher.calls import AwayError, SendError
from true_margin.watcher.disk import Clock
from true_margin.watcher.live import LiveLane
from true_margin.watcher.log import EventLog, LogError, WatchedRun, read_log, unfinished_run
from true_margin.watcher.send import Server
from true_margin.watcher.sensors import write_specs
from true_margin.watcher.watch import Watched, send_log, watch


class Told:
    """A server that keeps what it is told, or is away."""

    def __init__(self) -> None:
        self.events: list[Any] = []
        self.away = False

    def now_ms(self) -> float:
        return 1000.0

    def post_events(self, _: str, events: Sequence[object]) -> None:
        if self.away:
            raise AwayError("away")
        self.events += events


def test_each_mark_is_told_until_the_server_has_it_and_then_no_more() -> None:
    server = Told()
    lane = LiveLane(cast(Server, server), "shootout", "setup", "task", "watcher", "the run")
    lane.started()
    lane.mark(1.0, cpu_load=0.5)
    server.away = True
    lane.mark(2.0, cpu_load=0.6)
    lane.mark(3.0, cpu_load=0.7)
    server.away = False
    lane.mark(4.0, cpu_load=0.8)
    lane.stopped(5.0)
    told = [[mark["elapsed_s"] for mark in each["lane"]["marks"]] for each in server.events]
    assert told == [[], [1.0], [2.0, 3.0, 4.0], []]
    assert len(lane.marks) == 4


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
    out, _ = writer.communicate(timeout=180)
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


LONG = """
say("start")
with open(path("film.mp4"), "wb", buffering=0) as file:
    for _ in range(30):
        file.write(b"x" * 50_000)
        time.sleep(0.15)
    file.write(b"x" * 50_000)
    say("end")
"""
WATCH = """
import sys
from pathlib import Path
from true_margin.watcher.watch import Watched, watch
folder = Path(sys.argv[1])
what = Watched(folder / "out", "*.mp4", "shoot", "A", "Parade", 0.2, None, 3.0)
watch(what, folder / "log.jsonl", lambda line: print(line, flush=True))
"""


def test_a_watcher_that_was_ended_in_the_middle_goes_on(tmp_path: Path) -> None:
    target = tmp_path / "out"
    target.mkdir()
    (target / "older.mp4").write_bytes(b"an export of yesterday")
    command = [sys.executable, "-c", WATCH, str(tmp_path)]
    first = subprocess.Popen(command, cwd=PROJECT, stdout=subprocess.PIPE, text=True)
    assert first.stdout is not None
    assert first.stdout.readline().startswith("Armed")
    writer = subprocess.Popen(
        [sys.executable, "-c", PREAMBLE + LONG, str(target)], stdout=subprocess.PIPE, text=True
    )
    assert first.stdout.readline().startswith("Started")
    first.kill()
    first.communicate()
    again = subprocess.run(
        command, cwd=PROJECT, capture_output=True, text=True, timeout=180, check=True
    )
    assert again.stdout.startswith("Going on with the run that began at ")
    out, _ = writer.communicate(timeout=180)
    told = {word: float(at) for word, at in (line.split() for line in out.splitlines())}
    (run,) = read_log(tmp_path / "log.jsonl")
    assert (run.status, run.reason) == ("ok", None)
    assert run.elapsed_s == pytest.approx(told["end"] - told["start"], abs=0.4)


def test_one_that_is_armed_too_late_does_not_count_and_says_why(tmp_path: Path) -> None:
    target = tmp_path / "out"
    target.mkdir()
    writer = subprocess.Popen(
        [sys.executable, "-c", PREAMBLE + LONG, str(target)], stdout=subprocess.PIPE, text=True
    )
    assert writer.stdout is not None
    assert writer.stdout.readline().startswith("start")
    while not (target / "film.mp4").exists():
        assert writer.poll() is None
    said: list[str] = []
    what = Watched(target, "*.mp4", "shoot", "A", "Parade", POLL_S, None, 3.0)
    watch(what, tmp_path / "log.jsonl", said.append)
    writer.communicate(timeout=180)
    (run,) = read_log(tmp_path / "log.jsonl")
    assert run.status == "void"
    assert run.reason == "not sure: it was being written when the watch was armed"
    assert "but it does not count" in said[-1]


def test_readings_that_were_taken_after_the_end_are_none_of_the_run(tmp_path: Path) -> None:
    log = EventLog(tmp_path / "log.jsonl", shootout="s", setup="A", task="P", poll_s=0.2, there={})
    log.write("started", at="2026-11-01T10:00:00+00:00", elapsed_s=0.0)
    for at in (1.0, 5.0, 9.0, 14.0):
        log.write("mark", elapsed_s=at, cpu_load=0.5)
    log.write("stopped", at="2026-11-01T10:00:02+00:00", began_s=2.0, elapsed_s=8.0, spread_s=0.05)
    (run,) = read_log(log.path)
    assert [mark["elapsed_s"] for mark in run.marks] == [3.0, 7.0]
    assert (run.started_at, run.poll_s, run.status) == ("2026-11-01T10:00:02+00:00", 0.05, "ok")


@pytest.mark.parametrize("last", ["stopped", "failed", "given up", None])
def test_only_what_has_begun_and_not_ended_is_gone_on_with(
    tmp_path: Path, last: str | None
) -> None:
    path = tmp_path / "log.jsonl"
    assert unfinished_run(path, folder="f") is None
    log = EventLog(path, folder="f", setup="A", there={"7": ["a.mp4", 5, 1, 2]})
    assert unfinished_run(path, folder="f") is None
    began = datetime.now(UTC) - timedelta(hours=2)
    log.write("started", at=began.isoformat(), elapsed_s=0.0, key="9", doubt="late")
    found = unfinished_run(path, folder="f")
    assert found is not None
    assert (found.client, found.next_seq) == (log.client, 2)
    assert found.there == {"7": ("a.mp4", 5, 1, 2)}
    assert (found.key, found.doubt) == ("9", "late")
    with patch("true_margin.watcher.log.GOES_ON_S", 3600.0):
        assert unfinished_run(path, folder="f") is None, "of another day"
    assert unfinished_run(path, folder="g") is None
    if last is not None:
        log.write(last, elapsed_s=1.0)
        assert unfinished_run(path, folder="f") is None


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
    with Server(address) as server:
        for _ in range(2):
            assert send_log(server, log, said.append) == 1
    (stored,) = runs.show_runs(bench.database, bench.slug).runs
    assert (stored.run.method, stored.run.status) == ("watch", "ok")
    # A look every 0.2 s leaves 0.2/√6; where the disk tells its times, less is left.
    assert 0 < stored.run.u <= 0.2 / 6**0.5
    assert runs.show_run(bench.database, stored.run.id).marks
    assert said[0].startswith("A: ")


def test_a_server_that_is_away_and_names_that_are_not_there(
    tmp_path: Path, address: str, bench: Bench
) -> None:
    log = log_of(tmp_path, bench, setup="Nobody")
    with (
        Server(address) as server,
        pytest.raises(SendError, match="no setup 'Nobody'; there are: A, B"),
    ):
        send_log(server, log, lambda _: None)
    with Server("http://127.0.0.1:1") as away, pytest.raises(AwayError, match="does not answer"):
        send_log(away, log, lambda _: None, retry=False)
    assert runs.show_runs(bench.database, bench.slug).runs == ()


def test_from_the_command_line(tmp_path: Path, address: str, bench: Bench) -> None:
    writer = Thread(target=_write, args=(tmp_path,))
    command = [
        sys.executable,
        "-m",
        "true_margin",
        "watch",
        str(tmp_path / "film.mp4"),
        "--shootout",
        bench.slug,
        "--setup",
        "a",
        "--task",
        "parade",
        "--server",
        address,
        "--poll",
        "0.2",
        "--log",
        str(tmp_path / "watched.jsonl"),
    ]
    process = subprocess.Popen(command, cwd=PROJECT, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    assert process.stdout.readline().startswith("Armed")
    writer.start()
    out, _ = process.communicate(timeout=180)
    assert process.returncode == 0, out
    assert "A: 0:0" in out
    (stored,) = runs.show_runs(bench.database, bench.slug).runs
    # While it ran it stood on the bench as a lane of its own, with the same run.
    (lane,) = lanes.show_lanes(bench.database, bench.slug).lanes
    assert (lane.lane["timed_by"], lane.lane["phase"]) == ("watcher", "stopped")
    assert lane.lane["key"] == stored.run.client_key
    assert lane.lane["elapsed_s"] == pytest.approx(stored.run.value, abs=0.01)
    wrong = subprocess.run(
        [*command[:8], "Nobody", *command[9:]],
        cwd=PROJECT,
        capture_output=True,
        text=True,
        timeout=180,
        check=False,
    )
    assert (wrong.returncode, "no setup 'Nobody'" in wrong.stderr) == (2, True)


def test_a_key_starts_it_and_what_was_written_before_does_not_count(tmp_path: Path) -> None:
    folder = tmp_path / "out"
    folder.mkdir()
    (folder / "film.mp4").write_bytes(b"an older export")
    clock = Clock()
    began = clock.now() + 1.0
    writer = Thread(target=_write_late, args=(folder, began + 0.8))
    writer.start()
    what = Watched(folder, "*.mp4", "shoot", "A", "Parade", POLL_S, give_up_s=5.0)

    def pressed() -> float | None:
        return began if clock.now() >= began else None

    watch(what, tmp_path / "log.jsonl", lambda _: None, pressed=pressed)
    writer.join()
    (run,) = read_log(tmp_path / "log.jsonl")
    assert (run.status, run.method) == ("ok", "one press")
    assert run.elapsed_s == pytest.approx(0.8 + 3 * 0.2, abs=1.0)
    assert run.elapsed_s is not None
    assert run.elapsed_s > 1.1, "the wait for the first byte belongs to the run"


def _write_late(folder: Path, at: float) -> None:
    time.sleep(max(0.0, at - Clock().now()))
    with (folder / "film.mp4").open("wb", buffering=0) as file:
        for _ in range(4):
            file.write(b"x" * 200)
            time.sleep(0.2)


def test_a_spec_file_holds_what_the_line_up_takes(tmp_path: Path) -> None:
    path = tmp_path / "specs.json"
    write_specs("Own machine", path)
    table = read_specs(path.read_text())
    assert (table.machines, table.unknown) == (("Own machine",), ())
    fields = {entry.spec.field for entry in table.entries}
    assert {"threads", "memory_gb", "system"} <= fields
    for entry in table.entries:
        assert parse_spec(entry.spec, entry.text) is not None
