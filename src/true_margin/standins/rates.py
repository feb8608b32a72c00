"""Simulated exchange rates: a dated table that ships with the app; every figure is made up."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from true_margin.core.money import RateTable
from true_margin.exchange.rates import FileRates

TABLE = Path(__file__).parent / "rates.csv"
SIMULATED = FileRates(TABLE, name="simulated rates", simulated=True)


@lru_cache(maxsize=1)
def simulated_rates() -> RateTable:
    """Give the simulated rates, in units of a currency for one euro."""
    return SIMULATED.read()
