"""A sentence becomes a claim, or what kept it from being read."""

from __future__ import annotations

import re
from dataclasses import replace

from true_margin.core.claims.context import (
    ALONE,
    Around,
    hides_a_claim,
    is_question,
    why_answered,
    why_unsure,
)
from true_margin.core.claims.forms import OF_PRICES, Claim, Form, Several, Unread
from true_margin.core.claims.names import NamedThing, Names, mark_unknown
from true_margin.core.claims.notice import NOTICED, notices
from true_margin.core.claims.numbers import DURATION
from true_margin.core.claims.parts import parts_of
from true_margin.core.claims.patterns import match_form
from true_margin.core.claims.rewrite import plain_words, take_denial

_CLAIMING = re.compile(
    r"faster|quicker|slower|as (?:fast|quick|long)|the speed of|fastest|quickest|slowest|\bbeats?\b"
    r"|\bloses? to\b|outruns|outperforms|\blevel\b|the same|\btied?\b|\bequal|\bmatch(?:es)?\b"
    r"|no difference|too close to call|not enough runs|better value|best value|for the money"
    r"|real ?time|of the time|less time|more time|\bsaves?\b|\bwins?\b"
    r"|\bfinish(?:es)? (?:.*)(?:before|after)"
    r"|half the time|\d ?% (?:better|worse)|\btimes as\b"
)
LONGEST = 400
"""Signs of the longest sentence that is read."""
_PLAINLY = ("faster", "quicker", "slower", "times as", "better value", "% less time")
_CAUSE = re.compile(r",? (?:because(?: of)?|thanks to|due to|owing to) (?P<cause>.+)$")
_ASIDE = re.compile(
    r",? ?(?:perhaps by less than [\d.,]+ ?%|\(within [\d.,]+ ?%\)|\(\d+ runs?(?: each)?\))"
)
"""What the app's own sentences add to a comparison; it changes nothing of what is compared."""
_EVERY = re.compile(
    r",? (?:(?:in|on|at) (?:every|each|all)(?: one)?(?: of)?(?: single| the| our)?"
    r"(?: (?:two|three|four|five|six|seven|eight|nine|ten|\d+))? "
    r"(?:tasks?|tests?|jobs?|exports?)|everywhere|across the board"
    r"|whatever you (?:throw at it|do|export|feed it)|no matter what"
    r"(?: you (?:throw at it|do|export|feed it))?|every single time)(?= |$)"
)
_ANY = re.compile(r",? (?:on|in|at) (?:anything|any (?:single )?(?:task|test|job)s?)(?= |$)")
"""With a denial: in none of them."""
_ON = re.compile(r",? ?(?:\b(?:on|in|at|for|with|during) )?(?:the )?‹T(\d+)›,?")
_AND = re.compile(r",? ?(?:and )?(?:on )?(?:the )?‹T(\d+)›")


def read_claim(text: str, names: Names, around: Around = ALONE) -> Claim | Several | Unread | None:
    """Read one sentence.

    Args:
        text: the sentence.
        names: what may be named in it.
        around: what stands before and after it.

    Returns:
        The claim; what was not read; or None where the sentence claims nothing of this kind.
    """
    plain = _plain_text(text)
    if len(plain) > LONGEST:
        small = plain.casefold()
        claims = any(word in small for word in _PLAINLY)
        return (
            Unread("This sentence is too long to be read: say one thing at a time.")
            if claims
            else None
        )
    small, signs = _signed(plain, names)
    if not _claims(small):
        return None
    if is_question(text):
        answered = why_answered(around)
        return None if answered is None else Unread(answered, asked=True, doubted=True)
    return _doubt(small, signs, text, around) or _read_all(small, signs, names, around)


def _plain_text(text: str) -> str:
    plain = re.sub(r"[\s\u00a0\u202f]+", " ", text.strip().strip("\"'“”„*-–• ").rstrip(".!?… "))
    # These stand for names further on.
    return plain.replace("‹", "").replace("›", "")


def signed_text(text: str, names: Names) -> tuple[str, list[NamedThing]]:
    """A sentence in small letters with a sign for each name, and what the signs stand for."""
    return _signed(_plain_text(text)[:LONGEST], names)


