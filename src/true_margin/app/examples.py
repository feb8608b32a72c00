"""An example for each route, made from what its document says: valid, and always the same."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

Schema = Mapping[str, Any]
DEPTH = 4
"""Answers inside answers are shown so deep; further in, lists are empty and choices null."""
WORDS = {
    "name": "Halyard S",
    "label": "Halyard S",
    "setup": "Halyard S",
    "machine": "Halyard S",
    "app": "Heddle",
    "task": "Lantern parade, export",
    "slug": "which-machine",
    "currency": "EUR",
    "typed": "6:17",
    "line": "halyard s / parade / 6:17",
    "email": "marit@bench.example",
    "who": "Marit",
    "text": "Halyard S is 1.77 times as fast as Tarn Desk on the parade.",
}
FORMATS = {
    "uuid": "00000000-0000-4000-8000-000000000001",
    "date": "2026-11-24",
    "date-time": "2026-11-24T21:40:00Z",
    "binary": "",
}
PATTERNS = {
    r"^https?://\S{3,480}$": "https://shop.example/offer",
    "^[A-Z]{3}$": "EUR",
    r"^[a-z0-9]+(-[a-z0-9]+)*$": "which-machine",
}


def example_of(
    schema: Schema, schemas: Mapping[str, Schema], name: str = "", depth: int = 0
) -> Any:
    """Give a value that a schema admits.

    Args:
        schema: of the value.
        schemas: those that it may refer to, by name.
        name: of the field that holds it.
        depth: how far inside the answer it stands.
    """
    if "$ref" in schema:
        schema = schemas[schema["$ref"].rsplit("/", 1)[-1]]
    for key in ("example", "const", "default"):
        if schema.get(key) is not None:
            return schema[key]
    if "enum" in schema:
        return schema["enum"][0]
    choices = [*schema.get("anyOf", ()), *schema.get("oneOf", ())]
    if choices:
        nothing = any(choice.get("type") == "null" for choice in choices)
        return None if nothing and depth >= DEPTH else example_of(choices[0], schemas, name, depth)
    if "allOf" in schema:
        return example_of(schema["allOf"][0], schemas, name, depth)
    return _plain(schema, schemas, name, depth)


def _plain(schema: Schema, schemas: Mapping[str, Schema], name: str, depth: int) -> Any:
    kind = schema.get("type")
    if kind == "object" or "properties" in schema:
        inner = schema.get("additionalProperties")
        if isinstance(inner, dict) and "properties" not in schema:
            key = FORMATS.get(schema.get("propertyNames", {}).get("format", ""), "field")
            return {key: example_of(inner, schemas, name, depth + 1)}
        return {
            field: example_of(inner, schemas, field, depth + 1)
            for field, inner in schema.get("properties", {}).items()
        }
    if kind == "array":
        return _list(schema, schemas, name, depth)
    if kind in ("integer", "number"):
        return _number(schema)
    if kind == "boolean":
        return False
    return _text(schema, name) if kind == "string" else None


def _list(schema: Schema, schemas: Mapping[str, Schema], name: str, depth: int) -> list[Any]:
    fixed = schema.get("prefixItems")
    if fixed is not None:
        return [example_of(inner, schemas, name, depth + 1) for inner in fixed]
    if depth >= DEPTH and not schema.get("minItems"):
        return []
    singular = name[:-1] if name.endswith("s") else name
    return [example_of(schema.get("items", {}), schemas, singular, depth + 1)]


def _number(schema: Schema) -> float:
    low = schema.get("minimum", schema.get("exclusiveMinimum"))
    high = schema.get("maximum", schema.get("exclusiveMaximum"))
    ends = [end for end in (low, high) if end is not None]
    tried = [1, sum(ends) / 2, *ends, *(end + step for end in ends for step in (1, -1))]
    value = next((number for number in tried if _admits(schema, number)), 1)
    return int(value) if schema["type"] == "integer" else float(value)


def _admits(schema: Schema, number: float) -> bool:
    whole = schema["type"] != "integer" or number == int(number)
    return (
        whole
        and schema.get("minimum", number) <= number <= schema.get("maximum", number)
        and schema.get("exclusiveMinimum", number - 1) < number
        and number < schema.get("exclusiveMaximum", number + 1)
    )


def _text(schema: Schema, name: str) -> str:
    known = FORMATS.get(schema.get("format", "")) or PATTERNS.get(schema.get("pattern", ""))
    if known is not None:
        return known
    if "pattern" in schema:
        return "1290.50"
    text = WORDS.get(name, "as noted")
    return text.ljust(schema.get("minLength", 0), ".")[: schema.get("maxLength", 200)]
