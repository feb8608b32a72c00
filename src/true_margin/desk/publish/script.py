"""The script desk: each claim with its verdict, what lies behind it, and a line to say."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.claims.check import Around, Checked, around_each, check_line
from true_margin.core.claims.context import ALONE
from true_margin.core.claims.forms import Form
from true_margin.core.claims.names import Names
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.claims.words import Told, say_instead
from true_margin.core.errors import CoreError
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed
from true_margin.core.parity import Weight
from true_margin.core.wording import count_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of, spec_value
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, StaleError, transaction
from true_margin.desk.publish.feel_lines import check_feel
from true_margin.exchange.script_text import ScriptLine, read_script
from true_margin.store import scripts, shootouts
from true_margin.store.database import Database

MOST_OFFERED = 5
MOST_NAMES = 100
MOST_KNOWN = 20_000
"""So many sentences are remembered with their verdict."""


@dataclass(frozen=True, slots=True)
class ModelVerdict:
    """What holds of the models, where one sample or a few were timed.

    ``figure`` is the figure with the wider interval, in words; ``say`` a line that holds of the
    models; ``same`` says whether the verdict is that of the machines that were tested.
    """

    verdict: str
    figure: str | None
    say: str | None
    same: bool


@dataclass(frozen=True, slots=True)
class CheckedLine:
    """A claim of the script.

    ``line`` is where it begins, from 1; ``was`` the verdict that a person saw last where it
    is another now; ``figure`` the figure with its interval in words; ``behind`` the runs and
    what confounds the pair; ``models`` the same for the models. ``a``, ``b`` and ``task``
    lead to the pair.
    """

    line: int
    text: str
    verdict: str
    was: str | None
    figure: str | None
    say: str | None
    reason: str
    behind: tuple[str, ...]
    a: UUID | None
    b: UUID | None
    task: str | None
    models: ModelVerdict | None


@dataclass(frozen=True, slots=True)
class Offered:
    """A line that nobody has written yet, with its verdict."""

    text: str
    verdict: str
    say: str | None


@dataclass(frozen=True, slots=True)
class ScriptView:
    """The script with its claims; ``true`` and ``tempting`` are lines offered unasked,
    ``names`` other names of setups that the reviewer has set."""

    text: str
    version: int
    claims: tuple[CheckedLine, ...]
    true: tuple[Offered, ...]
    tempting: tuple[Offered, ...]
    names: dict[str, UUID]


def show_script(database: Database, slug: str) -> ScriptView:
    """Give the script of a shootout with every verdict."""
    book = SHELF.take(database, slug)
    script = book.script
    text, version, seen = (
        ("", 0, {}) if script is None else (script.text, script.version, script.verdicts)
    )
    return _view(book, text, version, seen)


def _view(book: Book, text: str, version: int, seen: Mapping[str, str]) -> ScriptView:
    true, tempting = book.cached(
        "offered", lambda: (tuple(_true_lines(book)), tuple(_tempting_lines(book)))
    )
    return ScriptView(text, version, check_text(book, text, seen), true, tempting, _own_names(book))


def check_script(database: Database, slug: str, text: str) -> tuple[CheckedLine, ...]:
    """Check a text that need not be stored."""
    book = SHELF.take(database, slug)
    return check_text(book, text, {} if book.script is None else book.script.verdicts)


def check_text(book: Book, text: str, seen: Mapping[str, str]) -> tuple[CheckedLine, ...]:
    """Check every sentence of a text.

    Raises:
        RefusedError: it is too long.
    """
    try:
        lines = read_script(text)
    except CoreError as error:
        raise RefusedError("text", f"{error.reason[:1].upper()}{error.reason[1:]}.") from error
    return tuple(
        _line(book, line, found, seen.get(line.text)) for line, found in _checked(book, lines)
    )


def _checked(book: Book, lines: Sequence[ScriptLine]) -> Iterator[tuple[ScriptLine, Checked]]:
    """The lines that claim something, each with its verdict."""
    names = book_names(book)
    around = around_each(names, [line.text for line in lines])
    for line, beside in zip(lines, around, strict=True):
        found = _check(book, names, line.text, beside)
        if found is not None:
            yield line, found


@dataclass(frozen=True, slots=True)
class ClaimTally:
    """Claims of the kept script: how many there are, how many of each verdict that needs
    somebody, by its name, and how many have another verdict than a person saw."""

    claims: int
    wrong: dict[str, int]
    changed: int


def tally_claims(book: Book) -> ClaimTally:
    """Count the claims of the kept script."""
    return book.cached("tally", lambda: _tally(book))


def _tally(book: Book) -> ClaimTally:
    script = book.script
    seen = {} if script is None else script.verdicts
    lines = () if script is None else read_script(script.text)
    found = [(line.text, checked.verdict) for line, checked in _checked(book, lines)]
    fine = (Verdict.HOLDS, Verdict.LIKELY)
    wrong = Counter(verdict.value for _, verdict in found if verdict not in fine)
    changed = sum(seen.get(text, verdict.value) != verdict.value for text, verdict in found)
    return ClaimTally(len(found), dict(wrong), changed)


def _check(book: Book, names: Names, text: str, around: Around = ALONE) -> Checked | None:
    """Check a sentence, once for a book: most lines stay while one is typed."""
    none: dict[tuple[str, Around], Checked | None] = {}
    known = book.cached("claims", lambda: none)
    key = (text, around)
    if key not in known:
        if len(known) > MOST_KNOWN:
            known.clear()
        felt = check_feel(book, text, dict(names.also))
        known[key] = felt or check_line(analysis_of(book), names, text, around)
    return known[key]


def book_names(book: Book) -> Names:
    """What may be named in a script: setups, machines, tasks, apps, and machines by form."""
    return book.cached("names", lambda: _names(book))


def _names(book: Book) -> Names:
    groups: dict[str, list[int]] = {}
    for i, setup in enumerate(book.setups):
        form = spec_value(book.machine_of[setup.id], setup, "form")
        if form:
            groups.setdefault(f"{str(form).casefold()}s", []).append(i)
    return Names(
        tuple(setup.label for setup in book.setups),
        tuple(setup.machine for setup in book.setups),
        tuple(task.name for task in book.tasks),
        tuple(task.app for task in book.tasks),
        {name: tuple(own) for name, own in groups.items()},
        {name: book.setup_index[key] for name, key in _own_names(book).items()},
        analysis_of(book).study.model_of,
    )


def _own_names(book: Book) -> dict[str, UUID]:
    """Names that the reviewer has set, of setups that are there."""
    known = {} if book.script is None else book.script.names
    own = {name: UUID(str(key)) for name, key in known.items()}
    return {name: key for name, key in own.items() if key in book.setup_index}


def name_setup(database: Database, slug: str, name: str, setup_id: UUID | None) -> ScriptView:
    """Let a name stand for a setup in the script; for none, take it back.

    Raises:
        RefusedError: the setup is not in this line-up, or there are too many names.
    """
    book = SHELF.take(database, slug)
    if setup_id is not None and setup_id not in book.setup_index:
        raise RefusedError("setup_id", "This setup is not in this line-up.")
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        script = scripts.get_script(session, book.shootout.id)
        names = {} if script is None else dict(script.names)
        names.pop(name, None)
        if setup_id is not None:
            names[name] = str(setup_id)
        if len(names) > MOST_NAMES:
            raise RefusedError("name", f"{MOST_NAMES} names are the most: take one back first.")
        if script is None:
            scripts.add_script(session, book.shootout.id, {"names": names})
        else:
            # No version is asked for: another name takes nothing away from anybody's text.
            scripts.change_script(session, script, script.version, {"names": names})
    return show_script(database, slug)


def _line(book: Book, line: ScriptLine, checked: Checked, seen: str | None) -> CheckedLine:
    verdict = checked.verdict.value
    a, b = (None if s is None else book.setups[s].id for s in (checked.a, checked.b))
    task = None
    if checked.a is not None:
        task = "mix" if checked.task is None else str(book.tasks[checked.task].id)
    return CheckedLine(
        line.number,
        line.text,
        verdict,
        seen if seen not in (None, verdict) else None,
        _figure(checked),
        checked.say,
        checked.reason,
        tuple(_behind(book, checked)),
        a,
        b,
        task,
        _of_models(checked),
    )


def _of_models(checked: Checked) -> ModelVerdict | None:
    own = checked.of_models
    if own is None:
        return None
    same = own.verdict is checked.verdict
    return ModelVerdict(own.verdict.value, _figure(own), own.say, same)


def _figure(checked: Checked) -> str | None:
    if checked.value is None or checked.lo is None or checked.hi is None:
        return None
    digits = 0 if checked.quantity in ("seconds", "rank") or abs(checked.value) >= 20 else 2
    parts = [fixed(x, digits) for x in (checked.value, checked.lo, checked.hi)]
    unit = checked.quantity or ""
    if unit.startswith("%"):
        return f"{parts[0]} {unit}, {parts[1]} to {parts[2]}"
    return f"{unit}: {parts[0]}, {parts[1]} to {parts[2]}"


def _behind(book: Book, checked: Checked) -> Iterator[str]:
    """Runs, and what confounds the pair; a cause that is named where something confounds it."""
    study = analysis_of(book).study
    tasks = range(len(book.tasks)) if checked.task is None else [checked.task]
    for setup in (checked.a, checked.b):
        if setup is None:
            continue
        model = study.model_of[setup]
        if model not in checked.models:
            yield f"{book.setups[setup].label}: {_runs(book, [setup], tasks)}"
            continue
        own = [at for at, each in enumerate(study.model_of) if each == model]
        samples = len({int(study.unit_of[at]) for at in own})
        yield f"{model}: {count_of(samples, 'sample')}, {_runs(book, own, tasks)}"
    if checked.a is None or checked.b is None:
        return
    muddy = sorted(
        {
            difference.condition.value
            for t in tasks
            for difference in parity_of(book).between(t, checked.a, checked.b)
            if difference.weight is not Weight.ALLOWED
        }
    )
    if muddy:
        differed = ", ".join(muddy)
        yield f"caveat: {differed} differed"
    if checked.cause is not None:
        said = f"you name a cause ({checked.cause})"
        yield f"{said}, but the two also differ in {differed}: not proven" if muddy else said


def _runs(book: Book, setups: Iterable[int], tasks: Iterable[int]) -> str:
    return count_of(sum(int(book.index.ok[setup, t]) for setup in setups for t in tasks), "run")


def keep_script(database: Database, slug: str, text: str, version: int) -> ScriptView:
    """Keep the script; claims that were there keep the verdict that a person saw.

    Raises:
        StaleError: somebody else changed it since.
    """
    book = SHELF.take(database, slug)
    claims = check_text(book, text, {})
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        script = scripts.get_script(session, book.shootout.id)
        seen = {} if script is None else script.verdicts
        verdicts = {each.text: seen.get(each.text, each.verdict) for each in claims}
        if script is None:
            if version != 0:
                raise StaleError("script", {"text": "", "version": 0})
            scripts.add_script(session, book.shootout.id, {"text": text, "verdicts": verdicts})
        else:
            changes = {"text": text, "verdicts": verdicts}
            scripts.change_script(session, script, version, changes)
    return show_script(database, slug)


def see_script(database: Database, slug: str, version: int) -> ScriptView:
    """Take note of every verdict as it is now: nothing is marked as another any more."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        home = book.shootout.id
        shootouts.bump_revision(session, home, rest=False)
        script = scripts.get_script(session, home)
        if script is None:
            raise RefusedError("text", "There is no script yet.")
        verdicts = {each.text: each.verdict for each in check_text(book, script.text, {})}
        scripts.change_script(session, script, version, {"verdicts": verdicts})
    return show_script(database, slug)


