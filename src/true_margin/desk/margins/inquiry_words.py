"""What is printed of an inquiry wherever the result that it is about is used."""

from __future__ import annotations

from true_margin.core.wording import count_of
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
