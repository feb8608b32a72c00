"""Times the analysis against two general least-squares routines on the same data.

Run it with ``make bench``. One peer is ``statsmodels`` WLS, given the same runs
with the same weights and the whole design written out: a column for each
setup-task and one for the update. The other is ``pyfixest``'s ``feols``, made for
effects by the thousand: it absorbs setup-tasks and updates, and its effects are
read out, since they are the result. A time counts only when both agree to 1e-8.
Times are taken in turn, in one process, so that a noisy machine is noisy for
both; the ratio is that of the best times.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

import numpy as np
import pandas as pd
import pyfixest
import statsmodels.api as sm

from true_margin.core.analysis import analyse
from true_margin.core.cells import build_cells
from true_margin.core.rounds import fit_rounds
from true_margin.core.study import FloatArray, RunTable, Settings, Study, TaskFacts

ROUNDS = 2
AGREED = 1e-8


def make_study(
    runs: int, setups: int, tasks: int, *, rounds: int = 2, apps: int = 1, seed: int = 7
) -> Study:
    """Draw a study: every setup on every task of every app, in some rounds.

    Runs scatter about their cell, but cells follow the model exactly and the
    updates land evenly: then our generalised fit is the peer's weighted one.
    """
    rng = np.random.default_rng(seed)
    cells = setups * tasks * rounds
    cell = np.arange(runs) % cells
    setup, task, round_ = cell % setups, cell // setups % tasks, cell // (setups * tasks)
    noise = rng.normal(0, 0.02, runs)
    noise -= (np.bincount(cell, noise) / np.bincount(cell))[cell]
    v = -5 - 0.02 * setup - 0.1 * task - 0.09 * (rounds - 1 - round_) + noise
    return Study(
        setups=tuple(f"S{i:03d}" for i in range(setups)),
        tasks=tuple(TaskFacts(f"T{i:03d}", app=f"app {i % apps}") for i in range(tasks)),
        rounds=tuple(f"round {i}" for i in range(rounds)),
        runs=RunTable(
            setup=setup.astype(np.intp),
            task=task.astype(np.intp),
            round=round_.astype(np.intp),
            order=np.arange(runs, dtype=np.int64),
            value=np.exp(-v),
            u=np.full(runs, 0.35),
            status=np.zeros(runs, dtype=np.int8),
            bound=np.zeros(runs, dtype=np.int8),
            resolution=np.zeros(runs),
            ordered=np.ones(runs, dtype=bool),
            started=np.full(runs, np.nan),
        ),
        baseline=0,
        mix=(1.0,) * tasks,
        settings=Settings(update_prior_cv=0.0),
    )


def everything(study: Study) -> None:
    """The whole analysis: margins of all pairs, all ladders with ranks and chances, flags."""
    analysis = analyse(study)
    for comparison in (*analysis.tasks, analysis.mix):
        assert comparison is not None, "the study has tasks"
        _ = comparison.rungs
    _ = analysis.flags, analysis.values


def our_fit(study: Study) -> FloatArray:
    """Runs to log speeds, with everything between."""
    fit = fit_rounds(study, build_cells(study))
    return np.asarray(fit.theta[fit.component >= 0])


def peer_fit(study: Study) -> Callable[[], FloatArray]:
    """Write the peer's design out; give its fit alone, so that only that is timed."""
    cells = build_cells(study)
    node = (cells.setup * len(study.tasks) + cells.task)[cells.cell_of_run]
    design = np.zeros((len(node), int(node.max()) + 2))
    design[np.arange(len(node)), node] = 1.0
    design[:, -1] = (cells.round == 0)[cells.cell_of_run]
    cv = np.array([0.0 if spread is None else spread.cv for spread in cells.spread])
    weights = 1.0 / np.maximum(cv[cells.task][cells.cell_of_run], cells.relative_u) ** 2
    return lambda: np.asarray(sm.WLS(cells.v, design, weights=weights).fit().params[:-1])


def absorbing_fit(study: Study) -> Callable[[], FloatArray]:
    """Lay runs out for a fit that absorbs both kinds of effects; give its fit alone."""
    cells = build_cells(study)
    tasks, rounds = len(study.tasks), len(study.rounds)
    apps = {app: at for at, app in enumerate(dict.fromkeys(task.app for task in study.tasks))}
    app = np.array([apps[task.app] for task in study.tasks])
    cv = np.array([0.0 if spread is None else spread.cv for spread in cells.spread])
    of_cell, at = cells.cell_of_run, cells.task
    frame = pd.DataFrame(
        {
            "v": cells.v,
            "node": (cells.setup * tasks + at)[of_cell],
            "update": (app[at] * rounds + cells.round)[of_cell],
            "weight": 1.0 / np.maximum(cv[at][of_cell], cells.relative_u) ** 2,
        }
    )
    nodes = np.unique(frame["node"])
    latest = app[nodes % tasks] * rounds + rounds - 1

    def fit() -> FloatArray:
        demeaner = pyfixest.MapDemeaner(fixef_tol=1e-10)
        model = pyfixest.feols(
            "v ~ 1 | node + update", frame, weights="weight", vcov="iid", demeaner=demeaner
        )
        node, update = model.fixef(atol=1e-13, btol=1e-13).values()
        # The reference level of the second effect is left out: it is 0.
        return np.array(
            [
                node[str(each)] + update.get(str(last), 0.0)
                for each, last in zip(nodes.tolist(), latest.tolist(), strict=True)
            ]
        )

    return fit


