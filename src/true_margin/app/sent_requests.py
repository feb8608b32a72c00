"""What a request about results that were sent in may hold."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints

from true_margin.app.requests import Request, Why
from true_margin.exchange.sent_result import MOST_SIGNS

Text = Annotated[str, StringConstraints(min_length=1, max_length=MOST_SIGNS)]
Code = Annotated[str, StringConstraints(strip_whitespace=True, max_length=100)]


class NewSent(Request):
    """A result file, as text."""

    text: Text = Field(description="The whole file")


class Decision(Request):
    """What is decided about a result."""

    state: Literal["accepted", "declined", "withdrawn"] = Field(
        description="What it is from now on"
    )
    why: Why = Field(description="Why; stays with it")
    setup_id: UUID | None = Field(
        default=None, description="Setup here of the same model and state; null for none"
    )


class Erasure(Request):
    """A sender's wish that a result is erased."""

    why: Why = Field(description="Who wishes it; stays on record")
    code: Code | None = Field(
        default=None, description="The sender's code; null where they are known otherwise"
    )
