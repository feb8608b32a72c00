"""Clips: cards as films, made beside the work, looked at before, and their sound."""

from __future__ import annotations

from typing import Annotated, Any
from uuid import UUID

from fastapi import Query, Response

from true_margin.app.answers.publish import ClipView
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.downloads import attachment
from true_margin.app.publish_requests import ClipShape, NewClip
from true_margin.desk.publish import clips
from true_margin.publish.moving.film import ZIP_MEDIA, FilmKind, media_of

router = stage_router("publish")
FILM: dict[int | str, dict[str, Any]] = {
    200: {"content": {ZIP_MEDIA: {}, **{media_of(kind): {} for kind in FilmKind}}}
}
PREVIEW: dict[int | str, dict[str, Any]] = {200: {"content": {"video/webm": {}}}}
SOUND: dict[int | str, dict[str, Any]] = {200: {"content": {"audio/wav": {}}}}
Asked = Annotated[ClipShape, Query()]


@router.get("/shootouts/{slug}/clips", response_model=list[ClipView])
def list_clips(slug: str, database: DatabaseHere) -> list[clips.ClipView]:
    """List the newest clips, with how far each is."""
    return list(clips.list_clips(database, slug))


@router.post("/shootouts/{slug}/clips", status_code=201, response_model=ClipView)
def start_clip(slug: str, body: NewClip, database: DatabaseHere) -> clips.ClipView:
    """Begin to make a clip of a card."""
    asked = body.model_dump()
    return clips.start_clip(database, slug, asked.pop("card_id"), asked)


@router.put("/shootouts/{slug}/clips/{clip_id}/ended", response_model=ClipView)
def end_clip(slug: str, clip_id: UUID, database: DatabaseHere) -> clips.ClipView:
    """End a clip that is being made."""
    return clips.end_clip(database, slug, clip_id)


@router.get("/shootouts/{slug}/clips/{clip_id}/film", response_class=Response, responses=FILM)
def clip_film(slug: str, clip_id: UUID, database: DatabaseHere) -> Response:
    """Give a finished clip as a file."""
    view, film = clips.clip_film(database, slug, clip_id)
    media = media_of(FilmKind(view.clip.asked["kind"]))
    return Response(film, media_type=media, headers=attachment(view.file))


@router.get(
    "/shootouts/{slug}/cards/{card_id}/preview.webm", response_class=Response, responses=PREVIEW
)
def preview(slug: str, card_id: UUID, asked: Asked, database: DatabaseHere) -> Response:
    """Give a clip at half its size, to be looked at before it is made."""
    film = clips.preview(database, slug, card_id, clips.ClipAsked.of(asked.model_dump()))
    return Response(film, media_type="video/webm")


@router.get("/shootouts/{slug}/cards/{card_id}/ticks.wav", response_class=Response, responses=SOUND)
def ticks(slug: str, card_id: UUID, asked: Asked, database: DatabaseHere) -> Response:
    """Give the sound of a clip: a quiet tick where each machine is done."""
    kept = clips.ClipAsked.of(asked.model_dump())
    name, sound = clips.ticks_of(database, slug, card_id, kept)
    return Response(sound, media_type="audio/wav", headers=attachment(f"{name}-ticks.wav"))
