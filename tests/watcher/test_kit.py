"""The watcher of a kit: it asks, times, and writes one sealed file; nothing is sent."""

from __future__ import annotations

import subprocess
import threading
import time
from hashlib import sha256
from pathlib import Path
from typing import Any

import pytest

from tests.watcher.test_one_file import pythons
from true_margin.desk.bench.watcher_file import pack_watcher
from true_margin.exchange.sent_result import read_sent
from true_margin.watcher.kit import run_kit, seal_of

KIT: dict[str, Any] = {
    "kit": "0a0a0a0a-0000-4000-8000-000000000001",
    "shootout": "A field",
    "secret": "ab" * 32,
    "runs": 2,
    "consent": "What is stored is told here.",
    "tasks": [
        {"id": "0a0a0a0a-0000-4000-8000-00000000000a", "name": "Parade", "how": "Export it."},
        {"id": "0a0a0a0a-0000-4000-8000-00000000000b", "name": "Diary", "how": "Export it."},
    ],
}


class Person:
    """Answers questions as somebody does, and starts an export where one is asked for."""

    def __init__(self, folder: Path, skipped: str = "Diary") -> None:
        self.folder = folder
        self.skipped = skipped
        self.heard: list[str] = []
        self.exports = 0

    def tell(self, line: str) -> None:
        self.heard.append(line)

    def ask(self, question: str) -> str:
        if question.startswith("Press Enter"):
            if self.heard[-1].startswith(self.skipped):
                return "s"
            self.exports += 1
            threading.Thread(target=self._export, args=(self.exports,), daemon=True).start()
            return ""
        answers = {"Type yes": "yes", "Maker": "Halyard L", "Name": "", "Anything": "on mains"}
        return next(answer for start, answer in answers.items() if question.startswith(start))

    def _export(self, number: int) -> None:
        time.sleep(0.8)
        with (self.folder / f"secret-film-{number}.mp4").open("wb", buffering=0) as file:
            for _ in range(8):
                file.write(bytes(65536))
                time.sleep(0.1)


def test_what_a_kit_asks_for_becomes_one_sealed_file(tmp_path: Path) -> None:
    folder, log = tmp_path / "films", tmp_path / "watched.jsonl"
    folder.mkdir()
    person = Person(folder)
    written = run_kit(KIT, folder, ["*.mp4"], log, person.ask, person.tell)
    assert written is not None
    assert person.heard[0] == KIT["consent"], "it is told before anything is asked"
    file = read_sent(written.read_text(encoding="utf-8"))
    assert file.seal == seal_of(file.text, KIT["secret"])
    sent = file.sent
    assert (sent.model, sent.sender, sent.note) == ("Halyard L", None, "on mains")
    (task,) = sent.tasks
    assert str(task.task) == KIT["tasks"][0]["id"]
    assert len(task.runs) == 2
    for run in task.runs:
        # Without an index the film says of itself that it is cut off: then it does not count.
        assert run.method == "watch"
        assert run.seconds is not None
        assert run.seconds == pytest.approx(0.8, abs=0.6)
    assert "secret-film" not in file.text
    assert str(folder) not in file.text
    word = next(line for line in person.heard if line.startswith("Your code is ")).split()[3]
    assert sent.code == sha256(word.rstrip(".").encode()).hexdigest()


def test_nothing_is_asked_of_whoever_does_not_agree(tmp_path: Path) -> None:
    asked: list[str] = []

    def ask(question: str) -> str:
        asked.append(question)
        return "no"

    with pytest.raises(KeyboardInterrupt):
        run_kit(KIT, tmp_path, ["*"], tmp_path / "log.jsonl", ask, lambda _: None)
    assert len(asked) == 1
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize("python", pythons())
def test_a_python_of_this_machine_runs_it(tmp_path: Path, python: str) -> None:
    path = tmp_path / "true-margin-watch.pyz"
    path.write_bytes(pack_watcher({"kit.json": KIT}))
    done = subprocess.run(
        [python, "-I", str(path), "--folder", str(tmp_path)],
        cwd=tmp_path,
        input="yes\nHalyard L\n\ns\ns\n\n",
        capture_output=True,
        text=True,
        check=False,
        timeout=180,
    )
    assert done.returncode == 0, done.stderr
    assert KIT["consent"] in done.stdout
    assert "Nothing was timed" in done.stdout
    assert [each.name for each in tmp_path.iterdir()] == ["true-margin-watch.pyz"]
