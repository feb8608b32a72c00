"""What the store gives out: frozen values, times aware and in UTC."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class Shootout:
    """One comparison and its settings."""

    id: UUID
    slug: str
    name: str
    subject: str
    currency: str
    confidence: float
    materiality: float
    prior_df: float
    prior_cv: float
    update_prior_df: float
    update_prior_cv: float
    baseline_setup_id: UUID | None
    price_date: date
    price_kind: str
    trial_rows: list[str]
    demo: bool
    archived_at: datetime | None
    revision: int
    rest_revision: int
    version: int
    created_at: datetime


@dataclass(frozen=True, slots=True)
class Price:
    """A price record of a machine; ``amount`` in ``currency``, ``region`` None for anywhere."""

    id: UUID
    machine_id: UUID
    kind: str
    amount: Decimal
    currency: str
    dated: date
    source: str | None
    until: date | None
    configuration: str | None
    coupon: str | None
    note: str | None
    tax_included: bool | None
    shipping_included: bool | None
    paid_link: bool | None
    region: str | None = None


@dataclass(frozen=True, slots=True)
class Extra:
    """Something that a setup needed besides its machine."""

    id: UUID
    setup_id: UUID
    name: str
    amount: Decimal
    currency: str
    dated: date


@dataclass(frozen=True, slots=True)
class Setup:
    """A machine in one tested state; ``label`` is its name on every screen.

    ``specs`` holds the rows of the sheet in which it differs from its machine,
    ``conditions`` the state that it is tested in; both by field, numbers in the
    row's unit. ``mark`` picks its colour and shape. ``assumed_ratio`` is how many
    times as fast as another setup it is said to be, without runs.
    """

    id: UUID
    machine_id: UUID
    machine: str
    name: str
    label: str
    position: int
    mark: int
    specs: dict[str, Any]
    conditions: dict[str, Any]
    assumed_ratio: float | None
    assumed_against_id: UUID | None
    assumed_source: str | None
    extras: tuple[Extra, ...]
    version: int


@dataclass(frozen=True, slots=True)
class Machine:
    """A physical computer, its setups and its price records, newest first.

    ``specs`` holds its rows of the spec sheet by field, numbers in the row's unit.
    """

    id: UUID
    name: str
    position: int
    specs: dict[str, Any]
    retired_at: datetime | None
    archived_at: datetime | None
    version: int
    setups: tuple[Setup, ...]
    prices: tuple[Price, ...]


@dataclass(frozen=True, slots=True)
class FreeRow:
    """A row of the spec sheet that the reviewer added."""

    id: UUID
    title: str
    unit: str | None
    number: bool
    position: int


@dataclass(frozen=True, slots=True)
class Timeline:
    """An edited project that is exported."""

    id: UUID
    name: str
    length_s: float | None


@dataclass(frozen=True, slots=True)
class TimelineFile:
    """A timeline as saved on one machine; without a setup: as the reviewer keeps it.

    ``facts`` holds what was read of it, as plain values; ``size`` is in bytes.
    """

    id: UUID
    timeline_id: UUID
    setup_id: UUID | None
    name: str
    edl_rate: float | None
    size: int
    fingerprint: str
    facts: dict[str, Any]
    who: str
    added_at: datetime


@dataclass(frozen=True, slots=True)
class Task:
    """What is timed or observed, with the names of its app and timeline.

    ``settings`` holds its export settings by field; ``follows_id`` is the task as it was
    before a setting changed, ``superseded`` says that another follows this one.
    """

    id: UUID
    name: str
    position: int
    app: str
    timeline_id: UUID | None
    timeline: str | None
    timeline_length_s: float | None
    operation: str | None
    settings: dict[str, Any]
    starts_when: str | None
    ends_when: str | None
    note: str | None
    revision: int
    follows_id: UUID | None
    superseded: bool
    measure: str
    work: float | None
    unit: str | None
    version: int


@dataclass(frozen=True, slots=True)
class Preset:
    """Export settings under a name, for any shootout."""

    id: UUID
    name: str
    settings: dict[str, Any]


@dataclass(frozen=True, slots=True)
class SettingsUsed:
    """The export settings that were really used on a setup for a task."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    settings: dict[str, Any]
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class OutputFile:
    """What a probe said of the file that a setup exported; of one run, or of any."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    run_id: UUID | None
    name: str
    facts: dict[str, Any]
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class OutputLook:
    """What a person saw and heard of an exported file; None where nobody looked."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    plays: bool | None
    in_sync: bool | None
    colour_right: bool | None
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class Playback:
    """The best preview quality that a setup held, and the frames it dropped of all."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    quality: str
    dropped: int | None
    total: int | None
    note: str | None
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class Trial:
    """A graded judgement of the edit itself: scrubbing, seeking, playback, page switch, import."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    kind: str
    grade: str
    freezes: int | None
    dropped: int | None
    total: int | None
    note: str | None
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class Trouble:
    """A fault worth telling that is not a time; of one run, or of none."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    run_id: UUID | None
    kind: str
    note: str | None
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class RunPicture:
    """A picture of the screen that belongs to a run; ``size`` is in bytes."""

    id: UUID
    run_id: UUID
    name: str
    media_type: str
    size: int
    who: str
    added_at: datetime


@dataclass(frozen=True, slots=True)
class Overrule:
    """A person's word that two setups were given the same job on a task after all."""

    id: UUID
    task_id: UUID
    setup_a_id: UUID
    setup_b_id: UUID
    reason: str
    who: str
    made_at: datetime
    withdrawn_at: datetime | None


