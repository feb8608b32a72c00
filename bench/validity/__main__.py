"""States how far the method can be trusted.

Run it with ``python -m bench.validity [studies] [seed] [word in the row's name]``.
"""

from __future__ import annotations

import sys
import time

from bench.validity.judge import Verdict, judge
from bench.validity.worlds import World

SPREADS = (0.005, 0.01, 0.02, 0.03, 0.05)
SEED = 20_261_125
STUDIES = 400


def worlds() -> list[World]:
    """All worlds that are looked at."""
    found = [
        World(f"{n} run{'s' if n > 1 else ''} a cell, spread {100 * cv:g} %", (n,), (cv,))
        for cv in SPREADS
        for n in (1, 2, 3, 4, 5)
    ]
    found.append(World("3 setups, 3 runs, spread 5 %", (3,), (0.05,), setups=3))
    found.append(World("3 setups, 2 runs, spread 3 %", (2,), (0.03,), setups=3))
    found.append(World("2 setups, 2 runs, spread 3 %", (2,), (0.03,), setups=2))
    found.append(World("1 to 5 runs, each task its own spread", (1, 2, 3, 4, 5), SPREADS, tasks=5))
    for cv in (0.01, 0.02, 0.03):
        for n in (2, 3, 5):
            name = f"setups' spreads differ by 2, {n} runs, {100 * cv:g} and {200 * cv:g} %"
            found.append(World(name, (n,), (cv,), (1.0, 2.0)))
    found.append(
        World("one restless setup of six (2x), 3 runs, 2 %", (3,), (0.02,), (1,) * 5 + (2,))
    )
    for n in (2, 3, 5):
        found.append(
            World(f"one task, spreads differ by 3, {n} runs", (n,), (0.01,), (1.0, 3.0), tasks=1)
        )
        found.append(
            World(f"neighbours correlate by 0.5, {n} runs, 2 %", (n,), (0.02,), neighbours=0.5)
        )
        found.append(World(f"first runs 8 % slower, {n} runs, 2 %", (n,), (0.02,), warm_up=0.08))
    for share in (0.05, 0.10):
        name = f"{100 * share:g} % of the runs held up by 10 % and more, 3 runs, 2 %"
        found.append(World(name, (3,), (0.02,), slow=(share, 0.1)))
    for uneven in (0.0, 0.015, 0.03):
        for n in (1, 3):
            name = f"two rounds, τ {100 * uneven:g} %, {n} run{'s' if n > 1 else ''}, spread 2 %"
            found.append(World(name, (n,), (0.02,), uneven=uneven))
    found.append(
        World("a third of the cells missing, 1 to 3 runs, 2 %", (1, 2, 3), (0.02,), missing=0.33)
    )
    found.append(
        World(
            "two rounds, a quarter missing, 1 to 3 runs, 2 %",
            (1, 2, 3),
            (0.02,),
            uneven=0.015,
            missing=0.25,
        )
    )
    found.append(
        World(
            "whole seconds on short tasks, 3 runs, 1 %",
            (3,),
            (0.01,),
            resolution_s=1,
            seconds=(15, 60),
        )
    )
    found.append(
        World("quarter minutes of 3 to 20", (3,), (0.01,), resolution_s=15, seconds=(200, 1200))
    )
    return found


def report(world: World, verdict: Verdict, took: float) -> None:
    """Print one world."""
    print(f"\n{world.name}  ({verdict.pairs} pairs, {took:.0f} s)")
    for kind, tally in verdict.kinds.items():
        if tally.pairs:
            print(
                f"    {kind:<40} {tally.pairs:>7} pairs  coverage {100 * tally.coverage:5.1f} % "
                f"± {100 * tally.noise:.1f}  width {tally.relative_width:.2f} of the oracle's"
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
