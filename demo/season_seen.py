"""What was seen and not timed in the festival shootout: playback, trials, troubles."""

from __future__ import annotations

from datetime import UTC, datetime

from demo.names import (
    CAIRN,
    DIARY,
    LARGE,
    PARADE,
    PEBBLE,
    SBATT,
    SETUP_OF,
    SMAINS,
    STOCK,
    TARN,
    WATCHED,
    WHO,
)
from true_margin.exchange.pack_noted import PackPlayback, PackTrial, PackTrouble

# Best quality held without dropped frames, frames dropped of 3 000 at full quality.
SEEN = {
    TARN: ("half", 212),
    CAIRN: ("full", 0),
    SMAINS: ("full", 0),
    SBATT: ("half", 61),
    LARGE: ("full", 0),
    STOCK: ("full", 0),
    PEBBLE: ("none", 1904),
}
PLAYBACKS = [
    PackPlayback(
        task=WATCHED,
        machine=SETUP_OF[setup][0],
        setup=SETUP_OF[setup][1],
        who=WHO,
        noted_at=datetime(2026, 10, 17, 9, 8 * place, tzinfo=UTC),
        quality=quality,
        dropped=dropped,
        total=3000,
    )
    for place, (setup, (quality, dropped)) in enumerate(SEEN.items())
]
# How the edit itself went on the parade, by setup: what was tried, grade, freezes.
TRIED = {
    TARN: [("scrub", "slow", 0), ("playback full", "stutters", 3), ("playback half", "smooth", 0)],
    CAIRN: [("scrub", "smooth", 0), ("playback full", "smooth", 0), ("seek", "smooth", 0)],
    SBATT: [("scrub", "smooth", 0), ("playback full", "slow", 1)],
    LARGE: [("scrub", "smooth", 0), ("playback full", "smooth", 0), ("page switch", "smooth", 0)],
    STOCK: [("scrub", "smooth", 0), ("playback full", "smooth", 0), ("import", "smooth", 0)],
    PEBBLE: [
        ("scrub", "stutters", 11),
        ("seek", "stutters", 4),
        ("playback quarter", "unusable", 9),
    ],
}
TRIALS = [
    PackTrial(
        task=WATCHED,
        machine=SETUP_OF[setup][0],
        setup=SETUP_OF[setup][1],
        who=WHO,
        noted_at=datetime(2026, 10, 17, 11, 6 * place, step, tzinfo=UTC),
        kind=kind,
        grade=grade,
        freezes=freezes,
    )
    for place, (setup, tried) in enumerate(TRIED.items())
    for step, (kind, grade, freezes) in enumerate(tried)
]
AFTER_UPDATE = [("scrub", "slow", 0), ("seek", "slow", 1), ("playback quarter", "stutters", 5)]
"""Pebble once more, after the update of its graphics driver."""
TROUBLES = [
    PackTrouble(
        task=task,
        machine=SETUP_OF[setup][0],
        setup=SETUP_OF[setup][1],
        who=WHO,
        noted_at=datetime(2026, 10, 18, 10, place, tzinfo=UTC),
        kind=kind,
        note=note,
    )
    for place, (setup, task, kind, note) in enumerate(
        [
            (SBATT, PARADE, "device fails", "the card reader dropped out; plugged in again, fine"),
            (
                PEBBLE,
                DIARY,
                "crash",
                "the editor closed while a page was switched; nothing was lost",
            ),
        ]
    )
]