def read_marked(small: str, signs: list[NamedThing], names: Names) -> Claim | Several | Unread:
    """Read a sentence whose names are signs, by itself."""
    return _read_all(small, signs, names, ALONE)


def _read_all(
    small: str, signs: list[NamedThing], names: Names, around: Around
) -> Claim | Several | Unread:
    """Read what a sentence claims: one thing, or several that are said in one."""
    small = plain_words(_SAME_TASK.sub("the ", small))
    cause = _CAUSE.search(small)
    if cause is not None and hides_a_claim(cause["cause"]):
        return Unread("What is said after the cause is a claim too: say it in its own sentence.")
    small = _ASIDE.sub("", _CAUSE.sub("", small))
    whole = _read_one(small, signs, names, around)
    if isinstance(whole, Claim):
        return replace(whole, cause=None if cause is None else cause["cause"])
    parts = parts_of(small)
    if whole.asked or len(parts) == 1:
        return whole
    found = [_read_one(part, signs, names, around) for part in parts]
    unread = next((each for each in found if isinstance(each, Unread)), None)
    return unread or Several(tuple(each for each in found if isinstance(each, Claim)))


def _read_one(small: str, signs: list[NamedThing], names: Names, around: Around) -> Claim | Unread:
    small, denied = take_denial(small)
    none = denied and _ANY.search(small) is not None
    every = _EVERY.search(small) is not None
    small = _EVERY.sub("", _ANY.sub("", small) if none else small)
    small, tasks, several = _take_task(small, signs)
    small, apps = _take_apps(small, signs)
    missing = None
    for attempt in (small, *_without_task(small)):
        body, lost = attempt if isinstance(attempt, tuple) else (attempt, None)
        claim = match_form(body, every=every or several, apps=apps)
        if claim is not None:
            missing = lost
            break
    else:
        return Unread(_nearest(small, signs) if _CLAIMING.search(small) else NOTICED)
    if isinstance(claim, Unread):
        return claim
    claim = replace(claim, every=claim.every or none)
    of_all = claim.every or claim.form in OF_PRICES or claim.form in (Form.EVERY, Form.COUNT)
    if around.topic and tasks is None and not of_all and len(names.tasks) > 1:
        task = names.tasks[around.topic[0]]
        return Unread(
            f"Before it you speak of {task}; this sentence names no task. Say “on {task}”, or "
            f"“over all tasks” if you mean them all.",
            asked=True,
            doubted=True,
        )
    return replace(_filled(claim, signs, missing), tasks=tasks, apps=apps, denied=denied)


def _signed(plain: str, names: Names) -> tuple[str, list[NamedThing]]:
    """The sentence in small letters with a sign in the place of each name, and the signs."""
    plain = re.sub(r"(?i)\bper ?cent\b", "%", plain).replace("×", "x")
    if len(plain) > SHOUTED and plain == plain.upper():
        plain = plain.lower()
    marked, signs = names.mark(plain)
    marked = mark_unknown(marked, signs)
    marked = _BOTH_TASKS.sub(lambda m: _one_task(m, signs), marked)
    return re.sub(r"‹[a-z]\d+›", lambda m: m[0].upper(), marked.lower()), signs


SHOUTED = 12
"""A sentence that is longer and all in large letters is shouted: they name nothing."""
_BOTH_TASKS = re.compile(r"‹T(\d+)›[ ,]+‹T(\d+)›")


def _one_task(match: re.Match[str], signs: list[NamedThing]) -> str:
    """Two words of one task, as in "the UHD wedding", are one name."""
    one, other = (signs[int(place)] for place in match.groups())
    both = tuple(sorted(set(one.which) & set(other.which)))
    if not both:
        return match[0]
    signs.append(NamedThing("T", both, f"{one.text} {other.text}"))
    return f"‹T{len(signs) - 1}›"


_SAME_TASK = re.compile(r"\bthe same (?=‹T\d+›)")
"""Says that they did one task, not that they took as long."""


def _claims(small: str) -> bool:
    """Whether a sentence claims something that is checked here."""
    plain = _SAME_TASK.sub("the ", small)
    if plain != small:
        return bool(_CLAIMING.search(plain))
    timed = "‹T" in small and re.search(rf"\b(?:in|takes|needs) .*{DURATION}", small)
    return bool(_CLAIMING.search(small) or timed or notices(small))


