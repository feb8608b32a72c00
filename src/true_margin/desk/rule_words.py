"""What a rule of the database asks of a field, in words for whoever broke it."""

from __future__ import annotations

import re
from functools import lru_cache

from sqlalchemy import CheckConstraint

from true_margin.core.labels import field_label
from true_margin.store.base import Base

_LEAST = re.compile(r"(>=|>) (-?[\d.]+)")
_MOST = re.compile(r"(<=|<) ([\d.]+)")


def say_filled(column: str) -> str:
    """That a field was left empty.

    Example:
        >>> say_filled("typed"), say_filled("name")
        ('Fill in the time or amount.', 'Fill in the name.')
    """
    return f"Fill in the {field_label(column)}."


def say_rule(constraint: str, field: str) -> str:
    """What a field has to be by a rule; its bounds where the rule has any.

    Args:
        constraint: name of the rule in the database.
        field: name of the field that it is about.
    """
    label = field_label(field)
    if constraint.endswith("_filled"):
        return f"Fill in the {label}."
    told = f"{label[0].upper()}{label[1:]}"
    if constraint.endswith("_code"):
        return f"{told}: three letters, such as EUR."
    bounds = _bounds().get(constraint, "")
    return f"{told}: {bounds}." if bounds else f"{told}: choose one that is offered."


def say_bounds(rule: str) -> str:
    """The bounds in a rule; empty where there are none.

    Example:
        >>> say_bounds("reached >= 0 AND reached <= 1"), say_bounds("weeks > 0 AND weeks <= 52")
        ('from 0 to 1', 'more than 0, up to 52')
    """
    least, most = _LEAST.search(rule), _MOST.search(rule)
    if least is None:
        return ""
    if most is None:
        return f"{least[2]} or more" if least[1] == ">=" else f"more than {least[2]}"
    if least[1] == ">=" and most[1] == "<=":
        return f"from {least[2]} to {most[2]}"
    end = f"up to {most[2]}" if most[1] == "<=" else f"less than {most[2]}"
    return f"{'more than ' if least[1] == '>' else ''}{least[2]}, {end}"


@lru_cache(maxsize=1)
def _bounds() -> dict[str, str]:
    """The bounds of every rule, by its name."""
    return {
        str(rule.name): say_bounds(str(rule.sqltext))
        for table in Base.metadata.tables.values()
        for rule in table.constraints
        if isinstance(rule, CheckConstraint) and rule.name
    }
