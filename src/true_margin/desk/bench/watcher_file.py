"""The watcher as one file for a machine that has nothing of the app but Python."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Any

from true_margin.desk.access import pairing
from true_margin.desk.access.rights import Who
from true_margin.store.database import Database
from true_margin.watcher.alone import PAIRING

NAME = "true-margin-watch.pyz"
CORE = ("__init__", "errors", "file_seen", "file_tracks", "file_watch", "plain_clock")
"""What of the core a watcher needs; it imports nothing else."""
_BEGIN = "from true_margin.watcher.alone import main\n\nraise SystemExit(main())\n"
_WHEN = (1980, 1, 1, 0, 0, 0)
"""The same file each time: no time of making stands in it."""


@dataclass(frozen=True, slots=True)
class Bench:
    """Where a watcher finds its bench: address, shootout, its token, and whom it trusts."""

    address: str
    shootout: str
    token: str | None = None
    certificate: str | None = None


def pack_watcher(known: Mapping[str, Any] | None = None) -> bytes:
    """Pack the watcher's own modules, to be run by any Python from 3.9 on.

    Args:
        known: what it knows, by the member's name: its bench, or its kit; None for one that
            must be told.

    Returns:
        A zip archive behind a first line for systems that go by it.
    """
    room = io.BytesIO()
    room.write(b"#!/usr/bin/env python3\n")
    with zipfile.ZipFile(room, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        for name, text in _members().items():
            archive.writestr(_member(name), text)
        for name, told in (known or {}).items():
            archive.writestr(_member(name), json.dumps(told, indent=1))
    return room.getvalue()


def pair_watcher(
    database: Database, slug: str, name: str, address: str, certificate: str | None, who: Who
) -> bytes:
    """Pair one more device, and give it the watcher that knows its bench.

    Raises:
        NotFoundError: there is no such shootout.
    """
    paired = pairing.pair_at_once(database, slug, name, who)
    return pack_watcher({PAIRING: asdict(Bench(address, slug, paired.token, certificate))})


def _members() -> dict[str, str]:
    package = files("true_margin")
    found = {"__main__.py": _BEGIN, "true_margin/__init__.py": _text(package / "__init__.py")}
    for name in CORE:
        found[f"true_margin/core/{name}.py"] = _text(package / "core" / f"{name}.py")
    for each in sorted((package / "watcher").iterdir(), key=lambda entry: entry.name):
        if each.name.endswith(".py"):
            found[f"true_margin/watcher/{each.name}"] = _text(each)
    return found


def _text(entry: Traversable) -> str:
    return entry.read_text(encoding="utf-8")


def _member(name: str) -> zipfile.ZipInfo:
    info = zipfile.ZipInfo(name, _WHEN)
    info.compress_type = zipfile.ZIP_DEFLATED
    info.external_attr = 0o644 << 16
    return info
