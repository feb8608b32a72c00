"""The private database is kept running: one that was ended is started again where it was."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from true_margin.launch.cluster import Cluster, ClusterError

LOOK_S = 0.5
AGAIN_S = 2.0


@contextmanager
def kept_running(cluster: Cluster | None) -> Iterator[None]:
    """Start the server of a cluster again whenever it is gone, until this is left.

    What cannot be started, on a full disk perhaps, is tried again and said each time anew.
    """
    if cluster is None:
        yield
        return
    ended = threading.Event()

    def watch() -> None:
        said = ""
        while not ended.wait(LOOK_S):
            try:
                if cluster.alive():
                    said = ""
                    continue
                cluster.start_again()
                print("The database had ended, and was started again.", flush=True)
            except Exception as error:
                # Whatever it meets, it goes on looking: nobody else starts the database again.
                if str(error) != said:
                    said = str(error)
                    what = "has ended" if isinstance(error, ClusterError) else "cannot be looked at"
                    print(f"The database {what}: {said}", flush=True)
                ended.wait(AGAIN_S)

    thread = threading.Thread(target=watch, daemon=True, name="keeper")
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join(timeout=70)
