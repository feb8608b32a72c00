"""The watcher in one file: what is in it, and that an old Python runs it."""

from __future__ import annotations

import ast
import io
import json
import os
import shutil
import subprocess
import sys
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.desk.access import pairing
from true_margin.desk.access.rights import LOCAL
from true_margin.desk.bench import watcher_file
from true_margin.desk.runs import runs
from true_margin.store.database import Database
from true_margin.watcher import alone
from true_margin.watcher.calls import SendError

OLDEST = (3, 9)
MOST_BYTES = 100_000
STANDARD = set(sys.stdlib_module_names)


def _modules() -> dict[str, ast.Module]:
    with zipfile.ZipFile(io.BytesIO(watcher_file.pack_watcher())) as archive:
        return {
            name: ast.parse(archive.read(name), name, feature_version=OLDEST)
            for name in archive.namelist()
        }


def _imports(tree: ast.Module) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            yield from (each.name for each in node.names)
        elif isinstance(node, ast.ImportFrom):
            yield str(node.module)


def test_it_is_small_the_same_each_time_and_needs_nothing_else() -> None:
    packed = watcher_file.pack_watcher()
    assert len(packed) <= MOST_BYTES
    assert packed == watcher_file.pack_watcher()
    modules = _modules()
    own = {name.removesuffix(".py").replace("/", ".") for name in modules}
    for name, tree in modules.items():
        for wanted in _imports(tree):
            known = wanted.partition(".")[0] in STANDARD or wanted in own
            assert known or f"{wanted}.__init__" in own, (name, wanted)


def pythons() -> list[str]:
    """This Python, and older ones where the machine has any."""
    shims = Path.home() / ".pyenv" / "versions"
    found = [sys.executable]
    for minor in range(OLDEST[1], sys.version_info.minor):
        known = sorted(shims.glob(f"3.{minor}.*/bin/python3"))
        other = shutil.which(f"python3.{minor}", path="/usr/bin:/usr/local/bin:/opt/python/bin")
        found += [str(path) for path in known[-1:]] or [each for each in [other] if each]
    return found


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Watched by one file")


def _saved(bench: Bench, address: str, folder: Path) -> Path:
    path = folder / watcher_file.NAME
    path.write_bytes(
        watcher_file.pair_watcher(bench.database, bench.slug, "loan", address, None, LOCAL)
    )
    return path


@pytest.mark.parametrize("python", pythons())
def test_a_python_of_this_machine_times_an_export_by_it(
    address: str, bench: Bench, tmp_path: Path, python: str
) -> None:
    path, film = _saved(bench, address, tmp_path), tmp_path / "out" / "film.MP4"
    film.parent.mkdir()
    asked = ["--folder", str(film.parent), "--setup", "a", "--task", "Parade", "--once"]
    command = [python, "-I", str(path), *asked, "--poll", "0.1"]
    watching = subprocess.Popen(
        command, cwd=tmp_path, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    try:
        assert watching.stdout is not None
        for line in watching.stdout:
            if line.startswith("Armed"):
                break
        with film.open("wb", buffering=0) as file:
            for _ in range(3):
                file.write(b"x" * 1000)
                time.sleep(0.1)
        said, wrong = watching.communicate(timeout=180)
    finally:
        watching.kill()
        watching.wait()
    assert watching.returncode == 0, wrong
    assert "Stopped after" in said
    (run,) = (each.run for each in runs.show_runs(bench.database, bench.slug).runs)
    assert (run.method, run.status) == ("watch", "ok")
    (device,) = pairing.list_devices(bench.database, bench.slug)
    assert device.name == "loan"


def test_it_writes_the_specs_of_its_machine(tmp_path: Path) -> None:
    path = tmp_path / watcher_file.NAME
    path.write_bytes(watcher_file.pack_watcher())
    asked = [sys.executable, "-I", str(path), "--specs", "Borrowed"]
    subprocess.run(asked, cwd=tmp_path, check=True, capture_output=True)
    told = json.loads((tmp_path / "specs.json").read_text())
    assert told["name"] == "Borrowed"
    assert told["threads"] == os.cpu_count()
    bare = [sys.executable, "-I", str(path)]
    done = subprocess.run(bare, check=False, capture_output=True, text=True)
    assert done.returncode == 2
    assert "does not know its bench" in done.stderr


class _There:
    """A bench that knows these names."""

    def setups(self, _: str) -> tuple[str, ...]:
        return "A", "B"

    def tasks(self, _: str) -> tuple[str, ...]:
        return ("Parade",)


def test_what_was_not_typed_is_asked(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    answers = iter(["/nowhere", f'"{tmp_path}"', "7", "b"])
    said = alone._parser().parse_args([])
    there: Any = _There()
    asked = alone._asked(said, there, "s", lambda _: next(answers))
    assert (asked.what.folder, asked.what.setup, asked.tasks) == (tmp_path, "B", ("Parade",))
    assert asked.again
    assert asked.what.wants("Film.MOV")
    assert not asked.what.wants("film.part")
    told = capsys.readouterr().out
    assert "/nowhere: there is no such folder." in told
    assert "Type a number from 1 to 2." in told


def test_it_says_what_it_does_not_know(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sys, "argv", [str(PROJECT / "README.md")])
    with pytest.raises(SendError, match="Save it anew from the bench"):
        alone._pairing(alone._parser().parse_args([]))
    said = alone._parser().parse_args(["--server", "http://x", "--shootout", "s"])
    assert alone._pairing(said) == {"address": "http://x", "shootout": "s"}
