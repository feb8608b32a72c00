"""What is made beside the requests: ended by somebody, left to the next process, gone wrong."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from true_margin.desk.errors import DatabaseAwayError, NotFoundError

LOG = logging.getLogger("true_margin.making")


class EndedError(Exception):
    """Somebody ended what was being made."""


@contextmanager
def telling(what: str, change: Callable[[dict[str, Any]], object]) -> Iterator[None]:
    """Make something, and let what goes wrong be told by the thing itself.

    Args:
        what: is made, such as "report".
        change: writes down how it stands, where it still does.

    Raises:
        InterruptedError: this process ends; the next one makes it again.
        DatabaseAwayError: nothing can be written down.
    """
    try:
        yield
    except (EndedError, NotFoundError):
        return
    except (InterruptedError, DatabaseAwayError):
        raise
    except Exception as error:
        LOG.exception("a %s could not be made", what)
        change({"state": "failed", "problem": f"It could not be made: {error}"[:500]})


def given_up(what: str) -> dict[str, Any]:
    """How something stands whose process ended twice while it was made: it is not begun again."""
    words = f"True Margin ended twice while it {what} this, so it was given up."
    return {"state": "failed", "problem": words}
