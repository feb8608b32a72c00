"""What can be watched of the app: counts and times of requests, as Prometheus reads them."""

from __future__ import annotations

import os
from typing import Any

from prometheus_client import (
    CONTENT_TYPE_LATEST,
    REGISTRY,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    generate_latest,
    multiprocess,
)
from starlette.requests import Request
from starlette.responses import Response
from starlette.types import Scope

from true_margin.app.problems import problem

FOLDER = "PROMETHEUS_MULTIPROC_DIR"
"""Where the processes of one server put their counts together; set by whoever starts them."""
LOOPBACK = ("127.0.0.1", "::1", "testclient")
REQUESTS = Counter("true_margin_requests", "Requests answered", ("method", "route", "status"))
SECONDS = Histogram(
    "true_margin_request_seconds",
    "Time until an answer was sent",
    ("route",),
    buckets=(0.005, 0.01, 0.025, 0.05, 0.1, 0.15, 0.25, 0.5, 1, 2.5, 10),
)
STREAMS = Gauge("true_margin_open_streams", "Pages that follow events", multiprocess_mode="livesum")


def observe(scope: Scope, status: int, took_s: float) -> None:
    """Count a request by the template of its route; what was typed into an address is not kept."""
    route: Any = scope.get("route")
    name = str(getattr(route, "path", "other"))
    REQUESTS.labels(scope["method"], name, str(status)).inc()
    if not name.endswith("/events"):
        SECONDS.labels(name).observe(took_s)


def show_metrics(request: Request) -> Response:
    """Give all counts to a program on this machine; a proxy passes nobody on to them."""
    near = request.client is not None and request.client.host in LOOPBACK
    if not near or "x-forwarded-for" in request.headers:
        return problem("not-found", 404, "There is nothing at /metrics.")
    registry: CollectorRegistry = REGISTRY
    if os.environ.get(FOLDER):
        registry = CollectorRegistry()
        multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    return Response(generate_latest(registry), media_type=CONTENT_TYPE_LATEST)
