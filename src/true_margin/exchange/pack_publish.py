"""Tables of a data pack that hold what is published."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from true_margin.core.choices import CardKind, CardPart
from true_margin.exchange.pack_rows import Name, PackRow

_Long = Annotated[str, Field(max_length=1_000_000)]


class PackScript(PackRow):
    """The script; ``verdicts`` by sentence as a person saw them last, as a JSON object."""

    text: _Long | None = None
    verdicts: _Long = "{}"


class PackScriptName(PackRow):
    """Another name that the script uses for a setup."""

    name: Name
    machine: Name
    setup: Name


class PackCard(PackRow):
    """A kept card, by its place; no task means the mix, ``seconds`` is its length in a film."""

    place: Annotated[int, Field(ge=0)]
    kind: CardKind
    task: Name | None = None
    viewer: Name | None = None
    title: Annotated[str, Field(max_length=200)] | None = None
    subtitle: Annotated[str, Field(max_length=300)] | None = None
    source: Annotated[str, Field(max_length=300)] | None = None
    seconds: Annotated[float, Field(gt=0, le=3600)] = 6.0
    retired_at: datetime | None = None


class PackCardSetup(PackRow):
    """What was decided of a setup on a card: its place in the order, or that it is marked.

    ``part`` is order, highlighted or left_out; ``place`` counts within it.
    """

    card: Annotated[int, Field(ge=0)]
    part: CardPart
    place: Annotated[int, Field(ge=0)]
    machine: Name
    setup: Name
