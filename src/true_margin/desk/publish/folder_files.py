"""The web folder of a shootout: every file of its newest edition, and the older editions in it.

Written in place: a file whose bytes are the same is left alone, an older edition that is there
stays as it is, and of what was written before only what has gone is removed.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from pathlib import Path, PurePosixPath

from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.publish.frozen import frozen_book
from true_margin.desk.publish.public_page import edition_file
from true_margin.desk.publish.web_folder import (
    FIXED,
    EditionFacts,
    Place,
    file_names,
    make_page,
    make_preview,
    page_paths,
    shared_file,
    whole_data,
)
from true_margin.exchange.data_pack import zip_files
from true_margin.store import editions
from true_margin.store.database import Database
from true_margin.store.editions import Edition

LIST = "true-margin-files.txt"
"""Names every file that was written, so that nothing else is ever removed."""
READ_BY_ALL, ENTERED_BY_ALL = 0o644, 0o755
Step = Callable[[str, float], None]


@dataclass(frozen=True, slots=True)
class Written:
    """What writing a folder came to: files that are new or changed, left alone, and removed."""

    changed: int
    same: int
    removed: int


@dataclass(frozen=True, slots=True)
class Asked:
    """What a person chose: the address of the folder on the web, and whether it may be listed."""

    address: str = ""
    listed: bool = False


def check_address(address: str) -> str:
    """An address of a folder as the pages carry it, ending in a stroke; empty for none.

    Raises:
        RefusedError: it is no address of a page on the web.
    """
    plain = address.strip()
    if not plain:
        return ""
    if not plain.startswith(("https://", "http://")) or any(sign in plain for sign in " \"'<>?#"):
        raise RefusedError("address", "Type an address such as https://example.org/films/.")
    return plain if plain.endswith("/") else f"{plain}/"


def folder_files(
    database: Database,
    slug: str,
    asked: Asked = Asked(),
    *,
    there: Callable[[str], bool] = lambda _path: False,
    step: Step = lambda _words, _part: None,
) -> Iterator[tuple[str, bytes]]:
    """Every file of the folder with its bytes, by its path.

    Args:
        database: where.
        slug: of the shootout.
        asked: what a person chose.
        there: says whether an older edition's front page is there already; then it is left out.
        step: is told what is being done, and how much of it is done, from 0 to 1.

    Raises:
        RefusedError: nothing was published yet.
    """
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        every = tuple(editions.list_editions(session, home))
    if not every:
        raise RefusedError("edition", "Publish an edition first: a folder shows what was frozen.")
    whole = replace(asked, address=check_address(asked.address))
    older = [each for each in every[1:] if not there(f"edition-{each.number}/index.html")]
    for at, edition in enumerate((every[0], *older)):
        part, share = at / (1 + len(older)), 1 / (1 + len(older))
        book = frozen_book(database, edition)
        with writing(PLAIN):
            files = _edition(database, book, EditionFacts(edition.number, every), whole)
            for path, content, done in files:
                step(f"edition {edition.number}: {path}", part + share * done)
                yield path, content


def _edition(
    database: Database, book: Book, facts: EditionFacts, asked: Asked
) -> Iterator[tuple[str, bytes, float]]:
    """The files of one edition: at the root for the newest, else in a folder of its own."""
    newest = facts.number == facts.newest
    inside = "" if newest else f"edition-{facts.number}/"
    place = Place(
        address=asked.address and f"{asked.address}{inside}",
        listed=asked.listed and newest,
        edition=_addresses(facts.every, newest=newest),
    )
    pages, files = page_paths(book), file_names(whole_data(book))
    many = len(pages) + len(files) + len(FIXED) + 1
    done = 0
    for path in FIXED:
        yield inside + path, shared_file(path) or b"", done / many
        done += 1
    for path in pages:
        yield inside + path, make_page(book, facts, path, place).encode(), done / many
        done += 1
    for path in files:
        name = PurePosixPath(path).name
        yield inside + path, edition_file(database, book, name).content, done / many
        done += 1
    yield f"{inside}og/index.png", make_preview(book, facts), done / many


def _addresses(every: tuple[Edition, ...], *, newest: bool) -> Callable[[int], str]:
    """Where another edition stands, seen from the front page of the newest, or of an older one."""
    last = every[0].number
    up = "" if newest else "../"
    return lambda number: (
        f"{up}index.html" if number == last else f"{up}edition-{number}/index.html"
    )


def write_folder(
    database: Database,
    slug: str,
    folder: Path,
    asked: Asked = Asked(),
    step: Step = lambda _words, _part: None,
) -> Written:
    """Write the folder, or bring one that is there up to date.

    Raises:
        RefusedError: nothing was published yet, or the folder cannot be written.
    """
    try:
        _make_folder(folder)
        before = _listed(folder)
        names, changed, same = set(), 0, 0
        files = folder_files(
            database, slug, asked, there=lambda path: (folder / path).exists(), step=step
        )
        for path, content in files:
            names.add(path)
            if _put(folder / path, content):
                changed += 1
            else:
                same += 1
        kept = {path for path in before if path.startswith("edition-") and path not in names}
        gone = before - names - kept
        for path in gone:
            (folder / path).unlink(missing_ok=True)
        _put(folder / LIST, "".join(f"{path}\n" for path in sorted(names | kept)).encode())
    except OSError as error:
        reason = f"{error.filename or folder} cannot be written: {error.strerror}."
        raise RefusedError("to", reason) from error
    return Written(changed, same, len(gone))


def _listed(folder: Path) -> set[str]:
    """What was written before; only plain paths inside of the folder are believed."""
    try:
        lines = (folder / LIST).read_text(encoding="utf-8").splitlines()
    except FileNotFoundError:
        return set()
    found = set()
    for line in lines:
        path = PurePosixPath(line)
        if line and not path.is_absolute() and ".." not in path.parts:
            found.add(line)
    return found


def _put(file: Path, content: bytes) -> bool:
    """Write a file whole or not at all; says whether it was another before."""
    if file.exists() and file.read_bytes() == content:
        return False
    _make_folder(file.parent)
    half = file.with_name(f".{file.name}.part")
    half.write_bytes(content)
    # Whatever this person's files are otherwise: these are for everybody.
    half.chmod(READ_BY_ALL)
    half.replace(file)
    return True


def _make_folder(folder: Path) -> None:
    """Make a folder that a web host may read, and those above it."""
    if not folder.exists():
        _make_folder(folder.parent)
        folder.mkdir(exist_ok=True)
        folder.chmod(ENTERED_BY_ALL)


def zip_folder(database: Database, slug: str, asked: Asked = Asked()) -> bytes:
    """The folder as one zip.

    Raises:
        RefusedError: nothing was published yet.
    """
    return zip_files(dict(folder_files(database, slug, asked)))
