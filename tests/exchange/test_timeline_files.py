"""Timelines from files: what the fingerprint sees, what it does not, what is refused."""

from __future__ import annotations

import copy
import io
import json
import zipfile
from fractions import Fraction
from typing import Any

import opentimelineio as otio
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from true_margin.core.timeline_differences import Change, compare_timelines
from true_margin.core.timelines import Edit
from true_margin.exchange import timeline_files
from true_margin.exchange.apart import TIMELINE, ApartError, read_apart
from true_margin.exchange.timeline_files import TimelineError, read_timeline

RATES = (24.0, 24000 / 1001, 25.0, 30000 / 1001, 50.0, 60000 / 1001)


def clip(
    name: str, start: int, frames: int, rate: float, *, effect: float | None = None
) -> otio.schema.Clip:
    made = otio.schema.Clip(
        name=name,
        media_reference=otio.schema.ExternalReference(
            target_url=f"file:///media/day%201/{name}.mov"
        ),
        source_range=otio.opentime.TimeRange(
            otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(frames, rate)
        ),
    )
    if effect is not None:
        made.effects.append(
            otio.schema.Effect(effect_name="grade", metadata={"lift": effect, "on": True})
        )
    return made


def gap(frames: int, rate: float) -> otio.schema.Gap:
    return otio.schema.Gap(duration=otio.opentime.RationalTime(frames, rate))


@st.composite
def documents(draw: st.DrawFn) -> otio.schema.Timeline:
    """Edits of one to three tracks with clips, gaps and effects."""
    rate = draw(st.sampled_from(RATES))
    document = otio.schema.Timeline("edit")
    document.global_start_time = otio.opentime.RationalTime(0, rate)
    for number in range(draw(st.integers(1, 3))):
        track = otio.schema.Track(kind=draw(st.sampled_from(["Video", "Audio"])))
        for place in range(draw(st.integers(1, 6))):
            if draw(st.booleans()):
                track.append(gap(draw(st.integers(1, 50)), rate))
            effect = draw(st.none() | st.integers(0, 5).map(float))
            name = f"take{number}{draw(st.integers(0, 2))}"
            track.append(
                clip(
                    name,
                    draw(st.integers(0, 500)) + place,
                    draw(st.integers(2, 200)),
                    rate,
                    effect=effect,
                )
            )
        document.tracks.append(track)
    return document


def read(document: otio.schema.Timeline) -> Any:
    return read_timeline("edit.otio", document.to_json_string().encode())


@given(documents())
@settings(max_examples=60, deadline=None)
def test_paths_markers_names_and_writers_do_not_matter(document: otio.schema.Timeline) -> None:
    before = read(document)
    changed = copy.deepcopy(document)
    changed.name = "another name"
    changed.metadata["writer"] = {"app": "another"}
    changed.global_start_time = otio.opentime.RationalTime(
        3600 * 24, changed.global_start_time.rate
    )
    for one in changed.find_clips():
        file_name = one.media_reference.target_url.rsplit("/", 1)[-1]
        one.media_reference.target_url = "D:\\work\\other folder\\" + file_name
        one.name += " renamed"
        one.metadata["note"] = "seen"
        one.markers.append(otio.schema.Marker(name="look", marked_range=one.source_range))
    for track in changed.tracks:
        track.name = "renamed"
        track.append(gap(25, 25.0))
    changed.tracks.append(otio.schema.Track(kind="Video"))
    rewritten = json.dumps(json.loads(changed.to_json_string()), indent=7, sort_keys=True)
    after = read_timeline("copy.OTIO", rewritten.encode())
    assert after.fingerprint == before.fingerprint
    assert compare_timelines(before, after) == ()


def trim(document: otio.schema.Timeline, one: otio.schema.Clip) -> Change:
    rate = one.source_range.duration.rate
    one.source_range = otio.opentime.TimeRange(
        one.source_range.start_time, one.source_range.duration - otio.opentime.RationalTime(1, rate)
    )
    return Change.TRIMMED


def slip(document: otio.schema.Timeline, one: otio.schema.Clip) -> Change:
    rate = one.source_range.duration.rate
    one.source_range = otio.opentime.TimeRange(
        one.source_range.start_time + otio.opentime.RationalTime(1, rate), one.source_range.duration
    )
    return Change.TRIMMED


