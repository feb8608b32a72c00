"""An answer for every machine that somebody may own and every kind of viewer.

Each is worked out by Picks itself: a kept viewer with another machine as the current one. What a
page says is gathered here as plain values; nothing on it is worked out by a template.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from decimal import Decimal
from uuid import UUID

from true_margin.core.numerals import say_day, short
from true_margin.core.upgrade import PaybackKind
from true_margin.core.wording import count_of, format_elapsed, say_time
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.margins import LadderView, ladder_of
from true_margin.desk.picks.picks import Picked, PickView, show_pick
from true_margin.desk.picks.rows import PickRow, UpgradeView, gains_nothing
from true_margin.desk.picks.viewers import answer as stored_answer
from true_margin.desk.picks.words.answer import say_no_gain, with_article
from true_margin.desk.picks.words.money import say_money, say_round, years_of
from true_margin.desk.picks.words.prices import say_flip_clause
from true_margin.desk.publish.answer_weeks import (
    NEAR,
    WeekLine,
    other_weeks,
    runs_a_week,
    say_assumed,
    week_lines,
)
from true_margin.desk.publish.owned_machines import Owned, has_owned
from true_margin.exchange.pack_public import is_private
from true_margin.store import records
from true_margin.store.records.viewers import Viewer

NO_GAIN = "Nothing gained for sure"
"""How sure it is, in words, that the pick gains anything on the machine that somebody has."""


@dataclass(frozen=True, slots=True)
class Duo:
    """Two bars from nought: one job on the current machine, and on the one that is picked.

    ``share`` and ``pick_share`` are of the longer one; ``saved`` is what lies between them in
    words, empty where it is nothing.
    """

    job: str
    own: str
    own_time: str
    own_share: float
    pick: str
    pick_time: str
    pick_share: float
    saved: str


@dataclass(frozen=True, slots=True)
class Shop:
    """Where it can be had; ``paid`` says whether the link earns the reviewer money."""

    label: str
    link: str
    paid: bool


@dataclass(frozen=True, slots=True)
class Answer:
    """What one kind of viewer with one machine should do, and everything that it rests on."""

    key: str
    kind: str
    owned: str
    order: str
    price: str
    why: tuple[str, ...]
    surety: str
    surety_whole: str
    short: str
    duo: Duo | None
    worth: tuple[str, ...]
    assumed: str
    week: tuple[WeekLine, ...]
    waiting: WeekLine | None
    better: tuple[str, ...]
    worse: tuple[str, ...]
    changes: tuple[str, ...]
    waits: tuple[str, ...]
    shop: Shop | None
    no_gain: bool
    problem: bool


def answer_for(book: Book, owned: Owned, key: str, viewer: Viewer) -> Answer:
    """The answer of one kind of viewer with one machine, worked out once for a book."""
    return book.cached(("public answer", owned.key, key), lambda: _answer(book, owned, key, viewer))


def _answer(book: Book, owned: Owned, key: str, viewer: Viewer) -> Answer:
    own_id = None if owned.setup is None else owned.setup.id
    asked = viewer
    try:
        if has_owned(book, viewer, owned):
            view = stored_answer(book, viewer)
        else:
            # What another's machine would sell for is not known: then it sells for nothing.
            asked = replace(viewer, owned_setup_id=own_id, resale=Decimal(0))
            view = show_pick(book, asked, predict=False, near=NEAR)
    except RefusedError as error:
        return _without(owned, key, viewer, error.reason)
    if view.picked is None:
        words = "Nothing can be said yet." if view.problem is None else view.problem.words
        return _without(owned, key, viewer, words)
    return _with_pick(book, owned, key, asked, view, view.picked)


def _without(owned: Owned, key: str, viewer: Viewer, why: str) -> Answer:
    return Answer(
        key,
        viewer.name,
        owned.label,
        "No answer yet",
        "",
        (why,),
        "",
        "",
        why,
        None,
        (),
        "",
        (),
        None,
        (),
        (),
        (),
        (),
        None,
        no_gain=False,
        problem=True,
    )


def _with_pick(
    book: Book, owned: Owned, key: str, viewer: Viewer, view: PickView, picked: Picked
) -> Answer:
    row = next((each for each in view.rows if each.setup_id == picked.setup_id), None)
    own = None if owned.setup is None else owned.setup
    duo = None if own is None or picked.keep else _duo(book, viewer, own.id, picked.setup_id)
    lead = _lead(duo)
    order = picked.what.split(", ")[0] if not picked.keep else picked.what
    upgrade = None if row is None or picked.keep else row.upgrade
    unknown = _not_known(own, picked, row)
    why = tuple(each for each in (lead, picked.reason, unknown) if each)
    worth = () if upgrade is None or not viewer.weekly else tuple(_worth(upgrade, viewer))
    brief = lead or picked.reason
    if upgrade is not None and viewer.weekly and upgrade.words.payback_span:
        brief = f"{brief} Pays for itself in {upgrade.words.payback_span}."
    week, waiting = week_lines(book, viewer, own, picked)
    if own is not None and upgrade is not None and gains_nothing(upgrade):
        said = _no_gain(viewer, view, picked, upgrade, own, waiting)
        order, why, worth = f"Keep your {own.machine}", said[:1], said[1:]
        surety, price, brief = (NO_GAIN, NO_GAIN), "", said[0]
    else:
        surety = (picked.surety.split(" (")[0], picked.surety)
        price = "" if picked.keep else say_money(picked.price, view.currency)
    return Answer(
        key,
        viewer.name,
        owned.label,
        order,
        price,
        why,
        *surety,
        brief,
        duo,
        worth,
        say_assumed(viewer) if worth else "",
        week,
        waiting,
        () if row is None or row.besides is None else row.besides.better,
        () if row is None or row.besides is None else row.besides.worse,
        (*other_weeks(book, viewer, picked), *_changes(book, viewer.currency, view, picked)),
        tuple(each.words for each in view.waits),
        _shop(book, row),
        no_gain=surety[0] == NO_GAIN,
        problem=False,
    )


def _no_gain(
    viewer: Viewer,
    view: PickView,
    picked: Picked,
    upgrade: UpgradeView,
    own: records.Setup,
    waiting: WeekLine | None,
) -> tuple[str, ...]:
    """Why to keep what one has where the pick is not shown to save any time against it.

    Picks takes the faster of two that may be equal; to whoever would have to pay for it, that is
    no reason. What it might save is told beside it.
    """
    name = with_article(picked.label)
    said = [say_no_gain(picked.label, own.machine)]
    if not viewer.weekly:
        return tuple(said)
    if waiting is not None:
        said.append(f"Your work waits {waiting.own} a week.")
    saved, price = upgrade.saved_week.value, say_money(picked.price, view.currency)
    name = f"{name[0].upper()}{name[1:]}"
    said.append(
        f"{name} would take about {say_hours(saved)} off that, for {price}."
        if saved > 0
        else f"{name}, {price}, would not shorten that."
    )
    return tuple(said)


def _worth(upgrade: UpgradeView, viewer: Viewer) -> Iterator[str]:
    """What the change gives back, when it has paid for itself, and what is left in the end."""
    week, year = upgrade.saved_week.value, upgrade.saved_year.value
    if week > 0:
        yield f"It gives back {say_hours(week)} a week, {say_hours(year)} a year."
    if upgrade.payback_reason is PaybackKind.NOT_SURE:
        yield f"Whether it pays for itself is {upgrade.words.payback}."
    else:
        yield f"It {upgrade.words.payback}."
    left, years = upgrade.net_worth.value, years_of(viewer.horizon_years)
    money = say_round(abs(left), viewer.currency)
    if left >= 0:
        yield f"After {years} you are {money} better off."
    else:
        yield f"After {years} you are still {money} short of its price."


def say_hours(hours: float) -> str:
    """A length of time in the unit that a person would use."""
    if 3600 * hours < 90:
        # Rounded up to a minute, a few seconds would be worth six times what they are.
        return count_of(round(3600 * hours), "second")
    if hours < 1.5:
        return count_of(round(60 * hours), "minute")
    return f"{short(hours, 2)} hours" if hours < 10 else f"{round(hours)} hours"


def _lead(duo: Duo | None) -> str:
    """What the pick does to the job that is waited for most."""
    if duo is None or not duo.saved:
        return ""
    return f"{duo.job} takes {duo.pick_time} instead of {duo.own_time}."


def _not_known(own: records.Setup | None, picked: Picked, row: PickRow | None) -> str:
    """Where the current machine did not do all of this work, no saving can be said."""
    if own is None or picked.keep or row is None or row.upgrade is not None:
        return ""
    return f"How much faster than your {own.machine} is not known: it did not do all of this work."


def lead_task(book: Book, viewer: Viewer) -> records.Task | None:
    """The timed job that most of a viewer's waiting is for, whatever machine they have."""
    best: tuple[float, records.Task] | None = None
    for part in viewer.tasks:
        at = book.task_index.get(part.task_id)
        weight = part.amount if viewer.weekly else part.weight
        if at is None or weight <= 0 or book.tasks[at].measure != "time":
            continue
        rows = ladder_of(book, str(part.task_id)).rows
        slowest = max((row.typical for row in rows if row.typical is not None), default=0.0)
        waited = slowest * (runs_a_week(book, part) if viewer.weekly else weight)
        if waited > 0 and (best is None or waited > best[0]):
            best = (waited, book.tasks[at])
    return None if best is None else best[1]


