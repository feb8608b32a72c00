"""What a request about runs and the bench may hold: strict, bounded, described."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints

from true_margin.app.requests import Bare, Note, PlainText, Reason, Request, RowTitle, Version, Why
from true_margin.core.choices import TrialGrade, TrialKind, TroubleKind
from true_margin.core.readings import ReadingMethod
from true_margin.core.study import RunStatus

Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)]
Meaning = Literal["clock", "decimal"]
Part = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, lt=2**31)]


class StartConditions(Bare):
    """What was seen before a start; null where nobody looked."""

    fresh_boot: bool | None = Field(default=None, description="Freshly booted")
    recorder_off: bool | None = Field(default=None, description="The screen recorder was off")
    power_as_noted: bool | None = Field(default=None, description="Power as the setup says")
    drive_as_noted: bool | None = Field(default=None, description="Drive as the setup says")
    version_as_noted: bool | None = Field(default=None, description="App version as the round's")


class NewRun(Request):
    """A run to store."""

    setup_id: UUID = Field(description="Setup that it was made on")
    task_id: UUID = Field(description="Task that was run")
    round_id: UUID | None = Field(default=None, description="Round; the latest where missing")
    typed: Typed | None = Field(default=None, description="Time or amount as typed")
    meaning: Meaning | None = Field(default=None, description="Answer for an ambiguous time")
    method: ReadingMethod = Field(default=ReadingMethod.STOPWATCH, description="How it was read")
    poll_s: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)] | None = Field(
        default=None,
        description="Seconds between two looks of a watcher (1 where missing), or two frames of a "
        "recording (1/25 where missing)",
    )
    status: RunStatus = Field(default=RunStatus.OK, description="ok, void or failed")
    reason: Reason | None = Field(default=None, description="Why void or failed")
    reached: Part | None = Field(default=None, description="How far a failed run came")
    placed_u: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = Field(
        default=0.0, description="Added to u in seconds: two devices timed it"
    )
    conditions: StartConditions = Field(
        default_factory=StartConditions, description="What was seen before the start"
    )
    simulated: bool = Field(default=False, description="Timed by a simulated rig")
    note: Note | None = Field(default=None, description="Anything else")
    started_at: datetime | None = Field(default=None, description="When it was started")
    client_key: Annotated[str, StringConstraints(min_length=8, max_length=80), PlainText] = Field(
        description="Made by the client; the same key again stores nothing"
    )


class RunChange(Request):
    """A change of a run, with the reason for it."""

    version: Version
    why: Why = Field(description="Why it is changed; kept in the history")
    setup_id: UUID | None = Field(default=None, description="Setup that it was really made on")
    task_id: UUID | None = Field(default=None, description="Task that was really run")
    round_id: UUID | None = Field(default=None, description="Round that it belongs to")
    typed: Typed | None = Field(default=None, description="Time or amount as typed")
    meaning: Meaning | None = Field(default=None, description="Answer for an ambiguous time")
    method: ReadingMethod | None = Field(default=None, description="How it was read")
    status: RunStatus | None = Field(default=None, description="ok, void or failed")
    reason: Reason | None = Field(default=None, description="Why void or failed")
    placed_u: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] | None = Field(
        default=None, description="Added to u in seconds: two devices timed it"
    )
    reached: Part | None = Field(default=None, description="How far a failed run came")
    note: Note | None = Field(default=None, description="Anything else")
    checked: bool | None = Field(
        default=None, description="Somebody looked at a time that stands out, and it is right"
    )


class RunRef(Request):
    """A run as somebody saw it."""

    id: UUID = Field(description="Run")
    version: Version


class ManyRuns(Request):
    """One change of several runs, all or none."""

    runs: list[RunRef] = Field(min_length=1, max_length=5000, description="Runs to change")
    status: RunStatus = Field(description="ok, void or failed")
    reason: Reason | None = Field(default=None, description="Why void or failed")
    why: Why = Field(description="Why they are changed; kept in the history of each")


class TakeBack(Request):
    """Runs whose newest change is to be taken back, all or none."""

    runs: list[RunRef] = Field(min_length=1, max_length=5000, description="As they stand")


class ReadingFields(Bare):
    """What can be read besides the time; it says at least one thing."""

    fraction: Part | None = Field(default=None, description="Part of the work done")
    frames_per_s: float | None = Field(
        default=None, ge=0, le=1e6, allow_inf_nan=False, description="Speed shown by the app"
    )
    temperature_c: float | None = Field(
        default=None, ge=-100, le=300, allow_inf_nan=False, description="Of the hottest part"
    )
    power_w: float | None = Field(
        default=None, ge=0, le=1e5, allow_inf_nan=False, description="Drawn from the wall"
    )
    memory_gb: float | None = Field(
        default=None, ge=0, le=1e5, allow_inf_nan=False, description="Memory in use"
    )
    swap_gb: float | None = Field(
        default=None, ge=0, le=1e5, allow_inf_nan=False, description="Swap in use"
    )
    cpu_load: Part | None = Field(default=None, description="Load of the processor, 0 to 1")
    gpu_load: Part | None = Field(default=None, description="Load of the graphics, 0 to 1")
    gpu_memory_gb: float | None = Field(
        default=None, ge=0, le=1e4, allow_inf_nan=False, description="Graphics memory in use"
    )
    noise_db: float | None = Field(
        default=None, ge=0, le=200, allow_inf_nan=False, description="Noise, in dB"
    )
    left_s: float | None = Field(
        default=None, ge=0, le=1e7, allow_inf_nan=False, description="Left, as the app says"
    )
    event: (
        Annotated[str, StringConstraints(strip_whitespace=True, max_length=200), PlainText] | None
    ) = Field(default=None, description="What happened, such as: fan starts")
    file_gb: float | None = Field(
        default=None, ge=0, le=1e6, allow_inf_nan=False, description="Size of the file written"
    )


class MarkFields(ReadingFields):
    """A reading inside a run; it says at least one thing besides its time."""

    elapsed_s: float = Field(ge=0, le=1e7, allow_inf_nan=False, description="Since the start")


class NewReading(ReadingFields):
    """A reading that is typed of a run that is over."""

    elapsed_s: float | None = Field(
        default=None, ge=0, le=1e7, allow_inf_nan=False, description="Since the start; at its end"
    )


class MarkPutRight(Request):
    """Why a mark counts no more, and what it should have been."""

    why: Why = Field(description="Why it is withdrawn")
    instead: NewReading | None = Field(default=None, description="What it should have been")


class NewMarks(Request):
    """Readings of a run."""

    marks: list[MarkFields] = Field(max_length=10_000, description="In any order")


class NewWatcher(Request):
    """A machine that is to watch its own exports."""

    name: RowTitle = Field(description="What it is called among the paired devices")


class RunningMark(Request):
    """How far a run was."""

    elapsed_s: float = Field(ge=0, le=1e7, allow_inf_nan=False, description="Since the start")
    fraction: Part = Field(description="Part of the work done")


class RunningMarks(Request):
    """Progress of a run that is not in the book yet."""

    marks: list[RunningMark] = Field(max_length=10_000, description="In any order")
    task_id: UUID = Field(description="Task that is being run")


class Logged(Request):
    """What an entry of the log may say besides what happened."""

    setup_id: UUID = Field(description="Setup that it was seen on")
    task_id: UUID | None = Field(default=None, description="Task that it was seen in, if in one")
    app: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] | None = Field(
        default=None, description="App that it was seen in, where it is of no task"
    )
    measured: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] | None = (
        Field(default=None, description="A number with its unit, as typed")
    )
    app_version: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] | None = (
        Field(
            default=None, description="Version of the app; that of the latest round where missing"
        )
    )
    seen_under: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] | None = (
        Field(default=None, description="Resolution, quality, effects, other programs")
    )
    timecode: Annotated[str, StringConstraints(strip_whitespace=True, max_length=20)] | None = (
        Field(default=None, description="Where in a clip it is to be seen")
    )
    corrects_id: UUID | None = Field(
        default=None, description="Entry that it stands for, which is withdrawn"
    )


class SeenTrial(Logged):
    """An editing trial: how the edit itself went."""

    kind: TrialKind = Field(description="What was tried")
    own_kind: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] | None = (
        Field(default=None, description="What was tried, where it is of no known kind")
    )
    grade: TrialGrade = Field(description="How it went")
    freezes: Count | None = Field(default=None, description="Freezes that were counted")
    dropped: Count | None = Field(default=None, description="Frames that were dropped")
    total: Annotated[int, Field(ge=1, lt=2**31)] | None = Field(
        default=None, description="Of how many"
    )
    note: Reason | None = Field(default=None, description="Anything else")


class SeenTrouble(Logged):
    """A fault worth telling that is not a time."""

    kind: TroubleKind = Field(description="What happened")
    run_id: UUID | None = Field(default=None, description="Run that it happened in, if in one")
    times: Annotated[int, Field(ge=1, lt=2**31)] | None = Field(
        default=None, description="How often; once where it is left out"
    )
    fixed_in: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] | None = (
        Field(default=None, description="Version in which it was seen to be gone")
    )
    note: Reason | None = Field(default=None, description="In words")


class NewRatio(Request):
    """A ratio noted elsewhere, without the times behind it."""

    setup_id: UUID = Field(description="Setup that it is about")
    against_id: UUID = Field(description="Setup that it is compared with")
    typed: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)] = (
        Field(description="Such as 38 % faster, 3.2 times, over 15x")
    )
    source: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200), PlainText] = (
        Field(default="", description="Who says so")
    )
    client_key: Annotated[str, StringConstraints(min_length=8, max_length=80), PlainText] | None = (
        Field(default=None, description="The same key again notes nothing")
    )


class Withdrawal(Request):
    """Why something counts no more; it stays on record."""

    why: Why = Field(description="Why it is withdrawn")


class EntryText(Request):
    """An entry line, finished or not."""

    line: str = Field(max_length=500, description="As typed: setup / task / value")


Digest = Annotated[str, StringConstraints(min_length=8, max_length=80), PlainText]
Millis = Annotated[float, Field(ge=0, le=1e14, allow_inf_nan=False)]


class LaneMark(MarkFields):
    """A reading of a lane that may still run; one that was taken back stays, and counts nowhere."""

    withdrawn: Literal[True] | None = Field(default=None, description="It was taken back")


class LaneFields(Bare):
    """A lane, whole, as one device sees it; moments in ms on the server's clock."""

    id: Digest = Field(description="Of the lane, made by the device that armed it")
    number: Annotated[int, Field(ge=1, le=40)] | None = Field(
        default=None, description="Its digit; the lowest free one where missing"
    )
    setup_id: UUID = Field(description="Setup on the desk")
    task_id: UUID = Field(description="Task that it times")
    queue: list[UUID] = Field(default_factory=list, max_length=200, description="Tasks after it")
    phase: Literal["armed", "running", "stopped", "gone"] = Field(description="What it does")
    key: Digest = Field(description="Key of its run")
    undone: Annotated[int, Field(ge=0, le=10_000)] = Field(
        default=0, description="Presses that were taken back or corrected, of this run"
    )
    started_ms: Millis = Field(default=0.0, description="Moment of the start")
    started_by: Annotated[str, StringConstraints(max_length=80), PlainText] = Field(
        default="", description="Device on whose clock the start was pressed"
    )
    start_u_s: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = Field(
        default=0.0, description="Half the shortest round trip of that device"
    )
    elapsed_s: Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)] | None = Field(
        default=None, description="Of a stopped run"
    )
    placed_u_s: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = Field(
        default=0.0, description="What two devices add to the reading's uncertainty"
    )
    pressed_ms: Millis = Field(default=0.0, description="Last press that can be taken back")
    timed_by: Literal["hand", "watcher", "rig"] = Field(default="hand", description="Who stops it")
    factor: Annotated[float, Field(ge=1, le=120, allow_inf_nan=False)] = Field(
        default=1.0, description="How much faster than life a simulated rig runs"
    )
    conditions: StartConditions = Field(
        default_factory=StartConditions, description="What was seen before the start"
    )
    marks: list[LaneMark] = Field(default_factory=list, max_length=2000, description="So far")


class LaneEvent(Bare):
    """One event of a lane; the same client and seq again change nothing."""

    client: Digest = Field(description="Who tells it")
    seq: Annotated[int, Field(ge=0, lt=2**31)] = Field(description="Its place among all it told")
    kind: Literal[
        "armed",
        "started",
        "mark",
        "stopped",
        "undone",
        "corrected",
        "failed",
        "void",
        "changed",
        "removed",
    ] = Field(description="What happened")
    at_ms: Millis = Field(description="When, on the server's clock")
    lane: LaneFields = Field(description="The lane after it")


class WantedRigs(Request):
    """Simulated rigs to put on the bench of a demo."""

    factor: Annotated[float, Field(ge=1, le=120, allow_inf_nan=False)] = Field(
        default=30.0, description="How much faster than life they run"
    )
    task_id: UUID | None = Field(
        default=None, description="What they export; the most measured task where missing"
    )


class LaneEvents(Request):
    """Events of lanes, in any order."""

    events: list[LaneEvent] = Field(max_length=500, description="Those that come twice are fine")


class LogText(Request):
    """The log of a device."""

    text: str = Field(max_length=20_000_000, description="JSON lines, one event a line")
