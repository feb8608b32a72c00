"""Questions that a first evening raises, each with its answer in the words of the app.

The one source of their page in the docs and of the help behind "?" (``make types``).
"""

from __future__ import annotations

from typing import NamedTuple


class Question(NamedTuple):
    """A question as somebody would ask it, and its answer."""

    question: str
    answer: str


QUESTIONS = (
    Question(
        "How many runs do I need?",
        "Two show whether a time repeats; three give an interval that is worth reading. After "
        "that, run what Next names: it is the run most likely to settle something. “How many runs "
        "do I need?” under a ranking works it out from how much your own runs vary.",
    ),
    Question(
        "A run was interrupted. Do I delete it?",
        "Nothing is ever deleted. Choose “Don’t count it” (V on the bench) and say why: it stays "
        "in Runs, struck through, and no figure uses it.",
    ),
    Question(
        "An export crashed. Does it count?",
        "Note it as failed (F on the bench), with a reason. It has no time, so it is in no "
        "average, but it is an attempt: the ranking says that 4 of 5 attempts completed.",
    ),
    Question(
        "One is faster. Why is it “too close to call”?",
        "Runs of the same machine vary too. As long as the interval reaches from slower to "
        "faster, another evening could turn it round. More runs make the interval shorter.",
    ),
    Question(
        "Why is a sure difference called “equally fast”?",
        "Because it is smaller than what you chose to ignore, at the top of the page. 3 % of ten "
        "minutes is 18 seconds: choose what your viewers would notice.",
    ),
    Question(
        "The app was updated half-way. Start again?",
        "No. Open a round in Tasks and time two machines or more in it. They show what the update "
        "changed, and the older times are carried over, marked ↻ and with a wider interval.",
    ),
    Question(
        "My machines differ in more than one thing. Is that fair?",
        "Say in the settings of the line-up what you compare; that may differ. “Fair test?” lists "
        "the rest: what could change the times is a caveat, and another job is not comparable.",
    ),
    Question(
        "I have times on paper, or in a spreadsheet.",
        "Type them into the line in Runs, as in: Alder, photos, 8:46. A table can be pasted there "
        "as it is; what was read is shown first, and nothing is stored before you say so.",
    ),
    Question(
        "May I say “twice as fast”?",
        "Paste the script into Publish. Each sentence that compares is held against the runs: it "
        "holds, says too much or too little, or the runs show no clear difference. Beside it "
        "stands a line that you can say.",
    ),
    Question(
        "Which machine do I recommend?",
        "Describe a viewer in Picks: what they edit in a week, what their hour is worth, the "
        "budget, the machine they have. The answer says what to buy or keep, and what would "
        "change it.",
    ),
    Question(
        "Can I lose my work?",
        "Every press is kept at once, also while the network is away. There is a backup a day "
        "beside the data, and a data pack (Publish) holds everything in open tables.",
    ),
)
