"""What a machine says of itself: memory, load and heat while it works, and its specs."""

from __future__ import annotations

import json
import platform
import subprocess
from pathlib import Path
from typing import Any

import psutil

GB = 1024**3
BLOCKS = Path("/sys/block")
MODEL = Path("/proc/cpuinfo")


class Sensors:
    """Reads memory, swap, load and heat, as far as the system gives them."""

    def __init__(self) -> None:
        """The first load is told since here."""
        psutil.cpu_percent(None)

    def read(self) -> dict[str, float]:
        """Give readings by the field of a mark; what the system does not tell is left out."""
        memory, swap = psutil.virtual_memory(), psutil.swap_memory()
        found = {
            "memory_gb": round((memory.total - memory.available) / GB, 2),
            "swap_gb": round(swap.used / GB, 2),
            "cpu_load": round(min(psutil.cpu_percent(None) / 100.0, 1.0), 3),
        }
        hottest = _hottest()
        return found if hottest is None else {**found, "temperature_c": hottest}


def _hottest() -> float | None:
    """The hottest part, in °C; None where no sensor is there or readable."""
    read = getattr(psutil, "sensors_temperatures", None)
    if read is None:
        return None
    try:
        readings = [each.current for group in read().values() for each in group]
    except OSError:
        return None
    sound = [float(each) for each in readings if -50 < each < 200]
    return max(sound, default=None)


def read_specs(name: str) -> dict[str, Any]:
    """Give a machine's spec file: rows of the spec sheet by title, as they would be typed.

    Args:
        name: what the machine is called in the line-up.
    """
    specs: dict[str, Any] = {"name": name, **_from_lscpu()}
    specs.setdefault("processor", _model())
    cores, threads = psutil.cpu_count(logical=False), psutil.cpu_count()
    if cores:
        specs.setdefault("cores", cores)
    if threads:
        specs.setdefault("threads", threads)
    clock = psutil.cpu_freq()
    if clock is not None and clock.max:
        specs.setdefault("boost clock", f"{clock.max / 1000:.2f} GHz")
    specs["memory"] = f"{psutil.virtual_memory().total / GB:.0f} GB"
    disks = [size for each in _disks() if (size := _size_gb(each)) > 0]
    if disks:
        specs["storage"] = f"{max(disks):.0f} GB"
    specs["system"] = _system()
    return {title: value for title, value in specs.items() if value}


def write_specs(name: str, path: Path) -> None:
    """Write a machine's spec file as JSON, to be dropped on the line-up."""
    path.write_text(json.dumps(read_specs(name), indent=1, ensure_ascii=False) + "\n")


def _model() -> str:
    try:
        lines = MODEL.read_text(encoding="utf-8", errors="replace").splitlines()
    except OSError:
        lines = []
    named = (line.partition(":")[2].strip() for line in lines if line.startswith("model name"))
    return next(named, "") or platform.processor() or platform.machine()


def _from_lscpu() -> dict[str, Any]:
    """The clock that is listed, where the system has ``lscpu``."""
    try:
        answer = subprocess.run(["lscpu", "-J"], capture_output=True, timeout=5, check=True)
        fields = json.loads(answer.stdout)["lscpu"]
    except (OSError, ValueError, KeyError, subprocess.SubprocessError):
        return {}
    found = {str(each.get("field")): each.get("data") for each in fields}
    name = found.get("Model name:")
    return {"processor": name} if isinstance(name, str) else {}


def _disks() -> list[Path]:
    if not BLOCKS.is_dir():
        return []
    return [each for each in BLOCKS.iterdir() if (each / "device").exists()]


def _size_gb(disk: Path) -> float:
    try:
        return int((disk / "size").read_text()) * 512 / 1e9
    except (OSError, ValueError):
        return 0.0


def _system() -> str:
    try:
        release = platform.freedesktop_os_release()
    except (OSError, AttributeError):
        return f"{platform.system()} {platform.release()}".strip()
    return release.get("PRETTY_NAME", "")
