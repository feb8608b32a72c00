"""The watcher as one file: it asks for what it was not told, and knows its bench already."""

from __future__ import annotations

import argparse
import json
import signal
import sys
import zipfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from true_margin.core.errors import CoreError
from true_margin.watcher.calls import SendError
from true_margin.watcher.command import Watching, watch_all
from true_margin.watcher.kit import KIT, run_kit
from true_margin.watcher.send import Server
from true_margin.watcher.sensors import write_specs
from true_margin.watcher.watch import Watched, send_log

PAIRING = "pairing.json"
"""Member of the file that says where its bench is: address, shootout, token, certificate."""
FILMS = "*.mp4 *.mov *.mkv *.webm *.mxf *.avi"


def main(argv: Sequence[str] | None = None, ask: Callable[[str], str] = input) -> int:
    """Watch exports from the command line, or by answers to a few questions.

    Args:
        argv: what was typed; None for the program's own.
        ask: asks a person for a line.

    Returns:
        0; 2 where something could not be, which is said.
    """
    # A program that was begun in the background ignores the one, and knows nothing of the other.
    for each in (signal.SIGINT, signal.SIGTERM):
        signal.signal(each, signal.default_int_handler)
    said = _parser().parse_args(argv)
    kit = _member(KIT)
    try:
        if kit is not None:
            run_kit(kit, _folder(said, ask), said.pattern.split() or ["*"], said.log, ask, _tell)
            return 0
        paired = _pairing(said)
        if said.specs:
            write_specs(said.specs, Path("specs.json"))
            print("Written to specs.json. Drop it on the line-up: Paste specs.")
            return 0
        token, certificate = paired.get("token"), paired.get("certificate")
        with Server(paired["address"], token, certificate) as there:
            if said.send_only:
                send_log(there, said.log, _tell)
                return 0
            watch_all(there, _asked(said, there, paired["shootout"], ask), _tell)
    except (CoreError, OSError) as error:
        print(error, file=sys.stderr)
        return 2
    except (KeyboardInterrupt, EOFError):
        again = "start this again to go on" if kit is not None else "send it with --send-only"
        print(f"Stopped watching. What was seen is in {said.log}; {again}.")
    return 0


def _tell(line: str) -> None:
    """Say a line at once, also where somebody else reads along."""
    print(line, flush=True)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="true-margin-watch",
        description="Times exports by their files. Without options it asks for what it needs.",
    )
    add = parser.add_argument
    add("--folder", type=Path, help="folder that the export is written into")
    add("--setup", help="setup that exports, as the line-up calls it")
    add("--task", action="append", help="task that is exported; several in their order")
    add("--pattern", default=FILMS, help="names of a finished file, parted by spaces")
    add("--poll", type=float, default=0.25, help="seconds between two looks")
    add("--once", action="store_true", help="end after the tasks instead of watching on")
    add("--by-key", action="store_true", help="start with Enter instead of the first byte")
    add("--log", type=Path, default=Path("watched.jsonl"), help="event log, JSON lines")
    add("--send-only", action="store_true", help="watch nothing; send what the log holds")
    add("--specs", metavar="NAME", help="write this machine's spec file instead, and end")
    add("--server", help="address of the bench, where this file does not know it")
    add("--shootout", help="name in the shootout's address, where this file does not know it")
    return parser


def _pairing(said: argparse.Namespace) -> dict[str, Any]:
    """What this file knows of its bench, and what was typed instead."""
    known = _member(PAIRING) or {}
    if said.server:
        known["address"] = said.server
    if said.shootout:
        known["shootout"] = said.shootout
    if not said.specs and not {"address", "shootout"} <= set(known):
        raise SendError(
            "This file does not know its bench. Save it anew from the bench, under Other devices, "
            "or say --server and --shootout."
        )
    return known


def _member(name: str) -> dict[str, Any] | None:
    """What a member of this file says; None where it has none."""
    own = Path(sys.argv[0])
    if not zipfile.is_zipfile(own):
        return None
    with zipfile.ZipFile(own) as file:
        if name not in file.namelist():
            return None
        found: dict[str, Any] = json.loads(file.read(name))
        return found


def _folder(said: argparse.Namespace, ask: Callable[[str], str]) -> Path:
    """The folder that the export is written into: as typed, else as answered."""
    folder: Path | None = said.folder
    while folder is None or not folder.is_dir():
        if folder is not None:
            print(f"{folder}: there is no such folder.")
        typed = ask("Folder that the export is written into: ").strip()
        folder = Path(typed.strip("'\"")).expanduser()
    return folder


def _asked(
    said: argparse.Namespace, there: Server, shootout: str, ask: Callable[[str], str]
) -> Watching:
    """What to watch: as typed, else as answered.

    Raises:
        SendError: nobody can be asked for names, because the bench does not answer.
    """
    folder = _folder(said, ask)
    setup = said.setup or _chosen("Which machine is this?", there.setups(shootout), ask)
    tasks = said.task or [_chosen("Which task do you export?", there.tasks(shootout), ask)]
    pattern, *also = said.pattern.split() or ["*"]
    poll_s = max(said.poll, 0.05)
    what = Watched(folder, pattern, shootout, setup, tasks[0], poll_s, also=tuple(also))
    return Watching(what, tuple(tasks), said.log, not said.once, said.by_key)


def _chosen(question: str, names: Sequence[str], ask: Callable[[str], str]) -> str:
    """One of several names, by its number or itself."""
    if len(names) == 1:
        return names[0]
    print(question)
    for place, name in enumerate(names, 1):
        print(f"  {place:2d}  {name}")
    while True:
        typed = ask("Number: ").strip()
        if typed.isdigit() and 1 <= int(typed) <= len(names):
            return names[int(typed) - 1]
        for name in names:
            if name.casefold() == typed.casefold():
                return name
        print(f"Type a number from 1 to {len(names)}.")
