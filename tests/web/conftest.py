"""The web's pure functions, bundled and loaded into a blank page."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, Playwright

from tests.browser.serving import launch
from tests.conftest import PROJECT

WEB = PROJECT / "web"
MODULES = {
    "format": "theme/format",
    "scale": "parts/rule/scale",
    "mark": "parts/SetupMark",
    "brackets": "stages/margins/brackets",
    "race": "stages/margins/race/maths",
    "lane": "lanes/lane",
    "desk": "lanes/desk",
    "outbox": "lanes/outbox",
    "marks": "lanes/marks",
    "shared": "lanes/shared",
    "watch": "lanes/watch/rules",
    "cells": "stages/runs/cells",
    "specs": "stages/lineup/specs",
    "order": "stages/lineup/order",
    "length": "theme/readLength",
    "job": "stages/tasks/job",
    "draft": "stages/picks/draft",
    "units": "stages/picks/units",
    "needs": "stages/picks/needs",
}

Call = Callable[..., Any]


@pytest.fixture(scope="session")
def bundle(tmp_path_factory: pytest.TempPathFactory) -> str:
    """One script that puts the modules on ``window.tm``."""
    folder = tmp_path_factory.mktemp("bundle")
    lines = [f'import * as {name} from "{WEB}/src/{path}"' for name, path in MODULES.items()]
    entry = folder / "entry.ts"
    entry.write_text(
        "\n".join(lines) + f"\nObject.assign(window, {{ tm: {{ {', '.join(MODULES)} }} }})\n"
    )
    config = folder / "vite.config.mjs"
    config.write_text(
        "export default { logLevel: 'error', build: { outDir: "
        f"{json.dumps(str(folder / 'out'))}, lib: {{ entry: {json.dumps(str(entry))}, "
        "formats: ['iife'], name: 'bundled', fileName: () => 'tm.js' } } }"
    )
    program = WEB / "node_modules" / "vite" / "bin" / "vite.js"
    node = PROJECT / ".venv" / "bin" / "node"
    command = [
        str(node) if node.exists() else "node",
        str(program),
        "build",
        "--config",
        str(config),
    ]
    subprocess.run(command, cwd=WEB, check=True, capture_output=True)
    return (folder / "out" / "tm.js").read_text()


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    """A browser of its own: these tests need no server."""
    browser = launch(playwright)
    yield browser
    browser.close()


@pytest.fixture(scope="session")
def blank(browser: Browser, bundle: str) -> Iterator[Page]:
    """A page with nothing but the modules, and an origin, so that it has a storage of its own."""
    page = loaded(browser, bundle, "en-GB")
    yield page
    page.close()


@pytest.fixture(scope="session")
def german(browser: Browser, bundle: str) -> Iterator[Call]:
    """Calls a function of a module for a reader who writes a comma."""
    page = loaded(browser, bundle, "de-DE")
    yield caller(page)
    page.close()


def loaded(browser: Browser, bundle: str, locale: str) -> Page:
    """A page with nothing but the modules, for a reader of this language."""
    page = browser.new_page(locale=locale)
    page.route(
        "http://blank.test/**",
        lambda route: route.fulfill(body="<html></html>", content_type="text/html"),
    )
    page.goto("http://blank.test/")
    page.add_script_tag(content=bundle.replace("process.env.NODE_ENV", '"production"'))
    return page


@pytest.fixture
def call(blank: Page) -> Call:
    """Calls a function of a module: ``call("format.clock", 377, 0.1)``."""
    blank.evaluate("() => localStorage.clear()")
    return caller(blank)


def caller(page: Page) -> Call:
    """Calls functions of the modules on a page."""

    def function(name: str, *arguments: Any) -> Any:
        module, member = name.split(".")
        return page.evaluate(
            "([module, member, args]) => window.tm[module][member](...args)",
            [module, member, list(arguments)],
        )

    function.page = page  # type: ignore[attr-defined]
    return function


def read_file(path: str) -> str:
    """The text of a source file of the web."""
    return (WEB / "src" / Path(path)).read_text()
