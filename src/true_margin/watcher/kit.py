"""The watcher of a kit: it knows no bench, times what the kit asks for, and writes one result file.

Nothing is sent from here. Whoever ran it looks at the file, and sends it by whatever way they
send files.
"""

from __future__ import annotations

import hashlib
import hmac
import json
import platform
import secrets
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timezone
from pathlib import Path
from typing import Any, Optional

from true_margin import __version__
from true_margin.watcher.log import WatchedRun, read_log
from true_margin.watcher.sensors import read_specs
from true_margin.watcher.watch import Watched, watch

KIT = "kit.json"
"""Member of the file that says what the kit asks for: its id, secret, tasks and runs."""
FORMAT = 1
MOST_LOG = 200_000
"""So many signs of the log go along, the newest."""
Ask = Callable[[str], str]
Tell = Callable[[str], None]


@dataclass(frozen=True)
class Sender:
    """What somebody says of themselves and of their machine; a name may be left out."""

    name: str
    model: str
    note: str = ""


def run_kit(
    kit: Mapping[str, Any], folder: Path, pattern: Sequence[str], log: Path, ask: Ask, tell: Tell
) -> Optional[Path]:
    """Time what a kit asks for, and write the result.

    Args:
        kit: what the file knows of its kit.
        folder: that the exports are written into.
        pattern: names of finished files.
        log: event log, made or added to; what stands in it already counts.
        ask: asks a person for a line.
        tell: takes a line for the person.

    Returns:
        The result file, beside the log; None where nothing was timed.
    """
    tell(kit["consent"])
    if ask("Type yes to go on: ").strip().casefold() not in ("yes", "y"):
        raise KeyboardInterrupt
    model = ""
    while not model.strip():
        model = ask("Maker and model of this machine: ")
    sender = Sender(ask("Name to show, or Enter for none: ").strip(), model.strip())
    for task in kit["tasks"]:
        for number in range(_done(log, task["id"]) + 1, int(kit["runs"]) + 1):
            tell(f"{task['name']}, run {number} of {kit['runs']}: {task['how']}")
            answer = ask("Press Enter, then start the export; s skips this task: ")
            if answer.strip().casefold() == "s":
                break
            what = Watched(
                folder,
                pattern[0],
                kit["kit"],
                sender.model,
                task["id"],
                0.25,
                also=tuple(pattern[1:]),
            )
            watch(what, log, tell)
    if not _runs(log):
        tell("Nothing was timed, so nothing is written.")
        return None
    note = ask("Anything to add (power mode, other programs), or Enter: ").strip()
    written = write_result(kit, Sender(sender.name, sender.model, note), log, tell)
    tell(f"Written: {written}. Look at it, and send it to whoever gave you this kit.")
    return written


def _done(log: Path, task: str) -> int:
    """How many runs of a task the log holds that count."""
    return sum(run.task == task and run.status == "ok" for run in _runs(log))


def _runs(log: Path) -> list[WatchedRun]:
    return read_log(log) if log.exists() else []


def write_result(kit: Mapping[str, Any], sender: Sender, log: Path, tell: Tell) -> Path:
    """Write what the log holds as one sealed result file, beside it."""
    word = "-".join(secrets.token_hex(2) for _ in range(3))
    tell(
        f"Your code is {word}. Keep it: whoever knows it may ask that this result is erased. "
        f"It stands in no file."
    )
    runs = _runs(log)
    payload = {
        "kit": kit["kit"],
        "made_at": datetime.now(timezone.utc).isoformat(),
        "sender": sender.name or None,
        "model": sender.model,
        "note": sender.note or None,
        "consent": kit["consent"],
        "code": hashlib.sha256(word.encode()).hexdigest(),
        "specs": {title: str(value) for title, value in read_specs(sender.model).items()},
        "versions": {
            "made by": f"watcher {__version__}",
            "python": platform.python_version(),
            "system": platform.platform(),
        },
        "tasks": [
            {"task": task["id"], "runs": own}
            for task in kit["tasks"]
            if (own := [_run(run) for run in runs if run.task == task["id"]])
        ],
        "log": "\n".join(_told_of(log))[-MOST_LOG:],
    }
    path = log.with_name(f"result-{time.strftime('%Y-%m-%d-%H%M%S')}.json")
    path.write_text(sealed(payload, kit["secret"]), encoding="utf-8")
    return path


PRIVATE = ("folder", "there", "pattern", "name")
"""What the log knows of somebody's disk, and nobody else needs to."""


def _told_of(log: Path) -> Iterator[str]:
    """The events of a log without what they say of somebody's disk."""
    for line in log.read_text(encoding="utf-8").splitlines() if log.exists() else ():
        try:
            event = json.loads(line)
        except ValueError:
            continue
        if isinstance(event, dict):
            yield json.dumps({name: each for name, each in event.items() if name not in PRIVATE})


def _run(run: WatchedRun) -> dict[str, Any]:
    return {
        "seconds": run.elapsed_s,
        "u": round(run.poll_s, 4),
        "method": "watch",
        "status": run.status,
        "reason": run.reason,
        "started_at": run.started_at,
    }


def sealed(payload: Mapping[str, Any], secret: str) -> str:
    """Write a result file: the result as one text, and a seal over that text.

    The seal shows that nothing was changed since by whoever has no kit; it proves no more.
    """
    text = json.dumps(payload, ensure_ascii=False)
    return json.dumps(
        {"trueMarginResult": FORMAT, "result": text, "seal": seal_of(text, secret)},
        ensure_ascii=False,
        indent=1,
    )


def seal_of(text: str, secret: str) -> str:
    """HMAC-SHA256 of a text, as hexadecimal digits; the secret is hexadecimal digits too."""
    told = text.encode("utf-8", "surrogatepass")
    return hmac.new(bytes.fromhex(secret), told, hashlib.sha256).hexdigest()
