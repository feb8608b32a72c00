"""Editions: frozen, numbered, revocable, and silent about what is nobody's business."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Iterator

import pytest
from sqlalchemy import text

from tests.desk.helpers import Bench, new_bench
from tests.exchange.test_pack_public import planted
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.lineup import lineup
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards, editions, public_page, script
from true_margin.desk.publish.web_folder import page_paths
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import Pack, read_pack, read_zip
from true_margin.store.database import Database

SECRETS = (
    "SECRET-SCRIPT",
    "SECRET-NOTE",
    "SECRET-RETIRED",
    "SECRET-ARCHIVED",
    "SECRET-PERSON",
    "SECRET-CARD",
    "SECRET-OTHER",
    "SECRET-PRICE",
    "SECRET-REASON",
    "SECRET-SPEC",
)


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Public comparison")
    for typed in ("6:10", "6:12", "6:11"):
        bench.run("A", typed)
    for typed in ("9:02", "9:04", "9:03"):
        bench.run("B", typed)
    return bench


def publish(bench: Bench, note: str | None = None) -> editions.PublicView:
    return editions.publish_edition(bench.database, bench.slug, note, "SECRET-PERSON")


def token(view: editions.PublicView) -> str:
    return next(link.token for link in view.links if link.revoked_at is None)


def site_paths(database: Database, secret: str, number: int) -> list[str]:
    """Every page of an edition, and the picture beside its link."""
    book = editions.read_edition(database, secret, number).book
    return [*page_paths(book), "og/index.png"]


def everything(database: Database, secret: str, number: int) -> Iterator[str]:
    """Every text that a stranger can get at an edition's address."""
    page = public_page.public_page(database, secret, number, {"work0": "30", "budget": "9000"})
    yield page
    for path in site_paths(database, secret, number):
        yield public_page.site_file(database, secret, number, path).content.decode(errors="replace")
    for name in re.findall(rf"/p/{secret}/{number}/files/([^\"]+)", page):
        content = public_page.public_file(database, secret, number, name).content
        if name.endswith((".zip", ".xlsx")):
            with zipfile.ZipFile(io.BytesIO(content)) as archive:
                for inner in archive.namelist():
                    yield inner
                    yield archive.read(inner).decode(errors="replace")
        else:
            yield content.decode(errors="replace")


def with_secrets(bench: Bench) -> None:
    """Everything in a shootout that must not get out."""
    database, slug = bench.database, bench.slug
    new = new_bench(database, "SECRET-OTHER shootout")
    new.run("A", "1:00")
    script.keep_script(database, slug, "SECRET-SCRIPT: A is twice as fast as B.", 0)
    stored = bench.run("A", "6:13", note="private: SECRET-NOTE").run
    runs.revise_run(
        database,
        stored.id,
        1,
        {"note": "Private SECRET-NOTE"},
        "SECRET-PERSON",
        "private SECRET-REASON",
    )
    viewer = viewers.add_viewer(database, slug, {"name": "SECRET-RETIRED"}, None)
    cards.add_card(database, slug, {"kind": "pick", "viewer_id": viewer.id, "title": "SECRET-CARD"})
    viewers.retire_viewer(database, viewer.id, retired=True)
    gone = cards.add_card(
        database, slug, {"kind": "bar", "task_id": bench.tasks["Parade"], "title": "SECRET-CARD"}
    )
    cards.retire_card(database, slug, gone.card.id, gone.card.version, retired=True)
    machine = bench.machine("SECRET-ARCHIVED")
    bench.run("SECRET-ARCHIVED", "5:00")
    lineup.archive_machine(database, machine.id, archived=True)


def test_nothing_that_is_nobodys_business_gets_out(bench: Bench) -> None:
    with_secrets(bench)
    bench.machine("C", specs={"note": "private: SECRET-SPEC"})
    bench.run("C", "7:00")
    view = publish(bench)
    seen = list(everything(bench.database, token(view), 1))
    assert len(seen) > 30
    for words in seen:
        for secret in SECRETS:
            assert secret not in words
        assert bench.slug not in words or "public-comparison" in bench.slug
    assert any("B" in words for words in seen)


