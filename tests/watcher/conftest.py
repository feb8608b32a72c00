"""A server that watchers send their runs to."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.browser.serving import serving
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database


@pytest.fixture(scope="module")
def address(cluster: Cluster, database: Database) -> Iterator[str]:
    assert database.engine is not None, "migrated before it is served"
    with serving(cluster.url) as url:
        yield url
