"""The figures that a page shows, by which what was published is known again."""

from __future__ import annotations

from true_margin.desk.book.book import Book
from true_margin.desk.margins.margins import ladder_of
from true_margin.desk.publish.page_bars import write_value


def shown_figures(book: Book) -> dict[tuple[str, str], str]:
    """What the page shows of each setup on each task, by the names of both."""
    found = {}
    for task in book.tasks:
        view = ladder_of(book, str(task.id))
        for row in view.rows:
            if row.typical is not None:
                found[task.name, row.label] = write_value(view, row.typical)
    return found
