"""Publish: the script desk."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import Field

from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.requests import Name, Request
from true_margin.desk.publish import script

router = stage_router("publish")
Text = Annotated[str, Field(max_length=1_000_000, description="Whole text of the script")]
Read = Annotated[int, Field(ge=0, lt=2**31, description="Version that was read; 0 for none yet")]


class ScriptText(Request):
    """A text to check."""

    text: Text


class KeptScript(Request):
    """A text to keep."""

    text: Text
    version: Read


class NameInScript(Request):
    """Another name for a setup."""

    name: Name = Field(description="As it stands in the script")
    setup_id: UUID | None = Field(default=None, description="What it means; null takes it back")


class SeenScript(Request):
    """A script whose verdicts a person has seen."""

    version: Read


@router.get("/shootouts/{slug}/script")
def show_script(slug: str, database: DatabaseHere) -> script.ScriptView:
    """Show the script with the verdict of each claim."""
    return script.show_script(database, slug)


@router.post("/shootouts/{slug}/script/check")
def check_script(slug: str, body: ScriptText, database: DatabaseHere) -> list[script.CheckedLine]:
    """Check a text that need not be stored."""
    return list(script.check_script(database, slug, body.text))


@router.put("/shootouts/{slug}/script")
def keep_script(slug: str, body: KeptScript, database: DatabaseHere) -> script.ScriptView:
    """Keep the script."""
    return script.keep_script(database, slug, body.text, body.version)


@router.post("/shootouts/{slug}/script/seen")
def see_script(slug: str, body: SeenScript, database: DatabaseHere) -> script.ScriptView:
    """Take note of every verdict as it is now."""
    return script.see_script(database, slug, body.version)


@router.put("/shootouts/{slug}/script/names")
def name_setup(slug: str, body: NameInScript, database: DatabaseHere) -> script.ScriptView:
    """Let another name stand for a setup in the script."""
    return script.name_setup(database, slug, body.name, body.setup_id)
