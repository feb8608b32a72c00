"""What a request may hold: strict, bounded, described; unknown fields are refused."""

from __future__ import annotations

import re
from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Field,
    StringConstraints,
    field_validator,
)

from true_margin.core.choices import BareNumber, Operation, PlaybackQuality, PriceKind, TaskMeasure
from true_margin.core.parity import Subject

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
LongName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
Short = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)]
Reason = Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)]
Why = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=500)]
Currency = Annotated[str, StringConstraints(pattern="^[A-Z]{3}$")]
Meaning = Literal["clock", "decimal"]
Version = Annotated[int, Field(ge=1, lt=2**31, description="Version that was read")]
RowTitle = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
Cell = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
Cells = Annotated[dict[str, Cell | None], Field(max_length=200)]
Event = Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)]
PresetName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
SETTING_CELLS = "Export settings by field, as typed; null empties one"
SPEC_CELLS = "Rows of the spec sheet by field, as typed; null empties one"
STATE_CELLS = "State that it is tested in by field, as typed; null empties one"


_HALF = re.compile("[\ud800-\udfff]")


def plain_text(text: str) -> str:
    """Refuse what no database text can hold, before it gets there."""
    if "\x00" in text:
        raise ValueError("text cannot hold a zero byte")
    if not text.isascii() and _HALF.search(text):
        raise ValueError("text cannot hold half a character")
    return text


class Bare(BaseModel):
    """Base of what a bench sends hundreds of times a second: its texts are looked through one
    by one, each as ``PlainText``."""

    model_config = ConfigDict(extra="forbid")


PlainText = AfterValidator(plain_text)


class Request(Bare):
    """Base of all other request bodies: every text in them is looked through."""

    @field_validator("*", mode="before")
    @classmethod
    def _plain_text(cls, value: object) -> object:
        """Refuse what no database text can hold, before it gets there."""
        for text in value.values() if isinstance(value, dict) else [value]:
            if isinstance(text, str):
                plain_text(text)
        return value


PlannedRuns = Annotated[int, Field(ge=1, le=1000)]


class NewShootout(Request):
    """A shootout to make."""

    name: LongName = Field(description="What the comparison is about")
    subject: Subject = Field(default=Subject.MACHINE, description="What is on trial")
    currency: Currency | None = Field(
        default=None, description="Currency of prices, ISO 4217; null for that of the house"
    )
    planned_runs: PlannedRuns | None = Field(
        default=None,
        description="Runs of each setup on each task that are planned; null for those of the house",
    )


class ShootoutChange(Request):
    """Settings to change; those left out stay as they are."""

    version: Version
    name: LongName | None = Field(default=None, description="New name")
    subject: Subject | None = Field(default=None, description="What is on trial")
    confidence: float | None = Field(default=None, ge=0.5, le=0.999, description="Of intervals")
    materiality: float | None = Field(
        default=None, ge=0, le=0.5, description="Smallest ratio worth telling, less 1"
    )
    baseline_setup_id: UUID | None = Field(default=None, description="Setup that reads 1.00x")
    price_date: date | None = Field(default=None, description="Day whose prices count")
    price_kind: PriceKind | None = Field(
        default=None, description="Kind of price that counts first"
    )
    planned_runs: PlannedRuns | None = Field(
        default=None, description="Runs of each setup on each task that are planned; null for none"
    )
    unit_prior_cv: float | None = Field(
        default=None,
        ge=0,
        le=0.5,
        allow_inf_nan=False,
        description="How much samples of one model differ, a fraction; 0 takes them for alike",
    )


class NewMachine(Request):
    """A machine to add, with its first setup."""

    name: Name = Field(description="Name, unique in the line-up")
    model: Name | None = Field(default=None, description="Model that it is a sample of")
    setup: Name | None = Field(default=None, description="Name of its first setup")
    copy_from: UUID | None = Field(default=None, description="Machine whose specs to take over")
    specs: Cells = Field(default_factory=dict, description=SPEC_CELLS)


class MachineChange(Request):
    """Fields of a machine to change; those left out stay as they are."""

    version: Version
    name: Name | None = Field(default=None, description="New name")
    model: Name | None = Field(
        default=None, description="Model that it is a sample of; null where it stands for itself"
    )
    specs: Cells | None = Field(default=None, description=SPEC_CELLS)


