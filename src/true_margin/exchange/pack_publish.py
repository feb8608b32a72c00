"""Tables of a data pack that hold what is published."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from true_margin.core.choices import CardKind, CardPart
from true_margin.core.claims.forms import Form
from true_margin.core.claims.numbers import Hedge
from true_margin.exchange.pack_rows import Name, PackRow

Degree = Literal["much", "slightly"]
Number = Annotated[float, Field(ge=-1e15, le=1e15, allow_inf_nan=False)]
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


class PackScriptAnswer(PackRow):
    """A claim of a sentence as a person confirmed it; without ``form`` the sentence claims nothing.

    ``number`` is in the form's unit (ratio, percent, fraction, seconds, money, place, count).
    """

    sentence: Annotated[str, Field(min_length=1, max_length=4000)]
    place: Annotated[int, Field(ge=0, lt=100)] = 0
    form: Form | None = None
    machine: Name | None = None
    setup: Name | None = None
    against_machine: Name | None = None
    against_setup: Name | None = None
    task: Name | None = None
    number: Number | None = None
    high: Number | None = None
    hedge: Hedge = Hedge.NONE
    sign: Annotated[int, Field(ge=-1, le=1)] = 1
    degree: Degree | None = None
    denied: bool = False
    half_digit: Number = 0.0


class PackScriptPhrasing(PackRow):
    """A phrasing that was confirmed: ‹a›, ‹b›, ‹t›, ‹n› stand for setups, task and number."""

    pattern: Annotated[str, Field(min_length=1, max_length=2000)]
    form: Form
    hedge: Hedge = Hedge.NONE
    sign: Annotated[int, Field(ge=-1, le=1)] = 1
    degree: Degree | None = None
    denied: bool = False
    number: Number | None = None


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
