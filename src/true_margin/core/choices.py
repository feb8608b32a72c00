"""The closed choices of the job, each in one place.

The API's models, the pack's schema, the database's rules and the lists of the web follow from
these, as from ``Subject`` (parity), ``ReadingMethod`` (quantities), ``RunStatus`` (study) and
``FigureKind`` (published), which stand beside their rules. Their values are stored and given
out: one is never renamed, only added.
"""

from __future__ import annotations

from enum import StrEnum


class PriceKind(StrEnum):
    """What kind of price a record is, in the order in which they fall back."""

    LIST = "list"
    STREET = "street"
    PAID = "paid"
    USED = "used"


class Operation(StrEnum):
    """What is done in a task."""

    EXPORT = "export"
    BACKGROUND_RENDER = "background render"
    TRANSCODE = "transcode"
    STABILISE = "stabilise"
    DENOISE = "denoise"
    RETIME = "retime"
    PHOTO_BATCH = "photo batch"
    AUDIO_BOUNCE = "audio bounce"
    APP_LAUNCH = "app launch"
    PROJECT_LOAD = "project load"
    PLAYBACK = "playback"
    SCORE = "score"
    OTHER = "other"


class TaskMeasure(StrEnum):
    """What a task yields; one that is looked at stands in no figure."""

    TIME = "time"
    AMOUNT = "amount"
    OBSERVATION = "observation"


class BareNumber(StrEnum):
    """What a number without a unit is, where a run yields a time."""

    SECONDS = "s"
    MINUTES = "min"
    HOURS = "h"
    CLOCK = "minutes:seconds"


class PlaybackQuality(StrEnum):
    """The best preview quality that was held without dropped frames, the best first."""

    FULL = "full"
    HALF = "half"
    QUARTER = "quarter"
    NONE = "none"


class TrialKind(StrEnum):
    """What of the edit itself is tried."""

    SCRUB = "scrub"
    SEEK = "seek"
    PLAYBACK_FULL = "playback full"
    PLAYBACK_HALF = "playback half"
    PLAYBACK_QUARTER = "playback quarter"
    PAGE_SWITCH = "page switch"
    IMPORT = "import"
    FAST_FORWARD = "fast forward"
    IMPORT_STILLS = "import of stills"
    OWN = "own kind"


class TrialGrade(StrEnum):
    """How a trial went, the best first."""

    SMOOTH = "smooth"
    SLOW = "slow"
    STUTTERS = "stutters"
    UNUSABLE = "unusable"


class TroubleKind(StrEnum):
    """A fault worth telling that is not a time."""

    CRASH = "crash"
    WORK_LOST = "work lost"
    WRONG_COLOURS = "wrong colours"
    DEVICE_FAILS = "device fails"
    OTHER = "other"
    FREEZE = "freeze"
    COLOURS_IN_PREVIEW = "wrong colours in preview"
    DEVICE_MISSING = "device not found"
    FEATURE_MISSING = "feature not available"
    PAGED_OUT = "memory paged out"
    GRAPHICS_MEMORY = "out of graphics memory"


class JudgedAs(StrEnum):
    """What a person says of the sameness of two things, or of one thing and its task."""

    LOOKED = "looked at"
    NEARLY = "nearly the same"
    NOT = "not the same"


class JudgedPart(StrEnum):
    """What was looked at on a setup."""

    TIMELINE = "timeline"
    SETTINGS = "settings"
    OUTPUT = "output"


class SentState(StrEnum):
    """What was decided about a result that somebody sent in."""

    NEW = "new"
    ACCEPTED = "accepted"
    DECLINED = "declined"
    WITHDRAWN = "withdrawn"
    ERASED = "erased"


class CountedRuns(StrEnum):
    """Which runs count after an inquiry."""

    BEFORE = "before"
    AGAIN = "again"
    BOTH = "both"
    NONE = "none"


class StepKind(StrEnum):
    """What is done in a step of an inquiry."""

    SUSPECTED = "suspected"
    CHANGED = "changed"
    AGAIN = "tried again"
    CAME_OUT = "came out"
    REOPENED = "opened again"


class InquiryKind(StrEnum):
    """Why something was looked into: what the core finds, or anything else."""

    BETTER_LOSES = "better loses"
    APP_RATIO = "app off its ratio"
    NOTHING_APART = "tells nothing apart"
    BRIDGE = "bridge disagrees"
    CARRIED = "carried over decides"
    RESTLESS = "scatters more"
    OTHER = "other"


class RuleName(StrEnum):
    """By which rule a viewer picks."""

    FASTEST = "fastest"
    VALUE = "value"
    WORTH = "worth"
    ENOUGH = "enough"


class CardKind(StrEnum):
    """What a card shows."""

    BAR = "bar"
    RULE = "rule"
    PRICE = "price"
    PICK = "pick"
    SPEC = "spec"
    PROGRESS = "progress"
    FEEL = "feel"
    RACE = "race"
    WORTH = "worth"
    VERSIONS = "versions"
    CORRECTION = "correction"


class CardPart(StrEnum):
    """What is decided of a setup on a card."""

    ORDER = "order"
    HIGHLIGHTED = "highlighted"
    LEFT_OUT = "left_out"


class Role(StrEnum):
    """What somebody may do, the most first."""

    OWNER = "owner"
    EDITOR = "editor"
    READER = "reader"


class JobState(StrEnum):
    """How a job stands."""

    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"


class LinkOpens(StrEnum):
    """What a secret link opens."""

    PAGE = "page"
    RACE = "race"


class ReportState(StrEnum):
    """How a report stands."""

    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    ENDED = "ended"


class Keeping(StrEnum):
    """Whose a machine of the store room is, and whether it can still be run."""

    OWNED = "owned"
    LENT = "lent"
    SOLD = "sold"
    GONE = "gone"
