"""Damage to good input: bytes, words, lines and numbers that nobody expects, by seeded chance."""

from __future__ import annotations

import random

WORDS = (
    b"",
    b" ",
    b"\x00",
    b"\xff\xfe",
    b"\xef\xbb\xbf",
    b"-",
    b"-1",
    b"0",
    b"1e308",
    b"1e-308",
    b"NaN",
    b"Infinity",
    b"-Infinity",
    b"9" * 30,
    b"0.1" * 9,
    b"null",
    b"true",
    b"[]",
    b"{}",
    b"[[[[[[[[",
    b'"',
    b"'",
    b"\\",
    b"\\u0000",
    b"\\ud800",
    b"\r",
    b"\n\n",
    b"\t",
    b";",
    b",",
    b"%",
    b"x",
    b":",
    b"::",
    b"1:99:99",
    b"6:17",
    b"6.17",
    b"6,17",
    b"18 min",
    b"1/0",
    b"30000/1001",
    b"0/0",
    b"=1+1",
    b"@SUM",
    "−".encode(),
    "½".encode(),
    "٣".encode(),
    "６:１７".encode(),
    "🙂".encode(),
    "\u202e".encode(),
    "\u0000".encode(),
    "ｅ".encode(),
    b"../../etc/passwd",
    b"<script>",
    b"a" * 300,
    b"(" * 60,
    b"(((",
    b"nearly twice as fast",
    b"%% faster than",
    b"not",
    b"between 2 and",
    b"10,000.5",
    b"up to",
)
MOST_STEPS = 6


def damaged(good: bytes, others: tuple[bytes, ...], seed: int) -> bytes:
    """Good input after a few steps of damage.

    Args:
        good: what it starts from.
        others: more good input, of which pieces are taken.
        seed: the same seed gives the same bytes.
    """
    chance = random.Random(seed)
    found = bytearray(good)
    for _ in range(chance.randint(1, MOST_STEPS)):
        chance.choice(_STEPS)(found, others, chance)
    return bytes(found)


def _place(found: bytearray, chance: random.Random) -> int:
    return chance.randint(0, len(found))


def _flip(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    if found:
        found[chance.randrange(len(found))] = chance.randrange(256)


def _word(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    at = _place(found, chance)
    found[at:at] = chance.choice(WORDS)


def _instead(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    at = _place(found, chance)
    found[at : at + chance.randint(1, 8)] = chance.choice(WORDS)


def _cut(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    at = _place(found, chance)
    del found[at : at + chance.randint(1, max(1, len(found) // 4))]


def _end(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    del found[_place(found, chance) :]


def _again(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    at, end = sorted((_place(found, chance), _place(found, chance)))
    found[at:at] = found[at : min(end, at + 2000)] * chance.randint(1, 4)


def _line(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    lines = bytes(found).split(b"\n")
    one, other = chance.randrange(len(lines)), chance.randrange(len(lines))
    lines[one], lines[other] = lines[other], lines[one]
    found[:] = b"\n".join(lines)


def _number(found: bytearray, _: tuple[bytes, ...], chance: random.Random) -> None:
    places = [at for at, sign in enumerate(found) if 48 <= sign <= 57]
    if places:
        at = chance.choice(places)
        found[at : at + 1] = chance.choice(WORDS)


def _piece(found: bytearray, others: tuple[bytes, ...], chance: random.Random) -> None:
    other = chance.choice(others)
    start = chance.randint(0, len(other))
    at = _place(found, chance)
    found[at:at] = other[start : start + chance.randint(1, 200)]


_STEPS = (_flip, _word, _instead, _cut, _end, _again, _line, _number, _piece)
