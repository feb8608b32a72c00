"""When an export began and ended, by the rules alone."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.file_seen import Earlier, FileSeen, Happened, WatchEvent
from true_margin.core.file_watch import FileWatch

POLL = 1.0


def seen(name: str, size: int, changed: float, held: bool | None = False) -> FileSeen:
    return FileSeen(name, size, changed, held)


def follow(
    looks: dict[float, list[FileSeen]], expected: int | None = None, give_up: float = 20.0
) -> list[WatchEvent]:
    """Look once a second; a look that is not written shows what the last one did."""
    rules = FileWatch(
        lambda name: name.endswith(".mp4"), POLL, expected_bytes=expected, give_up_s=give_up
    )
    events: list[WatchEvent] = []
    files: list[FileSeen] = []
    for second in range(60):
        files = looks.get(float(second), files)
        events += rules.observe(float(second), files)
    return events


def told(events: list[WatchEvent]) -> list[tuple[str, float]]:
    return [(event.kind.value, event.at_s) for event in events]


def test_from_the_first_byte_to_the_last_change() -> None:
    events = follow({3: [seen("a.mp4", 10, 2.5)], 4: [seen("a.mp4", 90, 3.9)]})
    assert told(events) == [("started", 2.25), ("stopped", 3.9)]


def test_a_pause_is_not_the_end_while_the_file_is_held_open() -> None:
    events = follow(
        {
            3: [seen("a.mp4", 10, 2.5, True)],
            20: [seen("a.mp4", 90, 19.9, True)],
            22: [seen("a.mp4", 90, 19.9)],
        }
    )
    assert told(events) == [("started", 2.25), ("stopped", 19.9)]


def test_a_name_that_comes_last_ends_it() -> None:
    events = follow(
        {3: [seen("a.part", 10, 2.5)], 9: [seen("a.part", 90, 8.5)], 12: [seen("a.mp4", 90, 11.6)]}
    )
    assert told(events) == [("started", 2.25), ("stopped", 11.6)]


def test_files_that_were_there_before_do_not_count() -> None:
    old = seen("old.mp4", 500, -100.0)
    events = follow({0: [old], 5: [old, seen("a.mp4", 10, 4.4)]})
    assert told(events) == [("started", 4.2), ("stopped", 4.4)]
    assert follow({0: [old]}) == []
    again = follow({0: [old], 6: [seen("old.mp4", 20, 5.8)]})
    assert [event.kind for event in again] == [Happened.STARTED, Happened.STOPPED]


@pytest.mark.parametrize(
    ("looks", "expected", "reason"),
    [
        ({3: [seen("a.part", 10, 2.5)]}, None, "only a.part is there"),
        ({3: [seen("a.mp4", 10, 2.5)], 5: []}, None, "the file is gone"),
        ({3: [seen("a.mp4", 40, 2.5)]}, 100, "40 % of the expected size"),
    ],
)
def test_what_dies_half_way_has_failed(
    looks: dict[float, list[FileSeen]], expected: int | None, reason: str
) -> None:
    last = follow(looks, expected)[-1]
    assert last.kind is Happened.FAILED
    assert reason in (last.reason or "")


def test_marks_follow_the_expected_size() -> None:
    looks = {float(s): [seen("a.mp4", 10 * s, s - 0.5)] for s in range(3, 11)}
    events = follow(looks, expected=100)
    marks = [(event.at_s, event.fraction) for event in events if event.kind is Happened.MARK]
    assert marks == [(float(s), s / 10) for s in range(3, 10)]
    assert events[-1].kind is Happened.STOPPED


@given(
    st.lists(
        st.lists(
            st.builds(
                FileSeen,
                st.sampled_from(["a.mp4", "a.part", "b.mp4"]),
                st.integers(0, 200),
                st.floats(0, 60),
                st.sampled_from([True, False, None]),
            ),
            max_size=3,
            unique_by=lambda file: file.name,
        ),
        max_size=40,
    )
)
def test_whatever_the_disk_shows_there_is_one_start_and_at_most_one_end(
    looks: list[list[FileSeen]],
) -> None:
    events = follow({float(s): files for s, files in enumerate(looks)}, expected=100)
    kinds = [event.kind for event in events]
    assert kinds.count(Happened.STARTED) <= 1
    ends = [kind for kind in kinds if kind in (Happened.STOPPED, Happened.FAILED)]
    assert len(ends) <= 1
    times = [event.at_s for event in events if event.kind is not Happened.MARK]
    assert times == sorted(times)


def test_an_export_that_began_before_the_watch_was_there_goes_on() -> None:
    """A watch that was ended in the middle knew the start: the next one takes it over."""
    old = seen("old.mp4", 500, -100.0)
    rules = FileWatch(lambda name: name.endswith(".mp4"), POLL, give_up_s=20.0)
    rules.go_on(Earlier(10.0, "a.mp4"), [old])
    assert rules.started_s == 10.0
    events = []
    for second in range(40, 60):
        size = 10 * min(second, 45)
        film = seen("a.mp4", size, min(second, 45) - 0.3, second < 46)
        events += rules.observe(float(second), [old, film])
    (event,) = events
    assert (event.kind, event.at_s, event.started_s) == (Happened.STOPPED, 44.7, 10.0)
    assert event.doubt is None


def test_one_that_ended_while_nobody_looked_is_timed_by_the_disk() -> None:
    rules = FileWatch(lambda name: name.endswith(".mp4"), POLL)
    rules.go_on(Earlier(10.0, "a.mp4"), [])
    events = []
    for second in range(500, 510):
        events += rules.observe(float(second), [seen("a.mp4", 9, 33.25)])
    (event,) = events
    assert (event.started_s, event.at_s, event.doubt) == (10.0, 33.25, None)


def test_a_machine_that_slept_in_the_middle_is_said() -> None:
    rules = FileWatch(lambda name: name.endswith(".mp4"), POLL)
    events = []
    for second in (0, 1, 2, 3, 4, 300, 301, 302, 303, 304, 305, 306):
        film = [seen("a.mp4", second, second - 0.5, second < 302)] if second > 1 else []
        events += rules.observe(
            float(second), film if second < 302 else [seen("a.mp4", 301, 300.5, False)]
        )
    assert events[-1].kind is Happened.STOPPED
    assert events[-1].doubt == "nothing was seen for 296 s: did the machine sleep?"


def test_what_nobody_can_say_is_closed_is_waited_for() -> None:
    looks = {3: [seen("a.mp4", 10, 2.5, None)], 33: [seen("a.mp4", 90, 32.5, None)]}
    rules = FileWatch(lambda name: name.endswith(".mp4"), POLL, blind_s=40.0)
    files: list[FileSeen] = []
    events = []
    for second in range(100):
        files = looks.get(second, files)
        events += rules.observe(float(second), files)
    assert told(events) == [("started", 2.25), ("stopped", 32.5)]


@pytest.mark.parametrize(
    ("earlier", "names", "doubt"),
    [
        (Earlier(10.0, "a.mp4"), ["a.mp4"], None),
        (Earlier(10.0), ["a.mp4"], None),
        (Earlier(10.0, "a.mp4", "it was armed late"), ["a.mp4"], "it was armed late"),
        (Earlier(10.0, "thumbs.db"), ["a.mp4"], "the file that began it is none of what was"),
        (Earlier(10.0, "a.mp4"), ["a.mp4", "b.mp4"], "several files were finished while nobody"),
    ],
)
def test_a_start_that_another_watch_noted_is_doubted_as_it_was(
    earlier: Earlier, names: list[str], doubt: str | None
) -> None:
    rules = FileWatch(lambda name: name.endswith(".mp4"), POLL)
    rules.go_on(earlier, [])
    events = []
    for second in range(40, 60):
        events += rules.observe(float(second), [seen(name, 9, 33.25) for name in names])
    (event,) = events
    assert event.kind is Happened.STOPPED
    if doubt is None:
        assert event.doubt is None
    else:
        assert doubt in (event.doubt or "")


def test_a_start_says_by_which_file_and_what_speaks_against_it() -> None:
    rules = FileWatch(lambda name: name.endswith(".mp4"), POLL)
    rules.observe(0.0, [seen("a.mp4", 5, -0.2, True)])
    (event,) = rules.observe(1.0, [seen("a.mp4", 9, 0.8, True)])
    assert (event.kind, event.key) == (Happened.STARTED, "a.mp4")
    assert event.doubt == "it was being written when the watch was armed"
