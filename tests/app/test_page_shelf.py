"""Public pages are answered from memory, and never after they have changed."""

from __future__ import annotations

import gzip
from collections.abc import Iterator
from unittest.mock import patch

import pytest
from fastapi.testclient import TestClient

from tests.desk.helpers import Bench, new_bench
from true_margin.app import page_shelf
from true_margin.app.main import make_app
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.publish import editions, public_page
from true_margin.store import editions as links
from true_margin.store.database import Database
from true_margin.store.page_changes import pages_changed


@pytest.fixture(scope="module")
def client(database: Database) -> Iterator[TestClient]:
    with TestClient(make_app(Database(database.url))) as found:
        yield found


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Kept pages")
    bench.run("A", "6:10")
    bench.run("B", "9:02")
    return bench


def _published(bench: Bench) -> str:
    return editions.publish_edition(bench.database, bench.slug, "", "Marit").links[0].token


def test_a_page_is_made_once_and_answered_from_memory(client: TestClient, bench: Bench) -> None:
    path = f"/p/{_published(bench)}/1/figures.html"
    first = client.get(path)
    with patch.object(public_page, "site_file", side_effect=AssertionError("made again")):
        second = client.get(path)
        head = client.head(path)
    assert second.content == first.content
    assert second.headers["etag"] == first.headers["etag"]
    assert second.headers["content-security-policy"] == first.headers["content-security-policy"]
    assert head.content == b""
    assert head.headers["content-length"] == second.headers["content-length"]


def test_who_has_a_page_already_is_told_so_and_each_form_has_its_own_tag(
    client: TestClient, bench: Bench
) -> None:
    path = f"/p/{_published(bench)}"
    packed = client.get(path, headers={"accept-encoding": "gzip"})
    plain = client.get(path, headers={"accept-encoding": "identity"})
    assert packed.content == plain.content
    assert packed.headers["content-encoding"] == "gzip"
    assert "content-encoding" not in plain.headers
    assert packed.headers["etag"] != plain.headers["etag"]
    assert int(packed.headers["content-length"]) < len(plain.content) // 3
    assert "Accept-Encoding" in packed.headers["vary"]
    assert "Accept-Language" in packed.headers["vary"]
    for answer, form in ((packed, "gzip"), (plain, "identity")):
        asked = {"accept-encoding": form, "if-none-match": f'"x", W/{answer.headers["etag"]}'}
        again = client.get(path, headers=asked)
        assert again.status_code == 304
        assert again.content == b""
        assert again.headers["etag"] == answer.headers["etag"]
    other = client.get(path, headers={"accept-encoding": "gzip", "if-none-match": '"other"'})
    assert other.status_code == 200


def test_the_same_page_has_the_same_bytes(client: TestClient, bench: Bench) -> None:
    made = page_shelf._Made()
    made.status, made._parts = 200, [b"<p>long</p>" * 200]
    made._headers["content-type"] = "text/html"
    one, two = made.kept("gzip"), made.kept("gzip")
    assert one.body == two.body
    assert gzip.decompress(one.body) == b"".join(made._parts)


def test_a_revoked_link_is_dark_at_once(client: TestClient, bench: Bench) -> None:
    view = editions.publish_edition(bench.database, bench.slug, "", "Marit")
    link = view.links[0]
    paths = [f"/p/{link.token}", f"/p/{link.token}/1", f"/p/{link.token}/1/site.css"]
    for path in paths:
        assert client.get(path).status_code == 200
    editions.revoke_link(bench.database, bench.slug, link.id)
    for path in paths:
        assert client.get(path).status_code == 404


def test_another_edition_shows_at_once(client: TestClient, bench: Bench) -> None:
    token = _published(bench)
    old = f"/p/{token}/1/runs.html"
    assert "see the newest" not in client.get(old).text
    front = client.get(f"/p/{token}").text
    bench.run("A", "6:11")
    _published(bench)
    assert "see the newest" in client.get(old).text
    assert client.get(f"/p/{token}").text != front


def test_a_change_by_another_process_is_heard(database: Database, bench: Bench) -> None:
    with TestClient(make_app(Database(database.url))) as client:
        shelf = _shelf(client)
        path = f"/p/{_published(bench)}"
        client.get(path)
        assert shelf._kept
        shelf._hear("pages")
        with patch.object(public_page, "public_page", side_effect=AssertionError("anew")) as made:
            with pytest.raises(AssertionError, match="anew"):
                client.get(path)
            assert made.call_count == 1


def test_what_was_made_while_something_changed_is_not_kept(
    database: Database, bench: Bench
) -> None:
    with TestClient(make_app(Database(database.url))) as client:
        shelf = _shelf(client)
        path = f"/p/{_published(bench)}"
        make = public_page.public_page

        def slowly(*args: object) -> str:
            html = make(*args)  # type: ignore[arg-type]
            shelf._hear("*")
            return html

        with patch.object(public_page, "public_page", slowly):
            assert client.get(path).status_code == 200
        assert not shelf._kept


def test_a_question_of_ones_own_and_a_wrong_address_are_not_kept(
    database: Database, bench: Bench
) -> None:
    with TestClient(make_app(Database(database.url))) as client:
        shelf = _shelf(client)
        token = _published(bench)
        assert client.get(f"/p/{token}?budget=900").status_code == 200
        assert client.get("/p/nothing-is-here").status_code == 404
        assert client.get(f"/p/{token}/1/../2").status_code == 404
        assert not shelf._kept


def test_no_more_is_kept_than_there_is_room_for(database: Database, bench: Bench) -> None:
    token = _published(bench)
    app = make_app(Database(database.url))
    with patch.object(page_shelf, "MOST_BYTES", 200_000), TestClient(app) as client:
        shelf = _shelf(client)
        for at in range(40):
            client.get(f"/p/{token}", headers={"accept-language": f"de;q=0.{at:02d}"})
        assert 0 < shelf._bytes <= 200_000
        assert shelf._bytes == sum(len(each.body) for each in shelf._kept.values())


def test_only_what_was_kept_counts_as_a_change(database: Database, bench: Bench) -> None:
    before = pages_changed()
    home = SHELF.take(database, bench.slug).shootout.id
    with database.transaction() as session:
        links.add_link(session, home, "never-kept")
        session.rollback()
    assert pages_changed() == before


def _shelf(client: TestClient) -> page_shelf.PageShelf:
    """The shelf inside an app that serves."""
    layer = client.app.middleware_stack  # type: ignore[attr-defined]
    while not isinstance(layer, page_shelf.PageShelf):
        layer = getattr(layer, "app", None) or layer._app
    return layer
