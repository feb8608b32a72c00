"""What every row of a data pack's tables shares: kinds of cells, and empty ones as missing."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, field_validator

from true_margin.core.errors import QuantityError
from true_margin.core.money import check_currency

CONTENT_NAME = r"^timeline-\d{1,4}\.(otio|otioz|edl)$"
PICTURE_NAME = r"^picture-\d{1,4}\.(png|jpeg)$"
PROBE_NAME = r"^probe-\d{1,4}\.json$"
Text = Annotated[str, Field(max_length=2000)]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Told = Annotated[str, Field(min_length=1, max_length=1000)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
Part = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


def _in_use(currency: str) -> str:
    try:
        return check_currency(currency)
    except QuantityError as error:
        raise ValueError(error.reason) from error


Currency = Annotated[str, AfterValidator(_in_use)]


class PackRow(BaseModel):
    """A row of a table; empty cells are missing values."""

    model_config = ConfigDict(extra="forbid")

    @field_validator("*", mode="before")
    @classmethod
    def _empty_is_missing(cls, value: object) -> object:
        return None if value == "" else value
