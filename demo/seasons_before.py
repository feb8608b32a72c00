"""An older shootout: two seasons before, on the same film, from which long lines begin."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from decimal import Decimal

import numpy as np

from demo.names import PARADE, PARADE_HD
from demo.season_specs import SPECS_OF, unit_of
from demo.season_tasks import TASK_SETTINGS, TASKS
from demo.stopwatch import timed_run
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_tables import (
    PackMachine,
    PackPrice,
    PackRound,
    PackRoundVersion,
    PackRun,
    PackSetup,
    PackSetupSpec,
    PackShootout,
    PackSpec,
    PackTimeline,
)

SEED = 20241005
SPREAD = 0.008
ROUNDS = (
    ("spring 2023", "5.4", datetime(2023, 5, 6, 10, 0, tzinfo=UTC)),
    ("autumn 2024", "6.0", datetime(2024, 10, 5, 10, 0, tzinfo=UTC)),
    ("autumn 2025", "6.1", datetime(2025, 10, 11, 10, 0, tzinfo=UTC)),
)
MACHINES = {
    "Tarn Desk": ("as owned", SPECS_OF["Tarn Desk"]),
    "Halyard R": (
        "as lent",
        {
            "Type": "laptop",
            "Year": "2021",
            "Own, bought or lent": "lent",
            "Processor": "Mica 3",
            "Cores": "4",
            "Memory": "16",
            "System": "Lathe 11.4",
        },
    ),
    "Loom 12": (
        "as bought",
        {
            "Type": "tower",
            "Year": "2024",
            "Own, bought or lent": "bought",
            "Processor": "Obol 12",
            "Cores": "12",
            "Memory": "32",
            "System": "Plumb 20.3",
        },
    ),
    "Cairn Stone": (
        "as lent",
        {
            "Type": "small desktop",
            "Year": "2025",
            "Own, bought or lent": "lent",
            "Processor": "Mica 6",
            "Cores": "8",
            "Memory": "16",
            "System": "Lathe 13.5",
        },
    ),
    "Skerry": (
        "as lent",
        {
            "Type": "laptop",
            "Year": "2020",
            "Own, bought or lent": "lent",
            "Processor": "Mica 2",
            "Cores": "4",
            "Memory": "8",
            "System": "Lathe 10.9",
        },
    ),
}
# True seconds by task, machine and round; the app gained some 9 and 8 per cent in between.
TRUTH = {
    PARADE: {
        "Skerry": {0: 1755.0},
        "Tarn Desk": {1: 851.0, 2: 781.0},
        "Halyard R": {1: 1262.0},
        "Loom 12": {1: 641.0, 2: 586.0},
        "Cairn Stone": {2: 662.0},
    },
    PARADE_HD: {"Tarn Desk": {2: 607.0}, "Loom 12": {2: 452.0}, "Cairn Stone": {2: 498.0}},
}
PRICES = (
    ("Skerry", "890", date(2023, 4, 28)),
    ("Tarn Desk", "1150", date(2024, 9, 20)),
    ("Halyard R", "1290", date(2024, 9, 20)),
    ("Loom 12", "2350", date(2024, 9, 27)),
    ("Cairn Stone", "1090", date(2025, 10, 1)),
)
REPEATS = 3
BACK = datetime(2025, 11, 3, 9, 0, tzinfo=UTC)
"""When what was lent went back."""


def runs() -> list[PackRun]:
    """Three runs of each machine on each task, round by round."""
    rng = np.random.default_rng(SEED)
    found: list[PackRun] = []
    for place, (round_, _, began) in enumerate(ROUNDS):
        now = began
        for task, by_machine in TRUTH.items():
            for machine, truth in by_machine.items():
                for _ in range(REPEATS if place in truth else 0):
                    run = timed_run(
                        rng,
                        truth[place],
                        SPREAD,
                        now,
                        machine=machine,
                        setup=MACHINES[machine][0],
                        task=task,
                        round=round_,
                        place=len(found) + 1,
                    )
                    found.append(run)
                    now += timedelta(minutes=round(2 + (run.value or 0) / 60))
    return found


def draw_seasons_before() -> Pack:
    """Draw the whole shootout."""
    state = {"Power source": "mains", "Fresh boot": "yes", "Background programs": "none"}
    return Pack(
        shootout=PackShootout(
            name="Two seasons before",
            price_date=date(2025, 10, 12),
            baseline_machine="Tarn Desk",
            baseline_setup="as owned",
        ),
        machines=[
            PackMachine(name=name, retired_at=BACK if setup == "as lent" else None)
            for name, (setup, _) in MACHINES.items()
        ],
        setups=[PackSetup(machine=name, name=setup) for name, (setup, _) in MACHINES.items()],
        specs=[
            PackSpec(machine=name, row=row, value=value, unit=unit_of(row))
            for name, (_, specs) in MACHINES.items()
            for row, value in specs.items()
        ],
        setup_specs=[
            PackSetupSpec(machine=name, setup=setup, row=row, value=value, unit=unit_of(row))
            for name, (setup, _) in MACHINES.items()
            for row, value in state.items()
        ],
        prices=[
            PackPrice(
                machine=machine,
                kind="list",
                amount=Decimal(amount),
                currency="EUR",
                dated=dated,
                source="maker's list",
            )
            for machine, amount, dated in PRICES
        ],
        timelines=[PackTimeline(name="Lantern parade", length_s=660)],
        tasks=[task for task in TASKS if task.name in TRUTH],
        task_settings=[each for each in TASK_SETTINGS if each.task in TRUTH],
        rounds=[PackRound(name=name) for name, _, _ in ROUNDS],
        round_versions=[
            PackRoundVersion(round=name, app="Heddle", version=version)
            for name, version, _ in ROUNDS
        ],
        runs=runs(),
    )
