"""The script desk: the script as it is kept, and what a person has seen of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from true_margin.core.claims.learn import Phrasing
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, StaleError, transaction
from true_margin.desk.publish import script_answers, script_names
from true_margin.desk.publish.offered_lines import Offered, tempting_lines, true_lines
from true_margin.desk.publish.script_answers import (
    LearntPhrasing,
    SaidClaim,
    list_learnt,
    read_phrasings,
)
from true_margin.desk.publish.script_check import (
    WAITING,
    ScriptCheck,
    check_sentences,
    check_text,
    read_seen,
    seen_now,
)
from true_margin.store import scripts, shootouts
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class ScriptView:
    """The script with what was found of each sentence; ``true`` and ``tempting`` are lines
    offered unasked, ``names`` other names of setups that the reviewer has set, ``learnt`` the
    phrasings that a person confirmed."""

    text: str
    version: int
    check: ScriptCheck
    true: tuple[Offered, ...]
    tempting: tuple[Offered, ...]
    names: dict[str, UUID]
    learnt: tuple[LearntPhrasing, ...]


def show_script(database: Database, slug: str) -> ScriptView:
    """Give the script of a shootout with every verdict."""
    book = SHELF.take(database, slug)
    script = book.script
    text, version, seen = (
        ("", 0, {}) if script is None else (script.text, script.version, script.verdicts)
    )
    true, tempting = book.cached(
        "offered", lambda: (tuple(true_lines(book)), tuple(tempting_lines(book)))
    )
    check = check_text(book, text, read_seen(seen))
    names = script_names.own_names(book)
    return ScriptView(text, version, check, true, tempting, names, list_learnt(book))


def check_script(database: Database, slug: str, text: str) -> ScriptCheck:
    """Check a text that need not be stored."""
    book = SHELF.take(database, slug)
    return check_text(book, text, {} if book.script is None else read_seen(book.script.verdicts))


def name_setup(database: Database, slug: str, name: str, setup_id: UUID | None) -> ScriptView:
    """Let a name stand for a setup in the script; for none, take it back.

    Raises:
        RefusedError: the setup is not in this line-up, or there are too many names.
    """
    script_names.name_setup(database, slug, name, setup_id)
    return show_script(database, slug)


def answer_sentence(
    database: Database, slug: str, key: str, text: str, claims: Sequence[SaidClaim] | None
) -> ScriptView:
    """Keep what a person said that a sentence means; see there.

    Raises:
        RefusedError: a part is missing or is not here.
    """
    script_answers.answer_sentence(database, slug, key, text, claims)
    return show_script(database, slug)


def forget_phrasing(database: Database, slug: str, pattern: str) -> ScriptView:
    """Read a learnt phrasing no more.

    Raises:
        RefusedError: nothing like it was learnt.
    """
    script_answers.forget_phrasing(database, slug, pattern)
    return show_script(database, slug)


def _seen_of(book: Book, text: str, learnt: tuple[Phrasing, ...] | None = None) -> dict[str, Any]:
    """Every claim of a text as a person sees it now, by its sentence."""
    return {
        each.line.text: seen_now(each.checked)
        for each in check_sentences(book, text, learnt)
        if each.checked is not None
    }


def keep_script(database: Database, slug: str, text: str, version: int) -> ScriptView:
    """Keep the script; claims that were there keep the verdict that a person saw.

    Raises:
        StaleError: somebody else changed it since.
    """
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        script = scripts.get_script(session, book.shootout.id)
        seen = {} if script is None else script.verdicts
        # A first script begins with what was learnt from others, and is seen by it.
        begun = scripts.list_phrasings(session) if script is None else script.phrasings
        claims = _seen_of(book, text, read_phrasings(begun))
        verdicts = {said: _still(seen.get(said), now) for said, now in claims.items()}
        if script is None:
            if version != 0:
                raise StaleError("script", {"text": "", "version": 0})
            first = {"text": text, "verdicts": verdicts, "phrasings": begun}
            scripts.add_script(session, book.shootout.id, first)
        else:
            changes = {"text": text, "verdicts": verdicts}
            scripts.change_script(session, script, version, changes)
    return show_script(database, slug)


def see_script(database: Database, slug: str, version: int) -> ScriptView:
    """Take note of every verdict as it is now: nothing is marked as another any more."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        home = book.shootout.id
        shootouts.bump_revision(session, home, rest=False)
        script = scripts.get_script(session, home)
        if script is None:
            raise RefusedError("text", "There is no script yet.")
        verdicts = _seen_of(book, script.text)
        scripts.change_script(session, script, version, {"verdicts": verdicts})
    return show_script(database, slug)


def _still(seen: Any, now: Mapping[str, Any]) -> Any:
    """What a person saw of a claim stands until they say so; what nobody could judge then, and
    is judged now, was not seen."""
    if seen is None:
        return now
    verdict = seen if isinstance(seen, str) else seen.get("verdict")
    return now if verdict in WAITING else seen
