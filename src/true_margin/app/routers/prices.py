"""Prices: records, extras, and what a feed knows."""

from __future__ import annotations

from datetime import date
from uuid import UUID

from true_margin.app.answers.lineup import Machine
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, PriceFeedHere, WhoHere
from true_margin.app.requests import ChosenOffers, NewExtra, NewPrice
from true_margin.app.run_requests import Withdrawal
from true_margin.desk.jobs import jobs
from true_margin.desk.lineup import lineup, price_feed
from true_margin.store import records

router = stage_router("prices")


@router.post("/machines/{machine_id}/prices", status_code=201, response_model=Machine)
def add_price(machine_id: UUID, body: NewPrice, database: DatabaseHere) -> records.Machine:
    """Add a price record; earlier ones stay."""
    return lineup.add_price(database, machine_id, body.model_dump())


@router.post("/prices/{price_id}/withdrawal", response_model=Machine)
def withdraw_price(price_id: UUID, body: Withdrawal, database: DatabaseHere) -> records.Machine:
    """Withdraw a price that was mistyped; it stays on record."""
    return lineup.withdraw_price(database, price_id, body.why)


@router.post("/setups/{setup_id}/extras", status_code=201, response_model=Machine)
def add_extra(setup_id: UUID, body: NewExtra, database: DatabaseHere) -> records.Machine:
    """Add something that a setup needed besides its machine."""
    return lineup.add_extra(database, setup_id, body.model_dump())


@router.post("/shootouts/{slug}/prices/preview")
def preview_refresh(
    slug: str, database: DatabaseHere, feed: PriceFeedHere
) -> price_feed.RefreshPreview:
    """Ask the price feed and show what would change; stores nothing."""
    return price_feed.preview_refresh(database, slug, feed)


@router.post("/shootouts/{slug}/prices/refresh", status_code=202)
def commit_refresh(
    slug: str, body: ChosenOffers, database: DatabaseHere, feed: PriceFeedHere, who: WhoHere
) -> jobs.JobView:
    """Have the chosen offers stored, all or nothing."""
    return jobs.store_prices(database, who, slug, feed, body.keys)


@router.get("/rates")
def list_rates(on: date) -> price_feed.RatesView:
    """List the exchange rates that convert prices of a day."""
    return price_feed.list_rates(on)
