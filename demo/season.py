"""What the festival shootout tests: machines, specs, prices, tasks; nothing drawn by chance."""

from __future__ import annotations

from datetime import UTC, date, datetime
from decimal import Decimal

from true_margin.core.choices import StepKind
from true_margin.core.spec_rows import SPECS as CORE_SPECS
from true_margin.core.spec_rows import STATES
from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackInquiryStep,
    PackOverrule,
    PackPlayback,
    PackPublished,
    PackTrial,
    PackTrouble,
)
from true_margin.exchange.pack_tables import (
    PackExtra,
    PackFreeRow,
    PackMachine,
    PackSetup,
    PackSetupSpec,
    PackSpec,
    PackTask,
    PackTaskSetting,
    PackTimeline,
)

WHO = "Marit Oduya-Lind"
PARADE = "Lantern parade, export UHD"
PARADE_HD = "Lantern parade, export 1080p"
RENDER = "Lantern parade, background render"
DIARY = "Backstage diary, export in Heddle"
DIARY_S = "Backstage diary, export in Sprocketry"
TITLES = "Curtain titles, export"
HALL = "Hall recording, clean-up"
STILLS = "Rehearsal stills, export"
POINTS = "Lens points"
LAUNCH = "Heddle launch"
WATCHED = "Lantern parade, playback"

TARN, SMAINS, SBATT = "Tarn Desk", "Halyard S mains", "Halyard S battery"
LARGE, CAIRN, STOCK, RAISED = "Halyard L", "Cairn Brick", "Ferrous T9 stock", "Ferrous T9 raised"
PEBBLE = "Pebble"
SETUP_OF = {
    TARN: ("Tarn Desk", "as owned"),
    SMAINS: ("Halyard S", "mains"),
    SBATT: ("Halyard S", "battery"),
    LARGE: ("Halyard L", "as lent"),
    CAIRN: ("Cairn Brick", "as bought"),
    STOCK: ("Ferrous T9", "stock"),
    RAISED: ("Ferrous T9", "overclocked"),
    PEBBLE: ("Pebble", "as bought"),
}


