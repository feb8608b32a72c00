"""Specs of machines: which there are, in which unit, and how a typed one is read."""

from __future__ import annotations

import re
from dataclasses import dataclass

from true_margin.core.errors import QuantityError


@dataclass(frozen=True, slots=True)
class Spec:
    """One row of the spec sheet.

    Attributes:
        field: name it is stored under.
        title: name on the screen.
        unit: of a number; None for text.
        whole: True where only whole numbers make sense.
        number: True for a number.
        names: other names that people give it, in lower case.
    """

    field: str
    title: str
    unit: str | None = None
    whole: bool = False
    number: bool = False
    names: tuple[str, ...] = ()


SPECS = (
    Spec("form", "Form", names=("type", "kind", "form factor")),
    Spec("processor", "Processor", names=("cpu", "chip", "model name")),
    Spec("cores", "Cores", number=True, whole=True, names=("cpu cores", "number of cores")),
    Spec("clock_ghz", "Clock", "GHz", number=True, names=("clock ghz", "base clock", "ghz")),
    Spec("graphics", "Graphics", names=("gpu", "graphics card")),
    Spec("graphics_memory_gb", "Graphics memory", "GB", number=True,
         names=("video memory", "vram")),
    Spec("memory_gb", "Memory", "GB", number=True, names=("ram", "memory gb")),
    Spec("storage_gb", "Storage", "GB", number=True, names=("disk", "drive", "ssd", "storage gb")),
    Spec("system", "System", names=("os", "operating system")),
    Spec("obtained", "How obtained", names=("how got", "obtained")),
    Spec("note", "Note", names=("notes", "remark", "comment")),
)  # fmt: skip
_SCALE = {"tb": 1000.0, "gb": 1.0, "mb": 0.001, "ghz": 1.0, "mhz": 0.001}
_NUMBER = re.compile(r"^(\d+(?:[.,]\d+)?)\s*([a-z]*)$", re.IGNORECASE)
MOST = {"cores": 100_000.0, "clock_ghz": 1000.0}
LONGEST = 120


def find_spec(title: str) -> Spec | None:
    """Find a spec by its title or another name people give it; case does not matter.

    Example:
        >>> find_spec("RAM").field
        'memory_gb'
    """
    plain = re.sub(r"[^a-z]+", " ", title.lower()).strip()
    return next((s for s in SPECS if plain == s.title.lower() or plain in s.names), None)


def parse_spec(spec: Spec, text: str) -> str | float | int | None:
    """Read a typed spec; a number may carry its unit and a decimal comma.

    Returns:
        The value in the spec's unit; None for an empty text or a dash.

    Raises:
        QuantityError: not a number where one is needed, zero, or a unit of another kind.

    Example:
        >>> parse_spec(find_spec("Storage"), "2 TB")
        2000.0
    """
    plain = text.strip()
    if plain in ("", "-", "–"):
        return None
    if not spec.number:
        if len(plain) > LONGEST:
            raise QuantityError(f"{spec.title}: longer than {LONGEST} signs")
        return plain
    match = _NUMBER.match(plain) if plain.isascii() else None
    if match is None:
        raise QuantityError(f"{spec.title}: {plain!r} is not a number; type it like 16 or 3.6")
    value = float(match[1].replace(",", ".")) * _scale(spec, match[2].lower(), plain)
    if not 0 < value <= MOST.get(spec.field, 1e9):
        raise QuantityError(f"{spec.title}: {plain!r} must be more than 0, and not beyond belief")
    if not spec.whole:
        return round(value, 6)
    if value != int(value):
        raise QuantityError(f"{spec.title}: {plain!r} must be a whole number")
    return int(value)


def _scale(spec: Spec, unit: str, text: str) -> float:
    if unit in ("", "cores", "core"):
        return 1.0
    if spec.unit is None or unit not in _SCALE or unit[-1] != spec.unit.lower()[-1]:
        raise QuantityError(f"{spec.title}: {text!r} has a unit that does not fit")
    return _SCALE[unit]
