"""Finding what was tested, said and published, over all shootouts that one may see."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from true_margin.core.numerals import localised
from true_margin.desk.errors import transaction
from true_margin.store import search
from true_margin.store.database import Database

MOST_WORDS = 8
MOST_HITS = 12
"""Of each kind that are told."""
_WORD = re.compile(r"\S+")
_SENTENCE = re.compile(r"[^.!?\n]+[.!?]*")


@dataclass(frozen=True, slots=True)
class SearchHit:
    """A machine, a task, a published figure or a line of a script, and where it stands."""

    kind: str
    slug: str
    shootout: str
    text: str
    more: str
    at: datetime | None


def find(database: Database, asked: str, may_see: Callable[[UUID], bool]) -> tuple[SearchHit, ...]:
    """Find what says words that begin so, all of them, the newest of each kind first.

    Args:
        database: where it is kept.
        asked: words, in any case.
        may_see: says of a shootout whether whoever asks sees it.
    """
    words = [word.casefold() for word in _WORD.findall(asked)][:MOST_WORDS]
    if not words:
        return ()
    with transaction(database) as session:
        hits = search.find_words(session, words)
    told: dict[str, list[SearchHit]] = {}
    for hit in hits:
        if not may_see(hit.shootout_id):
            continue
        texts = _lines(hit.text, words) if hit.kind == "line" else [hit.text]
        more = localised(hit.more) if hit.kind == "figure" else hit.more
        told.setdefault(hit.kind, []).extend(
            SearchHit(hit.kind, hit.slug, hit.shootout, text, more, hit.at) for text in texts
        )
    return tuple(hit for own in told.values() for hit in own[:MOST_HITS])


def _lines(script: str, words: Sequence[str]) -> Iterator[str]:
    """Those sentences of a script that say all of the words."""
    patterns = [re.compile(search.begins(word), re.IGNORECASE) for word in words]
    for sentence in _SENTENCE.findall(script):
        plain = sentence.strip()
        if all(pattern.search(plain) for pattern in patterns):
            yield plain[:300]
