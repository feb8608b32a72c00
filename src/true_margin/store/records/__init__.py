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
from true_margin.store.records.runs import Judgement, Mark, Overrule, Run, RunPicture, RunRevision
from true_margin.store.records.sent import Kit, SentResult
from true_margin.store.records.shootout import AppVersion, Round, Shootout
from true_margin.store.records.tasks import Preset, Task, Timeline, TimelineFile

__all__ = [
    "AppVersion",
    "BenchEvent",
    "Extra",
    "FreeRow",
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
    "PublishedFigure",
    "Round",
    "Run",
    "RunPicture",
    "RunRevision",
    "SentResult",
    "SettingsUsed",
    "Setup",
    "Shootout",
    "Task",
    "Timeline",
    "TimelineFile",
    "Trial",
    "Trouble",
]
