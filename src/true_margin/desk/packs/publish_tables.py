"""Tables of what is published: the script with its names, cards with their setups."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any
from uuid import UUID

from true_margin.core.choices import CardPart
from true_margin.core.claims.forms import Form
from true_margin.core.claims.numbers import Hedge
from true_margin.core.claims.reading import NUMBERED, PAIRED
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, Updating, copy, json_object
from true_margin.exchange.pack_publish import (
    PackCard,
    PackCardSetup,
    PackScript,
    PackScriptAnswer,
    PackScriptName,
    PackScriptPhrasing,
)
from true_margin.store import cards, scripts, viewers


def _scripts(source: Source) -> Iterator[PackScript]:
    script = source.book.script
    if script is not None:
        yield PackScript(text=script.text, verdicts=json.dumps(script.verdicts))


def _script_names(source: Source) -> Iterator[PackScriptName]:
    script = source.book.script
    for name, key in sorted((script.names if script else {}).items()):
        if source.setup(key) is not None:
            yield PackScriptName(name=name, **source.setup_columns(key))


def _script_answers(source: Source) -> Iterator[PackScriptAnswer]:
    """Answers by sentence; those about what a pack does not hold stay behind."""
    script = source.book.script
    for sentence, claims in sorted((script.answers if script else {}).items()):
        if not claims:
            yield PackScriptAnswer(sentence=sentence)
            continue
        rows = [_answer(source, sentence, place, each) for place, each in enumerate(claims)]
        if all(row is not None for row in rows):
            yield from (row for row in rows if row is not None)


def _answer(
    source: Source, sentence: str, place: int, claim: Mapping[str, Any]
) -> PackScriptAnswer | None:
    named: dict[str, Any] = {}
    for part, prefix in (("a", ""), ("b", "against_")):
        if claim.get(part) is not None:
            key = UUID(claim[part])
            if source.setup(key) is None:
                return None
            named |= source.setup_columns(key, prefix)
    task = claim.get("task")
    if task is not None:
        at = source.book.task_index.get(UUID(task))
        if at is None:
            return None
        named["task"] = source.book.tasks[at].name
    same = ("form", "number", "high", "hedge", "sign", "degree", "denied", "half_digit")
    own = {field: claim[field] for field in same if claim.get(field) is not None}
    return PackScriptAnswer(sentence=sentence, place=place, **_chosen(own), **named)


def _chosen(fields: dict[str, Any]) -> dict[str, Any]:
    """Kept fields as the pack's model has them: closed choices, and no empty text."""
    fields["form"] = Form(fields["form"])
    if "hedge" in fields:
        fields["hedge"] = Hedge(fields["hedge"])
    return {name: value for name, value in fields.items() if value != ""}


def _script_phrasings(source: Source) -> Iterator[PackScriptPhrasing]:
    script = source.book.script
    for pattern, each in sorted((script.phrasings if script else {}).items()):
        own = {name: value for name, value in each.items() if value is not None}
        yield PackScriptPhrasing(pattern=pattern, **_chosen(own))


def _cards(source: Source) -> Iterator[PackCard]:
    tasks = {task.id: task.name for task in source.book.tasks}
    asking = {viewer.id: viewer.name for viewer in source.book.viewers}
    for place, card in enumerate(source.book.cards):
        task = None if card.task_id is None else tasks.get(card.task_id)
        viewer = None if card.viewer_id is None else asking.get(card.viewer_id)
        yield copy(card, PackCard, place=place, task=task, viewer=viewer)


def _card_setups(source: Source) -> Iterator[PackCardSetup]:
    for number, card in enumerate(source.book.cards):
        for part in CardPart:
            there = [key for key in card.setups.get(part, ()) if source.setup(key) is not None]
            for place, key in enumerate(there):
                named = source.setup_columns(key)
                yield PackCardSetup(card=number, part=part, place=place, **named)


def _add_script(target: Target) -> None:
    pack, setups = target.pack, target.known.setups
    if len(pack.scripts) > 1:
        raise RefusedError("file", "scripts.csv: a shootout has one script")
    names = {each.name: str(setups[each.machine, each.setup]) for each in pack.script_names}
    if not (pack.scripts or names or pack.script_answers or pack.script_phrasings):
        return
    _check_phrasings(target)
    script = pack.scripts[0] if pack.scripts else PackScript()
    verdicts = json_object("scripts.csv", "verdicts", script.verdicts)
    fields = {
        "text": script.text or "",
        "verdicts": verdicts,
        "names": names,
        "answers": _read_answers(target),
        "phrasings": {
            each.pattern: {
                **each.model_dump(mode="json", exclude={"pattern"}),
                "degree": each.degree or "",
            }
            for each in pack.script_phrasings
        },
    }
    scripts.add_script(target.session, target.home, fields)


