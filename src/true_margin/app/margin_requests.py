"""What a request about margins may hold."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import Field, StringConstraints

from true_margin.app.requests import LongName, Request, Version, Why
from true_margin.core.choices import CountedRuns, InquiryKind, JudgedAs, JudgedPart, StepKind
from true_margin.core.published import FigureKind

Told = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=1000)]


class NewOverrule(Request):
    """A person's word that two setups were given the same job after all."""

    a: UUID = Field(description="One setup")
    b: UUID = Field(description="The other setup")
    reason: Why = Field(description="Why it does not matter; printed wherever the margin is")


class NewJudgement(Request):
    """A person's word on whether it was the same work.

    Looked at: ``setup_id`` and ``part``. Nearly or not the same: ``reason``, with either two
    setups or another task.
    """

    judged_as: JudgedAs = Field(description="What is said")
    part: JudgedPart | None = Field(default=None, description="What was looked at")
    setup_id: UUID | None = Field(default=None, description="Setup that it is about")
    other_setup_id: UUID | None = Field(default=None, description="The other of two setups")
    other_task_id: UUID | None = Field(default=None, description="The other of two tasks")
    reason: Why | None = Field(default=None, description="Why; printed wherever it counts")


class NewInquiry(Request):
    """Something out of line that a person looks into."""

    kind: InquiryKind = Field(description="Why it is out of line")
    about: Why = Field(description="What is out of line, in words")
    suspected: Told = Field(description="What may be the reason")
    task_id: UUID | None = Field(default=None, description="Task that it is about")
    setup_a_id: UUID | None = Field(default=None, description="Setup that it is about")
    setup_b_id: UUID | None = Field(default=None, description="Second setup that it is about")
    outcome: Told | None = Field(
        default=None, description="Why it is left as it is; closes it at once, all runs count"
    )


Attached = Annotated[list[UUID], Field(max_length=200)]


class NewStep(Request):
    """A step of an inquiry: suspected, changed, tried again, what came out, or opened again."""

    version: Version
    kind: StepKind = Field(description="What was done")
    words: Told | None = Field(
        default=None, description="In words; may be left out of what is tried again"
    )
    counts: CountedRuns | None = Field(
        default=None, description="Which runs count; with what came out, closes the inquiry"
    )
    run_ids: Attached = Field(default_factory=list, description="Runs that belong to it")
    trial_ids: Attached = Field(
        default_factory=list, description="Trials of the log that belong to it"
    )
    trouble_ids: Attached = Field(
        default_factory=list, description="Troubles of the log that belong to it"
    )


class NewPublishedFigure(Request):
    """A figure that somebody else published."""

    task_id: UUID | None = Field(default=None, description="Task; the mix where it is left out")
    setup_a_id: UUID = Field(description="Setup that it is about")
    setup_b_id: UUID | None = Field(default=None, description="Setup that it is compared with")
    kind: FigureKind = Field(
        description="As what it was published; value is a time in seconds or an amount"
    )
    value: Annotated[float, Field(gt=0, lt=1e12, allow_inf_nan=False)] = Field(
        description="The published figure"
    )
    source: LongName = Field(description="Who published it, and when")


class BringEarlier(Request):
    """Tasks of an earlier shootout whose runs are brought in."""

    slug: Annotated[str, StringConstraints(max_length=80)] = Field(
        description="Address of the earlier shootout"
    )
    task_ids: Annotated[list[UUID], Field(min_length=1, max_length=500)] = Field(
        description="Tasks of that shootout"
    )


class MergeRounds(Request):
    """Two rounds that are one."""

    from_id: UUID = Field(description="Round whose runs are moved")
    into_id: UUID = Field(description="Round that they are moved into")


class NewPlan(Request):
    """A plan to freeze: tasks, setups, runs and settings as they stand."""

    words: Told | None = Field(
        default=None, description="What would count as a difference, in the reviewer's words"
    )
