"""Reading a result file that somebody sent in: sealed JSON, of which nothing is trusted."""

from __future__ import annotations

import hashlib
import json
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, ValidationError

from true_margin.core.errors import CoreError

MOST_SIGNS = 600_000
"""Signs of a result file, its log included."""
Line = Annotated[str, Field(max_length=200)]
Hex = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class SentError(CoreError):
    """A file is no result, or one that cannot be read."""


class _Part(BaseModel):
    """Only what is named is kept; what else a file holds is left out."""

    model_config = ConfigDict(extra="ignore", allow_inf_nan=False)


class SentRun(_Part):
    """One run: its seconds with their uncertainty, and whether it counts."""

    seconds: Annotated[float, Field(ge=0.01, le=864_000)] | None
    u: Annotated[float, Field(ge=0, le=86_400)] = 0.0
    method: Literal["watch", "stopwatch", "log", "recording"]
    status: Literal["ok", "failed", "void"]
    reason: Annotated[str, Field(max_length=500)] | None = None
    started_at: datetime | None = None


class SentTask(_Part):
    """The runs of one task of the kit."""

    task: UUID
    app_version: Line | None = None
    runs: Annotated[list[SentRun], Field(min_length=1, max_length=200)]


class Sent(_Part):
    """A result: who, on which machine, which runs, and how they came about."""

    kit: UUID
    made_at: AwareDatetime
    sender: Annotated[str, Field(max_length=80)] | None = None
    model: Annotated[str, Field(min_length=1, max_length=120)]
    note: Annotated[str, Field(max_length=1000)] | None = None
    consent: Annotated[str, Field(min_length=1, max_length=2000)]
    code: Hex | None = None
    specs: Annotated[dict[Line, Line], Field(max_length=80)] = {}
    versions: Annotated[dict[Line, Line], Field(max_length=20)] = {}
    tasks: Annotated[list[SentTask], Field(min_length=1, max_length=60)]
    log: Annotated[str, Field(max_length=300_000)] = ""


class SentFile(BaseModel):
    """A file: the result, the text that was sealed, its seal, and the digest of that text."""

    sent: Sent
    text: str
    seal: str
    digest: str


def read_sent(text: str) -> SentFile:
    """Read a result file.

    Raises:
        SentError: it is none, or says what cannot be; with the field.
    """
    if len(text) > MOST_SIGNS:
        raise SentError(f"This file has more than {MOST_SIGNS} signs: no result is so long.")
    outer = _object(text, "This is no result file: it is not JSON.")
    inner, seal = outer.get("result"), outer.get("seal")
    if (
        outer.get("trueMarginResult") != 1
        or not isinstance(inner, str)
        or not isinstance(seal, str)
    ):
        raise SentError("This is no result file of a kit. The sender’s file begins with result-.")
    told = _object(inner, "The result in this file is damaged: ask for it again.")
    try:
        sent = Sent.model_validate(told)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise SentError(f"The result says what cannot be, at {where}: {first['msg']}.") from error
    kept = json.dumps(sent.model_dump(mode="json"), ensure_ascii=False)
    if "\\u0000" in kept or any("\ud800" <= sign <= "\udfff" for sign in kept):
        raise SentError("The result holds signs that no text has: ask the sender to type it again.")
    digest = hashlib.sha256(inner.encode("utf-8", "surrogatepass")).hexdigest()
    return SentFile(sent=sent, text=inner, seal=seal, digest=digest)


def _object(text: str, otherwise: str) -> dict[str, Any]:
    try:
        # A whole number of a million digits would hold everybody up.
        found = json.loads(text, parse_int=_whole)
    except (ValueError, RecursionError) as error:
        raise SentError(otherwise) from error
    if not isinstance(found, dict):
        raise SentError(otherwise)
    return found


def _whole(digits: str) -> float:
    if len(digits) > 20:
        raise ValueError("no number that a run could have")
    return int(digits)
