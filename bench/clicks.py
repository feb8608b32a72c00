"""Times every click that needs new numbers, on the demo and on a large shootout.

Run it with ``make bench``. Each click is what the web sends: the change, where there is one,
and the ladder after it, through the whole app on one connection. Beside each stands the time
of an answer that needs no number, so that a slow machine can be told from a slow answer.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

import httpx2
import numpy as np
from sqlalchemy import insert
from tests.browser.serving import serving, throwaway_cluster
from tests.desk.helpers import Bench, new_bench

from true_margin.desk.book.shelf import RATES
from true_margin.desk.shootouts.shootouts import add_round
from true_margin.launch.upkeep import load_demo
from true_margin.standins.rates import SIMULATED
from true_margin.store import shootouts
from true_margin.store.database import Database
from true_margin.store.tables import RunRow

SETUPS, TASKS, APPS, ROUNDS, RUNS = 60, 40, 4, 6, 100_000
REPEATS = 15


def fill(database: Database) -> Bench:
    """A shootout of 60 setups, 40 tasks in 4 apps, 6 rounds and 100 000 runs."""
    bench = new_bench(database, "A large shootout")
    for place in range(SETUPS - 2):
        bench.machine(f"Machine {place:02d}")
    for place in range(TASKS - 1):
        bench.task(f"Task {place:02d}", app=f"App {place % APPS}")
    for number in range(2, ROUNDS + 1):
        add_round(database, bench.slug, f"round {number}", {})
    rng = np.random.default_rng(8437)
    setups, tasks = list(bench.setups.values()), list(bench.tasks.values())
    with database.transaction() as session:
        home = shootouts.get_shootout(session, bench.slug).id
        rounds = [round_.id for round_ in shootouts.list_rounds(session, home)]
        cells = SETUPS * TASKS * ROUNDS
        rows = []
        for place in range(RUNS):
            s, t, r = np.unravel_index(place % cells, (SETUPS, TASKS, ROUNDS))
            v = 5 - 0.01 * s + 0.02 * t - 0.05 * r + rng.normal(0, 0.02)
            rows.append(
                {
                    "id": uuid4(),
                    "shootout_id": home,
                    "setup_id": setups[s],
                    "task_id": tasks[t],
                    "round_id": rounds[r],
                    "place": place,
                    "status": "ok",
                    "typed": None,
                    "value": float(np.exp(v)),
                    "resolution": 0.1,
                    "u": 0.35,
                    "method": "stopwatch",
                    "who": "bench",
                    "client_key": f"large-{place}",
                }
            )
        session.execute(insert(RunRow), rows)
        shootouts.bump_revision(session, home)
    return bench


def timed(click: Callable[[int], object]) -> list[float]:
    """Milliseconds of a click, several times; the first, on a warm book, is left out."""
    taken = []
    for place in range(REPEATS + 1):
        begin = time.perf_counter()
        click(place)
        taken.append(1000 * (time.perf_counter() - begin))
    return taken[1:]


def say(name: str, taken: list[float]) -> None:
    """Print one click."""
    worst = sorted(taken)[max(0, round(0.95 * len(taken)) - 1)]
    print(f"    {name:<34} median {statistics.median(taken):6.0f} ms, 95 in 100 {worst:6.0f}")


def clicks(client: httpx2.Client, slug: str) -> None:
    """Time every click of one shootout."""
    at = f"/api/v1/shootouts/{slug}"

    def get(path: str) -> httpx2.Response:
        answer = client.get(f"{at}{path}")
        answer.raise_for_status()
        return answer

    view = get("/margins").json()
    keys = [choice["key"] for choice in view["choices"]]
    ids = [row["setup_id"] for row in view["rows"]]
    task = view["key"]

    def change(**changes: object) -> None:
        version = client.get(at).json()["version"]
        client.patch(at, json={"version": version, **changes}).raise_for_status()
        get(f"/margins?task={task}")

    def void(place: int) -> None:
        run = client.get(f"/api/v1/runs/{voidable[place]}").json()["run"]
        body = {"version": run["version"], "status": "void", "reason": "slip", "why": "bench"}
        client.patch(f"/api/v1/runs/{run['id']}", json=body).raise_for_status()
        get(f"/margins?task={task}")

    voidable = [
        run["id"] for run in get(f"/margins/pair?task={task}&a={ids[0]}&b={ids[1]}").json()["runs"]
    ]
    while len(voidable) <= REPEATS:
        more = get(f"/margins/pair?task={keys[len(voidable) % len(keys)]}&a={ids[2]}&b={ids[3]}")
        voidable += [run["id"] for run in more.json()["runs"]]
    say("nothing: the server's clock", timed(lambda _: client.get("/api/v1/clock")))
    say("another task", timed(lambda i: get(f"/margins?task={keys[i % len(keys)]}")))
    say("the mix", timed(lambda _: get("/margins?task=mix")))
    say("rounds", timed(lambda _: get("/margins/rounds")))
    say("fairness", timed(lambda _: get(f"/margins/fairness?task={task}")))
    say("out of line", timed(lambda _: get("/out-of-line")))
    say(
        "the working of a setup",
        timed(lambda i: get(f"/margins/figures?task={task}&setup={ids[i % 4]}")),
    )
    say("all pairs", timed(lambda i: get(f"/margins/pairs?task={keys[i % len(keys)]}")))
    say("a pair", timed(lambda i: get(f"/margins/pair?task={task}&a={ids[0]}&b={ids[1 + i % 3]}")))
    say("another baseline", timed(lambda i: change(baseline_setup_id=ids[i % 4])))
    say("another confidence", timed(lambda i: change(confidence=0.8 + 0.01 * i)))
    say("another materiality", timed(lambda i: change(materiality=0.01 + 0.005 * i)))
    say("void a run", timed(void))
    say("the run sheet after it", timed(lambda _: get("/sheet")))
    picks(client, at)


def picks(client: httpx2.Client, at: str) -> None:
    """Time what moves on the screen of Picks, for a viewer of weekly work with prices tried."""
    tasks = [sheet["task"] for sheet in client.get(f"{at}/tasks").json()]
    timed_tasks = [task for task in tasks if task["measure"] == "time"][:8]
    setups = [setup["id"] for setup in client.get(f"{at}/lineup").json()["setups"]]
    owned = client.get(f"{at}/margins").json()["rows"][-1]["setup_id"]

    def ask(place: int, rule: str = "worth", what: str = "try") -> None:
        parts = [
            {"task_id": task["id"], "amount": 600.0 + 10 * place, "weight": 1.0}
            for task in timed_tasks
        ]
        viewer = {
            "weekly": rule != "value",
            "rule": rule,
            "hour_value": "30",
            "owned_setup_id": owned,
            "budget": "2500",
            "tasks": parts,
        }
        prices = {key: str(500 + 40 * n + place) for n, key in enumerate(setups)}
        answer = client.post(f"{at}/picks/{what}", json={"viewer": viewer, "prices": prices})
        answer.raise_for_status()

    say("an amount and prices tried", timed(ask))
    say("a weight and prices tried", timed(lambda i: ask(i, "value")))
    say("what would change the pick", timed(lambda i: ask(i, "worth", "turns"))[:5])
    say("all viewers at once", timed(lambda _: client.get(f"{at}/picks").raise_for_status()))


def main() -> None:
    """Print the table."""
    RATES.use(SIMULATED)
    with throwaway_cluster("clicks") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, Path("demo"))
        large = fill(database)
        with (
            serving(cluster.url) as address,
            httpx2.Client(base_url=address, timeout=120) as client,
        ):
            demo = "which-machine-for-the-festival-season"
            size = f"{SETUPS} setups, {TASKS} tasks, {RUNS} runs"
            for name, slug in (("the demo", demo), (size, large.slug)):
                begin = time.perf_counter()
                client.get(f"/api/v1/shootouts/{slug}/margins").raise_for_status()
                print(f"\n{name}: first answer {time.perf_counter() - begin:.1f} s")
                clicks(client, slug)


if __name__ == "__main__":
    main()
