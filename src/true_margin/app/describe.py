"""What the API's own document says of errors: one form for all of them, as they are sent."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from fastapi import FastAPI
from pydantic import BaseModel, ConfigDict, Field

from true_margin.app.examples import example_of
from true_margin.app.field_words import words_for
from true_margin.app.problems import MEDIA_TYPE


class Problem(BaseModel):
    """An error as the server words it (RFC 9457); some kinds have members of their own."""

    model_config = ConfigDict(extra="allow")

    type: str = Field(description="Which kind of problem, such as /problems/stale")
    title: str = Field(description="The kind in words")
    status: int = Field(description="The status of the answer")
    detail: str = Field(description="What is wrong, where, and what to do")
    field: str | None = Field(default=None, description="The field that it is about")


def described(app: FastAPI) -> Callable[[], dict[str, Any]]:
    """Give the function that writes the API's document, with its errors as they are."""
    plain = app.openapi

    def openapi() -> dict[str, Any]:
        if app.openapi_schema is not None:
            return app.openapi_schema
        document = plain()
        schemas = document["components"]["schemas"]
        schemas["Problem"] = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
        for old in ("HTTPValidationError", "ValidationError"):
            schemas.pop(old, None)
        told = {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
        for methods in document["paths"].values():
            for operation in methods.values():
                responses = operation["responses"]
                responses.pop("422", None)
                responses["4XX"] = {"description": "Refused: says why", "content": told}
                responses["503"] = {"description": "Not now: try again", "content": told}
        _describe_fields(schemas)
        _add_examples(document)
        app.openapi_schema = document
        return document

    return openapi


def _describe_fields(schemas: dict[str, Any]) -> None:
    """Say what each field holds, where its model does not."""
    for model, schema in schemas.items():
        for field, inner in schema.get("properties", {}).items():
            words = words_for(model, field)
            if words is not None and "description" not in inner:
                inner["description"] = words


def _add_examples(document: dict[str, Any]) -> None:
    """Show for each route what is sent, and what is answered."""
    schemas = document["components"]["schemas"]
    for methods in document["paths"].values():
        for operation in methods.values():
            good = (r for code, r in operation["responses"].items() if code.startswith("2"))
            for told in (operation.get("requestBody", {}), *good):
                content = told.get("content", {}).get("application/json")
                if content and content.get("schema") and "example" not in content:
                    content["example"] = example_of(content["schema"], schemas)
