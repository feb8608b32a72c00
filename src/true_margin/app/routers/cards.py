"""Cards: kept, changed, and drawn as SVG and PNG."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from fastapi import Response

from true_margin.app.answers.publish import CardView
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.downloads import attachment
from true_margin.app.publish_requests import CardChange, CardOrder, CardRetirement, NewCard
from true_margin.desk.publish import cards
from true_margin.publish.looks import LookName, Shape

router = stage_router("publish")
SVG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/svg+xml": {}}}}
PNG: dict[int | str, dict[str, Any]] = {200: {"content": {"image/png": {}}}}


@router.get("/shootouts/{slug}/cards", response_model=list[CardView])
def list_cards(slug: str, database: DatabaseHere) -> list[cards.CardView]:
    """List the cards that are kept, with what they say."""
    return list(cards.list_cards(database, slug))


@router.post("/shootouts/{slug}/cards", status_code=201, response_model=CardView)
def add_card(slug: str, body: NewCard, database: DatabaseHere) -> cards.CardView:
    """Keep a new card."""
    return cards.add_card(database, slug, body.model_dump(exclude_unset=True))


@router.put("/shootouts/{slug}/cards/order", status_code=204)
def order_cards(slug: str, body: CardOrder, database: DatabaseHere) -> None:
    """Put the cards in this order."""
    cards.order_cards(database, slug, body.card_ids)


@router.patch("/shootouts/{slug}/cards/{card_id}", response_model=CardView)
def change_card(
    slug: str, card_id: UUID, body: CardChange, database: DatabaseHere
) -> cards.CardView:
    """Change a card."""
    changes = body.model_dump(exclude_unset=True)
    return cards.change_card(database, slug, card_id, changes.pop("version"), changes)


@router.put("/shootouts/{slug}/cards/{card_id}/retired", status_code=204)
def retire_card(slug: str, card_id: UUID, body: CardRetirement, database: DatabaseHere) -> None:
    """Take a card off the list, or put it back."""
    cards.retire_card(database, slug, card_id, body.version, retired=body.retired)


@router.get(
    "/shootouts/{slug}/cards/{card_id}/{shape}-{look}.svg", response_class=Response, responses=SVG
)
def card_svg(
    slug: str,
    card_id: UUID,
    shape: Shape,
    look: LookName,
    database: DatabaseHere,
    save: bool = False,
) -> Response:
    """Draw a card as SVG; ``save`` offers it as a file."""
    drawing = cards.card_drawing(database, slug, card_id, shape, look)
    name = f"{cards.name_of_file(database, slug, card_id, shape, look)}.svg"
    return Response(
        drawing.svg, media_type="image/svg+xml", headers=attachment(name) if save else {}
    )


@router.get(
    "/shootouts/{slug}/cards/{card_id}/{shape}-{look}.png", response_class=Response, responses=PNG
)
def card_png(
    slug: str,
    card_id: UUID,
    shape: Shape,
    look: LookName,
    database: DatabaseHere,
    save: bool = False,
) -> Response:
    """Draw a card as PNG; ``save`` offers it as a file."""
    png = cards.card_picture(database, slug, card_id, shape, look)
    name = f"{cards.name_of_file(database, slug, card_id, shape, look)}.png"
    return Response(png, media_type="image/png", headers=attachment(name) if save else {})
