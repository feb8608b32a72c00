"""The public page of an edition: everything from its frozen book, nothing from anywhere else."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from true_margin.core.numerals import PLAIN, writing
from true_margin.core.outside_numbers import read_decimal
from true_margin.core.wording import format_ratio
from true_margin.desk.book.book import Book
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.picks.picks import PickView, show_pick
from true_margin.desk.picks.viewers import tried
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.publish.card_choices import RULES
from true_margin.desk.publish.cards import draw, picture
from true_margin.desk.publish.editions import PublicEdition, read_edition
from true_margin.desk.publish.give_tables import table_of
from true_margin.desk.publish.reports import report_page
from true_margin.desk.publish.web_folder import (
    EditionFacts,
    Place,
    make_page,
    make_preview,
    page_paths,
    shared_file,
)
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.exchange.pack_public import without_files
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.tables import MEDIA, TableFormat, write_table
from true_margin.store import records
from true_margin.store.database import Database

_CARD = re.compile(r"^card-([0-9a-f-]{36})-(wide|tall|square)-(day|night|clear)\.(png|svg)$")
_TABLE = re.compile(r"^(results|specs|prices)\.(csv|xlsx|md|html)$")


MOST_PREDICTED = 4
"""Of so many tasks one run is predicted in a stranger's answer."""


@dataclass(frozen=True, slots=True)
class PublicFile:
    """A file of an edition."""

    content: bytes
    media_type: str


@dataclass(frozen=True, slots=True)
class WorkField:
    """A field of the form: how much of a task in a week."""

    key: str
    name: str
    unit: str
    value: str


@dataclass(frozen=True, slots=True)
class YourRow:
    """A setup at a stranger's work, in words."""

    label: str
    price: str
    speed: str
    upgrade: str
    flip: str
    why: str


@dataclass(frozen=True, slots=True)
class Yours:
    """The form as it was filled in, and its answer."""

    works: tuple[WorkField, ...]
    currency: str
    budget: str
    hour: str
    owned: str
    rule: str
    setups: tuple[tuple[str, str], ...]
    rules: tuple[tuple[str, str], ...]
    sentences: tuple[str, ...]
    problem: str | None
    rows: tuple[YourRow, ...]


def public_page(
    database: Database, token: str, number: int | None, asked: Mapping[str, str]
) -> str:
    """The front page of an edition, with the answer to what a stranger asked of it.

    Raises:
        NotFoundError: the link leads nowhere.
    """
    found = read_edition(database, token, number)
    if asked:
        return _front(found, token, asked)
    # Most ask for nothing of their own; all that can still change is which editions there are.
    key = ("html", token, len(found.every))
    return found.book.cached(key, lambda: _front(found, token, asked))


def _front(edition: PublicEdition, token: str, asked: Mapping[str, str]) -> str:
    yours = _yours(edition.book, asked)
    return make_page(edition.book, _facts(edition), "index.html", _place(edition, token), yours)


def _facts(edition: PublicEdition) -> EditionFacts:
    return EditionFacts(edition.edition.number, edition.every)


def _place(edition: PublicEdition, token: str) -> Place:
    """Where the pages of the app stand: at the link."""
    root = f"/p/{token}/{edition.edition.number}/"
    return Place(root, edition=lambda number: f"/p/{token}/{number}")


def site_file(database: Database, token: str, number: int, path: str) -> PublicFile:
    """A page or a shared file of an edition, by its path in the folder.

    Raises:
        NotFoundError: the link leads nowhere, or there is no such file.
    """
    found = read_edition(database, token, number)
    key = ("site", token, path, len(found.every))
    return found.book.cached(key, lambda: _site_file(found, token, path))


def _site_file(found: PublicEdition, token: str, path: str) -> PublicFile:
    shared = shared_file(path)
    if shared is not None:
        kind = "text/css; charset=utf-8" if path.endswith(".css") else "font/ttf"
        return PublicFile(shared, kind)
    if path == "og/index.png":
        return PublicFile(make_preview(found.book, _facts(found)), "image/png")
    if path not in page_paths(found.book):
        raise NotFoundError("There is nothing at this address.")
    page = make_page(found.book, _facts(found), path, _place(found, token))
    kind = "application/atom+xml" if path.endswith(".xml") else "text/html; charset=utf-8"
    return PublicFile(page.encode(), kind)


@writing(PLAIN)
def public_file(database: Database, token: str, number: int, name: str) -> PublicFile:
    """A file of an edition by name.

    Raises:
        NotFoundError: the link leads nowhere, or there is no such file.
    """
    found = read_edition(database, token, number)
    return edition_file(database, found.book, name)


def edition_file(database: Database, book: Book, name: str) -> PublicFile:
    """A file of an edition's book by name, made once.

    Raises:
        NotFoundError: there is no such file.
    """
    return book.cached(("file", name), lambda: _file(database, book, name))


