"""What the web works out by itself: writing numbers, the rule's scale, cells and jobs."""

from __future__ import annotations

import math
import re
from itertools import pairwise
from typing import Any

import pytest

from tests.conftest import PROJECT
from tests.web.conftest import Call, read_file
from true_margin.core.wording import format_elapsed, format_ratio


@pytest.mark.parametrize(
    ("seconds", "resolution"),
    [
        (377.2, 0.1),
        (377.0, 1.0),
        (3599.96, 0.1),
        (59.999, 0.01),
        (0.4, 1.0),
        (86399.0, 60.0),
        (5.0, 0.05),
        (7325.4, 0.1),
    ],
)
def test_clocks_are_written_as_the_server_writes_them(
    call: Call, seconds: float, resolution: float
) -> None:
    assert call("format.clock", seconds, resolution) == format_elapsed(seconds, resolution)


@pytest.mark.parametrize("ratio", [1.5323, 1.004, 0.99, 0.5, 1.0, 12.3456])
def test_ratios_are_written_as_the_server_writes_them(call: Call, ratio: float) -> None:
    assert call("format.ratio", ratio) == format_ratio(ratio)


def test_missing_is_shown_as_missing_never_as_zero(call: Call) -> None:
    for name in ("clock", "ratio", "plain", "compact", "day"):
        assert call(f"format.{name}", None) == "–"
    run = {"value": None, "resolution": None, "bound": None, "approximate": False}
    assert call("format.runValue", run, "time") == "–"


@pytest.mark.parametrize(
    ("name", "arguments", "text"),
    [
        ("seconds", [5.44], "+5.4 s"),
        ("seconds", [-33.4], "−33 s"),
        ("seconds", [150], "+2:30"),
        ("seconds", [-3725], "−1:02:05"),
        ("plain", [-0.55, 1], "−0.6"),
        ("compact", [1234567], "1234567"),
        ("compact", [0.45374], "0.4537"),
        ("percent", [0.0234], "2.3 %"),
        ("percent", [0.95], "95 %"),
        ("money", ["1290.00"], "1,290"),
        ("money", ["1290.50"], "1,290.50"),
        ("day", ["2026-11-24"], "24 Nov 2026"),
        ("count", [1, "run"], "1 run"),
        ("count", [0, "run"], "0 runs"),
    ],
)
def test_writing(call: Call, name: str, arguments: list[Any], text: str) -> None:
    assert call(f"format.{name}", *arguments) == text


@pytest.mark.parametrize(
    ("name", "arguments", "text"),
    [
        ("clock", [377.2, 0.1], "6:17,2"),
        ("keptClock", [377.2, 0.1], "6:17.2"),
        ("ratio", [1.5323], "1,53"),
        ("seconds", [-5.44], "−5,4 s"),
        ("plain", [-0.55, 1], "−0,6"),
        ("compact", [0.45374], "0,4537"),
        ("percent", [0.0234], "2,3 %"),
        ("money", ["1290.50"], "1.290,50"),
        ("day", ["2026-11-24"], "24. Nov. 2026"),
        ("readNumber", ["1,5"], 1.5),
        ("readNumber", ["1.5"], 1.5),
        ("readNumber", ["1.290,50"], 1290.5),
        ("plainNumber", ["1.234.567,5"], "1234567.5"),
        ("readNumber", ["1.290"], None),
        ("readNumber", ["1,290"], 1.29),
    ],
)
def test_writing_and_reading_for_somebody_who_writes_a_comma(
    german: Call, name: str, arguments: list[Any], text: str | float | None
) -> None:
    assert german(f"format.{name}", *arguments) == text


def test_a_sign_that_may_stand_for_thousands_is_not_guessed_at(call: Call) -> None:
    assert call("format.readNumber", "1,290") is None
    assert call("format.readNumber", "1,290.50") == 1290.5
    assert call("format.readNumber", "1,29") == 1.29
    assert call("job.readWork", "1,200 photos") is None


@pytest.mark.parametrize(
    ("run", "measure", "text"),
    [
        (
            {"value": 377.2, "resolution": 0.1, "bound": None, "approximate": False},
            "time",
            "6:17.2",
        ),
        ({"value": 1200, "resolution": 60, "bound": ">", "approximate": False}, "time", "> 20:00"),
        ({"value": 600, "resolution": 60, "bound": None, "approximate": True}, "time", "~10:00"),
        ({"value": 1530, "resolution": 1, "bound": None, "approximate": False}, "amount", "1530"),
    ],
)
def test_run_values(call: Call, run: dict[str, Any], measure: str, text: str) -> None:
    assert call("format.runValue", run, measure) == text


