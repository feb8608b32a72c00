"""Sentences of the script about heat, noise and power, held against marks of runs."""

from __future__ import annotations

from collections.abc import Callable

from true_margin.core.claims.check import Around, Checked
from true_margin.core.claims.meter_judge import Metered, judge_meter
from true_margin.core.claims.meters import read_meter
from true_margin.core.claims.names import Names
from true_margin.desk.book.book import Book
from true_margin.desk.book.derived import derived
from true_margin.store import records

Key = tuple[int, int]


def check_meter(book: Book, text: str, names: Names, around: Around) -> Checked | None:
    """Judge a sentence about heat, noise or power; None where it is none.

    Args:
        book: whose marks are asked.
        text: the sentence.
        names: what may be named.
        around: what stands beside it.
    """
    claim = read_meter(text, names, around)
    if claim is None:
        return None
    setups = [setup.label for setup in book.setups]
    return judge_meter(claim, _metered(book), setups, [task.name for task in book.tasks])


@derived
def _metered(book: Book) -> Metered:
    """What marks of counted runs say, by setup and task."""
    values: dict[Key, list[records.Mark]] = {}
    for mark in book.marks:
        run = book.runs[book.place_of[mark.run_id]]
        task = book.task_index.get(run.task_id)
        setup = book.setup_index.get(run.setup_id)
        if run.status == "ok" and task is not None and setup is not None:
            values.setdefault((setup, task), []).append(mark)

    def gather(
        of: Callable[[records.Mark], float | None], join: Callable[[list[float]], float]
    ) -> dict[Key, float]:
        known = {key: [v for v in map(of, marks) if v is not None] for key, marks in values.items()}
        return {key: join(own) for key, own in known.items() if own}

    return Metered(
        heat=gather(lambda mark: mark.temperature_c, max),
        noise=gather(lambda mark: mark.noise_db, max),
        power=gather(lambda mark: mark.power_w, lambda own: sum(own) / len(own)),
    )
