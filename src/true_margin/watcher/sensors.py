"""What a machine says of itself: memory, load, heat and power while it works, and its specs.

Each is read by what the system has, with nothing but the standard library; what a system does
not tell is left out.
"""

from __future__ import annotations

import ctypes
import json
import os
import platform
import re
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

GB = 1024**3
ROOT = Path("/")
"""Where the system's own files begin; another place in tests."""
WINDOWS = sys.platform == "win32"
MAC = sys.platform == "darwin"


class Sensors:
    """Reads memory, swap, load, heat and power, as far as the system gives them."""

    def __init__(self) -> None:
        """The first load and power are told since here."""
        self._busy = _busy_s()
        self._energy = _energy_j()

    def read(self) -> dict[str, float]:
        """Give readings by the field of a mark; what the system does not tell is left out."""
        found = _memory()
        before, self._busy = self._busy, _busy_s()
        if before is not None and self._busy is not None:
            busy, all_ = (now - then for now, then in zip(self._busy, before))
            if all_ > 0:
                found["cpu_load"] = round(min(max(busy / all_, 0.0), 1.0), 3)
        power = self._power()
        if power is not None:
            found["power_w"] = round(power, 1)
        hottest = _hottest()
        if hottest is not None:
            found["temperature_c"] = hottest
        return found

    def _power(self) -> float | None:
        """Watts: what a battery gives, else what the processor has taken since the last reading."""
        drawn = _battery_w()
        before, self._energy = self._energy, _energy_j()
        if drawn is not None:
            return drawn
        if before is None or self._energy is None or self._energy[1] <= before[1]:
            return None
        joule, seconds = (now - then for now, then in zip(self._energy, before))
        # The counter begins anew now and then.
        return joule / seconds if joule >= 0 else None


def _memory() -> dict[str, float]:
    """Memory and swap in use, in GB; empty where that is not told."""
    told = _memory_of_windows() if WINDOWS else _memory_of_mac() if MAC else _memory_of_linux()
    if told is None:
        return {}
    used, swap = told
    return {"memory_gb": round(used / GB, 2), "swap_gb": round(max(swap, 0.0) / GB, 2)}


def _memory_of_linux() -> tuple[float, float] | None:
    """Bytes in use: of memory, of swap."""
    rows = re.findall(r"^(\w+):\s+(\d+) kB", _text("proc/meminfo"), re.MULTILINE)
    kb = {name: float(value) for name, value in rows}
    if not {"MemTotal", "MemAvailable"} <= set(kb):
        return None
    swap = kb.get("SwapTotal", 0.0) - kb.get("SwapFree", 0.0)
    return 1024 * (kb["MemTotal"] - kb["MemAvailable"]), 1024 * swap


def _memory_of_mac() -> tuple[float, float] | None:
    pages = {
        name: float(value)
        for name, value in re.findall(r"^(.+?):\s+(\d+)\.", _said("vm_stat"), re.MULTILINE)
    }
    size = re.search(r"page size of (\d+)", _said("vm_stat"))
    total = _said("sysctl", "-n", "hw.memsize").strip()
    if size is None or not total.isdigit() or "Pages free" not in pages:
        return None
    free = pages["Pages free"] + pages.get("Pages inactive", 0.0)
    swap = re.search(r"used = ([\d.]+)M", _said("sysctl", "-n", "vm.swapusage"))
    used = float(total) - float(size.group(1)) * free
    return used, 1e6 * float(swap.group(1)) if swap else 0.0


class _MemoryStatus(ctypes.Structure):
    """``MEMORYSTATUSEX``."""

    _fields_ = (
        ("length", ctypes.c_ulong),
        ("load", ctypes.c_ulong),
        *((name, ctypes.c_ulonglong) for name in ("total", "free", "page", "page_free")),
        *((name, ctypes.c_ulonglong) for name in ("virtual", "virtual_free", "extended")),
    )


def _memory_of_windows() -> tuple[float, float] | None:
    status = _MemoryStatus()
    status.length = ctypes.sizeof(status)
    if not _kernel().GlobalMemoryStatusEx(ctypes.byref(status)):
        return None
    used = status.total - status.free
    return float(used), float(status.page - status.page_free - used)


def _kernel() -> Any:
    """The system's own library, where there is one."""
    return ctypes.windll.kernel32  # type: ignore[attr-defined]


def _busy_s() -> tuple[float, float] | None:
    """How long the processor was busy, and how long in all; None where that is not told."""
    if WINDOWS:
        idle, kernel, user = (ctypes.c_ulonglong() for _ in range(3))
        asked = (ctypes.byref(each) for each in (idle, kernel, user))
        if not _kernel().GetSystemTimes(*asked):
            return None
        all_ = float(kernel.value + user.value)
        return all_ - idle.value, all_
    first = _text("proc/stat").partition("\n")[0].split()
    if len(first) < 5 or first[0] != "cpu":
        return None
    ticks = [float(each) for each in first[1:9]]
    # Waiting for a disk is not work.
    return sum(ticks) - ticks[3] - (ticks[4] if len(ticks) > 4 else 0.0), sum(ticks)


