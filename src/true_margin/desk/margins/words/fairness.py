"""Sentences of Fairness: the verdict, its caveats, and how much is known of the job."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from true_margin.core.wording import count_of, listed

NOT_NOTED = "not noted"
DIFFERS = "differs"
AS_SAVED = "as saved"
AS_LISTED = "as listed"
AS_NOTED = "as noted"
LONGEST = 18
"""Characters of a value that fits a cell; a longer one is read by pointing at it."""
_PARTS = {"timeline": "The edit", "settings": "The export settings", "output": "What came out"}


def say_known(part: str, proved: int, looked_at: int, differs: int, unknown: int) -> str:
    """How the sameness of one part of the job is known, in how many jobs each."""
    total = proved + looked_at + unknown + differs
    parts = (
        (proved, "the same by file or note"),
        (looked_at, "looked at by a person"),
        (differs, "not the same"),
        (unknown, "not known"),
    )
    told = ", ".join(f"{words} in {number}" for number, words in parts if number)
    return f"{_PARTS[part]}, of {count_of(total, 'job')} done: {told}."


def name_parts(value: Mapping[str, str]) -> str:
    """A condition of several parts.

    Example:
        >>> name_parts({"Room": "cool", "Fan": "fast"})
        'room cool, fan fast'
    """
    return ", ".join(f"{part.lower()} {word}" for part, word in value.items())


def say_verdict(caveats: int, broken: int, *, unknown: bool) -> str:
    """Whether the test was fair.

    Args:
        caveats: conditions that could affect the times.
        broken: pairs that did not do the same job.
        unknown: whether something about the job is not known.
    """
    with_caveats = f", with {count_of(caveats, 'caveat')}" if caveats else ""
    if broken:
        return f"{count_of(broken, 'pair')} not comparable{with_caveats}."
    return f"Fair as far as noted{with_caveats}." if unknown else f"Fair{with_caveats}."


def fit_cell(words: str | None) -> str:
    """A value as it fits a cell; one of several parts is listed elsewhere."""
    if words is None:
        return AS_LISTED
    return words if len(words) <= LONGEST else AS_NOTED


def known_on(known: int, tasks: int) -> str:
    """On how many tasks something is known that is not known on all."""
    return f"known on {known} of {count_of(tasks, 'task')}" if known else NOT_NOTED


def say_caveat(
    condition: str, sides: Mapping[str, Sequence[str]], usual: str, baseline: str
) -> str:
    """A condition that could affect the times.

    Args:
        condition: its name.
        sides: setups that have each value.
        usual: the baseline's value.
        baseline: its name.
    """
    title = f"{condition[0].upper()}{condition[1:]}"
    told = [f"{there} on {listed(labels)}" for there, labels in sides.items() if there]
    if not told:
        return f"{title}: {usual}."
    return f"{title}: {'; '.join(told)}, against {usual} on {baseline}."
