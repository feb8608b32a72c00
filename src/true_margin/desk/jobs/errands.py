"""Errands: what takes longer than a request should, done beside the requests.

A pack is brought in and prices are stored by whichever process takes the errand out of the
queue. What it does and that it is done are kept in one transaction, so that an errand whose
process ended, and which the next one begins again, is done once.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from typing import Any, Literal
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.desk.access.people import make_owner
from true_margin.desk.access.rights import Right, Who
from true_margin.desk.errors import (
    DatabaseAwayError,
    DeskError,
    FeedAwayError,
    NotFoundError,
    RefusedError,
    StaleError,
    transaction,
)
from true_margin.desk.lineup import price_feed
from true_margin.desk.packs import incoming as pack_in
from true_margin.desk.packs import update as pack_update
from true_margin.exchange.price_feed import HttpPriceFeed, PriceFeed
from true_margin.store import errands, records
from true_margin.store.database import Database
from true_margin.store.errands import Errand
from true_margin.store.queue import put_job

JOB = "errand"
BRING_IN, UPDATE, PRICES = "bring in", "update", "prices"
LOST_AFTER = timedelta(minutes=5)
"""An errand that gave no sign for so long has no process that does it, and none took it over."""
ProblemKind = Literal["refused", "stale", "not-found", "feed-away", "failed"]
LOG = logging.getLogger("true_margin.errands")


@dataclass(frozen=True, slots=True)
class ErrandProblem:
    """Why an errand failed; nothing of it was stored."""

    kind: ProblemKind
    detail: str
    field: str | None = None


@dataclass(frozen=True, slots=True)
class ErrandView:
    """How far an errand is; ``done`` from 0 to 1.

    Once it is done ``slug`` names the shootout that it made or changed, and ``stored`` counts
    the prices that it stored.
    """

    id: UUID
    state: str
    step: str
    done: float
    slug: str | None = None
    stored: int | None = None
    problem: ErrandProblem | None = None


_KINDS: tuple[tuple[type[DeskError], ProblemKind], ...] = (
    (RefusedError, "refused"),
    (StaleError, "stale"),
    (NotFoundError, "not-found"),
    (FeedAwayError, "feed-away"),
)


class _EndedError(Exception):
    """The errand does not run any more."""


def bring_in(database: Database, who: Who, content: bytes) -> ErrandView:
    """Have a zipped pack brought in as a new shootout; whoever brings it owns it."""
    told = {"name": who.name, "to_own": who.person_id is not None and not who.may(Right.OWN)}
    return _put(database, BRING_IN, who, told, content)


def update(database: Database, who: Who, content: bytes, slug: str, revision: int) -> ErrandView:
    """Have a zipped pack taken over into the shootout that it was held against."""
    return _put(database, UPDATE, who, {"slug": slug, "revision": revision}, content)


def store_prices(
    database: Database, who: Who, slug: str, feed: PriceFeed, keys: list[str]
) -> ErrandView:
    """Have the chosen offers of a feed stored, all or none."""
    told = {"slug": slug, "keys": keys, "feed": feed.name, "address": feed.address}
    return _put(database, PRICES, who, told, None)


def _put(
    database: Database, kind: str, who: Who, told: dict[str, Any], content: bytes | None
) -> ErrandView:
    with transaction(database) as session:
        key = errands.add_errand(session, kind, who.person_id, told, content, datetime.now(UTC))
        put_job(session, JOB, errand_id=str(key))
        return _view(errands.get_errand(session, key))


def show_errand(database: Database, who: Who, errand_id: UUID) -> ErrandView:
    """Show how far an errand is, to whoever asked for it.

    Raises:
        NotFoundError: nobody who asks this has such an errand.
    """
    with transaction(database) as session:
        found = errands.get_errand(session, errand_id)
        if who.kind != "local" and (who.kind != "person" or found.person_id != who.person_id):
            raise NotFoundError("There is nothing of yours here.")
        if found.state == "running" and datetime.now(UTC) - found.seen_at > LOST_AFTER:
            words = "True Margin was ended while it did this. Nothing was stored: do it again."
            errands.change_errand(session, errand_id, _failed(ErrandProblem("failed", words)))
            found = errands.get_errand(session, errand_id)
    return _view(found)


def _view(errand: Errand) -> ErrandView:
    answer, problem = errand.answer or {}, errand.problem
    return ErrandView(
        errand.id,
        errand.state,
        errand.step,
        errand.done,
        answer.get("slug"),
        answer.get("stored"),
        None if problem is None else ErrandProblem(**problem),
    )


def do_errand(
    database: Database,
    ending: Callable[[], bool],
    errand_id: str,
    feed_at: Callable[[str, str], PriceFeed] = HttpPriceFeed,
) -> None:
    """Do an errand that waits in the queue; what goes wrong is told by the errand itself.

    Args:
        database: where it is.
        ending: says whether this process is about to end.
        errand_id: of the errand.
        feed_at: gives the price feed of a name and an address.

    Raises:
        InterruptedError: this process ends; the errand is done by the next one.
        DatabaseAwayError: the database is away; the errand is begun again later.
    """
    key = UUID(errand_id)
    if ending():
        raise InterruptedError("this process ends")
    try:
        _do(database, key, feed_at)
    except _EndedError:
        return
    except DatabaseAwayError:
        raise
    except DeskError as error:
        _tell(database, key, _problem_of(error))
    except Exception:
        LOG.exception("an errand could not be done")
        words = "Something went wrong here, not with what you gave. Nothing was stored."
        _tell(database, key, ErrandProblem("failed", words))


def _do(database: Database, key: UUID, feed_at: Callable[[str, str], PriceFeed]) -> None:
    _step(database, key, "reading", 0.1)
    with transaction(database) as session:
        errand = errands.get_errand(session, key)
        content = errands.errand_file(session, key)
    told = errand.told

    def made(session: Session, shootout: records.Shootout) -> None:
        if told["to_own"] and errand.person_id is not None:
            make_owner(session, errand.person_id, shootout.id, told["name"])
        changed(session, shootout)

    def changed(session: Session, shootout: records.Shootout) -> None:
        _finish(session, key, {"slug": shootout.slug})

    if errand.kind == BRING_IN:
        pack = pack_in.read_zipped(content)
        _step(database, key, "storing its runs and what belongs to them", 0.4)
        pack_in.import_pack(database, pack, and_then=made)
    elif errand.kind == UPDATE:
        pack_update.update_from_zip(
            database, content, told["slug"], told["revision"], and_then=changed
        )
    else:
        feed = feed_at(told["feed"], told["address"])
        price_feed.commit_refresh(
            database,
            told["slug"],
            feed,
            told["keys"],
            and_then=lambda session: _finish(
                session, key, {"slug": told["slug"], "stored": len(set(told["keys"]))}
            ),
        )


def _step(database: Database, key: UUID, words: str, part: float) -> None:
    now = datetime.now(UTC)
    with transaction(database) as session:
        if not errands.change_errand(session, key, {"step": words, "done": part, "seen_at": now}):
            raise _EndedError


def _finish(session: Session, key: UUID, answer: dict[str, Any]) -> None:
    """Say in the transaction of the work itself that it is done: it never happens twice."""
    changes = {"state": "done", "step": "done", "done": 1.0, "answer": answer, "file": None}
    if not errands.change_errand(session, key, changes):
        raise _EndedError


def _tell(database: Database, key: UUID, problem: ErrandProblem) -> None:
    with transaction(database) as session:
        errands.change_errand(session, key, _failed(problem))


def _failed(problem: ErrandProblem) -> dict[str, Any]:
    return {"state": "failed", "problem": asdict(problem), "file": None}


def _problem_of(error: DeskError) -> ErrandProblem:
    found = (name for known, name in _KINDS if isinstance(error, known))
    kind: ProblemKind = next(found, "failed")
    field = error.field if isinstance(error, RefusedError) else None
    return ErrandProblem(kind, error.reason, field)
