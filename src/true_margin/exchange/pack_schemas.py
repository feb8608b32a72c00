"""The registry of the tables of a data pack: the model of each row, its key, what it refers to."""

from __future__ import annotations

from dataclasses import dataclass

from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackInquiryRun,
    PackInquirySeen,
    PackInquiryStep,
    PackJudgement,
    PackLook,
    PackOutput,
    PackOverrule,
    PackPlan,
    PackPlanPart,
    PackPlayback,
    PackPublished,
    PackRatio,
    PackSent,
    PackSettingsUsed,
    PackTrial,
    PackTrouble,
)
from true_margin.exchange.pack_publish import (
    PackCard,
    PackCardSetup,
    PackScript,
    PackScriptAnswer,
    PackScriptName,
    PackScriptPhrasing,
)
from true_margin.exchange.pack_rows import PackRow
from true_margin.exchange.pack_tables import (
    PackExtra,
    PackFreeRow,
    PackMachine,
    PackMark,
    PackPicture,
    PackPrice,
    PackRevision,
    PackRound,
    PackRoundVersion,
    PackRun,
    PackSensitivity,
    PackSetup,
    PackSetupSpec,
    PackShootout,
    PackSpec,
    PackTask,
    PackTaskSetting,
    PackTimeline,
    PackTimelineFile,
    PackTrialRow,
)
from true_margin.exchange.pack_viewers import PackViewer, PackViewerNeed, PackViewerTask


@dataclass(frozen=True, slots=True)
class Link:
    """Columns of a table that name a row of another, empty where they name none."""

    columns: tuple[str, ...]
    table: str
    key: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class TableSchema:
    """What a table of a pack is.

    Attributes:
        model: of its rows.
        key: columns that no two rows share.
        links: what its rows name in other tables.
        known_by: columns by which a row is found again in another pack, where that is not its
            key; where it has neither, by all that it says.
        most: rows that are read of it.
    """

    model: type[PackRow]
    key: tuple[str, ...] = ()
    links: tuple[Link, ...] = ()
    known_by: tuple[str, ...] = ()
    most: int = 20_000

    @property
    def identity(self) -> tuple[str, ...]:
        """Columns by which a row is found again in another pack; none for all of them."""
        return self.known_by or self.key


