"""Write the labels of stored values for the web: python tools/labels.py FILE."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from true_margin.core.claims.reading import NUMBERED, OF_ALL, PAIRED
from true_margin.core.claims.sayings import SAYINGS
from true_margin.core.labels import TABLES

HEAD = """/** What stored values are called, as the core has it; made by `make types`. */

/** What a stored value is called; a value without a label is its own. */
export function labelOf(table: Readonly<Record<string, string>>, value: string): string {
  return table[value] ?? value
}
"""


def listed(name: str) -> str:
    """A table of labels as the web reads it."""
    labels = json.dumps(dict(TABLES[name]), ensure_ascii=False)
    return f"export const {name} = {labels} as const\n"


def sayings() -> str:
    """What a claim can say, with whether it compares two setups and whether it says a number."""
    known = {
        code: {
            "words": each.words,
            "paired": each.form in PAIRED,
            "numbered": each.form in NUMBERED,
            "ofAll": each.form in OF_ALL,
        }
        for code, each in SAYINGS.items()
    }
    return f"export const SAYINGS = {json.dumps(known, ensure_ascii=False)} as const\n"


if __name__ == "__main__":
    Path(sys.argv[1]).write_text("\n".join([HEAD, *map(listed, TABLES), sayings()]))
