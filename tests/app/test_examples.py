"""Examples are made of what a schema says, and stay the same."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from true_margin.app.examples import DEPTH, example_of
from true_margin.app.field_words import words_for

NESTED = {
    "type": "object",
    "properties": {
        "inner": {"anyOf": [{"$ref": "#/components/schemas/Nested"}, {"type": "null"}]},
        "rows": {"type": "array", "items": {"$ref": "#/components/schemas/Nested"}},
    },
}


@pytest.mark.parametrize(
    ("schema", "example"),
    [
        ({"type": "boolean"}, False),
        ({"type": "integer", "minimum": 3}, 3),
        ({"type": "number", "exclusiveMinimum": 0, "maximum": 1}, 1.0),
        ({"type": "number", "minimum": 0, "exclusiveMaximum": 1}, 0.5),
        ({"type": "integer"}, 1),
        ({"enum": ["list", "street"]}, "list"),
        ({"const": "ok"}, "ok"),
        ({"type": "string", "default": "EUR"}, "EUR"),
        ({"type": "string", "format": "date"}, "2026-11-24"),
        ({"type": "string", "maxLength": 3}, "as "),
        ({"type": "string", "minLength": 12}, "as noted...."),
        ({"type": "array", "items": {"type": "integer"}}, [1]),
        (
            {"type": "array", "prefixItems": [{"type": "integer"}, {"type": "string"}]},
            [1, "as noted"],
        ),
        ({"anyOf": [{"type": "integer"}, {"type": "null"}]}, 1),
        ({"type": "object", "additionalProperties": {"type": "integer"}}, {"field": 1}),
        ({}, None),
    ],
)
def test_one_kind_of_schema(schema: dict[str, Any], example: Any) -> None:
    assert example_of(schema, {}) == example


def test_names_bring_their_own_words() -> None:
    schema = {
        "type": "object",
        "properties": {"name": {"type": "string"}, "typed": {"type": "string"}},
    }
    assert example_of(schema, {}) == {"name": "Halyard S", "typed": "6:17"}


def test_what_holds_itself_ends() -> None:
    example = example_of(NESTED, {"Nested": NESTED})
    depth, inner = 0, example
    while inner is not None:
        depth, inner = depth + 1, inner["inner"]
    assert depth <= DEPTH + 1
    Draft202012Validator({**NESTED, "components": {"schemas": {"Nested": NESTED}}}).validate(
        example
    )


NUMBERS = st.fixed_dictionaries(
    {"type": st.just("number")},
    optional={"minimum": st.floats(-1e3, 0), "maximum": st.floats(0.5, 1e3)},
)
LEAVES = st.one_of(
    NUMBERS,
    st.just({"type": "boolean"}),
    st.fixed_dictionaries({"type": st.just("string"), "maxLength": st.integers(1, 20)}),
    st.fixed_dictionaries({"enum": st.lists(st.text(max_size=5), min_size=1, max_size=3)}),
)
SCHEMAS = st.recursive(
    LEAVES,
    lambda inner: st.one_of(
        st.fixed_dictionaries({"type": st.just("array"), "items": inner}),
        st.fixed_dictionaries(
            {
                "type": st.just("object"),
                "properties": st.dictionaries(st.sampled_from("abcd"), inner, max_size=3),
            }
        ),
    ),
    max_leaves=8,
)


@given(SCHEMAS)
def test_any_schema_admits_its_example(schema: dict[str, Any]) -> None:
    example = example_of(schema, {})
    Draft202012Validator(schema).validate(example)
    assert example == example_of(schema, {})


def test_a_model_may_mean_something_of_its_own_by_a_name() -> None:
    assert words_for("Rate", "per_eur") == "Units of the currency for one euro"
    assert words_for("PlanRow", "hours") != words_for("PickRow", "hours")
    assert words_for("Rate", "no such field") is None
