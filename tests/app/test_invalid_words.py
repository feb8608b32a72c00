"""What is wrong with a field, in words that a person can act on."""

from __future__ import annotations

from typing import Any

import pytest

import true_margin.store.tables_viewers  # noqa: F401 - the rules of its tables are asked for
from true_margin.app.invalid_words import say_invalid
from true_margin.desk.rule_words import say_bounds, say_filled, say_rule


@pytest.mark.parametrize(
    ("where", "error", "words"),
    [
        (["name"], {"type": "missing"}, "Fill in the name."),
        (
            ["typed"],
            {"type": "string_too_long", "ctx": {"max_length": 60}},
            "Time or amount: 60 characters at most.",
        ),
        (["tasks", "0", "amount"], {"type": "float_parsing"}, "Amount: type a number, like 60."),
        (
            ["weeks"],
            {"type": "less_than_equal", "ctx": {"le": 52}},
            "Working weeks a year: 52 or less.",
        ),
        (
            ["status"],
            {"type": "literal_error", "ctx": {"expected": "'ok' or 'void'"}},
            "Status: choose one of 'ok' or 'void'.",
        ),
        (
            ["colour"],
            {"type": "extra_forbidden"},
            "Colour: there is no such field here. Leave it out.",
        ),
        (["dated"], {"type": "date_parsing"}, "Date: type a date, like 2026-11-29."),
        ([], {"type": "json_invalid"}, "What was sent: this is not readable as JSON."),
        (["x"], {"type": "something_new"}, "X: this cannot be taken. Check it."),
    ],
)
def test_each_kind_of_mistake_says_what_to_do(
    where: list[str], error: dict[str, Any], words: str
) -> None:
    assert say_invalid(where, error) == words


def test_rules_of_the_database_tell_their_bounds() -> None:
    assert say_rule("ck_viewers_weeks_range", "weeks") == (
        "Working weeks a year: more than 0, up to 52."
    )
    assert say_rule("ck_viewers_attended_range", "attended") == (
        "Share of waiting that is lost time: from 0 to 1."
    )
    assert say_rule("ck_machines_name_filled", "name") == say_filled("name") == "Fill in the name."
    assert say_rule("ck_prices_currency_code", "currency").endswith("such as EUR.")
    assert say_rule("ck_runs_status_known", "status") == "Status: choose one that is offered."
    assert [say_bounds(rule) for rule in ("a >= 1", "a > 0", "a > 0 AND a < 1", "a <> b")] == [
        "1 or more",
        "more than 0",
        "more than 0, less than 1",
        "",
    ]
