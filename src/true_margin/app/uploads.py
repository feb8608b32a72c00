"""Uploaded files: what their names may be."""

from __future__ import annotations

from fastapi import UploadFile

MOST_SIGNS = 200


def plain_name(file: UploadFile, otherwise: str) -> str:
    """Give the last part of a file's name, which is shown and never used as a path."""
    name = (file.filename or "").replace("\\", "/").rsplit("/", 1)[-1]
    kept = "".join(sign for sign in name if sign.isprintable())
    return kept[:MOST_SIGNS].strip() or otherwise
