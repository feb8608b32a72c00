"""What cards look like: inks by day, by night and on a clear background; sizes; marks."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Shape(StrEnum):
    """How wide a card is to its height."""

    WIDE = "wide"
    TALL = "tall"
    SQUARE = "square"


class LookName(StrEnum):
    """The background of a card."""

    DAY = "day"
    NIGHT = "night"
    CLEAR = "clear"


SIZES = {Shape.WIDE: (1920, 1080), Shape.TALL: (1080, 1920), Shape.SQUARE: (1080, 1080)}
"""Width and height of each shape, in pixels."""


@dataclass(frozen=True, slots=True)
class CardLook:
    """The inks of one background; ``halo`` keeps ink apart from a film that runs behind it."""

    paper: str | None
    ink: str
    mute: str
    line: str
    band: str
    accent: str
    marks: tuple[str, ...]
    halo: str | None = None


_NIGHT_MARKS = (
    "#a9adb2",
    "#e0a04a",
    "#b493d6",
    "#6ea6e8",
    "#4fc196",
    "#e07d9f",
    "#4fb9cc",
    "#bdbb55",
)
LOOKS = {
    LookName.DAY: CardLook(
        "#f6f4ec",
        "#1d2a24",
        "#535c55",
        "#d5d2c4",
        "#e0dcc8",
        "#b93a22",
        ("#5c5f63", "#a86400", "#7a4fa0", "#1f5fae", "#0c7a52", "#8c2a4d", "#00748a", "#6b6a00"),
    ),
    LookName.NIGHT: CardLook(
        "#1a211e", "#e6e8dd", "#9aa69e", "#34403a", "#2f3a34", "#f0806a", _NIGHT_MARKS
    ),
    LookName.CLEAR: CardLook(
        None, "#f6f7f1", "#eef1ea", "#8d968f", "#4a544d", "#f79480", _NIGHT_MARKS, "#101512"
    ),
}

MARK_SHAPES = (
    "M8 2 15 14H1Z",
    "M8 1 15 8 8 15 1 8Z",
    "M14.2 8A6.2 6.2 0 1 1 1.8 8A6.2 6.2 0 1 1 14.2 8Z",
    "M1 2H15L8 14Z",
    "M2.2 2.2H13.8V13.8H2.2Z",
    "M8 1.2 14 4.6V11.4L8 14.8 2 11.4V4.6Z",
    "M5.6 1.5h4.8v4.1h4.1v4.8h-4.1v4.1H5.6v-4.1H1.5V5.6h4.1Z",
    "M8 1.5a6.5 6.5 0 0 1 0 13Zm-1 0v13a6.5 6.5 0 0 1 0-13Z",
)
"""Shapes of setups in a 16 by 16 box, as on every screen."""


def mark_of(index: int, look: CardLook) -> tuple[str, str]:
    """Colour and shape of the setup with this mark; pairs repeat after 64."""
    return look.marks[index % 8], MARK_SHAPES[(index + index // 8) % 8]
