"""A standing task over four versions, as it would have been timed over the years."""

from __future__ import annotations

import numpy as np

from true_margin.core.analysis import Analysis, analyse
from true_margin.core.study import Measure, RunTable, Settings, Study, TaskFacts

VERSIONS = ("6.0", "6.1", "6.2", "6.3")
GAINS = (0.0, 0.08, 0.16, 0.27)
"""Log speed that each version has over the first."""


def timed(
    rows: list[tuple[str, int, list[float]]],
    *,
    measure: Measure = Measure.TIME,
    versions: tuple[str, ...] = VERSIONS,
    settings: Settings | None = None,
) -> Analysis:
    """Analyse runs given by machine and version; the first machine is the baseline."""
    names = list(dict.fromkeys(name for name, _, _ in rows))
    flat = [(names.index(name), at, value) for name, at, values in rows for value in values]
    count = len(flat)
    table = RunTable(
        setup=np.array([s for s, _, _ in flat], dtype=np.intp),
        task=np.zeros(count, dtype=np.intp),
        round=np.array([r for _, r, _ in flat], dtype=np.intp),
        order=np.arange(count),
        value=np.array([v for _, _, v in flat]),
        u=np.zeros(count),
        status=np.zeros(count, dtype=np.int8),
        bound=np.zeros(count, dtype=np.int8),
        resolution=np.zeros(count),
        ordered=np.ones(count, dtype=bool),
        started=np.full(count, np.nan),
    )
    return analyse(
        Study(
            tuple(names),
            (TaskFacts("Parade", measure, "Heddle"),),
            versions,
            table,
            0,
            (1.0,),
            settings=settings or Settings(),
        )
    )


def drawn(seed: int = 1, scatter: float = 0.01) -> list[tuple[str, int, list[float]]]:
    """Eight machines over four versions; one ties them all, some were timed once."""
    rng = np.random.default_rng(seed)
    plan = {
        "Tarn": (900.0, (0, 1, 2, 3)),
        "Halyard R": (1300.0, (0,)),
        "Loom": (640.0, (0, 1)),
        "Stone": (560.0, (1,)),
        "Brick": (372.0, (2, 3)),
        "Halyard L": (270.0, (2, 3)),
        "Halyard S": (480.0, (3,)),
        "Ferrous": (250.0, (3,)),
    }
    return [
        (
            name,
            at,
            [
                float(base * np.exp(-GAINS[at] + each))
                for each in rng.normal(0.0, scatter, 2 + (at + len(name)) % 3)
            ],
        )
        for name, (base, versions) in plan.items()
        for at in versions
    ]
