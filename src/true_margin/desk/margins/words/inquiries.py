"""What is printed of an inquiry wherever its result is used, and of the runs it rests on."""

from __future__ import annotations

from true_margin.core.numerals import short
from true_margin.core.wording import BOUND_WORD, count_of, format_elapsed
from true_margin.store import records

COUNTS = {
    "before": "the first runs count",
    "again": "the reruns count",
    "both": "both count",
    "none": "none of them counts",
}


def step_line(step: records.InquiryStep) -> str:
    """One step in a line: when, what was done, in whose words."""
    attached = len(step.run_ids) + len(step.trial_ids) + len(step.trouble_ids)
    words = step.words or (f"{attached} attached" if attached else "")
    counts = f"; {COUNTS[step.counts]}" if step.counts else ""
    return f"{step.noted_at:%Y-%m-%d}, {step.kind}: {words}{counts}"


def inquiry_line(inquiry: records.Inquiry) -> str:
    """Say in one line what was looked into, what came out, and which runs count."""
    again = len(inquiry.run_ids)
    tried = f" Rerun {count_of(again, 'time')}" if again else ""
    suspected = inquiry.suspected.rstrip(".")
    if inquiry.closed_at is None:
        return f"Checking: {suspected}.{tried and f'{tried}.'} Not settled yet."
    outcome = (inquiry.outcome or "").rstrip(".")
    counts = COUNTS[inquiry.counts or "both"]
    return (
        f"Checked: {suspected}.{tried or ' Outcome'}: {outcome}. {counts[0].upper()}{counts[1:]}."
    )


def say_run(setup: str, task: records.Task, run: records.Run) -> str:
    """A run that is attached to a step: of which setup on which task, its value, how it ended."""
    if run.value is None:
        return f"{setup}, {task.name}: {run.status}"
    state = "" if run.status == "ok" else f" ({run.status})"
    return f"{setup}, {task.name}: {_value(run.value, run, task)}{state}"


def say_value(run: records.Run, task: records.Task) -> str:
    """A run's value as its task measures it, with what is said of how well it is known."""
    if run.value is None:
        return "no value"
    if task.measure == "amount":
        return _value(run.value, run, task)
    sign = f"{BOUND_WORD[run.bound]} " if run.bound else ("about " if run.approximate else "")
    return f"{sign}{_value(run.value, run, task)}"


def _value(value: float, run: records.Run, task: records.Task) -> str:
    if task.measure == "amount":
        return f"{short(value)} {task.unit or ''}".strip()
    return format_elapsed(value, run.resolution or 1.0)