def scale(call: Call, ratios: list[float | None], labels: int = 7) -> dict[str, Any]:
    found: dict[str, Any] = call.page.evaluate(  # type: ignore[attr-defined]
        """([ratios, labels]) => {
            const scale = window.tm.scale.fitScale(ratios, labels)
            return {...scale, at: undefined, places: scale.ticks.map(scale.at), one: scale.at(1),
                    ends: [scale.at(scale.lo), scale.at(scale.hi)]}
        }""",
        [ratios, labels],
    )
    return found


@pytest.mark.parametrize(
    "ratios",
    [
        [1.0],
        [2.83, 2.76, 1.31],
        [0.97, 1.08],
        [0.07, 2.4],
        [0.0001, 9000.0],
        [1.02],
        [None, 1.5],
        [],
    ],
)
def test_the_scale_fits_with_1x_in_view(call: Call, ratios: list[float | None]) -> None:
    found = scale(call, ratios)
    known = [ratio for ratio in ratios if ratio is not None]
    assert found["lo"] < min([1.0, *known])
    assert found["hi"] > max([1.0, *known])
    assert 1 in found["ticks"]
    assert 0 < found["one"] < 1
    assert found["ends"] == pytest.approx([0, 1])
    assert found["ticks"] == sorted(found["ticks"])


@pytest.mark.parametrize("labels", [3, 5, 7])
def test_labels_of_the_scale_stand_clear_of_each_other(call: Call, labels: int) -> None:
    places = scale(call, [0.3, 3.9], labels)["places"]
    gaps = [b - a for a, b in pairwise(places)]
    assert min(gaps) >= 1 / labels - 1e-9
    assert len(places) <= labels + 1


def test_the_scale_is_logarithmic_and_right_is_faster(call: Call) -> None:
    half, one, double = call.page.evaluate(  # type: ignore[attr-defined]
        "() => { const s = window.tm.scale.fitScale([0.5, 2]); return [0.5, 1, 2].map(s.at) }"
    )
    assert half < one < double
    assert one - half == pytest.approx(double - one)


def ranks(*pairs: tuple[int, int]) -> list[dict[str, int]]:
    return [{"best_rank": best, "worst_rank": worst} for best, worst in pairs]


def test_one_bracket_a_tie_group(call: Call) -> None:
    found = call("brackets.bracketsOf", ranks((1, 3), (1, 3), (1, 3), (4, 5), (4, 5), (6, 6)))
    assert found == [{"from": 0, "to": 2, "lane": 0}, {"from": 3, "to": 4, "lane": 0}]


def test_brackets_that_overlap_stand_in_lanes(call: Call) -> None:
    found = call("brackets.bracketsOf", ranks((1, 3), (1, 2), (2, 3)))
    assert sorted((b["from"], b["to"]) for b in found) == [(0, 1), (0, 2), (1, 2)]
    assert len({b["lane"] for b in found}) == 3
    assert call("brackets.bracketsOf", ranks((1, 1), (2, 2))) == []


def test_markers_differ_for_sixty_four_setups(call: Call) -> None:
    found = call.page.evaluate(  # type: ignore[attr-defined]
        """() => Array.from({length: 64}, (_, i) => {
            const {color, shape} = window.tm.mark.markOf(i)
            return `${color} ${shape.key}`
        })"""
    )
    assert len(set(found)) == 64


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("11:00", 660),
        ("1:02:03", 3723),
        ("660", 660),
        ("660 s", 660),
        ("11 min", 660),
        ("1,5 h", 5400),
        ("0:90", None),
        ("soon", None),
        ("0", None),
        ("", None),
        ("-5", None),
        ("99999999", None),
    ],
)
def test_lengths_of_timelines(call: Call, text: str, seconds: float | None) -> None:
    assert call("length.readLength", text) == seconds


def column(*setups: dict[str, Any], **machine: str) -> dict[str, Any]:
    """A machine's column as the server gives it: cells of each setup, its own marked."""
    fields = {*machine, *(field for setup in setups for field in setup)}
    return {
        "cells": {
            field: [
                {"text": setup.get(field, machine.get(field, "")), "own": field in setup}
                for setup in setups
            ]
            for field in fields
        }
    }


