"""Shootouts drawn from known truth."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

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
        neighbours: correlation of a run with the one before it in its cell.
        warm_up: how much slower the first run of every cell is, as a fraction.
        slow: (chance, fraction): so many runs are slower by so much, right-skewed.
        sample: true standard deviation of samples of one model, all tasks of one alike; None
            where the tested machines alone are asked about.
        looks: (planned, most): runs of each cell are looked at after the planned number and
            after every one that is added, up to the most; every pair is truly level.
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
    neighbours: float = 0.0
    warm_up: float = 0.0
    slow: tuple[float, float] = (0.0, 0.0)
    sample: float | None = None
    looks: tuple[int, int] | None = None


@dataclass(frozen=True, slots=True)
class Drawn:
    """A drawn shootout and its truth.

    Attributes:
        study: what a reviewer would have.
        theta: true log speeds as of the latest round, shape (setups, tasks).
        sigma: true spread of one run, reading included, shape (setups, tasks).
        models: true log speeds of the models, shape (setups, tasks).
        next_run: log speed of one more run on another sample of each, shape (setups, tasks).
    """

    study: Study
    theta: FloatArray
    sigma: FloatArray
    models: FloatArray
    next_run: FloatArray


def draw(world: World, rng: np.random.Generator) -> Drawn:
    """Draw one shootout.

    With two rounds, the first two setups are measured in both, the others in one or the
    other in turn; the update moves all tasks by N(0, 0.1²), and each setup by N(0, τ²) besides.
    """
    s, t = world.setups, world.tasks
    theta = -np.log(rng.uniform(*world.seconds, t)) + rng.normal(
        0, 0.0 if world.looks else LOG_RATIO_SD / np.sqrt(2), (s, t)
    )
    models = theta
    theta = models + rng.normal(0, world.sample or 0.0, (s, 1))
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
    noise = _noise(world, n.ravel(), rng)
    v = theta[setup, task] + shift[setup, round_] + sigma[setup, task] * noise
    first = np.diff(np.repeat(np.arange(n.size), n.ravel()), prepend=-1) != 0
    v -= np.log1p(world.warm_up) * first
    # Exponential tails, so that a run that was held up may be held up much.
    held_up = rng.uniform(size=len(setup)) < world.slow[0]
    v -= np.log1p(world.slow[1] * rng.exponential(size=len(setup))) * held_up
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
        np.zeros(len(setup), dtype=np.int8),
        np.full(len(setup), world.resolution_s),
        np.ones(len(setup), dtype=bool),
        np.full(len(setup), np.nan),
    )
    planned = None if world.looks is None else world.looks[0]
    study = Study(
        tuple(f"S{i}" for i in range(s)),
        tuple(TaskFacts(f"T{i}", app="one app", planned_runs=planned) for i in range(t)),
        tuple(f"r{i}" for i in range(rounds)),
        runs,
        0,
        (1.0,) * t,
        (),
        Settings(),
    )
    bought = models + rng.normal(0, world.sample or 0.0, (s, 1))
    return Drawn(study, theta, sigma, models, bought + sigma * rng.normal(size=(s, t)))


def first_runs_of(study: Study, most: int) -> Study:
    """The same shootout when every cell had so many runs."""
    runs = study.runs
    cell = (runs.setup * len(study.tasks) + runs.task) * len(study.rounds) + runs.round
    place = np.zeros(len(cell), dtype=int)
    for each in np.unique(cell):
        own = np.flatnonzero(cell == each)
        place[own] = np.arange(len(own))
    kept = place < most
    columns = {each.name: getattr(runs, each.name)[kept] for each in fields(runs)}
    return replace(study, runs=RunTable(**columns))


def _noise(world: World, n: np.ndarray, rng: np.random.Generator) -> FloatArray:
    """Standard normals, cell after cell, whose neighbours in a cell correlate (AR(1))."""
    fresh = rng.normal(size=int(n.sum()))
    if not world.neighbours:
        return fresh
    rho, place = world.neighbours, 0
    for runs in n[n > 0].tolist():
        for at in range(place + 1, place + runs):
            fresh[at] = rho * fresh[at - 1] + np.sqrt(1 - rho**2) * fresh[at]
        place += runs
    return fresh


def _there(world: World, rng: np.random.Generator, rounds: int) -> np.ndarray:
    shape = (world.setups, world.tasks, rounds)
    there = rng.uniform(size=shape) >= world.missing
    if rounds == 2:
        place = np.arange(world.setups)
        there[(place >= 2) & (place % 2 == 0), :, 0] = False
        there[(place >= 2) & (place % 2 == 1), :, 1] = False
    return there
