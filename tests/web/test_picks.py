"""What Picks works out in the browser: shares that sum, units, and what has changed."""

from __future__ import annotations

from typing import Any

import pytest

from tests.web.conftest import Call
from true_margin.core.needs import relations_of
from true_margin.core.spec_rows import SPECS, STATES


def part(task: str, **own: Any) -> dict[str, Any]:
    usual = {"weight": 0, "amount": 0, "by_run": False, "accepted_s": None}
    return {"task_id": task, **usual, **own}


def draft(*parts: dict[str, Any], **own: Any) -> dict[str, Any]:
    usual = {
        "weekly": False,
        "rule": "fastest",
        "currency": "EUR",
        "region": None,
        "tax_percent": None,
        "budget": "1500",
        "owned_setup_id": None,
        "resale": "0",
        "hour_value": "20",
        "attended": 0.5,
        "weeks": 48,
        "horizon_years": 3,
        "energy_price": None,
        "needs": [],
        "tasks": list(parts),
    }
    return {**usual, **own}


def shares(call: Call, made: dict[str, Any], ids: list[str]) -> list[float]:
    weights = [call("draft.partOf", made, each)["weight"] for each in ids]
    return [round(weight, 6) for weight in weights]


@pytest.mark.parametrize(
    ("before", "share", "after"),
    [
        ([0.5, 0.3, 0.2], 0.8, [0.8, 0.12, 0.08]),
        ([1.0, 0.0, 0.0], 0.4, [0.4, 0.3, 0.3]),
        ([0.5, 0.5, 0.0], 1.0, [1.0, 0.0, 0.0]),
        ([2.0, 1.0, 1.0], 0.0, [0.0, 0.5, 0.5]),
    ],
)
def test_shares_always_sum(
    call: Call, before: list[float], share: float, after: list[float]
) -> None:
    ids = ["a", "b", "c"]
    made = draft(*(part(i, weight=w) for i, w in zip(ids, before, strict=True)))
    moved = call("draft.withShare", made, ids, "a", share)
    assert shares(call, moved, ids) == after
    assert sum(shares(call, moved, ids)) == pytest.approx(1.0)


def test_one_task_alone_is_the_whole_mix(call: Call) -> None:
    moved = call("draft.withShare", draft(part("a", weight=1)), ["a"], "a", 0.3)
    assert shares(call, moved, ["a"]) == [1.0]


def test_only_what_differs_is_a_change(call: Call) -> None:
    stored = draft(part("a", weight=1), part("b", weight=2))
    assert call("draft.changesOf", stored, stored) == {}
    # The order of tasks, and a task that counts for nothing, are no change.
    same = draft(part("b", weight=2), part("a", weight=1), part("c"))
    assert call("draft.changesOf", stored, same) == {}
    moved = {**stored, "budget": "1600", "tasks": [part("a", weight=1)]}
    assert set(call("draft.changesOf", stored, moved)) == {"budget", "tasks"}


def test_a_stored_viewer_becomes_what_can_be_tried(call: Call) -> None:
    stored = {
        **draft(part("a", amount=3300.0)),
        "id": "x",
        "name": "Filmer",
        "budget": "1500.000",
        "needs": [
            {"about": "memory_gb", "relation": "at least", "value": 16.0},
            {"about": "media_encode", "relation": "includes", "value": ["H.264", "HEVC"]},
            {"about": "only_system", "relation": "is", "value": True},
            {"about": "failures", "relation": "none", "value": None},
        ],
    }
    made = call("draft.draftOf", stored)
    assert made["budget"] == "1500"
    assert [need["value"] for need in made["needs"]] == ["16", "H.264, HEVC", "yes", None]
    assert "name" not in made


TASK = {"id": "a", "name": "Titles", "measure": "time", "work": 90, "unit": "s"}


def test_amounts_keep_their_work_in_another_unit(call: Call) -> None:
    film = part("a", amount=540)
    assert call("units.unitOf", TASK, film) == {"name": "min of video", "size": 60}
    assert call("units.recount", TASK, film, True) == {"by_run": True, "amount": 6}
    counted = part("a", amount=6, by_run=True)
    assert call("units.unitOf", TASK, counted)["name"] == "times"
    assert call("units.recount", TASK, counted, False) == {"by_run": False, "amount": 540}
    photos = {**TASK, "work": 260, "unit": "photos"}
    assert call("units.unitOf", photos, film)["name"] == "photos"
    assert call("units.unitsOf", {**TASK, "work": None}) == [{"by_run": True, "name": "times"}]


@pytest.mark.parametrize(
    ("text", "value"),
    [("12", 12), ("1 290,5", 1290.5), ("-3", -3), ("1.5.2", None), ("some", None), ("", None)],
)
def test_numbers_as_typed(call: Call, text: str, value: float | None) -> None:
    assert call("format.readNumber", text) == value


@pytest.mark.parametrize(
    ("text", "seconds"),
    [("5:00", 300), ("1:05:09", 3909), ("0:30", 30), ("5", None), ("5:75", None), ("x", None)],
)
def test_accepted_times_need_a_colon(call: Call, text: str, seconds: int | None) -> None:
    assert call("units.readClock", text) == seconds


def test_every_need_on_offer_is_one_that_the_core_knows(call: Call) -> None:
    rows = [
        {
            "field": s.field,
            "title": s.title,
            "kind": s.kind.value,
            "choices": list(s.choices),
            "unit": s.unit,
        }
        for s in (*SPECS, *STATES)
    ]
    offered = call("needs.askable", rows)
    assert len(offered) > len(rows)
    for each in offered:
        known = relations_of(each["about"], (*SPECS, *STATES))
        assert set(each["relations"]) <= set(known), each["about"]
        assert each["relations"]