@pytest.mark.parametrize(
    ("given", "level", "split"),
    [
        (column({}, {}, memory="16"), "machine", False),
        (column({}, {"memory": "32"}, memory="16"), "machine", True),
        (column({"memory": "16"}, {"memory": "16"}), "machine", True),
        (column({"memory": "32"}, memory="16"), "machine", True),
        (column({"memory": "on"}, {"memory": "on"}), "setup", False),
        (column({"memory": "on"}, {}), "setup", True),
        (column({}, {}), "machine", False),
    ],
)
def test_cells_are_split_where_setups_are_not_alike(
    call: Call, given: dict[str, Any], level: str, split: bool
) -> None:
    assert call("specs.isSplit", given, {"field": "memory", "level": level}) is split


@pytest.mark.parametrize(
    ("shown", "fields"),
    [("filled rows", ["a", "b", "d"]), ("differences", ["a"]), ("all rows", ["a", "b", "c", "d"])],
)
def test_rows_that_are_shown(call: Call, shown: str, fields: list[str]) -> None:
    rows = [
        {"field": "a", "filled": True, "differs": True, "free_row_id": None},
        {"field": "b", "filled": True, "differs": False, "free_row_id": None},
        {"field": "c", "filled": False, "differs": False, "free_row_id": None},
        {"field": "d", "filled": False, "differs": False, "free_row_id": "x"},
    ]
    assert [row["field"] for row in rows if call("specs.isShown", row, shown)] == fields


@pytest.mark.parametrize(
    ("value", "text"),
    [(None, ""), (True, "yes"), (False, "no"), (["a", "b"], "a, b"), (2.5, "2.5"), ("x", "x")],
)
def test_stored_values_as_they_would_be_typed(call: Call, value: Any, text: str) -> None:
    assert call("specs.shownValue", value) == text


def test_a_spec_file_takes_the_name_of_its_machine(call: Call) -> None:
    assert '"name": "Tarn"' in call("specs.namedSpecs", '{"name": "old", "cores": 6}', "Tarn")
    assert call("specs.namedSpecs", "{not json", "Tarn") == "{not json"


@pytest.mark.parametrize(
    ("moved", "target", "order"),
    [
        ("a", "c", "bcad"),
        ("d", "a", "dabc"),
        ("b", "b", "abcd"),
        ("x", "a", "abcd"),
        ("a", "x", "abcd"),
    ],
)
def test_moving_in_a_list(call: Call, moved: str, target: str, order: str) -> None:
    assert "".join(call("order.movedBefore", list("abcd"), moved, target)) == order


def test_moving_by_one_stops_at_the_ends(call: Call) -> None:
    steps = [("a", 1, "bacd"), ("a", -1, "abcd"), ("d", 1, "abcd"), ("d", -1, "abdc")]
    for moved, step, order in steps:
        assert "".join(call("order.movedBy", list("abcd"), moved, step)) == order


