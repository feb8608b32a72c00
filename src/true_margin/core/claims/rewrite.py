"""Speech into the plain words that the grammar reads: what changes no meaning is taken away.

Each rewrite is exact: what it does not match in full it leaves, and what is left over keeps the
sentence from being read. Nothing here guesses.
"""

from __future__ import annotations

import re

from true_margin.core.claims.idioms import NAME, say_plainly
from true_margin.core.claims.phrases import put_in_order
from true_margin.core.number_words import SMALL_NUMBERS, TENS

_LEAD = re.compile(
    r"^(?:(?:and|but|so|well|now|yeah|yep|yes|mind you|you know|hey|listen|seriously|trust me|"
    r"believe me|basically|essentially|in other words|put differently|bottom line|the thing is|"
    r"here is the thing|fun fact|spoiler|long story short|no surprise|then|also|besides|"
    r"honestly|frankly|look|okay|ok|guys|folks|friends|in fact|"
    r"in short|in the end|to be fair|to be honest|as you can see|as expected|as ever|"
    r"unsurprisingly|surprisingly|interestingly|sure enough|of course|without question|"
    r"without a doubt|no question|for the record|again|remember|overall|on average|all in all|"
    r"in our (?:tests?|runs|testing)|in my (?:tests?|runs)|we (?:found|saw|measured)(?: that)?|"
    r"i (?:think|found|measured)(?: that)?|it turns out(?: that)?|turns out),? )+"
)
_END = re.compile(
    r"(?:,? (?:today|again|overall|on average|as well|too|this time|by the way|full stop|period|"
    r"no doubt|for sure|hands down|of course|in our (?:tests?|runs|testing)|in my (?:tests?|runs)|"
    r"here|give or take|which is (?:huge|a lot|big|great|nice)|at the end of the day|in the end|"
    r"every time|(?:in|of) (?:this|our|my|the) (?:tests?|video|comparison|round|review)))+$"
)
_STRONG = re.compile(
    r"\b(?:a whopping|a full|an impressive|an incredible|literally|easily|basically|virtually|"
    r"practically|pretty much|absolutely|actually|really|truly|simply|honestly|"
    r"just(?! under| about)|still|flat out) "
)
_UNIT_WORD = "|".join(sorted(SMALL_NUMBERS, key=len, reverse=True))
_TEN_WORD = "|".join(TENS)
_COMPOUND = re.compile(rf"\b({_TEN_WORD})(?:[- ]({'|'.join(list(SMALL_NUMBERS)[:9])}))?\b")
_POINT = re.compile(rf"\b({_UNIT_WORD}|\d+) point ((?:(?:{_UNIT_WORD}|zero|oh)\b ?)+|\d+)")
_TEEN = re.compile(r"\b(thirteen|fourteen|sixteen|seventeen|eighteen|nineteen)\b")
_PLACES = r"(?:on|in|at|for|with|during)"
_SHORT_IS = re.compile(
    rf"({NAME})'s (?=(?:about|around|roughly|nearly|almost|over|under|up to|at least|twice|half|"
    rf"double|triple|a |as |not|the (?:fastest|slowest|quickest)|much|far|way|slightly|faster|"
    rf"quicker|slower|\d|{_UNIT_WORD}|{_TEN_WORD}))"
)
_FRONT = re.compile(
    rf"^(?:compared (?:with|to)|next to|up against|relative to|versus|against|over) (?P<b>{NAME}),?"
    rf" (?P<a>{NAME})(?:'s| is|) (?P<rest>.+)$"
)
_THAT_IS = re.compile(
    rf"^(?P<what>.+? (?:faster|quicker|slower|as fast|as quick)) (?P<than>than|as) (?P<b>{NAME})"
    rf"(?P<on>(?: {_PLACES} (?:the )?‹T\d+›)?)(?:,| —| –| -) ?that(?: is|'s) (?P<a>{NAME})"
    rf"(?: for you)?$"
)
_BY = re.compile(
    rf"^(?P<a>{NAME}) (?:beats|beat|outruns|leads) (?P<b>{NAME}) by (?P<by>[^,]+?)"
    rf"(?P<on>(?: {_PLACES} (?:the )?‹T\d+›)?)$"
)
_OFF = re.compile(
    rf"^(?P<a>{NAME}) (?:shaves|lops|cuts|takes|knocks) (?P<by>[^,]+?) off (?P<b>{NAME})"
    rf"(?:'s (?:export )?time)?(?P<on>(?: {_PLACES} (?:the )?‹T\d+›)?)$"
)
_AHEAD = re.compile(
    rf"^(?P<a>{NAME}) (?:is|was|came out|comes out|finishes|finished) (?P<by>[^,]*?\d[^,]*? ?%|"
    rf"[^,]*? ?%) (?P<how>ahead of|behind) (?P<b>{NAME})(?P<rest>.*)$"
)
_TWO_TIMES = re.compile(
    rf"^(?:we clocked |we measured |we timed )(?P<a>{NAME}) at (?P<n>[\d.,]+ ?x) (?P<b>{NAME})"
)
_X_THE = re.compile(rf"\b(?P<n>[\d.,]+) ?x (?P<b>{NAME})")