def _energy_j() -> tuple[float, float] | None:
    """Joule that the processor has taken, and when that was read."""
    found = [
        value / 1e6
        for path in sorted(_glob("sys/class/powercap", "*:[0-9]/energy_uj"))
        if (value := _number(path)) is not None
    ]
    return (sum(found), time.monotonic()) if found else None


def _battery_w() -> float | None:
    """Watts that batteries give now; None where none does, or none tells."""
    drawn = 0.0
    for path in _glob("sys/class/power_supply", "*/power_now"):
        value = _number(path)
        if value and _text(path.parent / "status").strip() == "Discharging":
            drawn += value / 1e6
    return drawn or None


def _hottest() -> float | None:
    """The hottest part, in °C; None where no sensor is there or readable."""
    paths = [*_glob("sys/class/hwmon", "*/temp*_input"), *_glob("sys/class/thermal", "*/temp")]
    readings = [value / 1000 for path in paths if (value := _number(path)) is not None]
    return max((each for each in readings if -50 < each < 200), default=None)


def _glob(folder: str, pattern: str) -> list[Path]:
    try:
        return list((ROOT / folder).glob(pattern))
    except OSError:
        return []


def _text(path: str | Path) -> str:
    try:
        return (ROOT / path).read_text(encoding="utf-8", errors="replace")
    except OSError:
        return ""


def _number(path: Path) -> float | None:
    try:
        return float(_text(path))
    except ValueError:
        return None


def _said(*command: str) -> str:
    """What a program of the system says; nothing where there is none."""
    try:
        done = subprocess.run(command, capture_output=True, timeout=5, check=True, text=True)
    except (OSError, subprocess.SubprocessError, ValueError):
        return ""
    return done.stdout


def read_specs(name: str) -> dict[str, Any]:
    """Give a machine's spec file: rows of the spec sheet by title, as they would be typed.

    Args:
        name: what the machine is called in the line-up.
    """
    specs: dict[str, Any] = {"name": name, **_from_lscpu()}
    specs.setdefault("processor", _model())
    cores, threads = _cores(), os.cpu_count()
    if cores:
        specs.setdefault("cores", cores)
    if threads:
        specs.setdefault("threads", threads)
    clock = _number(ROOT / "sys/devices/system/cpu/cpu0/cpufreq/cpuinfo_max_freq")
    if clock:
        specs.setdefault("boost clock", f"{clock / 1e6:.2f} GHz")
    memory = _memory_size()
    if memory:
        specs["memory"] = f"{memory / GB:.0f} GB"
    disks = [size for each in _disks() if (size := _size_gb(each)) > 0]
    if disks:
        specs["storage"] = f"{max(disks):.0f} GB"
    specs["system"] = _system()
    return {title: value for title, value in specs.items() if value}


def write_specs(name: str, path: Path) -> None:
    """Write a machine's spec file as JSON, to be dropped on the line-up."""
    text = json.dumps(read_specs(name), indent=1, ensure_ascii=False)
    path.write_text(text + "\n", encoding="utf-8")


def _model() -> str:
    told = _said("sysctl", "-n", "machdep.cpu.brand_string").strip() if MAC else ""
    named = re.search(r"^model name\s*:\s*(.+)$", _text("proc/cpuinfo"), re.MULTILINE)
    return told or (named.group(1) if named else "") or platform.processor() or platform.machine()


def _cores() -> int | None:
    """Cores of the processor, each once however many threads it has."""
    if MAC:
        told = _said("sysctl", "-n", "hw.physicalcpu").strip()
        return int(told) if told.isdigit() else None
    folders = _glob("sys/devices/system/cpu", "cpu[0-9]*/topology")
    known = {(_text(each / "physical_package_id"), _text(each / "core_id")) for each in folders}
    return len(known) or None


def _memory_size() -> float | None:
    """Bytes of memory."""
    if WINDOWS:
        status = _MemoryStatus()
        status.length = ctypes.sizeof(status)
        return float(status.total) if _kernel().GlobalMemoryStatusEx(ctypes.byref(status)) else None
    if MAC:
        told = _said("sysctl", "-n", "hw.memsize").strip()
        return float(told) if told.isdigit() else None
    found = re.search(r"^MemTotal:\s+(\d+) kB", _text("proc/meminfo"), re.MULTILINE)
    return 1024 * float(found.group(1)) if found else None


def _from_lscpu() -> dict[str, Any]:
    """The clock that is listed, where the system has ``lscpu``."""
    try:
        fields = json.loads(_said("lscpu", "-J"))["lscpu"]
    except (ValueError, KeyError, TypeError):
        return {}
    found = {str(each.get("field")): each.get("data") for each in fields}
    name = found.get("Model name:")
    return {"processor": name} if isinstance(name, str) else {}


def _disks() -> list[Path]:
    return [each.parent for each in _glob("sys/block", "*/device")]


def _size_gb(disk: Path) -> float:
    return (_number(disk / "size") or 0.0) * 512 / 1e9


def _system() -> str:
    release = re.search(r'^PRETTY_NAME="?([^"\n]+)', _text("etc/os-release"), re.MULTILINE)
    if release:
        return release.group(1)
    return f"{platform.system()} {platform.release()}".strip()
