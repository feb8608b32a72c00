"""Exchange rates from outside: dated tables in a file or at an address, as CSV or JSON.

A table has three columns (``dated``, ``currency``, ``per_eur``: units of the currency for one
euro), as a CSV with a header, or as a JSON list of objects with these keys. Whoever has rates
in another form implements ``RateSource``.
"""

from __future__ import annotations

import csv
import io
import json
import re
import threading
from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import Any, Protocol

import httpx2

from true_margin.core.currencies import CURRENCIES
from true_margin.core.errors import CoreError
from true_margin.core.money import Rate, RateTable
from true_margin.exchange.outside_calls import OutsideCallError, ask

MOST_BYTES = 5_000_000
MOST_ROWS = 200_000
WAIT_S = 8.0
_PER_EUR = re.compile(r"[0-9]{1,12}(\.[0-9]{1,12})?")
_DAY = re.compile(r"\d{4}-\d{2}-\d{2}")
_COLUMNS = ("dated", "currency", "per_eur")


class RatesError(CoreError):
    """A table of rates cannot be read; says where and why."""


class RateSource(Protocol):
    """Something that knows dated exchange rates."""

    def read(self) -> RateTable:
        """Give all rates that there are.

        Raises:
            RatesError: they cannot be had, or make no sense.
        """


def read_rates(content: bytes, name: str, *, simulated: bool = False) -> RateTable:
    """Read a table of rates.

    Args:
        content: of the file, UTF-8, CSV or JSON.
        name: what the table is called on the screen and in errors.
        simulated: whether every figure in it is made up.

    Raises:
        RatesError: with the row and what is wrong in it.
    """
    if len(content) > MOST_BYTES:
        raise RatesError(f"{name}: larger than {MOST_BYTES // 1_000_000} MB.")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise RatesError(f"{name}: is not UTF-8 text.") from error
    rows = _json_rows(text, name) if text.lstrip()[:1] in ("[", "{") else _csv_rows(text, name)
    rates = []
    for place, row in enumerate(rows, start=1):
        if place > MOST_ROWS:
            raise RatesError(f"{name}: more than {MOST_ROWS} rates.")
        rates.append(_rate(row, f"{name}, rate {place}"))
    return RateTable(tuple(rates), name, simulated)


def _csv_rows(text: str, name: str) -> Iterable[Mapping[str, Any]]:
    reader = csv.DictReader(io.StringIO(text, newline=""))
    try:
        missing = [each for each in _COLUMNS if each not in (reader.fieldnames or ())]
        if missing:
            raise RatesError(f"{name}: the column {missing[0]!r} is missing in the first line.")
        yield from reader
    except csv.Error as error:
        raise RatesError(f"{name}: is no CSV: {error}.") from error


def _json_rows(text: str, name: str) -> Iterable[Mapping[str, Any]]:
    try:
        # Numbers stay as they are written: a rate is never a float.
        rows = json.loads(text, parse_float=str, parse_int=str, parse_constant=str)
    except (ValueError, RecursionError) as error:
        raise RatesError(f"{name}: is no JSON.") from error
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        raise RatesError(f"{name}: must be a list of objects with {', '.join(_COLUMNS)}.")
    return rows


def _rate(row: Mapping[str, Any], where: str) -> Rate:
    dated, currency, per_eur = (str(row.get(column, "")).strip() for column in _COLUMNS)
    if currency not in CURRENCIES:
        raise RatesError(f"{where}: {currency[:20]!r} is no currency in use.")
    if not _PER_EUR.fullmatch(per_eur) or Decimal(per_eur) == 0:
        raise RatesError(f"{where}: {per_eur[:40]!r} is no rate: write units for one euro.")
    try:
        if not _DAY.fullmatch(dated):
            raise ValueError(dated)
        day = date.fromisoformat(dated)
    except ValueError as error:
        raise RatesError(f"{where}: {dated[:20]!r} is no day: write it as 2026-03-12.") from error
    return Rate(currency, day, Decimal(per_eur))


class FileRates:
    """A table of rates in a file."""

    def __init__(self, path: Path, *, name: str | None = None, simulated: bool = False) -> None:
        self._path, self._name, self._simulated = path, name or path.name, simulated

    def read(self) -> RateTable:
        """Give all rates in the file.

        Raises:
            RatesError: it cannot be read, or makes no sense.
        """
        try:
            content = self._path.read_bytes()
        except OSError as error:
            raise RatesError(f"{self._name}: cannot be read: {error.strerror}.") from error
        return read_rates(content, self._name, simulated=self._simulated)


class HttpRates:
    """A table of rates at an address."""

    def __init__(self, address: str, wait_s: float = WAIT_S) -> None:
        self._address, self._wait_s = address, wait_s

    def read(self) -> RateTable:
        """Give all rates at the address.

        Raises:
            RatesError: it does not answer, or not with rates.
        """
        name = httpx2.URL(self._address).host
        try:
            answer = ask(self._address, within_s=self._wait_s, most_bytes=MOST_BYTES)
        except OutsideCallError as error:
            raise RatesError(f"{name}: cannot be reached.") from error
        if answer.status != 200:
            raise RatesError(f"{name}: is out of order (it answered {answer.status}).")
        if answer.content is None:
            raise RatesError(f"{name}: larger than {MOST_BYTES // 1_000_000} MB.")
        return read_rates(answer.content, name)


def source_of(where: str) -> RateSource:
    """The source that a setting names: an address, else a file."""
    return HttpRates(where) if re.match(r"https?://", where) else FileRates(Path(where))


class RateDesk:
    """Keeps the rates of a source at hand; asks it again now and then, never while one waits.

    Where the source fails, the rates that it gave last stay, and ``problem`` says why.
    """

    AGAIN_S = 3600.0
    SOON_S = 60.0

    def __init__(self) -> None:
        self.table = RateTable()
        self.problem: str | None = None
        self._ended = threading.Event()

    def use(self, source: RateSource) -> None:
        """Take the rates of a source from now on; one that gives none now is asked again."""
        self.close()
        self.table = RateTable()
        self._ask(source)
        self._ended = threading.Event()
        threading.Thread(target=self._follow, args=(source, self._ended), daemon=True).start()

    def close(self) -> None:
        """Ask no more; the rates stay."""
        self._ended.set()

    def _follow(self, source: RateSource, ended: threading.Event) -> None:
        while not ended.wait(self.AGAIN_S if self.problem is None else self.SOON_S):
            self._ask(source)

    def _ask(self, source: RateSource) -> None:
        try:
            table = source.read()
        except RatesError as error:
            self.problem = str(error)
            return
        self.problem = None
        # The same rates stay the same object, so that nothing is worked out anew.
        if table != self.table:
            self.table = table
