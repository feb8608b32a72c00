"""Answers that are files."""

from __future__ import annotations


def attachment(name: str) -> dict[str, str]:
    """The header that offers an answer as a file; the name holds no quotes."""
    return {"Content-Disposition": f'attachment; filename="{name}"'}


def shown(name: str) -> dict[str, str]:
    """The headers of a page that a browser opens: it runs nothing and asks for nothing."""
    return {
        "Content-Disposition": f'inline; filename="{name}"',
        "Content-Security-Policy": (
            "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:; font-src data:"
        ),
    }
