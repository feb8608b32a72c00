"""What the desk refuses, in terms that a screen can show beside a field."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from psycopg.errors import DiskFull
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, OperationalError
from sqlalchemy.exc import TimeoutError as NoneFreeError
from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError, QuantityError
from true_margin.desk.rule_words import say_filled, say_rule
from true_margin.store.database import Database
from true_margin.store.errors import MissingRowError, StaleVersionError, constraint_of


class DeskError(Exception):
    """Base of every refusal; ``reason`` is a sentence to act on."""

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason


class NotFoundError(DeskError):
    """Nothing has this name or id."""


class NotAllowedError(DeskError):
    """Somebody who is known may not do this; the reason says who may."""


class DatabaseAwayError(DeskError):
    """The database does not answer; nothing was stored."""


class DiskFullError(DatabaseAwayError):
    """The disk of the database has no room left; nothing was stored."""


class FeedAwayError(DeskError):
    """A service outside gave no answer that can be used; nothing was changed."""


class StaleError(DeskError):
    """Someone else changed the thing first.

    Attributes:
        current: it as it stands now.
    """

    def __init__(self, what: str, current: object) -> None:
        super().__init__(
            f"This {what} was changed elsewhere since you opened it. Nothing of yours is lost: "
            f"choose which to keep."
        )
        self.current = current


class RefusedError(DeskError):
    """A field holds something that cannot be.

    Attributes:
        field: name of the field.
        extra: more members for the problem document.
    """

    def __init__(self, field: str, reason: str, **extra: Any) -> None:
        super().__init__(reason)
        self.field = field
        self.extra = extra


class TooManyError(RefusedError):
    """Too many wrong tries; later it may be tried again."""


class AmbiguousTimeError(RefusedError):
    """A time has two meanings; ``extra['meanings']`` holds both."""


_BROKEN = {
    "uq_machines_shootout_id_name": (
        "name",
        "There is already a machine of this name (perhaps in the archive).",
    ),
    "uq_room_machines_name": (
        "name",
        "The store room has a machine of this name already: join them, or name this one apart.",
    ),
    "uq_room_tasks_name": ("name", "The store room has a task of this name in this app already."),
    "ck_room_machines_name_filled": ("name", "Fill in the name."),
    "ck_room_tasks_name_filled": ("name", "Fill in the name."),
    "uq_people_email": ("email", "There is an account with this address already."),
    "ck_setups_assumed_whole": (
        "assumed_ratio",
        "A claimed speed needs three things: how many times as fast, as which machine, the source.",
    ),
    "uq_free_rows_shootout_id_title": ("title", "The sheet has a row of this name already."),
    "uq_setups_machine_id_name": ("name", "This machine has a setup of this name already."),
    "uq_viewers_shootout_id_name": (
        "name",
        "There is already a viewer of this name (perhaps retired).",
    ),
    "uq_tasks_shootout_id_app_id_name": ("name", "This app has a task of this name already."),
    "uq_rounds_shootout_id_name": ("name", "A round of this name exists already."),
    "ck_runs_reason_given": ("reason", "Give a reason: it is kept with the run."),
    "ck_runs_reason_present": ("reason", "Give a reason: it is kept with the run."),
    "ck_inquiries_closed_with_outcome": (
        "outcome",
        "A closed inquiry needs what came out, and which runs count.",
    ),
    "ck_published_figures_pair_where_compared": (
        "setup_b_id",
        "A comparison needs two setups; a value alone needs one.",
    ),
    "ck_shootouts_edition_frozen": (
        "edition",
        "This is a published edition, which is never changed: change the shootout that it was "
        "made of, and publish another edition.",
    ),
    "ck_trials_own_kind_whole": ("own_kind", "Say what was tried: an own kind needs its name."),
    "ck_inquiry_seen_one_entry": ("step", "A step names one entry of the log at a time."),
    "ck_inquiry_steps_counts_at_the_end": (
        "counts",
        "Which runs count is said with what came out.",
    ),
    "ck_inquiry_steps_words_present": ("words", "Say in words what was done."),
    "ck_run_pictures_of_one_thing": ("file", "A picture belongs to one run or one entry."),
    "ck_trials_one_place": ("app", "The task says which app it is: leave one of them out."),
    "ck_troubles_one_place": ("app", "The task says which app it is: leave one of them out."),
    "ck_judgements_looked_at_something": ("part", "Say what was looked at."),
    "ck_judgements_about_two": ("part", "It is about one setup, two setups or two tasks."),
    "ck_judgements_two_setups": ("other_setup_id", "These are one setup: two are needed."),
    "ck_judgements_two_tasks": ("other_task_id", "These are one task: two are needed."),
    "ck_plan_parts_one_part": ("plan", "A part of a plan is a task, or a setup."),
    "ck_noted_ratios_two_setups": ("against_id", "A ratio is of two different setups."),
    "ck_runs_ok_has_value": ("typed", "A run that counts needs a time or an amount."),
}


_ENDINGS = ("_positive", "_range", "_filled", "_known", "_code", "_not_negative", "_whole")
"""Ends of the names of rules that are about one field, which stands before."""


_FULL = (
    "The disk of the database is full. Your last change was not saved; everything before "
    "it is safe. Make room on it, then try again."
)


@contextmanager
def transaction(database: Database) -> Iterator[Session]:
    """Give a session; what the store and the core refuse becomes a desk error."""
    try:
        with database.transaction() as session:
            yield session
    except MissingRowError as error:
        raise NotFoundError(f"There is no {error.what} {error.key}.") from error
    except StaleVersionError as error:
        raise StaleError(error.what, error.current) from error
    except IntegrityError as error:
        refusal = _refusal_of(error)
        if refusal is None:
            raise
        raise refusal from error
    except DataError as error:
        reason = "Something in it is not readable. Retype it, or leave out special characters."
        raise RefusedError("text", reason) from error
    except (DBAPIError, NoneFreeError) as error:
        away = _away(error, database)
        if away is None:
            raise
        raise away from error
    except QuantityError as error:
        raise RefusedError("typed", error.reason) from error
    except CoreError as error:
        raise RefusedError("value", error.reason) from error


def _away(error: DBAPIError | NoneFreeError, database: Database) -> DatabaseAwayError | None:
    """Say why nothing can be stored at all; None where this is no such failure."""
    if isinstance(error, DBAPIError) and isinstance(error.orig, DiskFull):
        return DiskFullError(_FULL)
    # A connection that was cut in the middle of an answer has no kind of error of its own.
    cut = isinstance(error, DBAPIError) and error.connection_invalidated
    if not cut and not isinstance(error, (OperationalError, NoneFreeError)):
        return None
    # A full disk ends a server and keeps it from starting; it cannot say so itself then.
    if not database.has_room():
        return DiskFullError(_FULL)
    return DatabaseAwayError(
        "The database is not answering. Your last change was not saved; try again in a minute."
    )


def _refusal_of(error: IntegrityError) -> RefusedError | None:
    """Say which rule was broken, by its constraint; None where it is none of ours."""
    name = constraint_of(error)
    if name in _BROKEN:
        return RefusedError(*_BROKEN[name])
    column = getattr(getattr(error.orig, "diag", None), "column_name", None)
    if not name and column:
        return RefusedError(column, say_filled(column))
    ending = next((each for each in _ENDINGS if name.endswith(each)), None)
    if ending is not None:
        field = name.split("_", 2)[-1].removesuffix(ending)
        return RefusedError(field, say_rule(name, field))
    if name.startswith("uq_"):
        # Looked for before, so somebody else has made it at the same moment.
        return RefusedError("name", "Someone just made this. Reload to see it.")
    return None