def test_an_edition_stays_as_it_was(bench: Bench) -> None:
    first = publish(bench, "The first.")
    page = public_page.public_page(bench.database, token(first), 1, {})
    for _ in range(3):
        bench.run("B", "5:00")
    assert public_page.public_page(bench.database, token(first), 1, {}) == page
    (edition,) = first.editions
    with pytest.raises(RefusedError, match="never changed"):
        lineup.add_machine(bench.database, edition.frozen_slug, {"name": "Later"})
    with bench.database.transaction() as session, pytest.raises(Exception, match="never changed"):
        session.execute(
            text("update shootouts set name = 'other' where id = :id"), {"id": edition.frozen_id}
        )
    assert edition.frozen_slug not in {
        each.slug for each in shootouts.list_shootouts(bench.database, archived=False)
    }


def test_a_later_edition_says_what_changed(bench: Bench) -> None:
    publish(bench)
    for typed in ("4:10", "14:10", "5:00"):
        bench.run("B", typed)
    machine = lineup.add_machine(bench.database, bench.slug, {"name": "C"})
    waiting = editions.show_public(bench.database, bench.slug).waiting
    assert "New: C." in waiting
    assert "3 runs more." in waiting
    view = publish(bench, "A correction.")
    newest = view.editions[0]
    assert newest.number == 2
    assert "3 runs more." in newest.changes
    assert any(
        line.startswith("Parade: A against B was clear for A, now") for line in newest.changes
    )
    assert view.waiting == ()
    page = public_page.public_page(bench.database, token(view), None, {})
    assert "Changed since edition 1" in page
    assert "A correction." in page
    assert machine.name == "C"
    older = public_page.public_page(bench.database, token(view), 1, {})
    assert "see the newest</a>" in older


def test_a_corrected_run_and_a_price_are_told(bench: Bench) -> None:
    stored = bench.run("A", "6:14").run
    publish(bench)
    runs.revise_run(bench.database, stored.id, 1, {"status": "void", "reason": "wrong"}, "Jo", "x")
    waiting = editions.show_public(bench.database, bench.slug).waiting
    assert "1 run corrected or withdrawn." in waiting


def test_a_revoked_link_leads_nowhere(bench: Bench) -> None:
    view = publish(bench)
    (link,) = view.links
    editions.revoke_link(bench.database, bench.slug, link.id)
    with pytest.raises(NotFoundError, match="nothing at this address"):
        public_page.public_page(bench.database, link.token, None, {})
    with pytest.raises(NotFoundError, match="nothing at this address"):
        public_page.public_file(bench.database, link.token, 1, "results.csv")
    again = editions.make_link(bench.database, bench.slug)
    assert token(again) != link.token
    assert public_page.public_page(bench.database, token(again), 1, {})


def test_a_link_of_another_shootout_cannot_be_revoked_here(bench: Bench) -> None:
    view = publish(bench)
    other = new_bench(bench.database, "Other")
    with pytest.raises(NotFoundError):
        editions.revoke_link(bench.database, other.slug, view.links[0].id)
    with pytest.raises(RefusedError, match="Publish an edition first"):
        editions.make_link(bench.database, other.slug)
    with pytest.raises(RefusedError, match="an edition needs a run"):
        editions.publish_edition(bench.database, other.slug, None, "x")


@pytest.mark.parametrize("number", [0, 2, 999])
def test_an_edition_that_is_not_there(bench: Bench, number: int) -> None:
    view = publish(bench)
    with pytest.raises(NotFoundError, match="nothing at this address"):
        public_page.public_page(bench.database, token(view), number, {})


@pytest.mark.parametrize("name", ["", "../x", "report.pdf", "results.exe", "card-x-wide-day.png"])
def test_a_file_that_is_not_there(bench: Bench, name: str) -> None:
    view = publish(bench)
    with pytest.raises(NotFoundError, match="nothing at this address"):
        public_page.public_file(bench.database, token(view), 1, name)


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"work0": "abc"}, "type a number, like 60"),
        ({"work0": "-3"}, "type a number, like 60"),
        ({"work0": "1e30"}, "type a number, like 60"),
        ({"work0": "NaN"}, "type a number, like 60"),
        ({"budget": "500"}, "Say how much of some work"),
        ({"work0": "30", "owned": "somebody"}, "Choose your machine from the list"),
        ({"work0": "30", "rule": "<b>"}, "by one of the listed rules"),
        ({"work0": "30", "budget": "1<script>"}, "type a number, like 60"),
    ],
)
def test_a_form_that_is_off_says_what(bench: Bench, asked: dict[str, str], says: str) -> None:
    page = public_page.public_page(bench.database, token(publish(bench)), None, asked)
    assert says in page
    assert "<script>" not in page.replace('<script type="application/ld+json">', "")