class NewSetup(Request):
    """A setup to add."""

    name: Name = Field(description="Name, unique on its machine")
    copy_from: UUID | None = Field(default=None, description="Setup to be like")
    specs: Cells = Field(default_factory=dict, description=SPEC_CELLS)
    conditions: Cells = Field(default_factory=dict, description=STATE_CELLS)


class SetupChange(Request):
    """Fields of a setup to change; those left out stay as they are."""

    version: Version
    name: Name | None = Field(default=None, description="New name")
    specs: Cells | None = Field(default=None, description=SPEC_CELLS)
    conditions: Cells | None = Field(default=None, description=STATE_CELLS)
    assumed_ratio: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)] | None = Field(
        default=None, description="How many times as fast as another setup it is said to be"
    )
    assumed_against_id: UUID | None = Field(default=None, description="That other setup")
    assumed_source: LongName | None = Field(default=None, description="Who says so")


class NewFreeRow(Request):
    """A row of one's own for the spec sheet."""

    title: RowTitle = Field(description="Name of the row")
    unit: Annotated[str, StringConstraints(strip_whitespace=True, max_length=20)] | None = Field(
        default=None, description="Unit of its numbers"
    )
    number: bool = Field(default=False, description="True where it holds numbers")


class FreeRowChange(Request):
    """Another title for a row of one's own."""

    title: RowTitle = Field(description="New name of the row")


class TrialMark(Request):
    """Whether a row is on trial besides the subject."""

    on_trial: bool = Field(description="True to mark it, false to take the mark off")


class Archiving(Request):
    """Whether something stands in the archive."""

    archived: bool = Field(description="True to put it there, false to take it out")


TypedAmount = Annotated[str, StringConstraints(strip_whitespace=True, max_length=20)]


class SpecText(Request):
    """Specs as a pasted block or the text of a spec file."""

    text: str = Field(max_length=2_000_000, description="Block with names, or JSON")


class MachineOrder(Request):
    """The machines of a line-up in their new order."""

    machine_ids: list[UUID] = Field(max_length=200, description="Every machine once")


class Retirement(Request):
    """Whether a machine is off the desk."""

    retired: bool = Field(description="True to retire it, false to bring it back")


class NewPrice(Request):
    """A price record to add."""

    kind: PriceKind = Field(description="Kind of price")
    amount: TypedAmount = Field(description="Amount as typed, such as 1290 or 1290.50")
    currency: Currency = Field(description="ISO 4217")
    dated: date = Field(description="Day of the price")
    source: Short | None = Field(default=None, description="Shop or list")
    until: date | None = Field(default=None, description="Last day of an offer")
    configuration: LongName | None = Field(default=None, description="Exact configuration")
    coupon: Short | None = Field(default=None, description="Coupon that was needed")
    note: Reason | None = Field(default=None, description="Anything else")
    tax_included: bool | None = Field(default=None, description="Tax is in the amount")
    shipping_included: bool | None = Field(default=None, description="Shipping is in the amount")
    paid_link: bool | None = Field(default=None, description="The link to it is paid for")
    region: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] | None = Field(
        default=None, description="Where it is good; anywhere where it is left out"
    )
    link: Annotated[str, StringConstraints(pattern=r"^https?://\S{3,480}$")] | None = Field(
        default=None, description="Address of the offer"
    )
    corrects_id: UUID | None = Field(
        default=None, description="Price that it stands for, which is withdrawn"
    )


class ChosenOffers(Request):
    """The offers of a feed that a person wants stored."""

    keys: list[Annotated[str, StringConstraints(max_length=64)]] = Field(
        min_length=1, max_length=500, description="Keys of the offers, as they were shown"
    )


class NewExtra(Request):
    """Something that a setup needed besides its machine."""

    name: Name = Field(description="What it is")
    amount: TypedAmount = Field(description="Amount as typed")
    currency: Currency = Field(description="ISO 4217")
    dated: date = Field(description="Day of the price")


class NewSensitivity(Request):
    """What moves the time of a task besides the machine."""

    to: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)] = (
        Field(description="A condition by its words, or anything else")
    )
    up_to_s: Annotated[float, Field(gt=0, le=1e7, allow_inf_nan=False)] = Field(
        description="By so many seconds at most"
    )
    why: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)] = Field(
        default="", description="How it is known"
    )


