"""Fairness, pairs, inquiries and figures that were published, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.app.answers.runs import Run
from true_margin.desk.margins.fairness import FairnessLine
from true_margin.desk.margins.inquiries import StepView
from true_margin.desk.margins.out_of_line import FindingView, RunAgain
from true_margin.desk.margins.pairs import NotedLine, WayToSay
from true_margin.desk.margins.same_work import FixedCostLine, SameWorkRow
from true_margin.desk.margins.words.figures import Working


class Overrule(Answer):
    """A person's word that two setups were given the same job on a task after all."""

    id: UUID
    task_id: UUID
    setup_a_id: UUID
    setup_b_id: UUID
    reason: str
    who: str
    made_at: datetime
    withdrawn_at: datetime | None
    withdrawn_by: str | None = None


class Judgement(Answer):
    """A person's word on whether it was the same work.

    Of a setup on a task (``part`` says of what), of two setups on a task, or of two tasks.
    """

    id: UUID
    task_id: UUID
    other_task_id: UUID | None
    setup_id: UUID | None
    other_setup_id: UUID | None
    judged_as: str
    part: str | None
    reason: str | None
    who: str
    noted_at: datetime
    withdrawn_at: datetime | None
    withdrawn_why: str | None


class SameWork(Answer):
    """Two tasks that hold the same work, on every setup that did both.

    ``doubt`` says what a person has to say against it, with ``judgement``; where it is not the
    same work at all there are no rows.
    """

    one_key: str
    one: str
    other_key: str
    other: str
    differs: str
    rows: tuple[SameWorkRow, ...]
    doubt: str | None
    judgement: Judgement | None


class BrokenPair(Answer):
    """A pair that was not given the same job on a task, with a person's word on it if any."""

    task_key: str
    task: str
    a_id: UUID
    a: str
    b_id: UUID
    b: str
    conditions: tuple[str, ...]
    overrule: Overrule | None


class FairCell(Answer):
    """One condition of one setup: same, unknown, or what its difference weighs."""

    setup_id: UUID
    state: str
    words: str
    full: str


class FairRow(Answer):
    """One condition over all setups; ``base`` is the baseline's own value."""

    title: str
    job: bool
    base: str
    cells: tuple[FairCell, ...]


class FairMatrix(Answer):
    """The matrix: its columns after the baseline, its rows, and the verdict above it."""

    verdict: str
    because: tuple[str, ...]
    setup_ids: tuple[UUID, ...]
    labels: tuple[str, ...]
    rows: tuple[FairRow, ...]


class FairnessView(Answer):
    """What differed between setups besides speed, over a task or everything."""

    baseline: str | None
    broken: tuple[BrokenPair, ...]
    lines: tuple[FairnessLine, ...]
    allowed: tuple[FairnessLine, ...]
    known: tuple[str, ...]
    matrix: FairMatrix | None


class FigureView(Answer):
    """Every figure of one setup on a task or the mix, with the runs behind them."""

    key: str
    title: str
    setup_id: UUID
    label: str
    workings: tuple[Working, ...]
    measure: str | None
    runs: tuple[Run, ...]


class Inquiry(Answer):
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


class InquiryView(Answer):
    """An inquiry with its steps and runs, and what it comes to in one line."""

    inquiry: Inquiry
    task: str | None
    setups: tuple[str, ...]
    runs: tuple[Run, ...]
    steps: tuple[StepView, ...]
    line: str


class OutOfLine(Answer):
    """What looks wrong, the most first, and every inquiry.

    ``summary`` counts those that nobody settled; ``advice`` says where to begin, and ``again``
    what to run for that.
    """

    summary: str
    advice: str
    again: RunAgain | None
    findings: tuple[FindingView, ...]
    inquiries: tuple[InquiryView, ...]


class ParityLine(Answer):
    """One condition that differs; ``weight`` says whether it is allowed, confounds or breaks.

    ``tasks`` names where it differs, on a mix; ``overrule`` is a person's word on a break,
    ``judgement`` the one that says so itself.
    """

    condition: str
    here: str
    there: str
    weight: str
    why: str
    tasks: tuple[str, ...]
    overrule: Overrule | None
    judgement: Judgement | None


class PublishedFigure(Answer):
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


class PublishedView(Answer):
    """A published figure with its verdict in words; ``inside`` is None where ours is missing."""

    figure: PublishedFigure
    inside: bool | None
    words: str


class PairView(Answer):
    """One pair on one task or the mix, seen from the faster side."""

    key: str
    title: str
    measure: str
    a_id: UUID
    a: str
    b_id: UUID
    b: str
    call: str
    sentence: str
    ratio: float | None
    lo: float | None
    hi: float | None
    se: float | None
    df: float | None
    ways: tuple[WayToSay, ...]
    handicap: float | None
    behind: tuple[str, ...]
    settle: str | None
    parity: tuple[ParityLine, ...]
    runs: tuple[Run, ...]
    formula: tuple[str, ...]
    published: tuple[PublishedView, ...]
    inquiries: tuple[InquiryView, ...]
    fixed_cost: tuple[FixedCostLine, ...]
    noted: tuple[NotedLine, ...]
    seen: tuple[str, ...]
    proof: str
