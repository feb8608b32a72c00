"""Numbers in words, as people say and write them; the one list of them."""

from __future__ import annotations

from collections.abc import Mapping

_SMALL = """
one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen
seventeen eighteen nineteen
"""
_TENS = "twenty thirty forty fifty sixty seventy eighty ninety"
SMALL_NUMBERS: Mapping[str, int] = {
    word: number for number, word in enumerate(_SMALL.split(), start=1)
}
"""From one to nineteen."""
TENS: Mapping[str, int] = {word: 10 * tens for tens, word in enumerate(_TENS.split(), start=2)}
"""From twenty to ninety."""
