"""The words of the job, each with what it means and what the code calls it.

The one source of ``docs/glossary.md`` and of the words behind "?" in the app (``make types``).
"""

from __future__ import annotations

from typing import NamedTuple


class Term(NamedTuple):
    """A word as it stands on the screen, its meaning, and its name in the code."""

    word: str
    meaning: str
    code: str


GLOSSARY = (
    Term("shootout", "one comparison, with its machines, tasks, runs and verdicts", "Shootout"),
    Term("on trial", "what a shootout compares: machine, memory, app, setting …", "Subject"),
    Term("machine", "a computer with its specs and prices", "Machine"),
    Term("setup", "a machine in one tested state; runs and results belong to setups", "Setup"),
    Term("timeline", "the edited project that is exported", "Edit"),
    Term("task", "what is timed: an operation on a timeline in an app, with settings", "Task"),
    Term("work", "how much a task does, in a unit, so that speed has a meaning", "work"),
    Term("round", "bench time with app versions held; an update begins a new one", "Round"),
    Term("run", "one attempt: ok, void (with a reason, kept) or failed", "Run"),
    Term("mark", "a reading inside a run: how far, how hot, how loud, how much power", "Mark"),
    Term("lane", "one running or ready clock on the bench", "Lane"),
    Term("spread", "how much runs of one setup differ, in per cent", "Spread"),
    Term("bridge", "a setup measured in two rounds, which ties them together", "Bridge"),
    Term("baseline", "the setup that reads 1.00×", "baseline"),
    Term("margin", "how many times as fast one setup is as another, with its interval", "Margin"),
    Term("confidence", "how often an interval holds the truth: 95 % unless set", "confidence"),
    Term("matters from", "the smallest difference worth telling a viewer", "materiality"),
    Term("clear", "surely faster, by more than what matters", "Call.CLEAR"),
    Term("ahead", "surely faster; whether by what matters is not known", "Call.AHEAD"),
    Term("level", "surely no further apart than what matters", "Call.LEVEL"),
    Term("open", "not known yet: more runs may tell", "Call.OPEN"),
    Term("ladder", "setups by speed, each with the ranks that it may have", "Rung"),
    Term("mix", "weights over tasks: how a viewer's work is shared among them", "mix"),
    Term("frontier", "what no other beats on price and speed at once", "undominated"),
    Term("flip price", "the price at which another machine becomes the pick", "Flip"),
    Term("payback", "when the time saved has paid for the machine", "Payback"),
    Term("fairness", "whether two setups were given the same job, alike", "parity"),
    Term("claim", "a sentence that says something of the results, checked", "Claim"),
    Term("card", "a picture for a film or a page", "Card"),
    Term("data pack", "the whole shootout as open tables with a schema", "Pack"),
    Term("edition", "a published copy of a shootout that never changes", "Edition"),
)
