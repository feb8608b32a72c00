"""Whatever a screen, a card or a file prints is read back as the same number by the same reader."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

import pytest
from playwright.sync_api import Browser

from tests.web.conftest import Call, caller, loaded
from true_margin.app.reader import numerals_of
from true_margin.core.money import parse_price
from true_margin.core.numerals import Numerals, writing
from true_margin.core.quantities import Elapsed, parse_amount, parse_elapsed
from true_margin.core.readings import ReadingMethod
from true_margin.core.spec_rows import SPECS
from true_margin.core.specs import CellKind, parse_spec, say_spec
from true_margin.core.wording import say_time
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.runs.runs import read_value
from true_margin.exchange.data_pack import Pack

LOCALES = ("en-GB", "de-DE", "fr-FR", "en-IN")


@pytest.fixture(scope="session", params=LOCALES)
def reader(
    request: pytest.FixtureRequest, browser: Browser, bundle: str
) -> Iterator[tuple[Call, Numerals]]:
    """The web's functions and the server's signs for one reader."""
    page = loaded(browser, bundle, request.param)
    yield caller(page), numerals_of(request.param)
    page.close()


def test_every_run_of_the_book(reader: tuple[Call, Numerals], demo_pack: Pack) -> None:
    """As the run book and the run's note print it, with ~ and the sign of a bound."""
    call, signs = reader
    measures = {task.name: task.measure for task in demo_pack.tasks}
    tried = 0
    for run in demo_pack.runs:
        if run.value is None:
            continue
        measure = measures[run.task]
        row = {
            "value": run.value,
            "resolution": run.resolution,
            "bound": run.bound,
            "approximate": run.approximate,
        }
        printed = call("format.runValue", row, measure)
        method = ReadingMethod.STATED if measure == "amount" else ReadingMethod.STOPWATCH
        back = read_value(printed, measure, method, "clock", signs=signs)
        step = run.resolution or 1.0
        assert back.value == pytest.approx(run.value, abs=0.51 * step), printed
        assert (back.bound, back.approximate) == (run.bound, run.approximate), printed
        tried += 1
    assert tried > 200


@pytest.mark.parametrize("value", [0.125, 3.21, 64.5, 999.9, 3210, 12345, 98765.4, 1234567])
@pytest.mark.parametrize("resolution", [1.0, 0.1, 0.001])
def test_every_amount(reader: tuple[Call, Numerals], value: float, resolution: float) -> None:
    call, signs = reader
    if value < resolution:
        return
    row = {"value": value, "resolution": resolution, "bound": None, "approximate": False}
    printed = call("format.runValue", row, "amount")
    back = parse_amount(printed, signs).value
    assert back == pytest.approx(value, abs=0.51 * resolution), printed


@pytest.mark.parametrize("seconds", [0.4, 7.25, 59.96, 61.0, 754.321, 3600.0, 9000.5, 86399.0])
@pytest.mark.parametrize("resolution", [1.0, 0.1, 0.001])
def test_every_clock(reader: tuple[Call, Numerals], seconds: float, resolution: float) -> None:
    call, signs = reader
    if seconds < resolution:
        return
    for printed in (
        call("format.clock", seconds, resolution),
        call("format.keptClock", seconds, resolution),
    ):
        back = parse_elapsed(printed, signs)
        assert isinstance(back, Elapsed), printed
        assert back.seconds == pytest.approx(seconds, abs=0.51 * resolution), printed
    with writing(signs):
        shown = parse_elapsed(say_time(seconds), signs)
    assert isinstance(shown, Elapsed)
    assert shown.seconds == pytest.approx(seconds, abs=0.51)


def test_every_price(reader: tuple[Call, Numerals], demo_pack: Pack) -> None:
    """As the line-up prints it, and as a sentence or a card does; thousandths of a currency too."""
    call, signs = reader
    prices = [(price.amount, price.currency) for price in demo_pack.prices]
    odd = [("1234.567", "KWD"), ("0.75", "EUR"), ("1290", "JPY"), ("999999.99", "USD")]
    for amount, currency in [*prices, *((Decimal(a), c) for a, c in odd)]:
        printed = call("format.money", str(amount))
        assert parse_price(printed, currency, signs).amount == amount, printed
        with writing(signs):
            said = say_money(amount, currency)
        assert parse_price(said, currency, signs).amount == amount, said


def test_every_number_of_the_spec_sheet(reader: tuple[Call, Numerals], demo_pack: Pack) -> None:
    _, signs = reader
    rows = {spec.title: spec for spec in SPECS if spec.kind is CellKind.NUMBER}
    tried = 0
    for cell in (*demo_pack.specs, *demo_pack.setup_specs):
        spec = rows.get(cell.row)
        if spec is None:
            continue
        value = parse_spec(spec, cell.value)
        with writing(signs):
            printed = say_spec(value)
        assert parse_spec(spec, printed, signs) == value, printed
        assert parse_spec(spec, f"{printed} {spec.unit or ''}".strip(), signs) == value, printed
        tried += 1
    assert tried > 40


@pytest.mark.parametrize("value", [0.031, 0.999, 1.0004, 1.38, 2.7, 15.25, 120.0])
def test_every_ratio_and_share(reader: tuple[Call, Numerals], value: float) -> None:
    call, signs = reader
    ratio = call("format.ratio", value)
    assert parse_amount(ratio, signs).value == pytest.approx(value, abs=0.0051), ratio
    if value > 0.05:
        plain = call("format.plain", value)
        assert parse_amount(plain, signs).value == pytest.approx(value, abs=0.051), plain
    short = call("format.compact", value)
    assert parse_amount(short, signs).value == pytest.approx(value, rel=1e-3), short