def _file(database: Database, book: Book, name: str) -> PublicFile:
    if (table := _TABLE.match(name)) is not None:
        kind = TableFormat(table[2])
        return PublicFile(write_table(table_of(book, table[1]), kind), MEDIA[kind])
    if (card := _CARD.match(name)) is not None:
        kept = next((each for each in book.cards if str(each.id) == card[1]), None)
        if kept is None:
            raise NotFoundError("There is nothing at this address.")
        shape, look = Shape(card[2]), LookName(card[3])
        if card[4] == "svg":
            return PublicFile(draw(book, kept, shape, look).svg.encode(), "image/svg+xml")
        return PublicFile(picture(book, kept, shape, look), "image/png")
    if name == "report.html":
        page = report_page(database.reader, book)
        return PublicFile(page.encode(), "text/html; charset=utf-8")
    if name == "pack.zip":
        pack = without_files(pack_out.export_pack(database.reader, book.shootout.slug))
        return PublicFile(zip_files(write_pack(pack)), "application/zip")
    raise NotFoundError("There is nothing at this address.")


def _yours(book: Book, asked: Mapping[str, str]) -> Yours:
    timed = [task for task in book.tasks if not task.superseded]
    works = tuple(
        WorkField(f"work{at}", task.name, _unit(task), asked.get(f"work{at}", ""))
        for at, task in enumerate(timed)
    )
    problem, view = None, None
    if any(field.value.strip() for field in works):
        try:
            view = show_pick(book, tried(book, _viewer(book, timed, asked)), {})
        except RefusedError as error:
            problem = error.reason
    elif asked:
        problem = "Say how much of some work you do in a week."
    sentences: tuple[str, ...] = ()
    if view is not None and view.picked is not None:
        told = (view.picked.sentence, view.picked.level, view.picked.second)
        sentences = (
            *(each for each in told if each),
            *(run.words for run in view.predicted[:MOST_PREDICTED]),
            *((view.samples,) if view.samples else ()),
        )
    elif view is not None:
        problem = view.problem.words if view.problem else "No pick can be made for this work."
    return Yours(
        works,
        book.shootout.currency,
        asked.get("budget", ""),
        asked.get("hour", ""),
        asked.get("owned", ""),
        asked.get("rule", "fastest"),
        tuple((s.label, s.label) for s in book.setups),
        tuple((key, words) for key, words in RULES.items() if key != "enough"),
        sentences,
        problem,
        tuple(_rows(view)) if view is not None else (),
    )


def _unit(task: records.Task) -> str:
    if task.work is None:
        return "runs"
    return "minutes" if task.unit in ("s", None) else task.unit


def _viewer(book: Book, timed: list[records.Task], asked: Mapping[str, str]) -> dict[str, Any]:
    parts = []
    for at, task in enumerate(timed):
        amount = _number(asked.get(f"work{at}", ""), f"{task.name}: how much in a week")
        if amount:
            seconds = task.work is not None and task.unit in ("s", None)
            parts.append(
                {
                    "task_id": task.id,
                    "weight": 0.0,
                    "accepted_s": None,
                    "by_run": task.work is None,
                    "amount": float(amount) * (60 if seconds else 1),
                }
            )
    owned = asked.get("owned", "")
    # By name, so that an address with somebody's own answer holds for the next edition too.
    known = {setup.label: setup.id for setup in book.setups}
    if owned and owned not in known:
        raise RefusedError("owned", "Choose your machine from the list.")
    rule = asked.get("rule", "fastest")
    if rule not in RULES:
        raise RefusedError("rule", "Pick by one of the listed rules.")
    return {
        "weekly": True,
        "rule": rule,
        "currency": book.shootout.currency,
        "budget": _number(asked.get("budget", ""), "Budget"),
        "hour_value": _number(asked.get("hour", ""), "What an hour is worth") or Decimal(0),
        "owned_setup_id": known.get(owned),
        "tasks": parts,
    }


def _number(text: str, what: str) -> Decimal | None:
    plain = re.sub(r"\s", "", text).replace(",", ".")
    if not plain:
        return None
    number = read_decimal(plain)
    if number is None or number >= 10**9:
        raise RefusedError("work", f"{what}: type a number, like 60.")
    return number


def _rows(view: PickView) -> Iterator[YourRow]:
    for row in view.rows:
        price = "" if row.price.amount is None else say_money(row.price.amount, view.currency)
        speed = f"{format_ratio(row.ratio)}×, {format_ratio(row.lo)} to {format_ratio(row.hi)}"
        upgrade = (
            "" if row.upgrade is None else f"{row.upgrade.words.hours}; {row.upgrade.words.payback}"
        )
        yield YourRow(
            row.label,
            price,
            "1×" if row.lo == row.hi else speed,
            upgrade,
            "" if row.flip is None else row.flip.words,
            row.why or "",
        )
