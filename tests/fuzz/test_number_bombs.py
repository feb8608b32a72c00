"""A short text that stands for a huge number is refused like any that is none, at once.

Each number of each good input is replaced, one by one, by what a reader must not convert: an
exponent whose digits would fill the memory, digits by the thousand, digits of other scripts.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest

from tests.fuzz.targets import REFUSALS, Target, claims, packs, probes, tables, timelines, times
from true_margin.exchange.data_pack import Pack, write_pack

BOMBS = (
    "1e9000000",
    "-1e-9000000",
    "9" * 5000,
    "0." + "3" * 5000,
    "1/" + "9" * 40,
    "1/0",
    "nan",
    "Infinity",
    "٣",
    "²",
    "1_000",
    "0x10",
    "",
)
_NUMBER = re.compile(rb"[0-9]+(?:\.[0-9]+)?(?:/[0-9]+)?")
MOST_PLACES = 8
"""Of each input: beyond these its rows only repeat."""


def bombed(target: Target) -> Iterator[bytes]:
    """Every good input with one of its numbers replaced."""
    for good in target.good:
        for place in list(_NUMBER.finditer(good))[:MOST_PLACES]:
            for bomb in BOMBS:
                yield good[: place.start()] + bomb.encode() + good[place.end() :]


TARGETS = {
    "times": times,
    "tables": tables,
    "timelines": timelines,
    "probes": probes,
    "claims": claims,
}


@pytest.mark.parametrize("name", TARGETS)
def test_no_number_of_an_input_is_a_bomb(name: str) -> None:
    tried = 0
    target = TARGETS[name]()
    for content in bombed(target):
        tried += 1
        try:
            target.read(content)
        except REFUSALS as error:
            assert len(str(error)) < 1000, "an answer does not repeat the bomb"
    assert tried > 30


def test_no_number_of_a_pack_is_a_bomb(demo_pack: Pack) -> None:
    whole = write_pack(demo_pack)
    files = {name: content for name, content in whole.items() if name.endswith(".csv")}
    target = packs(whole)
    refused = 0
    for name, content in files.items():
        header, _, rows = content.partition(b"\n")
        first = rows.partition(b"\n")[0]
        for place in list(_NUMBER.finditer(first))[:MOST_PLACES]:
            for bomb in BOMBS[:6]:
                row = first[: place.start()] + bomb.encode() + first[place.end() :]
                try:
                    target.read(name.encode() + b"\n" + header + b"\n" + row + b"\n")
                except REFUSALS:
                    refused += 1
    assert refused > 100
