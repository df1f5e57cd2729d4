"""The kinds of film that Avlet writes, and how each is told to its encoder."""

from dataclasses import dataclass, field
from pathlib import Path
from typing import cast

import av
from av.video.codeccontext import VideoCodecContext
from av.video.stream import VideoStream

from avlet.document.template import Frame
from avlet.errors import RenderError
from avlet.media.planes import ARGB, H264, PRORES, RGBA, VP9, Layout

MOV_CODECS = ("prores", "png", "qtrle")
_BT709, _LIMITED, _FULL, _RGB_MATRIX = 1, 1, 2, 0


@dataclass(frozen=True)
class FilmFormat:
    """One kind of film. ``alone`` says that each frame is coded without the others, so that equal frames share a packet."""

    container: str
    codec: str
    layout: Layout
    alone: bool
    options: dict[str, str] = field(default_factory=dict)
    words: str = ""

    @property
    def in_slices(self) -> bool:
        """Whether its pictures are made of slices that can be put together."""
        return self.codec.startswith("prores")

    @property
    def even(self) -> bool:
        """Whether width and height have to be even."""
        return self.layout.halved or not self.layout.packed


_FILMS = {
    "prores": FilmFormat("mov", "prores_aw", PRORES, True, {}, "ProRes 4444 with alpha"),
    "png": FilmFormat("mov", "png", RGBA, True, {}, "PNG in a film, with alpha"),
    "qtrle": FilmFormat("mov", "qtrle", ARGB, True, {}, "run-length film with alpha"),
    "vp9": FilmFormat(
        "webm", "libvpx-vp9", VP9, False,
        {"auto-alt-ref": "0", "lossless": "1", "deadline": "realtime", "cpu-used": "8", "row-mt": "1"}, "VP9 with alpha",
    ),
    "h264": FilmFormat("mp4", "libx264", H264, False, {"preset": "veryfast", "crf": "17"}, "H.264, to look at"),
}  # fmt: skip


def film_format(output: Path, codec: str | None, plate: str | None) -> FilmFormat | None:
    """What to write for a file name; None stands for a folder of PNGs. Raises ``RenderError`` in words."""
    suffix = output.suffix.lower()
    if suffix == ".mov":
        if codec not in (None, *MOV_CODECS):
            raise RenderError(f"A .mov is written with {', '.join(MOV_CODECS)}, not “{codec}”.")
        return _FILMS[codec or "prores"]
    if codec is not None:
        raise RenderError(f"--codec is for .mov files; “{output.name}” has one kind only.")
    if suffix == ".mp4":
        if plate is None:
            raise RenderError("An .mp4 has no transparency: give a plate to put the title over, or write .mov, .webm or a folder.")
        return _FILMS["h264"]
    if suffix == ".webm":
        return _FILMS["vp9"]
    if suffix == "" or output.is_dir():
        return None
    raise RenderError(f"“{output.name}”: Avlet writes .mov, .webm, .mp4 over a plate, or a folder of PNGs.")


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