def plain_words(text: str) -> str:
    """Rewrite a sentence into plain words.

    Args:
        text: in small letters, its names as signs such as ``‹S0›``.

    Example:
        >>> plain_words("honestly, the ‹S0›'s about one point six x the ‹S1›")
        'the ‹S0› is about 1.6 times as fast as the ‹S1›'
    """
    text = text.replace("’", "'").replace("`", "'")
    text = re.sub(r"\b(?:every|each) (?:single )?(?=‹T)", "the ", text)
    text = _STRONG.sub("", _END.sub("", _LEAD.sub("", text)))
    text = _numbers(text)
    text = _SHORT_IS.sub(r"\1 is ", text)
    text = re.sub(r"(‹T\d+›) (?:exports?|renders?|tasks?|tests?|one|job|batch)\b", r"\1", text)
    text = _turned(_of_money_and_time(_of_times(put_in_order(text))))
    text = _X_THE.sub(r"\g<n> times as fast as \g<b>", text)
    text = re.sub(r"\b(?:ever so slightly|a tiny bit|a hair|a smidge|a tad)\b", "slightly", text)
    text = re.sub(r"\b(?:massively|vastly|hugely|dramatically|considerably)\b", "much", text)
    return _with_strength(text)


_WEAKLY = re.compile(
    rf"({NAME}) (?:just about|only just|barely|narrowly|marginally|slightly) (?=[a-z])"
    r"(?!faster|slower|quicker)"
)
_STRONGLY = re.compile(
    rf"({NAME}) (?:easily|clearly|handily|comfortably|soundly|completely|totally|utterly"
    r"|convincingly|decisively|thoroughly) (?=[a-z])(?!faster|slower|quicker)"
)


_BEATS = re.compile(rf"({NAME}) (?:beats?|outruns?|outperforms) ")


def _with_strength(text: str) -> str:
    """An idiom with the adverb before it: "only just outpaces" is slightly faster."""
    for pattern, degree in ((_WEAKLY, "slightly"), (_STRONGLY, "much")):
        bare = pattern.sub(r"\1 ", text, count=1)
        if bare != text:
            plain = say_plainly(bare)
            if plain == bare:
                plain = re.sub(
                    rf"({NAME}) (?:beats?|outruns?|outperforms) ", r"\1 is faster than ", bare
                )
            return re.sub(r"\bis (faster|slower) than", rf"is {degree} \1 than", plain)
    return say_plainly(text)


_DENIED = (
    (re.compile(rf"^(?:i|we) (?:would not|wouldn't|cannot|can't) say (?:that )?(?={NAME})"), ""),
    (
        re.compile(rf"^(?:i|we)(?:'ve| have)? never (?:seen|saw) ({NAME}) beat (?={NAME})"),
        r"\1 beats ",
    ),
    (
        re.compile(
            rf"({NAME}) (?:does not|doesn't|did not|didn't|never) (beat|outrun|match)(?:es|s)? "
        ),
        r"\1 \2s ",
    ),
    (re.compile(rf"({NAME})(?: is| was|) never (?=faster|slower|quicker)"), r"\1 is "),
    (re.compile(rf"({NAME})(?: is no| was no) (?=faster|slower|quicker)"), r"\1 is "),
    (re.compile(rf"({NAME}) (?:is not|isn't|was not|wasn't) (?!as (?:fast|quick))"), r"\1 is "),
)


