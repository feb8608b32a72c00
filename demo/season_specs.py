"""Machines of the festival shootout and their specs, as a reviewer would type them."""

from __future__ import annotations

from true_margin.core.spec_rows import SPECS as CORE_SPECS
from true_margin.core.spec_rows import STATES
from true_margin.exchange.pack_tables import (
    PackFreeRow,
    PackMachine,
    PackSetup,
    PackSetupSpec,
    PackSpec,
)

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
