"""The disk of the data folder runs full while runs are written, and is made room on again."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import httpx2
import pytest
from sqlalchemy import text

from tests.desk.helpers import Bench, new_bench
from tests.faults.conftest import wait_for
from tests.faults.test_writing_load import Served
from true_margin.store.database import Database

SIZE_MB = 220
BACK_WITHIN_S = 60.0
SAID_WITHIN_S = 90.0
"""A server that went down with its disk is begun anew first, which fails for a while."""


@pytest.fixture
def small() -> Iterator[Path]:
    """A data folder on a disk of its own, which is small."""
    folder = Path(tempfile.mkdtemp(prefix="true-margin-disk-"))
    folder.chmod(0o755)
    mount = ["mount", "-t", "tmpfs", "-o", f"size={SIZE_MB}m,mode=755", "tmpfs", str(folder)]
    if subprocess.run(mount, capture_output=True, check=False).returncode != 0:
        folder.rmdir()
        pytest.skip("this machine lets nobody mount a small disk")
    yield folder
    subprocess.run(["umount", "-l", str(folder)], check=True)
    shutil.rmtree(folder, ignore_errors=True)
    folder.with_name(f"{folder.name}.log").unlink(missing_ok=True)


def write(there: httpx2.Client, bench: Bench, key: str) -> httpx2.Response:
    """Store a run with a long note, so that the disk is soon full."""
    return there.post(
        f"/api/v1/shootouts/{bench.slug}/runs",
        json={
            "setup_id": str(bench.setups["A"]),
            "task_id": str(bench.tasks["Parade"]),
            "typed": "6:17",
            "client_key": key,
            "note": uuid4().hex * 60,
        },
    )


def pour(ballast: Path) -> None:
    """Fill what room there is on the disk, and what a crashed server gave back meanwhile."""
    subprocess.run(
        ["dd", "if=/dev/zero", f"of={ballast}", "bs=1M", "oflag=append", "conv=notrunc"],
        capture_output=True,
        check=False,
    )


def full(there: httpx2.Client, path: str, ballast: Path) -> bool:
    """Whether the app says of itself that nothing can be written, and why."""
    pour(ballast)
    try:
        answer = there.get(f"/api/v1/{path}")
    except httpx2.HTTPError:
        # Its database went down with the disk and takes connections with it: asked once more.
        return False
    return answer.status_code == 503 and "full" in answer.json()["detail"]


def test_a_full_disk_loses_nothing_and_is_said(small: Path) -> None:
    served = Served(small)
    served.start()
    served.until_well()
    database = Database(served.url())
    try:
        bench = new_bench(database, "On a small disk")
        kept, refused = [], []
        with httpx2.Client(base_url=served.address, timeout=30) as there:
            assert write(there, bench, "the first").status_code == 201
            kept.append("the first")
            ballast = small / "ballast"
            ballast.write_bytes(b"")
            pour(ballast)
            for number in range(400):
                key = f"disk run {number:04d}"
                try:
                    answer = write(there, bench, key)
                except httpx2.HTTPError:
                    refused.append(key)
                    continue
                assert answer.status_code in (201, 503), answer.text
                (kept if answer.status_code == 201 else refused).append(key)
                if answer.status_code == 503:
                    assert "was not saved" in answer.json()["detail"]
                if len(refused) > 5:
                    break
            assert refused, "the disk never was full"
            for path in ("ready", "health"):
                wait_for(lambda: full(there, path, ballast), SAID_WITHIN_S)  # noqa: B023
            ballast.unlink()
            wait_for(served.well, BACK_WITHIN_S)
            for key in refused:
                wait_for(lambda: write(there, bench, key).status_code == 201, 30)  # noqa: B023
        with database.transaction() as session:
            found = session.scalars(text("select client_key from runs")).all()
        assert sorted(found) == sorted(kept + refused)
    finally:
        database.close()
        assert served.process is not None
        served.process.terminate()
        served.process.wait(60)
