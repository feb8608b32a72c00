"""Tables of a data pack that hold what was noted beside the runs, and what was looked into."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from true_margin.core.choices import (
    CountedRuns,
    JudgedAs,
    JudgedPart,
    PlaybackQuality,
    StepKind,
    TrialGrade,
    TrialKind,
    TroubleKind,
)
from true_margin.core.published import FigureKind
from true_margin.core.readings import ReadingMethod
from true_margin.core.study import RunStatus
from true_margin.exchange.pack_rows import PROBE_NAME, Name, PackRow, Text, Told


class PackNoted(PackRow):
    """What was noted of a setup on a task."""

    task: Name
    machine: Name
    setup: Name
    who: Text = "unknown"
    noted_at: datetime


class PackSettingsUsed(PackNoted):
    """The export settings that were used on a setup, as a JSON object of typed fields."""

    settings: Text


class PackOutput(PackNoted):
    """The probe file of what a setup exported."""

    name: Name
    content: str = Field(pattern=PROBE_NAME)
    run: Name | None = None


class PackLook(PackNoted):
    """What a person saw and heard of an exported file."""

    plays: bool | None = None
    in_sync: bool | None = None
    colour_right: bool | None = None


class PackPlayback(PackNoted):
    """The best preview quality that a setup held, and the frames it dropped."""

    quality: PlaybackQuality
    dropped: int | None = Field(default=None, ge=0)
    total: int | None = Field(default=None, gt=0)
    note: Text | None = None


class PackLogged(PackRow):
    """An entry of the log; ``corrects_at`` is the moment of the entry that it stands for.

    It is of a task, or of an app without one, or of the machine alone.
    """

    task: Name | None = None
    app: Name | None = None
    machine: Name
    setup: Text = ""
    who: Text = "unknown"
    noted_at: datetime
    measured: Text | None = None
    app_version: Text | None = None
    seen_under: Text | None = None
    timecode: Text | None = None
    note: Text | None = None
    corrects_at: datetime | None = None
    withdrawn_at: datetime | None = None
    withdrawn_why: Text | None = None


class PackTrial(PackLogged):
    """A graded judgement of the edit itself."""

    kind: TrialKind
    own_kind: Text | None = None
    grade: TrialGrade
    freezes: int | None = Field(default=None, ge=0)
    dropped: int | None = Field(default=None, ge=0)
    total: int | None = Field(default=None, gt=0)


class PackRatio(PackNoted):
    """How many times as fast a setup is as another, as somebody else says."""

    against_machine: Name
    against_setup: Name
    typed: Text
    source: Text
    withdrawn_at: datetime | None = None
    withdrawn_why: Text | None = None


class PackTrouble(PackLogged):
    """A fault worth telling that is not a time; of one run, or of none."""

    kind: TroubleKind
    run: Name | None = None
    times: Annotated[int, Field(ge=1, lt=2**31)] | None = None
    fixed_in: Text | None = None


class PackOverrule(PackRow):
    """A person's word that two setups were given the same job on a task after all."""

    task: Name
    machine_a: Name
    setup_a: Name
    machine_b: Name
    setup_b: Name
    reason: Name
    who: Text = "unknown"
    made_at: datetime
    withdrawn_at: datetime | None = None
    withdrawn_by: Text | None = None


class PackJudgement(PackRow):
    """A person's word on whether it was the same work."""

    task: Name
    other_task: Name | None = None
    machine_a: Name | None = None
    setup_a: Name | None = None
    machine_b: Name | None = None
    setup_b: Name | None = None
    judged_as: JudgedAs
    part: JudgedPart | None = None
    reason: Name | None = None
    who: Text = "unknown"
    noted_at: datetime
    withdrawn_at: datetime | None = None
    withdrawn_why: Name | None = None


class PackSent(PackRow):
    """One run of a result that somebody sent in and that was accepted; ``id`` is its digest."""

    id: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    number: Annotated[int, Field(ge=1, lt=20_000)]
    model: Name
    sender: Text | None = None
    machine: Name | None = None
    setup: Text | None = None
    task: Name
    app_version: Text | None = None
    method: ReadingMethod
    status: RunStatus
    seconds: Annotated[float, Field(ge=0.01, le=864_000)] | None = None
    u: Annotated[float, Field(ge=0, le=86_400)] = 0.0
    reason: Text | None = None
    sealed: bool = False
    made_at: datetime
    received_at: datetime
    judged_at: datetime
    why: Text | None = None
    who: Text = "unknown"


class PackPlan(PackRow):
    """What was planned before the first run; the newest counts."""

    frozen_at: datetime
    runs: Annotated[int, Field(ge=1, le=1000)]
    confidence: Annotated[float, Field(gt=0, lt=1)]
    materiality: Annotated[float, Field(ge=0, le=1)]
    words: Told | None = None
    who: Text = "unknown"


class PackPlanPart(PackRow):
    """A task, or a setup, that a plan holds."""

    frozen_at: datetime
    task: Name | None = None
    machine: Name | None = None
    setup: Name | None = None


class PackInquiry(PackRow):
    """Something out of line that was looked into; ``counts`` says which runs count."""

    id: Name
    kind: Annotated[str, Field(min_length=1, max_length=40)]
    about: Annotated[str, Field(min_length=1, max_length=500)]
    suspected: Told
    changed: Told | None = None
    outcome: Told | None = None
    counts: CountedRuns | None = None
    task: Name | None = None
    machine_a: Name | None = None
    setup_a: Name | None = None
    machine_b: Name | None = None
    setup_b: Name | None = None
    who: Text = "unknown"
    opened_at: datetime
    closed_at: datetime | None = None


class PackInquiryStep(PackRow):
    """A dated step of an inquiry; ``place`` counts from 1."""

    inquiry: Name
    place: Annotated[int, Field(ge=1, le=10_000)]
    kind: StepKind
    words: Told | None = None
    counts: CountedRuns | None = None
    who: Text = "unknown"
    noted_at: datetime


class PackInquiryRun(PackRow):
    """A run that was tried again in an inquiry, in which step."""

    inquiry: Name
    run: Name
    step: Annotated[int, Field(ge=1, le=10_000)] | None = None


class PackInquirySeen(PackRow):
    """An entry of the log that belongs to a step of an inquiry."""

    inquiry: Name
    step: Annotated[int, Field(ge=1, le=10_000)]
    entry: Annotated[str, Field(pattern="^(trial|trouble)$")]
    machine: Name
    setup: Text = ""
    noted_at: datetime


class PackPublished(PackRow):
    """A figure published elsewhere, beside ours; without a task it is of the mix."""

    task: Name | None = None
    machine_a: Name
    setup_a: Name
    machine_b: Name | None = None
    setup_b: Name | None = None
    kind: FigureKind
    value: float = Field(gt=0, allow_inf_nan=False)
    source: Name
    who: Text = "unknown"
    noted_at: datetime
    withdrawn_at: datetime | None = None
