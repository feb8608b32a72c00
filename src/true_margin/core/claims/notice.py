"""Whether a sentence claims something, however it is put: a claim is never passed in silence.

A sentence that names a setup together with a figure, a comparison, a rank, a price, a time, a
crash or how it felt is a claim until a person says otherwise.
"""

from __future__ import annotations

import re

_SETUP = re.compile(r"‹[SG]\d+›")
_SIGNS = re.compile(
    r"""
    \d | % | \b(?:half|twice|double|triple|thrice|dozen|quarter)\b
    | \b(?:one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|twenty|thirty|forty
        |fifty|sixty|seventy|eighty|ninety|hundred|thousand)[\ -](?:times|minutes?|seconds?|hours?
        |per\ ?cent|%|x|frames?|degrees?|watts?|euros?|flat|point|and\ a\ half
        |of\ (?:the\ )?(?:two|three|four|five|six|seven|eight|nine|ten))
    | \b(?:fast|quick|slow|rapid|speedy|sluggish|snappy|laggy)(?:er|est|ly)?\b | \bspeeds?\b
    | \b(?:better|worse|best|worst|cheap(?:er|est)?|dear(?:er|est)?|expensive|pricier|louder|quieter
        |loudest|quietest|hotter|cooler|hottest|coolest|longer|shorter|sooner|later|earlier)\b
    | \b(?:more|less|fewer)\b.*\bthan\b | \bas\ \w+\ as\b
    | \b(?:first|second|third|last)\b | \b(?:first|last),?\b.*\bthen\b | \bcrown\b
    | \b(?:beats?|beaten|wins?|won|lose|loses|lost|ahead|behind|lead|leads|leading|trails?|lags?
        |outruns?|outperforms?|smokes?d?|crush(?:es|ed)?|destroys?|obliterates?|demolishes|laps
        |overtakes?|catches|catch\ up|keep\ up|keeps\ up|match(?:es)?|equals?|ties?|tied|level
        |identical|same|difference|indistinguishable|neck\ and\ neck|trades?\ blows|on\ par
        |doubles?|halves|touch(?:es)?|everything|every\ (?:other\ )?machine|nothing|no\ machine
        |blows?|dust|breakfast|circles|rings|between|sits|beat)\b
    | \b(?:saves?|shaves?|cuts?|lops?|costs?|price[ds]?|worth|euros?|dollars?|bucks?|bang)\b
    | \b(?:takes?|took|taken|needs?|needed|finish(?:es|ed)?|done|ready)\b.*\b(?:minutes?|seconds?
        |hours?|long|time)\b
    | \b(?:crash(?:es|ed)?|freezes?|froze|frozen|stutters?|hangs?|hung|fails?|failed|smooth(?:ly)?
        |drops?\ frames|throttles?)\b
    | \b(?:degrees?|watts?|decibels?|fps|frames\ (?:a|per)\ second|real\ ?time)\b
    """,
    re.VERBOSE,
)


def notices(text: str) -> bool:
    """Whether a sentence is taken for a claim.

    Args:
        text: in small letters, its names as signs such as ``‹S0›``.

    Example:
        >>> notices("the ‹S0› gets away from the ‹S1› by 20 seconds")
        True
        >>> notices("the ‹S0› arrived in a huge box")
        False
    """
    named = len(_SETUP.findall(text))
    if named != 1:
        # Two that are named in one sentence are compared, in whatever words.
        return named > 1
    if "‹T" in text:
        # One on a task: something is said of how it did there.
        return True
    return _SIGNS.search(re.sub(r"‹[A-Z]\d+›", "‹›", text)) is not None


def names_a_setup(text: str) -> bool:
    """Whether a sentence names a setup at all.

    Args:
        text: in which names stand as signs such as ``‹S0›``.

    Example:
        >>> names_a_setup("the ‹S0› arrived in a huge box"), names_a_setup("on to ‹T1› then")
        (True, False)
    """
    return _SETUP.search(text) is not None


NOTICED = (
    "This may claim something, and was not understood. Put it plainly, or ask no more of it: "
    "it was not checked."
)

_ENGLISH = frozenset(
    """
the a an and or but is are was were be been it this that these those of in on at to for with as
than by from not no you your we our i my they their he his she her its so if then when where what
who how all one two more most can will do does did has have had there here just only also about
into over up out
""".split()  # noqa: SIM905
)
LEAST_ENGLISH = 0.15
"""Of a hundred words of English at least so many are among the commonest, by experience."""
ENOUGH_WORDS = 25


def looks_english(text: str) -> bool:
    """Whether a text reads like English; a short one is taken for it.

    Example:
        >>> looks_english("Der Turm ist doppelt so schnell wie das schmale Gerät. " * 5)
        False
    """
    words = re.findall(r"[^\W\d_]+", text.casefold())
    if len(words) < ENOUGH_WORDS:
        return True
    return sum(word in _ENGLISH for word in words) >= LEAST_ENGLISH * len(words)
