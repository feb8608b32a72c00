"""States how far the method can be trusted.

Run it with ``python -m bench.validity [studies] [seed] [word in the row's name]``.
"""

from __future__ import annotations

import math
import sys
import time
from collections.abc import Iterator

from bench.validity.judge import Verdict, judge
from bench.validity.worlds import World

SPREADS = (0.005, 0.01, 0.02, 0.03, 0.05)
SEED = 20_261_125
STUDIES = 400


def worlds() -> Iterator[World]:
    """All worlds that are looked at."""
    for cv in SPREADS:
        for n in (1, 2, 3, 4, 5):
            yield World(f"{_runs(n)} a cell, spread {100 * cv:g} %", (n,), (cv,))
    yield World("3 setups, 3 runs, spread 5 %", (3,), (0.05,), setups=3)
    yield World("3 setups, 2 runs, spread 3 %", (2,), (0.03,), setups=3)
    yield World("2 setups, 2 runs, spread 3 %", (2,), (0.03,), setups=2)
    yield World("1 to 5 runs, each task its own spread", (1, 2, 3, 4, 5), SPREADS, tasks=5)
    yield from _unequal_spreads()
    yield from _against_the_model()
    yield from _samples_and_looks()
    yield from _rounds_and_gaps()
    yield from _coarse_clocks()


def _runs(n: int) -> str:
    return "1 run" if n == 1 else f"{n} runs"


def _unequal_spreads() -> Iterator[World]:
    for cv in (0.01, 0.02, 0.03):
        for n in (2, 3, 5):
            name = f"setups' spreads differ by 2, {n} runs, {100 * cv:g} and {200 * cv:g} %"
            yield World(name, (n,), (cv,), (1.0, 2.0))
    yield World("one restless setup of six (2x), 3 runs, 2 %", (3,), (0.02,), (1,) * 5 + (2,))
    for n in (2, 3, 5):
        name = f"one task, spreads differ by 3, {n} runs"
        yield World(name, (n,), (0.01,), (1.0, 3.0), tasks=1)


def _against_the_model() -> Iterator[World]:
    """Runs as they ought not to be: alike, cold at first, held up."""
    for n in (2, 3, 5):
        yield World(f"neighbours correlate by 0.5, {n} runs, 2 %", (n,), (0.02,), neighbours=0.5)
        yield World(f"first runs 8 % slower, {n} runs, 2 %", (n,), (0.02,), warm_up=0.08)
    for share in (0.05, 0.10):
        name = f"{100 * share:g} % of the runs held up by 10 % and more, 3 runs, 2 %"
        yield World(name, (3,), (0.02,), slow=(share, 0.1))


def _samples_and_looks() -> Iterator[World]:
    for sample in (0.0, 0.01, 0.02, 0.03):
        name = f"samples differ by {100 * sample:g} %, 3 runs, 2 %"
        yield World(name, (3,), (0.02,), sample=sample)
    for cv in (0.01, 0.02, 0.03):
        for planned in (2, 3):
            name = f"looked at again to 10 runs, {planned} planned, {100 * cv:g} %"
            yield World(name, (10,), (cv,), tasks=1, looks=(planned, 10))


def _rounds_and_gaps() -> Iterator[World]:
    for uneven in (0.0, 0.015, 0.03):
        for n in (1, 3):
            name = f"two rounds, τ {100 * uneven:g} %, {_runs(n)}, spread 2 %"
            yield World(name, (n,), (0.02,), uneven=uneven)
    name = "a third of the cells missing, 1 to 3 runs, 2 %"
    yield World(name, (1, 2, 3), (0.02,), missing=0.33)
    name = "two rounds, a quarter missing, 1 to 3 runs, 2 %"
    yield World(name, (1, 2, 3), (0.02,), uneven=0.015, missing=0.25)


def _coarse_clocks() -> Iterator[World]:
    for spread in (0.001, 0.005, 0.01):
        name = f"whole seconds on 15 to 60 s, 3 runs, {100 * spread:g} %"
        yield World(name, (3,), (spread,), resolution_s=1, seconds=(15, 60))
    yield World("quarter minutes of 3 to 20", (3,), (0.01,), resolution_s=15, seconds=(200, 1200))


def report(world: World, verdict: Verdict, took: float) -> None:
    """Print one world."""
    print(f"\n{world.name}  ({verdict.pairs} pairs, {took:.0f} s)")
    for kind, tally in verdict.kinds.items():
        if tally.pairs:
            print(
                f"    {kind:<40} {tally.pairs:>7} pairs  coverage {100 * tally.coverage:5.1f} % "
                f"± {100 * tally.noise:.1f}"
                + (
                    f"  width {tally.relative_width:.2f} of the oracle's"
                    if tally.oracle_pairs
                    else ""
                )
            )
    if verdict.level_pairs:
        planned = verdict.share(verdict.called_as_planned, verdict.level_pairs)
        later = verdict.share(verdict.called_later, verdict.level_pairs)
        both = planned + later
        noise = math.sqrt(both * (1 - both) / verdict.level_pairs)
        print(
            f"    level pairs called ahead or clear: {100 * planned:.1f} % as planned, "
            f"{100 * later:.1f} % later, {100 * both:.1f} ± {100 * noise:.1f} % together"
        )
    resemble, first = (
        100 * verdict.share(part, verdict.studies)
        for part in (verdict.resemble, verdict.first_differ)
    )
    level = verdict.share(verdict.level_on_differing, verdict.differing)
    print(
        f"    clear, wrong sign {1000 * verdict.clear_wrong / verdict.pairs:.2f} in 1000; "
        f"wrong order {100 * verdict.order_wrong / verdict.pairs:.2f} in 100; "
        f"level though it differs {100 * level:.2f} %; "
        f"ranks held {100 * verdict.share(verdict.ranks_held, verdict.ladders):.1f} %; "
        f"said of all runs: resemble {resemble:.1f} %, first differ {first:.1f} %",
        flush=True,
    )


def main(studies: int = STUDIES, seed: int = SEED, only: str = "") -> None:
    """Print every world, or those whose names hold a word."""
    print(f"{studies} shootouts a world, seed {seed}")
    for world in (each for each in worlds() if only in each.name):
        begin = time.perf_counter()
        report(world, judge(world, studies, seed), time.perf_counter() - begin)


if __name__ == "__main__":
    given = sys.argv[1:]
    main(
        int(given[0]) if given else STUDIES,
        int(given[1]) if len(given) > 1 else SEED,
        given[2] if len(given) > 2 else "",
    )