_OF_SETUP = Link(("machine", "setup"), "setups", ("machine", "name"))
_OF_MACHINE = Link(("machine",), "machines", ("name",))
_OF_TASK = Link(("task",), "tasks", ("name",))
_OF_RUN = Link(("run",), "runs", ("id",))
_OF_TIMELINE = Link(("timeline",), "timelines", ("name",))
_OF_ROUND = Link(("round",), "rounds", ("name",))
_OF_VIEWER = Link(("viewer",), "viewers", ("name",))
_OF_CARD = Link(("card",), "cards", ("place",))
_OF_INQUIRY = Link(("inquiry",), "inquiries", ("id",))
_SETUP_A = Link(("machine_a", "setup_a"), "setups", ("machine", "name"))
_SETUP_B = Link(("machine_b", "setup_b"), "setups", ("machine", "name"))
_ON_TASK = (_OF_TASK, _OF_SETUP)
_ABOUT = (_OF_TASK, _SETUP_A, _SETUP_B)
SCHEMAS: dict[str, TableSchema] = {
    "shootout": TableSchema(PackShootout),
    "machines": TableSchema(PackMachine, key=("name",)),
    "setups": TableSchema(
        PackSetup,
        key=("machine", "name"),
        links=(
            _OF_MACHINE,
            Link(
                ("assumed_against_machine", "assumed_against_setup"), "setups", ("machine", "name")
            ),
        ),
    ),
    "free_rows": TableSchema(PackFreeRow, key=("title",)),
    "trial_rows": TableSchema(PackTrialRow, key=("row",)),
    "specs": TableSchema(PackSpec, links=(_OF_MACHINE,), known_by=("machine", "row")),
    "setup_specs": TableSchema(
        PackSetupSpec, links=(_OF_SETUP,), known_by=("machine", "setup", "row")
    ),
    "prices": TableSchema(PackPrice, links=(_OF_MACHINE,)),
    "extras": TableSchema(PackExtra, links=(_OF_SETUP,)),
    "timelines": TableSchema(PackTimeline, key=("name",)),
    "timeline_files": TableSchema(PackTimelineFile, links=(_OF_TIMELINE, _OF_SETUP)),
    "tasks": TableSchema(
        PackTask, key=("name",), links=(_OF_TIMELINE, Link(("follows",), "tasks", ("name",)))
    ),
    "task_settings": TableSchema(PackTaskSetting, links=(_OF_TASK,), known_by=("task", "field")),
    "sensitivities": TableSchema(PackSensitivity, links=(_OF_TASK,), known_by=("task", "to")),
    "overrules": TableSchema(
        PackOverrule,
        links=_ABOUT,
        known_by=("task", "machine_a", "setup_a", "machine_b", "setup_b", "made_at"),
    ),
    "sent_in": TableSchema(PackSent, links=_ON_TASK, known_by=("id", "number")),
    "judgements": TableSchema(
        PackJudgement,
        links=(*_ABOUT, Link(("other_task",), "tasks", ("name",))),
        known_by=(
            "task",
            "other_task",
            "machine_a",
            "setup_a",
            "machine_b",
            "setup_b",
            "judged_as",
            "part",
            "noted_at",
        ),
    ),
    "plans": TableSchema(PackPlan, key=("frozen_at",)),
    "plan_parts": TableSchema(
        PackPlanPart,
        links=(Link(("frozen_at",), "plans", ("frozen_at",)), _OF_TASK, _OF_SETUP),
        known_by=("frozen_at", "task", "machine", "setup"),
    ),
    "rounds": TableSchema(PackRound, key=("name",)),
    "round_versions": TableSchema(PackRoundVersion, links=(_OF_ROUND,), known_by=("round", "app")),
    "runs": TableSchema(PackRun, key=("id",), links=(_OF_SETUP, _OF_TASK, _OF_ROUND), most=100_000),
    "settings_used": TableSchema(PackSettingsUsed, links=_ON_TASK),
    "outputs": TableSchema(PackOutput, links=(*_ON_TASK, _OF_RUN)),
    "looks": TableSchema(PackLook, links=_ON_TASK),
    "playbacks": TableSchema(PackPlayback, links=_ON_TASK),
    "trials": TableSchema(PackTrial, links=_ON_TASK),
    "troubles": TableSchema(PackTrouble, links=(*_ON_TASK, _OF_RUN)),
    "noted_ratios": TableSchema(
        PackRatio,
        links=(
            *_ON_TASK,
            Link(("against_machine", "against_setup"), "setups", ("machine", "name")),
        ),
        known_by=("task", "machine", "setup", "against_machine", "against_setup", "noted_at"),
    ),
    "pictures": TableSchema(PackPicture, links=(_OF_RUN, _OF_SETUP)),
    "revisions": TableSchema(
        PackRevision, links=(_OF_RUN,), known_by=("run", "version"), most=100_000
    ),
    "marks": TableSchema(
        PackMark, links=(_OF_RUN,), known_by=("run", "elapsed_s", "withdrawn_at"), most=200_000
    ),
    "inquiries": TableSchema(PackInquiry, key=("id",), links=_ABOUT),
    "inquiry_steps": TableSchema(
        PackInquiryStep, links=(_OF_INQUIRY,), known_by=("inquiry", "place")
    ),
    "inquiry_runs": TableSchema(
        PackInquiryRun, links=(_OF_INQUIRY, _OF_RUN), known_by=("inquiry", "run")
    ),
    "inquiry_seen": TableSchema(PackInquirySeen, links=(_OF_INQUIRY, _OF_SETUP)),
    "published": TableSchema(
        PackPublished,
        links=_ABOUT,
        known_by=(
            "task",
            "machine_a",
            "setup_a",
            "machine_b",
            "setup_b",
            "kind",
            "value",
            "source",
            "noted_at",
        ),
    ),
    "viewers": TableSchema(
        PackViewer,
        key=("name",),
        links=(Link(("owned_machine", "owned_setup"), "setups", ("machine", "name")),),
    ),
    "viewer_tasks": TableSchema(
        PackViewerTask, links=(_OF_VIEWER, _OF_TASK), known_by=("viewer", "task")
    ),
    "viewer_needs": TableSchema(PackViewerNeed, links=(_OF_VIEWER,)),
    "scripts": TableSchema(PackScript),
    "script_names": TableSchema(PackScriptName, links=(_OF_SETUP,), known_by=("name",)),
    "script_answers": TableSchema(
        PackScriptAnswer,
        links=(
            _OF_SETUP,
            Link(("against_machine", "against_setup"), "setups", ("machine", "name")),
            _OF_TASK,
        ),
        known_by=("sentence", "place"),
    ),
    "script_phrasings": TableSchema(PackScriptPhrasing, known_by=("pattern",)),
    "cards": TableSchema(
        PackCard,
        key=("place",),
        links=(_OF_TASK, _OF_VIEWER),
        known_by=("kind", "task", "viewer", "title", "subtitle", "source"),
    ),
    "card_setups": TableSchema(PackCardSetup, links=(_OF_CARD, _OF_SETUP)),
}
"""Every table of a pack, in the order in which they are written."""
