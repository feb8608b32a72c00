"""What the festival shootout tests: machines, specs, prices, tasks; nothing drawn by chance."""

from __future__ import annotations

from datetime import UTC, date, datetime
from decimal import Decimal

from demo.names import DIARY, DIARY_S, PARADE, PEBBLE, SETUP_OF, WATCHED, WHO
from demo.season_seen import AFTER_UPDATE, TRIALS
from true_margin.core.choices import StepKind
from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackInquiryStep,
    PackOverrule,
    PackPublished,
    PackTrial,
)
from true_margin.exchange.pack_tables import PackExtra

OVERRULES = [
    PackOverrule(
        task=task,
        machine_a="Ferrous T9",
        setup_a="stock",
        machine_b=machine,
        setup_b=setup,
        reason="one frame of 9 000 is missing; it cannot move the time",
        who=WHO,
        made_at=datetime(2026, 10, 15, 10, 0, tzinfo=UTC),
    )
    for task, machine, setup in [
        (DIARY, "Cairn Brick", "as bought"),
        (DIARY, "Halyard L", "as lent"),
        (DIARY_S, "Halyard L", "as lent"),
    ]
]
INQUIRIES = [
    PackInquiry(
        id="backup",
        kind="other",
        task=PARADE,
        machine_a="Halyard L",
        setup_a="as lent",
        about="Some spring runs of Halyard L on the parade took a tenth longer than others",
        suspected="a backup program that starts by itself in the evening",
        changed="the backup program was switched off, and the machine left alone for an hour",
        outcome="in autumn its runs repeat within a few seconds",
        counts="again",
        who=WHO,
        opened_at=datetime(2026, 5, 20, 21, 30, tzinfo=UTC),
        closed_at=datetime(2026, 10, 14, 18, 0, tzinfo=UTC),
    )
]
INQUIRY_STEPS = [
    PackInquiryStep(
        inquiry="backup", place=place, kind=kind, words=words, counts=counts, who=who, noted_at=at
    )
    for place, (kind, words, counts, who, at) in enumerate(
        [
            (
                StepKind.SUSPECTED,
                INQUIRIES[0].suspected,
                None,
                WHO,
                datetime(2026, 5, 20, 21, 30, tzinfo=UTC),
            ),
            (
                StepKind.CHANGED,
                INQUIRIES[0].changed,
                None,
                WHO,
                datetime(2026, 5, 21, 9, 10, tzinfo=UTC),
            ),
            (StepKind.AGAIN, None, None, WHO, datetime(2026, 10, 14, 17, 40, tzinfo=UTC)),
            (
                StepKind.CAME_OUT,
                INQUIRIES[0].outcome,
                INQUIRIES[0].counts,
                WHO,
                datetime(2026, 10, 14, 18, 0, tzinfo=UTC),
            ),
        ],
        start=1,
    )
]
PUBLISHED = [
    PackPublished(
        task=PARADE,
        machine_a="Ferrous T9",
        setup_a="stock",
        machine_b="Halyard S",
        setup_b="mains",
        kind="times as fast",
        value=1.5,
        source="The Reel Almanac, October",
        who=WHO,
        noted_at=datetime(2026, 10, 20, 9, 0, tzinfo=UTC),
    ),
    PackPublished(
        task=PARADE,
        machine_a="Halyard L",
        setup_a="as lent",
        machine_b="Cairn Brick",
        setup_b="as bought",
        kind="% faster",
        value=80.0,
        source="maker's leaflet, September",
        who=WHO,
        noted_at=datetime(2026, 10, 20, 9, 5, tzinfo=UTC),
    ),
]
PRICES = [
    ("Tarn Desk", "used", "420", date(2026, 9, 1), "second-hand board", None),
    ("Tarn Desk", "used", "380", date(2026, 11, 3), "second-hand board", None),
    ("Cairn Brick", "list", "990", date(2026, 6, 2), "maker's list", None),
    ("Cairn Brick", "list", "940", date(2026, 11, 9), "maker's list", None),
    ("Halyard S", "list", "1390", date(2026, 5, 12), "maker's list", None),
    ("Halyard S", "list", "1290", date(2026, 11, 9), "maker's list", None),
    ("Halyard L", "list", "2590", date(2026, 5, 12), "maker's list", None),
    ("Halyard L", "list", "2490", date(2026, 10, 2), "maker's list", None),
    ("Ferrous T9", "list", "2290", date(2026, 7, 20), "sum of parts", None),
    ("Ferrous T9", "list", "2150", date(2026, 11, 2), "sum of parts", None),
    ("Ferrous T9", "street", "1790", date(2026, 11, 24), "four-day offer", date(2026, 11, 28)),
    ("Pebble", "list", "130", date(2026, 11, 9), "maker's list", None),
    ("Halyard M", "list", "1450", date(2026, 11, 20), "announced for spring", None),
]
EXTRAS = [
    PackExtra(
        machine="Halyard S",
        setup="mains",
        name="dock",
        amount=Decimal(89),
        currency="EUR",
        dated=date(2026, 11, 9),
    ),
    PackExtra(
        machine="Ferrous T9",
        setup="overclocked",
        name="larger cooler",
        amount=Decimal("64.80"),
        currency="USD",
        dated=date(2026, 11, 2),
    ),
]
TRIALS += [
    PackTrial(
        task=WATCHED,
        machine=SETUP_OF[PEBBLE][0],
        setup=SETUP_OF[PEBBLE][1],
        who=WHO,
        noted_at=datetime(2026, 11, 24, 9, step, tzinfo=UTC),
        app_version="6.3",
        kind=kind,
        grade=grade,
        freezes=freezes,
        note="after the driver update",
    )
    for step, (kind, grade, freezes) in enumerate(AFTER_UPDATE)
]
