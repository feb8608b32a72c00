"""A film made in a process of its own, so that nobody waits for it who does something else."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from contextlib import suppress
from multiprocessing import get_context
from multiprocessing.connection import Connection
from pathlib import Path
from tempfile import TemporaryDirectory

from true_margin.publish.canvas import Drawing
from true_margin.publish.moving.film import FilmKind, write_film
from true_margin.publish.moving.frames import FrameMaker, Timing

LOOK_S = 0.25
"""How often its maker is asked whether it shall go on."""
MOST_BYTES = 600_000_000
"""A larger film cannot be kept: that is a minute and a half of the largest kind."""
NICE = 5
"""Whoever clicks comes first."""


class FilmError(Exception):
    """The film could not be made; says why."""


def film_apart(
    drawing: Drawing,
    timing: Timing,
    kind: FilmKind,
    step: Callable[[float], None],
    scale: float = 1.0,
) -> bytes:
    """Make a film in a process of its own.

    Args:
        drawing: whose ink comes.
        timing: of its frames.
        kind: of its file.
        step: told every quarter of a second which part (0 to 1) is done; what it raises ends
            the film.
        scale: 1, or 0.5 for a preview.

    Raises:
        FilmError: it could not be made, or the process was ended.
    """
    processes = get_context("spawn")
    ours, theirs = processes.Pipe(duplex=False)
    with TemporaryDirectory(prefix="true-margin-film-") as folder:
        into = Path(folder, "film")
        maker = processes.Process(
            target=_make, args=(theirs, into, drawing, timing, kind, scale), daemon=True
        )
        maker.start()
        theirs.close()
        problem: str | None = "it was ended"
        try:
            problem = _follow(ours, step)
        finally:
            maker.join(0 if problem else LOOK_S)
            if maker.is_alive():
                maker.kill()
                maker.join()
            ours.close()
        if problem is not None:
            raise FilmError(problem)
        if into.stat().st_size > MOST_BYTES:
            most = MOST_BYTES // 1_000_000
            raise FilmError(f"it is larger than {most} MB: choose fewer seconds or another file")
        return into.read_bytes()


def _follow(ours: Connection, step: Callable[[float], None]) -> str | None:
    """Pass on how far it is until it is done; gives what went wrong, None for nothing."""
    part, told = 0.0, 0.0
    while True:
        now = time.monotonic()
        if now - told >= LOOK_S:
            step(part)
            told = now
        if not ours.poll(LOOK_S):
            continue
        try:
            said = ours.recv()
        except EOFError:
            return "the process that made it was ended"
        if said is None or isinstance(said, str):
            return said
        part = float(said)


def _make(
    theirs: Connection, into: Path, drawing: Drawing, timing: Timing, kind: FilmKind, scale: float
) -> None:
    with suppress(OSError):
        os.nice(NICE)
    try:
        with into.open("w+b") as file:
            write_film(FrameMaker(drawing, timing, scale), kind, file, theirs.send)
        theirs.send(None)
    except BrokenPipeError:  # whoever asked is gone
        return
    except Exception as error:  # told to whoever asked, who writes it down
        with suppress(OSError):
            theirs.send(str(error) or type(error).__name__)
