"""Viewers: made, changed, copied, retired; their picks, tried ones, and all of them at once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from datetime import UTC, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.currencies import minor_unit
from true_margin.core.errors import QuantityError
from true_margin.core.money import RateMissingError, check_currency
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.needs import read_needs
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.picks.picks import PickProblem, PickView, show_pick
from true_margin.desk.picks.solve import Prices, check_viewer, speeds_of
from true_margin.desk.picks.viewer_prices import machine_part
from true_margin.store import lineup, records, shootouts, viewers
from true_margin.store.database import Database
from true_margin.store.records.viewers import Viewer, ViewerTask

MOST_VIEWERS = 60
DEFAULTS: dict[str, Any] = {
    "weekly": False,
    "rule": "fastest",
    "region": None,
    "tax_percent": None,
    "budget": None,
    "owned_setup_id": None,
    "resale": Decimal(0),
    "hour_value": Decimal(20),
    "attended": 0.5,
    "weeks": 48.0,
    "horizon_years": 3.0,
    "energy_price": None,
    "needs": [],
}


@dataclass(frozen=True, slots=True)
class PickPoint:
    """One setup in a small picture of price against speed."""

    setup_id: UUID
    label: str
    price: Decimal
    ratio: float
    frontier: bool
    picked: bool
    open: bool


@dataclass(frozen=True, slots=True)
class ViewerCard:
    """A viewer with the pick in short; ``problem`` where there is none."""

    viewer: Viewer
    pick: str | None
    keep: bool
    prob_best: float | None
    sentence: str | None
    problem: PickProblem | None
    points: tuple[PickPoint, ...]


def list_cards(database: Database, slug: str) -> tuple[ViewerCard, ...]:
    """Every viewer's pick, in the order of viewers; retired ones last, without one."""
    book = SHELF.take(database, slug)
    active = [viewer for viewer in book.viewers if viewer.retired_at is None]
    retired = [viewer for viewer in book.viewers if viewer.retired_at is not None]
    return (
        *(_card(book, viewer) for viewer in active),
        *(ViewerCard(viewer, None, False, None, None, None, ()) for viewer in retired),
    )


def _card(book: Book, viewer: Viewer) -> ViewerCard:
    view = answer(book, viewer)
    picked = view.picked
    points = tuple(
        PickPoint(
            row.setup_id,
            row.label,
            row.price.amount,
            row.ratio,
            row.frontier,
            picked is not None and row.setup_id == picked.setup_id,
            row.open,
        )
        for row in view.rows
        if row.price.amount is not None
    )
    return ViewerCard(
        viewer,
        None if picked is None else picked.label,
        picked is not None and picked.keep,
        None if picked is None else picked.prob_best,
        None if picked is None else picked.sentence,
        view.problem,
        points,
    )


def answer(book: Book, viewer: Viewer) -> PickView:
    """The pick of a stored viewer, worked out once for a book."""
    return book.cached(("pick", viewer.id), lambda: _pick(book, viewer))


def _pick(book: Book, viewer: Viewer) -> PickView:
    try:
        return show_pick(book, viewer)
    except RefusedError as error:
        # A viewer that was stored may ask for what a changed shootout cannot give.
        problem = PickProblem(error.field, error.reason)
        return PickView(viewer.currency, None, (), None, problem, (), (), (), (), (), (), None, ())


def show_viewer(database: Database, slug: str, viewer_id: UUID) -> PickView:
    """The pick of a viewer by id."""
    book = SHELF.take(database, slug)
    return answer(book, find_viewer(book, viewer_id))


def find_viewer(book: Book, viewer_id: UUID) -> Viewer:
    """A viewer of a book by id.

    Raises:
        NotFoundError: there is none.
    """
    found = next((viewer for viewer in book.viewers if viewer.id == viewer_id), None)
    if found is None:
        raise NotFoundError(f"There is no viewer {viewer_id} in this shootout.")
    return found


def try_viewer(database: Database, slug: str, asked: Mapping[str, Any], prices: Prices) -> PickView:
    """The pick of a viewer who may not be stored, at prices that may not be; stores nothing."""
    book = SHELF.take(database, slug)
    return show_pick(book, tried(book, asked), checked_prices(book, asked["currency"], prices))


