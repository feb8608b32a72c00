"""Finding over all shootouts, and the register of what was published."""

from __future__ import annotations

from itertools import count

from sqlalchemy import text

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.publish import editions, register, script
from true_margin.desk.room import search
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.store.database import Database

_NUMBERS = count(1)


def told(bench: Bench, words: str) -> list[tuple[str, str, str]]:
    """What is found in a shootout: kind, text and more."""
    found = search.find(bench.database, words, lambda _: True)
    return [(hit.kind, hit.text, hit.more) for hit in found if hit.slug == bench.slug]


def published(database: Database) -> tuple[Bench, str]:
    """A shootout with a machine of a name of its own, published once."""
    name = f"Quokka {next(_NUMBERS)}"
    bench = new_bench(database, f"About {name}")
    bench.machine(name, model="Marsupial")
    for typed in ("6:10", "6:10"):
        bench.run(name, typed, method="log")
    editions.publish_edition(database, bench.slug, None, "Marit")
    return bench, name


def test_all_words_are_looked_for_in_any_case_and_order(database: Database) -> None:
    bench, name = published(database)
    assert told(bench, name.upper()) == [
        ("machine", name, "Marsupial"),
        ("figure", f"{name}, Parade", "6:10"),
    ]
    assert told(bench, f"marsup {name.split()[1]}") == [("machine", name, "Marsupial")]
    assert told(bench, f"parade {name}") == [("figure", f"{name}, Parade", "6:10")]
    assert told(bench, "heddle parade")[0] == ("task", "Parade", "Heddle")
    assert told(bench, f"{name} nowhere") == []
    assert search.find(database, "   ", lambda _: True) == ()


def test_a_word_is_found_by_its_beginning_and_not_by_its_middle(database: Database) -> None:
    bench, name = published(database)
    assert told(bench, "quok")[0][1] == name
    assert told(bench, "uokka") == []
    assert ("figure", f"{name}, Parade", "6:10") in told(bench, "parade 6:10")
    assert told(bench, "parade 6.10") == []


def test_signs_of_a_pattern_are_only_signs(database: Database) -> None:
    bench, name = published(database)
    assert told(bench, "%") == told(bench, "_") == told(bench, "\\") == []
    assert told(bench, name.replace(" ", "%")) == []
    for signs in ("(", "[a", "a{9", "*", "^", "$", "(?i", "\\d", "é"):
        assert told(bench, signs) == []


def test_lines_of_scripts_are_found_one_by_one(database: Database) -> None:
    bench, name = published(database)
    line = f"The {name} took six minutes."
    said = f"Hello. {line} Bye now.\nNothing here."
    script.keep_script(database, bench.slug, said, script.show_script(database, bench.slug).version)
    assert ("line", line, "") in told(bench, f"{name} six")


def test_what_one_may_not_see_and_what_is_put_away_is_not_found(database: Database) -> None:
    bench, name = published(database)
    assert search.find(database, name, lambda _: False) == ()
    shootouts.archive_shootout(database, bench.slug, archived=True)
    assert told(bench, name) == []


def test_the_register_says_what_holds_no_more(database: Database) -> None:
    bench, name = published(database)
    (row,) = register.show_register(database, bench.slug)
    assert (row.label, row.task, row.shown, row.edition) == (name, "Parade", "6:10", 1)
    assert (row.now, row.holds, row.earlier) == ("6:10", True, ())
    book = SHELF.take(database, bench.slug)
    for run in book.runs:
        changes = {"status": "void", "reason": "wrong project"}
        runs.revise_run(database, run.id, run.version, changes, "wrong project", "Marit")
    for typed in ("7:00", "7:00"):
        bench.run(name, typed, method="log")
    (row,) = register.show_register(database, bench.slug)
    assert (row.shown, row.now, row.holds) == ("6:10", "7:00", False)
    editions.publish_edition(database, bench.slug, "Corrected", "Marit")
    (row,) = register.show_register(database, bench.slug)
    assert (row.shown, row.edition, row.holds) == ("7:00", 2, True)
    assert row.earlier == ("edition 1: 6:10",)
    # Both stand in the register for good.
    assert [more for kind, _, more in told(bench, name) if kind == "figure"] == ["7:00", "6:10"]


def test_editions_of_before_are_noted_when_somebody_looks(database: Database) -> None:
    bench, name = published(database)
    with database.transaction() as session:
        session.execute(
            text(
                "delete from edition_figures f using editions e, shootouts s "
                "where f.edition_id = e.id and e.shootout_id = s.id and s.slug = :slug"
            ),
            {"slug": bench.slug},
        )
    assert ("figure", f"{name}, Parade", "6:10") not in told(bench, name)
    register.note_missing(database)
    assert ("figure", f"{name}, Parade", "6:10") in told(bench, name)
    assert len(register.show_register(database, bench.slug)) == 1
