"""What is looked at on the bench before a start."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class BenchCheck:
    """One line of the list before a start; ``wrong`` is said where it was not so."""

    field: str
    wrong: str


BEFORE_START = (
    BenchCheck("fresh_boot", "not freshly booted"),
    BenchCheck("recorder_off", "screen recorder on"),
    BenchCheck("power_as_noted", "power was not as the setup says"),
    BenchCheck("drive_as_noted", "drive was not as the setup says"),
    BenchCheck("version_as_noted", "another app version"),
)


def wrong_of(conditions: dict[str, object]) -> tuple[str, ...]:
    """What was not as it should be when a run was started."""
    return tuple(each.wrong for each in BEFORE_START if conditions.get(each.field) is False)
