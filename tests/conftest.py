"""A throwaway database for all tests: own cluster, own port, gone afterwards."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import psycopg
import pytest
from hypothesis import HealthCheck, settings
from psycopg import sql

from true_margin.desk.book.shelf import RATES
from true_margin.desk.packs.incoming import import_pack
from true_margin.exchange.data_pack import Pack, read_folder, read_pack
from true_margin.launch.cluster import Cluster
from true_margin.standins.rates import SIMULATED
from true_margin.store import records
from true_margin.store.database import Database

# A busy machine is no failure: time is measured by the scripts under bench/, never by tests.
settings.register_profile("calm", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("calm")

PROJECT = Path(__file__).parents[1]
DEMO = PROJECT / "demo" / "festival-season"


@pytest.fixture(scope="session", autouse=True)
def _rates() -> None:
    """The demo's simulated exchange rates, as the demo takes them."""
    RATES.use(SIMULATED)


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A private cluster that is not durable: nothing in it needs to last."""
    folder = Path(tempfile.mkdtemp(prefix="true-margin-test-"))
    # The database's owner may be another user than the one who runs the tests.
    folder.chmod(0o755)
    made = Cluster(folder, durable=False)
    made.start()
    yield made
    made.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def database(cluster: Cluster) -> Iterator[Database]:
    """The migrated database; tests keep apart by making their own shootouts."""
    database = Database(cluster.url)
    database.migrate()
    yield database
    database.close()


@pytest.fixture(scope="session")
def demo_pack() -> Pack:
    """The demo shootout as its files hold it."""
    return read_pack(read_folder(DEMO))


@pytest.fixture(scope="session")
def demo(database: Database, demo_pack: Pack) -> records.Shootout:
    """The demo shootout in the database; for reading only."""
    return import_pack(database, demo_pack, demo=True)


@contextmanager
def database_apart(cluster: Cluster, name: str) -> Iterator[Database]:
    """A database of its own on the cluster, without any tables."""
    address = cluster.url.replace("postgresql+psycopg", "postgresql")
    with psycopg.connect(address, autocommit=True) as connection:
        connection.execute(sql.SQL("drop database if exists {}").format(sql.Identifier(name)))
        connection.execute(sql.SQL("create database {}").format(sql.Identifier(name)))
    database = Database(address.rsplit("/", 1)[0] + f"/{name}")
    yield database
    database.close()


@pytest.fixture
def empty(cluster: Cluster) -> Iterator[Database]:
    """A database of its own without any tables."""
    with database_apart(cluster, "apart") as database:
        yield database


LONG = (
    "tests/launch/test_cluster",
    "tests/browser/test_stages",
    "tests/faults/",
    "tests/launch/",
    "tests/app/test_hostile",
    "tests/watcher/",
    "tests/browser/",
)
"""Files that take long begin first: else one process works on them when all others are done."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the tests of long files first; otherwise the order stays."""

    def rank(item: pytest.Item) -> int:
        found = (at for at, start in enumerate(LONG) if item.nodeid.startswith(start))
        return next(found, len(LONG))

    items.sort(key=rank)
