"""The built pages: files whose names change with their content, and the page of each address."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.responses import FileResponse, HTMLResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles

from true_margin.app.problems import problem

_YEAR_S = 31_536_000
_FRESH = {"Cache-Control": "no-cache"}
Manifest = Mapping[str, Mapping[str, Any]]


class BuiltFiles(StaticFiles):
    """Files whose names change with their content, so they never go stale."""

    def file_response(self, *args: Any, **more: Any) -> Response:
        """Give a file, to be kept for ever."""
        response = super().file_response(*args, **more)
        if response.status_code == 200:
            response.headers["Cache-Control"] = f"public, max-age={_YEAR_S}, immutable"
        return response


def serve_pages(app: FastAPI, web: Path) -> None:
    """Serve built files, and the page itself for every deep link.

    Args:
        app: whose routes these become, after all others.
        web: folder of the built pages, with the manifest that Vite writes.
    """

    @app.get("/api/{rest:path}", include_in_schema=False)
    def no_such_api(rest: str) -> JSONResponse:
        return problem("not-found", 404, f"There is no /api/{rest}.")

    app.mount("/assets", BuiltFiles(directory=web / "assets"), name="assets")

    # Listed once: a name from an address is looked up here and never used as a path.
    beside = {file.name: file for file in web.iterdir() if file.is_file()}
    pages = stage_pages(web)

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        page = pages.get(_stage_of(path))
        if page is not None:
            return HTMLResponse(page, headers=_FRESH)
        return FileResponse(beside.get(path, web / "index.html"), headers=_FRESH)


def stage_pages(web: Path) -> dict[str, str]:
    """Give the page of each stage, which names the files of that stage beside the first ones.

    A stage is a file of its own that the first one asks for when it runs; named in the page,
    both are fetched at the same time.

    Args:
        web: folder of the built pages; without a manifest there are no such pages.
    """
    listed = web / ".vite" / "manifest.json"
    if not listed.is_file():
        return {}
    manifest: Manifest = json.loads(listed.read_text(encoding="utf-8"))
    plain = (web / "index.html").read_text(encoding="utf-8")
    pages = {}
    for source, part in manifest.items():
        if source.startswith("src/stages/") and part.get("isDynamicEntry"):
            links = "".join(_link(file) for file in _files_of(manifest, source, set()))
            pages[source.split("/")[2]] = plain.replace("</head>", f"{links}</head>", 1)
    return pages


def _stage_of(path: str) -> str:
    """The stage that an address ends in: ``s/<slug>/<stage>``; empty for others."""
    parts = path.split("/")
    return parts[2] if len(parts) == 3 and parts[0] == "s" else ""


def _files_of(manifest: Manifest, source: str, seen: set[str]) -> Iterator[str]:
    """Name the scripts of a part and of what it imports; those of the first page are there."""
    part = manifest[source]
    if source in seen or part.get("isEntry"):
        return
    seen.add(source)
    yield part["file"]
    for inner in part.get("imports", ()):
        yield from _files_of(manifest, inner, seen)


def _link(file: str) -> str:
    return f'<link rel="modulepreload" crossorigin href="/{file}">'