def test_a_stranger_gets_an_answer_for_their_own_work(bench: Bench) -> None:
    for name, amount in (("A", "900"), ("B", "500")):
        machine = next(m for m in SHELF.take(bench.database, bench.slug).machines if m.name == name)
        lineup.add_price(
            bench.database,
            machine.id,
            {
                "kind": "list",
                "amount": amount,
                "currency": "EUR",
                "dated": shootouts.get_shootout(bench.database, bench.slug).price_date,
            },
        )
    page = public_page.public_page(
        bench.database, token(publish(bench)), None, {"work0": "60", "budget": "1000", "owned": "B"}
    )
    assert re.search(r"Buy A, 900\sEUR\. Nothing under", page)


def test_a_machine_may_be_called_private(bench: Bench) -> None:
    for name in ("Private tower", "Private laptop"):
        bench.machine(name)
        bench.run(name, "7:00")
    viewers.add_viewer(
        bench.database,
        bench.slug,
        {"name": "Private person", "owned_setup_id": bench.setups["Private tower"]},
        None,
    )
    page = public_page.public_page(bench.database, token(publish(bench)), None, {})
    for name in ("Private tower", "Private laptop", "Private person"):
        assert name in page


def test_what_is_tied_to_an_archived_machine_is_published_without_it(bench: Bench) -> None:
    gone = bench.machine("SECRET-ARCHIVED")
    bench.run("SECRET-ARCHIVED", "5:00")
    viewer = viewers.add_viewer(
        bench.database,
        bench.slug,
        {"name": "Owner", "owned_setup_id": bench.setups["SECRET-ARCHIVED"]},
        None,
    )
    cards.add_card(bench.database, bench.slug, {"kind": "pick", "viewer_id": viewer.id})
    said = bench.machine("Said")
    lineup.change_setup(
        bench.database,
        said.setups[0].id,
        1,
        {
            "assumed_ratio": 1.2,
            "assumed_against_id": bench.setups["SECRET-ARCHIVED"],
            "assumed_source": "maker's talk",
        },
    )
    lineup.archive_machine(bench.database, gone.id, archived=True)
    for words in everything(bench.database, token(publish(bench)), 1):
        assert "SECRET-ARCHIVED" not in words


def test_the_pack_of_an_edition_is_a_pack(bench: Bench) -> None:
    with_secrets(bench)
    file = public_page.public_file(bench.database, token(publish(bench)), 1, "pack.zip")
    pack = read_pack(read_zip(file.content))
    assert {machine.name for machine in pack.machines} == {"A", "B"}
    assert {run.who for run in pack.runs} == {"the crew"}
    assert pack.scripts == []


def test_an_edition_is_read_from_a_replica_and_without_it_from_the_original(
    bench: Bench, empty: Database
) -> None:
    """A replica that has not heard of an edition yet does not hide it."""
    view = editions.publish_edition(bench.database, bench.slug, None, "Marit")
    token, empty_url = view.links[0].token, empty.url
    empty.migrate()
    behind = Database(bench.database.url, empty_url)
    found = editions.read_edition(behind, token, 1)
    assert found.book.shootout.name == SHELF.take(bench.database, bench.slug).shootout.name
    behind.close()
    same = Database(bench.database.url, bench.database.url)
    same.engine.dispose()
    assert same.reader is not same
    assert editions.read_edition(same, token, 1).edition.number == 1
    same.close()


def test_nothing_that_was_planted_in_a_pack_gets_out(database: Database, demo_pack: Pack) -> None:
    """Through all the ways in which an edition is given out, not only the pack itself."""
    secret = planted(demo_pack)
    cells = {
        table: [
            row.model_copy(update={"value": was.value, "unit": was.unit})
            for row, was in zip(getattr(secret, table), getattr(demo_pack, table), strict=True)
        ]
        for table in ("specs", "setup_specs")
    }
    # What is read again when it comes in stays as it was.
    runs_ = [
        row.model_copy(update={"typed": was.typed, "conditions": was.conditions})
        for row, was in zip(secret.runs, demo_pack.runs, strict=True)
    ]
    asked = {
        table: getattr(demo_pack, table)
        for table in ("settings_used", "task_settings", "viewer_needs", "tasks")
    }
    shootout = import_pack(
        database, secret.model_copy(update={**cells, **asked, "runs": runs_, "pictures": []})
    )
    view = editions.publish_edition(database, shootout.slug, None, "SECRET-PERSON")
    seen = list(everything(database, token(view), 1))
    assert len(seen) > 30
    for words in seen:
        assert "SECRET" not in words
