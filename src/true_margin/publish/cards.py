"""Cards: drawn by kind, and turned into pictures."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

import resvg_py

from true_margin.publish.bar_card import draw_bars
from true_margin.publish.canvas import Drawing
from true_margin.publish.card_data import (
    BarCard,
    Card,
    CorrectionCard,
    FeelCard,
    PickCard,
    PriceCard,
    ProgressCard,
    RaceCard,
    RuleCard,
    SpecCard,
    WorthCard,
)
from true_margin.publish.change_card import draw_correction, draw_worth
from true_margin.publish.feel_card import draw_feel
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.price_card import draw_price
from true_margin.publish.progress_card import draw_progress
from true_margin.publish.race_card import draw_race
from true_margin.publish.rule_card import draw_rule
from true_margin.publish.word_cards import draw_pick, draw_specs

Drawer = Callable[[Any, Shape, LookName], Drawing]
DRAWERS: dict[type[Any], Drawer] = {
    BarCard: draw_bars,
    RuleCard: draw_rule,
    PriceCard: draw_price,
    PickCard: draw_pick,
    SpecCard: draw_specs,
    ProgressCard: draw_progress,
    FeelCard: draw_feel,
    RaceCard: draw_race,
    WorthCard: draw_worth,
    CorrectionCard: draw_correction,
}
"""Each type of card with what draws it."""


def draw_card(card: Card, shape: Shape, look: LookName) -> Drawing:
    """Draw any card in a shape and a look; the same card gives the same drawing."""
    return DRAWERS[type(card)](card, shape, look)


def to_png(drawing: Drawing) -> bytes:
    """A drawing as PNG; it holds outlines only, so no font is asked for."""
    return bytes(resvg_py.svg_to_bytes(svg_string=drawing.svg, skip_system_fonts=True))


QUALITY = 92


def to_jpeg(png: bytes) -> bytes:
    """A picture as JPEG without loss of colour detail: a PDF takes it over as it is."""
    # Only reports need it.
    from PIL import Image  # noqa: PLC0415

    made = io.BytesIO()
    with Image.open(io.BytesIO(png)) as picture:
        picture.convert("RGB").save(made, "JPEG", quality=QUALITY, subsampling=0)
    return made.getvalue()
