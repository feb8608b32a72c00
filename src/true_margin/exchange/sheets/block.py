"""A grid into a block: heads of columns, rows of machines, and what stands around them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from true_margin.exchange.sheets.grid import Grid, SheetError
from true_margin.exchange.sheets.words import VALUES, CellKind, foot_note, is_unit, kind_of

MOST_HEADS = 3
MOST_LOOKED_AT = 80
_UNIT_COLUMN = frozenset({"unit", "units", "in"})


@dataclass(frozen=True, slots=True)
class Aside:
    """A line that holds no results, and why it is left out."""

    line: int
    text: str
    why: str


@dataclass(frozen=True, slots=True)
class Block:
    """A sheet with its machines down.

    Attributes:
        divider: what divided the cells.
        turned: whether the text has its machines across.
        title: of the sheet, above its heads; empty where there is none.
        heads: of the columns; empty ones too.
        rows: cells of each row, as many as heads.
        lines: of each row: its line in the text, or its column where it was turned.
        aside: lines that hold no results.
        foot_notes: by their marks.
    """

    divider: str
    turned: bool
    title: str
    heads: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    aside: tuple[Aside, ...]
    foot_notes: dict[str, str]


Guess = Callable[[str], str | None]
"""What a head is known as: ``setup``, ``task``, ``spec`` and the like; None where unknown."""


def find_block(grid: Grid, guess: Guess, turned: bool | None = None) -> Block:
    """Find heads, rows and foot notes, and which way the sheet lies.

    Args:
        grid: cells of the text.
        guess: tells what a head, or the name of a machine or task, is known as.
        turned: whether machines are across, where a person said so.

    Raises:
        SheetError: one row or one column alone.
    """
    if not any(any(row) for row in grid.rows):
        raise SheetError("There is nothing to read in it: only dividers and blanks.")
    if grid.divider == "slash":
        return _typed_lines(grid, guess)
    core, title, aside, notes = _without_lone_cells(grid)
    if core.width < 2:
        raise SheetError(
            "Only one column was found. Separate machine, task and result by a slash, a tab or "
            "a comma, such as: Alder / photos / 8:46"
        )
    if turned is None:
        turned = _lies_across(_corner(core), guess)
    own = _one_head(core, guess).turned() if turned else core
    count = _count_heads(own.rows, guess)
    if count >= len(own.rows):
        raise SheetError("Only heads were found, and no row beneath them.")
    heads = _join_heads(own.rows[:count], own.width, guess)
    return Block(
        grid.divider, turned, title, heads, own.rows[count:], own.lines[count:], aside, notes
    )


def _one_head(grid: Grid, guess: Guess) -> Grid:
    """The rows of heads joined into one, so that each machine across has one name."""
    count = max(1, _count_heads(grid.rows, guess))
    heads = _join_heads(grid.rows[:count], grid.width, guess)
    return Grid(grid.divider, (heads, *grid.rows[count:]), grid.lines[count - 1 :])


def _typed_lines(grid: Grid, guess: Guess) -> Block:
    """Lines as they are typed in the book: machine / task / result, and the round if wanted."""
    heads = ("machine", "task", "result", "round")
    first = [guess(cell) for cell in grid.rows[0]]
    start = 1 if "setup" in first and ("task name" in first or "value" in first) else 0
    width = grid.width
    named = heads if width > 2 else ("machine", "result")
    names = (*named[:width], *("" for _ in range(width - len(named))))
    rows, lines = grid.rows[start:], grid.lines[start:]
    return Block("slash", False, "", names, rows, lines, (), {})


def _without_lone_cells(grid: Grid) -> tuple[Grid, str, tuple[Aside, ...], dict[str, str]]:
    """Take titles, headings of sections and foot notes out: one filled cell in a wide row."""
    kept: list[int] = []
    title, aside, notes = "", [], {}
    for place, row in enumerate(grid.rows):
        filled = [cell for cell in row if cell]
        note = foot_note(filled[0]) if len(filled) == 1 else None
        if len(filled) > 1 or grid.width < 2 or not row[0]:
            kept.append(place)
        elif note is not None:
            notes[note[0]] = note[1]
            aside.append(Aside(grid.lines[place], filled[0], "a foot note"))
        elif not kept and not title:
            title = " ".join(filled[0].split())
            aside.append(Aside(grid.lines[place], filled[0], "the title of the table"))
        else:
            aside.append(Aside(grid.lines[place], filled[0], "nothing stands beside it"))
    if not kept:
        raise SheetError(
            "Only one column was found. Separate machine, task and result by a slash, a tab or "
            "a comma, such as: Alder / photos / 8:46"
        )
    rows = grid.only(kept)
    # Columns with nothing in any row were kept for their looks.
    used = [i for i in range(rows.width) if any(row[i] for row in rows.rows)]
    cells = tuple(tuple(row[i] for i in used) for row in rows.rows)
    return Grid(grid.divider, cells, rows.lines), title, tuple(aside), notes


def _corner(grid: Grid) -> Grid:
    """The first rows and columns, which tell as much of a sheet as all of them."""
    rows = tuple(row[:MOST_LOOKED_AT] for row in grid.rows[:MOST_LOOKED_AT])
    return Grid(grid.divider, rows, grid.lines[:MOST_LOOKED_AT])


def _lies_across(grid: Grid, guess: Guess) -> bool:
    """Whether machines stand across: what heads, first cells and the likeness of values say."""
    turned = grid.turned()
    points = 0.0
    for own, sign in ((grid, -1.0), (turned, 1.0)):
        heads = _join_heads(own.rows[: _count_heads(own.rows, guess)], own.width, guess)
        known = [guess(head) for head in heads]
        long_form = "setup" in known and "task name" in known
        points += sign * (12.0 if long_form else 0.0)
        points += sign * 3.0 * sum(each not in (None, "setup", "machine") for each in known[1:])
        points += sign * {"setup": 6.0, "task name": -6.0}.get(known[0] or "", 0.0)
        # Names of machines among the heads speak for the other way.
        points -= sign * 3.0 * sum(each == "machine" for each in known[1:])
        points += sign * 3.0 * _likeness(own)
    return points > 0


def _likeness(grid: Grid) -> float:
    """Mean share of cells that are of the commonest kind of their column, the first left out."""
    shares = []
    for column in list(zip(*grid.rows, strict=True))[1:]:
        kinds = Counter(kind for cell in column[1:] if (kind := kind_of(cell)) in VALUES)
        if kinds:
            shares.append(kinds.most_common(1)[0][1] / sum(kinds.values()))
    return sum(shares) / len(shares) if shares else 0.0


def _count_heads(rows: Sequence[Sequence[str]], guess: Guess) -> int:
    """How many rows are heads: until values begin; none where the first holds them."""
    first = [cell for cell in rows[0][1:] if cell]
    values = sum(kind_of(cell) in VALUES and guess(cell) is None for cell in first)
    if first and 2 * values > len(first) and not any(guess(cell) for cell in rows[0]):
        return 0
    count = 1
    while count < min(MOST_HEADS, len(rows) - 1) and _goes_on(rows[0], rows[count], guess):
        count += 1
    return count


def _goes_on(first: Sequence[str], row: Sequence[str], guess: Guess) -> bool:
    """Whether a row still belongs to the heads."""
    rest = [cell for cell in row[1:] if cell]
    if not rest:
        return False
    units = all(is_unit(cell.strip("()[]")) for cell in rest)
    if units and (not row[0] or row[0].casefold() in _UNIT_COLUMN):
        return True
    if any(kind_of(cell) in VALUES | {CellKind.FAILED} for cell in rest):
        return False
    if not row[0]:
        return True
    # A head that spans several columns leaves cells empty beside it, and the names of the
    # columns stand beneath; the first of them is no spec or task of its own.
    return not first[0] and not all(first[1:]) and guess(row[0]) in (None, "setup", "task name")


def _join_heads(rows: Sequence[Sequence[str]], width: int, guess: Guess) -> tuple[str, ...]:
    """One head a column: what spans it, its own name, and its unit in brackets."""
    if not rows:
        return ("",) * width
    heads = []
    spans = [""] * len(rows)
    for place in range(width):
        parts: list[str] = []
        column = [" ".join(row[place].split()) for row in rows]
        for level, cell in enumerate(column):
            below = next((c for c in column[level + 1 :] if c), "")
            if cell:
                spans[level] = cell if level + 1 < len(rows) else ""
                parts.append(f"({cell.strip('()[]')})" if parts and is_unit(cell) else cell)
            elif spans[level] and below and not is_unit(below) and guess(below) is None:
                parts.append(spans[level])
        heads.append(" ".join(parts))
    return tuple(heads)