# Specs by row of the sheet, as a reviewer would type them.
SPECS_OF: dict[str, dict[str, str]] = {
    "Tarn Desk": {
        "Type": "tower",
        "Year": "2022",
        "Own, bought or lent": "owned",
        "Weight": "9.8",
        "Noise": "audible",
        "Supported until": "2028",
        "Processor": "Obol 6",
        "Cores": "6",
        "Threads": "12",
        "Base clock": "3.1",
        "Boost clock": "4.0",
        "Power limit": "65",
        "Graphics": "integrated",
        "Memory": "24",
        "Memory speed": "3200",
        "Memory channels": "2",
        "Storage kind": "SSD",
        "Storage": "512",
        "Read, measured": "2100",
        "Write, measured": "1400",
        "Decodes in hardware": "H.264",
        "Encodes in hardware": "H.264",
        "Ports": "4 USB, audio in, audio out",
        "System": "Lathe 12.7",
        "Note": "Four years old; the machine to beat.",
    },
    "Cairn Brick": {
        "Type": "small desktop",
        "Year": "2026",
        "Own, bought or lent": "bought",
        "Weight": "0.9",
        "Noise": "quiet",
        "Supported until": "2033",
        "Processor": "Mica 8",
        "Cores": "8",
        "Threads": "8",
        "Base clock": "3.6",
        "Power limit": "35",
        "Graphics": "integrated",
        "Memory": "24",
        "Memory speed": "6400",
        "Memory channels": "2",
        "Storage kind": "soldered SSD",
        "Storage": "512",
        "Read, measured": "3100",
        "Write, measured": "2900",
        "Decodes in hardware": "H.264, HEVC, ProLine",
        "Encodes in hardware": "H.264, HEVC",
        "Ports": "3 USB, network, card reader",
        "System": "Lathe 14.2",
    },
    "Halyard S": {
        "Type": "laptop",
        "Year": "2026",
        "Own, bought or lent": "lent",
        "Weight": "1.3",
        "Noise": "quiet",
        "Supported until": "2033",
        "Processor": "Sable 8",
        "Cores": "8",
        "Threads": "16",
        "Base clock": "3.6",
        "Boost clock": "4.4",
        "Power limit": "28",
        "Graphics": "integrated",
        "Memory": "16",
        "Memory speed": "7500",
        "Memory channels": "2",
        "Storage kind": "SSD",
        "Storage": "512",
        "Read, measured": "4800",
        "Write, measured": "3600",
        "Screen": "13 inch, 2560x1600",
        "Decodes in hardware": "H.264, HEVC",
        "Encodes in hardware": "H.264, HEVC",
        "Ports": "2 USB",
        "System": "Lathe 14.2",
    },
    "Halyard L": {
        "Type": "laptop",
        "Year": "2026",
        "Own, bought or lent": "lent",
        "Weight": "2.1",
        "Noise": "audible",
        "Supported until": "2033",
        "Processor": "Sable 12",
        "Cores": "12",
        "Threads": "24",
        "Base clock": "3.8",
        "Boost clock": "4.8",
        "Power limit": "54",
        "Graphics": "integrated",
        "Memory": "32",
        "Memory speed": "8500",
        "Memory channels": "4",
        "Storage kind": "SSD",
        "Storage": "1000",
        "Read, measured": "6900",
        "Write, measured": "5400",
        "Screen": "16 inch, 3200x2000",
        "Decodes in hardware": "H.264, HEVC, ProLine",
        "Encodes in hardware": "H.264, HEVC",
        "Ports": "3 USB, card reader, video out",
        "System": "Lathe 14.2",
    },
    "Ferrous T9": {
        "Type": "tower",
        "Year": "2026",
        "Own, bought or lent": "built",
        "Weight": "14.6",
        "Noise": "loud",
        "Supported until": "2034",
        "Processor": "Obol 16",
        "Cores": "16",
        "Threads": "32",
        "Base clock": "4.2",
        "Boost clock": "5.1",
        "Power limit": "170",
        "Graphics": "Garnet G4",
        "Graphics memory": "12",
        "Memory": "64",
        "Memory speed": "5600",
        "Memory channels": "2",
        "Storage kind": "SSD",
        "Storage": "2000",
        "Read, measured": "7100",
        "Write, measured": "6300",
        "Decodes in hardware": "H.264, HEVC",
        "Encodes in hardware": "H.264, HEVC",
        "Ports": "8 USB, network, 3 video out",
        "System": "Plumb 22.1",
        "Driver versions": "Garnet 31.4",
    },
    "Pebble": {
        "Type": "thin client",
        "Year": "2023",
        "Own, bought or lent": "bought",
        "Weight": "0.6",
        "Noise": "silent",
        "Supported until": "2029",
        "Processor": "Quern 4",
        "Cores": "4",
        "Threads": "4",
        "Base clock": "2.4",
        "Power limit": "10",
        "Graphics": "integrated",
        "Memory": "8",
        "Memory speed": "2933",
        "Memory channels": "1",
        "Storage kind": "soldered SSD",
        "Storage": "128",
        "Read, measured": "420",
        "Write, measured": "260",
        "Decodes in hardware": "H.264",
        "Ports": "4 USB, network",
        "System": "Lathe 12.0",
        "Note": "No fan.",
    },
    "Halyard M": {
        "Type": "laptop",
        "Year": "2027",
        "Own, bought or lent": "announced",
        "Weight": "1.7",
        "Processor": "Sable 10",
        "Cores": "10",
        "Threads": "20",
        "Graphics": "integrated",
        "Memory": "24",
        "Storage": "512",
        "Screen": "14 inch, 2880x1800",
        "Note": "Announced for the new year; not on the desk, no runs.",
    },
}
FREE_ROWS = [
    PackFreeRow(title="Runs on a car battery", number=False),
    PackFreeRow(title="Height on the desk", unit="cm", number=True),
]
FREE_CELLS = {
    "Runs on a car battery": {
        "Cairn Brick": "yes, 19 V",
        "Halyard S": "yes, 20 V",
        "Halyard L": "with a 140 W supply",
        "Pebble": "yes, 12 V",
    },
    "Height on the desk": {
        "Tarn Desk": "41",
        "Cairn Brick": "6",
        "Ferrous T9": "47",
        "Pebble": "5",
    },
}
MACHINES = [PackMachine(name=name) for name in SPECS_OF]