def tried(book: Book, asked: Mapping[str, Any]) -> Viewer:
    """A viewer as asked for, without being stored.

    Raises:
        RefusedError: with the field.
    """
    own = {"name": "tried", **DEFAULTS, **asked}
    _check_currency(own["currency"])
    _check_owned(book, own)
    parts = tuple(ViewerTask(**part) for part in own.pop("tasks", ()))
    needs = read_needs(own.pop("needs"), book.free_rows)
    known = {field.name for field in fields(Viewer)}
    return Viewer(
        **{k: v for k, v in own.items() if k in known and k not in ("id", "version", "position")},
        id=UUID(int=0),
        position=0,
        version=1,
        retired_at=None,
        needs=needs,
        tasks=parts,
    )


def checked_prices(book: Book, currency: str, prices: Prices) -> dict[UUID, Decimal]:
    """Prices to try, by setup as tested, as prices of their machines.

    Each is of a setup in the line-up, 0 or more, taken to the minor unit; its extras cost what
    they cost.

    Raises:
        RefusedError: one of them is none.
    """
    found = {}
    for key, amount in prices.items():
        at = book.setup_index.get(key)
        if at is None:
            raise RefusedError("prices", "A price to try is of a setup outside this line-up.")
        setup = book.setups[at]
        if not (amount.is_finite() and 0 <= amount < 10**9):
            raise RefusedError("prices", f"{setup.label}: a price must be 0 or more.")
        try:
            machine = machine_part(book, currency, setup, amount)
        except RateMissingError as error:
            raise RefusedError("prices", f"{setup.label}: {error.reason}.") from error
        found[book.machine_of[key].id] = machine.quantize(minor_unit(currency))
    return found


def _check_currency(currency: str) -> None:
    try:
        check_currency(currency)
    except QuantityError as error:
        raise RefusedError("currency", error.reason) from error


def _check_owned(book: Book, fields_: Mapping[str, Any]) -> None:
    owned = fields_.get("owned_setup_id")
    if owned is not None and owned not in book.setup_index:
        raise RefusedError("owned_setup_id", "The current machine must be a setup of this line-up.")


def add_viewer(
    database: Database, slug: str, asked: Mapping[str, Any], copy_from: UUID | None
) -> Viewer:
    """Add a viewer, as asked for over what is usual; or like another one."""
    book = SHELF.take(database, slug)
    if sum(viewer.retired_at is None for viewer in book.viewers) >= MOST_VIEWERS:
        reason = f"{MOST_VIEWERS} viewers are the most: retire one first."
        raise RefusedError("name", reason)
    own: dict[str, Any] = {**DEFAULTS, "currency": book.shootout.currency}
    parts: Sequence[Mapping[str, Any]] = (
        [
            {
                "task_id": task.id,
                "weight": weight,
                "amount": 0.0,
                "by_run": False,
                "accepted_s": None,
            }
            for task, weight in zip(book.tasks, analysis_of(book).study.mix, strict=True)
        ]
        if book.tasks
        else []
    )
    if copy_from is not None:
        source = find_viewer(book, copy_from)
        own |= {name: getattr(source, name) for name in (*DEFAULTS, "currency")}
        parts = [_part(each) for each in source.tasks]
    own |= asked
    known = {part["task_id"]: part for part in parts}
    asked_parts = own.pop("tasks", None)
    if asked_parts is not None:
        parts = _whole_parts(book, asked_parts, known if copy_from is not None else {})
    if "needs" in asked:
        own["needs"] = read_needs(asked["needs"], book.free_rows)
    _check_currency(own["currency"])
    _check_owned(book, own)
    speeds_of(book, check_viewer(book, _as_record(own, parts)))
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, home.id, rest=False)
        key = viewers.add_viewer(session, home.id, own)
        viewers.set_tasks(session, key, parts)
        return _one(session, home.id, key)