def take_denial(text: str) -> tuple[str, bool]:
    """Take a "not" out of a sentence; says whether there was one.

    Example:
        >>> take_denial("the ‹S0› isn't faster than the ‹S1›")
        ('the ‹S0› is faster than the ‹S1›', True)
    """
    for pattern, instead in _DENIED:
        found = pattern.search(text)
        if found is not None:
            return pattern.sub(instead, text, count=1), True
    return text, False


_CONDITION = re.compile(
    r"^(?:if|when|whenever) (?:you|you're|you are|i|we) (?:only )?(?:export|render|edit|develop|"
    r"do|bounce)(?:ing)? (?:the |a )?(‹T\d+›),? "
)
_LISTED = re.compile(rf"^({NAME}), (?:the )?(‹T\d+›), (\d+:\d\d(?::\d\d)?)$")
_GOES_TO = re.compile(
    rf"^(?:first place|the crown|the win|gold|victory|the top spot|the prize)"
    rf"(?P<on>(?: {_PLACES} (?:the )?‹T\d+›)?) goes to (?P<a>{NAME})$"
)
_WITH_YOU = re.compile(rf"^with ({NAME}) you get (.+ the speed of {NAME}.*)$")
_BARRIER = re.compile(
    rf"({NAME}) (?:breaks|broke) the ([\w.]+)[- ](minute|second|hour) (?:barrier|mark)"
)


def _of_times(text: str) -> str:
    """Ways to say how long one takes, and what it is that takes so long."""
    text = _CONDITION.sub(r"on \1 ", text)
    text = _LISTED.sub(r"\1 takes \3 on \2", text)
    text = _GOES_TO.sub(lambda m: f"{m['a']} is the fastest{m['on']}", text)
    text = _WITH_YOU.sub(r"\1 runs at \2", text)
    text = _BARRIER.sub(r"\1 takes under \2 \3s", text)
    text = re.sub(r" (?:flat|on the dot|sharp|exactly)(?= |$)", "", text)
    text = re.sub(
        rf"({NAME}) (?:gets|got|comes in|came in|clocks in|stays|stayed)(?: at)? "
        rf"(?=under|over|just under)",
        r"\1 takes ",
        text,
    )
    text = re.sub(rf"half the time ({NAME}) (?:does|takes|needs|did)", r"half the time of \1", text)
    return re.sub(r"\beven (?=on|in|at|for)", "", text)


_PER_PRICE = re.compile(
    rf"^per (?:euro|dollar|pound|franc)(?: (?:spent|paid))?,? (?P<a>{NAME}) is (?:faster|quicker) "
    rf"than (?P<b>{NAME})$"
)
_YOU_SAVE = re.compile(
    rf"^you save (?P<by>[^‹]+?)(?P<on>(?: {_PLACES} (?:the )?‹T\d+›)?) (?:by|when) "
    rf"(?:going|moving|switching|you (?:go|move|switch)) from (?P<b>{NAME}) to (?P<a>{NAME})$"
)
_CUTS = re.compile(
    rf"^(?P<a>{NAME}) (?:cuts|reduces|lowers|brings down) (?:the )?(?:export |render |waiting )?"
    rf"times? by (?P<by>[^‹]+? ?%) (?:over|against|compared (?:to|with)) (?P<b>{NAME})"
)
_BUYS = re.compile(
    rf"^(?P<front>.*?)(?P<a>{NAME}) (?:buys|gives|gets|saves) you (?=\D*\d[^‹]*(?:min|sec|hour))"
)


