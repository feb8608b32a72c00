"""What a sentence may say that is not surely read: a guess, for a person to confirm or change.

Nothing here is ever taken silently. A guess leaves out what the grammar could not match, or takes
what is missing from the sentences around; so it is shown in its parts and judged after a person
has said yes.
"""

from __future__ import annotations

import re
from dataclasses import replace

from true_margin.core.claims.context import ALONE, Around, is_question
from true_margin.core.claims.forms import OF_PRICES, Claim, Form, Several, Unread
from true_margin.core.claims.grammar import read_marked, signed_text
from true_margin.core.claims.idioms import NAME
from true_margin.core.claims.names import NamedThing, Names
from true_margin.core.claims.numbers import (
    DURATION,
    HEDGE,
    MULTIPLE,
    NUMBER,
    SpokenNumber,
    read_duration,
    read_hedge,
    read_multiple,
    read_number,
)
from true_margin.core.claims.reading import NEEDS_A_TASK, OF_ALL, PAIRED
from true_margin.core.claims.rewrite import plain_words, take_denial

_CLAUSES = (
    re.compile(
        r"^(?:as long as|provided|if|when|whenever|while|although|though|even though|since|"
        r"because|unless)\b[^,]*, "
    ),
    re.compile(r", ?(?:which|who|whatever|however|no matter)\b[^,]*(?:,|$)"),
    re.compile(r",? (?:if|when|unless|as long as|provided|although|though|because|since)\b.*$"),
    re.compile(r" \([^)]*\)"),
    re.compile(r" [–—-] .*$"),
    re.compile(r"\b(?:only|merely|not even|even|in turn|probably|maybe|perhaps) "),
)
_TASK_CLAUSE = re.compile(
    rf"^(?:when|whenever|if|as long as|while|for|once)\b[^,‹]*(‹T\d+›)[^,‹]*, (?=.*{NAME})"
)
_PRONOUN = re.compile(
    r"\b(?:it|this (?:thing|one|machine|laptop|desktop|computer|(?:little |big )?box)|"
    r"that (?:thing|one|machine))(?='s|’s| )"
)
_FORMER, _LATTER = re.compile(r"\bthe former\b"), re.compile(r"\bthe latter\b")
_SPEED_AHEAD = re.compile(
    r"\b(?:faster|quicker|fast|quick|beats?|beaten|wins?|won|ahead|leads?|outruns?|sooner|"
    r"saves?|less time|shorter|earlier|before)\b"
)
_SPEED_BEHIND = re.compile(
    r"\b(?:slower|slow|loses?|lost|behind|trails?|lags?|longer|later|more time|after)\b"
)
_ALIKE = re.compile(r"\b(?:same|level|equal(?:ly)?|match(?:es)?|tied?|identical|on par)\b")
_COMPARED = re.compile(r"\b(?:faster|quicker|slower|ahead|behind|longer|sooner|than|as fast as)\b")
_FIRST = re.compile(r"\b(?:fastest|quickest|(?:is|was|comes|came)(?: in)? first|wins?|won)\b")
_LAST = re.compile(r"\b(?:slowest|(?:is|was|comes|came)(?: in)? last)\b")
_PRICE = re.compile(r"\b(?:cheaper|dearer|pricier|expensive|costs?|price)\b")
_NO_GUESS = re.compile(
    r"‹U\d+›|\b(?:will|would|could|might|used to|before the|last (?:year|week|month)|next (?:year|"
    r"week|month|‹)|not true|isn't true|untrue|wrong|false|a myth|a lie|both of (?:them|these)|"
    r"neither|they|them|but one|but two)\b|(?<!\w)[-−]\d"
    r"|‹S\d+› (?:\d|one\b|two\b|three\b|mark\b|max\b|plus\b|mini\b)"
)
"""What turns a sentence round, moves it to another time, or points at who knows what."""
_ELSEWHERE = re.compile(
    rf"\b(?:on|in|at|for|while) (?:the )?(?!(?:{NUMBER}|{HEDGE}|{DURATION})\b)[^‹,]{{3,40}}$"
)
"""A place at the end that is no task on record."""
_TURNED = re.compile(r"\b(?:anything but|not|no|never|isn't|wasn't|hardly|n't)\b")