def _whole_parts(
    book: Book, asked: Sequence[Mapping[str, Any]], known: Mapping[UUID, Mapping[str, Any]]
) -> list[dict[str, Any]]:
    """Parts with every field; those that were left out stay as they are known.

    Raises:
        RefusedError: a task is not timed in this shootout.
    """
    nothing = {"weight": 0.0, "amount": 0.0, "by_run": False, "accepted_s": None}
    if not {part["task_id"] for part in asked} <= set(book.task_index):
        raise RefusedError("tasks", "A task is not timed in this shootout.")
    return [{**nothing, **known.get(part["task_id"], {}), **part} for part in asked]


def _part(part: ViewerTask) -> dict[str, Any]:
    return {field.name: getattr(part, field.name) for field in fields(ViewerTask)}


def _as_record(fields_: Mapping[str, Any], parts: Sequence[Mapping[str, Any]]) -> Viewer:
    return Viewer(
        **fields_,
        id=UUID(int=0),
        position=0,
        version=1,
        retired_at=None,
        tasks=tuple(ViewerTask(**part) for part in parts),
    )


def _one(session: Session, home: UUID, key: UUID) -> Viewer:
    return next(viewer for viewer in viewers.list_viewers(session, home) if viewer.id == key)


def change_viewer(
    database: Database, viewer_id: UUID, version: int, changes: Mapping[str, Any]
) -> Viewer:
    """Change a viewer that nobody else changed meanwhile."""
    with transaction(database) as session:
        home = viewers.viewer_home(session, viewer_id)
        slug = shootouts.slug_of(session, home)
    book = SHELF.take(database, slug)
    before = find_viewer(book, viewer_id)
    own = dict(changes)
    parts = own.pop("tasks", None)
    if "needs" in own:
        own["needs"] = read_needs(own["needs"], book.free_rows)
    if "currency" in own:
        _check_currency(own["currency"])
    _check_owned(book, own)
    after = replace(before, **own)
    if parts is not None:
        known = {part.task_id: part for part in before.tasks}
        parts = _whole_parts(book, parts, {key: _part(part) for key, part in known.items()})
        known |= {part["task_id"]: ViewerTask(**part) for part in parts}
        after = replace(after, tasks=tuple(known.values()))
    speeds_of(book, check_viewer(book, after))
    with transaction(database) as session:
        shootouts.bump_revision(session, home, rest=False)
        viewers.change_viewer(session, _one(session, home, viewer_id), version, own)
        if parts is not None:
            viewers.set_tasks(session, viewer_id, parts)
        return _one(session, home, viewer_id)


def retire_viewer(database: Database, viewer_id: UUID, *, retired: bool) -> Viewer:
    """Retire a viewer, or bring it back; nothing of it is lost."""
    with transaction(database) as session:
        home = viewers.viewer_home(session, viewer_id)
        shootouts.bump_revision(session, home, rest=False)
        viewers.retire_viewer(session, viewer_id, datetime.now(UTC) if retired else None)
        return _one(session, home, viewer_id)


def order_viewers(database: Database, slug: str, viewer_ids: Sequence[UUID]) -> None:
    """Put the viewers that are not retired in this order.

    Raises:
        RefusedError: the list does not name each of them once.
    """
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, home.id, rest=False)
        standing = {
            viewer.id
            for viewer in viewers.list_viewers(session, home.id)
            if viewer.retired_at is None
        }
        if set(viewer_ids) != standing or len(viewer_ids) != len(standing):
            reason = "The order must name every viewer once; there may be a new one."
            raise RefusedError("viewer_ids", reason)
        viewers.order_viewers(session, viewer_ids)


def keep_prices(
    database: Database, slug: str, viewer_id: UUID, prices: Prices
) -> tuple[records.Machine, ...]:
    """Store tried prices as new price records of the price date; earlier ones stay."""
    book = SHELF.take(database, slug)
    viewer = find_viewer(book, viewer_id)
    wanted = checked_prices(book, viewer.currency, prices)
    kind = book.shootout.price_kind
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id)
        for key, amount in wanted.items():
            lineup.add_price(
                session,
                key,
                {
                    "kind": kind,
                    "amount": amount,
                    "currency": viewer.currency,
                    "dated": book.shootout.price_date,
                    "source": f"kept in Picks for {viewer.name}",
                    "region": viewer.region,
                },
            )
        return tuple(
            machine
            for machine in lineup.list_machines(session, book.shootout.id)
            if machine.id in wanted
        )
