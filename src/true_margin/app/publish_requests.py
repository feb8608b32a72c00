"""What a request about cards, pages and reports may hold."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import Field, StringConstraints

from true_margin.app.requests import Request, Version
from true_margin.core.choices import CardKind
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.moving.film import FilmKind

Line = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]
LongLine = Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)]
Setups = Annotated[list[UUID], Field(max_length=100)]


class CardSetups(Request):
    """Which setups stand on a card; what is left out of a change stays as it is."""

    order: Setups = Field(default=[], description="Ids in the wanted order; others follow")
    highlighted: Setups = Field(default=[], description="Ids of those to be seen first")
    left_out: Setups = Field(default=[], description="Ids of those not to be shown")


class CardFields(Request):
    """What a card shows and says."""

    task_id: UUID | None = Field(default=None, description="Task; null for the mix")
    viewer_id: UUID | None = Field(default=None, description="Viewer of a price or pick card")
    setups: CardSetups | None = Field(default=None, description="Which setups; null for usual")
    title: Line | None = Field(default=None, description="Null takes what the data gives")
    subtitle: LongLine | None = Field(default=None, description="Null takes what the data gives")
    source: LongLine | None = Field(default=None, description="Null takes what the data gives")
    seconds: float = Field(default=6.0, gt=0, le=3600, description="Length on a timeline, in s")


class NewCard(CardFields):
    """A card to keep."""

    kind: CardKind = Field(description="What it shows")


class CardChange(CardFields):
    """A change of a card; fields that are left out stay."""

    version: Version


class CardRetirement(Request):
    """Whether a card is off the list."""

    version: Version
    retired: bool = Field(description="True takes it off, false puts it back")


class CardOrder(Request):
    """The cards in a new order."""

    card_ids: list[UUID] = Field(max_length=100, description="Every card once")


class ClipShape(Request):
    """How a clip looks and runs."""

    shape: Shape = Field(default=Shape.WIDE, description="How wide it is to its height")
    look: LookName = Field(default=LookName.NIGHT, description="Its background")
    kind: FilmKind = Field(default=FilmKind.PRORES, description="The file")
    rate: float = Field(default=25.0, ge=1, le=120, description="Frames per second")
    seconds: float = Field(default=8.0, ge=0.5, le=600, description="Its length, in s")
    hold: float = Field(default=2.0, ge=0, le=599, description="How long it rests at its end, in s")
    cuts: bool = Field(default=False, description="Whether it jumps where it would glide")


class NewClip(ClipShape):
    """A clip to make."""

    card_id: UUID = Field(description="Of the card")


class NewEdition(Request):
    """An edition to publish."""

    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=1000)] | None = Field(
        default=None, description="Note to readers (optional)"
    )
