"""What stored values are called on a screen, in a table, on a card and on a page.

The values themselves (``level``, ``open``, ``void``) are stored, given out in packs and part of
the API, and never change; a person reads the words of this table. The one source of the web's
labels as well (``make types``).
"""

from __future__ import annotations

from collections.abc import Mapping

from true_margin.core.margins import Call

RESULT: Mapping[str, str] = {
    Call.CLEAR: "clear",
    Call.AHEAD: "ahead",
    Call.LEVEL: "same speed",
    Call.OPEN: "undecided",
    Call.NOT_COMPARABLE: "not comparable",
    "baseline": "baseline",
    "bound": "not timed: a bound",
    "noted": "not timed: noted",
}
"""What two setups, compared, come out as."""

VERDICT: Mapping[str, str] = {
    "holds": "holds",
    "likely": "likely",
    "understated": "understated",
    "overstated": "overstated",
    "within noise": "no clear difference",
    "backwards": "wrong way round",
    "untested": "not tested",
    "asked": "which one?",
    "unread": "not understood",
    "not the same": "not the same",
}
"""What a sentence of a script comes out as."""

RUN_STATUS: Mapping[str, str] = {"ok": "counted", "void": "not counted", "failed": "failed"}
"""Whether a run counts."""

RUN_FLAG: Mapping[str, str] = {
    "odd one": "odd",
    "first differs": "first differs",
    "drifting": "drifting",
    "bound contradicts": "bound contradicts",
    "coarse": "rough timing",
    "slowed down": "slowed down",
    "wrong output": "wrong output",
}
"""Why a run is marked."""

METHOD: Mapping[str, str] = {
    "stopwatch": "by stopwatch",
    "one press": "by stopwatch, one press",
    "log": "from the log",
    "watch": "by its watcher",
    "recording": "from a recording",
    "remembered": "from memory",
    "stated": "as the app states it",
}
"""How a run was timed."""

PARITY_WEIGHT: Mapping[str, str] = {
    "breaks": "not comparable",
    "muddies": "caveat",
    "allowed": "expected",
}
"""What a difference between two setups does to their comparison."""

TABLES: Mapping[str, Mapping[str, str]] = {
    "RESULT": RESULT,
    "VERDICT": VERDICT,
    "RUN_STATUS": RUN_STATUS,
    "RUN_FLAG": RUN_FLAG,
    "METHOD": METHOD,
    "PARITY_WEIGHT": PARITY_WEIGHT,
}
"""Every table by its name, for the web."""


def label_of(table: Mapping[str, str], value: str) -> str:
    """What a stored value is called; a value without a label is its own.

    Example:
        >>> label_of(RESULT, "level"), label_of(RESULT, "clear")
        ('same speed', 'clear')
    """
    return table.get(value, value)


FIELD: Mapping[str, str] = {
    "typed": "time or amount",
    "u": "timing uncertainty",
    "hour_value": "worth of an hour",
    "attended": "share of waiting that is lost time",
    "weeks": "working weeks a year",
    "horizon_years": "years it is kept",
    "resale": "resale value",
    "tax_percent": "tax in per cent",
    "assumed_ratio": "claimed speed",
    "materiality": "smallest difference that counts",
    "planned_runs": "planned number of runs",
    "accepted_s": "accepted time",
    "elapsed_s": "time of the mark",
    "elapsed": "time of the mark",
    "fraction": "part that is done",
    "reached": "part that was reached",
    "dated": "date",
    "unit_prior": "difference between samples",
    "unit_prior_cv": "difference between samples",
    "prior": "assumed spread",
    "who": "name",
}
"""What fields are called in a sentence, where their name does not say it."""


def field_label(name: str) -> str:
    """What a field is called in a sentence.

    Example:
        >>> field_label("typed"), field_label("hour_value"), field_label("app_version")
        ('time or amount', 'worth of an hour', 'app version')
    """
    last = name.rsplit(".", 1)[-1]
    return FIELD.get(last, last.replace("_", " ")).strip() or name