@dataclass(frozen=True, slots=True)
class AppVersion:
    """An app with the version that a round was run with."""

    app: str
    version: str


@dataclass(frozen=True, slots=True)
class Round:
    """A round and the app versions that it was run with."""

    id: UUID
    name: str
    position: int
    brought_from: str | None
    versions: tuple[AppVersion, ...]


@dataclass(frozen=True, slots=True)
class Mark:
    """A reading inside a run; loads and ``fraction`` from 0 to 1, ``left_s`` as the app says."""

    run_id: UUID
    elapsed_s: float
    fraction: float | None
    frames_per_s: float | None
    temperature_c: float | None
    power_w: float | None
    memory_gb: float | None
    swap_gb: float | None
    cpu_load: float | None
    gpu_load: float | None
    gpu_memory_gb: float | None
    noise_db: float | None
    left_s: float | None
    event: str | None


@dataclass(frozen=True, slots=True)
class Run:
    """One attempt; ``value``, ``resolution`` and ``u`` in seconds or the amount's unit.

    ``poll_s`` is a watcher's; ``placed_u`` what ``u`` holds because two devices timed it;
    ``reached`` how far a failed run came, 0 to 1; ``conditions`` what was seen before it.
    """

    id: UUID
    setup_id: UUID
    task_id: UUID
    round_id: UUID
    place: int
    status: str
    value: float | None
    typed: str | None
    resolution: float | None
    approximate: bool
    bound: bool
    method: str
    u: float
    poll_s: float | None
    placed_u: float
    reached: float | None
    conditions: dict[str, Any]
    simulated: bool
    reason: str | None
    note: str | None
    started_at: datetime | None
    who: str
    client_key: str
    version: int
    created_at: datetime


@dataclass(frozen=True, slots=True)
class BenchEvent:
    """One event of a lane as a device told it; ``at_ms`` on the server's clock."""

    client: str
    seq: int
    kind: str
    at_ms: float
    lane: dict[str, Any]
    received_at: datetime


@dataclass(frozen=True, slots=True)
class PairedDevice:
    """A device that may work on one bench until it is revoked; ``person_id`` paired it."""

    id: UUID
    shootout_id: UUID
    name: str
    paired_at: datetime
    seen_at: datetime
    revoked_at: datetime | None
    person_id: UUID | None = None


@dataclass(frozen=True, slots=True)
class RunRevision:
    """A run as it stood before a change, with who changed it, when and why."""

    version: int
    before: dict[str, Any]
    who: str
    why: str
    changed_at: datetime


@dataclass(frozen=True, slots=True)
class Inquiry:
    """Something out of line that is looked into; ``counts`` says which runs count."""

    id: UUID
    task_id: UUID | None
    setup_a_id: UUID | None
    setup_b_id: UUID | None
    kind: str
    about: str
    suspected: str
    changed: str | None
    outcome: str | None
    counts: str | None
    who: str
    opened_at: datetime
    closed_at: datetime | None
    version: int
    run_ids: tuple[UUID, ...] = ()


@dataclass(frozen=True, slots=True)
class PublishedFigure:
    """A figure published elsewhere: of setup a over setup b, or of setup a alone.

    ``value`` is times as fast, percent, seconds or an amount, as ``kind`` says; a task of
    None means the mix.
    """

    id: UUID
    task_id: UUID | None
    setup_a_id: UUID
    setup_b_id: UUID | None
    kind: str
    value: float
    source: str
    who: str
    noted_at: datetime
    withdrawn_at: datetime | None
