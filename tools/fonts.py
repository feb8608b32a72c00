"""Make the fonts of cards and reports from those that the pages ship.

Each face is one fixed weight of a variable web font, its parts (Latin, Latin extended)
merged, hinting left out: drawings then look the same on every machine.
"""

from __future__ import annotations

import io
import shutil
import sys
from pathlib import Path

from fontTools.merge import Merger
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

PROJECT = Path(__file__).parents[1]
WEB = PROJECT / "web" / "node_modules" / "@fontsource-variable"
OUT = PROJECT / "src" / "true_margin" / "publish" / "fonts"
SAME_DAY = 3_800_000_000
"""Seconds since 1904: a day on which every face was made."""
FACES = {
    "head": ("familjen-grotesk", 700),
    "text": ("atkinson-hyperlegible-next", 400),
    "strong": ("atkinson-hyperlegible-next", 700),
    "figure": ("sometype-mono", 500),
}


def make_face(name: str, family: str, weight: int, work: Path) -> None:
    """Write one face as a static TrueType file."""
    parts = []
    for subset in ("latin", "latin-ext"):
        source = WEB / family / "files" / f"{family}-{subset}-wght-normal.woff2"
        font = TTFont(io.BytesIO(source.read_bytes()))
        font.flavor = None
        fixed = instantiateVariableFont(font, {"wght": weight})
        for table in ("STAT", "fvar", "HVAR", "gvar", "avar"):
            if table in fixed:
                del fixed[table]
        part = work / f"{name}-{subset}.ttf"
        fixed.save(part)
        parts.append(str(part))
    merged = Merger().merge(parts)
    # The same bytes on every machine and on every day.
    merged.recalcTimestamp = False
    merged["head"].created = merged["head"].modified = SAME_DAY
    family_name = f"True Margin {name}"
    for record, text in (
        (1, family_name),
        (2, "Regular"),
        (4, family_name),
        (16, family_name),
        (6, family_name.replace(" ", "")),
    ):
        merged["name"].setName(text, record, 3, 1, 0x409)
    merged.save(OUT / f"{name}.ttf")
    shutil.copy(WEB / family / "LICENSE", OUT / f"LICENSE-{family}")


def main() -> None:
    """Write all faces."""
    work = OUT / ".work"
    work.mkdir(parents=True, exist_ok=True)
    for name, (family, weight) in FACES.items():
        make_face(name, family, weight, work)
        print(f"{name}.ttf  {(OUT / f'{name}.ttf').stat().st_size:,} bytes", file=sys.stdout)
    shutil.rmtree(work)


if __name__ == "__main__":
    main()
