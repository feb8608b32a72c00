"""What keeps the app from being started or stopped."""

from __future__ import annotations


class StartError(RuntimeError):
    """The app cannot be started or stopped; the text says what to do."""