def tested(machine: str, name: str, **more: str) -> tuple[PackSetup, dict[str, str]]:
    """A setup as it was tested, with the state that was noted, by row."""
    usual = {
        "Power source": "mains",
        "Fresh boot": "yes",
        "Background programs": "none",
        "Room": "20",
        "Previews": "emptied before each run",
    }
    return PackSetup(machine=machine, name=name), {**usual, **more}


_ONLY = {"Locked to its own system": "yes"}
TESTED = [
    tested("Tarn Desk", "as owned", **_ONLY),
    tested("Cairn Brick", "as bought"),
    tested("Halyard S", "mains"),
    tested("Halyard S", "battery", **{"Power source": "battery"}),
    tested("Halyard L", "as lent", Room="26.5"),
    tested("Ferrous T9", "stock", **_ONLY),
    tested("Ferrous T9", "overclocked", **{"Base clock": "4.37"}, **_ONLY),
    tested("Pebble", "as bought", **_ONLY),
    (
        PackSetup(
            machine="Halyard M",
            name="as announced",
            assumed_ratio=1.22,
            assumed_against_machine="Halyard S",
            assumed_against_setup="mains",
            assumed_source="maker's talk, September: 'a fifth faster than S'",
        ),
        {},
    ),
]
SETUPS = [setup for setup, _ in TESTED]


def unit_of(row: str) -> str | None:
    """The unit of a row of the spec sheet."""
    units = {spec.title: spec.unit for spec in (*CORE_SPECS, *STATES)}
    return {**units, **{each.title: each.unit for each in FREE_ROWS}}[row]


def spec_cells() -> list[PackSpec]:
    """Every cell of a machine."""
    cells = []
    for machine, specs in SPECS_OF.items():
        own = {row: values[machine] for row, values in FREE_CELLS.items() if machine in values}
        cells += [(machine, row, value) for row, value in (*specs.items(), *own.items())]
    return [PackSpec(machine=m, row=r, value=v, unit=unit_of(r)) for m, r, v in cells]


def setup_cells() -> list[PackSetupSpec]:
    """What each setup has of its own, and the state it was tested in."""
    order = [spec.title for spec in (*CORE_SPECS, *STATES)]
    return [
        PackSetupSpec(
            machine=setup.machine, setup=setup.name, row=row, value=state[row], unit=unit_of(row)
        )
        for setup, state in TESTED
        for row in sorted(state, key=order.index)
    ]


