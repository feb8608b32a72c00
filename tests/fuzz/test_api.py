"""The whole API asked at random by a tool that knows its document: no failure inside, and
every answer as the document says. Once with names that it makes up, once with real ones, for a
reader whose numbers have a comma."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from tests.app.accounts import one_of_everything
from tests.browser.serving import serving
from tests.desk.helpers import new_bench
from true_margin.store.database import Database

EXAMPLES = int(os.environ.get("TRUE_MARGIN_API_EXAMPLES", "0"))
SEED = os.environ.get("TRUE_MARGIN_API_SEED", "1")
CHECKS = (
    "not_a_server_error",
    "status_code_conformance",
    "content_type_conformance",
    "response_schema_conformance",
)
LEFT_OUT = (
    # It never ends for whoever is let in.
    "/api/v1/shootouts/{slug}/events",
    # It starts programs that come to a bench and ask the API themselves.
    "/api/v1/shootouts/{slug}/bench/rigs",
    # Each makes a picture, which is no work of the API.
    "/api/v1/shootouts/{slug}/cards/{card_id}/{shape}-{look}.png",
)


@pytest.mark.skipif(EXAMPLES == 0, reason="takes minutes: make soak")
@pytest.mark.timeout(3 * 3600)
@pytest.mark.parametrize("real", [False, True], ids=["made up", "real"])
def test_any_request_is_answered_as_the_document_says(
    database: Database, tmp_path: Path, real: bool
) -> None:
    bench, other = new_bench(database, "Asked at random"), new_bench(database, "Beside")
    names = one_of_everything(bench, other)
    config = tmp_path / "schemathesis.toml"
    wanted = {name: value for name, value in names.items() if name not in ("kind", "name")}
    lines = [f'"path.{name}" = "{value}"' for name, value in wanted.items()] if real else []
    config.write_text("\n".join(["[parameters]", *lines]))
    with serving(database.url, works=False) as address:
        done = subprocess.run(
            [
                str(Path(sys.executable).with_name("schemathesis")),
                "--config-file",
                str(config),
                "run",
                f"{address}/api/v1/openapi.json",
                "--checks",
                ",".join(CHECKS),
                *(["--header", "Accept-Language: de-DE"] if real else []),
                *(part for path in LEFT_OUT for part in ("--exclude-path", path)),
                "--max-examples",
                str(EXAMPLES),
                "--seed",
                SEED,
                "--continue-on-failure",
                "--suppress-health-check",
                "all",
                "--request-timeout",
                "30",
                "--no-color",
            ],
            cwd=tmp_path,
            capture_output=True,
            text=True,
            check=False,
        )
    found = re.search(r"^\s*(\d+) generated", done.stdout, re.M)
    assert done.returncode == 0, done.stdout[-6000:]
    assert found is not None
    print(f"{found[1]} cases, {'real' if real else 'made-up'} ids, seed {SEED}: none failed")
    assert int(found[1]) > 40 * EXAMPLES
