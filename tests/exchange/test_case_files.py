"""The case file: what is refused, with its path, and the short form in CSV."""

from __future__ import annotations

import json
import math
import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import PROJECT
from true_margin.core.analysis import analyse
from true_margin.core.errors import CaseError
from true_margin.exchange.case_csv import read_case_csv
from true_margin.exchange.case_file import read_case, read_whole_case
from true_margin.exchange.case_result import result_object
from true_margin.exchange.case_tables import result_table

VECTORS = PROJECT / "tests" / "vectors"
RUN = {"setup": "A", "task": "T", "value": 100.0}


def refused(case: Any) -> CaseError:
    with pytest.raises(CaseError) as error:
        read_case(case if isinstance(case, str) else json.dumps(case))
    return error.value


@pytest.mark.parametrize(
    ("case", "path", "says"),
    [
        ("", "line 1 column 1", "not JSON"),
        ("[]", "case", "JSON object"),
        ("{}", "runs", "is missing"),
        ('{"runs": [], "runs": []}', "runs", "stands twice"),
        ('{"runs": [{"setup": "A", "task": "T", "value": NaN}]}', "case", "NaN"),
        ({"runs": [], "extra": 1}, "extra", "unknown key"),
        ({"runs": [{**RUN, "speed": 3}]}, "runs[0].speed", "unknown key"),
        ({"runs": [RUN, {"setup": "A", "task": "T"}]}, "runs[1].value", "is missing"),
        ({"runs": [{**RUN, "value": 0}]}, "runs[0].value", "positive"),
        ({"runs": [{**RUN, "value": -3.5}]}, "runs[0].value", "positive"),
        ({"runs": [{**RUN, "value": True}]}, "runs[0].value", "not true or false"),
        ({"runs": [{**RUN, "value": "soon"}]}, "runs[0].value", "not a time"),
        (
            {"runs": [{**RUN, "value": "18.40 min"}]},
            "runs[0].value",
            "18:40 (1120 s) or 18:24 (1104 s)",
        ),
        ({"runs": [{**RUN, "u": -1}]}, "runs[0].u", "greater than or equal to 0"),
        ({"runs": [{**RUN, "status": "late"}]}, "runs[0].status", "'ok'"),
        ({"runs": [{**RUN, "setup": ""}]}, "runs[0].setup", "at least 1"),
        ({"runs": [{**RUN, "order": 1.5}]}, "runs[0].order", "integer"),
        ({"runs": [RUN], "baseline": "B"}, "baseline", "no run of a setup"),
        ({"runs": [RUN], "rounds": ["r1", "r1"]}, "rounds", "twice"),
        ({"runs": [RUN], "rounds": []}, "rounds", "at least one"),
        (
            {"runs": [{**RUN, "round": "r9"}], "rounds": ["r1"]},
            "runs[0].round",
            "no round is named",
        ),
        ({"runs": [RUN], "mix": {"U": 1}}, "mix.U", "no task"),
        ({"runs": [RUN], "prices": {"B": "3"}}, "prices.B", "no run"),
        ({"runs": [RUN], "prices": {"A": "cheap"}}, "prices.A", "not a price"),
        ({"runs": [RUN], "prices": {"A": 3}}, "prices.A", "string"),
        ({"runs": [RUN], "confidence": 1}, "confidence", "less than 1"),
        ({"runs": [RUN], "confidence": "95"}, "confidence", "number"),
        (
            {"runs": [RUN], "tasks": {"T": {"measure": "speed"}}},
            "tasks.T.measure",
            "'time' or 'amount'",
        ),
        ({"runs": [RUN], "tasks": {"T": {"work": 0}}}, "tasks.T.work", "greater than 0"),
    ],
)
def test_refusals_name_the_path(case: Any, path: str, says: str) -> None:
    error = refused(case)
    assert error.path == path
    assert says in error.detail


def test_a_deep_case_is_refused_not_crashed() -> None:
    assert "nested too deeply" in refused('{"runs": ' + "[" * 100_000).detail