def _duo(book: Book, viewer: Viewer, own: UUID, pick: UUID) -> Duo | None:
    """The job that most of the week's waiting is for, where both machines did it."""
    best: tuple[float, Duo] | None = None
    for part in viewer.tasks:
        at = book.task_index.get(part.task_id)
        weight = part.amount if viewer.weekly else part.weight
        if at is None or weight <= 0:
            continue
        view = ladder_of(book, str(part.task_id))
        times = {row.setup_id: row for row in view.rows}
        mine, theirs = times.get(own), times.get(pick)
        if view.measure != "time" or mine is None or theirs is None:
            continue
        if mine.typical is None or theirs.typical is None:
            continue
        waited = mine.typical * (runs_a_week(book, part) if viewer.weekly else weight)
        if best is None or waited > best[0]:
            best = (waited, _duo_of(view, mine.typical, theirs.typical, (mine.label, theirs.label)))
    return None if best is None else best[1]


def _duo_of(view: LadderView, own: float, pick: float, labels: tuple[str, str]) -> Duo:
    longer = max(own, pick)
    saved = own - pick
    return Duo(
        view.title,
        labels[0],
        say_time(own),
        own / longer,
        labels[1],
        say_time(pick),
        pick / longer,
        f"{format_elapsed(saved)} less" if saved > 0.02 * own else "",
    )


