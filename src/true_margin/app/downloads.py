"""Answers that are files."""

from __future__ import annotations


def attachment(name: str) -> dict[str, str]:
    """The header that offers an answer as a file; the name holds no quotes."""
    return {"Content-Disposition": f'attachment; filename="{name}"'}
