"""A process that ends with the one that started it, however that one ends."""

from __future__ import annotations

import os
import signal
import threading
import time

LOOK_S = 0.3


PARENT = "TRUE_MARGIN_PARENT"
"""Names the process that started this one; it may be gone before this one has loaded."""


def end_with_parent() -> None:
    """End this process soon after its parent is gone; else it would hold the port for ever."""
    told = os.environ.get(PARENT)
    if told is None:
        return
    parent = int(told)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(LOOK_S)
        os.kill(os.getpid(), signal.SIGTERM)

    threading.Thread(target=watch, daemon=True, name="lifeline").start()
