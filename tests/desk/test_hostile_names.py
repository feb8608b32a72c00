"""Names that would be programs elsewhere: every format that leaves the house holds them as text."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from collections.abc import Iterator
from html.parser import HTMLParser
from xml.etree import ElementTree

import pytest
from openpyxl import load_workbook

from tests.desk.helpers import Bench, new_bench
from tests.desk.test_editions import token
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards, editions, give_timeline, public_page, reports
from true_margin.desk.publish.give_tables import table_of
from true_margin.desk.publish.web_folder import page_paths
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.tables import TableFormat, write_table
from true_margin.store.database import Database

NAMES = (
    '<img src=x onerror="alert(1)">',
    "[x](javascript:alert(1)) ![y](http://127.0.0.1/z)",
    '=HYPERLINK("http://127.0.0.1/","x")',
    "'\"></title></style></svg><script>alert(1)</script>",
    "00:01.000 --> 00:02.000",
    "+1+1 | `x` \\| *y* _z_",
    "@SUM(A1) ]]> &lt;b&gt; {{7*7}} ${7*7}",
)


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    bench = new_bench(database, f"Hostile {NAMES[0]}")
    for place, name in enumerate(NAMES):
        bench.machine(name)
        for second in range(3):
            bench.run(name, f"{5 + place}:1{second}", note=name)
        machine = lineup.add_machine(database, bench.slug, {"name": f"{name} two"})
        lineup.archive_machine(database, machine.id, archived=True)
    viewer = viewers.add_viewer(database, bench.slug, {"name": NAMES[3]}, None)
    task = bench.tasks["Parade"]
    for about in ({"kind": "bar", "task_id": task}, {"kind": "pick", "viewer_id": viewer.id}):
        cards.add_card(database, bench.slug, {**about, "title": NAMES[1], "source": NAMES[4]})
    return bench


class Tags(HTMLParser):
    """Collects what a browser would make of a page."""

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.found: list[tuple[str, dict[str, str | None]]] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.found.append((tag, dict(attrs)))


def harmless_html(text: str) -> None:
    """No script, no handler, nothing fetched from elsewhere, no address that is a program."""
    tags = Tags()
    tags.feed(text)
    for data in re.findall(r'<script type="application/ld\+json">(.*?)</script>', text, re.DOTALL):
        json.loads(data)
    assert len(tags.found) > 3
    for tag, attributes in tags.found:
        if tag == "script":
            # Data about the page, which no browser runs.
            assert attributes == {"type": "application/ld+json"}
        assert tag not in ("iframe", "object", "embed", "base")
        for name, value in attributes.items():
            assert not name.startswith("on"), (tag, name)
            if name in ("href", "src", "action", "xlink:href"):
                assert re.match(r"(#|/|data:image/|data:font/|https?://127|$)", value or ""), value
                assert "127.0.0.1/z" not in (value or "")


def harmless_svg(text: str) -> None:
    # It is our own picture: what is doubted is what stands in it.
    for element in ElementTree.fromstring(text).iter():  # noqa: S314
        assert element.tag.rpartition("}")[2] not in ("script", "foreignObject", "image", "a")
        assert not any(name.startswith("on") or "href" in name for name in element.attrib)


def harmless_markdown(text: str) -> None:
    """Every sign by which Markdown begins a link, a picture or HTML stands behind a backslash."""
    plain = re.sub(r"\\.", "", text)
    assert not re.search(r"[<\[`]", plain)


def harmless_csv(text: str) -> None:
    rows = list(csv.reader(io.StringIO(text)))
    assert rows
    assert not [cell for row in rows for cell in row if re.match(r"[=+@\t\r]|-(?![\d.])", cell)]


def harmless_sheet(content: bytes) -> None:
    cells = [c for row in load_workbook(io.BytesIO(content)).worksheets[0].iter_rows() for c in row]
    assert len(cells) > 10
    assert not [cell.value for cell in cells if cell.data_type == "f" or cell.hyperlink]


@pytest.mark.parametrize("name", ["results", "specs", "prices"])
def test_tables(bench: Bench, name: str) -> None:
    table = table_of(SHELF.take(bench.database, bench.slug), name)
    if not table.rows:
        pytest.skip("nothing in it")
    text = {kind: write_table(table, kind) for kind in TableFormat}
    harmless_csv(text[TableFormat.CSV].decode())
    harmless_sheet(text[TableFormat.XLSX])
    harmless_markdown(text[TableFormat.MARKDOWN].decode())
    harmless_html(text[TableFormat.HTML].decode())


def test_the_report_and_the_public_page(bench: Bench) -> None:
    book = SHELF.take(bench.database, bench.slug)
    for page in reports.report_pages(bench.database, book):
        harmless_html(page)
    secret = token(editions.publish_edition(bench.database, bench.slug, NAMES[0], NAMES[3]))
    page = public_page.public_page(
        bench.database, secret, 1, {"work0": NAMES[0], "owned": NAMES[1]}
    )
    harmless_html(page)
    assert "&lt;img src=x" in page
    paths = page_paths(editions.read_edition(bench.database, secret, 1).book)
    assert all(re.fullmatch(r"[a-z0-9./-]+", path) and ".." not in path for path in paths)
    for path in paths:
        found = public_page.site_file(bench.database, secret, 1, path).content.decode()
        if path.endswith(".html"):
            harmless_html(found)
        else:
            ElementTree.fromstring(found)  # noqa: S314 - our own


def test_the_files_of_an_edition(bench: Bench) -> None:
    secret = token(editions.publish_edition(bench.database, bench.slug, None, NAMES[3]))
    page = public_page.public_page(bench.database, secret, 1, {})
    names = set(re.findall(rf"/p/{secret}/1/files/([^\"]+)", page))
    assert len(names) > 10
    for name in names:
        content = public_page.public_file(bench.database, secret, 1, name).content
        held = {
            "csv": harmless_csv,
            "html": harmless_html,
            "md": harmless_markdown,
            "svg": harmless_svg,
        }
        kind = name.rpartition(".")[2]
        if kind == "xlsx":
            harmless_sheet(content)
        elif kind in held:
            held[kind](content.decode())


def members(content: bytes) -> Iterator[tuple[str, bytes]]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        for name in archive.namelist():
            assert re.fullmatch(r"[\w.-]+(/[\w.-]+)*", name), name
            yield name, archive.read(name)


def test_cards_on_a_timeline(bench: Bench) -> None:
    content = give_timeline.give_timeline(
        bench.database, bench.slug, Shape.WIDE, LookName.NIGHT, 25.0
    )
    found = dict(members(content))
    assert any(name.endswith(".otio") for name in found)
    for name, inside in found.items():
        if name.endswith(".svg"):
            harmless_svg(inside.decode())
        if name.endswith(".otio"):
            assert json.loads(inside)["OTIO_SCHEMA"].startswith("Timeline")
        if name.endswith(".vtt"):
            arrows = [line for line in inside.decode().splitlines() if "-->" in line]
            assert all(re.fullmatch(r"[\d:.]+ --> [\d:.]+", line) for line in arrows)
            assert "<" not in inside.decode()
