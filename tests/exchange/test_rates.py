"""Exchange rates from a file or an address: read whole, or refused with the place."""

from __future__ import annotations

import json
import threading
from datetime import date
from decimal import Decimal
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.money import Rate, RateTable
from true_margin.exchange.rates import (
    FileRates,
    HttpRates,
    RateDesk,
    RatesError,
    read_rates,
    source_of,
)

CSV = b"dated,currency,per_eur\n2026-03-12,USD,1.0845\n2026-03-12,GBP,0.8401\n"
RATES = (
    Rate("USD", date(2026, 3, 12), Decimal("1.0845")),
    Rate("GBP", date(2026, 3, 12), Decimal("0.8401")),
)


def test_csv_and_json_say_the_same() -> None:
    rows = [
        {"dated": "2026-03-12", "currency": "USD", "per_eur": 1.0845},
        {"dated": "2026-03-12", "currency": "GBP", "per_eur": "0.8401"},
    ]
    assert read_rates(CSV, "rates.csv").rates == RATES
    assert read_rates(json.dumps(rows).encode(), "rates.json").rates == RATES
    assert read_rates(b"\xef\xbb\xbf" + CSV, "rates.csv").rates == RATES


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"\xff\xfe", "not UTF-8"),
        (b"dated,per_eur\n2026-03-12,1\n", "column 'currency' is missing"),
        (b"dated,currency,per_eur\n12.3.2026,USD,1.08\n", "rate 1: '12.3.2026' is no day"),
        (b"dated,currency,per_eur\n2026-02-30,USD,1.08\n", "rate 1: '2026-02-30' is no day"),
        (CSV + b"2026-03-12,QQQ,1\n", "rate 3: 'QQQ' is no currency"),
        (CSV + b"2026-03-12,USD,0\n", "rate 3: '0' is no rate"),
        (CSV + b"2026-03-12,USD,-1\n", "rate 3: '-1' is no rate"),
        (CSV + b"2026-03-12,USD,1e999999999\n", "rate 3: '1e999999999' is no rate"),
        (CSV + b"2026-03-12,USD\n", "rate 3: 'None' is no rate"),
        (b"{}", "must be a list"),
        (b"[1]", "must be a list"),
        (b"[", "is no JSON"),
        (b"[" * 100_000, "is no JSON"),
        (b"x" * 5_000_001, "larger than 5 MB"),
    ],
)
def test_tables_that_are_off_say_where(content: bytes, says: str) -> None:
    with pytest.raises(RatesError, match=says):
        read_rates(content, "rates.csv")


@given(st.binary(max_size=300))
def test_any_bytes_are_rates_or_refused(content: bytes) -> None:
    try:
        table = read_rates(content, "x")
    except RatesError:
        return
    assert all(rate.per_eur > 0 for rate in table.rates)


def test_a_table_whose_quotes_do_not_end_is_no_csv() -> None:
    head = b"dated,currency,per_eur\n"
    for broken in (b'2026-03-12,USD,"1.1' + b"1" * 200_000, b"a\rb" + b"\x00" * 3):
        with pytest.raises(RatesError):
            list(read_rates(head + broken, "x").rates)


def test_a_file_that_is_not_there_says_so(tmp_path: Path) -> None:
    with pytest.raises(RatesError, match=r"none\.csv: cannot be read"):
        FileRates(tmp_path / "none.csv").read()


def test_an_address_is_asked_for_a_table() -> None:
    class Answers(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            self.send_response(200 if self.path == "/rates" else 503)
            self.end_headers()
            self.wfile.write(CSV)

        def log_message(self, *_: object) -> None:
            """Say nothing."""

    server = HTTPServer(("127.0.0.1", 0), Answers)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        home = f"http://127.0.0.1:{server.server_port}"
        source = source_of(f"{home}/rates")
        assert isinstance(source, HttpRates)
        assert source.read().rates == RATES
        with pytest.raises(RatesError, match="it answered 503"):
            HttpRates(f"{home}/none").read()
    finally:
        server.shutdown()
        server.server_close()
    with pytest.raises(RatesError, match="cannot be reached"):
        HttpRates(f"{home}/rates", wait_s=0.5).read()


class Turning:
    """A source that gives one table after another; None for a failure.

    After the first it gives none until ``going_on`` is set, so that a test can look.
    """

    def __init__(self, *tables: RateTable | None) -> None:
        self._tables = list(tables)
        self._asked = False
        self.going_on = threading.Event()
        self.read_all = threading.Event()

    def read(self) -> RateTable:
        if self._asked:
            assert self.going_on.wait(10)
        self._asked = True
        table = self._tables.pop(0)
        if not self._tables:
            self._tables = [table]
            self.read_all.set()
        if table is None:
            raise RatesError("rates.csv: cannot be read.")
        return table


def test_rates_are_asked_again_and_the_last_ones_stay(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(RateDesk, "AGAIN_S", 0.001)
    monkeypatch.setattr(RateDesk, "SOON_S", 0.001)
    first, second = RateTable(RATES[:1], "a"), RateTable(RATES, "a")
    desk = RateDesk()
    source = Turning(None, first, RateTable(RATES[:1], "a"), second, None)
    desk.use(source)
    assert (desk.table, desk.problem) == (RateTable(), "rates.csv: cannot be read.")
    source.going_on.set()
    assert source.read_all.wait(10)
    desk.close()
    assert desk.table is second
