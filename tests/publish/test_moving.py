"""Cards that move: true to their data at every frame, and the still at the end."""

from __future__ import annotations

import io
import wave
import zipfile
from itertools import product

import av
import numpy as np
import pytest
from av.container import InputContainer
from numpy.typing import NDArray
from PIL import Image

from tests.publish.test_cards import CARDS, HEAD, LONG
from true_margin.publish.canvas import Box, Canvas, Drawing
from true_margin.publish.card_data import BarCard, BarRow, CardSetup, RaceCard, RaceRun
from true_margin.publish.cards import draw_card, to_png
from true_margin.publish.cues import Count, Way, along
from true_margin.publish.looks import LOOKS, LookName, Shape
from true_margin.publish.moving.apart import FilmError, film_apart
from true_margin.publish.moving.film import ClearFilmError, FilmKind, ending_of, write_film
from true_margin.publish.moving.frames import FADE_S, FrameMaker, Pixels, Timing, _written
from true_margin.publish.moving.sound import SAMPLES_S, write_ticks

SHORT = Timing(10.0, 2.0, 0.5)
QUIET = BarCard(
    HEAD,
    "seconds, less is better",
    tuple(
        BarRow(CardSetup(LONG[at], at), value, value, value, f"{value:.0f} s", "clear", "")
        for at, value in enumerate((30.0, 60.0, 90.0))
    ),
)


def frames_of(drawing: Drawing, timing: Timing, scale: float = 1.0) -> list[Pixels]:
    maker = FrameMaker(drawing, timing, scale)
    return [frame.pixels.copy() for frame in maker.frames()]


def still_of(drawing: Drawing) -> Pixels:
    return np.asarray(Image.open(io.BytesIO(to_png(drawing))).convert("RGBA"))


