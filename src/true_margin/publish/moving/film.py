"""Films out of frames, for an edit, with a clear background or without.

The same drawing gives the same bytes each time.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from enum import StrEnum
from typing import BinaryIO

import av
from av.container import OutputContainer
from av.video.reformatter import ColorRange, Colorspace, Interpolation, VideoReformatter
from PIL import Image

from true_margin.core.errors import CoreError
from true_margin.publish.moving.frames import Frame, FrameMaker, Pixels

Step = Callable[[float], None]
"""Told the part (0 to 1) that is done."""


class FilmKind(StrEnum):
    """The file of a clip."""

    PRORES = "prores"
    ANIMATION = "animation"
    WEBM = "webm"
    MP4 = "mp4"
    FRAMES = "frames"


@dataclass(frozen=True, slots=True)
class Recipe:
    """How a kind of film is written; ``clear`` is its format of pixels with a clear background.

    ``plain`` is that without one. Threads are fixed: encoders give other bytes with others.
    """

    ending: str
    media: str
    encoder: str
    plain: str
    clear: str | None
    options: dict[str, str] = field(default_factory=dict)


RECIPES = {
    FilmKind.PRORES: Recipe(
        "mov",
        "video/quicktime",
        "prores_ks",
        "yuv444p10le",
        "yuva444p10le",
        {
            "profile": "4444",
            "vendor": "apl0",
            "alpha_bits": "16",
            "global_quality": "472",
            "threads": "2",
        },
    ),
    FilmKind.ANIMATION: Recipe("mov", "video/quicktime", "qtrle", "rgb24", "argb"),
    FilmKind.WEBM: Recipe(
        "webm",
        "video/webm",
        "libvpx-vp9",
        "yuv420p",
        "yuva420p",
        {
            "deadline": "realtime",
            "cpu-used": "7",
            "crf": "20",
            "b": "0",
            "row-mt": "1",
            "tile-columns": "2",
            "auto-alt-ref": "0",
            "lag-in-frames": "0",
            "threads": "2",
        },
    ),
    FilmKind.MP4: Recipe(
        "mp4",
        "video/mp4",
        "libx264",
        "yuv420p",
        None,
        {"preset": "veryfast", "tune": "animation", "crf": "15", "threads": "2"},
    ),
}
ZIP_MEDIA = "application/zip"
LIKE_NOTHING = 1980
"""The year of every file in an archive of frames, so that its bytes are the same each time."""


class ClearFilmError(CoreError):
    """This kind of film has no clear background."""


def ending_of(kind: FilmKind) -> str:
    """How the name of a film's file ends."""
    return "zip" if kind is FilmKind.FRAMES else RECIPES[kind].ending


def media_of(kind: FilmKind) -> str:
    """The media type of a film's file."""
    return ZIP_MEDIA if kind is FilmKind.FRAMES else RECIPES[kind].media


def write_film(maker: FrameMaker, kind: FilmKind, into: BinaryIO, step: Step) -> None:
    """Write a film.

    Args:
        maker: of its frames.
        kind: of its file.
        into: where it goes; may be sought in.
        step: told how far it is.

    Raises:
        ClearFilmError: the drawing is clear and this kind of film is not.
    """
    if kind is FilmKind.FRAMES:
        _write_frames(maker, into, step)
        return
    recipe = RECIPES[kind]
    pixels = recipe.plain if maker.opaque else recipe.clear
    if pixels is None:
        raise ClearFilmError(
            f"A .{recipe.ending} film has no clear background: choose day or night, or another "
            f"kind of film."
        )
    rate = maker.timing.exact
    made = av.open(into, "w", format=recipe.ending, options={"fflags": "+bitexact"})
    with made:
        stream = made.add_stream(recipe.encoder, rate=rate, options=dict(recipe.options))
        assert isinstance(stream, av.VideoStream)
        stream.width = maker.width
        stream.height = maker.height
        stream.pix_fmt = pixels
        stream.codec_context.gop_size = max(1, round(rate))
        stream.codec_context.flags |= av.codec.context.Flags.bitexact
        stream.codec_context.color_range = ColorRange.MPEG
        stream.codec_context.colorspace = Colorspace.ITU709
        stream.codec_context.color_primaries = 1
        stream.codec_context.color_trc = 1
        _encode(maker, made, stream, pixels, step)
        made.mux(stream.encode(None))


def _encode(
    maker: FrameMaker, made: OutputContainer, stream: av.VideoStream, pixels: str, step: Step
) -> None:
    """Encode the frames in their order; the next one is drawn while one is encoded."""
    colours = VideoReformatter()
    last: av.VideoFrame | None = None
    base = 1 / maker.timing.exact

    def write(frame: av.VideoFrame) -> None:
        made.mux(stream.encode(frame))

    with ThreadPoolExecutor(1) as beside:
        before: Future[None] | None = None
        for frame in maker.frames():
            drawn = last
            if drawn is None or frame.changed:
                drawn = _frame(colours, frame, pixels)
            if before is not None:
                before.result()
            last = drawn
            last.pts, last.time_base = frame.number, base
            before = beside.submit(write, last)
            step((frame.number + 1) / maker.timing.frames)
        if before is not None:
            before.result()


def _frame(colours: VideoReformatter, frame: Frame, pixels: str) -> av.VideoFrame:
    """A frame in the colours of films for high definition."""
    made = av.VideoFrame.from_numpy_buffer(frame.pixels, format="rgba")
    if pixels in ("rgb24", "argb"):
        return colours.reformat(made, format=pixels, threads=1)
    # With several threads a few pixels at the seams of their parts are left as memory had them.
    return colours.reformat(
        made,
        format=pixels,
        dst_colorspace=Colorspace.ITU709,
        dst_color_range=ColorRange.MPEG,
        interpolation=Interpolation.BILINEAR | Interpolation.ACCURATE_RND,
        threads=1,
    )


def _write_frames(maker: FrameMaker, into: BinaryIO, step: Step) -> None:
    """Write every frame as a picture of its own, in one archive."""
    last = b""
    with zipfile.ZipFile(into, "w", zipfile.ZIP_STORED) as archive:
        for frame in maker.frames():
            if frame.changed or not last:
                last = picture_of(frame.pixels, opaque=maker.opaque)
            name = f"{frame.number:05d}.png"
            archive.writestr(zipfile.ZipInfo(name, (LIKE_NOTHING, 1, 1, 0, 0, 0)), last)
            step((frame.number + 1) / maker.timing.frames)


def picture_of(pixels: Pixels, *, opaque: bool) -> bytes:
    """A frame as PNG."""
    own = io.BytesIO()
    picture = Image.fromarray(pixels)
    (picture.convert("RGB") if opaque else picture).save(own, "PNG", compress_level=1)
    return own.getvalue()
