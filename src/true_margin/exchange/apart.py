"""Reading timelines in a process of its own: their library is native code, which a damaged
file can crash or hang. The process is kept for the next file and replaced when it is lost."""

from __future__ import annotations

import threading
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.context import SpawnProcess

from true_margin.core.timelines import Edit
from true_margin.exchange.timeline_files import TimelineError, read_timeline

MOST_S = 60.0
"""The largest file that is allowed takes some ten seconds."""


class Apart:
    """A process that reads timelines; asked by one thread at a time."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._program: SpawnProcess | None = None
        self._line: Connection | None = None

    def read(self, name: str, content: bytes, *, rate: float | None = None) -> Edit:
        """Read a timeline, as ``read_timeline`` does.

        Raises:
            TimelineError: also where the file crashes or hangs what reads it.
        """
        with self._lock:
            line = self._started()
            try:
                line.send((name, content, rate))
                answer = line.recv() if line.poll(MOST_S) else None
            except (EOFError, OSError):
                answer = None
            if answer is None:
                self._end()
                raise TimelineError(
                    "The file is damaged in a way that the timeline reader does not survive; "
                    "export it again."
                )
        if isinstance(answer, Edit):
            return answer
        raise TimelineError(str(answer))

    def _started(self) -> Connection:
        if self._line is not None and self._program is not None and self._program.is_alive():
            return self._line
        self._end()
        context = get_context("spawn")
        ours, theirs = context.Pipe()
        # A daemon ends with this process; one that is killed closes the line, which ends it too.
        self._program = context.Process(target=_serve, args=(theirs,), daemon=True)
        self._program.start()
        theirs.close()
        self._line = ours
        return ours

    def _end(self) -> None:
        if self._line is not None:
            self._line.close()
        if self._program is not None:
            self._program.kill()
            self._program.join()
            self._program.close()
        self._program = self._line = None

    def close(self) -> None:
        """End the process; the next file starts another."""
        with self._lock:
            self._end()


def _serve(line: Connection) -> None:
    """Read what is asked until the other side is gone."""
    while True:
        try:
            name, content, rate = line.recv()
        except (EOFError, OSError):
            return
        try:
            line.send(read_timeline(name, content, rate=rate))
        except TimelineError as error:
            line.send(error.reason)
        except Exception as error:
            line.send(f"The file cannot be read as a timeline ({type(error).__name__}: {error}).")


APART = Apart()
"""One for this process."""
