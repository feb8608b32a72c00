"""The web's rules for the end of an export, held against those of the core, look by look."""

from __future__ import annotations

from dataclasses import asdict
from random import Random
from typing import Any

import pytest

from tests.core.test_watch_kinds import KINDS, POLL, SIGHTS, seen_by
from tests.core.watch_world import FINISHED, GIVE_UP_S, looks
from tests.web.conftest import Call
from true_margin.core.file_seen import FileSeen, WatchEvent
from true_margin.core.file_watch import FileWatch


def _by_core(seen: list[tuple[float, list[FileSeen], float]]) -> list[WatchEvent]:
    rules = FileWatch(lambda name: name.endswith(FINISHED), POLL, give_up_s=GIVE_UP_S)
    return [event for at, files, began in seen for event in rules.observe(at, files, began)]


def _plain(event: WatchEvent) -> dict[str, Any]:
    """An event as the web tells it, which knows no key of a start."""
    said = {name: value for name, value in asdict(event).items() if value is not None}
    said.pop("key", None)
    return said


@pytest.mark.parametrize("sight", SIGHTS)
@pytest.mark.parametrize("kind", KINDS)
def test_both_say_the_same_of_a_kind_of_export(call: Call, kind: str, sight: str) -> None:
    for seed in (0, 7):
        export, folder = KINDS[kind](Random(seed))
        rng = Random(1000 + seed)
        seen = list(looks(export, seen_by(folder, sight), rng, POLL))
        expected = [_plain(event) for event in _by_core(seen)]
        assert expected, "something happens in every kind"
        told = [[at, [asdict(file) for file in files], began] for at, files, began in seen]
        events = call("watch.replayed", told, FINISHED, POLL, GIVE_UP_S)
        shown = [{k: v for k, v in event.items() if v is not None} for event in events]
        assert shown == [pytest.approx(each) for each in expected]