def guess_claims(text: str, names: Names, around: Around = ALONE) -> tuple[Claim, ...]:
    """Guess what a sentence that was not surely read may say.

    Args:
        text: the sentence.
        names: what may be named in it.
        around: what stands before and after it.

    Returns:
        The claims; empty where nothing can be guessed. A setup is None where it is not known
        which is meant.
    """
    small, signs = signed_text(text, names)
    if is_question(text) or _NO_GUESS.search(small):
        return ()
    small = _named_before(small, signs, around)
    for variant in _variants(small):
        found = read_marked(variant, signs, names)
        if isinstance(found, Unread):
            continue
        claims = found.claims if isinstance(found, Several) else (found,)
        if any(each.missing is not None for each in claims):
            return ()
        return tuple(_filled_in(each, names, around) for each in _sharing(claims))
    plain = plain_words(small)
    if "‹T" not in plain and _ELSEWHERE.search(plain):
        return ()
    slots = _by_slots(plain, signs)
    return () if slots is None else (_filled_in(slots, names, around),)


def _variants(small: str) -> list[str]:
    """The sentence with ever less of what the grammar does not know."""
    # A task that stands in a clause is the task of the claim.
    found = [small, _TASK_CLAUSE.sub(r"on \1, ", small)]
    for pattern in _CLAUSES:
        lighter = " ".join(pattern.sub(" ", found[-1]).split()).strip(" ,")
        if lighter != found[-1]:
            found.append(lighter)
    found.extend([_halves_on_one_task(each) for each in found])
    return list(dict.fromkeys(found))


def _halves_on_one_task(small: str) -> str:
    """ "A beats B, and B beats C on t": the task may be meant for both."""
    found = re.fullmatch(
        rf"({NAME} [^,]+?),? and ({NAME} .+?)((?: (?:on|in|at|for|with) (?:the )?‹T\d+›))", small
    )
    return small if found is None else f"{found[1]}{found[3]}, and {found[2]}{found[3]}"


def _named_before(small: str, signs: list[NamedThing], around: Around) -> str:
    """Put the setup that was named before in the place of a word that points at it."""
    before = [each for each in around.named if each.text not in {sign.text for sign in signs}]
    own = list(around.named)

    def sign(of: NamedThing | None) -> str:
        signs.append(of or NamedThing("S", (), "?"))
        return f"‹S{len(signs) - 1}›"

    if _LATTER.search(small) or _FORMER.search(small):
        first, last = (own[-2], own[-1]) if len(own) > 1 else (None, None)
        small = _FORMER.sub(lambda _: sign(first), small)
        return _LATTER.sub(lambda _: sign(last), small)
    if len(re.findall(r"‹[SG]\d+›", small)) < 2:
        small = _PRONOUN.sub(lambda _: sign(before[0] if before else None), small, count=1)
    return small


def _sharing(claims: tuple[Claim, ...]) -> tuple[Claim, ...]:
    """Claims of one sentence of which one alone names the task."""
    tasks = next((each.tasks for each in claims if each.tasks is not None), None)
    return tuple(
        each if each.tasks is not None or each.form in OF_ALL else replace(each, tasks=tasks)
        for each in claims
    )


def _filled_in(claim: Claim, names: Names, around: Around) -> Claim:
    """Take what is missing from what stands around, or from there being only two."""
    if claim.tasks is None and claim.form not in OF_ALL:
        topic = around.topic or (tuple(range(1)) if len(names.tasks) == 1 else ())
        if not topic and claim.form in NEEDS_A_TASK and around.last_task:
            topic = around.last_task
        claim = replace(claim, tasks=topic[:1] or None)
    elif claim.tasks is not None:
        claim = replace(claim, tasks=claim.tasks[:1])
    a, b = _one_of(claim.a), _one_of(claim.b)
    if claim.form in PAIRED and len(names.setups) == 2:
        a, b = _other_of_two(a, b, names), _other_of_two(b, a, names)
    if claim.form in PAIRED and b is None and a is not None:
        said = [each for each in around.named if each.which[:1] != a.which[:1]]
        b = _one_of(said[-1]) if said else None
    return replace(claim, a=a, b=b, missing=None)


def _one_of(found: NamedThing | None) -> NamedThing | None:
    return None if found is None or not found.which else replace(found, which=found.which[:1])


