"""What the store gives out: frozen values, one module for each part of a book."""

from __future__ import annotations

from true_margin.store.records.bench import BenchEvent, PairedDevice
from true_margin.store.records.inquiries import Inquiry, InquiryStep, PublishedFigure
from true_margin.store.records.lineup import Extra, FreeRow, Machine, Price, Setup
from true_margin.store.records.noted import (
    NotedRatio,
    OutputFile,
    OutputLook,
    Playback,
    SettingsUsed,
    Trial,
    Trouble,
)
from true_margin.store.records.plans import Plan
from true_margin.store.records.room import (
    HomeShootout,
    House,
    PriceThen,
    RoomEvent,
    RoomMachine,
    RoomSpec,
    RoomTask,
    RunColumns,
    SetupUse,
    TaskUse,
)
from true_margin.store.records.runs import Judgement, Mark, Overrule, Run, RunPicture, RunRevision
from true_margin.store.records.sent import Kit, SentResult
from true_margin.store.records.shootout import AppVersion, Round, Shootout
from true_margin.store.records.tasks import Preset, Task, Timeline, TimelineFile

__all__ = [
    "AppVersion",
    "BenchEvent",
    "Extra",
    "FreeRow",
    "HomeShootout",
    "House",
    "Inquiry",
    "InquiryStep",
    "Judgement",
    "Kit",
    "Machine",
    "Mark",
    "NotedRatio",
    "OutputFile",
    "OutputLook",
    "Overrule",
    "PairedDevice",
    "Plan",
    "Playback",
    "Preset",
    "Price",
    "PriceThen",
    "PublishedFigure",
    "RoomEvent",
    "RoomMachine",
    "RoomSpec",
    "RoomTask",
    "Round",
    "Run",
    "RunColumns",
    "RunPicture",
    "RunRevision",
    "SentResult",
    "SettingsUsed",
    "Setup",
    "SetupUse",
    "Shootout",
    "Task",
    "TaskUse",
    "Timeline",
    "TimelineFile",
    "Trial",
    "Trouble",
]
