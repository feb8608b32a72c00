"""Margins: the ladder, pairs, rounds, fairness, and what lies beside the figures."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Query, Request

from true_margin.app.answers.margins import (
    FairnessView,
    FigureView,
    InquiryView,
    Judgement,
    OutOfLine,
    Overrule,
    PairView,
    PublishedFigure,
    SameWork,
)
from true_margin.app.answers.runs import RunsChanged
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person
from true_margin.app.margin_requests import (
    BringEarlier,
    MergeRounds,
    NewInquiry,
    NewJudgement,
    NewOverrule,
    NewPlan,
    NewPublishedFigure,
    NewStep,
)
from true_margin.app.rights import must_see
from true_margin.app.run_requests import Withdrawal
from true_margin.desk.margins import (
    all_pairs,
    before_data,
    fairness,
    figures,
    inquiries,
    judgements,
    margins,
    out_of_line,
    pairs,
    plans,
    published,
    race,
    rounds_view,
    same_work,
    spec_scatter,
)
from true_margin.desk.runs import changes as run_changes
from true_margin.desk.runs import earlier
from true_margin.store import records

router = stage_router("margins")
Chosen = Annotated[
    tuple[UUID, ...], Query(max_length=64, description="Ids of runs that stand for their setups")
]
TaskKey = Annotated[
    str | None, Query(max_length=40, description="Id of a task, or 'mix'; the first with runs")
]


@router.get("/shootouts/{slug}/margins")
def show_ladder(slug: str, database: DatabaseHere, task: TaskKey = None) -> margins.LadderView:
    """Show the ladder of a task or of the equal mix."""
    return margins.show_ladder(database, slug, task)


@router.get("/shootouts/{slug}/margins/pair", response_model=PairView)
def show_pair(
    slug: str, database: DatabaseHere, a: UUID, b: UUID, task: TaskKey = "mix"
) -> pairs.PairView:
    """Show one pair in every way that it can be said."""
    return pairs.show_pair(database, slug, task or "mix", a, b)


@router.post("/tasks/{task_id}/overrules", status_code=201, response_model=Overrule)
def overrule(
    task_id: UUID, body: NewOverrule, database: DatabaseHere, who: Person
) -> records.Overrule:
    """Overrule what breaks a pair on a task, with a reason."""
    return fairness.overrule(database, task_id, (body.a, body.b), body.reason, who)


@router.post("/overrules/{overrule_id}/withdrawal", response_model=Overrule)
def withdraw(overrule_id: UUID, database: DatabaseHere, who: Person) -> records.Overrule:
    """Withdraw an overrule; it stays on record."""
    return fairness.withdraw(database, overrule_id, who)


@router.post("/tasks/{task_id}/judgements", status_code=201, response_model=Judgement)
def judge(
    task_id: UUID, body: NewJudgement, database: DatabaseHere, who: Person
) -> records.Judgement:
    """Keep a person's word on whether it was the same work."""
    return judgements.judge(database, task_id, body.model_dump(), who)


@router.post("/judgements/{judgement_id}/withdrawal", response_model=Judgement)
def withdraw_judgement(
    judgement_id: UUID, body: Withdrawal, database: DatabaseHere
) -> records.Judgement:
    """Say that a person's word counts no more; it stays on record."""
    return judgements.withdraw(database, judgement_id, body.why)


@router.get("/shootouts/{slug}/margins/race")
def show_race(
    slug: str, database: DatabaseHere, task: TaskKey = None, run: Chosen = ()
) -> race.RaceView:
    """Replay one run of each setup side by side, from the marks noted on the way."""
    return race.show_race(database, slug, task, run)


@router.get("/shootouts/{slug}/margins/open")
def count_open(slug: str, database: DatabaseHere) -> list[margins.OpenCalls]:
    """Count the open calls of every task."""
    return list(margins.count_open(database, slug))


@router.get("/shootouts/{slug}/margins/pairs")
def show_all_pairs(slug: str, database: DatabaseHere, task: TaskKey = None) -> all_pairs.AllPairs:
    """Show the call of every pair, fastest setup first."""
    return all_pairs.show_all_pairs(database, slug, task)


@router.get("/shootouts/{slug}/margins/rounds")
def show_rounds(slug: str, database: DatabaseHere) -> rounds_view.RoundsView:
    """Show what each update did, and which machines say so."""
    return rounds_view.show_rounds(database, slug)


@router.post("/shootouts/{slug}/rounds/merge", response_model=RunsChanged)
def merge_rounds(
    slug: str, body: MergeRounds, database: DatabaseHere, who: Person
) -> run_changes.RunsChanged:
    """Move all runs of a round into another; each keeps in its history where it was."""
    return run_changes.merge_rounds(database, slug, body.from_id, body.into_id, who)