def _margins(book: Book) -> Iterator[tuple[int, Margin]]:
    """Every margin of every task that counts, the faster setup first."""
    for task, weight in enumerate(analysis_of(book).study.mix):
        if weight <= 0:
            continue
        pairs = analysis_of(book).compare(task).pairs
        k = len(pairs.contrasts.setups)
        for i in range(k):
            for j in range(k):
                if i != j and pairs.comparable[i, j] and pairs.contrasts.log_ratio[i, j] > 0:
                    yield task, pairs.margin(i, j)


def _offer(book: Book, text: str) -> Offered | None:
    found = _check(book, book_names(book), text)
    return None if found is None else Offered(text, found.verdict.value, found.say)


def _true_lines(book: Book) -> Iterator[Offered]:
    """The strongest lines that hold: the widest clear margins over the baseline, a task each."""
    base = analysis_of(book).study.baseline
    clear = sorted(
        ((task, m) for task, m in _margins(book) if m.call is Call.CLEAR and m.b == base),
        key=lambda each: -each[1].lo,
    )
    told: set[int] = set()
    count = 0
    for task, margin in clear:
        if task in told or count == MOST_OFFERED:
            continue
        text = say_instead(
            Told(Form.RATIO, margin.a, margin.b, task, margin), analysis_of(book).study
        )
        offered = _offer(book, text)
        if offered is not None and offered.verdict == Verdict.HOLDS.value:
            told.add(task)
            count += 1
            yield offered


def _tempting_lines(book: Book) -> Iterator[Offered]:
    """Lines that are near at hand and do not hold: wins inside the noise, ratios rounded up."""
    study = analysis_of(book).study
    count, told = 0, set()
    for task, margin in _margins(book):
        a, b = study.setups[margin.a], study.setups[margin.b]
        near_twice = 1.5 <= math.exp(margin.log_ratio) < 1.75
        if near_twice:
            text = f"{a} is nearly twice as fast as {b} on {study.tasks[task].name}."
        elif margin.call in (Call.OPEN, Call.LEVEL):
            text = f"{a} is faster than {b} on {study.tasks[task].name}."
        else:
            continue
        kind = (task, near_twice)
        offered = None if kind in told else _offer(book, text)
        if offered is None or offered.verdict in (Verdict.HOLDS.value, Verdict.LIKELY.value):
            continue
        told.add(kind)
        count += 1
        yield offered
        if count == MOST_OFFERED:
            return
