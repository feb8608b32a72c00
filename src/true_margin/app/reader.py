"""How the reader of an answer writes numbers, by the languages that the browser asks for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

from babel import Locale, UnknownLocaleError
from babel.dates import format_date, format_skeleton
from babel.numbers import get_decimal_symbol, get_group_symbol
from starlette.datastructures import Headers
from starlette.types import ASGIApp, Receive, Scope, Send

from true_margin.core.numerals import PLAIN, Numerals, writing

LONGEST = 200
"""No more of the header is looked at."""
WHERE = ("/api/", "/p/")


class Reader:
    """Writes numbers as whoever asks does; files that are given away are written plainly."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http" or not scope["path"].startswith(WHERE):
            await self._app(scope, receive, send)
            return
        with writing(numerals_of(Headers(scope=scope).get("accept-language", "")[:LONGEST])):
            await self._app(scope, receive, send)


@dataclass(frozen=True, slots=True)
class LocaleDays:
    """Writes days in a language (``de_AT``), as Unicode's locale data say.

    Example:
        >>> LocaleDays("de")(date(2026, 11, 3), whole=False)
        '3. Nov. 2026'
    """

    language: str

    def __call__(self, day: date, *, whole: bool) -> str:
        """Write a day; ``whole`` with the month in full."""
        if whole:
            return format_date(day, "long", locale=self.language)
        return format_skeleton("yMMMd", day, locale=self.language)


@lru_cache(maxsize=256)
def numerals_of(languages: str) -> Numerals:
    """The signs of the first language that is known; plain ones where none is.

    Args:
        languages: an ``Accept-Language`` header (RFC 9110).

    Example:
        >>> numerals_of("de-DE,de;q=0.9,en;q=0.8")
        Numerals(point=',', group='.', days=LocaleDays(language='de_DE'))
        >>> numerals_of("*") == numerals_of("no such thing") == PLAIN
        True
    """
    for tag in _wanted(languages):
        try:
            locale = Locale.parse(tag, sep="-")
        except (ValueError, UnknownLocaleError):
            continue
        # Digits are the same everywhere in the app, so their signs must fit them.
        return Numerals(
            get_decimal_symbol(locale, numbering_system="latn"),
            get_group_symbol(locale, numbering_system="latn"),
            LocaleDays(str(locale)),
        )
    return PLAIN


def _wanted(languages: str) -> Iterator[str]:
    """Languages, the most wanted first, each with its plain form after it."""
    weighed = []
    for place, each in enumerate(languages.split(",")):
        tag, _, weight = each.partition(";")
        try:
            q = float(weight.strip().removeprefix("q=") or 1)
        except ValueError:
            q = 0.0
        weighed.append((-q, place, tag.strip()))
    for _, _, tag in sorted(weighed):
        yield tag
        yield tag.split("-")[0]