def test_mix_without_weight_is_refused() -> None:
    study = read_case(json.dumps({"runs": [RUN], "mix": {"T": 0}}))
    with pytest.raises(CaseError, match="at least one task"):
        analyse(study)


def test_defaults() -> None:
    study = read_case(json.dumps({"runs": [{**RUN, "value": "6:17"}, {**RUN, "setup": "B"}]}))
    assert study.rounds == ("r1",)
    assert [task.app for task in study.tasks] == ["T"]
    assert study.baseline == 0
    assert study.runs.order.tolist() == [1, 2]
    assert study.runs.u.tolist() == pytest.approx([1 / (2 * math.sqrt(3)), 0])


def test_a_given_uncertainty_replaces_that_of_the_text() -> None:
    study = read_case(json.dumps({"runs": [{**RUN, "value": "~10m", "u": 2.0}]}))
    assert study.runs.u.tolist() == [2.0]


def test_declared_tasks_without_runs_stay() -> None:
    study = read_case(json.dumps({"runs": [RUN], "tasks": {"U": {}}}))
    assert [task.name for task in study.tasks] == ["U", "T"]


def test_the_result_holds_no_number_that_json_has_not() -> None:
    case = {"runs": [RUN, {**RUN, "setup": "B"}], "prior_df": 1e308}
    text = json.dumps(result_object(analyse(read_case(json.dumps(case)))), allow_nan=False)
    assert "T" in json.loads(text)["spread"]


def test_an_empty_case_has_an_empty_result() -> None:
    analysis = analyse(read_case('{"runs": []}'))
    assert result_object(analysis)["ladders"] == {}
    assert result_table(analysis) == "No runs: nothing to compare.\n"


def test_the_table_says_what_matters() -> None:
    runs = [
        *({**RUN, "value": value} for value in (100.0, 101.0)),
        *({**RUN, "setup": "B", "value": value} for value in (80.0, 81.0)),
        {"setup": "C", "task": "T", "status": "failed"},
        {**RUN, "setup": "D", "task": "U"},
    ]
    table = result_table(analyse(read_case(json.dumps({"runs": runs}))))
    assert re.search(r"^  1 +B +1\.2\d ", table, re.MULTILINE)
    assert "not ranked: C (failed every time on T" in table
    assert "not ranked: D (not tested on T)" in table
    assert "All tasks, equal mix" in table
    assert re.search(r"^  2 +A +1\.00 +baseline", table, re.MULTILINE)
    assert "95 % interval  result" in table


@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(max_size=5),
        lambda inner: (
            st.lists(inner, max_size=4)
            | st.dictionaries(
                st.sampled_from(
                    ["runs", "setup", "task", "value", "u", "status", "tasks", "mix", "prices"]
                ),
                inner,
                max_size=5,
            )
        ),
    )
)
def test_any_json_is_read_or_refused(value: Any) -> None:
    try:
        study = read_case(json.dumps(value))
    except CaseError as error:
        assert error.path
        assert error.detail
    else:
        assert study.rounds


CSV = """setup;task;round;order;value;reading;status;note
A;T;r1;2;6:17,5;log;ok;
A;T;r1;1;~6 min;;;
B;T;r1;3;;;failed;crash
"""


def test_csv_of_runs() -> None:
    study = read_case_csv(CSV)
    assert study.setups == ("A", "B")
    assert study.runs.order.tolist() == [2, 1, 3]
    assert study.runs.value.tolist()[:2] == [377.5, 360.0]
    assert study.runs.u[0] == pytest.approx(0.1 / (2 * math.sqrt(3)))
    assert study.runs.u[1] == pytest.approx(math.hypot(60 / math.sqrt(3), 60 / (2 * math.sqrt(3))))


def test_csv_and_json_agree() -> None:
    csv = "setup,task,value\nA,T,6:17\nA,T,6:20\nB,T,5:00\n"
    runs = [
        {"setup": s, "task": "T", "value": v}
        for s, v in (("A", "6:17"), ("A", "6:20"), ("B", "5:00"))
    ]
    ours = result_object(analyse(read_case_csv(csv)))
    assert ours == result_object(analyse(read_case(json.dumps({"runs": runs}))))