def replace_media(document: otio.schema.Timeline, one: otio.schema.Clip) -> Change:
    one.media_reference.target_url = "file:///media/quite-another.mov"
    return Change.MISSING


def add_effect(document: otio.schema.Timeline, one: otio.schema.Clip) -> Change:
    one.effects.append(otio.schema.Effect(effect_name="blur", metadata={"radius": 3}))
    return Change.EFFECTS


def change_speed(document: otio.schema.Timeline, one: otio.schema.Clip) -> Change:
    one.effects.append(otio.schema.LinearTimeWarp(time_scalar=0.5))
    return Change.EFFECTS


def switch_off(document: otio.schema.Timeline, one: otio.schema.Clip) -> Change:
    one.enabled = False
    return Change.MISSING


@given(
    documents(),
    st.data(),
    st.sampled_from([trim, slip, replace_media, add_effect, change_speed, switch_off]),
)
@settings(max_examples=120, deadline=None)
def test_any_edit_of_a_clip_is_seen_and_named(
    document: otio.schema.Timeline, data: st.DataObject, edit: Any
) -> None:
    before = read(document)
    changed = copy.deepcopy(document)
    clips = list(changed.find_clips())
    one = data.draw(st.sampled_from(clips))
    expected = edit(changed, one)
    if not any(each.enabled for each in changed.find_clips()):
        return
    after = read(changed)
    assert after.fingerprint != before.fingerprint
    found = compare_timelines(before, after)
    assert found
    if edit in (trim, slip) and len(found) == 1:
        assert found[0].change is expected
        assert found[0].name == one.media_reference.target_url.rsplit("/", 1)[-1]


@given(documents())
@settings(max_examples=40, deadline=None)
def test_order_rate_and_tracks_are_seen(document: otio.schema.Timeline) -> None:
    before = read(document)
    turned = copy.deepcopy(document)
    items = [copy.deepcopy(child) for child in reversed(turned.tracks[0])]
    turned.tracks[0][:] = items
    fewer = copy.deepcopy(document)
    del fewer.tracks[-1]
    if [str(i) for i in items] != [str(i) for i in document.tracks[0]] and read(
        turned
    ).tracks != before.tracks:
        assert compare_timelines(before, read(turned))
    if len(document.tracks) > 1:
        assert Change.TRACK in {d.change for d in compare_timelines(before, read(fewer))}


def edit_of(*clips: otio.schema.Clip, rate: float = 25.0) -> otio.schema.Timeline:
    document = otio.schema.Timeline("edit")
    document.global_start_time = otio.opentime.RationalTime(0, rate)
    document.tracks.append(otio.schema.Track(kind="Video", children=list(clips)))
    return document


def test_one_frame_of_trim_is_told_in_words() -> None:
    before = edit_of(clip("a", 0, 100, 25), clip("b", 50, 75, 25), clip("c", 0, 30, 25))
    after = edit_of(clip("a", 0, 100, 25), clip("b", 50, 74, 25), clip("c", 0, 30, 25))
    (found,) = compare_timelines(read(before), read(after))
    assert (found.change, found.track, found.name) == (Change.TRIMMED, 1, "b.mov")
    assert found.here == "00:00:02:00 to 00:00:05:00 of its media, 75 frames, at 00:00:04:00"
    assert found.there == "00:00:02:00 to 00:00:04:24 of its media, 74 frames, at 00:00:04:00"


def test_a_moved_clip_is_told_as_moved() -> None:
    a, b, c = (("a", 0, 100), ("b", 0, 50), ("c", 0, 25))
    before = edit_of(*(clip(*each, 25) for each in (a, b, c)))
    after = edit_of(*(clip(*each, 25) for each in (b, c, a)))
    (found,) = compare_timelines(read(before), read(after))
    assert (found.change, found.name) == (Change.MOVED, "a.mov")
    assert (found.here, found.there) == ("at 00:00:00:00", "at 00:00:03:00")


