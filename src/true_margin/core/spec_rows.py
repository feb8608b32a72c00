"""The rows that every spec sheet has: specs of machines, and the state they are tested in."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType

from true_margin.core.parity import Condition
from true_margin.core.specs import CellKind, Spec

_MACHINE = (
    Spec("form", "Type", names=("form", "type", "kind", "form factor")),
    Spec("year", "Year", kind=CellKind.WHOLE, least=1970, most=2100, names=("model year",)),
    Spec(
        "obtained",
        "Own, bought or lent",
        kind=CellKind.CHOICE,
        choices=("bought", "lent", "given", "owned", "built", "announced"),
        names=("how obtained", "how got", "obtained"),
    ),
    Spec("weight_kg", "Weight", kind=CellKind.NUMBER, unit="kg", most=500),
    Spec(
        "noise",
        "Noise",
        kind=CellKind.CHOICE,
        choices=("silent", "quiet", "audible", "loud"),
        names=("noise class", "noise"),
    ),
    Spec(
        "supported_until",
        "Supported until",
        kind=CellKind.MONTH,
        names=("updates until", "support"),
    ),
    Spec("shared", "Shares parts in", names=("shared hardware", "board")),
)
_PROCESSOR = (
    Spec("processor", "Processor", names=("cpu", "chip", "model name")),
    Spec(
        "cores",
        "Cores",
        kind=CellKind.WHOLE,
        least=1,
        most=100_000,
        names=("cpu cores", "number of cores"),
    ),
    Spec("threads", "Threads", kind=CellKind.WHOLE, least=1, most=100_000),
    Spec(
        "clock_ghz",
        "Base clock",
        kind=CellKind.NUMBER,
        unit="GHz",
        most=1000,
        names=("clock", "base clock", "ghz", "clock speed"),
    ),
    Spec(
        "raised_clock_ghz",
        "Boost clock",
        kind=CellKind.NUMBER,
        unit="GHz",
        most=1000,
        names=("raised clock", "peak clock", "highest clock", "max clock"),
    ),
    Spec("power_limit_w", "Power limit", kind=CellKind.NUMBER, unit="W", most=100_000),
)
_GRAPHICS = (
    Spec("graphics", "Graphics", names=("gpu", "graphics card")),
    Spec(
        "graphics_memory_gb",
        "Graphics memory",
        kind=CellKind.NUMBER,
        unit="GB",
        names=("video memory", "vram"),
    ),
)
_MEMORY = (
    Spec("memory_gb", "Memory", kind=CellKind.NUMBER, unit="GB", names=("ram",)),
    Spec(
        "memory_mts",
        "Memory speed",
        kind=CellKind.NUMBER,
        unit="MT/s",
        most=1e6,
        names=("ram speed",),
    ),
    Spec(
        "memory_channels",
        "Memory channels",
        kind=CellKind.WHOLE,
        least=1,
        most=64,
        names=("channels",),
    ),
)
_STORAGE = (
    Spec("storage_kind", "Storage kind", names=("drive kind", "disk kind")),
    Spec("storage_gb", "Storage", kind=CellKind.NUMBER, unit="GB", names=("disk", "drive", "ssd")),
    Spec(
        "read_mbs",
        "Read, measured",
        kind=CellKind.NUMBER,
        unit="MB/s",
        most=1e6,
        names=("read speed", "read"),
    ),
    Spec(
        "write_mbs",
        "Write, measured",
        kind=CellKind.NUMBER,
        unit="MB/s",
        most=1e6,
        names=("write speed", "write"),
    ),
)
_MEDIA = (
    Spec("screen", "Screen", names=("display",)),
    Spec("media_decode", "Decodes in hardware", kind=CellKind.LIST, names=("hardware decode",)),
    Spec("media_encode", "Encodes in hardware", kind=CellKind.LIST, names=("hardware encode",)),
    Spec("ports", "Ports", kind=CellKind.LIST),
)
_SYSTEM = (
    Spec("system", "System", names=("os", "operating system")),
    Spec("driver", "Driver versions", names=("driver", "drivers")),
    Spec("note", "Note", kind=CellKind.LONG, names=("notes", "remark", "comment")),
)


def _grouped(group: str, specs: tuple[Spec, ...]) -> tuple[Spec, ...]:
    return tuple(
        Spec(s.field, s.title, group, s.kind, s.unit, s.choices, s.least, s.most, s.names)
        for s in specs
    )


SPECS: tuple[Spec, ...] = (
    *_grouped("Machine", _MACHINE),
    *_grouped("Processor", _PROCESSOR),
    *_grouped("Graphics", _GRAPHICS),
    *_grouped("Memory", _MEMORY),
    *_grouped("Storage", _STORAGE),
    *_grouped("Display and media", _MEDIA),
    *_grouped("System", _SYSTEM),
)
"""Specs of a machine; a setup may have its own value of each."""

STATES: tuple[Spec, ...] = _grouped(
    "As tested",
    (
        Spec("power", "Power source"),
        Spec("power_mode", "Power mode"),
        Spec("boot", "Fresh boot"),
        Spec("fresh_install", "Fresh install"),
        Spec("background", "Background programs"),
        Spec("attached", "Peripherals", names=("attached",)),
        Spec("screens", "Screens attached"),
        Spec("switches", "Driver settings", names=("driver switches",)),
        Spec("media_drive", "Footage drive", names=("media drive",)),
        Spec("destination_drive", "Export drive", names=("destination drive",)),
        Spec("previews", "Previews"),
        Spec("rendering", "Background rendering"),
        Spec("proxies", "Proxies"),
        Spec("resolution", "Timeline resolution"),
        Spec("caches", "Other caches"),
        Spec("encoder", "Encoder paths"),
        Spec("room", "Room", kind=CellKind.NUMBER, unit="°C", least=-20, most=60),
        Spec(
            "only_system",
            "Locked to its own system",
            kind=CellKind.YES,
            names=("runs no other system",),
        ),
    ),
)
"""In which state a setup is tested."""

CONDITION_OF: Mapping[str, Condition] = MappingProxyType(
    {
        **{s.field: Condition.PROCESSOR for s in _PROCESSOR},
        **{s.field: Condition.GRAPHICS for s in _GRAPHICS},
        **{s.field: Condition.MEMORY for s in _MEMORY},
        **{s.field: Condition.DRIVES for s in _STORAGE},
        "system": Condition.SYSTEM,
        "fresh_install": Condition.SYSTEM,
        "driver": Condition.DRIVER,
        "switches": Condition.DRIVER,
        "power": Condition.POWER,
        "power_mode": Condition.POWER,
        "boot": Condition.BOOT,
        "background": Condition.BACKGROUND,
        "attached": Condition.SCREEN,
        "screens": Condition.SCREEN,
        "media_drive": Condition.DRIVES,
        "destination_drive": Condition.DRIVES,
        "previews": Condition.CACHES,
        "rendering": Condition.CACHES,
        "proxies": Condition.CACHES,
        "resolution": Condition.CACHES,
        "caches": Condition.CACHES,
        "encoder": Condition.ENCODER,
        "room": Condition.ROOM,
    }
)
"""The condition of parity that a row is a part of; rows that are none are left out."""
TITLES: Mapping[str, str] = MappingProxyType({s.field: s.title for s in (*SPECS, *STATES)})
FORMER_TITLES: Mapping[str, str] = MappingProxyType(
    {
        "form": "Form",
        "obtained": "How obtained",
        "noise": "Noise class",
        "clock_ghz": "Clock",
        "raised_clock_ghz": "Raised clock",
        "attached": "Attached",
        "switches": "Driver switches",
        "media_drive": "Media drive",
        "destination_drive": "Destination drive",
        "only_system": "Runs no other system",
    }
)
"""What rows were called in packs that were written earlier; they are still read."""


def specs_by_title(rows: Iterable[Spec]) -> dict[str, Spec]:
    """Rows by what they are called, and by what they were called."""
    own = list(rows)
    former = {FORMER_TITLES[s.field]: s for s in own if s.field in FORMER_TITLES}
    return {**former, **{s.title: s for s in own}}
