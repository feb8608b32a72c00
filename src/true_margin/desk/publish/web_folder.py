"""An edition as plain files: pages, fonts, pictures, tables, pack; for the app and for any host.

A page names the others by addresses that begin where it stands, so that a folder works under any
path, and from a file manager. Nothing in it asks for anything outside of it.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from markupsafe import Markup

from true_margin import __version__
from true_margin.core.numerals import PLAIN, say_day, writing
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.errors import NotFoundError
from true_margin.desk.publish import other_machine
from true_margin.desk.publish.answer_pages import Answer, answer_for, shops_of
from true_margin.desk.publish.other_machine import Other, estimated, other_answers
from true_margin.desk.publish.owned_machines import Owned, first_owned, kinds_of, owned_machines
from true_margin.desk.publish.page_data import PageData, linked_data, page_data, page_runs
from true_margin.desk.publish.snippets import answer_snippet, card_snippets, job_snippets
from true_margin.desk.sent.compared import not_listed
from true_margin.publish.lettering import FONTS
from true_margin.publish.pages import TEMPLATES, json_ld, render
from true_margin.publish.preview import draw_preview
from true_margin.publish.strips import mark_symbol
from true_margin.store.editions import Edition

USUAL_DISCLOSURE = (
    "Some links to shops are affiliate links: the reviewer gets a share. No answer knows of it."
)
FACES = ("head.ttf", "text.ttf", "strong.ttf", "figure.ttf")
FIXED = ("site.css", *(f"fonts/{face}" for face in FACES))
"""Files that are the same in every edition."""
TABLES = (
    *(
        f"{table}.{kind}"
        for table in ("results", "specs")
        for kind in ("csv", "xlsx", "md", "html")
    ),
    "prices.csv",
    "prices.xlsx",
)
_PAGE = re.compile(r"have/([a-z0-9-]{1,70}(?:/[a-z0-9-]{1,70})?)\.html")
Html = Markup


@dataclass(frozen=True, slots=True)
class EditionFacts:
    """Which edition it is, and all that there are, the newest first."""

    number: int
    every: tuple[Edition, ...]

    @property
    def own(self) -> Edition:
        """The record of this edition."""
        return next(each for each in self.every if each.number == self.number)

    @property
    def newest(self) -> int:
        """Number of the newest one."""
        return self.every[0].number


@dataclass(frozen=True, slots=True)
class Place:
    """Where the files will stand.

    Attributes:
        root: what the address of each file begins with; None where each page says it from itself.
        address: of the folder on the web, ending in a stroke; empty where it is not known.
        listed: whether search engines may list it.
        edition: gives the address of another edition, from the front page.
    """

    root: str | None = None
    address: str = ""
    listed: bool = False
    edition: Callable[[int], str] = lambda number: f"edition-{number}/index.html"


@dataclass(frozen=True, slots=True)
class ShownOwned:
    """A machine in the list of those that one may have."""

    key: str
    label: str
    mark: int | None


@dataclass(frozen=True, slots=True)
class ShownEdition:
    """An edition in the list of all, with what it said of itself."""

    number: int
    dated: str
    link: str
    note: str
    changes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class SiteWords:
    """What every page of an edition says at its head and foot; ``up`` leads to the root."""

    name: str
    facts: str
    edition: str
    paid: str
    newest: str
    samples: str
    owned: tuple[ShownOwned, ...]
    marks: Markup
    kinds: tuple[tuple[str, str], ...]
    others: frozenset[str]
    up: str
    home: str
    path: str
    address: str
    listed: bool
    version: str


def page_paths(book: Book) -> list[str]:
    """Every page of an edition, the front page first."""
    found = ["index.html", "figures.html", "machines.html", "runs.html", "feed.xml"]
    kinds = kinds_of(book)
    if kinds:
        for owned in owned_machines(book):
            found.append(f"have/{owned.key}.html")
            found += [f"have/{owned.key}/{key}.html" for key, _ in kinds]
        if others := estimated(book, kinds):
            found.append(f"have/{other_machine.KEY}.html")
            found += [f"have/{other_machine.KEY}/{key}.html" for key, _ in kinds if key in others]
    return found


def _others(book: Book) -> dict[str, Other]:
    """What can be estimated for a machine that is not listed, by kind of viewer."""
    return other_answers(book, kinds_of(book))


def shared_file(path: str) -> bytes | None:
    """A file that is the same in every edition; None where it is none of these."""
    if path not in FIXED:
        return None
    if path == "site.css":
        return (TEMPLATES / "site" / "site.css").read_bytes()
    return (FONTS / path.removeprefix("fonts/")).read_bytes()


def make_page(
    book: Book, facts: EditionFacts, path: str, place: Place, yours: object = None
) -> str:
    """Make a page of an edition.

    Args:
        book: of the edition.
        facts: which edition.
        path: of the page, from the root.
        place: where the files will stand.
        yours: what a reader asked of the app; None in a folder, which cannot answer.

    Raises:
        NotFoundError: the edition has no such page.
    """
    site = _words(book, facts, path, place)
    if path == "index.html":
        return _index(book, facts, site, place, yours)
    if path == "figures.html":
        data = whole_data(book)
        embeds = job_snippets(data, place.address)
        cards = list(card_snippets(data, place.address))
        return render("site/figures.html", site=site, data=data, embeds=embeds, cards=cards)
    if path == "machines.html":
        shops = list(shops_of(book))
        return render("site/machines.html", site=site, data=whole_data(book), shops=shops)
    if path == "runs.html":
        tasks = [(task.name, list(page_runs(book, task.id))) for task in book.tasks]
        return render("site/runs.html", site=site, tasks=tasks)
    if path == "feed.xml":
        return _feed(book, facts, place)
    found = _PAGE.fullmatch(path)
    if found is None:
        raise NotFoundError("There is nothing at this address.")
    return _have(book, found[1], site)


def _have(book: Book, name: str, site: SiteWords) -> str:
    """A board of one machine, or an answer to one kind of viewer who has it."""
    kinds = kinds_of(book)
    if name.split("/", maxsplit=1)[0] == other_machine.KEY:
        return _have_other(book, name, site)
    for owned in owned_machines(book):
        if name == owned.key:
            answers = [answer_for(book, owned, key, viewer) for key, viewer in kinds]
            return render(
                "site/board.html",
                site=site,
                owned=_shown(owned),
                answers=answers,
                description=_description(answers, site.name),
                picture="og/index.png",
            )
        for key, viewer in kinds:
            if name == f"{owned.key}/{key}":
                answer = answer_for(book, owned, key, viewer)
                return render(
                    "site/answer.html",
                    site=site,
                    owned=_shown(owned),
                    answer=answer,
                    picture="og/index.png",
                    embed=answer_snippet(answer, owned, site.address),
                )
    raise NotFoundError("There is nothing at this address.")


def _have_other(book: Book, name: str, site: SiteWords) -> str:
    """Estimates for a machine that is not listed: by kind of viewer, or for one of them."""
    others = _others(book)
    here = ShownOwned(other_machine.KEY, other_machine.LABEL, None)
    if name == other_machine.KEY:
        sent = list(not_listed(book))
        return render("site/others.html", site=site, owned=here, others=others, sent=sent)
    key = name.partition("/")[2]
    if key not in others:
        raise NotFoundError("There is nothing at this address.")
    return render("site/other.html", site=site, owned=here, key=key, other=others[key])


def _index(book: Book, facts: EditionFacts, site: SiteWords, place: Place, yours: object) -> str:
    data = whole_data(book)
    owned = first_owned(book, owned_machines(book))
    answers = [answer_for(book, owned, key, viewer) for key, viewer in kinds_of(book)]
    url = place.address or None
    return render(
        "site/index.html",
        site=site,
        data=data,
        owned=_shown(owned),
        answers=answers,
        description=_description(answers, site.name),
        picture="og/index.png",
        linked=json_ld(linked_data(book, url)),
        note=facts.own.note,
        changes=facts.own.changes,
        number=facts.number,
        editions=[
            ShownEdition(
                each.number,
                say_day(each.created_at),
                place.edition(each.number),
                each.note or "",
                tuple(each.changes),
            )
            for each in facts.every
        ],
        yours=yours,
        here=site.home,
    )


def whole_data(book: Book) -> PageData:
    """What every page may show, gathered once for a book."""
    return book.cached("page", lambda: page_data(book))


def _whose(facts: EditionFacts) -> str:
    """Which edition a page is of, when it was made, and whose page it is, if that is said."""
    edition = f"Edition {facts.number}, {say_day(facts.own.created_at)}"
    return f"{facts.own.channel} · {edition}" if facts.own.channel else edition


def _words(book: Book, facts: EditionFacts, path: str, place: Place) -> SiteWords:
    deep = path.count("/")
    up = "../" * deep if place.root is None else place.root
    ok = int(book.index.ok.sum())
    machines = len({book.machine_of[setup.id].id for setup in book.setups})
    newest = facts.newest
    paid = any(price.paid_link for machine in book.machines for price in machine.prices)
    return SiteWords(
        book.shootout.name,
        f"{count_of(ok, 'run')} on {count_of(machines, 'machine')}",
        _whose(facts),
        (facts.own.disclosure or USUAL_DISCLOSURE) if paid else "",
        ""
        if newest == facts.number
        else up + place.edition(newest)
        if place.root is None
        else place.edition(newest),
        whole_data(book).samples,
        tuple(_listed(book)),
        Html("".join(mark_symbol(each) for each in sorted({s.mark for s in book.setups}))),
        tuple((key, viewer.name) for key, viewer in kinds_of(book)),
        estimated(book, kinds_of(book)),
        up,
        f"{up}index.html" if place.root is None else place.root.rstrip("/"),
        "" if path == "index.html" else path,
        place.address,
        place.listed,
        __version__,
    )


def _listed(book: Book) -> Iterator[ShownOwned]:
    """Every machine that one may have: those that were tested, another one, none."""
    *tested, none = owned_machines(book)
    yield from (_shown(each) for each in tested)
    if estimated(book, kinds_of(book)):
        yield ShownOwned(other_machine.KEY, other_machine.LABEL, None)
    yield _shown(none)


def _shown(owned: Owned) -> ShownOwned:
    return ShownOwned(owned.key, owned.label, None if owned.setup is None else owned.setup.mark)


def _description(answers: Sequence[Answer], name: str) -> str:
    """What stands beside a link: the first answers."""
    said = [f"{each.kind}: {each.order}." for each in answers[:2] if not each.problem]
    return " ".join(said) or name


def make_preview(book: Book, facts: EditionFacts) -> bytes:
    """The picture that stands beside a link to the front page."""
    owned = first_owned(book, owned_machines(book))
    answers = [answer_for(book, owned, key, viewer) for key, viewer in kinds_of(book)]
    said = [
        (each.kind, f"{each.order}, {each.price}" if each.price else each.order) for each in answers
    ]
    if not said:
        data = whole_data(book)
        said = [(each.title, each.headline) for each in data.ladders[:3]]
    runs = count_of(int(book.index.ok.sum()), "run")
    dated = say_day(facts.own.created_at, whole=True)
    return draw_preview(book.shootout.name, said, f"{runs}. Edition {facts.number}, {dated}.")


@writing(PLAIN)  # read by programs
def _feed(book: Book, facts: EditionFacts, place: Place) -> str:
    """The editions as Atom, the newest first; addresses from the folder where it has none."""
    return render(
        "site/feed.xml",
        name=book.shootout.name,
        id=f"urn:uuid:{book.shootout.id}",
        address=place.address,
        entries=[
            (
                each.number,
                place.edition(each.number),
                f"{each.created_at:%Y-%m-%dT%H:%M:%SZ}",
                " ".join(each.changes) or each.note or f"Edition {each.number}.",
            )
            for each in facts.every
        ],
    )


def file_names(data: PageData) -> list[str]:
    """Every file of an edition beside its pages."""
    cards = [f"card-{card.key}-wide-day.svg" for card in data.cards]
    return [f"files/{name}" for name in (*TABLES, *cards, "report.html", "pack.zip")]
