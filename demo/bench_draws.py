"""Runs of the festival shootout drawn by chance: true times, scatter, meters, marks."""

from __future__ import annotations

import json
import uuid
from datetime import UTC, datetime, timedelta

import numpy as np

from demo.names import (
    AUTUMN,
    CAIRN,
    DIARY,
    DIARY_S,
    HALL,
    LARGE,
    LAUNCH,
    PARADE,
    PARADE_HD,
    POINTS,
    RAISED,
    RENDER,
    SETUP_OF,
    SMAINS,
    STILLS,
    STOCK,
    TARN,
    TITLES,
    WHO,
)
from true_margin.core.readings import ReadingMethod, reading_uncertainty
from true_margin.core.wording import format_elapsed
from true_margin.exchange.pack_tables import PackMark, PackRevision, PackRun

# True seconds (points for POINTS) in autumn; what a very long series would average to.
TRUTH: dict[str, dict[str, float]] = {
    PARADE: {TARN: 658, SMAINS: 371, LARGE: 239.5, CAIRN: 371.5, STOCK: 243, RAISED: 236},
    PARADE_HD: {TARN: 512, SMAINS: 301, LARGE: 190, CAIRN: 322, STOCK: 201, RAISED: 201},
    RENDER: {TARN: 905, SMAINS: 548, LARGE: 402, CAIRN: 533, STOCK: 331, RAISED: 331},
    DIARY: {TARN: 214, SMAINS: 128, LARGE: 92, CAIRN: 126, STOCK: 97, RAISED: 97},
    DIARY_S: {TARN: 251, SMAINS: 171, LARGE: 138, CAIRN: 126.5, STOCK: 118, RAISED: 118},
    TITLES: {TARN: 96, SMAINS: 61, LARGE: 48, CAIRN: 58, STOCK: 33, RAISED: 33},
    HALL: {TARN: 741, SMAINS: 735, LARGE: 732, CAIRN: 738, STOCK: 122.5, RAISED: 122.5},
    STILLS: {TARN: 352, SMAINS: 206, LARGE: 141, CAIRN: 214, STOCK: 168, RAISED: 168},
    POINTS: {TARN: 570, SMAINS: 985, LARGE: 1360, CAIRN: 978, STOCK: 1525, RAISED: 1525},
    LAUNCH: {TARN: 6.31, SMAINS: 6.29, LARGE: 6.3, CAIRN: 6.3, STOCK: 6.29, RAISED: 6.29},
}
PACED = {
    TARN: (200, 0.97),
    LARGE: (100, 0.92),
    CAIRN: (150, 1.05),
    STOCK: (60, 1.04),
    RAISED: (90, 1.02),
}
"""From which second on a setup goes at which part of its pace in the run whose progress is read."""
SPREAD = {LAUNCH: 0.006, HALL: 0.008, POINTS: 0.012, STILLS: 0.011}
USUAL_SPREAD = 0.013
# Heddle 6.2 took this many times as long as 6.3; the update helped Cairn Brick more.
SPRING_FACTOR = {TARN: 1.09, LARGE: 1.09, CAIRN: 1.155}
METERS = {
    TARN: (81.0, 142, 44.0),
    CAIRN: (78.0, 61, 34.0),
    SMAINS: (88.0, 46, 38.5),
    LARGE: (92.0, 84, 43.0),
    STOCK: (74.0, 268, 41.0),
    RAISED: (79.0, 297, 43.5),
}
"""Peak heat in °C, watts at the wall and noise in dB, read during the parade."""
LOAD = {PARADE: 1.0, DIARY: 0.97, TITLES: 1.04, STILLS: 0.9}
"""Watts on other jobs, against the parade."""
LOGGED = {LAUNCH, HALL, DIARY_S}
MACHINE_FOLDERS = {
    CAIRN: "file:///Volumes/season",
    LARGE: "file:///home/marit/season",
    STOCK: "file:///D:/season",
}


