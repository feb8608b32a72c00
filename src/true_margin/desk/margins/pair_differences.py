"""What differed between two setups besides speed: allowed, confounding, breaking."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from true_margin.core.parity import Condition, Weight
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.words.pairs import Names, cannot_compare, job_differs
from true_margin.store import records


@dataclass(frozen=True, slots=True)
class ParityLine:
    """One condition that differs; ``weight`` says whether it is allowed, confounds or breaks.

    ``tasks`` names where it differs, on a mix; ``overrule`` is a person's word on a break,
    ``judgement`` the one that says so itself.
    """

    condition: str
    here: str
    there: str
    weight: str
    why: str
    tasks: tuple[str, ...]
    overrule: records.Overrule | None
    judgement: records.Judgement | None


def parity_lines(book: Book, task: int | None, a: int, b: int) -> tuple[ParityLine, ...]:
    """Say what differed between two setups besides speed, on a task or over the mix."""
    tasks = _mix_tasks(book) if task is None else [task]
    found: dict[tuple[str, str, str, str, str], list[int]] = {}
    for t in tasks:
        for d in parity_of(book).between(t, a, b):
            key = (d.condition.value, d.here, d.there, d.weight.value, d.why)
            found.setdefault(key, []).append(t)
    return tuple(_line(book, key, on, len(tasks), (a, b)) for key, on in found.items())


def _mix_tasks(book: Book) -> list[int]:
    return [int(t) for t in np.flatnonzero(analysis_of(book).study.mix)]


def _line(
    book: Book, key: tuple[str, str, str, str, str], on: list[int], of: int, pair: tuple[int, int]
) -> ParityLine:
    breaks = key[3] == Weight.BREAKS
    words = (parity_of(book).overruled.get((t, frozenset(pair))) for t in on)
    overrule = next((word for word in words if word is not None), None) if breaks else None
    tasks = () if len(on) == of else tuple(book.tasks[t].name for t in on)
    said = key[0] == Condition.WORK
    judgement = parity_of(book).judged(on[0], *pair) if said else None
    return ParityLine(*key, tasks, overrule, judgement)


def why_apart(names: Names, lines: tuple[ParityLine, ...], *, unmeasured: bool) -> str:
    """Why there is no figure for two setups, by what differs between them."""
    breaking = [line for line in lines if line.weight == Weight.BREAKS]
    broken = dict.fromkeys(line.condition for line in breaking if line.overrule is None)
    why = [line.why for line in breaking if line.judgement is not None]
    apart = tuple(_job(breaking, list(broken)))
    return cannot_compare(names, unmeasured=unmeasured, broken=bool(broken), why=why, apart=apart)


def _job(breaking: list[ParityLine], broken: list[str]) -> Iterator[str]:
    """What differs in the job, each once."""
    for condition in broken:
        if condition == Condition.WORK:
            continue
        line = next(each for each in breaking if each.condition == condition)
        # Of an edit there is only its mark, which tells a reader nothing.
        told = condition != Condition.TIMELINE
        yield job_differs(condition, (line.here, line.there) if told else None)
