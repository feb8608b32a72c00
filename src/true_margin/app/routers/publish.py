"""Publish: the script desk."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import Field

from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.requests import Name, Request
from true_margin.core.claims.numbers import Hedge
from true_margin.desk.publish import script, script_answers, script_check

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


class ClaimSaid(Request):
    """One claim of a sentence, as a person chose its parts."""

    says: str = Field(max_length=40, description='Code of what is said, such as "times as fast"')
    a: UUID | None = Field(default=None, description="Setup that is spoken of")
    b: UUID | None = Field(default=None, description="Setup that it is compared with")
    task: UUID | None = Field(default=None, description="Task; null for the mix of all")
    number: str | None = Field(
        default=None, max_length=40, description="Number as typed, such as 2, 33 or 4:45"
    )
    high: str | None = Field(
        default=None, max_length=40, description="Other end of a range, or out of how many"
    )
    hedge: Hedge = Field(default=Hedge.NONE, strict=False, description="How firmly it is said")
    denied: bool = Field(default=False, description="Whether it is said not to be so")


class SentenceAnswer(Request):
    """What a person says that a sentence means."""

    key: str = Field(min_length=1, max_length=4000, description="Key of the sentence, as checked")
    text: str = Field(min_length=1, max_length=2000, description="The sentence itself")
    claims: list[ClaimSaid] | None = Field(
        max_length=script_answers.MOST_CLAIMS,
        description="Its claims; none where it claims nothing; null takes the answer back",
    )


class ForgottenPhrasing(Request):
    """A learnt phrasing that is read no more."""

    pattern: str = Field(min_length=1, max_length=2000, description="As it is listed")


class SeenScript(Request):
    """A script whose verdicts a person has seen."""

    version: Read


@router.get("/shootouts/{slug}/script")
def show_script(slug: str, database: DatabaseHere) -> script.ScriptView:
    """Show the script with the verdict of each claim."""
    return script.show_script(database, slug)


@router.post("/shootouts/{slug}/script/check")
def check_script(slug: str, body: ScriptText, database: DatabaseHere) -> script_check.ScriptCheck:
    """Check a text that need not be stored."""
    return script.check_script(database, slug, body.text)


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


@router.put("/shootouts/{slug}/script/answers")
def answer_sentence(slug: str, body: SentenceAnswer, database: DatabaseHere) -> script.ScriptView:
    """Keep what a person says that a sentence means; its phrasing is learnt."""
    claims = body.claims
    said = (
        None
        if claims is None
        else [script_answers.SaidClaim(**each.model_dump()) for each in claims]
    )
    return script.answer_sentence(database, slug, body.key, body.text, said)


@router.post("/shootouts/{slug}/script/phrasings/forget")
def forget_phrasing(
    slug: str, body: ForgottenPhrasing, database: DatabaseHere
) -> script.ScriptView:
    """Read a learnt phrasing no more; what was confirmed of single sentences stays."""
    return script.forget_phrasing(database, slug, body.pattern)
