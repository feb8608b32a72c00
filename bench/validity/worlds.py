"""Shootouts drawn from known truth."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from true_margin.core.study import FloatArray, RunTable, Settings, Study, TaskFacts

LOG_RATIO_SD = 0.15
"""True log ratios between two setups are drawn from N(0, this²)."""


@dataclass(frozen=True, slots=True)
class World:
    """What a drawn shootout is like.

    Attributes:
        name: what the row is called.
        runs: runs in each cell; (1, 2, 3) draws each cell's number from these.
        spread: true run-to-run spread, as a fraction; one of these for each task.
        setup_factors: the spread is multiplied by one of these, setup by setup in turn.
        setups, tasks: how many.
        uneven: true τ; None for a shootout of one round.
        missing: chance that a cell has no runs.
        resolution_s: readings are rounded to this; 0 for exact ones.
        seconds: (least, most) of a typical time; drawn for each task.
    """

    name: str
    runs: tuple[int, ...]
    spread: tuple[float, ...]
    setup_factors: tuple[float, ...] = (1.0,)
    setups: int = 6
    tasks: int = 4
    uneven: float | None = None
    missing: float = 0.0
    resolution_s: float = 0.0
    seconds: tuple[float, float] = (60.0, 1200.0)


@dataclass(frozen=True, slots=True)
class Drawn:
    """A drawn shootout and its truth.

    Attributes:
        study: what a reviewer would have.
        theta: true log speeds as of the latest round, shape (setups, tasks).
        sigma: true spread of one run, reading included, shape (setups, tasks).
    """

    study: Study
    theta: FloatArray
    sigma: FloatArray


def draw(world: World, rng: np.random.Generator) -> Drawn:
    """Draw one shootout.

    With two rounds, the first two setups are measured in both, the others in one or the
    other in turn; the update moves all tasks by N(0, 0.1²), and each setup by N(0, τ²) besides.
    """
    s, t = world.setups, world.tasks
    theta = -np.log(rng.uniform(*world.seconds, t)) + rng.normal(
        0, LOG_RATIO_SD / np.sqrt(2), (s, t)
    )
    factors = np.resize(world.setup_factors, s)
    spread = np.resize(world.spread, t)
    sigma = factors[:, None] * spread[None, :]
    rounds = 1 if world.uneven is None else 2
    there = _there(world, rng, rounds)
    n = rng.choice(world.runs, (s, t, rounds)) * there
    setup, task, round_ = (np.repeat(axis.ravel(), n.ravel()) for axis in np.indices(n.shape))
    shift = np.zeros((s, rounds))
    if world.uneven is not None:
        # The earlier round is the one that is shifted: results read as of the latest.
        shift[:, 0] = rng.normal(0, 0.1) + rng.normal(0, world.uneven, s)
    v = theta[setup, task] + shift[setup, round_] + sigma[setup, task] * rng.normal(size=len(setup))
    seconds = np.exp(-v)
    if world.resolution_s:
        steps = np.maximum(np.round(seconds / world.resolution_s), 1)
        seconds = world.resolution_s * steps
    runs = RunTable(
        setup.astype(np.intp),
        task.astype(np.intp),
        round_.astype(np.intp),
        np.arange(len(setup), dtype=np.int64),
        seconds,
        np.full(len(setup), world.resolution_s / np.sqrt(12)),
        np.zeros(len(setup), dtype=np.int8),
        np.zeros(len(setup), dtype=bool),
    )
    study = Study(
        tuple(f"S{i}" for i in range(s)),
        tuple(TaskFacts(f"T{i}", app="one app") for i in range(t)),
        tuple(f"r{i}" for i in range(rounds)),
        runs,
        0,
        (1.0,) * t,
        (),
        Settings(),
    )
    return Drawn(study, theta, sigma)


def _there(world: World, rng: np.random.Generator, rounds: int) -> np.ndarray:
    shape = (world.setups, world.tasks, rounds)
    there = rng.uniform(size=shape) >= world.missing
    if rounds == 2:
        place = np.arange(world.setups)
        there[(place >= 2) & (place % 2 == 0), :, 0] = False
        there[(place >= 2) & (place % 2 == 1), :, 1] = False
    return there
