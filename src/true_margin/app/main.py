"""The application: routes under /api/v1, and the built pages for everything else."""

from __future__ import annotations

import sys
from collections.abc import AsyncIterator, Iterable
from contextlib import asynccontextmanager
from pathlib import Path
from subprocess import Popen
from threading import Thread

from fastapi import APIRouter, FastAPI, Request
from fastapi.middleware.gzip import GZipMiddleware

from true_margin import __version__
from true_margin.app.access import OPEN, Access
from true_margin.app.bodies import stage_router
from true_margin.app.context import SIMULATED_FEED
from true_margin.app.describe import described
from true_margin.app.entrance import Entrance
from true_margin.app.hardening import Hardened
from true_margin.app.lane_feed import LaneFeed
from true_margin.app.lifeline import end_with_parent
from true_margin.app.logs import log_requests_here
from true_margin.app.metrics import show_metrics
from true_margin.app.outside import Outside
from true_margin.app.page_shelf import PageShelf
from true_margin.app.pages import serve_pages
from true_margin.app.problems import install_problems
from true_margin.app.reader import Reader
from true_margin.app.routers import (
    bench,
    cards,
    clips,
    devices,
    events,
    giving,
    lineup,
    margins,
    overlay,
    people,
    picks,
    prices,
    public,
    publish,
    room,
    runs,
    sent,
    sheets,
    shootouts,
    tasks,
)
from true_margin.app.settings import AppSettings
from true_margin.desk.book.shelf import RATES, warm_shelf
from true_margin.desk.errors import DatabaseAwayError
from true_margin.desk.jobs.worker import Worker
from true_margin.desk.run_sheet.on_shelf import warm_lines
from true_margin.desk.shootouts import shootouts as shootouts_desk
from true_margin.exchange.apart import close_readers
from true_margin.exchange.price_feed import HttpPriceFeed, PriceFeed
from true_margin.exchange.rates import RateSource, source_of
from true_margin.standins.price_feed import make_price_feed
from true_margin.standins.rates import SIMULATED
from true_margin.store.database import Database
from true_margin.store.news import News


def make_app(
    database: Database,
    web: Path | None = None,
    feed: PriceFeed | None = None,
    access: Access = OPEN,
    *,
    works: bool = False,
    standins: bool = False,
) -> FastAPI:
    """Make the application on a migrated database.

    Args:
        database: where everything is kept.
        web: folder of the built pages; without it only the API is served.
        feed: where prices are asked, if anywhere.
        access: who is let in, and how.
        works: whether this process also does what waits in the queue.
        standins: whether the simulated services are there, as in the demo.
    """

    news = News(database.url)
    worker = Worker(database)

    @asynccontextmanager
    async def life(_: FastAPI) -> AsyncIterator[None]:
        Thread(target=_warm, args=(database,), daemon=True).start()
        news.start()
        if works:
            worker.start()
        yield
        worker.close()
        end_rigs(app.state.rigs.values())
        close_readers()
        news.close()
        database.close()

    app = FastAPI(
        title="True Margin",
        version=__version__,
        openapi_url="/api/v1/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=life,
    )
    app.state.database = database
    # The default squeezes out one percent more and takes three times as long.
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
    app.state.price_feed = feed
    app.state.access = access
    app.state.news = news
    app.state.lane_feed = LaneFeed(database, news)
    # Programs of simulated rigs by the shootout that they stand in.
    app.state.rigs = {}
    # How other devices get in; set where they are let in at all.
    app.state.outside = None
    # Whoever serves the app says here when it is about to end.
    app.state.ending = lambda: False
    install_problems(app)
    # Routes are taken over as they are: routers that are included are made twice more, which
    # takes a process seconds at its start, and are looked through one by one at each request.
    for router in (*_api(database), public.router, overlay.router):
        app.router.routes.extend(router.routes)
    app.add_route("/metrics", show_metrics, methods=["GET"], include_in_schema=False)
    app.state.standins = standins
    if standins:
        app.mount(SIMULATED_FEED, make_price_feed())
    if web is not None:
        serve_pages(app, web)
    app.openapi = described(app)  # type: ignore[method-assign]
    app.add_middleware(Reader)
    app.add_middleware(PageShelf, news=news)
    app.add_middleware(Entrance, database=database, access=access, news=news, web=web)
    app.add_middleware(Hardened, strict=access.strict)
    return app


def end_rigs(programs: Iterable[Popen[bytes]]) -> None:
    """End the simulated rigs that this process started and that still stand."""
    for program in programs:
        if program.poll() is None:
            program.terminate()
            program.wait(timeout=5)


def _api(database: Database) -> tuple[APIRouter, ...]:
    stages = (
        shootouts,
        events,
        lineup,
        prices,
        tasks,
        bench,
        devices,
        runs,
        room,
        sent,
        sheets,
        margins,
        picks,
        publish,
        cards,
        clips,
        giving,
        people,
    )
    service = stage_router("service")

    @service.get("/health")
    def health() -> dict[str, str]:
        """Say whether the app and its database answer, and whether there is room to write."""
        shootouts_desk.check_database(database)
        shootouts_desk.check_room(database)
        return {"status": "ok", "version": __version__}

    @service.get("/ready")
    def ready(request: Request) -> dict[str, str]:
        """Say whether requests may be sent here: tables as this version needs them, news heard."""
        shootouts_desk.check_ready(database)
        if not request.app.state.news.hears:
            raise DatabaseAwayError("This process does not hear of changes yet.")
        return {"status": "ready", "version": __version__}

    return (*(stage.router for stage in stages), service)


def _warm(database: Database) -> None:
    """Make ready what the first reader would wait for."""
    warm_shelf(database)
    warm_lines(database)


SWITCH_S = 0.001
"""A thread that was answered by the database waits no longer than this for its turn; by
default it is five times as long, a dozen times in a request."""


def app_from_environment() -> FastAPI:
    """Make the application for a server process that was given DATABASE_URL."""
    settings = AppSettings()
    end_with_parent()
    sys.setswitchinterval(SWITCH_S)
    if settings.log == "-":
        log_requests_here()
    if settings.database_url is None:
        raise RuntimeError("DATABASE_URL is not set; start with: make demo")
    use_rates(settings)
    app = make_app(
        Database(settings.database_url, settings.read_replica, folder=settings.database_folder),
        settings.web,
        feed_of(settings),
        settings.access(),
        standins=settings.standins,
    )
    app.state.outside = outside_of(settings)
    return app


def outside_of(settings: AppSettings) -> Outside | None:
    """The way in for other devices where people sign in: that of everybody."""
    if not settings.sign_in or settings.address is None:
        return None
    return Outside((settings.address,), None)


def use_rates(settings: AppSettings) -> None:
    """Take the exchange rates that the settings name; in the demo else the simulated ones."""
    source = rates_of(settings)
    if source is not None:
        RATES.use(source)


def rates_of(settings: AppSettings) -> RateSource | None:
    """Where the settings say that exchange rates are had; None for nowhere."""
    if settings.rates is not None:
        return source_of(settings.rates)
    return SIMULATED if settings.standins else None


def feed_of(settings: AppSettings) -> PriceFeed | None:
    """The price feed that the settings name, if any."""
    address = settings.price_feed
    return None if address is None else HttpPriceFeed("The price feed", address)
