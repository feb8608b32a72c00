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
    Term("shootout", "One comparison: its machines, tasks, runs and results.", "Shootout"),
    Term(
        "comparing", "What a shootout compares: whole machines, memory, apps, settings …", "Subject"
    ),
    Term("machine", "A computer you test, with its specs and prices.", "Machine"),
    Term(
        "setup",
        "A machine as tested: stock or overclocked, plugged in or on battery. It has the runs.",
        "Setup",
    ),
    Term(
        "model", "What several machines may be samples of; a recommendation is of a model.", "model"
    ),
    Term(
        "task",
        "One job timed on every machine: a project, an app, an operation, its settings.",
        "Task",
    ),
    Term(
        "standing task",
        "A task kept unchanged over several shootouts, so that machines of years compare.",
        "RoomTask",
    ),
    Term(
        "store room",
        "Machines and standing tasks that outlive one shootout, and what new ones begin with.",
        "Room",
    ),
    Term("timeline", "The edited project that is exported.", "Edit"),
    Term(
        "run",
        "One attempt at a task. It counts, does not count, or failed. Nothing is deleted.",
        "Run",
    ),
    Term("not counted", "Kept, but left out of every figure, with a reason.", "void"),
    Term(
        "round", "Runs made with the same app versions. Start a new one after an update.", "Round"
    ),
    Term("session", "Runs made in one go, on the same day at the same bench.", "Sitting"),
    Term("timer", "One clock on the bench, ready or running.", "Lane"),
    Term("mark", "A reading during a run: how far, how hot, how loud, how much power.", "Mark"),
    Term(
        "how it was timed",
        "By hand, from the log, from a recording, or from memory.",
        "ReadingMethod",
    ),
    Term("runs vary by", "The usual difference between two runs of the same thing.", "Spread"),
    Term("baseline", "The setup that all others are compared with; it reads 1.00×.", "baseline"),
    Term("times as fast", "Other time ÷ this time. 2 times as fast = half the time.", "ratio"),
    Term(
        "% faster", "100 × (times as fast − 1). 2 times as fast = 100 % faster.", "percent_faster"
    ),
    Term(
        "% less time",
        "Time saved as a share of the slower time. 2 times as fast = 50 % less time.",
        "percent_less_time",
    ),
    Term(
        "% slower",
        "Extra time as a share of the faster time. Not the reverse of “% faster”.",
        "percent_slower",
    ),
    Term(
        "confidence",
        "How sure the intervals are. At 95 %, about 19 in 20 contain the true value.",
        "confidence",
    ),
    Term(
        "95 % interval",
        "The range in which the true value very likely lies, given the runs. The bar shows it.",
        "interval",
    ),
    Term(
        "ignore under",
        "Differences smaller than this are treated as no difference; the shaded area.",
        "materiality",
    ),
    Term("result", "What two setups come out as: clear, ahead, same speed or undecided.", "Call"),
    Term(
        "clear", "The whole interval is beyond the smallest difference that counts.", "Call.CLEAR"
    ),
    Term("ahead", "Faster for sure, but perhaps by less than counts.", "Call.AHEAD"),
    Term(
        "same speed",
        "The whole interval is within the smallest difference that counts.",
        "Call.LEVEL",
    ),
    Term("undecided", "The runs do not tell yet.", "Call.OPEN"),
    Term("ranking", "Fastest first; a bracket joins ranks that cannot be separated.", "Rung"),
    Term(
        "estimated ↻",
        "Not run again since an update: taken from an earlier round, with extra uncertainty.",
        "carried",
    ),
    Term("link", "A machine tested before and after an update; it links two rounds.", "Bridge"),
    Term("fair test", "Whether two machines did the same job under the same conditions.", "parity"),
    Term(
        "caveat",
        "Something differed that could affect the times; the result stands, with a note.",
        "Weight.CONFOUNDS",
    ),
    Term(
        "not comparable",
        "The two did not do the same job, or no machine links their rounds.",
        "Weight.BREAKS",
    ),
    Term("expected difference", "Part of what is being compared.", "Weight.ALLOWED"),
    Term("odd result", "A result that does not fit the others.", "Finding"),
    Term("follow-up", "What was odd, what you checked, what came out.", "Inquiry"),
    Term("rough timing", "A time that is known less well than the runs differ.", "Check.COARSE"),
    Term("mix", "A viewer's tasks, weighted.", "mix"),
    Term(
        "viewer",
        "A kind of person you recommend for: their work, budget and current machine.",
        "Viewer",
    ),
    Term("pick", "The machine recommended for a viewer.", "Picked"),
    Term("unbeaten on price and speed", "Nothing else is both cheaper and faster.", "undominated"),
    Term("would win below", "The price at which another machine becomes the pick.", "Flip"),
    Term("payback", "How long until the time saved has paid for the machine.", "Payback"),
    Term(
        "claimed speed",
        "What somebody says of a machine; never used as a measurement.",
        "assumed_ratio",
    ),
    Term(
        "claim",
        "A sentence in your script that compares something; it is checked against the runs.",
        "Claim",
    ),
    Term("holds", "The runs support the sentence.", "Verdict.HOLDS"),
    Term("overstated", "The sentence says more than the runs do.", "Verdict.OVERSTATED"),
    Term("understated", "The sentence says less than the runs do.", "Verdict.UNDERSTATED"),
    Term("not the same", "It calls two the same, and one is clearly faster.", "Checked.shown"),
    Term("no clear difference", "The runs do not part what the sentence parts.", "Verdict.NOISE"),
    Term("card", "A picture for the video or a page.", "Card"),
    Term(
        "edition", "A numbered, read-only copy of the shootout that strangers can read.", "Edition"
    ),
    Term("data pack", "Everything in the shootout as open CSV tables in one .zip.", "Pack"),
)