@router.get("/shootouts/{slug}/margins/fairness", response_model=FairnessView)
def show_fairness(slug: str, database: DatabaseHere, task: TaskKey = None) -> fairness.FairnessView:
    """Show what differed from the baseline besides speed."""
    return fairness.show_fairness(database, slug, task)


@router.get("/shootouts/{slug}/margins/figures", response_model=FigureView)
def show_figures(
    slug: str, database: DatabaseHere, setup: UUID, task: TaskKey = None
) -> figures.FigureView:
    """Show how the figures of one setup come about."""
    return figures.show_figures(database, slug, task, setup)


@router.get("/shootouts/{slug}/margins/spec")
def show_scatter(
    slug: str,
    database: DatabaseHere,
    task: TaskKey = None,
    field: Annotated[str | None, Query(max_length=60, description="Row of the spec sheet")] = None,
) -> spec_scatter.SpecScatter:
    """Set speed against one spec."""
    return spec_scatter.show_scatter(database, slug, task, field)


@router.get("/shootouts/{slug}/margins/same-work", response_model=list[SameWork])
def show_same_work(
    slug: str, database: DatabaseHere, task: TaskKey = None
) -> list[same_work.SameWork]:
    """Show each setup in two apps, or in two settings, on the same work."""
    return list(same_work.show_same_work(database, slug, task))


@router.get("/shootouts/{slug}/margins/plan")
def plan_before_data(
    slug: str,
    database: DatabaseHere,
    difference: Annotated[
        float, Query(gt=0, le=10, description="Ratio of speeds less 1 that is to be settled")
    ] = 0.05,
    minutes: Annotated[
        float | None,
        Query(gt=0, le=100_000, description="Minutes of one run where a task has none yet"),
    ] = None,
) -> before_data.Plan:
    """Count the runs and hours that settling a stated difference costs."""
    return before_data.plan_before_data(database, slug, difference, minutes)


@router.get("/shootouts/{slug}/out-of-line", response_model=OutOfLine)
def show_out_of_line(slug: str, database: DatabaseHere) -> out_of_line.OutOfLine:
    """List what looks wrong by the figures, and all inquiries."""
    return out_of_line.show_out_of_line(database, slug)


@router.post("/shootouts/{slug}/inquiries", status_code=201, response_model=InquiryView)
def open_inquiry(
    slug: str, body: NewInquiry, database: DatabaseHere, who: Person
) -> inquiries.InquiryView:
    """Open an inquiry."""
    return inquiries.open_inquiry(database, slug, body.model_dump(), who)


@router.post("/inquiries/{inquiry_id}/steps", status_code=201, response_model=InquiryView)
def add_step(
    inquiry_id: UUID, body: NewStep, database: DatabaseHere, who: Person
) -> inquiries.InquiryView:
    """Note what was suspected, changed, tried again or came out; say which runs count."""
    step = body.model_dump(exclude={"version"})
    return inquiries.add_step(database, inquiry_id, body.version, step, who)


@router.post("/shootouts/{slug}/published", status_code=201, response_model=PublishedFigure)
def note_published(
    slug: str, body: NewPublishedFigure, database: DatabaseHere, who: Person
) -> records.PublishedFigure:
    """Note a figure published elsewhere, to set beside ours."""
    return published.note_published(database, slug, body.model_dump(), who)


@router.post("/published/{figure_id}/withdrawal", response_model=PublishedFigure)
def withdraw_published(figure_id: UUID, database: DatabaseHere) -> records.PublishedFigure:
    """Withdraw a published figure; it stays on record."""
    return published.withdraw_published(database, figure_id)


@router.get("/shootouts/{slug}/earlier/{other}")
def preview_earlier(slug: str, other: str, database: DatabaseHere) -> earlier.EarlierPreview:
    """Say what an earlier shootout would bring in."""
    return earlier.preview_earlier(database, slug, other)


@router.post("/shootouts/{slug}/earlier", status_code=201)
def bring_earlier(
    slug: str, body: BringEarlier, request: Request, database: DatabaseHere
) -> earlier.BroughtIn:
    """Bring the runs of an earlier shootout in, as earlier rounds."""
    must_see(request, body.slug)
    return earlier.bring_in(database, slug, body.slug, body.task_ids)


@router.get("/shootouts/{slug}/frozen-plan")
def show_frozen_plan(slug: str, database: DatabaseHere) -> plans.PlanView:
    """Show what was planned before the first run, and what was done otherwise."""
    return plans.show_plan(database, slug)


@router.post("/shootouts/{slug}/frozen-plan", status_code=201)
def freeze_plan(slug: str, body: NewPlan, database: DatabaseHere, who: Person) -> plans.PlanView:
    """Freeze the plan as the shootout stands; refused once a run was made."""
    return plans.freeze_plan(database, slug, body.words, who)