def as_seen(pixels: Pixels) -> NDArray[np.int64]:
    """Pixels with their colours as far as they are seen, which is what lies on a film."""
    seen = pixels[..., 3:].astype(np.int64)
    return np.asarray(pixels[..., :3].astype(np.int64) * seen // 255)


def opened(made: bytes) -> InputContainer:
    return av.open(io.BytesIO(made), "r")


LAST = [(name, LookName.CLEAR) for name in CARDS] + [("bars", LookName.DAY)]


@pytest.mark.parametrize(("name", "look"), LAST)
def test_a_still_is_the_last_frame_of_its_clip(name: str, look: LookName) -> None:
    drawing = draw_card(CARDS[name], Shape.SQUARE, look)
    found = frames_of(drawing, Timing(4.0, 1.5, 0.25))
    assert len(found) == 6
    assert np.array_equal(found[-1], still_of(drawing))
    # It begins with less: what comes is not there yet.
    assert not np.array_equal(found[0], found[-1])


@pytest.mark.parametrize("name", ["bars", "rule", "prices, spread", "race"])
def test_what_came_piece_by_piece_is_the_whole(name: str) -> None:
    """The frame before the last is laid together; no eye sees it change into the still."""
    drawing = draw_card(CARDS[name], Shape.SQUARE, LookName.CLEAR)
    timing = Timing(25.0, 2.0, 1.0)
    maker = FrameMaker(drawing, timing)
    last: Pixels | None = None
    whole = still_of(drawing)
    for frame in maker.frames():
        if np.array_equal(frame.pixels, whole):
            break
        last = frame.pixels.copy()
    assert last is not None
    away = np.abs(as_seen(last) - as_seen(whole)).max(axis=2)
    # What still fades in at that moment is the title and the last figures: most is as it will be.
    assert np.quantile(away, 0.9) <= 3


def inked(pixels: Pixels, row: int) -> int:
    """How many pixels of a row have the ink of bars."""
    ink = tuple(int(LOOKS[LookName.DAY].mute[at : at + 2], 16) for at in (1, 3, 5))
    return int((np.abs(pixels[row, :, :3].astype(int) - ink).sum(axis=1) < 6).sum())


@pytest.mark.parametrize("at_s", [0.5, 1.0, 2.0, 3.0])
def test_bars_stand_where_their_machines_stood(at_s: float) -> None:
    drawing = draw_card(QUIET, Shape.WIDE, LookName.DAY)
    fills = sorted(
        (b for b in drawing.boxes if not b.text and b.width > 60 and 30 < b.height < 160),
        key=lambda box: box.y,
    )
    timing = Timing(10.0, 4.0, 1.0)
    pixels = frames_of(drawing, timing)[round(at_s * 10)]
    longest = fills[-1].width
    # In 3 s of motion 90 s go by: each bar is as long as its machine had worked until then.
    for fill, value in zip(fills, (30.0, 60.0, 90.0), strict=True):
        true = longest * min(value, 30.0 * at_s) / 90.0
        assert inked(pixels, round(fill.y + 4)) == pytest.approx(true, abs=longest / 90)


def test_a_race_is_true_to_its_marks() -> None:
    run = RaceRun(CardSetup("A", 0), ((0, 0), (10, 0.5), (40, 1.0)), "0:40", "", True)
    drawing = draw_card(RaceCard(HEAD, (run,)), Shape.WIDE, LookName.DAY)
    track = next(b for b in drawing.boxes if not b.text and b.width > 400 and b.height > 30)
    timing = Timing(10.0, 5.0, 1.0)
    found = frames_of(drawing, timing)
    # 40 s go by in 4 s: half is done after 1 s, three quarters after 2.5 s.
    for at_s, part in ((0.5, 0.25), (1.0, 0.5), (2.5, 0.75), (4.5, 1.0)):
        wide = inked(found[round(10 * at_s)], round(track.y + track.height / 3))
        assert wide == pytest.approx(part * track.width, abs=0.02 * track.width)


@pytest.mark.parametrize(("name", "shape"), list(product(CARDS, Shape)))
def test_figures_that_run_lie_over_nothing(name: str, shape: Shape) -> None:
    """At the moments when something is done, and between: on the card, and over no other text."""
    drawing = draw_card(CARDS[name], shape, LookName.NIGHT)
    landing = [
        (layer.cue.done, box)
        for layer in drawing.layers
        if layer.cue is not None and layer.cue.way is Way.LAND
        for box in layer.boxes
    ]
    coming = {id(box) for _, box in landing}
    always = [box for box in drawing.boxes if id(box) not in coming and box.text.strip()]
    for at in sorted({*drawing.ticks, 0.1, 0.33, 0.5, 0.8}):
        part = at - 1e-6
        there = [*always, *(box for since, box in landing if since < part and box.text.strip())]
        for counter in drawing.counters:
            if not counter.values[0][0] < part < counter.values[-1][0]:
                continue
            canvas = Canvas(drawing.width, drawing.height, drawing.look)
            box = canvas.text(
                along(counter.places, part),
                counter.y,
                _written(counter, along(counter.values, part)),
                size=counter.size,
                face="figure",
                anchor="end" if counter.to_left else "start",
            )
            assert box.x >= 0
            assert box.x + box.width <= drawing.width
            over = [other.text for other in there if box.meets(other, 1.5)]
            assert over == [], (at, box)


def test_with_cuts_nothing_glides() -> None:
    drawing = draw_card(QUIET, Shape.WIDE, LookName.DAY)
    moments = {layer.cue.done for layer in drawing.layers if layer.cue is not None}
    seen = {frame.tobytes() for frame in frames_of(drawing, Timing(25.0, 4.0, 1.0, cuts=True))}
    assert len(seen) <= len(moments) + 1
    assert len({frame.tobytes() for frame in frames_of(drawing, Timing(25.0, 4.0, 1.0))}) > 70


@pytest.mark.parametrize(
    ("rate", "seconds", "frames"),
    [
        (23.976, 8.0, 192),
        (24.0, 8.0, 192),
        (25.0, 8.0, 200),
        (29.97, 10.01, 300),
        (50.0, 0.5, 25),
        (59.94, 1.0, 60),
    ],
)
def test_a_clip_has_whole_frames_of_its_rate(rate: float, seconds: float, frames: int) -> None:
    timing = Timing(rate, seconds, 0.2)
    assert timing.frames == frames
    assert timing.at_s(frames) == pytest.approx(float(frames / timing.exact))


def test_a_clear_clip_is_clear_and_keeps_its_colours() -> None:
    drawing = draw_card(QUIET, Shape.SQUARE, LookName.CLEAR)
    found = frames_of(drawing, SHORT)
    for pixels in (found[0], found[10], found[-1]):
        assert (pixels[..., 3] == 0).mean() > 0.5
        # What is half seen has the colour of its ink, not a darker one.
        edge = (pixels[..., 3] > 100) & (pixels[..., 3] < 200)
        assert pixels[edge][:, :3].max() > 200
    assert {pixels.shape for pixels in found} == {(1080, 1080, 4)}


def test_a_preview_has_the_same_frames_at_half_the_size() -> None:
    drawing = draw_card(QUIET, Shape.WIDE, LookName.DAY)
    large, small = (frames_of(drawing, SHORT, scale) for scale in (1.0, 0.5))
    assert len(large) == len(small)
    for one, other in zip(large, small, strict=True):
        picture = Image.fromarray(one).resize((960, 540), Image.Resampling.BOX)
        away = np.abs(np.asarray(picture).astype(int) - other.astype(int))
        assert away.mean() < 1.5


def film(drawing: Drawing, kind: FilmKind, timing: Timing = SHORT, scale: float = 0.5) -> bytes:
    into = io.BytesIO()
    told: list[float] = []
    write_film(FrameMaker(drawing, timing, scale), kind, into, told.append)
    assert told == sorted(told)
    assert told[-1] == 1.0
    return into.getvalue()


FILMS = [
    (FilmKind.PRORES, "prores", "yuv444p12le", "yuva444p12le"),
    (FilmKind.ANIMATION, "qtrle", "rgb24", "argb"),
    (FilmKind.WEBM, "vp9", "yuv420p", "yuv420p"),
    (FilmKind.MP4, "h264", "yuv420p", None),
]


@pytest.mark.parametrize(("kind", "codec", "plain", "clear"), FILMS)
@pytest.mark.parametrize("rate", [25.0, 29.97])
def test_a_film_is_read_back_frame_by_frame(
    kind: FilmKind, codec: str, plain: str, clear: str | None, rate: float
) -> None:
    timing = Timing(rate, 0.8, 0.2)
    for look, pixels in ((LookName.DAY, plain), (LookName.CLEAR, clear)):
        if pixels is None:
            continue
        drawing = draw_card(QUIET, Shape.SQUARE, look)
        made = film(drawing, kind, timing)
        assert made == film(drawing, kind, timing), "the same bytes every time"
        with opened(made) as container:
            stream = container.streams.video[0]
            assert (stream.codec_context.name, stream.width, stream.height) == (codec, 540, 540)
            assert stream.average_rate == timing.exact
            assert stream.pix_fmt == pixels
            found = list(container.decode(stream))
        assert len(found) == timing.frames
        times = [float(frame.time or 0.0) for frame in found]
        assert [round(at * timing.exact) for at in times] == list(range(timing.frames))
        if look is LookName.DAY:
            last = found[-1].to_ndarray(format="rgb24").astype(int)
            shown = frames_of(drawing, timing, 0.5)[-1][..., :3]
            assert np.abs(last - shown).mean() < 2.5


def test_a_clear_film_for_pages_has_its_background_in_a_layer_of_its_own() -> None:
    made = film(draw_card(QUIET, Shape.SQUARE, LookName.CLEAR), FilmKind.WEBM)
    with opened(made) as container:
        assert container.streams.video[0].metadata.get("alpha_mode") == "1"


def test_a_clear_film_keeps_what_is_clear() -> None:
    drawing = draw_card(QUIET, Shape.SQUARE, LookName.CLEAR)
    for kind in (FilmKind.PRORES, FilmKind.ANIMATION):
        with opened(film(drawing, kind)) as container:
            last = list(container.decode(video=0))[-1].to_ndarray(format="rgba")
        shown = frames_of(drawing, SHORT, 0.5)[-1]
        assert np.abs(last[..., 3].astype(int) - shown[..., 3]).max() <= 2


def test_a_film_without_a_clear_background_says_so() -> None:
    with pytest.raises(ClearFilmError, match=r"\.mp4 film has no clear background: choose day"):
        film(draw_card(QUIET, Shape.WIDE, LookName.CLEAR), FilmKind.MP4)


def test_frames_as_pictures_are_numbered_and_the_last_is_the_still() -> None:
    drawing = draw_card(QUIET, Shape.SQUARE, LookName.CLEAR)
    made = film(drawing, FilmKind.FRAMES, scale=1.0)
    assert made == film(drawing, FilmKind.FRAMES, scale=1.0)
    with zipfile.ZipFile(io.BytesIO(made)) as archive:
        names = archive.namelist()
        last = np.asarray(Image.open(io.BytesIO(archive.read(names[-1]))))
    assert names == [f"{number:05d}.png" for number in range(SHORT.frames)]
    assert np.array_equal(last, still_of(drawing))
    assert ending_of(FilmKind.FRAMES) == "zip"


def test_a_tick_stands_on_the_frame_where_a_bar_is_done() -> None:
    drawing = draw_card(QUIET, Shape.WIDE, LookName.DAY)
    timing = Timing(29.97, 4.0, 1.0)
    with wave.open(io.BytesIO(write_ticks(drawing.ticks, timing))) as sound:
        assert (sound.getnchannels(), sound.getframerate()) == (1, SAMPLES_S)
        samples = np.frombuffer(sound.readframes(sound.getnframes()), "<i2")
    assert len(samples) == round(timing.frames / timing.exact * SAMPLES_S)
    loud = np.flatnonzero(np.abs(samples) > 3000)
    starts = loud[np.diff(loud, prepend=-SAMPLES_S) > SAMPLES_S // 2]
    # 30, 60 and 90 s of 90 in 3 s of motion: at 1, 2 and 3 s, on the frame that shows it first.
    wanted = [timing.frame_of(part) / timing.exact * SAMPLES_S for part in (1 / 3, 2 / 3, 1.0)]
    assert list(starts) == pytest.approx([float(each) for each in wanted], abs=1)
    assert np.abs(samples).max() < 0.25 * 32767, "it lies under a voice"


def test_a_film_is_made_in_a_process_of_its_own_and_can_be_ended() -> None:
    drawing = draw_card(QUIET, Shape.SQUARE, LookName.DAY)
    parts: list[float] = []
    made = film_apart(drawing, SHORT, FilmKind.MP4, parts.append, scale=0.5)
    assert made == film(drawing, FilmKind.MP4)
    assert parts

    class EnoughError(Exception):
        pass

    def enough(_: float) -> None:
        raise EnoughError

    with pytest.raises(EnoughError):
        film_apart(drawing, SHORT, FilmKind.MP4, enough)
    clear = draw_card(QUIET, Shape.SQUARE, LookName.CLEAR)
    with pytest.raises(FilmError, match="no clear background"):
        film_apart(clear, SHORT, FilmKind.MP4, parts.append)


def test_a_running_figure_is_written_as_the_one_that_lands() -> None:
    bars = draw_card(CARDS["bars"], Shape.WIDE, LookName.DAY).counters
    assert {each.count for each in bars} == {Count.TIME}
    assert _written(bars[0], 61.0) == "1:01"
    more = BarCard(HEAD, "points, more is better", QUIET.rows, amount=True)
    (first, *_) = draw_card(more, Shape.WIDE, LookName.DAY).counters
    assert (_written(first, 12.345), first.count) == ("12.3", Count.AMOUNT)


def test_what_lands_is_there_when_its_fade_is_over() -> None:
    drawing = draw_card(CARDS["pick"], Shape.WIDE, LookName.DAY)
    first = min(layer.cue.done for layer in drawing.layers if layer.cue is not None)
    timing = Timing(25.0, 4.0, 1.0)
    found = frames_of(drawing, timing)
    whole = still_of(drawing)
    layer = next(each for each in drawing.layers if each.cue and each.cue.done == first)
    box: Box = max(layer.boxes, key=lambda each: each.width)
    place = np.s_[round(box.y) : round(box.y + box.height), round(box.x) : round(box.x + box.width)]
    after = round((first * timing.motion_s + FADE_S) * 25) + 1
    assert np.abs(found[after][place].astype(int) - whole[place]).max() <= 3
    assert not np.array_equal(found[0][place], whole[place])