def contrast(one: str, other: str) -> float:
    """Contrast of two colours (WCAG 2.2, relative luminance)."""

    def luminance(color: str) -> float:
        parts = [int(color[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        linear = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def colours(theme: str) -> dict[str, str]:
    css = read_file("theme/app.css")
    block = css.split(f'name: "{theme}"')[1].split("}")[0]
    own = ":root" if theme == "daybench" else '[data-theme="nightbench"]'
    block += css.split(f"{own} {{")[1].split("}")[0]
    return dict(re.findall(r"--([\w-]+):\s*(#[0-9a-f]{6})", block))


@pytest.mark.parametrize("theme", ["daybench", "nightbench"])
def test_text_and_markers_can_be_seen(theme: str) -> None:
    found = colours(theme)
    grounds = [found[name] for name in ("color-base-100", "color-base-200", "tm-page", "tm-pick")]
    for ground in grounds:
        for text in ("color-base-content", "tm-mute", "color-accent"):
            assert contrast(found[text], ground) >= 4.5, (text, ground)
        for place in range(1, 9):
            assert contrast(found[f"s{place}"], ground) >= 3.0, (place, ground)


def test_nothing_is_fetched_from_elsewhere() -> None:
    built = (PROJECT / "web" / "dist").rglob("*")
    texts = [path.read_text() for path in built if path.suffix in (".html", ".css", ".js")]
    assert texts
    for text in texts:
        hosts = set(re.findall(r"(?:src|href|url\()[=\"'(\s]*https?://([\w.-]+)", text))
        assert hosts == set()


def test_clock_of_a_long_run_keeps_its_tenths(call: Call) -> None:
    for seconds in (0.1 * n for n in range(0, 9000, 317)):
        assert math.isclose(_back(call("format.clock", seconds, 0.1)), seconds, abs_tol=1e-6)


def _back(text: str) -> float:
    parts = [float(part) for part in text.split(":")]
    return math.fsum(part * 60.0**place for place, part in enumerate(reversed(parts)))


def sheet_of(runs: int, **task: Any) -> dict[str, Any]:
    typed = {"codec": "HEVC", "bit_rate": "60"}
    return {"runs": runs, "typed": typed, "task": {"operation": "export", "app": "Heddle", **task}}


@pytest.mark.parametrize(
    ("runs", "change", "asks"),
    [
        (3, {"settings": {"bit_rate": "80"}}, True),
        (3, {"settings": {"bit_rate": "60"}}, False),
        (3, {"settings": {"depth": None}}, False),
        (3, {"settings": {"codec": None}}, True),
        (3, {"operation": "transcode"}, True),
        (3, {"operation": "export", "app": "Heddle", "note": "x", "work": 3}, False),
        (3, {"timeline": None}, False),
        (0, {"settings": {"bit_rate": "80"}}, False),
    ],
)
def test_changes_of_the_job_need_a_decision_once_there_are_runs(
    call: Call, runs: int, change: dict[str, Any], asks: bool
) -> None:
    assert call("job.changesJob", sheet_of(runs), change) is asks


def test_a_preset_empties_what_it_does_not_say(call: Call) -> None:
    assert call("job.presetOver", {"codec": "HEVC", "other": "alpha"}, {"codec": "H.264"}) == {
        "codec": "H.264",
        "other": None,
    }


@pytest.mark.parametrize(
    ("text", "read"),
    [
        ("260 photos", {"work": 260, "unit": "photos"}),
        ("660", {"work": 660, "unit": None}),
        ("1,5 h", {"work": 1.5, "unit": "h"}),
        ("photos", None),
        ("0", None),
        ("-3", None),
    ],
)
def test_work_as_it_is_typed(call: Call, text: str, read: Any) -> None:
    assert call("job.readWork", text) == read


@pytest.mark.parametrize(
    ("narrowed", "drifting", "shown"),
    [
        ({}, False, ["ok", "odd", "gone"]),
        ({"setup": "a"}, False, ["ok", "gone"]),
        ({"setup": "a", "state": "void"}, False, ["gone"]),
        ({"state": "ok"}, False, ["ok", "odd"]),
        ({"state": "failed"}, False, []),
        ({"state": "flagged"}, False, ["odd"]),
        ({"state": "flagged", "setup": "a"}, True, ["ok", "gone"]),
        ({"task": "other"}, False, []),
        ({"round": "r"}, False, ["ok", "odd", "gone"]),
    ],
)
def test_the_book_is_narrowed(
    call: Call, narrowed: dict[str, str], drifting: bool, shown: list[str]
) -> None:
    book = {
        "ok": ({"setup_id": "a", "status": "ok"}, []),
        "odd": ({"setup_id": "b", "status": "ok"}, ["odd one"]),
        "gone": ({"setup_id": "a", "status": "void"}, []),
    }
    filter_ = {"setup": "", "task": "", "round": "", "state": "", **narrowed}
    found = [
        name
        for name, (run, flags) in book.items()
        if call(
            "cells.isShown",
            {"run": {"task_id": "t", "round_id": "r", **run}, "flags": flags},
            drifting,
            filter_,
        )
    ]
    assert found == shown


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("63 % at 7:20", {"fraction": 0.63, "elapsed_s": 440}),
        ("41 dB", {"noise_db": 41, "elapsed_s": None}),
        ("88 °C @ 5:00", {"temperature_c": 88, "elapsed_s": 300}),
        ("file 1.2 GB", {"file_gb": 1.2, "elapsed_s": None}),
        ("export 850 MB", {"file_gb": 0.85, "elapsed_s": None}),
        ("fan starts at 2 min", {"event": "fan starts", "elapsed_s": 120}),
        ("120 %", None),
        ("", None),
    ],
)
def test_a_reading_that_is_typed_afterwards_says_its_moment(
    call: Call, text: str, said: dict[str, object] | None
) -> None:
    assert call("marks.readLate", text) == said
