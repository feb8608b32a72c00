"""Errors of the core: each says which parameter broke which rule, and what was received."""

from __future__ import annotations


class CoreError(ValueError):
    """Base of every refusal by the core.

    Attributes:
        reason: one sentence that a person can act on.
    """

    def __init__(self, reason: str) -> None:
        super().__init__(reason)
        self.reason = reason


class QuantityError(CoreError):
    """A typed time or amount could not be read."""


class SpreadUnknownError(CoreError):
    """A task has neither repeats nor a prior, so its spread cannot be stated.

    Attributes:
        task: name of the task.
    """

    def __init__(self, task: str) -> None:
        super().__init__(f"task {task!r}: no repeat and no prior: spread unknown")
        self.task = task


class CaseError(CoreError):
    """A case is inconsistent.

    Attributes:
        path: where in the case, such as ``runs[3].value``.
    """

    def __init__(self, path: str, reason: str) -> None:
        super().__init__(f"{path}: {reason}")
        self.path = path
        self.detail = reason
