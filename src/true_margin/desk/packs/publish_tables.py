"""Tables of what is published: the script with its names, cards with their setups."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from true_margin.core.choices import CardPart
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, Updating, copy, json_object
from true_margin.exchange.pack_publish import PackCard, PackCardSetup, PackScript, PackScriptName
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
    if not pack.scripts and not names:
        return
    script = pack.scripts[0] if pack.scripts else PackScript()
    verdicts = json_object("scripts.csv", "verdicts", script.verdicts)
    fields = {"text": script.text or "", "verdicts": verdicts, "names": names}
    scripts.add_script(target.session, target.home, fields)


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
    written = updating.here.scripts or updating.here.script_names
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
    PackTable(name="cards", words="cards", rows=_cards, add=_add_cards),
    PackTable(
        name="card_setups",
        words="setups on cards",
        rows=_card_setups,
        added=_setups_of_new_cards,
        part_of="cards",
    ),
)