def _changes(book: Book, currency: str, view: PickView, picked: Picked) -> Iterator[str]:
    """What would change the answer: who is as good, who is next, and at which prices."""
    yield from (each for each in (picked.level, picked.second) if each)
    for row in view.rows:
        flip = row.flip
        if flip is None or flip.price is None or not row.open or row.setup_id == picked.setup_id:
            continue
        # How surely is told in the app; a sentence on a page bears two numbers.
        clause = say_flip_clause(
            flip.price, currency, endless=flip.endless, bounded=flip.bounded, is_pick=False
        )
        yield f"{row.label} {clause}."
    names = {machine.id: machine.name for machine in book.machines}
    for offer in view.offers:
        if offer.changes:
            # A page is read on any day: the day itself, not how many are left.
            day = say_day(offer.until)
            yield f"The {names[offer.machine_id]} offer ends on {day}; then it is {offer.then}."


def _shop(book: Book, row: PickRow | None) -> Shop | None:
    """The link of the price that counts."""
    if row is None or row.price.record_id is None:
        return None
    known = (each for machine in book.machines for each in machine.prices)
    found = next((each for each in known if each.id == row.price.record_id), None)
    return None if found is None else _shop_of(found, row.label)


def _shop_of(price: records.Price, label: str) -> Shop | None:
    """The shop of a price; None where it has no link that a page may carry."""
    link = price.link or ""
    if is_private(link) or not link.startswith(("https://", "http://")):
        return None
    return Shop(price.source or label, link, paid=bool(price.paid_link))


def shops_of(book: Book) -> Iterator[tuple[str, Shop]]:
    """Every shop of the prices that stand, with the machine that it sells."""
    for machine in book.machines:
        for price in machine.prices:
            shop = None if price.withdrawn_at else _shop_of(price, machine.name)
            if shop is not None:
                yield machine.name, shop