_THOUSANDS = re.compile(r"\b\d{1,3},\d{3}\b(?= ?(?:x\b|times|%|seconds?|minutes?|s\b))")
_QUALITIES = frozenset(
    ("noise", "heat", "power", "price", "cost", "quality", "battery", "weight", "size")
)


def _doubt(small: str, signs: list[NamedThing], text: str, around: Around) -> Unread | None:
    """What keeps a sentence from being judged, whatever it says; None for nothing."""
    unsure = why_unsure(text, around)
    if unsure is not None:
        return Unread(unsure, asked=True, doubted=True)
    found = _THOUSANDS.search(small)
    if found is not None:
        plain = found[0].replace(",", "")
        return Unread(
            f"{found[0]} may mean {plain} or {found[0].replace(',', '.')}: write which.",
            asked=True,
            doubted=True,
        )
    for sign in signs:
        if sign.kind == "T" and sign.text.casefold() in _QUALITIES:
            return Unread(
                f"“{sign.text}” may mean a task or a quality of the machine: say which.",
                asked=True,
                doubted=True,
            )
    return None


def _take_task(text: str, signs: list[NamedThing]) -> tuple[str, tuple[int, ...] | None, bool]:
    """Take the task out of the sentence, or several that are named one after the other.

    Returns:
        The rest, the tasks that may be meant, and whether several are.
    """
    found = _ON.search(text)
    if found is None:
        return text, None, False
    which = signs[int(found[1])].which
    end = found.end()
    several = False
    while (more := _AND.match(text, end)) is not None:
        which, several, end = (*which, *signs[int(more[1])].which), True, more.end()
    rest = text[: found.start()].rstrip(" ,") + " " + text[end:].lstrip(" ,")
    return " ".join(rest.split()), which, several


def _take_apps(text: str, signs: list[NamedThing]) -> tuple[str, tuple[str, str] | None]:
    """Two apps that a setup is compared in: "… in X … as in Y", "… than in Y"."""
    found = re.findall(r"in (?:the )?‹A(\d+)›", text)
    if len(found) != 2:
        return text, None
    one, other = (signs[int(place)].text for place in found)
    body = re.sub(r" ?(?<!as )(?<!than )in (?:the )?‹A\d+›", "", text, count=1)
    return re.sub(r"in (?:the )?‹A\d+›", "itself", body), (one, other)


def _without_task(text: str) -> list[tuple[str, str]]:
    """The sentence without a task that nobody knows, with its name."""
    found = re.search(r"^(.*) (?:on|in|at|for) (?:the )?([a-z][\w -]{2,40})$", text)
    if found is None:
        found = re.search(r"^(.*?) (?:on|in|at|for) (?:the )?‹(U\d+)›$", text)
    return [] if found is None else [(found[1], found[2])]


def _filled(claim: Claim, signs: list[NamedThing], missing: str | None) -> Claim:
    """Put the names in the place of their signs."""

    def named(sign: NamedThing | None) -> NamedThing | None:
        return None if sign is None else signs[int(sign.text[1:])]

    a, b = named(claim.a), named(claim.b)
    gone = next((each.text for each in (a, b) if each is not None and each.kind == "U"), missing)
    if gone is not None and re.fullmatch(r"U\d+", gone):
        gone = signs[int(gone[1:])].text
    return replace(claim, a=a, b=b, missing=gone)


def _nearest(text: str, signs: list[NamedThing]) -> str:
    """Which part was not understood, and the nearest form that would be."""
    shown = re.sub(r"‹[STUGA](\d+)›", lambda m: signs[int(m[1])].text, text)
    own = [sign.text for sign in signs if sign.kind in "SUG"]
    a = own[0] if own else "A"
    b = own[1] if len(own) > 1 else "B"
    if len(own) < 2:
        return (
            f"{shown!r} was not understood: faster or slower than what? For example: {a} is "
            f"faster than {b}."
        )
    return f"{shown!r} was not understood. For example: {a} is 1.5 times as fast as {b}."
