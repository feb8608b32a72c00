"""What around a sentence, or beside its claim, keeps it from a sure verdict.

A reviewer takes *holds* for approval: where the sentence before names the task, where the one
after takes something back, or where half a claim hides behind a cause, nothing is judged.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.core.claims.names import NamedThing, Names

_TAKEN_BACK = re.compile(
    r"^(?:[,;–—-] ?)?(?:but |well, |and )?(?:not|except|only|unless|without|if|when|as long as|"
    r"provided|just kidding|wrong|nope|no,|no\.|no$|i wish|i was wrong|actually no|scratch that|"
    r"that is not true|that's not true|at least not)\b",
    re.IGNORECASE,
)
_GOES_ON = re.compile(
    r"\b(?:that|if|when|unless|only|whether|wrong|not|never|claims?|claimed|says?|said|say|until|"
    r"because|once|while|although|though|would|might|could)\s*[,:]?\s*$"
    r"|\b(?:wrong|never|not true)\b",
    re.IGNORECASE,
)
_STOP = re.compile(r"[.!?:…][\"'”»)]*\s*$")
_HEADING = re.compile(r"^\s*#{1,6}\s|^\s*\*\*.+\*\*\s*$")
_ANSWERED = re.compile(
    r"^(?:wrong|nope|no\b|yes\b|i wish|not\b|right\b|exactly|sure\b|true\b|false\b)", re.IGNORECASE
)
_SECOND_CLAIM = re.compile(
    r"‹[STG]\d+›|%|\b(?:faster|slower|quicker|twice|half|times|beats?|wins?|fixed|no longer|"
    r"last (?:year|week|month)|since)\b"
)
TOPIC_HOLDS = 3
"""For so many sentences the task that was announced is taken to be meant."""


@dataclass(frozen=True, slots=True)
class Around:
    """What stands around a sentence; empty where nothing does.

    Attributes:
        before, after: the sentences before and after.
        topic: tasks that were announced shortly before, by a heading or a sentence without a
            setup; empty for none.
        named: setups that the sentence before names, else the last one that names any.
        last_task: tasks that were named last before it.
    """

    before: str = ""
    after: str = ""
    topic: tuple[int, ...] = ()
    named: tuple[NamedThing, ...] = ()
    last_task: tuple[int, ...] = ()


ALONE = Around()


def around_each(names: Names, sentences: Sequence[str]) -> list[Around]:
    """What stands around each sentence of a script, in their order."""
    found = []
    topic: tuple[int, ...] = ()
    left = 0
    named: tuple[NamedThing, ...] = ()
    last_task: tuple[int, ...] = ()
    for at, text in enumerate(sentences):
        before = sentences[at - 1] if at else ""
        after = sentences[at + 1] if at + 1 < len(sentences) else ""
        found.append(Around(before, after, topic if left > 0 else (), named, last_task))
        left -= 1
        marked, signs = names.mark(text)
        tasks = re.findall(r"‹T(\d+)›", marked)
        if _HEADING.match(text):
            topic, left, named = (), 0, ()
        if tasks and not re.search(r"‹[SG]\d+›", marked):
            topic = tuple(sorted({task for place in tasks for task in signs[int(place)].which}))
            left = TOPIC_HOLDS
        named = tuple(sign for sign in signs if sign.kind == "S") or named
        last_task = next((sign.which for sign in signs if sign.kind == "T"), last_task)
    return found


def is_question(text: str) -> bool:
    """Whether a sentence asks instead of claiming."""
    return text.strip().rstrip("\"'”»)").endswith("?")


def why_answered(around: Around) -> str | None:
    """Why a question is more than one: the next sentence answers it. None where it does not."""
    if not _ANSWERED.match(around.after.strip()):
        return None
    return "A question with its answer: say it in one sentence, as a statement."


def why_unsure(text: str, around: Around) -> str | None:
    """Why the sentences around keep a sentence from a sure verdict; None where they do not."""
    before = around.before.strip()
    if _TAKEN_BACK.match(around.after.strip()):
        return "What comes after it takes something back: say it in one sentence."
    goes_on = bool(before) and not _STOP.search(before) and text.strip()[:1].islower()
    if goes_on and _GOES_ON.search(before):
        return "It goes on from what stands before it: write the whole sentence on one line."
    return None


def hides_a_claim(cause: str) -> bool:
    """Whether what is said as a cause holds another claim, or a condition."""
    return _SECOND_CLAIM.search(cause) is not None
