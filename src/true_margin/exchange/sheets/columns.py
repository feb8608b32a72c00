"""What each column of a sheet is: a task, a spec, a price; understood, or asked about."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from true_margin.core.entry_line import MatchState, match_name
from true_margin.core.money import currencies_of, split_currency
from true_margin.core.numerals import Numerals
from true_margin.core.spec_rows import SPECS, STATES
from true_margin.core.specs import CellKind as RowKind
from true_margin.core.specs import Spec, find_spec
from true_margin.core.typed_numbers import signs_of_column
from true_margin.exchange.sheets.words import (
    TIME_UNITS,
    CellKind,
    Head,
    kind_of,
    names_an_amount,
    read_head,
    unit_of,
)


class Means(StrEnum):
    """What a column can be understood as."""

    MACHINE = "machine"
    TASK = "task"
    TASK_NAME = "task name"
    RESULT = "result"
    SPEC = "spec"
    PRICE = "price"
    ROUND = "round"
    DAY = "day"
    READING = "reading"
    STATUS = "status"
    ORDER = "order"
    NOTE = "note"
    RATIO = "ratio"
    OUT = "leave out"
    ASK = "which one?"


_NAMES: dict[Means, frozenset[str]] = {
    Means.MACHINE: frozenset(
        {"setup", "machine", "computer", "laptop", "desktop", "system under test", "device"}
        | {"name", "pc", "unit", "sample"}
    ),
    Means.TASK_NAME: frozenset({"task", "test", "timeline", "project", "workload"}),
    Means.RESULT: frozenset(
        {"value", "time", "elapsed", "duration", "result", "seconds", "time s", "measured"}
    ),
    Means.ROUND: frozenset(
        {"round", "bench day", "session", "sess", "version", "app version", "build"}
    ),
    Means.DAY: frozenset(
        {"date", "day", "tested", "tested on", "when", "dated", "price date", "as of"}
    ),
    Means.READING: frozenset({"reading", "method", "how timed", "source"}),
    Means.STATUS: frozenset({"status", "state", "outcome"}),
    Means.ORDER: frozenset({"order", "run", "run no", "run #", "number", "no", "#", "attempt"}),
    Means.NOTE: frozenset({"note", "notes", "comment", "comments", "remark", "remarks", "reason"}),
}
_PRICE = re.compile(r"\b(?:price|prices|cost|costs|list|street|paid|msrp|rrp)\b", re.IGNORECASE)
_LASTS = re.compile(r"\b(?:battery|runtime|run time|uptime|lasts?|life)\b", re.IGNORECASE)
_AGAINST = re.compile(
    r"^(?:.*?\b(?:vs\.?|versus|against|over|compared (?:to|with)|relative to|than)|[Δ∆])"
    r"\s*(?P<b>.+)$",
    re.IGNORECASE,
)
_ONE_EACH = frozenset(
    {Means.MACHINE, Means.TASK_NAME, Means.RESULT, Means.ROUND, Means.DAY, Means.READING}
    | {Means.STATUS, Means.ORDER}
)
"""What no two columns can be."""


@dataclass(frozen=True, slots=True)
class ColumnReading:
    """How a column is read.

    Attributes:
        means: what it is.
        name: of the task, the spec row, or the machine that it compares with.
        spec: field of a known spec row; None for a row that would be made.
        measure: of a task: ``time`` or ``amount``.
        unit: of a time as its cells have it (``s``, ``min``, ``min:s`` and the like), of an
            amount or a spec; empty where the cells say it, or nothing does.
        currency: of a price.
        decimals: the sign before decimals, ``.`` or ``,``, where a person said so.
        task: that ratios are of; empty where the sheet does not tell.
    """

    means: Means
    name: str = ""
    spec: str | None = None
    measure: str = ""
    unit: str = ""
    currency: str = ""
    decimals: str = ""
    task: str = ""


@dataclass(frozen=True, slots=True)
class Column:
    """A column and how it is understood.

    Attributes:
        place: from 0.
        head: as it stands in the text.
        reading: how it is read.
        question: what a person must say first; None where nothing is open.
        choices: answers to the question.
    """

    place: int
    head: str
    reading: ColumnReading
    question: str | None = None
    choices: tuple[ColumnReading, ...] = ()


@dataclass(frozen=True, slots=True)
class KnownTask:
    """A task that the shootout has."""

    name: str
    measure: str
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Known:
    """What a shootout has already; empty for one that is yet to be made.

    Attributes:
        setups: their names.
        tasks: those that are timed or counted.
        rows: of the spec sheet, for machines.
        currency: of the shootout.
        signs: of the reader.
    """

    setups: tuple[str, ...] = ()
    tasks: tuple[KnownTask, ...] = ()
    rows: tuple[Spec, ...] = SPECS
    currency: str = "EUR"
    signs: Numerals = field(default_factory=Numerals)


def guess_head(text: str, known: Known) -> str | None:
    """What a head, or a name, is known as; for finding which way a sheet lies."""
    head = read_head(text)
    plain = _plain(head.name)
    if not plain:
        return None
    for means, names in _NAMES.items():
        if plain in names:
            return {"machine": "setup"}.get(means.value, means.value)
    if _exact(head.name, known.setups):
        return "machine"
    if _exact(head.name, [task.name for task in known.tasks]):
        return "task"
    if find_spec(head.name, (*known.rows, *STATES)) is not None:
        return "spec"
    if _is_price(head):
        return "price"
    return None


def understand_columns(
    heads: Sequence[str], rows: Sequence[Sequence[str]], known: Known
) -> tuple[Column, ...]:
    """Say what each column is, by its head first and by its cells where that does not tell.

    Args:
        heads: of the columns.
        rows: cells; each as many as heads.
        known: what the shootout has.
    """
    named = [_by_name(read_head(head)) for head in heads]
    found: list[ColumnReading | None] = []
    for means in named:
        taken = {each.means for each in found if each is not None}
        free = means is not None and not (means in _ONE_EACH and means in taken)
        found.append(ColumnReading(means) if free and means is not None else None)
    long_form = {Means.TASK_NAME, Means.RESULT} <= {m for m in named if m is not None}
    if not any(each is not None and each.means is Means.MACHINE for each in found):
        found[0] = ColumnReading(Means.MACHINE)
    columns: list[Column] = []
    for place, head in enumerate(heads):
        cells = [row[place] for row in rows]
        own = found[place]
        if own is not None and not long_form and own.means in (Means.RESULT, Means.TASK_NAME):
            # "Time" alone heads a task's values; "Test" beside no result is a task's as well.
            own = None
        if own is not None and own.means in (Means.STATUS, Means.READING) and not long_form:
            own = None
        columns.append(
            Column(place, head, own) if own else _by_cells(place, head, cells, columns, known)
        )
    return tuple(columns)


def _plain(text: str) -> str:
    return re.sub(r"[^a-z0-9#]+", " ", text.casefold()).strip()


def _exact(name: str, names: Sequence[str]) -> bool:
    return _plain(name) in {_plain(each) for each in names}


def _by_name(head: Head) -> Means | None:
    plain = _plain(head.name)
    return next((means for means, names in _NAMES.items() if plain in names), None)


def _is_price(head: Head) -> bool:
    words = head.name.split()
    signs = [sign for sign in (head.unit, *words) if currencies_of(sign)]
    return bool(signs) or bool(_PRICE.search(head.name))


def _by_cells(
    place: int, head_text: str, cells: Sequence[str], before: Sequence[Column], known: Known
) -> Column:
    """Understand a column whose head is none of the common ones."""
    head = read_head(head_text)
    kind = _common_kind(cells)
    if kind is CellKind.EMPTY:
        return Column(place, head_text, ColumnReading(Means.OUT))
    reading = _known_reading(head, kind, known)
    if reading is not None:
        return _asked(place, head_text, reading, cells, known)
    if kind is CellKind.MONEY or (kind is CellKind.NUMBER and _is_price(head)):
        reading = ColumnReading(Means.PRICE, currency=_currency_of(head, cells, known))
        return _asked(place, head_text, reading, cells, known)
    title = head.name or f"Column {place + 1}"
    if kind is CellKind.TIME and _LASTS.search(head.name):
        # Of what lasts, more is better: no task's time.
        return Column(place, head_text, ColumnReading(Means.SPEC, title))
    if kind is CellKind.PERCENT:
        return _ratio(place, head_text, head, before)
    timed = kind is CellKind.NUMBER and head.unit.casefold() in TIME_UNITS
    if kind is CellKind.NUMBER and not timed:
        return _number_column(place, head_text, head, cells, known)
    if kind is CellKind.TEXT:
        return Column(place, head_text, ColumnReading(Means.SPEC, title))
    unit = TIME_UNITS.get(head.unit.casefold(), "")
    reading = ColumnReading(Means.TASK, _task_name(head), None, "time", unit)
    return _asked(place, head_text, reading, cells, known)


def _common_kind(cells: Sequence[str]) -> CellKind:
    """What most cells of a column look like; failures only where there is nothing else."""
    kinds = Counter(kind for cell in cells if (kind := kind_of(cell)) is not CellKind.EMPTY)
    if not kinds:
        return CellKind.EMPTY
    values = {kind: count for kind, count in kinds.items() if kind is not CellKind.FAILED}
    return max(values, key=lambda each: values[each]) if values else CellKind.FAILED


def _known_reading(head: Head, kind: CellKind, known: Known) -> ColumnReading | None:
    """A column whose head names a task, or a row of the spec sheet that its cells fit."""
    task = _known_task(head.name, known)
    if task is not None:
        unit = TIME_UNITS.get(head.unit.casefold(), "") if task.measure == "time" else task.unit
        return ColumnReading(Means.TASK, task.name, None, task.measure, unit)
    spec = find_spec(head.name, (*known.rows, *STATES))
    if spec is None or not _fits(spec, kind):
        return None
    return ColumnReading(Means.SPEC, spec.title, spec.field, "", head.unit or spec.unit or "")


def _fits(spec: Spec, kind: CellKind) -> bool:
    """Whether cells of a kind can be those of a row of the spec sheet."""
    if spec.kind in (RowKind.NUMBER, RowKind.WHOLE):
        return kind is CellKind.NUMBER
    return kind is CellKind.TEXT or (kind is CellKind.NUMBER and spec.kind is not RowKind.CHOICE)


def _task_name(head: Head) -> str:
    return head.name if _plain(head.name) not in _NAMES[Means.RESULT] else "Export"


def _known_task(name: str, known: Known) -> KnownTask | None:
    found = match_name(name, [task.name for task in known.tasks])
    if found.state is not MatchState.ONE or found.index is None:
        return None
    return known.tasks[found.index]


def _number_column(
    place: int, head_text: str, head: Head, cells: Sequence[str], known: Known
) -> Column:
    """Numbers whose head is nothing known: an amount where a unit says so, else asked."""
    unit = head.unit or common_unit(cells)
    amount = ColumnReading(Means.TASK, _task_name(head), None, "amount", unit)
    if names_an_amount(head) or names_an_amount(Head("", unit)):
        return _asked(place, head_text, amount, cells, known)
    title = head.name or f"Column {place + 1}"
    spec = ColumnReading(Means.SPEC, title, None, "", unit)
    if unit:
        return Column(place, head_text, spec)
    time = ColumnReading(Means.TASK, _task_name(head), None, "time", "s")
    return Column(
        place,
        head_text,
        ColumnReading(Means.ASK, title),
        f"What is “{title}”?",
        (spec, amount, time, ColumnReading(Means.OUT)),
    )


def common_unit(cells: Sequence[str]) -> str:
    """The unit that most cells carry; empty where they carry none."""
    units = Counter(unit for cell in cells if (unit := unit_of(cell)))
    return units.most_common(1)[0][0] if units else ""


def _currency_of(head: Head, cells: Sequence[str], known: Known) -> str:
    """What prices are in: their own signs, the head's, or the shootout's currency."""
    said = [split_currency(cell)[1] for cell in cells]
    said += [currencies_of(sign) for sign in (head.unit, *head.name.split())]
    codes = next((codes for codes in said if codes), ())
    return known.currency if not codes or known.currency in codes else codes[0]


def _ratio(place: int, head_text: str, head: Head, before: Sequence[Column]) -> Column:
    """A column of percentages: ratios to a machine that its head names, else asked."""
    match = _AGAINST.match(head.name)
    against = match["b"].strip() if match else ""
    tasks = (c.reading for c in reversed(before) if c.reading.means is Means.TASK)
    task = next(tasks, ColumnReading(Means.TASK))
    reading = ColumnReading(Means.RATIO, against, task=task.name)
    title = head.name or f"Column {place + 1}"
    if against:
        return Column(place, head_text, reading)
    return Column(
        place,
        head_text,
        ColumnReading(Means.ASK, title),
        f"What are the percentages under “{title}”?",
        (ColumnReading(Means.RATIO), ColumnReading(Means.SPEC, title), ColumnReading(Means.OUT)),
    )


def _asked(
    place: int, head_text: str, reading: ColumnReading, cells: Sequence[str], known: Known
) -> Column:
    """Ask what the cells of a column leave open: their unit, or the sign before decimals."""
    kinds = {kind_of(cell) for cell in cells}
    if reading.means is Means.TASK and reading.measure == "time" and not reading.unit:
        plain = [c for c in cells if kind_of(c) is CellKind.NUMBER]
        if plain and CellKind.TIME not in kinds:
            choices = tuple(replace(reading, unit=unit) for unit in ("s", "min", "h"))
            question = f"{plain[0]} of what: seconds, minutes or hours?"
            return Column(place, head_text, reading, question, choices)
        clocks = [c for c in cells if re.fullmatch(r"\d+:\d\d:\d\d", c)]
        if len(clocks) > 1 and all(c.endswith(":00") for c in clocks):
            first = clocks[0].removesuffix(":00")
            choices = tuple(replace(reading, unit=unit) for unit in ("min:s:00", "h:min:s"))
            question = f"{clocks[0]}: {first} in minutes and seconds, or in hours and minutes?"
            return Column(place, head_text, reading, question, choices)
    if reading.means is Means.TASK and reading.unit in ("min", "h"):
        own = _decimal_or_clock(reading, cells)
        if isinstance(own, tuple):
            first = next(c for c in cells if _TWO_DIGITS.match(c))
            question = f"{first}: minutes and seconds, or parts of a minute?"
            if reading.unit == "h":
                question = f"{first}: hours and minutes, or parts of an hour?"
            return Column(place, head_text, reading, question, own)
        reading = own
    if signs_of_column(cells, known.signs) is None:
        first = next(c for c in cells if re.search(r"\d\.\d{3}(?!\d)", c))
        choices = tuple(replace(reading, decimals=sign) for sign in (",", "."))
        whole = first.replace(".", "")
        question = f"{first}: {whole}, or {first.partition('.')[0]} and a bit?"
        return Column(place, head_text, reading, question, choices)
    return Column(place, head_text, reading)


_TWO_DIGITS = re.compile(r"^\d+[.,][0-5]\d$")
_OTHER_DIGITS = re.compile(r"^\d+[.,](?:\d|[6-9]\d|\d{3,})$")


def _decimal_or_clock(
    reading: ColumnReading, cells: Sequence[str]
) -> ColumnReading | tuple[ColumnReading, ...]:
    """Whether 6.05 in a column of minutes is 6:05 or 6 min 3 s: its neighbours tell, or nobody."""
    decimal = replace(reading, unit=f"{reading.unit}, decimal")
    if any(_OTHER_DIGITS.match(cell) for cell in cells):
        return decimal
    if not any(_TWO_DIGITS.match(cell) for cell in cells):
        return reading
    return (replace(reading, unit="min:s" if reading.unit == "min" else "h:min"), decimal)


def settled(column: Column, reading: ColumnReading, cells: Sequence[str], known: Known) -> Column:
    """A column as a person said it is; what that leaves open is asked."""
    head = read_head(column.head)
    own = reading
    if own.means in (Means.TASK, Means.SPEC) and not own.name.strip():
        # Chosen anew: its head still says what it is called and in which unit.
        unit = TIME_UNITS.get(head.unit.casefold(), "") if own.measure == "time" else head.unit
        own = replace(own, name=head.name or f"Column {column.place + 1}", unit=own.unit or unit)
    if own.means is Means.SPEC and own.spec is None:
        spec = find_spec(own.name, (*known.rows, *STATES))
        if spec is not None and _fits(spec, _common_kind(cells)):
            own = replace(own, name=spec.title, spec=spec.field, unit=own.unit or spec.unit or "")
    if own.means is Means.TASK:
        task = _known_task(own.name, known) if own.name else None
        if task is not None:
            own = replace(own, name=task.name, measure=task.measure)
        elif not own.measure:
            own = replace(own, measure="time")
    if own.means is Means.PRICE and not own.currency:
        own = replace(own, currency=_currency_of(head, cells, known))
    if own.means is Means.RATIO and not own.name:
        question = "Against which machine?"
        return Column(column.place, column.head, own, question, ())
    if own.decimals or own.means not in (Means.TASK, Means.SPEC, Means.PRICE, Means.RESULT):
        return Column(column.place, column.head, own)
    return _asked(column.place, column.head, own, cells, known)
