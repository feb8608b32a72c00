"""Real exports into a real folder that a page was given, as a person drops it on the page."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Locator, Page


def drop_folder(page: Page, onto: Locator, folder: Path) -> None:
    """Drop a folder as a file manager would; the page gets leave to look at it."""
    onto.scroll_into_view_if_needed()
    box = onto.bounding_box()
    assert box is not None, "it is shown"
    at = {"x": box["x"] + box["width"] / 2, "y": box["y"] + 8}
    data = {"items": [], "files": [str(folder)], "dragOperationsMask": 1}
    session = page.context.new_cdp_session(page)
    for kind in ("dragEnter", "dragOver", "drop"):
        session.send("Input.dispatchDragEvent", {"type": kind, **at, "data": data})
    session.detach()


@dataclass
class Written:
    """When an export truly began and ended, in seconds since 1970."""

    began: float = 0.0
    ended: float = 0.0

    @property
    def length_s(self) -> float:
        return self.ended - self.began


def export(
    folder: Path,
    name: str,
    seconds: float,
    *,
    part: str | None = None,
    stall_s: float = 0.0,
    every_s: float = 0.05,
) -> tuple[threading.Thread, Written]:
    """Write a file for so long, beside the page.

    Args:
        folder: where.
        name: of the finished file.
        seconds: how long it writes.
        part: name while it is written, if another.
        stall_s: a pause in the middle, which counts.
        every_s: time between two writes.
    """
    told = Written()

    def write() -> None:
        path = folder / (part or name)
        told.began = time.time()
        until, stalled = told.began + seconds, False
        with path.open("wb", buffering=0) as file:
            file.write(b"\0" * 4096)
            while (now := time.time()) < until:
                if stall_s and not stalled and now > told.began + seconds / 2:
                    stalled = True
                    time.sleep(stall_s)
                time.sleep(every_s)
                file.write(b"\0" * 65536)
            told.ended = time.time()
        if part is not None:
            path.rename(folder / name)
            told.ended = time.time()

    thread = threading.Thread(target=write, daemon=True)
    thread.start()
    return thread, told
