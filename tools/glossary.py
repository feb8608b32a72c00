"""Write the glossary for the docs and for the app's help: python tools/glossary.py MD TS."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from true_margin.core.glossary import GLOSSARY
from true_margin.core.questions import QUESTIONS


def as_markdown() -> str:
    """The glossary as a table, and what a first evening raises."""
    rows = [f"| {t.word} | {t.meaning} | `{t.code}` |" for t in GLOSSARY]
    head = [
        "# Glossary",
        "",
        "One word for one thing. Made from `core/glossary.py` by `make types`; the app shows the "
        "same words behind `?`.",
        "",
        "| word | meaning | in code |",
        "|---|---|---|",
    ]
    asked = [line for q in QUESTIONS for line in ("", f"**{q.question}** {q.answer}")]
    return "\n".join([*head, *rows, "", "## Questions of a first evening", *asked]) + "\n"


def as_typescript() -> str:
    """The words with their meanings, and the questions with their answers, as lists."""
    words = json.dumps([[t.word, t.meaning] for t in GLOSSARY], ensure_ascii=False)
    asked = json.dumps([[q.question, q.answer] for q in QUESTIONS], ensure_ascii=False)
    return (
        "/** What the words of the app mean; made by `make types`. */\n"
        f"export const WORDS: readonly (readonly [string, string])[] = {words}\n"
        "/** What a first evening raises, each with its answer. */\n"
        f"export const QUESTIONS: readonly (readonly [string, string])[] = {asked}\n"
    )


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(as_markdown())
    Path(sys.argv[2]).write_text(as_typescript())
