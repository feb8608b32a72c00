"""Runs as somebody with a stopwatch would have written them down, drawn by chance."""

from __future__ import annotations

import uuid
from datetime import datetime

import numpy as np

from demo.names import WHO
from true_margin.core.readings import ReadingMethod, reading_uncertainty
from true_margin.core.wording import format_elapsed
from true_margin.exchange.pack_tables import PackRun

STEP_S = 0.1


def timed_run(
    rng: np.random.Generator, truth: float, spread: float, at: datetime, **where: str | int
) -> PackRun:
    """Draw one run.

    Args:
        rng: source of chance; the time is drawn first, then the id.
        truth: true seconds.
        spread: of runs, a coefficient of variation.
        at: when it began.
        where: machine, setup, task, round and place.
    """
    value = round(truth * float(np.exp(rng.normal(0.0, spread))), 1)
    u = reading_uncertainty(STEP_S, ReadingMethod.STOPWATCH, approximate=False)
    return PackRun.model_validate(
        {
            **where,
            "id": str(uuid.UUID(bytes=rng.bytes(16), version=4)),
            "status": "ok",
            "value": value,
            "typed": format_elapsed(value, STEP_S),
            "resolution": STEP_S,
            "method": "stopwatch",
            "u": round(u, 6),
            "started_at": at,
            "who": WHO,
        }
    )
