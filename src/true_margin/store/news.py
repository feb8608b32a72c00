"""News of changes: told by the database to every process that listens."""

from __future__ import annotations

import threading
from collections.abc import Callable

import psycopg

CHANNEL = "shootouts"
EVERYTHING = "*"
"""Told after a connection was lost: anything may have changed meanwhile."""
PEOPLE = "people"
"""Told when somebody's roles, password or sign-ins changed."""
LANE, LANES = "lane ", "lanes "
"""Begin what is told of a bench after its shootout: a lane's key, or lanes as JSON."""
LOOK_S = 1.0
FIRST_S = 5.0
"""A start waits so long for the database to listen; what comes later is told as everything."""


class News:
    """One connection that listens, and those who want to hear.

    Changes are told with the transaction that makes them (``bump_revision``), so that
    nobody hears of one that was not kept.
    """

    def __init__(self, url: str, name: str = "true-margin news") -> None:
        """Prepare to listen on a database; nothing happens before ``start``.

        Args:
            url: of the database.
            name: that the connection goes by in the database's own lists.
        """
        self._name = name
        self._url = url.replace("postgresql+psycopg://", "postgresql://", 1)
        self._callbacks: set[Callable[[str], None]] = set()
        self._lock = threading.Lock()
        self._end = threading.Event()
        self._listening = threading.Event()
        self._thread: threading.Thread | None = None

    def start(self) -> None:
        """Begin to listen, in a thread of its own; returns once changes are heard."""
        self._thread = threading.Thread(target=self._listen, daemon=True, name="news")
        self._thread.start()
        self._listening.wait(FIRST_S)

    @property
    def hears(self) -> bool:
        """Whether the database tells changes at this moment."""
        return self._listening.is_set()

    def close(self) -> None:
        """Listen no longer."""
        self._end.set()
        if self._thread is not None:
            self._thread.join(timeout=3 * LOOK_S)

    def subscribe(self, callback: Callable[[str], None]) -> Callable[[], None]:
        """Have something called with each piece of news; gives the way to end it.

        The news is ``<id of the shootout> <revision>``, ``<id> lane <key>``,
        ``<id> lanes <JSON>``, ``people``, or ``*`` where anything may have changed. It is
        called in the listening thread.
        """
        with self._lock:
            self._callbacks.add(callback)

        def unsubscribe() -> None:
            with self._lock:
                self._callbacks.discard(callback)

        return unsubscribe

    def _listen(self) -> None:
        while not self._end.is_set():
            try:
                with psycopg.connect(
                    self._url, autocommit=True, application_name=self._name
                ) as connection:
                    connection.execute(f"listen {CHANNEL}")
                    # Whoever subscribed before this moment may have missed something.
                    self._tell(EVERYTHING)
                    self._listening.set()
                    while not self._end.is_set():
                        for notify in connection.notifies(timeout=LOOK_S):
                            self._tell(notify.payload)
            except psycopg.Error:
                self._listening.clear()
                self._end.wait(LOOK_S)

    def _tell(self, news: str) -> None:
        with self._lock:
            callbacks = tuple(self._callbacks)
        for callback in callbacks:
            callback(news)
