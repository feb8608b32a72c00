"""That something which a public page shows has changed: editions and links to them.

This process counts it as soon as it is kept; the database tells every other process.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from sqlalchemy import event, func, select
from sqlalchemy.orm import Session

from true_margin.store.news import CHANNEL

PAGES = "pages"
"""The news that editions or links of some shootout changed."""


class _Count:
    """Counts up, whichever thread counts."""

    def __init__(self) -> None:
        self._next: Iterator[int] = itertools.count(1)
        self.value = 0

    def up(self, _: Session) -> None:
        self.value = next(self._next)


_KEPT = _Count()


def pages_changed() -> int:
    """How many changes of public pages this process has kept."""
    return _KEPT.value


def tell_pages(session: Session) -> None:
    """Have a change of public pages counted and told, once the transaction is kept."""
    session.execute(select(func.pg_notify(CHANNEL, PAGES)))
    event.listen(session, "after_commit", _KEPT.up, once=True)
