"""What the core may import: itself, numbers, and what computes without the outside world."""

from __future__ import annotations

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

import true_margin.core

CORE = Path(true_margin.core.__file__).parent
OUTSIDE = {
    "asyncio",
    "http",
    "io",
    "logging",
    "multiprocessing",
    "os",
    "pathlib",
    "shutil",
    "socket",
    "sqlite3",
    "ssl",
    "subprocess",
    "tempfile",
    "threading",
    "time",
    "urllib",
}
ALLOWED = (sys.stdlib_module_names - OUTSIDE) | {"numpy", "scipy", "true_margin"}


def imports_of(source: str) -> Iterator[str]:
    """Every name that is imported, wherever in the module."""
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            yield node.module or ""


def refused(source: str) -> list[str]:
    return [
        name
        for name in imports_of(source)
        if name.split(".")[0] not in ALLOWED
        or (name.startswith("true_margin") and not name.startswith("true_margin.core"))
    ]


@pytest.mark.parametrize("module", sorted(CORE.rglob("*.py")), ids=lambda p: p.stem)
def test_the_core_imports_the_standard_library_numpy_and_scipy_only(module: Path) -> None:
    assert refused(module.read_text()) == []


def test_what_is_not_on_the_list_is_found_wherever_it_stands() -> None:
    hidden = "def f():\n    from babel.dates import format_date\n    import os.path\n"
    assert refused(hidden) == ["babel.dates", "os.path"]
    assert refused("from true_margin.desk import book") == ["true_margin.desk"]
