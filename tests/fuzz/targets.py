"""What reads input from outside: each with good input to damage, and how it may refuse."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from tests.conftest import PROJECT
from tests.desk.test_timelines import edit
from true_margin.app.device_log import read_device_log
from true_margin.core.analysis import analyse
from true_margin.core.claims.check import check_line, names_of
from true_margin.core.entry_line import read_entry
from true_margin.core.errors import CoreError
from true_margin.core.quantities import parse_amount, parse_elapsed
from true_margin.core.timecodes import parse_timecodes
from true_margin.desk.errors import RefusedError
from true_margin.exchange.apart import TIMELINE, read_apart
from true_margin.exchange.case_csv import read_case_csv
from true_margin.exchange.case_file import build_study, read_case
from true_margin.exchange.data_pack import read_pack, read_zip, zip_files
from true_margin.exchange.probe_files import read_probe
from true_margin.exchange.run_table import read_run_table
from true_margin.exchange.script_text import read_script
from true_margin.exchange.sheets.columns import Known
from true_margin.exchange.sheets.sheet import read_sheet
from true_margin.exchange.spec_table import read_specs
from true_margin.exchange.timeline_files import read_timeline

VECTORS = PROJECT / "tests" / "vectors"
REFUSALS = (CoreError, RefusedError)
"""How bad input may be answered: with a reason. Everything else is a crash."""


@dataclass(frozen=True, slots=True)
class Target:
    """Something that reads.

    Attributes:
        good: input that is read.
        read: reads bytes, or refuses them.
    """

    good: tuple[bytes, ...]
    read: Callable[[bytes], object]


def _text(read: Callable[[str], object]) -> Callable[[bytes], object]:
    """What a browser sends is text by then: bytes that are none are replaced."""
    return lambda content: read(content.decode("utf-8", errors="replace"))


def times() -> Target:
    """Elapsed times, amounts, timecodes and whole entry lines, as people type them."""
    good = [
        "6:17",
        "18.40 min",
        "1:02:03.5",
        "8 min 59 s",
        "~9m",
        "377 s",
        "01:00:00:12 01:06:17:03 @ 25",
        "1h 3m",
        "59.94",
        "12,400",
        "6:17.25 log",
        "halyard l / parade / 6:17 log",
        "crashed",
        "Tarn Desk / diary / failed: out of memory / round 2",
    ]
    setups, tasks = ["Tarn Desk", "Halyard L", "Halyard M"], ["parade", "diary", "stills"]

    def read(text: str) -> None:
        for each in (parse_elapsed, parse_amount, parse_timecodes):
            with suppress(CoreError):
                each(text)
        read_entry(text, setups, tasks, ["1", "2"])

    return Target(tuple(each.encode() for each in good), _text(read))


MESSY = Path(__file__).parents[1] / "exchange" / "messy"


def tables() -> Target:
    """Tables of runs, spec sheets and case files as CSV."""
    good = (
        b"setup,task,round,value,status,note\nA,Parade,1,6:17,ok,\nB,Parade,1,,failed,crashed\n",
        b"Setup;Parade;Diary\nHalyard L;6:17;3:02\nTarn Desk;11:42;\n",
        b'setup\ttask\tvalue\nA\tT\t5:20\nB\tT\t"5:58"\n',
        b"machine,memory_gb,storage_gb\nHalyard L,32,1000\nTarn Desk,16,\n",
        b"Halyard L\tTarn Desk\nMemory\t32 GB\t16 GB\n",
        *(path.read_bytes() for path in sorted(MESSY.iterdir())),
    )

    def read(text: str) -> None:
        for each in (read_run_table, read_specs, read_case_csv):
            with suppress(CoreError):
                each(text)
        with suppress(CoreError):
            read_sheet(text, Known())

    return Target(good, _text(read))


def timelines() -> Target:
    """Edited timelines, OTIO and EDL, plain and packed."""
    lines = b"TITLE: Parade\nFCM: NON-DROP FRAME\n\n001  AX V     C        00:00:00:00 00:00:04:00 01:00:00:00 01:00:04:00\n* FROM CLIP NAME: take1.mov\n"
    demo = min((PROJECT / "demo").glob("*/timeline-*.otio"), key=lambda file: file.stat().st_size)
    packed = zip_files({"content.otio": edit(100, 50), "version.txt": b"1.0.0"})
    good = (edit(100, 50, 25), edit(1), packed, demo.read_bytes()[:20_000], lines, lines * 3)

    def read(content: bytes) -> None:
        # By the name that it would have; now and then by another, which it is not.
        kinds = ("cut.otioz", "cut.edl", "cut.otio")
        begins = (b"PK", b"TITLE", b"")
        place = next(n for n, begin in enumerate(begins) if content.startswith(begin))
        if len(content) % 11 == 0:
            place = (place + 1) % len(kinds)
        rate = 25.0 if kinds[place] == "cut.edl" else None
        with suppress(CoreError):
            read_apart(TIMELINE, read_timeline, kinds[place], content, rate=rate)

    return Target(good, read)


def probes() -> Target:
    """Probe files of outputs, and the log of a device."""
    files = sorted((PROJECT / "demo").glob("*/probe-*.json"))[:6]
    log = json.dumps(
        {
            "event": "run",
            "run": {"setup_id": "0" * 32, "task_id": "1" * 32, "typed": "6:17", "client_key": "k"},
        }
    ).encode()

    def read(content: bytes) -> None:
        with suppress(CoreError):
            read_probe(content)
        with suppress(RefusedError):
            read_device_log(content.decode("utf-8", errors="replace"))

    return Target((*(file.read_bytes() for file in files), log + b"\n" + log), read)


def claims() -> Target:
    """Sentences of a script, judged against a study; scripts and subtitles; case files."""
    document = json.loads((VECTORS / "claims.json").read_text())
    analysis = analyse(build_study(document["case"]))
    names = names_of(analysis)
    said = [str(each["text"] if "text" in each else each["say"]) for each in _said(document)]
    subtitles = (
        "WEBVTT\n\n00:01.000 --> 00:04.000\nThe Halyard L is 1.4 times as fast\nas the Tarn Desk.\n"
    )

    def read(text: str) -> None:
        for line in read_script(text):
            check_line(analysis, names, line.text)
        with suppress(CoreError):
            read_case(text)

    return Target((*(each.encode() for each in said), subtitles.encode()), _text(read))


def _said(document: Mapping[str, object]) -> list[dict[str, object]]:
    found = next(v for k, v in document.items() if k != "case" and isinstance(v, list))
    return [each for each in found if isinstance(each, dict)]


def packs(files: Mapping[str, bytes]) -> Target:
    """Data packs: one file of a good one is damaged, or the archive itself.

    Args:
        files: of a good pack.
    """
    whole = zip_files(dict(files))
    good = (b"zip\n" + whole, *(f"{path}\n".encode() + each for path, each in files.items()))

    def read(content: bytes) -> None:
        path, _, inside = content.partition(b"\n")
        name = path.decode("utf-8", errors="replace")
        read_pack({**files, name: inside} if name in files else read_zip(inside))

    return Target(good, read)
