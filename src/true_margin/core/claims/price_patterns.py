"""The patterns of claims about prices."""

from __future__ import annotations

import re
from dataclasses import replace

from true_margin.core.claims.forms import Claim, Form
from true_margin.core.claims.numbers import (
    MULTIPLE,
    NUMBER,
    SpokenNumber,
    read_multiple,
    read_number,
)
from true_margin.core.claims.pattern_parts import A, B, H, Reader, build_claim, simply


def read_money(text: str) -> SpokenNumber:
    """Read an amount of money, its currency left aside.

    Example:
        >>> read_money("1,200 euros").value, read_money("two thousand").value
        (1200.0, 2000.0)
    """
    plain = re.sub(rf" ?(?:{CURRENCY})$|^(?:{CURRENCY}) ?", "", text.strip())
    plain = re.sub(r"(?<=\d)[ ,](?=\d{3}(?:\D|$))", "", plain)
    thousand = re.fullmatch(r"(?:(.+) |an? |)(?:thousand|grand|k)", plain)
    if thousand is not None:
        return SpokenNumber(1000.0 * read_number(thousand[1] or "one").value, 50.0)
    return read_number(plain)


CURRENCY = (
    r"[a-z]{3}(?<=eur)|[a-z]{3}(?<=usd)|[a-z]{3}(?<=gbp)|euros?|dollars?|bucks|pounds?|quid|"
    r"francs?|yen|[€$£¥]"
)
MONEY = (
    r"(?:(?:[€$£¥] ?)?(?:\d{1,3}(?:[ ,]\d{3})+(?:\.\d+)?|"
    rf"(?:an? |{NUMBER} )?(?:thousand|grand)|{NUMBER})(?: ?(?:{CURRENCY}))?)"
)


def _money(form: Form, sign: int = 1) -> Reader:
    return lambda m: build_claim(m, form, read_money(m["money"]), sign)


def _price_percent(match: re.Match[str]) -> Claim:
    sign = -1 if match["how"] in ("cheaper", "less") else 1
    return build_claim(match, Form.PRICE_PERCENT, read_number(match["number"]), sign)


def _price_more(match: re.Match[str]) -> Claim:
    sign = -1 if match["how"] in ("cheaper", "less") else 1
    return build_claim(match, Form.PRICE_MORE, read_money(match["money"]), sign)


def _price_bare(match: re.Match[str]) -> Claim:
    return build_claim(match, Form.DEARER, sign=-1 if match["how"] in ("cheaper", "less") else 1)


def fastest_below(match: re.Match[str]) -> Claim:
    return replace(build_claim(match, Form.FASTEST), below=read_money(match["money"]).value)


_COSTS = r"(?:costs?|cost)"
_DEAR = r"(?P<how>cheaper|dearer|pricier|more expensive|costlier)"
OF_PRICE: tuple[tuple[str, Reader], ...] = (
    (
        rf"{A} (?:is|was|{_COSTS}) {H}(?P<multiple>{MULTIPLE})(?: the price of| as much as|"
        rf" as expensive as| what) {B}(?: costs?| does)?",
        lambda m: build_claim(m, Form.PRICE_RATIO, read_multiple(m["multiple"])),
    ),
    (rf"{A} (?:is|was) {H}(?P<number>{NUMBER}) ?% {_DEAR} than {B}", _price_percent),
    (rf"{A} {_COSTS} {H}(?P<number>{NUMBER}) ?% (?P<how>more|less) than {B}", _price_percent),
    (rf"{A} (?:is|was) {H}(?P<money>{MONEY}) {_DEAR} than {B}", _price_more),
    (rf"{A} {_COSTS} {H}(?P<money>{MONEY}) (?P<how>more|less) than {B}", _price_more),
    (rf"{A} (?:is|was) (?:much |far |slightly |a bit )?{_DEAR} than {B}", _price_bare),
    (rf"{A} {_COSTS} (?:much |far |slightly |a bit )?(?P<how>more|less) than {B}", _price_bare),
    (rf"{A} {_COSTS} {H}(?P<money>{MONEY})", _money(Form.PRICE)),
    (rf"{A} and {B} {_COSTS} (?:exactly )?(?:the same|as much)(?: money)?", simply(Form.DEARER, 0)),
    (rf"{A} {_COSTS} (?:exactly )?(?:the same|as much) as {B}", simply(Form.DEARER, 0)),
    (
        rf"for {H}(?P<money>{MONEY}) (?P<how>more|less) than {B},? you(?: can)? "
        rf"(?:get|buy|have) (?:an? )?{A}",
        _price_more,
    ),
    (
        rf"{A} (?:is|was) the cheapest(?: of all| here| of them all| machine| one)*",
        simply(Form.CHEAPEST),
    ),
    (
        rf"{A} (?:is|was) the (?:most expensive|dearest|priciest)"
        r"(?: of all| here| of them all| machine| one)*",
        simply(Form.DEAREST),
    ),
)
