"""Write the closed choices of the core as lists for the web: python tools/choices.py FILE."""

from __future__ import annotations

import json
import sys
from enum import StrEnum
from pathlib import Path

from true_margin.core import choices
from true_margin.core.parity import Subject
from true_margin.core.published import FigureKind
from true_margin.core.readings import ReadingMethod
from true_margin.core.study import RunStatus

BESIDE = (FigureKind, ReadingMethod, RunStatus, Subject)
"""Choices that stand beside their rules."""
HEAD = "/** The closed choices of the job, as the core lists them; made by `make types`. */\n"


def listed(choice: type[StrEnum]) -> str:
    """A choice as a list that knows its own words."""
    lines = (choice.__doc__ or "").strip().splitlines()
    values = json.dumps([member.value for member in choice])
    return f"/** {lines[0]} */\nexport const {choice.__name__} = {values} as const\n"


def all_choices() -> list[type[StrEnum]]:
    """Every choice, by name."""
    own = [
        each
        for each in vars(choices).values()
        if isinstance(each, type) and issubclass(each, StrEnum) and each is not StrEnum
    ]
    return sorted({*own, *BESIDE}, key=lambda each: each.__name__)


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(HEAD + "\n".join(["", *map(listed, all_choices())]))
