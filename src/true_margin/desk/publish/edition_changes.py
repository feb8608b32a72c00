"""What an edition changes against the one before, in sentences."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from true_margin.core.labels import RESULT
from true_margin.core.margins import Call
from true_margin.core.numerals import short
from true_margin.core.wording import count_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import price_of
from true_margin.desk.picks.viewers import answer
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.publish.corrections import answers_changed, figures_changed
from true_margin.store.records.viewers import Viewer

MOST_CALLS = 12


def what_changed(before: Book, after: Book) -> Iterator[str]:
    """Say what a reader of the earlier edition has to know, by names, as copies have other ids."""
    yield from _line_up(before, after)
    yield from _runs(before, after)
    yield from _settings(before, after)
    yield from _prices(before, after)
    yield from figures_changed(before, after)
    yield from _calls(before, after)
    yield from _picks(before, after)
    yield from answers_changed(before, after)


def _line_up(before: Book, after: Book) -> Iterator[str]:
    one, other = ({setup.label for setup in book.setups} for book in (before, after))
    for label in sorted(other - one):
        yield f"New: {label}."
    for label in sorted(one - other):
        yield f"No longer there: {label}."
    for kind, read in (("task", "tasks"), ("round", "rounds")):
        had, has = ({each.name for each in getattr(book, read)} for book in (before, after))
        for name in sorted(has - had):
            yield f"New {kind}: {name}."
        for name in sorted(had - has):
            yield f"No longer a {kind}: {name}."


def is_correction(before: Book, after: Book) -> bool:
    """Whether something that was published is not so: a run that counts no more, or otherwise."""
    return bool(_counted(before) - _counted(after))


def _counted(book: Book) -> Counter[tuple[str, str, str, int, float | None]]:
    return Counter(
        (
            run.status,
            book.setups[book.setup_index[run.setup_id]].label,
            book.tasks[book.task_index[run.task_id]].name,
            run.place,
            run.value,
        )
        for run in book.runs
    )


def _runs(before: Book, after: Book) -> Iterator[str]:
    counts = [_counted(before), _counted(after)]
    new = counts[1] - counts[0]
    gone = counts[0] - counts[1]
    places = {(name[1], name[2], name[3]) for name in gone}
    changed = sum(n for name, n in new.items() if (name[1], name[2], name[3]) in places)
    added = sum(new.values()) - changed
    if added:
        yield f"{count_of(added, 'run')} more."
    if changed:
        yield f"{count_of(changed, 'run')} corrected or withdrawn."
    if sum(gone.values()) > changed:
        yield f"{count_of(sum(gone.values()) - changed, 'run')} no longer there."


def _settings(before: Book, after: Book) -> Iterator[str]:
    one, other = before.shootout, after.shootout
    for what, was, now in (
        ("Confidence", one.confidence, other.confidence),
        ("Smallest difference that counts", one.materiality, other.materiality),
    ):
        if was != now:
            yield f"{what}: {short(100 * was)} %, now {short(100 * now)} %."
    names = [None if b.baseline is None else b.baseline.label for b in (before, after)]
    if names[0] != names[1]:
        yield f"Compared with {names[0] or 'nothing'}, now with {names[1] or 'nothing'}."


def _prices(before: Book, after: Book) -> Iterator[str]:
    earlier = {machine.name: price_of(before, machine) for machine in before.machines}
    for machine in after.machines:
        was, now = earlier.get(machine.name), price_of(after, machine)
        if machine.name not in earlier or now is None:
            continue
        money = say_money(now.amount, now.currency)
        if was is None:
            yield f"{machine.name} has a price: {money}."
        elif (was.amount, was.currency) != (now.amount, now.currency):
            yield f"{machine.name}: {say_money(was.amount, was.currency)}, now {money}."


def _calls(before: Book, after: Book) -> Iterator[str]:
    was, now = _all_calls(before), _all_calls(after)
    changed = [key for key in now if key in was and was[key] != now[key]]
    for task, a, b in changed[:MOST_CALLS]:
        yield f"{task}: {a} against {b} was {was[task, a, b]}, now {now[task, a, b]}."
    if len(changed) > MOST_CALLS:
        yield f"{count_of(len(changed) - MOST_CALLS, 'more result')} changed."


def _all_calls(book: Book) -> dict[tuple[str, str, str], str]:
    found = {}
    for task, facts in enumerate(book.tasks):
        pairs = analysis_of(book).compare(task).pairs
        setups = pairs.contrasts.setups.tolist()
        order = sorted(range(len(setups)), key=lambda i: book.setups[setups[i]].label)
        for at, i in enumerate(order):
            for j in order[at + 1 :]:
                margin = pairs.margin(i, j)
                call = RESULT[margin.call]
                if margin.call in (Call.CLEAR, Call.AHEAD):
                    ahead = i if margin.log_ratio > 0 else j
                    call = f"{call} for {book.setups[setups[ahead]].label}"
                labels = (book.setups[setups[i]].label, book.setups[setups[j]].label)
                found[facts.name, *labels] = call
    return found


def _picks(before: Book, after: Book) -> Iterator[str]:
    earlier = {v.name: _pick(before, v) for v in before.viewers if v.retired_at is None}
    for viewer in after.viewers:
        if viewer.retired_at is not None:
            continue
        now = _pick(after, viewer)
        if viewer.name not in earlier:
            yield f"New viewer: {viewer.name}: {now}."
        elif earlier[viewer.name] != now:
            yield f"{viewer.name}: was {earlier[viewer.name]}, now {now}."


def _pick(book: Book, viewer: Viewer) -> str:
    picked = answer(book, viewer).picked
    if picked is None:
        return "no pick"
    return f"keep {picked.label}" if picked.keep else picked.label
