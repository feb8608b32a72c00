"""The form that all answers share."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Answer(BaseModel):
    """An answer, filled from what the desk gives: fields that it has not are left out."""

    model_config = ConfigDict(from_attributes=True)