def _of_money_and_time(text: str) -> str:
    """What is saved, and what one gets for the money, as people put it."""
    text = _PER_PRICE.sub(r"\g<a> is better value than \g<b>", text)
    text = re.sub(r"\bbest (?:bang|value) for (?:the|your) (?:buck|money)\b", "best value", text)
    text = re.sub(r"\bmore bang for (?:the|your) (?:buck|money) than\b", "better value than", text)
    text = _YOU_SAVE.sub(r"\g<a> saves \g<by> over \g<b>\g<on>", text)
    text = _CUTS.sub(r"\g<a> takes \g<by> less time than \g<b>", text)
    text = _BUYS.sub(r"\g<front>\g<a> saves ", text)
    return re.sub(rf"\b(takes|takes the|gets the|gets) ({_NTH}) place\b", r"comes \2", text)


_NTH = r"(?:second|third|fourth|fifth|sixth|seventh|eighth|ninth|tenth|\d+(?:nd|rd|th))"


def _turned(text: str) -> str:
    """Put the one that is spoken of first where the grammar looks for it."""
    found = _TWO_TIMES.match(text)
    if found:
        text = f"{found['a']} is {found['n']} {found['b']}{text[found.end() :]}"
    found = _THAT_IS.match(text)
    if found:
        return f"{found['a']} is {found['what']} {found['than']} {found['b']}{found['on']}"
    found = _BY.match(text)
    if found:
        return f"{found['a']} is {found['by']} faster than {found['b']}{found['on']}"
    found = _OFF.match(text)
    if found and not found["by"].rstrip().endswith("%"):
        return f"{found['a']} saves {found['by']} over {found['b']}{found['on']}"
    if found:
        return f"{found['a']} takes {found['by']} less time than {found['b']}{found['on']}"
    found = _AHEAD.match(text)
    if found:
        how = "faster" if found["how"] == "ahead of" else "slower"
        return f"{found['a']} is {found['by']} {how} than {found['b']}{found['rest']}"
    found = _FRONT.match(text)
    if found:
        return _fronted(found)
    return text


def _fronted(found: re.Match[str]) -> str:
    """ "Compared with b, a is twice as fast on t": b belongs behind what it is compared by."""
    a, b, rest = found["a"], found["b"], found["rest"]
    place = re.search(rf" {_PLACES} (?:the )?‹T\d+›$", rest)
    on = "" if place is None else place[0]
    said = rest.removesuffix(on).strip()
    if re.fullmatch(r"(?:.+ )?times as (?:fast|quick)|(?:twice|half) as (?:fast|quick)", said):
        return f"{a} is {said} as {b}{on}"
    if re.fullmatch(r"(?:.+ )?(?:faster|quicker|slower)", said):
        return f"{a} is {said} than {b}{on}"
    if re.fullmatch(r"(?:takes|took) half the time", said):
        return f"{a} {said} of {b}{on}"
    if re.fullmatch(r"(?:looks|feels|is) slow|slow", said):
        return f"{a} is slower than {b}{on}"
    return found[0]


def _numbers(text: str) -> str:
    """Numbers that are said in words, in figures."""

    def compound(match: re.Match[str]) -> str:
        return str(TENS[match[1]] + (SMALL_NUMBERS[match[2]] if match[2] else 0))

    def point(match: re.Match[str]) -> str:
        whole = match[1] if match[1].isdigit() else str(SMALL_NUMBERS[match[1]])
        digits = [
            word if word.isdigit() else "0" if word in ("zero", "oh") else str(SMALL_NUMBERS[word])
            for word in match[2].split()
        ]
        tail = " " if match[2].endswith(" ") else ""
        return f"{whole}.{''.join(digits)}{tail}"

    text = _POINT.sub(point, text)
    text = _COMPOUND.sub(compound, text)
    text = _TEEN.sub(lambda match: str(SMALL_NUMBERS[match[1]]), text)
    text = re.sub(r"\b(\d+) hundred\b", lambda m: str(100 * int(m[1])), text)
    text = re.sub(rf"\b({_UNIT_WORD}) hundred\b", lambda m: str(100 * SMALL_NUMBERS[m[1]]), text)
    text = re.sub(r"\bone and a half times\b", "1.5 times", text)
    text = re.sub(r"\bone and a third times\b", "1.33 times", text)
    return re.sub(r"\ba (minute|second|hour) and a half\b", r"1.5 \1s", text)