class Bench:
    """Writes runs down in bench order, with a clock that runs on."""

    def __init__(self, rng: np.random.Generator) -> None:
        self.rng = rng
        self.runs: list[PackRun] = []
        self.revisions: list[PackRevision] = []
        self.marks: list[PackMark] = []
        self.now = datetime(2026, 4, 18, 9, 0, tzinfo=UTC)

    def draw(self, task: str, setup: str, factor: float = 1.0) -> float:
        """Draw one value about the truth."""
        spread = SPREAD.get(task, USUAL_SPREAD)
        return TRUTH[task][setup] * factor * float(np.exp(self.rng.normal(0.0, spread)))

    def write(
        self,
        setup: str,
        task: str,
        round_: str,
        value: float | None,
        *,
        typed: str | None = None,
        resolution: float | None = None,
        approximate: bool = False,
        method: str | None = None,
        status: str = "ok",
        reason: str | None = None,
        note: str | None = None,
    ) -> str:
        """Write one run; the value is rounded to what was typed."""
        amount = task == POINTS
        method = method or ("stated" if amount else "log" if task in LOGGED else "stopwatch")
        if value is not None and typed is None:
            resolution = 1.0 if amount else (0.01 if task == LAUNCH else 0.1)
            value = round(value / resolution) * resolution
            value = round(value, 2)
            typed = f"{value:.0f}" if amount else format_elapsed(value, resolution)
        u = 0.0
        if resolution is not None:
            u = reading_uncertainty(resolution, ReadingMethod(method), approximate=approximate)
        key = str(uuid.UUID(bytes=self.rng.bytes(16), version=4))
        machine, name = SETUP_OF[setup]
        self.runs.append(
            PackRun(
                id=key,
                machine=machine,
                setup=name,
                task=task,
                round=round_,
                place=len(self.runs) + 1,
                status=status,
                value=value,
                typed=typed,
                resolution=resolution,
                approximate=approximate,
                method=method,
                u=round(u, 6),
                reason=reason,
                note=note,
                started_at=self.now,
                who=WHO,
            )
        )
        minutes = 3 + (value or 60) / 60 if not amount else 8
        self.now += timedelta(minutes=round(minutes))
        return key

    def void(self, key: str, reason: str) -> None:
        """Void a run that counted, keeping what it was."""
        at = next(i for i, run in enumerate(self.runs) if run.id == key)
        run = self.runs[at]
        before = {"status": "ok", "value": run.value, "typed": run.typed, "reason": None}
        self.revisions.append(
            PackRevision(
                run=key,
                version=1,
                changed_at=self.now,
                who=WHO,
                why=reason,
                before=json.dumps(before),
            )
        )
        changes = {"status": "void", "reason": reason, "version": 2}
        self.runs[at] = run.model_copy(update=changes)

    def mark(self, key: str, value: float, slow_after_s: float, slow: float) -> None:
        """Read the progress every half minute; after a while the pace may drop."""
        total = slow_after_s + (value - slow_after_s) * slow
        elapsed = 30.0
        while elapsed < value:
            slowed = elapsed > slow_after_s
            done = slow_after_s + (elapsed - slow_after_s) * slow if slowed else elapsed
            rate = 660 * 50 / total * (slow if slowed else 1.0)
            self.marks.append(
                PackMark(
                    run=key,
                    elapsed_s=elapsed,
                    fraction=round(done / total, 4),
                    frames_per_s=round(rate, 1),
                    temperature_c=round(min(94.0, 58 + elapsed / 6.5), 1),
                    left_s=round((total - done) * 1.0 / (slow if slowed else 1.0) * 0.92),
                    event="fan starts" if elapsed == 90.0 else None,
                )
            )
            elapsed += 30.0

    def progress(self, key: str, value: float, slow_after_s: float, slow: float) -> None:
        """Read only how far it is, off its progress bar; after a while the pace may drop."""
        total = slow_after_s + (value - slow_after_s) * slow
        for elapsed in range(40, int(value) - 10, 40):
            before = min(elapsed, slow_after_s)
            done = before + (elapsed - before) * slow
            fraction = round(done / total, 2)
            self.marks.append(PackMark(run=key, elapsed_s=float(elapsed), fraction=fraction))

    def read_meters(self) -> None:
        """Heat, power and noise once in the first autumn run of each job that is exported."""
        seen = set()
        for run in self.runs:
            setup = next(k for k, own in SETUP_OF.items() if own == (run.machine, run.setup))
            key = (setup, run.task)
            known = setup in METERS and run.task in LOAD and run.round == AUTUMN
            if not known or key in seen or run.status != "ok" or run.value is None:
                continue
            seen.add(key)
            heat, watts, noise = METERS[setup]
            self.marks.append(
                PackMark(
                    run=run.id,
                    elapsed_s=round(0.6 * run.value, 1),
                    temperature_c=heat,
                    power_w=round(watts * LOAD[run.task]),
                    noise_db=noise,
                )
            )
