"""A simulated price feed: a small service of its own that knows made-up offers.

It stands in for a real feed of shops' prices. Two switches make it behave as
real ones do on a bad day.
"""

from __future__ import annotations

import csv
import time
from pathlib import Path
from typing import Annotated

from fastapi import FastAPI, HTTPException, Query
from pydantic import BaseModel, Field

OFFERS = Path(__file__).parent / "offers.csv"
NAME = "The simulated price feed"


class Switches(BaseModel):
    """How the feed behaves: not at all, or only after some seconds."""

    outage: bool = Field(default=False, description="True: it answers nothing but an error")
    slow_s: float = Field(default=0.0, ge=0, le=30, description="Seconds before it answers")


def make_price_feed(table: Path = OFFERS) -> FastAPI:
    """Make the service on a table of offers."""
    feed = FastAPI(title="Simulated price feed", docs_url=None, redoc_url=None)
    switches = Switches()

    @feed.get("/offers")
    def offers(machine: Annotated[list[str], Query(max_length=200)]) -> list[dict[str, object]]:
        """Give the offers of these machines; every figure is made up."""
        time.sleep(switches.slow_s)
        if switches.outage:
            raise HTTPException(503, "The simulated price feed is switched to an outage.")
        with table.open(newline="", encoding="utf-8") as file:
            rows = [row for row in csv.DictReader(file) if row["machine"] in machine]
        return [{name: _cell(value) for name, value in row.items() if value} for row in rows]

    @feed.get("/switches")
    def read_switches() -> Switches:
        """Say how it behaves."""
        return switches

    @feed.put("/switches")
    def set_switches(wanted: Switches) -> Switches:
        """Make it fail or dawdle, or behave again."""
        switches.outage, switches.slow_s = wanted.outage, wanted.slow_s
        return switches

    return feed


def _cell(value: str) -> object:
    return {"true": True, "false": False}.get(value, value)
