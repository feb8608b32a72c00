"""Whom the festival shootout picks machines for: four viewers of the demo world."""

from __future__ import annotations

from decimal import Decimal

from demo.names import DIARY, HALL, PARADE, STILLS, TITLES
from true_margin.exchange.pack_viewers import PackViewer, PackViewerNeed, PackViewerTask

FILMER, TEACHER = "Festival filmer", "Village teacher"
VOLUNTEER, TITLER = "Photo volunteer", "Title maker"
_OWNS = {"owned_machine": "Tarn Desk", "owned_setup": "as owned", "resale": Decimal(300)}
VIEWERS = [
    PackViewer(
        name=FILMER,
        weekly=True,
        rule="fastest",
        budget=Decimal(1500),
        hour_value=Decimal(22),
        energy_price=Decimal("0.31"),
        **_OWNS,
    ),
    PackViewer(
        name=TEACHER,
        weekly=True,
        rule="worth",
        budget=Decimal(1500),
        hour_value=Decimal(15),
        weeks=40.0,
        **_OWNS,
    ),
    PackViewer(
        name=VOLUNTEER,
        weekly=True,
        rule="enough",
        currency="USD",
        budget=Decimal(1600),
        hour_value=Decimal(12),
        **{**_OWNS, "resale": Decimal(320)},
    ),
    PackViewer(
        name=TITLER,
        weekly=True,
        rule="worth",
        hour_value=Decimal(48),
        horizon_years=2.0,
        attended=0.6,
        **_OWNS,
    ),
]
VIEWER_TASKS = [
    PackViewerTask(viewer=FILMER, task=PARADE, weight=0.5, amount=55 * 60.0),
    PackViewerTask(viewer=FILMER, task=DIARY, weight=0.2, amount=20 * 60.0),
    PackViewerTask(viewer=FILMER, task=TITLES, weight=0.1, amount=6.0, by_run=True),
    PackViewerTask(viewer=FILMER, task=STILLS, weight=0.2, amount=400.0),
    PackViewerTask(viewer=TEACHER, task=DIARY, weight=0.8, amount=0.5, by_run=True),
    PackViewerTask(viewer=TEACHER, task=HALL, weight=0.2, amount=10 * 60.0),
    PackViewerTask(viewer=VOLUNTEER, task=STILLS, weight=0.7, amount=900.0, accepted_s=300.0),
    PackViewerTask(viewer=VOLUNTEER, task=DIARY, weight=0.3, amount=6 * 60.0),
    PackViewerTask(viewer=TITLER, task=TITLES, weight=0.7, amount=40.0, by_run=True),
    PackViewerTask(viewer=TITLER, task=PARADE, weight=0.3, amount=22 * 60.0),
]
VIEWER_NEEDS = [
    PackViewerNeed(viewer=FILMER, about="Memory", relation="at least", value="16"),
    PackViewerNeed(viewer=FILMER, about="failures", relation="none"),
    PackViewerNeed(viewer=VOLUNTEER, about="Memory", relation="at least", value="16"),
]
