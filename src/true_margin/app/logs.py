"""Where the log of requests goes: a few files in the data folder that replace each other."""

from __future__ import annotations

import logging
import sys
from logging.handlers import RotatingFileHandler
from pathlib import Path

from true_margin.app.hardening import LOG

MOST_BYTES = 2_000_000
KEPT_FILES = 5


def log_requests_here() -> None:
    """Write a line of JSON a request to the standard output, for whoever collects it."""
    _log_by(logging.StreamHandler(sys.stdout))


def log_requests(data: Path) -> None:
    """Write a line of JSON a request into ``log/requests.jsonl``."""
    folder = data / "log"
    folder.mkdir(parents=True, exist_ok=True)
    handler = RotatingFileHandler(
        folder / "requests.jsonl", maxBytes=MOST_BYTES, backupCount=KEPT_FILES, encoding="utf-8"
    )
    _log_by(handler)


def _log_by(handler: logging.Handler) -> None:
    handler.setFormatter(logging.Formatter("%(message)s"))
    LOG.handlers = [handler]
    LOG.setLevel(logging.INFO)
    # What stands in the file is not printed as well.
    LOG.propagate = False
