"""What the watcher takes from systems that tell less, or in another way; faked where they differ."""

from __future__ import annotations

import os
import subprocess
import time
from pathlib import Path
from types import SimpleNamespace
from typing import Any

import pytest

from true_margin.watcher import disk, sensors


def test_a_system_without_times_of_change_tells_of_content_and_making(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    film = tmp_path / "film.mp4"
    film.write_bytes(b"x")
    os.utime(film, (1_000_000_000, 1_000_000_000))
    clock = disk.Clock()
    (usual,) = disk.look_at(tmp_path, clock, {})
    assert usual.names_told
    assert usual.changed_s > usual.content_s
    monkeypatch.setattr(disk, "NO_CHANGE_TIME", True)
    monkeypatch.setattr(disk, "born_at", lambda *_: None)
    (seen,) = disk.look_at(tmp_path, clock, {})
    assert not seen.names_told
    assert seen.changed_s == pytest.approx(seen.content_s, abs=0.01)
    assert seen.born_s == pytest.approx(clock.of_disk(time.time()), abs=5)


def test_a_list_of_open_files_tells_who_holds_one_and_never_that_nobody_does(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(disk, "PROCESSES", tmp_path / "none")
    listed = {"out": "p1234\nf5\n"}
    asked: list[list[str]] = []

    def run(command: list[str], **_: Any) -> SimpleNamespace:
        asked.append(command)
        return SimpleNamespace(stdout=listed["out"])

    monkeypatch.setattr(subprocess, "run", run)
    assert disk.is_open(tmp_path / "film.mp4") is True
    assert asked[0][-1].endswith("film.mp4")
    listed["out"] = f"p{os.getpid()}\n"
    assert disk.is_open(tmp_path / "film.mp4") is None

    def missing(*_: Any, **__: Any) -> None:
        raise FileNotFoundError("lsof")

    monkeypatch.setattr(subprocess, "run", missing)
    assert disk.is_open(tmp_path / "film.mp4") is None


def test_the_clock_goes_on_where_the_system_has_one_that_does() -> None:
    clock = disk.Clock()
    before = clock.now()
    assert clock.now() >= before
    assert clock.to_wall(clock.of_disk(1e9)) == pytest.approx(1e9, abs=0.01)


def _write(root: Path, files: dict[str, str]) -> None:
    for name, text in files.items():
        path = root / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)


MEMORY = (
    "MemTotal: 16000000 kB\nMemAvailable: 4000000 kB\nSwapTotal: 2000000 kB\nSwapFree: 1000000 kB\n"
)


@pytest.fixture
def root(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A system of one's own."""
    monkeypatch.setattr(sensors, "ROOT", tmp_path)
    monkeypatch.setattr(sensors, "_said", lambda *_: "")
    return tmp_path


def test_a_machine_says_memory_load_heat_and_power(root: Path) -> None:
    _write(
        root,
        {
            "proc/meminfo": MEMORY,
            "proc/stat": "cpu 100 0 100 800 0 0 0 0\n",
            "sys/class/hwmon/hwmon0/temp1_input": "71500\n",
            "sys/class/hwmon/hwmon0/temp2_input": "nonsense\n",
            "sys/class/thermal/thermal_zone0/temp": "65000\n",
            "sys/class/power_supply/B0/power_now": "42500000\n",
            "sys/class/power_supply/B0/status": "Discharging\n",
        },
    )
    read = sensors.Sensors()
    _write(root, {"proc/stat": "cpu 160 0 130 810 0 0 0 0\n"})
    told = read.read()
    assert told["memory_gb"] == pytest.approx(11.44)
    assert told["swap_gb"] == pytest.approx(0.95)
    assert told["cpu_load"] == 0.9
    assert told["temperature_c"] == 71.5
    assert told["power_w"] == 42.5


def test_power_is_told_by_what_the_processor_has_taken(
    root: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    now = {"s": 100.0}
    monkeypatch.setattr(time, "monotonic", lambda: now["s"])
    counter = "sys/class/powercap/zone:0/energy_uj"
    _write(root, {counter: "5000000"})
    read = sensors.Sensors()
    now["s"] = 110.0
    _write(root, {counter: "455000000"})
    assert read.read()["power_w"] == 45.0
    now["s"] = 120.0
    _write(root, {counter: "1000"})
    assert "power_w" not in read.read(), "the counter began anew"


def test_what_a_system_does_not_tell_is_left_out(root: Path) -> None:
    assert sensors.Sensors().read() == {}
    _write(root, {"proc/meminfo": "nonsense", "proc/stat": "cpu 1\n"})
    assert sensors.Sensors().read() == {}
    told = sensors.read_specs("Bare")
    assert told["name"] == "Bare"
    assert "memory" not in told


def test_specs_are_read_from_what_the_system_keeps(root: Path) -> None:
    _write(
        root,
        {
            "proc/meminfo": MEMORY.replace("16000000", "33554432"),
            "proc/cpuinfo": "processor : 0\nmodel name : Simulated Eight\n",
            "etc/os-release": 'PRETTY_NAME="Plain System 12"\n',
            "sys/block/disk0/device": "",
            "sys/block/disk0/size": "2000000000",
            "sys/devices/system/cpu/cpu0/cpufreq/cpuinfo_max_freq": "4900000",
            **{f"sys/devices/system/cpu/cpu{n}/topology/core_id": f"{n // 2}" for n in range(8)},
        },
    )
    told = sensors.read_specs("Eight")
    assert told == {
        "name": "Eight",
        "processor": "Simulated Eight",
        "cores": 4,
        "threads": os.cpu_count(),
        "boost clock": "4.90 GHz",
        "memory": "32 GB",
        "storage": "1024 GB",
        "system": "Plain System 12",
    }


def test_a_mac_is_asked_through_its_programs(monkeypatch: pytest.MonkeyPatch, root: Path) -> None:
    said = {
        "vm_stat": "Mach Virtual Memory Statistics: (page size of 16384 bytes)\n"
        "Pages free:                 100000.\nPages inactive:             50000.\n",
        "hw.memsize": "17179869184\n",
        "vm.swapusage": "total = 2048.00M  used = 512.00M  free = 1536.00M",
        "hw.physicalcpu": "8\n",
        "machdep.cpu.brand_string": "Simulated Eight\n",
    }
    monkeypatch.setattr(sensors, "MAC", True)
    monkeypatch.setattr(sensors, "_said", lambda *command: said.get(command[-1], ""))
    told = sensors.Sensors().read()
    assert told["memory_gb"] == pytest.approx(16 - 150000 * 16384 / 1024**3, abs=0.01)
    assert told["swap_gb"] == pytest.approx(0.48)
    specs = sensors.read_specs("Lap")
    assert (specs["cores"], specs["memory"], specs["processor"]) == (8, "16 GB", "Simulated Eight")


def test_a_program_that_is_not_there_says_nothing(monkeypatch: pytest.MonkeyPatch) -> None:
    assert sensors._said("no-such-program-here") == ""
    slow = subprocess.TimeoutExpired("x", 5)

    def late(*_: Any, **__: Any) -> None:
        raise slow

    monkeypatch.setattr(subprocess, "run", late)
    assert sensors._said("slow") == ""
