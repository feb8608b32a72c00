"""How fast the public page is served: so many requests a second, while somebody works on the bench.

python -m bench.page_load [--rate 200] [--seconds 30]
"""

from __future__ import annotations

import argparse
import asyncio
import statistics
import time

import httpx2
from tests.browser.serving import serving, throwaway_cluster
from tests.conftest import PROJECT
from tests.desk.helpers import new_bench

from true_margin.desk.publish.editions import publish_edition
from true_margin.launch.upkeep import load_demo
from true_margin.store.database import Database

SLUG = "which-machine-for-the-festival-season"
PAGES = ("", "/1/have/tarn-desk/festival-filmer.html", "/1/have/tarn-desk.html", "/1/site.css")
RUN_EVERY_S = 1.0


async def ask(address: str, token: str, rate: float, seconds: float) -> tuple[list[float], int]:
    """Ask at a steady rate, whether or not earlier answers came; gives times and failures."""
    times: list[float] = []
    failed = 0
    limits = httpx2.Limits(max_connections=200, max_keepalive_connections=200)
    async with httpx2.AsyncClient(base_url=address, limits=limits, timeout=30) as client:

        async def once(path: str) -> None:
            nonlocal failed
            start = time.perf_counter()
            answer = await client.get(f"/p/{token}{path}")
            times.append(1000 * (time.perf_counter() - start))
            failed += answer.status_code != 200

        begun = time.perf_counter()
        tasks = []
        for at in range(int(rate * seconds)):
            await asyncio.sleep(max(begun + at / rate - time.perf_counter(), 0))
            tasks.append(asyncio.create_task(once(PAGES[at % len(PAGES)])))
        await asyncio.gather(*tasks)
    return times, failed


async def work(address: str, slug: str, body: dict[str, object], seconds: float) -> list[float]:
    """Enter a run a second, as a bench does; gives how long each took."""
    times = []
    async with httpx2.AsyncClient(base_url=address, headers={"origin": address}) as client:
        until = time.perf_counter() + seconds
        at = 0
        while time.perf_counter() < until:
            start = time.perf_counter()
            run = {**body, "typed": f"10:{at % 60:02d}.0", "client_key": f"page-load-{at:06d}"}
            answer = await client.post(f"/api/v1/shootouts/{slug}/runs", json=run)
            assert answer.status_code == 201, answer.text
            times.append(1000 * (time.perf_counter() - start))
            at += 1
            await asyncio.sleep(RUN_EVERY_S)
    return times


async def both(
    address: str, token: str, asked: argparse.Namespace, slug: str, body: dict[str, object]
) -> tuple[tuple[list[float], int], list[float]]:
    """Readers and the bench at once."""
    await ask(address, token, 20, 2)
    return await asyncio.gather(
        ask(address, token, asked.rate, asked.seconds), work(address, slug, body, asked.seconds)
    )


def main() -> None:
    """Measure on a throwaway database."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--rate", type=float, default=200.0, help="requests a second")
    parser.add_argument("--seconds", type=float, default=30.0)
    asked = parser.parse_args()
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        token = publish_edition(database, SLUG, "", "bench").links[0].token
        bench = new_bench(database, "Running bench")
        body: dict[str, object] = {
            "setup_id": str(bench.setups["A"]),
            "task_id": str(bench.tasks["Parade"]),
            "status": "ok",
        }
        database.close()
        with serving(cluster.url) as address:
            (times, failed), runs = asyncio.run(both(address, token, asked, bench.slug, body))
    cut = statistics.quantiles(times, n=100)
    print(
        f"{len(times)} requests at {asked.rate:g}/s, {failed} failed: median {cut[49]:.1f} ms, "
        f"p95 {cut[94]:.1f} ms, p99 {cut[98]:.1f} ms; beside it {len(runs)} runs entered, "
        f"median {statistics.median(runs):.1f} ms, worst {max(runs):.0f} ms"
    )


if __name__ == "__main__":
    main()