def test_another_rate_is_told() -> None:
    found = compare_timelines(
        read(edit_of(clip("a", 0, 100, 25))), read(edit_of(clip("a", 0, 100, 25), rate=50))
    )
    assert [(d.change, d.here, d.there) for d in found] == [
        (Change.RATE, "25 frames/s", "50 frames/s")
    ]


EDL = """TITLE: PARADE
FCM: NON-DROP FRAME

001  AX       V     C        00:00:00:00 00:00:04:00 00:00:00:00 00:00:04:00
* FROM CLIP NAME: a.mov
002  AX       V     C        00:00:02:00 00:00:05:00 00:00:04:00 00:00:07:00
* FROM CLIP NAME: b.mov
"""


def test_the_same_edit_by_another_writer_is_the_same() -> None:
    from_list = read_timeline("parade.edl", EDL.encode())
    from_otio = read(edit_of(clip("a", 0, 100, 25), clip("b", 50, 75, 25)))
    assert from_list.fingerprint == from_otio.fingerprint
    assert from_list.length == 7


def test_an_edit_list_takes_its_rate() -> None:
    at_50 = read_timeline("parade.edl", EDL.encode(), rate=50)
    assert (at_50.rate, at_50.length) == (50, 7)
    drop = EDL.replace("NON-DROP", "DROP").replace("00:00:04:00", "00:00:04;00")
    assert read_timeline("parade.edl", drop.encode()).rate == Fraction(30000, 1001)


def archive(**files: bytes) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as zipped:
        for name, content in files.items():
            zipped.writestr(name.replace("_", "."), content)
    return buffer.getvalue()


def test_an_archive_is_read_like_its_content() -> None:
    document = edit_of(clip("a", 0, 100, 25))
    zipped = archive(content_otio=document.to_json_string().encode(), media_mov=b"x")
    assert read_timeline("edit.otioz", zipped).fingerprint == read(document).fingerprint


@pytest.mark.parametrize(
    ("name", "content", "says"),
    [
        ("edit.otio", b"{", "not JSON (line 1"),
        ("edit.otio", b"[]", "not OpenTimelineIO"),
        ("edit.otio", b'{"OTIO_SCHEMA": "Nonsense.9"}', "not a timeline"),
        ("edit.otio", b"\xff\xfe", "not UTF-8"),
        ("edit.otio", b"[" * 100_000, "nested too deeply"),
        ("edit.mov", b"", "use .otio, .otioz or .edl"),
        ("edit", b"", "use .otio, .otioz or .edl"),
        ("edit.otioz", b"not a zip", "not a whole zip"),
        ("edit.otioz", archive(other_otio=b"{}"), "no content.otio"),
        (
            "edit.edl",
            EDL.replace("00:00:05:00", "00:00:99:00").encode(),
            "'00:00:99:00' is no timecode",
        ),
        (
            "edit.edl",
            EDL.replace("00:00:05:00", "00:00:0x:00").encode(),
            "'00:00:0x:00' is no timecode",
        ),
        (
            "edit.edl",
            EDL.replace("00:00:05:00", "00:00:05:77").encode(),
            "edit list cannot be read",
        ),
        ("edit.edl", EDL.replace("00:00:05:00", "").encode(), "edit list cannot be read"),
        ("edit.edl", b"nonsense", "edit list cannot be read"),
        ("edit.edl", b"", "no clip"),
        ("edit.otio", otio.schema.Timeline("empty").to_json_string().encode(), "no clip"),
        (
            "edit.otio",
            otio.schema.Clip("alone").to_json_string().encode(),
            "a Clip, not a timeline",
        ),
        (
            "edit.otio",
            edit_of(clip("a", 0, 9, 25))
            .to_json_string()
            .replace('"rate": 25.0', '"rate": 0.0')
            .encode(),
            "rate of the timeline cannot be told",
        ),
    ],
)
def test_files_that_are_off_say_why(name: str, content: bytes, says: str) -> None:
    with pytest.raises(TimelineError) as refused:
        read_timeline(name, content)
    assert says in refused.value.reason


def test_files_too_large_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    with pytest.raises(TimelineError, match="larger than 100 MB"):
        read_timeline("edit.otio", b" " * 100_000_001)
    monkeypatch.setattr(timeline_files, "MAX_EXPANDED_BYTES", 50_000)
    with pytest.raises(TimelineError, match="too large when unpacked"):
        read_timeline("edit.otioz", archive(content_otio=b"0" * 80_000))