OVERRULES = [
    PackOverrule(
        task=task,
        machine_a="Ferrous T9",
        setup_a="stock",
        machine_b=machine,
        setup_b=setup,
        reason="one frame of 9 000 is missing; it cannot move the time",
        who=WHO,
        made_at=datetime(2026, 10, 15, 10, 0, tzinfo=UTC),
    )
    for task, machine, setup in [
        (DIARY, "Cairn Brick", "as bought"),
        (DIARY, "Halyard L", "as lent"),
        (DIARY_S, "Halyard L", "as lent"),
    ]
]
INQUIRIES = [
    PackInquiry(
        id="backup",
        kind="other",
        task=PARADE,
        machine_a="Halyard L",
        setup_a="as lent",
        about="Some spring runs of Halyard L on the parade took a tenth longer than others",
        suspected="a backup program that starts by itself in the evening",
        changed="the backup program was switched off, and the machine left alone for an hour",
        outcome="in autumn its runs repeat within a few seconds",
        counts="again",
        who=WHO,
        opened_at=datetime(2026, 5, 20, 21, 30, tzinfo=UTC),
        closed_at=datetime(2026, 10, 14, 18, 0, tzinfo=UTC),
    )
]
INQUIRY_STEPS = [
    PackInquiryStep(
        inquiry="backup", place=place, kind=kind, words=words, counts=counts, who=who, noted_at=at
    )
    for place, (kind, words, counts, who, at) in enumerate(
        [
            (
                StepKind.SUSPECTED,
                INQUIRIES[0].suspected,
                None,
                WHO,
                datetime(2026, 5, 20, 21, 30, tzinfo=UTC),
            ),
            (
                StepKind.CHANGED,
                INQUIRIES[0].changed,
                None,
                WHO,
                datetime(2026, 5, 21, 9, 10, tzinfo=UTC),
            ),
            (StepKind.AGAIN, None, None, WHO, datetime(2026, 10, 14, 17, 40, tzinfo=UTC)),
            (
                StepKind.CAME_OUT,
                INQUIRIES[0].outcome,
                INQUIRIES[0].counts,
                WHO,
                datetime(2026, 10, 14, 18, 0, tzinfo=UTC),
            ),
        ],
        start=1,
    )
]
PUBLISHED = [
    PackPublished(
        task=PARADE,
        machine_a="Ferrous T9",
        setup_a="stock",
        machine_b="Halyard S",
        setup_b="mains",
        kind="times as fast",
        value=1.5,
        source="The Reel Almanac, October",
        who=WHO,
        noted_at=datetime(2026, 10, 20, 9, 0, tzinfo=UTC),
    ),
    PackPublished(
        task=PARADE,
        machine_a="Halyard L",
        setup_a="as lent",
        machine_b="Cairn Brick",
        setup_b="as bought",
        kind="% faster",
        value=80.0,
        source="maker's leaflet, September",
        who=WHO,
        noted_at=datetime(2026, 10, 20, 9, 5, tzinfo=UTC),
    ),
]
PRICES = [
    ("Tarn Desk", "used", "420", date(2026, 9, 1), "second-hand board", None),
    ("Tarn Desk", "used", "380", date(2026, 11, 3), "second-hand board", None),
    ("Cairn Brick", "list", "990", date(2026, 6, 2), "maker's list", None),
    ("Cairn Brick", "list", "940", date(2026, 11, 9), "maker's list", None),
    ("Halyard S", "list", "1390", date(2026, 5, 12), "maker's list", None),
    ("Halyard S", "list", "1290", date(2026, 11, 9), "maker's list", None),
    ("Halyard L", "list", "2590", date(2026, 5, 12), "maker's list", None),
    ("Halyard L", "list", "2490", date(2026, 10, 2), "maker's list", None),
    ("Ferrous T9", "list", "2290", date(2026, 7, 20), "sum of parts", None),
    ("Ferrous T9", "list", "2150", date(2026, 11, 2), "sum of parts", None),
    ("Ferrous T9", "street", "1790", date(2026, 11, 24), "four-day offer", date(2026, 11, 28)),
    ("Pebble", "list", "130", date(2026, 11, 9), "maker's list", None),
    ("Halyard M", "list", "1450", date(2026, 11, 20), "announced for spring", None),
]
EXTRAS = [
    PackExtra(
        machine="Halyard S",
        setup="mains",
        name="dock",
        amount=Decimal(89),
        currency="EUR",
        dated=date(2026, 11, 9),
    ),
    PackExtra(
        machine="Ferrous T9",
        setup="overclocked",
        name="larger cooler",
        amount=Decimal("64.80"),
        currency="USD",
        dated=date(2026, 11, 2),
    ),
]
TIMELINES = [
    PackTimeline(name="Lantern parade", length_s=660),
    PackTimeline(name="Backstage diary", length_s=360),
    PackTimeline(name="Curtain titles", length_s=90),
    PackTimeline(name="Hall recording", length_s=2100),
]
EXPORTED = {"starts_when": "key press", "ends_when": "dialog closed"}
LOGGED_BY = {"starts_when": "key press", "ends_when": "progress at 100 %"}
TASKS = [
    PackTask(
        name=PARADE,
        app="Heddle",
        timeline="Lantern parade",
        operation="export",
        work=660,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=PARADE_HD,
        app="Heddle",
        timeline="Lantern parade",
        operation="export",
        work=660,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=RENDER,
        app="Heddle",
        timeline="Lantern parade",
        operation="background render",
        work=660,
        unit="s",
        **LOGGED_BY,
    ),
    PackTask(
        name=DIARY,
        app="Heddle",
        timeline="Backstage diary",
        operation="export",
        work=360,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=DIARY_S,
        app="Sprocketry",
        timeline="Backstage diary",
        operation="export",
        work=360,
        unit="s",
        **LOGGED_BY,
    ),
    PackTask(
        name=TITLES,
        app="Heddle",
        timeline="Curtain titles",
        operation="export",
        work=90,
        unit="s",
        **EXPORTED,
    ),
    PackTask(
        name=HALL,
        app="Quietgrain",
        timeline="Hall recording",
        operation="denoise",
        note="sound clean-up by machine learning",
        work=2100,
        unit="s",
        **LOGGED_BY,
    ),
    PackTask(
        name=STILLS,
        app="Silverwash",
        operation="photo batch",
        note="export of 260 raw photos",
        work=260,
        unit="photos",
        **EXPORTED,
    ),
    PackTask(name=POINTS, app="Lens points", operation="score", measure="amount", unit="points"),
    PackTask(
        name=LAUNCH,
        app="Heddle launch",
        operation="app launch",
        starts_when="key press",
        ends_when="window ready",
    ),
    PackTask(
        name=WATCHED,
        app="Heddle",
        timeline="Lantern parade",
        operation="playback",
        measure="observation",
        note="the parade from 2:00 to 3:00, edit page, no rendering",
    ),
]
UHD = {
    "codec": "HEVC",
    "container": "mp4",
    "size": "3840x2160",
    "frame_rate": "50",
    "depth": "10",
    "rate_control": "variable bit rate",
    "bit_rate": "60",
    "encoder": "hardware",
    "colour": "bt709",
}
UPRIGHT = {
    "codec": "H.264",
    "container": "mp4",
    "size": "1080x1920",
    "frame_rate": "25",
    "depth": "8",
    "rate_control": "variable bit rate",
    "bit_rate": "12",
    "colour": "bt709",
}
EXPORT_SETTINGS: dict[str, dict[str, str]] = {
    PARADE: UHD,
    PARADE_HD: {**UHD, "codec": "H.264", "size": "1920x1080", "depth": "8", "bit_rate": "20"},
    DIARY: UPRIGHT,
    DIARY_S: UPRIGHT,
    TITLES: {
        "codec": "ProLine",
        "container": "mov",
        "size": "3840x2160",
        "frame_rate": "50",
        "depth": "12",
        "other": "with alpha",
    },
    STILLS: {"codec": "JPEG", "other": "quality 90, full size"},
}
TASK_SETTINGS = [
    PackTaskSetting(task=task, field=field, value=value)
    for task, settings in EXPORT_SETTINGS.items()
    for field, value in settings.items()
]
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
TRIALS += [
    PackTrial(
        task=WATCHED,
        machine=SETUP_OF[PEBBLE][0],
        setup=SETUP_OF[PEBBLE][1],
        who=WHO,
        noted_at=datetime(2026, 11, 24, 9, step, tzinfo=UTC),
        app_version="6.3",
        kind=kind,
        grade=grade,
        freezes=freezes,
        note="after the driver update",
    )
    for step, (kind, grade, freezes) in enumerate(AFTER_UPDATE)
]
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
