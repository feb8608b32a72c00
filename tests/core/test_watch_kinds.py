"""Thirty kinds of export, each at twenty phases: right within a look, or said to be doubtful."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from random import Random

import pytest

from tests.core.watch_world import Export, Folder, Step, watched
from true_margin.core.file_seen import Happened

POLL = 0.5
FILM = "film.mp4"
Kind = Callable[[Random], tuple[Export, Folder]]


def _do(at: float, name: str, *args: object, **more: object) -> Step:
    return at, lambda folder: getattr(folder, name)(*args, **more)


def _written(
    name: str, began: float, ended: float, rng: Random, *, every: float = 0.1
) -> list[Step]:
    """A file that is written steadily and let go of at the end."""
    steps, at = [_do(began, "create", name), _do(began, "write", name)], began
    while at < ended - every:
        at += every * rng.uniform(0.5, 1.5)
        if at < ended:
            steps.append(_do(at, "write", name))
    return [*steps, _do(ended, "write", name), _do(ended, "close", name)]


def _steady(rng: Random, every: float = 0.1, **world: object) -> tuple[Export, Folder]:
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(3, 20)
    steps = _written(FILM, began, ended, rng, every=every)
    return Export(tuple(steps), began, ended), Folder(**world)  # type: ignore[arg-type]


def _stall(rng: Random, stall: float, **world: object) -> tuple[Export, Folder]:
    """Nothing is written for a while in the middle; the file stays open."""
    began = rng.uniform(1, 3)
    pause, again = began + 4, began + 4 + stall
    ended = again + rng.uniform(2, 6)
    steps = [
        _do(began, "create", FILM),
        *(_do(began + 0.1 * i, "write", FILM) for i in range(40)),
        *(_do(again + 0.1 * i, "write", FILM) for i in range(int((ended - again) * 10))),
        _do(ended, "write", FILM),
        _do(ended, "close", FILM),
    ]
    del pause
    return Export(tuple(steps), began, ended), Folder(**world)  # type: ignore[arg-type]


def _renamed(rng: Random, **world: object) -> tuple[Export, Folder]:
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(3, 15)
    named = ended + rng.uniform(0, 0.4)
    steps = [*_written(".film.part", began, ended, rng), _do(named, "rename", ".film.part", FILM)]
    return Export(tuple(steps), began, named), Folder(**world)  # type: ignore[arg-type]


def _two_files(rng: Random) -> tuple[Export, Folder]:
    began = rng.uniform(1, 3)
    first, second = began + rng.uniform(3, 6), began + rng.uniform(6, 12)
    steps = [*_written(FILM, began, first, rng), *_written("second.mp4", first - 0.5, second, rng)]
    return Export(tuple(steps), began, second), Folder()


def _joined(rng: Random) -> tuple[Export, Folder]:
    """Parts are written, then joined and removed."""
    began = rng.uniform(1, 3)
    a, b = began + 4, began + 8
    ended = b + rng.uniform(1, 3)
    steps = [
        *_written("part1.tmp", began, a, rng),
        *_written("part2.tmp", a, b, rng),
        *_written(FILM, b, ended, rng),
        _do(ended + 0.01, "delete", "part1.tmp"),
        _do(ended + 0.02, "delete", "part2.tmp"),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _joined_and_kept(rng: Random) -> tuple[Export, Folder]:
    export, folder = _joined(rng)
    return Export(export.steps[:-2], export.began, export.ended), folder


def _preallocated(rng: Random) -> tuple[Export, Folder]:
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(3, 12)
    steps = [
        _do(began, "create", FILM, size=90_000),
        *(_do(began + 0.2 * i, "fill", FILM) for i in range(int((ended - began) * 5))),
        _do(ended, "fill", FILM),
        _do(ended, "close", FILM),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _in_place(rng: Random) -> tuple[Export, Folder]:
    """An older export is written over, in the same file."""
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(3, 12)
    steps = [
        _do(-500.0, "create", FILM, size=5_000_000, held=False),
        _do(began, "truncate", FILM),
        *(_do(began + 0.1 * i, "write", FILM) for i in range(int((ended - began) * 10))),
        _do(ended, "write", FILM),
        _do(ended, "close", FILM),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _replaced(rng: Random) -> tuple[Export, Folder]:
    """A new file takes the name of an older one at the end."""
    export, folder = _renamed(rng)
    return Export(
        (_do(-500.0, "create", FILM, held=False, size=9), *export.steps), export.began, export.ended
    ), folder


def _armed_late(rng: Random, **world: object) -> tuple[Export, Folder]:
    began = -rng.uniform(2, 60)
    ended = rng.uniform(3, 10)
    steps = _written(FILM, began, ended, rng, every=0.5)
    return Export(tuple(steps), began, ended), Folder(**world)  # type: ignore[arg-type]


def _armed_late_in_place(rng: Random) -> tuple[Export, Folder]:
    began, ended = -rng.uniform(2, 60), rng.uniform(3, 10)
    steps = [
        _do(-5000.0, "create", FILM, held=False, size=77),
        _do(began, "truncate", FILM),
        *(_do(began + 0.3 * i, "write", FILM) for i in range(int((ended - began) / 0.3))),
        _do(ended, "write", FILM),
        _do(ended, "close", FILM),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _moved_in(rng: Random, **world: object) -> tuple[Export, Folder]:
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(5, 15)
    steps = [
        _do(began, "create", "tmp", away=True),
        *(_do(began + 0.1 * i, "write", "tmp", away=True) for i in range(40)),
        _do(ended - 0.02, "close", "tmp", away=True),
        _do(ended, "move_in", "tmp", FILM),
    ]
    return Export(tuple(steps), began, ended), Folder(**world)  # type: ignore[arg-type]


def _copied_in(rng: Random) -> tuple[Export, Folder]:
    """Written on another disk, then copied here with its times."""
    began = rng.uniform(1, 3)
    copied, ended = began + 10, began + 11
    steps = [
        *_written(FILM, copied, ended, rng),
        _do(ended + 0.01, "copied_times", FILM, copied - 2.0),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _other_first(rng: Random, stays: bool = True) -> tuple[Export, Folder]:
    """A file that matches nothing appears long before the export begins."""
    began = rng.uniform(8, 20)
    ended = began + rng.uniform(3, 10)
    steps = [
        _do(rng.uniform(1, 3), "create", "thumbs.db", size=100, held=False),
        *_written(FILM, began, ended, rng),
    ]
    if not stays:
        steps.append(_do(began - 2, "delete", "thumbs.db"))
    return Export(tuple(steps), began, ended), Folder()


def _two_in_a_row(rng: Random, **world: object) -> tuple[Export, Folder]:
    """A second export begins while nobody can say that the first has ended."""
    began = rng.uniform(1, 3)
    first = began + rng.uniform(3, 6)
    second = first + rng.uniform(6, 40)
    ended = second + rng.uniform(3, 6)
    steps = [*_written("first.mp4", began, first, rng), *_written(FILM, second, ended, rng)]
    return Export(tuple(steps), began, first), Folder(**world)  # type: ignore[arg-type]


def _growing_log(rng: Random) -> tuple[Export, Folder]:
    """A log beside it is written for ever."""
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(3, 10)
    steps = [
        *_written(FILM, began, ended, rng),
        _do(began, "create", "export.log", held=False),
        *(_do(began + 0.7 * i, "write", "export.log") for i in range(500)),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _bursts(rng: Random) -> tuple[Export, Folder]:
    began = at = rng.uniform(1, 3)
    steps = [_do(began, "create", FILM)]
    for _ in range(12):
        steps.append(_do(at, "write", FILM, 50_000))
        at += rng.choice((0.02, 0.05, 2.5, 4.0))
    ended = at
    steps += [_do(ended, "write", FILM), _do(ended, "close", FILM)]
    return Export(tuple(steps), began, ended), Folder()


def _last_write_and_close(rng: Random) -> tuple[Export, Folder]:
    """A long pause, then one more write and the close within a hundredth of a second."""
    began = rng.uniform(1, 3)
    ended = began + rng.uniform(5, 9)
    steps = [
        _do(began, "create", FILM),
        _do(began, "write", FILM),
        _do(ended, "write", FILM),
        _do(ended + 0.01, "close", FILM),
    ]
    return Export(tuple(steps), began, ended), Folder()


def _rights_after(rng: Random) -> tuple[Export, Folder]:
    """A program marks the finished file within the quiet time; only its rights change."""
    export, folder = _steady(rng)
    assert export.ended is not None
    return Export(
        (*export.steps, _do(export.ended + 0.2, "touch_rights", FILM)), export.began, export.ended
    ), folder


def _cut_off(rng: Random) -> tuple[Export, Folder]:
    """Killed half way; the part with its own name stays."""
    began = rng.uniform(1, 3)
    steps = _written("film.part", began, began + 5, rng)
    return Export(tuple(steps), began, None), Folder()


def _gone(rng: Random) -> tuple[Export, Folder]:
    export, folder = _steady(rng)
    assert export.ended is not None
    steps = (*export.steps, _do(export.ended + 0.5, "delete", FILM))
    return Export(steps, export.began, None), folder


KINDS: dict[str, Kind] = {
    "steady": _steady,
    "steady, seldom": partial(_steady, every=1.7),
    "steady, nobody tells who holds it": partial(_steady, tells_open=False),
    "steady, nobody tells when it was made": partial(_steady, tells_born=False),
    "steady, nothing is told": partial(_steady, tells_born=False, tells_open=False),
    "a drive whose clock is 5 minutes ahead": partial(_steady, skew=300.0),
    "a drive whose clock is 5 minutes behind": partial(_steady, skew=-300.0),
    "a drive whose clock is 3 s behind, blind": partial(_steady, skew=-3.0, tells_open=False),
    "a disk that tells seconds": partial(_steady, grain=1.0),
    "a disk that tells 2 s": partial(_steady, grain=2.0, tells_born=False),
    "bursts": _bursts,
    "last write and close at once": _last_write_and_close,
    "a stall of 20 s": partial(_stall, stall=20.0),
    "a stall of 20 s, blind": partial(_stall, stall=20.0, tells_open=False),
    "a stall of 20 s, nothing told": partial(
        _stall, stall=20.0, tells_open=False, tells_born=False
    ),
    "renamed at the end": _renamed,
    "renamed at the end, blind": partial(_renamed, tells_open=False),
    "renamed at the end, birth unknown": partial(_renamed, tells_born=False),
    "renamed over an older one": _replaced,
    "two files": _two_files,
    "parts joined and removed": _joined,
    "parts joined and kept": _joined_and_kept,
    "preallocated": _preallocated,
    "in place": _in_place,
    "armed after the start": _armed_late,
    "armed after the start, birth unknown": partial(_armed_late, tells_born=False),
    "armed after the start, in place": _armed_late_in_place,
    "moved in from another folder": _moved_in,
    "moved in, birth unknown": partial(_moved_in, tells_born=False),
    "copied in from another disk": _copied_in,
    "another file comes first and stays": _other_first,
    "another file comes first and goes": partial(_other_first, stays=False),
    "two in a row, blind": partial(_two_in_a_row, tells_open=False),
    "a log beside it that never rests": _growing_log,
    "rights change after the end": _rights_after,
    "killed before it had its name": _cut_off,
    "removed after the end": _gone,
}
DOUBTFUL = {
    "armed after the start, birth unknown",
    "armed after the start, in place",
    "moved in, birth unknown",
    "copied in from another disk",
    "a log beside it that never rests",
    "parts joined and kept",
    "two in a row, blind",
}
"""Kinds of which the length cannot be known: they must say so every time."""
SURE = (
    set(KINDS)
    - DOUBTFUL
    - {
        "armed after the start",
        "moved in from another folder",
        "another file comes first and stays",
        "another file comes first and goes",
        "killed before it had its name",
        "removed after the end",
    }
)
"""Kinds that are timed without a doubt."""


SIGHTS: dict[str, dict[str, float]] = {
    "all is told": {},
    "a new name moves no time": {"tells_names": False},
    "names, sizes and times of content only": {
        "tells_names": False,
        "tells_key": False,
        "tells_born": False,
        "tells_open": False,
    },
    "looks that take long": {
        "tells_names": False,
        "tells_key": False,
        "tells_born": False,
        "tells_open": False,
        "slow": 0.9,
    },
}
"""What different systems tell; the last two are what a browser sees, idle and busy."""


def seen_by(folder: Folder, sight: str) -> Folder:
    """The same folder, of which only so much is told."""
    return replace(folder, **SIGHTS[sight])  # type: ignore[arg-type]


@pytest.mark.parametrize("sight", SIGHTS)
@pytest.mark.parametrize("name", KINDS)
def test_a_kind_of_export_is_timed_right_or_doubted(name: str, sight: str) -> None:
    doubted = 0
    for seed in range(20):
        export, folder = KINDS[name](Random(seed))
        folder = seen_by(folder, sight)
        event = watched(export, folder, Random(1000 + seed), POLL)
        assert event is not None, (name, seed, "no end")
        if export.ended is None:
            assert event.kind is Happened.FAILED
            continue
        assert event.kind is Happened.STOPPED, (name, seed, event.reason)
        if event.doubt is not None:
            doubted += 1
            continue
        assert export.began is not None
        assert event.started_s is not None
        assert event.spread_s is not None
        began, ended = event.started_s - export.began, event.at_s - export.ended
        # A look that takes long sees what was there at some time during it.
        most = (1.05 + folder.slow) * POLL
        assert abs(began) <= most, (name, seed, "start", began)
        assert abs(ended) <= most, (name, seed, "end", ended)
        # What it says of its own error: two ends that may lie anywhere between two looks.
        assert abs(began - ended) <= 1.5 * event.spread_s + 0.02, (name, seed, event.spread_s)
    if name in DOUBTFUL:
        assert doubted == 20, (name, doubted)
    if name in SURE:
        assert doubted == 0, (name, doubted)


def test_there_are_thirty_kinds() -> None:
    assert len(KINDS) >= 30
    assert set(KINDS) >= DOUBTFUL
