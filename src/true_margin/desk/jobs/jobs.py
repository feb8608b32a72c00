"""Jobs: what takes longer than a request should, done beside the requests.

A pack is brought in and prices are stored by whichever process takes the job out of the
queue. What it does and that it is done are kept in one transaction, so that a job whose
process ended, and which the next one begins again, is done once.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import timedelta
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
from true_margin.store import jobs, records
from true_margin.store.database import Database
from true_margin.store.jobs import Job
from true_margin.store.queue import put_job

JOB = "job"
BRING_IN, UPDATE, PRICES = "bring in", "update", "prices"
LOST_AFTER = timedelta(minutes=5)
"""A job that gave no sign for so long has no process that does it, and none took it over."""
ProblemKind = Literal["refused", "stale", "not-found", "feed-away", "failed"]
LOG = logging.getLogger("true_margin.jobs")


@dataclass(frozen=True, slots=True)
class JobProblem:
    """Why a job failed; nothing of it was stored."""

    kind: ProblemKind
    detail: str
    field: str | None = None


@dataclass(frozen=True, slots=True)
class JobView:
    """How far a job is; ``done`` from 0 to 1.

    Once it is done ``slug`` names the shootout that it made or changed, and ``stored`` counts
    the prices that it stored.
    """

    id: UUID
    state: str
    step: str
    done: float
    slug: str | None = None
    stored: int | None = None
    problem: JobProblem | None = None


_KINDS: tuple[tuple[type[DeskError], ProblemKind], ...] = (
    (RefusedError, "refused"),
    (StaleError, "stale"),
    (NotFoundError, "not-found"),
    (FeedAwayError, "feed-away"),
)


class _EndedError(Exception):
    """The job does not run any more."""


def bring_in(database: Database, who: Who, content: bytes) -> JobView:
    """Have a zipped pack brought in as a new shootout; whoever brings it owns it."""
    request = {"name": who.name, "to_own": who.person_id is not None and not who.may(Right.OWN)}
    return _put(database, BRING_IN, who, request, content)


def update(database: Database, who: Who, content: bytes, slug: str, revision: int) -> JobView:
    """Have a zipped pack taken over into the shootout that it was held against."""
    return _put(database, UPDATE, who, {"slug": slug, "revision": revision}, content)


def store_prices(
    database: Database, who: Who, slug: str, feed: PriceFeed, keys: list[str]
) -> JobView:
    """Have the chosen offers of a feed stored, all or none."""
    request = {"slug": slug, "keys": keys, "feed": feed.name, "address": feed.address}
    return _put(database, PRICES, who, request, None)


def _put(
    database: Database, kind: str, who: Who, request: dict[str, Any], content: bytes | None
) -> JobView:
    with transaction(database) as session:
        key = jobs.add_job(session, kind, who.person_id, request, content, database.clocks.now())
        put_job(session, JOB, job_id=str(key))
        return _view(jobs.get_job(session, key))


def show_job(database: Database, who: Who, job_id: UUID) -> JobView:
    """Show how far a job is, to whoever asked for it.

    Raises:
        NotFoundError: nobody who asks this has such a job.
    """
    with transaction(database) as session:
        found = jobs.get_job(session, job_id)
        if who.kind != "local" and (who.kind != "person" or found.person_id != who.person_id):
            raise NotFoundError("There is nothing of yours here.")
        if found.state == "running" and database.clocks.now() - found.seen_at > LOST_AFTER:
            words = "True Margin was ended while it did this. Nothing was stored: do it again."
            jobs.change_job(session, job_id, _failed(JobProblem("failed", words)))
            found = jobs.get_job(session, job_id)
    return _view(found)


def _view(job: Job) -> JobView:
    answer, problem = job.answer or {}, job.problem
    return JobView(
        job.id,
        job.state,
        job.step,
        job.done,
        answer.get("slug"),
        answer.get("stored"),
        None if problem is None else JobProblem(**problem),
    )


def do_job(
    database: Database,
    ending: Callable[[], bool],
    job_id: str,
    feed_at: Callable[[str, str], PriceFeed] = HttpPriceFeed,
) -> None:
    """Do a job that waits in the queue; what goes wrong is told by the job itself.

    Args:
        database: where it is.
        ending: says whether this process is about to end.
        job_id: of the job.
        feed_at: gives the price feed of a name and an address.

    Raises:
        InterruptedError: this process ends; the job is done by the next one.
        DatabaseAwayError: the database is away; the job is begun again later.
    """
    key = UUID(job_id)
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
        LOG.exception("a job could not be done")
        words = "Something went wrong here, not with what you gave. Nothing was stored."
        _tell(database, key, JobProblem("failed", words))


def _do(database: Database, key: UUID, feed_at: Callable[[str, str], PriceFeed]) -> None:
    _step(database, key, "reading", 0.1)
    with transaction(database) as session:
        job = jobs.get_job(session, key)
        content = jobs.job_file(session, key)
    request = job.request

    def made(session: Session, shootout: records.Shootout) -> None:
        if request["to_own"] and job.person_id is not None:
            make_owner(session, job.person_id, shootout.id, request["name"])
        changed(session, shootout)

    def changed(session: Session, shootout: records.Shootout) -> None:
        _finish(session, key, {"slug": shootout.slug})

    if job.kind == BRING_IN:
        pack = pack_in.read_zipped(content)
        _step(database, key, "storing its runs and what belongs to them", 0.4)
        pack_in.import_pack(database, pack, and_then=made)
    elif job.kind == UPDATE:
        pack_update.update_from_zip(
            database, content, request["slug"], request["revision"], and_then=changed
        )
    else:
        feed = feed_at(request["feed"], request["address"])
        price_feed.commit_refresh(
            database,
            request["slug"],
            feed,
            request["keys"],
            and_then=lambda session: _finish(
                session, key, {"slug": request["slug"], "stored": len(set(request["keys"]))}
            ),
        )


def _step(database: Database, key: UUID, words: str, part: float) -> None:
    now = database.clocks.now()
    with transaction(database) as session:
        if not jobs.change_job(session, key, {"step": words, "done": part, "seen_at": now}):
            raise _EndedError


def _finish(session: Session, key: UUID, answer: dict[str, Any]) -> None:
    """Say in the transaction of the work itself that it is done: it never happens twice."""
    changes = {"state": "done", "step": "done", "done": 1.0, "answer": answer, "file": None}
    if not jobs.change_job(session, key, changes):
        raise _EndedError


def give_up(database: Database, job_id: str) -> None:
    """Say of a job that the process which did it ended twice: it is not begun again."""
    words = (
        "True Margin ended twice while it did this, so it was given up. Nothing was stored. If "
        "it was a file, it is probably damaged: make it anew."
    )
    _tell(database, UUID(job_id), JobProblem("failed", words))


def _tell(database: Database, key: UUID, problem: JobProblem) -> None:
    with transaction(database) as session:
        jobs.change_job(session, key, _failed(problem))


def _failed(problem: JobProblem) -> dict[str, Any]:
    return {"state": "failed", "problem": asdict(problem), "file": None}


def _problem_of(error: DeskError) -> JobProblem:
    found = (name for known, name in _KINDS if isinstance(error, known))
    kind: ProblemKind = next(found, "failed")
    field = error.field if isinstance(error, RefusedError) else None
    return JobProblem(kind, error.reason, field)
