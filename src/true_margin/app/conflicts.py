"""What a conflict tells of the thing that stands: what an answer about it does, no column more."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from true_margin.app.answers.base import Answer
from true_margin.app.answers.lineup import Machine, Setup
from true_margin.app.answers.margins import Inquiry
from true_margin.app.answers.picks import Viewer
from true_margin.app.answers.publish import KeptCard
from true_margin.app.answers.room import House, RoomMachineThatStands, RoomTaskThatStands
from true_margin.app.answers.runs import Run
from true_margin.app.answers.shootouts import Shootout
from true_margin.app.answers.tasks import Task
from true_margin.store import cards, records, scripts
from true_margin.store.records.viewers import Viewer as ViewerRecord


class ScriptThatStands(Answer):
    """A script as somebody else left it."""

    text: str
    version: int


ANSWERS: Mapping[type, type[Answer]] = {
    records.Machine: Machine,
    records.Setup: Setup,
    records.Task: Task,
    records.Run: Run,
    records.Shootout: Shootout,
    records.Inquiry: Inquiry,
    records.House: House,
    records.RoomMachine: RoomMachineThatStands,
    records.RoomTask: RoomTaskThatStands,
    ViewerRecord: Viewer,
    cards.KeptCard: KeptCard,
    scripts.Script: ScriptThatStands,
}


def told_of(current: object) -> dict[str, Any] | None:
    """Say what stands now; None for a kind of thing that nobody thought about."""
    if isinstance(current, dict):
        return current
    answer = ANSWERS.get(type(current))
    return None if answer is None else answer.model_validate(current).model_dump()