def _other_of_two(
    wanted: NamedThing | None, known: NamedThing | None, names: Names
) -> NamedThing | None:
    if wanted is not None or known is None:
        return wanted
    other = 1 - known.which[0]
    return NamedThing("S", (other,), names.setups[other])


def _by_slots(small: str, signs: list[NamedThing]) -> Claim | None:
    """A claim of the names, the number and the comparing word that a sentence holds."""
    small, denied = take_denial(small)
    setups = [signs[int(at)] for at in re.findall(r"‹S(\d+)›", small)]
    tasks = [signs[int(at)] for at in re.findall(r"‹T(\d+)›", small)]
    if not setups:
        return None
    a, b = setups[0], setups[1] if len(setups) > 1 else None
    task = tasks[0].which if tasks else None
    plain = re.sub(r"‹[A-Z]\d+›", "‹›", small)
    found = _of_speed(plain, two=b is not None) if not _PRICE.search(plain) else _of_price(plain)
    if found is None:
        return None
    paired = found.form in PAIRED
    return replace(
        found,
        a=a,
        b=b if paired else None,
        tasks=None if found.form in OF_PRICES else task,
        denied=denied,
    )


def _of_speed(plain: str, *, two: bool) -> Claim | None:
    behind = _SPEED_BEHIND.search(plain) is not None
    if not behind and _SPEED_AHEAD.search(plain) is None:
        return _of_time(plain, two=two) or _of_rest(plain)
    sign = -1 if behind else 1
    percent = re.search(rf"(?:({HEDGE}) )?({NUMBER}) ?%", plain)
    if percent is not None:
        form = Form.SLOWER if behind else Form.FASTER
        return Claim(form, number=read_number(percent[2]), hedge=read_hedge(percent[1]))
    multiple = re.search(rf"(?:({HEDGE}) )?({MULTIPLE})", plain)
    if multiple is not None and (two or _COMPARED.search(plain)):
        form = Form.AS_LONG if behind else Form.RATIO
        return Claim(form, number=read_multiple(multiple[2]), hedge=read_hedge(multiple[1]))
    length = re.search(rf"(?:({HEDGE}) )?({DURATION})", plain)
    if length is not None:
        number, hedge = read_duration(length[2]), read_hedge(length[1])
        return Claim(Form.SAVED, number=number, hedge=hedge, sign=sign)
    if not two and _COMPARED.search(plain) is None:
        return _of_rest(plain)
    return Claim(Form.BARE, sign=_turned(plain, sign))


def _turned(plain: str, sign: int) -> int:
    return -sign if _TURNED.search(plain) else sign


def _of_time(plain: str, *, two: bool) -> Claim | None:
    length = re.search(rf"(?:({HEDGE}) )?({DURATION})", plain)
    flat = re.search(rf"\bin (?:({HEDGE}) )?({NUMBER})$", plain)
    if length is not None and not two:
        return Claim(Form.TIME, number=read_duration(length[2]), hedge=read_hedge(length[1]))
    if flat is not None and not two:
        # "In five": minutes, as people say it.
        minutes = SpokenNumber(60.0 * read_number(flat[2]).value, 30.0)
        return Claim(Form.TIME, number=minutes, hedge=read_hedge(flat[1]))
    return None


def _of_rest(plain: str) -> Claim | None:
    if _FIRST.search(plain):
        return Claim(Form.FASTEST)
    if _LAST.search(plain):
        return Claim(Form.SLOWEST)
    return Claim(Form.SAME) if _ALIKE.search(plain) else None


def _of_price(plain: str) -> Claim | None:
    sign = -1 if re.search(r"\b(?:cheaper|less|under)\b", plain) else 1
    percent = re.search(rf"(?:({HEDGE}) )?({NUMBER}) ?%", plain)
    if percent is not None:
        number, hedge = read_number(percent[2]), read_hedge(percent[1])
        return Claim(Form.PRICE_PERCENT, number=number, hedge=hedge, sign=sign)
    multiple = re.search(rf"(?:({HEDGE}) )?({MULTIPLE})", plain)
    if multiple is not None:
        number, hedge = read_multiple(multiple[2]), read_hedge(multiple[1])
        return Claim(Form.PRICE_RATIO, number=number, hedge=hedge)
    return Claim(Form.DEARER, sign=sign)