def seconds_of(function: Callable[[], object], repeats: int) -> list[float]:
    """Time a function several times."""
    taken = []
    for _ in range(repeats):
        begin = time.perf_counter()
        function()
        taken.append(time.perf_counter() - begin)
    return taken


def best(seconds: list[float]) -> str:
    """Write the best and the median of some times."""
    return f"{1000 * min(seconds):9.1f} ms (median {1000 * statistics.median(seconds):.1f})"


def compare(runs: int, setups: int, tasks: int, *, repeats: int, peer_repeats: int) -> None:
    """Compare one size with the peer, and time the whole analysis of it."""
    study = make_study(runs, setups, tasks)
    peer = peer_fit(study)
    apart = float(np.abs(our_fit(study) - peer()).max())
    if not apart < AGREED:
        raise SystemExit(f"the peer disagrees by {apart}: no time counts")
    ours_s = seconds_of(lambda: our_fit(study), repeats)
    peer_s = seconds_of(peer, peer_repeats)
    ours_s += seconds_of(lambda: our_fit(study), repeats)
    whole_s = seconds_of(lambda: everything(study), repeats)
    print(
        f"{runs:>7} runs, {min(runs, setups * tasks * ROUNDS):>4} cells: fit {best(ours_s)}, "
        f"peer {best(peer_s)}, {min(peer_s) / min(ours_s):.1f} times as fast, "
        f"agrees to {apart:.0e}; whole analysis {best(whole_s)}",
        flush=True,
    )


def compare_absorbing(
    runs: int, setups: int, tasks: int, *, rounds: int, apps: int, repeats: int
) -> None:
    """Compare one size with the peer that absorbs effects."""
    study = make_study(runs, setups, tasks, rounds=rounds, apps=apps)
    peer = absorbing_fit(study)
    apart = float(np.abs(our_fit(study) - peer()).max())
    if not apart < AGREED:
        raise SystemExit(f"the absorbing peer disagrees by {apart}: no time counts")
    ours_s, peer_s = [], []
    for _ in range(repeats):
        ours_s += seconds_of(lambda: our_fit(study), 1)
        peer_s += seconds_of(peer, 1)
    print(
        f"{runs:>7} runs, {setups * tasks * rounds:>5} cells, {apps} apps: fit {best(ours_s)}, "
        f"absorbing peer {best(peer_s)}, {min(peer_s) / min(ours_s):.1f} times as fast, "
        f"agrees to {apart:.0e}",
        flush=True,
    )


def growth() -> None:
    """Print how the cost grows with runs at fixed cells, and with cells at fixed runs."""
    print("\nWhole analysis at 1 000 cells (25 setups, 20 tasks, 2 rounds):")
    for runs in (2_000, 10_000, 50_000, 200_000, 1_000_000):
        study = make_study(runs, 25, 20)
        everything(study)
        taken = seconds_of(lambda study=study: everything(study), 5)  # type: ignore[misc]
        print(f"{runs:>9} runs {best(taken)} {1e6 * min(taken) / runs:8.2f} µs a run", flush=True)
    print("\nFit and whole analysis at 200 000 runs, 4 apps:")
    for setups, tasks, rounds in ((10, 20, 2), (20, 40, 2), (40, 40, 4), (60, 42, 8)):
        study = make_study(200_000, setups, tasks, rounds=rounds, apps=4)
        everything(study)
        cells = setups * tasks * rounds
        fit_s = seconds_of(lambda study=study: our_fit(study), 5)  # type: ignore[misc]
        taken = seconds_of(lambda study=study: everything(study), 3)  # type: ignore[misc]
        print(
            f"{cells:>7} cells ({setups} setups, {tasks} tasks, {rounds} rounds): "
            f"fit {best(fit_s)}, whole {best(taken)} {1e6 * min(taken) / cells:6.1f} µs a cell",
            flush=True,
        )


def large() -> None:
    """Print the largest sizes: a million runs in 20 000 cells."""
    print("\nA million runs:")
    for setups, tasks, rounds, apps in ((60, 42, 8, 4), (100, 100, 2, 4), (100, 100, 2, 1)):
        study = make_study(1_000_000, setups, tasks, rounds=rounds, apps=apps)
        begin = time.perf_counter()
        everything(study)
        first = time.perf_counter() - begin
        fit_s = seconds_of(lambda study=study: our_fit(study), 3)  # type: ignore[misc]
        taken = seconds_of(lambda study=study: everything(study), 3)  # type: ignore[misc]
        print(
            f"{setups} setups, {tasks} tasks, {rounds} rounds, {apps} app(s): fit {best(fit_s)}, "
            f"whole {best(taken)}, the very first {1000 * first:.0f} ms",
            flush=True,
        )


def main() -> None:
    """Print the table."""
    compare(10, 2, 2, repeats=20, peer_repeats=20)
    compare(1_000, 10, 10, repeats=10, peer_repeats=10)
    compare(100_000, 25, 20, repeats=5, peer_repeats=2)
    # The peer holds its whole design: a million runs fit in memory with few cells only.
    compare(1_000_000, 5, 5, repeats=3, peer_repeats=1)
    compare_absorbing(100_000, 25, 20, rounds=2, apps=4, repeats=5)
    compare_absorbing(1_000_000, 60, 42, rounds=8, apps=4, repeats=5)
    growth()
    large()


if __name__ == "__main__":
    main()