@given(st.binary(max_size=200), st.sampled_from(["otio", "otioz", "edl"]))
@settings(deadline=None)
def test_any_bytes_are_read_or_refused(content: bytes, ending: str) -> None:
    with pytest.raises(TimelineError):
        read_timeline(f"x.{ending}", content)


def test_a_timeline_inside_a_timeline_counts_by_what_it_holds() -> None:
    def nested(frames: int) -> otio.schema.Timeline:
        inner = otio.schema.Stack(
            children=[otio.schema.Track(kind="Video", children=[clip("a", 0, frames, 25)])]
        )
        document = edit_of(clip("b", 0, 50, 25))
        document.tracks[0].append(inner)
        return document

    assert read(nested(100)).fingerprint == read(nested(100)).fingerprint
    assert read(nested(100)).fingerprint != read(nested(99)).fingerprint


def test_what_stands_in_a_stack_without_a_track_counts_as_a_track() -> None:
    """Some writers put a clip straight into a nested stack, or into the timeline's own."""

    def edit(frames: int, *, track: bool) -> otio.schema.Timeline:
        inner = clip("a", 0, frames, 25)
        held = otio.schema.Track(kind="Video", children=[inner]) if track else inner
        document = edit_of(clip("b", 0, 50, 25))
        document.tracks[0].append(otio.schema.Stack(children=[held]))
        return document

    bare = read(edit(100, track=False))
    assert bare.fingerprint == read(edit(100, track=True)).fingerprint
    assert bare.fingerprint != read(edit(99, track=False)).fingerprint
    top = edit_of(clip("b", 0, 50, 25))
    top.tracks.append(clip("over", 0, 20, 25))
    assert read(top).media == ("b.mov", "over.mov")


@pytest.mark.parametrize("number", ["Infinity", "-Infinity", "NaN", "Inf", "-Inf"])
def test_numbers_without_end_in_metadata_are_read(number: str) -> None:
    document = edit_of(clip("a Inf", 0, 9, 25, effect=0.25))
    text = document.to_json_string().replace('"lift": 0.25', f'"lift": {number}')
    assert number in text
    timeline = read_timeline("edit.otio", text.encode())
    parameters = dict(timeline.tracks[0].items[0].effects[0].parameters)
    assert parameters["lift"].casefold().strip("-")[:3] == number.casefold().strip("-")[:3]
    assert timeline.media == ("a Inf.mov",)


@pytest.mark.parametrize("value", ["Infinity", "NaN", "-Infinity"])
def test_a_time_that_is_none_is_refused_with_its_place(value: str) -> None:
    document = edit_of(clip("a", 0, 9, 25), clip("b", 0, 123, 25))
    document.global_start_time = otio.opentime.RationalTime(0, 25)
    text = document.to_json_string().replace('"value": 123.0', f'"value": {value}')
    with pytest.raises(TimelineError, match=r"^Track 1, item 2 \(b\) cannot be read: "):
        read_timeline("edit.otio", text.encode())


def test_a_file_that_crashes_its_reader_is_refused_and_the_next_one_read() -> None:
    """The native library does not survive this one; the process that reads it is replaced."""
    document = otio.schema.Timeline("edit")
    document.tracks.append(otio.schema.Track(children=[clip("a", 0, 10, 25.0)]))
    good = document.to_json_string().encode()
    time = b'{"OTIO_SCHEMA": "RationalTime.1", "rate": 25.0, "value": 1.0}'
    references = b'"media_references": {'
    # A time where a medium belongs, under a name that stands twice.
    crashing = good.replace(references, references + b'"a": ' + time + b"}, " + references)
    assert crashing != good

    def apart(content: bytes) -> Edit:
        return read_apart(TIMELINE, read_timeline, "edit.otio", content)

    assert apart(good).clips > 0
    with pytest.raises(ApartError, match="or crashed"):
        apart(crashing)
    assert apart(good).fingerprint == read_timeline("edit.otio", good).fingerprint
    with pytest.raises(TimelineError, match="not JSON"):
        apart(b"{")
