"""The kinds of film that Avlet writes, and how each is told to its encoder."""

from dataclasses import dataclass, field
from pathlib import Path
from typing import cast

import av
from av.video.codeccontext import VideoCodecContext
from av.video.stream import VideoStream

from avlet.document.template import Frame
from avlet.errors import RenderError
from avlet.media.films import SUFFIXES, film_named, films_of, names_of
from avlet.media.planes import ARGB, H264, PRORES, RGBA, VP9, Layout

_BT709, _LIMITED, _FULL, _RGB_MATRIX = 1, 1, 2, 0


@dataclass(frozen=True)
class FilmFormat:
    """How the film of that name is coded. ``alone`` says that each frame is coded without the others, so that equal frames share one."""

    name: str
    container: str
    codec: str
    layout: Layout
    alone: bool
    options: dict[str, str] = field(default_factory=dict)

    @property
    def in_slices(self) -> bool:
        """Whether its pictures are made of slices that can be put together."""
        return self.codec.startswith("prores")

    @property
    def even(self) -> bool:
        """Whether width and height have to be even."""
        return self.layout.halved or not self.layout.packed


_FORMATS = (
    FilmFormat("prores", "mov", "prores_aw", PRORES, True),
    FilmFormat("png", "mov", "png", RGBA, True),
    FilmFormat("qtrle", "mov", "qtrle", ARGB, True),
    FilmFormat(
        "webm", "webm", "libvpx-vp9", VP9, False,
        {"auto-alt-ref": "0", "lossless": "1", "deadline": "realtime", "cpu-used": "8", "row-mt": "1"},
    ),
    FilmFormat("over", "mp4", "libx264", H264, False, {"preset": "veryfast", "crf": "17"}),
)  # fmt: skip
"""How each film of the table is coded."""


def film_format(output: Path, codec: str | None, plate: str | None) -> FilmFormat | None:
    """What to write for a file name; None stands for a folder of PNGs. Raises ``RenderError`` in words."""
    suffix = output.suffix.lower()
    if suffix == "" or output.is_dir():
        if codec is not None:
            raise RenderError(f"“{output.name}” is a folder of PNGs; --codec is for films: {names_of()}.")
        return None
    offered = films_of(suffix)
    if not offered:
        raise RenderError(f"“{output.name}”: Avlet writes {', '.join(SUFFIXES[:-1])}, {SUFFIXES[-1]} over a plate, or a folder of PNGs.")
    film = offered[0] if codec is None else film_named(codec)
    if film is None:
        raise RenderError(f"“{codec}” is no film that Avlet writes. There are: {names_of()}.")
    if film not in offered:
        raise RenderError(f"A {suffix} is written as {names_of(suffix)}, not as {film.name}, which is a {film.suffix}.")
    if film.over and plate is None:
        raise RenderError(f"An {suffix} has no transparency: give a plate to put the title over, or write .mov, .webm or a folder.")
    return next(one for one in _FORMATS if one.name == film.name)


def add_stream(container: "av.container.OutputContainer", film: FilmFormat, frame: Frame, width: int, height: int) -> VideoStream:
    """A video stream with size, rate, BT.709 matrix and range set."""
    stream = cast(VideoStream, container.add_stream(film.codec, rate=frame.fps, options=dict(film.options)))
    stream.width, stream.height, stream.pix_fmt = width, height, film.layout.pixel_format
    stream.time_base = 1 / frame.fps
    tell_encoder(stream.codec_context, film, frame)
    stream.codec_context.thread_count = 2
    if film.codec == "libvpx-vp9":
        stream.metadata["alpha_mode"] = "1"
    return stream


def tell_encoder(context: VideoCodecContext, film: FilmFormat, frame: Frame) -> None:
    """Set an encoder's rate, BT.709 matrix and range."""
    context.time_base = 1 / frame.fps
    context.color_primaries = context.color_trc = _BT709
    context.colorspace = _RGB_MATRIX if film.layout.packed else _BT709
    context.color_range = _FULL if film.layout.packed else _LIMITED
    if film.alone:
        context.gop_size = 1


def new_frame(layout: Layout, width: int, height: int) -> av.VideoFrame:
    """An encoder's picture of the right kind, its memory not yet filled."""
    frame = av.VideoFrame(width, height, layout.pixel_format)
    frame.colorspace = _RGB_MATRIX if layout.packed else _BT709
    frame.color_range = _FULL if layout.packed else _LIMITED
    return frame
