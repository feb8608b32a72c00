"""The page of a stage names that stage's files, so that they are fetched with the first ones."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from true_margin.app.pages import serve_pages, stage_pages

MANIFEST: dict[str, dict[str, Any]] = {
    "index.html": {"file": "assets/index-1.js", "isEntry": True},
    "_rule-2.js": {"file": "assets/rule-2.js", "imports": ["index.html", "_scale-3.js"]},
    "_scale-3.js": {"file": "assets/scale-3.js"},
    "src/stages/margins/Margins.tsx": {
        "file": "assets/Margins-4.js",
        "isDynamicEntry": True,
        "imports": ["index.html", "_rule-2.js", "_scale-3.js"],
    },
    "src/stages/runs/Runs.tsx": {"file": "assets/Runs-5.js", "isDynamicEntry": True},
}


@pytest.fixture
def web(tmp_path: Path) -> Path:
    (tmp_path / ".vite").mkdir()
    (tmp_path / "assets").mkdir()
    (tmp_path / ".vite" / "manifest.json").write_text(json.dumps(MANIFEST), encoding="utf-8")
    (tmp_path / "index.html").write_text("<head><title>T</title></head>", encoding="utf-8")
    (tmp_path / "mark.svg").write_text("<svg/>", encoding="utf-8")
    (tmp_path / "assets" / "Runs-5.js").write_text("0", encoding="utf-8")
    return tmp_path


@pytest.fixture
def client(web: Path) -> TestClient:
    app = FastAPI()
    serve_pages(app, web)
    return TestClient(app)


def test_the_page_of_a_stage_names_its_files_once_and_not_the_first_one(client: TestClient) -> None:
    page = client.get("/s/which-machine/margins?task=1").text
    assert [page.count(f"/assets/{name}") for name in ("Margins-4", "rule-2", "scale-3")] == [1] * 3
    assert "index-1" not in page
    assert "Runs-5" not in page
    assert page.index("modulepreload") < page.index("</head>")


@pytest.mark.parametrize(
    "path", ["/", "/s/which-machine", "/s/a/b/margins", "/s/a/.vite", "/people"]
)
def test_other_addresses_get_the_page_as_it_was_built(client: TestClient, path: str) -> None:
    answer = client.get(path)
    assert answer.text == "<head><title>T</title></head>"
    assert answer.headers["cache-control"] == "no-cache"


def test_pages_built_without_a_manifest_are_served_too(web: Path) -> None:
    (web / ".vite" / "manifest.json").unlink()
    assert stage_pages(web) == {}


def test_files_are_kept_for_ever_and_pages_asked_for_again(client: TestClient) -> None:
    assert "immutable" in client.get("/assets/Runs-5.js").headers["cache-control"]
    assert client.get("/s/a/runs").headers["cache-control"] == "no-cache"
    assert client.get("/mark.svg").text == "<svg/>"
    assert client.get("/.vite/manifest.json").text == "<head><title>T</title></head>"


def test_an_address_of_the_api_that_is_none_is_a_problem_not_a_page(client: TestClient) -> None:
    answer = client.get("/api/nothing")
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"
