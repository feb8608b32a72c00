"""What every route needs: the database and who is asking.

They wait for nothing, and are no plain functions only so that no thread is asked for them.
"""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from true_margin.app.rights import who_asks
from true_margin.desk.access.rights import Who
from true_margin.desk.errors import RefusedError
from true_margin.exchange.price_feed import HttpPriceFeed, PriceFeed
from true_margin.standins.price_feed import NAME
from true_margin.store.database import Database

SIMULATED_FEED = "/standins/price-feed"
"""Where the simulated price feed answers, beside the app."""


async def get_database(request: Request) -> Database:
    """Give the app's database."""
    database: Database = request.app.state.database
    return database


async def get_person(request: Request) -> str:
    """Say the name of whoever is asking, as it goes into the history of what they change."""
    return who_asks(request).name


async def get_price_feed(request: Request) -> PriceFeed:
    """Give the price feed: the one that was set; in the demo else the simulated one beside the app.

    Raises:
        RefusedError: there is none.
    """
    feed: PriceFeed | None = request.app.state.price_feed
    if feed is not None:
        return feed
    if not request.app.state.standins:
        words = (
            "No price feed is set up here. Type prices on each machine, or name a feed with "
            "TRUE_MARGIN_PRICE_FEED (see docs/operations.md)."
        )
        raise RefusedError("feed", words)
    return HttpPriceFeed(NAME, f"{own_address(request)}{SIMULATED_FEED}")


async def get_who(request: Request) -> Who:
    """Say who is asking."""
    return who_asks(request)


def own_address(request: Request) -> str:
    """Where this server answers programs of this machine."""
    # The address of the socket, not the Host header, which anyone may write.
    host, port = request.scope["server"]
    return f"http://{host}:{port}"


DatabaseHere = Annotated[Database, Depends(get_database)]
PriceFeedHere = Annotated[PriceFeed, Depends(get_price_feed)]
Person = Annotated[str, Depends(get_person)]
WhoHere = Annotated[Who, Depends(get_who)]
