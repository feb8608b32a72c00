"""What is wrong with a field of a request, in words that name it and say what to do."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from true_margin.core.labels import field_label

_SAYS: dict[str, Callable[[Mapping[str, Any]], str]] = {
    "string_too_long": lambda ctx: f"{ctx['max_length']} characters at most.",
    "string_too_short": lambda ctx: f"{ctx['min_length']} characters at least.",
    "too_long": lambda ctx: f"{ctx['max_length']} at most.",
    "too_short": lambda ctx: f"{ctx['min_length']} at least.",
    "greater_than": lambda ctx: f"more than {ctx['gt']}.",
    "greater_than_equal": lambda ctx: f"{ctx['ge']} or more.",
    "less_than": lambda ctx: f"less than {ctx['lt']}.",
    "less_than_equal": lambda ctx: f"{ctx['le']} or less.",
    "literal_error": lambda ctx: f"choose one of {ctx['expected']}.",
    "enum": lambda ctx: f"choose one of {ctx['expected']}.",
    "value_error": lambda ctx: f"{ctx['error']}.",
}
"""Words of what pydantic found, by its kind and what it holds."""
_PLAIN = {
    "extra_forbidden": "there is no such field here. Leave it out.",
    "json_invalid": "this is not readable as JSON.",
    "bool_type": "yes or no.",
    "bool_parsing": "yes or no.",
    "uuid_parsing": "there is no such thing here. Reload, and choose again.",
    "uuid_type": "there is no such thing here. Reload, and choose again.",
    "string_type": "type a text.",
    "string_pattern_mismatch": "it has characters that cannot stand here.",
    "finite_number": "type a number, like 60.",
}


def say_invalid(where: Sequence[str], error: Mapping[str, Any]) -> str:
    """Say what is wrong with a field, and what to do.

    Args:
        where: the names that lead to the field; empty for the whole request.
        error: as pydantic tells it: ``type``, ``ctx`` where there is any, ``msg``.

    Example:
        >>> say_invalid(["typed"], {"type": "string_too_long", "ctx": {"max_length": 60}})
        'Time or amount: 60 characters at most.'
        >>> say_invalid(["hour_value"], {"type": "decimal_parsing"})
        'Worth of an hour: type a number, like 60.'
    """
    kind = str(error["type"])
    named = next((part for part in reversed(where) if not part.isdigit()), "")
    label = field_label(named) if named else "what was sent"
    if kind == "missing":
        return f"Fill in the {label}."
    told = f"{label[0].upper()}{label[1:]}"
    if kind in _SAYS and error.get("ctx"):
        return f"{told}: {_SAYS[kind](error['ctx'])}".replace("..", ".")
    if kind.startswith(("int_", "float_", "decimal_")):
        return f"{told}: type a number, like 60."
    if kind.startswith(("date_", "datetime_", "time_")):
        return f"{told}: type a date, like 2026-11-29."
    return f"{told}: {_PLAIN.get(kind, 'this cannot be taken. Check it.')}"