@pytest.mark.parametrize(
    ("row", "path", "says"),
    [
        ("A;T;;;18.40 min;;;", "line 2.value", "two meanings"),
        ("A;T;;;4:75;;;", "line 2.value", "Type 5m15s"),
        ("A;T;;;;;;", "line 2.value", "is missing"),
        (";T;;;6:17;;;", "line 2.setup", "is missing"),
        ("A;T;;;6:17;;maybe;", "line 2.status", "ok, void or failed"),
        ("A;T;;;6:17;sundial;;", "line 2.reading", "must be one of"),
        ("A;T;;x;6:17;;;", "line 2.order", "whole number"),
        ("A;T;6:17", "line 2", "3 cells where the header has 8"),
    ],
)
def test_csv_refusals_name_the_line(row: str, path: str, says: str) -> None:
    with pytest.raises(CaseError) as error:
        read_case_csv(CSV.splitlines()[0] + "\n" + row + "\n")
    assert error.value.path == path
    assert says in error.value.detail


@pytest.mark.parametrize("text", ["", "a,b\n1,2\n", "setup,task\nA,T\n", "\x00\x01"])
def test_what_is_no_table_is_refused(text: str) -> None:
    with pytest.raises(CaseError) as error:
        read_case_csv(text)
    assert error.value.path == "case"


@pytest.mark.parametrize(
    ("more", "path"),
    [
        ({"planned_runs": 0}, "planned_runs"),
        ({"setups": {"Z": {"model": "M"}}}, "setups.Z"),
        ({"ratios": [{"task": "T", "a": "A", "b": "A", "ratio": "2x"}]}, "ratios[0].b"),
        ({"ratios": [{"task": "T", "a": "A", "b": "B", "ratio": 1.4}]}, "ratios[0].ratio"),
        ({"ratios": [{"task": "T", "a": "A", "b": "B", "ratio": "fast"}]}, "ratios[0].ratio"),
        ({"ratios": [{"task": "T", "a": "A", "b": "B", "ratio": True}]}, "ratios[0].ratio"),
        ({"unit_prior_df": 0.2}, "unit_prior_df"),
        ({"viewer": {"rule": "cheapest"}}, "viewer.rule"),
        ({"viewer": {"owned": "Z"}}, "viewer.owned"),
        ({"viewer": {"weekly": {"Z": 1}}}, "viewer.weekly.Z"),
        ({"viewer": {"budget": "much"}}, "viewer.budget"),
        ({"viewer": {"years": 0}}, "viewer.years"),
    ],
)
def test_what_is_off_in_the_new_parts_is_named(more: dict[str, Any], path: str) -> None:
    with pytest.raises(CaseError) as error:
        analyse(read_case(json.dumps({"runs": [RUN], **more})))
    assert str(error.value).startswith(path), error.value


@pytest.mark.parametrize(
    ("run", "path"),
    [
        ({"resolution": 0}, "runs[0].resolution"),
        ({"bound": ">", "status": "failed"}, "runs[0].bound"),
        ({"bound": "about"}, "runs[0].bound"),
        ({"value": "> 2 h", "bound": "<"}, "runs[0].value"),
    ],
)
def test_what_is_off_in_a_bound_is_named(run: dict[str, Any], path: str) -> None:
    assert str(refused({"runs": [{**RUN, **run}]})).startswith(path)


def test_the_table_of_a_case_says_what_is_picked() -> None:
    case = json.loads((VECTORS / "keep_net_worth.json").read_text())["case"]
    whole = read_whole_case(json.dumps(case))
    table = result_table(analyse(whole.study), whole.viewer)
    assert "Pick: Halyard L, almost certain (over 99 %)" in table
    assert "Ferrous: would be the pick up to 1938.58" in table
    assert "Cairn: would be the pick at no price" in table