class TaskFields(Request):
    """What may be said of a task."""

    sensitivities: Annotated[list[NewSensitivity], Field(max_length=20)] | None = Field(
        default=None, description="What moves its time besides the machine"
    )

    timeline: Short | None = Field(default=None, description="Name of its timeline")
    timeline_length_s: float | None = Field(
        default=None, gt=0, le=1e7, allow_inf_nan=False, description="Length of it, in seconds"
    )
    operation: Operation | None = Field(default=None, description="What is done")
    settings: Cells | None = Field(default=None, description=SETTING_CELLS)
    starts_when: Event | None = Field(default=None, description="Event that starts the clock")
    ends_when: Event | None = Field(default=None, description="Event that stops the clock")
    note: Note | None = Field(default=None, description="Anything else")
    work: float | None = Field(
        default=None, gt=0, le=1e12, allow_inf_nan=False, description="Work of a run, in its unit"
    )
    unit: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] | None = Field(
        default=None, description="s of timeline, frames, photos"
    )


class NewTask(TaskFields):
    """A task to add."""

    name: LongName = Field(description="Name, unique in the shootout")
    app: Name = Field(description="App that it is run in")
    measure: TaskMeasure = Field(
        default=TaskMeasure.TIME, description="What a run yields; playback is an observation"
    )


class TaskChange(TaskFields):
    """Fields of a task to change."""

    version: Version
    name: LongName | None = Field(default=None, description="New name")
    app: Name | None = Field(default=None, description="App that it is run in")
    measure: TaskMeasure | None = Field(default=None, description="Before any run")
    correction: Why | None = Field(
        default=None,
        description="Why the job was written down wrong; without it a job that changes after "
        "runs becomes a new revision",
    )


class NewMeasure(Request):
    """Another measure for a task; its runs are read again as they were typed."""

    version: Version
    measure: TaskMeasure = Field(description="What a run yields: a time or an amount")
    unit: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] | None = Field(
        default=None, description="Unit of an amount"
    )
    bare: BareNumber = Field(
        default=BareNumber.SECONDS, description="What a number without a unit is, as a time"
    )
    really: bool = Field(default=False, description="Do it; else only what would become of it")


class CopiedTask(Request):
    """The app in which the same task is done as well."""

    app: Name = Field(description="Name of the app")


class NewPreset(Request):
    """Export settings to keep under a name."""

    name: PresetName = Field(description="Name; the same name again replaces them")
    settings: Cells = Field(description=SETTING_CELLS)


class NewSettingsUsed(Request):
    """The export settings that were used on a setup: the task's, with these changes."""

    setup_id: UUID = Field(description="Setup that they were used on")
    settings: Cells = Field(default_factory=dict, description=SETTING_CELLS)


class NewOutputLook(Request):
    """What a person saw and heard of an exported file; null where nobody looked."""

    setup_id: UUID = Field(description="Setup that exported it")
    plays: bool | None = Field(default=None, description="It plays to the end")
    in_sync: bool | None = Field(default=None, description="The sound is in sync")
    colour_right: bool | None = Field(default=None, description="The colour is right")


class SeenPlayback(Request):
    """The best preview quality that a setup held, and the frames it dropped."""

    setup_id: UUID = Field(description="Setup that played it")
    quality: PlaybackQuality = Field(description="Held without dropped frames")
    dropped: Annotated[int, Field(ge=0, lt=2**31)] | None = Field(
        default=None, description="Frames that were dropped"
    )
    total: Annotated[int, Field(ge=1, lt=2**31)] | None = Field(
        default=None, description="Of how many"
    )
    note: Reason | None = Field(default=None, description="Anything else")


class RoundChange(Request):
    """What of a round to change; its runs stay where they are."""

    name: Name | None = Field(default=None, description="New name, unique in the shootout")
    versions: dict[Name, Annotated[str, StringConstraints(min_length=1, max_length=60)]] = Field(
        default_factory=dict, max_length=50, description="Version of each app that was noted wrong"
    )


class RoundOrder(Request):
    """All rounds of a shootout, oldest first."""

    round_ids: list[UUID] = Field(
        min_length=1, max_length=500, description="Every round once; the last one runs now"
    )


class NewRound(Request):
    """A round to open."""

    name: Name = Field(description="Name, unique in the shootout")
    versions: dict[Name, Annotated[str, StringConstraints(min_length=1, max_length=60)]] = Field(
        default_factory=dict, max_length=50, description="Version of each app"
    )
