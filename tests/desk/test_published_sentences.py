"""Sentences that strangers read carry two numbers at most."""

from __future__ import annotations

import re

from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.publish.answer_pages import Answer, answer_for
from true_margin.desk.publish.owned_machines import kinds_of, owned_machines
from true_margin.desk.publish.page_data import page_data
from true_margin.store import records
from true_margin.store.database import Database

MOST = 2
_NUMBER = re.compile(r"\d+(?:[\u00a0\u202f,.:]\d+)*")
_END = re.compile(r"(?<=[.!?])\s+(?=[A-Z↻\d])")


def numbers_of(book: Book, sentence: str) -> list[str]:
    """Numbers in a sentence, those in names, rounds and the surety beside a word left out."""
    names = [
        *(setup.label for setup in book.setups),
        *(machine.name for machine in book.machines),
        *(task.name for task in book.tasks),
        *(viewer.name for viewer in book.viewers),
    ]
    for name in sorted(names, key=len, reverse=True):
        sentence = sentence.replace(name, "X")
    sentence = re.sub(r"equal mix of \d+", "the mix", sentence)
    return _NUMBER.findall(sentence)


def answer_lines(answer: Answer) -> tuple[str, ...]:
    """Every sentence of an answer page but the list of what is assumed."""
    return (*answer.why, *answer.worth, answer.short, *answer.changes, *answer.waits)


def test_no_published_sentence_has_more_than_two_numbers(
    database: Database, demo: records.Shootout
) -> None:
    book = SHELF.take(database, demo.slug)
    page = page_data(book)
    said = [
        *(part for ladder in page.ladders for part in (ladder.headline, ladder.detail)),
        *(ladder.worth for ladder in page.ladders),
        *(part for each in page.answers for part in (each.order, each.reason, each.surety)),
        *(line for each in page.answers for line in each.beside),
        *page.picks,
        *page.findings,
        *(
            line
            for owned in owned_machines(book)
            for key, viewer in kinds_of(book)
            for line in answer_lines(answer_for(book, owned, key, viewer))
        ),
    ]
    sentences = [each for text in said for each in _END.split(text) if each]
    assert len(sentences) > 40
    many = {each: found for each in sentences if len(found := numbers_of(book, each)) > MOST}
    assert many == {}


def test_numbers_are_counted_as_a_reader_counts_them(
    database: Database, demo: records.Shootout
) -> None:
    book = SHELF.take(database, demo.slug)
    assert numbers_of(book, "Ferrous T9 stock takes 1\u00a0500 EUR and 3:56.") == [
        "1\u00a0500",
        "3:56",
    ]
    assert numbers_of(book, "It is 6.9 % faster.") == ["6.9"]
