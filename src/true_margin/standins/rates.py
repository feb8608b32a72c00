"""Simulated exchange rates: a dated table that ships with the app; every figure is made up."""

from __future__ import annotations

import csv
from datetime import date
from decimal import Decimal
from functools import lru_cache
from pathlib import Path

from true_margin.core.money import Rate, RateTable

TABLE = Path(__file__).parent / "rates.csv"


@lru_cache(maxsize=1)
def simulated_rates() -> RateTable:
    """Give the simulated rates, in units of a currency for one euro."""
    with TABLE.open(newline="", encoding="utf-8") as file:
        return RateTable(
            tuple(
                Rate(row["currency"], date.fromisoformat(row["dated"]), Decimal(row["per_eur"]))
                for row in csv.DictReader(file)
            )
        )