def _check_phrasings(target: Target) -> None:
    """Refuse a phrasing that could not be read by.

    Raises:
        RefusedError: a sign stands twice in it, or it lacks what its form needs.
    """
    for row in target.pack.script_phrasings:
        counts = [row.pattern.count(f"‹{sign}›") for sign in "abtn"]
        lacks = counts[0] == 0 or (row.form in PAIRED and counts[1] == 0)
        unsaid = row.form in NUMBERED and counts[3] == 0 and row.number is None
        if max(counts) > 1 or lacks or unsaid:
            where = f"script_phrasings.csv: {row.pattern[:60]!r}"
            raise RefusedError("file", f"{where} must hold each of its parts, once.")


def _read_answers(target: Target) -> dict[str, list[dict[str, Any]]]:
    """Answers by the ids of what they name here.

    Raises:
        RefusedError: a confirmed claim lacks what it needs.
    """
    found: dict[str, list[dict[str, Any]]] = {}
    for row in sorted(target.pack.script_answers, key=lambda each: (each.sentence, each.place)):
        claims = found.setdefault(row.sentence, [])
        if row.form is None:
            continue
        setups = target.known.setups
        a = None if row.machine is None else setups[row.machine, row.setup or ""]
        against = row.against_machine
        b = None if against is None else setups[against, row.against_setup or ""]
        task = target.known.task(row)
        if a is None or (row.form in PAIRED and (b is None or a == b)):
            where = f"script_answers.csv: {row.sentence[:60]!r}"
            raise RefusedError("file", f"{where} lacks a setup that its form needs.")
        if row.form in NUMBERED and row.number is None:
            where = f"script_answers.csv: {row.sentence[:60]!r}"
            raise RefusedError("file", f"{where} lacks the number that its form needs.")
        same = {"form", "number", "high", "hedge", "sign", "denied", "half_digit"}
        claims.append(
            {
                **row.model_dump(mode="json", include=same),
                "degree": row.degree or "",
                "a": str(a),
                "b": None if b is None else str(b),
                "task": None if task is None else str(task),
            }
        )
    return found


def _add_cards(target: Target) -> None:
    pack, known = target.pack, target.known
    asking = {v.name: v.id for v in viewers.list_viewers(target.session, target.home)}
    for card in sorted(pack.cards, key=lambda each: each.place):
        chosen: dict[str, list[str]] = {}
        for each in sorted(pack.card_setups, key=lambda each: each.place):
            if each.card == card.place:
                chosen.setdefault(each.part, []).append(str(known.setup(each)))
        fields = {
            **card.model_dump(exclude={"place", "task", "viewer"}),
            "position": known.cards + card.place,
            "setups": chosen,
            "task_id": known.task(card),
            "viewer_id": None if card.viewer is None else asking[card.viewer],
        }
        cards.add_card(target.session, target.home, fields)


def _where_there_is_none(table: str, updating: Updating) -> list[Any]:
    """What is written here stays."""
    here = updating.here
    written = here.scripts or here.script_names or here.script_answers or here.script_phrasings
    return [] if written else updating.new(table)


def _setups_of_new_cards(updating: Updating) -> list[Any]:
    places = {card.place for card in updating.new("cards")}
    return [row for row in updating.pack.card_setups if row.card in places]


TABLES = (
    PackTable(
        name="scripts",
        words="script",
        rows=_scripts,
        add=_add_script,
        added=lambda updating: _where_there_is_none("scripts", updating),
    ),
    PackTable(
        name="script_names",
        words="names in the script",
        rows=_script_names,
        added=lambda updating: _where_there_is_none("script_names", updating),
    ),
    PackTable(
        name="script_answers",
        words="confirmed sentences",
        rows=_script_answers,
        added=lambda updating: _where_there_is_none("script_answers", updating),
    ),
    PackTable(
        name="script_phrasings",
        words="learnt phrasings",
        rows=_script_phrasings,
        added=lambda updating: _where_there_is_none("script_phrasings", updating),
    ),
    PackTable(name="cards", words="cards", rows=_cards, add=_add_cards),
    PackTable(
        name="card_setups",
        words="setups on cards",
        rows=_card_setups,
        added=_setups_of_new_cards,
        part_of="cards",
    ),
)
