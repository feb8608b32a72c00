"""Texts to give away: the description under a film, the method note, the list of chapters."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from true_margin.core.numerals import PLAIN, say_day, short, writing
from true_margin.core.wording import count_of, format_elapsed
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.prices import price_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup.spec_sheet import cell_text
from true_margin.desk.margins.margins import ladder_of
from true_margin.desk.margins.plans import plan_lines
from true_margin.desk.picks.viewers import answer
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.publish.card_parts import foot
from true_margin.desk.publish.shots import shots_of
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class GivenTexts:
    """Texts to copy; plain, so that they can be pasted anywhere."""

    description: str
    method: str
    chapters: str


def show_texts(database: Database, slug: str) -> GivenTexts:
    """Give the texts of a shootout."""
    return texts_of(SHELF.take(database, slug))


@writing(PLAIN)
def texts_of(book: Book) -> GivenTexts:
    """Give the texts of a book."""
    return GivenTexts(
        "\n".join(_description(book)) + "\n",
        "\n".join(method_lines(book)) + "\n",
        "\n".join(chapters(book)) + "\n",
    )


def _description(book: Book) -> Iterator[str]:
    yield book.shootout.name
    found = list(findings(book))
    if found:
        yield ""
        yield from found
    picks = list(pick_lines(book))
    if picks:
        yield "\nWhich machine for whom"
        yield from picks
    if book.machines:
        on = say_day(book.shootout.price_date, whole=True)
        yield f"\nWhat was tested, and prices as of {on}"
        yield from (_machine(book, machine) for machine in book.machines)
    if any(p.paid_link for m in book.machines for p in _prices_in_force(book, m)):
        yield "Links marked (affiliate link) earn us a share when you buy."
    yield "\nHow it was tested"
    yield from short_method(book)


def _prices_in_force(book: Book, machine: records.Machine) -> list[records.Price]:
    price = price_of(book, machine)
    return [] if price is None else [price]


def findings(book: Book) -> Iterator[str]:
    """What may be said of all tasks together, and of each."""
    if not book.tasks:
        return
    for key in ("mix", *(str(task.id) for task in book.tasks)):
        view = ladder_of(book, key)
        if len(view.rows) > 1:
            yield f"{view.title}: {view.summary}"


def pick_lines(book: Book) -> Iterator[str]:
    """What each viewer should buy, in a sentence each; then what is known of other samples."""
    samples: list[str] = []
    for viewer in book.viewers:
        if viewer.retired_at is not None:
            continue
        view = answer(book, viewer)
        if view.picked is not None:
            yield f"{viewer.name}: {view.picked.sentence}"
            promised = (run.words for run in view.predicted if run.accepted)
            yield from (f"{viewer.name}: {words}" for words in promised)
            samples += [view.samples] if view.samples else []
        elif view.problem is not None:
            yield f"{viewer.name}: no pick. {view.problem.words}"
    # One example tells it; the same of every viewer would be read by nobody.
    yield from samples[:1]


def _machine(book: Book, machine: records.Machine) -> str:
    parts = [machine.name]
    obtained = machine.specs.get("obtained")
    specs = (
        [cell_text(machine, machine.setups[0], field) for field in ("processor", "graphics")]
        if machine.setups
        else []
    )
    if any(specs):
        parts.append(", ".join(s for s in specs if s))
    price = price_of(book, machine)
    if price is not None:
        money = say_money(price.amount, price.currency)
        source = f", {price.source}" if price.source else ""
        until = f", until {say_day(price.until, whole=True)}" if price.until else ""
        paid = " (affiliate link)" if price.paid_link else ""
        parts.append(
            f"{money} ({price.kind}, {say_day(price.dated, whole=True)}{source}{until}){paid}"
        )
    else:
        parts.append("no price")
    if obtained:
        parts.append(
            f"{obtained} for this test"
            if obtained in ("bought", "lent", "given")
            else str(obtained)
        )
    names = [setup.name for setup in machine.setups]
    if len(names) > 1:
        parts.append(f"tested as {', '.join(names)}")
    return "- " + "; ".join(parts)


def short_method(book: Book) -> Iterator[str]:
    """The method in a few lines, with the plan where one was frozen before the first run."""
    s = book.shootout
    ok = int(book.index.ok.sum())
    bad = int(book.index.tried.sum()) - ok
    rounds = ", ".join(round_.name for round_ in book.rounds)
    yield (
        f"{count_of(ok, 'run')} of {count_of(len(book.tasks), 'task')} counted, {bad} failed; "
        f"rounds: {rounds}. "
        "Every run is kept, also those that do not count."
    )
    little = f"{short(100 * s.materiality)} %"
    yield (
        f"Clear: the whole {short(100 * s.confidence)} % interval is beyond {little}. "
        f"Ahead: faster for sure, perhaps by less than {little}. "
        f"Same speed: all of it within {little}. Otherwise undecided."
    )
    parity = parity_of(book)
    broken = 0 if parity.broken is None else int(parity.broken.sum()) // 2
    accepted = len(parity.overruled)
    left_out = f" {count_of(broken, 'pair')} left out because the job differed." if broken else ""
    taken = (
        f" {count_of(accepted, 'difference')} accepted, with the reason given." if accepted else ""
    )
    yield f"Only like is compared with like.{left_out}{taken}"
    yield from plan_lines(book)


def method_lines(book: Book) -> Iterator[str]:
    """The method note: what was timed, with what, how it was worked out."""
    yield f"Method of “{book.shootout.name}”"
    yield from short_method(book)
    yield ""
    yield "Tasks"
    for at, task in enumerate(book.tasks):
        start = f" from {task.starts_when}" if task.starts_when else ""
        end = f" until {task.ends_when}" if task.ends_when else ""
        timed = f" Timed{start}{end}." if start or end else ""
        runs = " · ".join(foot(book, at, range(len(book.setups))))
        what = f"{task.operation or 'timed'} in {task.app}"
        yield f"{task.name}: {what}{_work(task)}.{timed} {runs}."
    yield ""
    yield "App versions by round"
    for round_ in book.rounds:
        versions = ", ".join(f"{v.app} {v.version}" for v in round_.versions) or "not noted"
        yield f"{round_.name}: {versions}"
    yield ""
    yield (
        "Times are compared on a logarithmic scale: a setup's speed on a task, and what each app "
        "update did, are fitted together by weighted least squares; machines gain differently "
        "from an update, so estimates from an earlier round have wider intervals. With few runs, "
        "the spread is estimated together with an assumed "
        f"{short(100 * book.shootout.prior_cv)} %. Means are geometric. "
        "A machine that failed a task is not ranked on it."
    )


def _work(task: records.Task) -> str:
    """How much a run of a task does, as a reader would say it; empty where it is not known."""
    if task.work is None:
        return ""
    if task.unit in ("s", None):
        return f", a timeline of {format_elapsed(task.work)}"
    return f", {short(task.work)} {task.unit}"


def chapters(book: Book) -> Iterator[str]:
    """A list of chapters: each card at the time where it stands in the film."""
    for shot in shots_of(book).shots:
        yield f"{format_elapsed(shot.at_s)} {shot.title}"
