"""What a correction has to say: figures and answers that changed, and what still says the old.

Copies of a book have other ids, so that everything is matched by its name.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal

from true_margin.core.claims.verdicts import Verdict
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.picks.contenders import contender_name
from true_margin.desk.picks.solve import solve
from true_margin.desk.publish.cards import draw, standing
from true_margin.desk.publish.owned_machines import Owned, has_owned, kinds_of, owned_machines
from true_margin.desk.publish.script_check import check_text
from true_margin.desk.publish.shown_figures import shown_figures
from true_margin.exchange.pack_public import is_private
from true_margin.publish.looks import LookName, Shape
from true_margin.store.cards import KeptCard
from true_margin.store.records import Run
from true_margin.store.records.viewers import Viewer

MOST_FIGURES = 12
MOST_REASONS = 2
LONGEST_LINE = 80


def figures_changed(before: Book, after: Book) -> Iterator[str]:
    """Typical times and amounts that read otherwise now, with the reason where one was given."""
    was, now = shown_figures(before), shown_figures(after)
    changed = [key for key in now if key in was and was[key] != now[key]]
    reasons = _withdrawn(before, after)
    for task, setup in changed[:MOST_FIGURES]:
        said = f"{task}: {setup} {was[task, setup]}, now {now[task, setup]}."
        why = "; ".join(reasons.get((task, setup), ())[:MOST_REASONS])
        yield f"{said} Withdrawn: {why}." if why else said
    if len(changed) > MOST_FIGURES:
        yield f"{count_of(len(changed) - MOST_FIGURES, 'more figure')} changed."


def _withdrawn(before: Book, after: Book) -> dict[tuple[str, str], list[str]]:
    """Reasons why runs count no more that counted before, by task and setup."""
    known = {_run_name(before, run) for run in before.runs if run.status == "ok"}
    found: dict[tuple[str, str], dict[str, None]] = defaultdict(dict)
    for run in after.runs:
        name = _run_name(after, run)
        if run.status != "ok" and name in known and run.reason and not is_private(run.reason):
            found[name[0], name[1]][run.reason.rstrip(".")] = None
    return {place: list(reasons) for place, reasons in found.items()}


def _run_name(book: Book, run: Run) -> tuple[str, str, int]:
    task = book.tasks[book.task_index[run.task_id]].name
    setup = book.setups[book.setup_index[run.setup_id]].label
    return task, setup, run.place


def answers_changed(before: Book, after: Book) -> Iterator[str]:
    """Answers by machine that a viewer may have, other than the one that they are kept with."""
    earlier = {viewer.name: viewer for _, viewer in kinds_of(before)}
    machines = {each.label: each for each in owned_machines(before)}
    for _, viewer in kinds_of(after):
        if viewer.name not in earlier:
            continue
        groups: dict[tuple[str, str], list[str]] = defaultdict(list)
        for owned in owned_machines(after):
            if owned.label not in machines or has_owned(after, viewer, owned):
                continue
            was = _decided(before, earlier[viewer.name], machines[owned.label])
            now = _decided(after, viewer, owned)
            if was != now:
                name = "none of these" if owned.setup is None else owned.label
                groups[was, now].append(name)
        for (was, now), names in groups.items():
            yield f"{viewer.name} who has {_either(names)}: was {was}, now {now}."


def _decided(book: Book, viewer: Viewer, owned: Owned) -> str:
    """What Picks decides for a viewer with a machine, in a word."""
    own = None if owned.setup is None else owned.setup.id
    try:
        solved = solve(book, replace(viewer, owned_setup_id=own, resale=Decimal(0)))
    except RefusedError:
        return "no pick"
    contest, decision = solved.contest, solved.decision
    if contest is None or decision is None or decision.pick is None:
        return "no pick"
    if decision.pick == contest.keep:
        return "keep it"
    return contender_name(book, contest.speeds, decision.pick)


def _either(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"


def echoes(before: Book, after: Book) -> Iterator[str]:
    """What still says what was published and no longer is so: lines of the script, and cards."""
    yield from _lines(before, after)
    yield from _cards(before, after)


def _lines(before: Book, after: Book) -> Iterator[str]:
    if after.script is None or not after.script.text.strip():
        return
    held = {
        (line.line, line.text): line.figure
        for line in check_text(replace(before, script=after.script), after.script.text, {}).claims
        if line.verdict == Verdict.HOLDS
    }
    for line in check_text(after, after.script.text, {}).claims:
        key = (line.line, line.text)
        if key in held and line.verdict != Verdict.HOLDS:
            said = line.text if len(line.text) <= LONGEST_LINE else f"{line.text[:LONGEST_LINE]}…"
            now = f" It is now {line.figure}." if line.figure else ""
            yield f"Script, line {line.line}: “{said}” no longer holds.{now}"


def _cards(before: Book, after: Book) -> Iterator[str]:
    """Cards whose words are others now: a picture that was taken from them says the old."""
    was: dict[tuple[str, str, str], list[str]] = defaultdict(list)
    for card in standing(before):
        was[_card_name(before, card)].append(_words(before, card))
    for card in standing(after):
        name = _card_name(after, card)
        if was[name] and _words(after, card) != (words := was[name].pop(0)) and words:
            title = _words(after, card).split("\n", 1)[0]
            yield f"Card “{title}”: pictures taken from it show the old figures."


def _card_name(book: Book, card: KeptCard) -> tuple[str, str, str]:
    """By what a card is known in another copy: its kind, its task, its viewer."""
    task = next((each.name for each in book.tasks if each.id == card.task_id), "")
    viewer = next((each.name for each in book.viewers if each.id == card.viewer_id), "")
    return card.kind, task, viewer


def _words(book: Book, card: KeptCard) -> str:
    """Everything that a card says, as its text alternative; empty where it cannot be drawn."""
    try:
        return draw(book, card, Shape.WIDE, LookName.DAY).alt
    except RefusedError:
        return ""
