"""What is looked at on the bench before a start."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Check:
    """One line of the list before a start; ``wrong`` is said where it was not so."""

    field: str
    wrong: str


BEFORE_START = (
    Check("fresh_boot", "not freshly booted"),
    Check("recorder_off", "screen recorder on"),
    Check("power_as_noted", "power was not as the setup says"),
    Check("drive_as_noted", "drive was not as the setup says"),
    Check("version_as_noted", "another app version"),
)


def wrong_of(conditions: dict[str, object]) -> tuple[str, ...]:
    """What was not as it should be when a run was started."""
    return tuple(each.wrong for each in BEFORE_START if conditions.get(each.field) is False)
