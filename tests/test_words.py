"""Words that nobody should meet any more, and sentences with more numbers than one reads."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
RETIRED = (
    r"\bjaws?(?=[:;.]| (?:is|are|of|show))",
    r"\bmuddy\b",
    r"\bmuddied\b",
    r"\bbreaks it\b",
    r"\b(?:is|are) level\b",
    r"\bin the book\b",
    r"\breading the book\b",
    r"\bstands on\b",
    r"\bforesees?\b",
    r"\bunread\b",
    r"\bbears? out\b",
    r"\bas it may\b",
    r"\btells? nothing apart\b",
    r"\bin 100 that\b",
    r"\bthe owned\b",
    r"\bwins to\b",
    r"\bwins up to\b",
    r"\bnot looked\b",
    r"\btake out\b",
    r"\bleave it\b",
    r"\bgive out\b",
    r"\bbring in\b",
    r"\bcarried over\b",
    r"\bto mend it\b",
    r"\bon trial\b",
    r"\btoo little to matter\b",
    r"\bbridge machines?\b",
    r"\bsurvives an unfairness\b",
    r"\bon this ladder\b",
    r"\bnet worth\b",
    r"\bas fast as life\b",
)
"""Retired words, as they would stand on a screen."""
SPOKEN = (
    *(ROOT / "src/true_margin/desk").rglob("*.py"),
    *(ROOT / "src/true_margin/core").rglob("*word*.py"),
    *(ROOT / "src/true_margin/core").glob("claims/judge.py"),
    *(ROOT / "src/true_margin/publish").glob("*.py"),
)
"""Modules that make sentences."""
NAMES = ("bring in",)
"""Stored values, which nobody is shown."""
READ_IN = re.compile(r"\.(?:search|match|sub|compile|get)$")
"""Calls whose texts are read, not said."""


def said_in(path: Path) -> list[str]:
    """Texts of a module that a person may read: no docstrings, no names, no patterns."""
    tree = ast.parse(path.read_text())
    quiet: set[ast.AST] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr):
            quiet.add(node.value)
        if isinstance(node, ast.Call) and READ_IN.search(ast.unparse(node.func)):
            quiet.update(node.args)
    return [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant)
        and isinstance(node.value, str)
        and " " in node.value
        and node.value not in NAMES
        and node not in quiet
    ]


def shown_in(path: Path) -> list[str]:
    """Texts of a page: between tags, in attributes and in quotes, without comments."""
    text = re.sub(r"/\*.*?\*/|\{#.*?#\}|<!--.*?-->", " ", path.read_text(), flags=re.S)
    text = re.sub(r"(?m)^\s*//.*$|(?<=\s)//\s.*$", " ", text)
    return [re.sub(r"\s+", " ", text)]


def retired_in(texts: list[str]) -> list[str]:
    """Retired words that stand in texts, each with what stands around it."""
    return [
        text[max(found.start() - 30, 0) : found.end() + 30]
        for text in texts
        for word in RETIRED
        for found in re.finditer(word, text, re.IGNORECASE)
    ]


@pytest.mark.parametrize("path", SPOKEN, ids=lambda path: path.name)
def test_no_retired_word_is_said(path: Path) -> None:
    assert retired_in(said_in(path)) == []


@pytest.mark.parametrize(
    "path",
    [
        *(ROOT / "web/src").rglob("*.tsx"),
        *(ROOT / "src/true_margin/publish/templates").glob("*.html"),
    ],
    ids=lambda path: path.name,
)
def test_no_retired_word_is_shown(path: Path) -> None:
    assert retired_in(shown_in(path)) == []


def test_the_words_that_are_looked_for_would_be_found() -> None:
    assert retired_in(["Jaws: 95 %", "It was saved in the book.", "nothing wrong"]) == [
        "Jaws: 95 %",
        "It was saved in the book.",
    ]
