"""The API's own document: every field of an answer described, an example for every route."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import pytest
from jsonschema import Draft202012Validator

from tests.conftest import PROJECT
from true_margin.app.field_words import FIELDS
from true_margin.app.model_words import MODEL_FIELDS

DOCUMENT: dict[str, Any] = json.loads((PROJECT / "docs" / "openapi.json").read_text())
SCHEMAS: dict[str, Any] = DOCUMENT["components"]["schemas"]


def operations() -> Iterator[tuple[str, dict[str, Any]]]:
    for path, methods in DOCUMENT["paths"].items():
        for method, operation in methods.items():
            yield f"{method} {path}", operation


def contents(operation: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """What is sent, and what is answered where all is well."""
    answers = [r for code, r in operation["responses"].items() if code.startswith("2")]
    for told in (operation.get("requestBody", {}), *answers):
        content = told.get("content", {}).get("application/json")
        if content is not None and content.get("schema"):
            yield content


def reached(node: Any, found: set[str]) -> set[str]:
    """Names of all schemas that something refers to, and those they refer to."""
    if isinstance(node, dict):
        name = str(node.get("$ref", "")).rsplit("/", 1)[-1]
        if name and name not in found:
            found.add(name)
            reached(SCHEMAS[name], found)
        for inner in node.values():
            reached(inner, found)
    elif isinstance(node, list):
        for inner in node:
            reached(inner, found)
    return found


def test_the_document_is_of_openapi_3_1() -> None:
    assert DOCUMENT["openapi"].startswith("3.1")


def test_every_field_of_every_answer_says_what_it_holds() -> None:
    answers = [
        response
        for _, operation in operations()
        for code, response in operation["responses"].items()
        if code.startswith("2")
    ]
    undescribed = [
        f"{model}.{field}"
        for model in sorted(reached(answers, set()))
        for field, inner in SCHEMAS[model].get("properties", {}).items()
        if not inner.get("description")
    ]
    assert undescribed == []


def test_no_words_are_kept_for_fields_that_are_gone() -> None:
    fields = {f for schema in SCHEMAS.values() for f in schema.get("properties", {})}
    whole = {f"{m}.{f}" for m, schema in SCHEMAS.items() for f in schema.get("properties", {})}
    assert [name for name in (*FIELDS, *MODEL_FIELDS) if name not in fields | whole] == []


OPERATIONS = dict(operations())


@pytest.mark.parametrize("name", OPERATIONS)
def test_every_route_has_an_example_that_it_admits(name: str) -> None:
    for content in contents(OPERATIONS[name]):
        schema = {**content["schema"], "components": {"schemas": SCHEMAS}}
        errors = list(Draft202012Validator(schema).iter_errors(content["example"]))
        assert errors == [], (name, errors[:1])
