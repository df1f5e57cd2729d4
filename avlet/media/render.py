"""Rendering a title to a film or a folder of pictures. What is written is there whole or not at all."""

import functools
import io
import os
import re
import shutil
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import av
import numpy as np
from PIL import Image

from avlet.errors import AvletError, RenderError, StorageError
from avlet.geometry import Box
from avlet.media.coding import coded
from avlet.media.drawing import Drawing, Painter, drawn_planes, drawn_results
from avlet.media.formats import FilmFormat, add_stream, film_format, new_frame
from avlet.media.planes import memory_of, painted_area, regions, straight_bytes
from avlet.paint.scene import first_alike
from avlet.storage.atomic import replacing, sweep

_FRAME = re.compile(r"\d{5,}\.png")
Progress = Callable[[int, int], bool]
"""Called with frames done and frames in all; says whether to go on."""


class StoppedError(AvletError):
    """Rendering was stopped by the person who had asked for it."""


@dataclass(frozen=True)
class Rendered:
    """What was written."""

    path: Path
    frames: int
    drawn: int


def render(
    drawing: Drawing, output: Path, codec: str | None = None, progress: Progress = lambda done, total: True, workers: int | None = None
) -> Rendered:
    """Write ``drawing`` to ``output``: .mov, .webm, .mp4 over a plate, or a folder of PNGs.

    Raises ``RenderError`` or ``StorageError`` in words, ``StoppedError`` when ``progress`` says so; no file is left behind then.
    """
    film = film_format(output, codec, drawing.plate)
    if film and film.even and (drawing.width % 2 or drawing.height % 2):
        raise RenderError(f"{film.name} needs an even width and height, not {drawing.width}×{drawing.height}.")
    scene = drawing.scene()
    alike = list(range(scene.length)) if drawing.plate else first_alike(scene)
    try:
        if film is None:
            return _render_folder(drawing, output, alike, progress, workers)
        with replacing(output) as temporary:
            _render_film(drawing, film, temporary, alike, progress, workers)
    except av.FFmpegError as error:
        size = f"{drawing.width}×{drawing.height}"
        why = f"“{output.name}” could not be written at {size} ({error.strerror})."
        raise RenderError(f"{why} Nothing of it was left; try another size.") from None
    return Rendered(output, scene.length, len(set(alike)))


def _render_film(drawing: Drawing, film: FilmFormat, path: Path, alike: list[int], progress: Progress, workers: int | None) -> None:
    with av.open(str(path), "w", format=film.container) as container:
        writer = _SharedPackets if film.alone else _EveryFrame
        writer(container, drawing, film, alike, progress).run(workers)


class _FilmWriter:
    """What both ways of writing a film have in common."""

    def __init__(
        self, container: av.container.OutputContainer, drawing: Drawing, film: FilmFormat, alike: list[int], progress: Progress
    ) -> None:
        self.container, self.drawing, self.film, self.alike, self.progress = container, drawing, film, alike, progress
        self.stream = add_stream(container, film, drawing.template.frame, drawing.width, drawing.height)

    def tell(self, done: int) -> None:
        if not self.progress(done, len(self.alike)):
            raise StoppedError


class _SharedPackets(_FilmWriter):
    """Codecs that code each frame alone: workers paint and code, equal frames once, and their packet is written again."""

    def run(self, workers: int | None) -> None:
        packets: dict[int, bytes] = {}
        last_use = {first: number for number, first in enumerate(self.alike)}
        written = 0
        for frame, packet in drawn_results(self.drawing, sorted(set(self.alike)), functools.partial(coded, self.film), workers):
            packets[frame] = packet
            while written < len(self.alike) and self.alike[written] in packets:
                first = self.alike[written]
                self.write(packets[first], written)
                if last_use[first] == written:
                    del packets[first]
                written += 1
            self.tell(written)

    def write(self, data: bytes, number: int) -> None:
        packet = av.Packet(data)
        packet.pts = packet.dts = number
        packet.duration = 1
        packet.time_base = 1 / self.drawing.template.frame.fps
        packet.stream = self.stream
        packet.is_keyframe = True
        self.container.mux(packet)


@dataclass
class _Used:
    """An encoder's picture, and the area outside of which it is empty."""

    frame: av.VideoFrame
    area: Box | None


class _EveryFrame(_FilmWriter):
    """Codecs that code differences: every frame is coded, and a still stretch is drawn once."""

    def run(self, workers: int | None) -> None:
        self._whole = Box(0, 0, self.drawing.width, self.drawing.height)
        self._free: list[_Used] = []
        self._coding: dict[int, _Used] = {}
        changes = [f for f, first in enumerate(self.alike) if f == 0 or first != self.alike[f - 1]]
        ends = [*changes[1:], len(self.alike)]
        for (frame, planes, area), end in zip(drawn_planes(self.drawing, changes, self.film.layout, workers), ends, strict=True):
            for shown in range(frame, end):
                self.container.mux(self.encode(planes, shown, area))
                self.tell(shown + 1)
        self.container.mux(self.stream.encode(None))

    def encode(self, planes: list[np.ndarray], pts: int, area: Box | None) -> list[av.Packet]:
        """Code a picture that is empty outside of an area; the packets that are ready now, of this one or earlier ones.

        Pictures whose packets are there are used again, and only what differs is copied: fresh memory costs more than coding.
        """
        used = self._free.pop() if self._free else _Used(new_frame(self.film.layout, self.drawing.width, self.drawing.height), self._whole)
        changed = Box.union(box for box in (used.area, area) if box is not None)
        if changed is not None:
            layout = self.film.layout
            targets = [memory_of(plane, p.dtype)[: p.shape[0], : p.shape[1]] for plane, p in zip(used.frame.planes, planes, strict=True)]
            for target, source in zip(regions(targets, layout, changed), regions(planes, layout, changed), strict=True):
                target[...] = source
        used.area = area
        used.frame.pts, used.frame.time_base = pts, 1 / self.drawing.template.frame.fps
        self._coding[pts] = used
        packets = self.stream.encode(used.frame)
        self._free += [self._coding.pop(packet.pts) for packet in packets if packet.pts in self._coding]
        return packets


def _png_of(painter: Painter, frame: int) -> bytes:
    """A frame as a PNG with straight alpha."""
    return png_bytes(painter.paint(frame))


def png_bytes(rgba: np.ndarray) -> bytes:
    """Premultiplied RGBA as a PNG file, straight alpha as the format wants it."""
    picture = np.zeros_like(rgba)
    area = painted_area(rgba)
    if area:
        left, top, right, bottom = area
        picture[top:bottom, left:right] = straight_bytes(rgba[top:bottom, left:right])
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG", compress_level=3)
    return out.getvalue()


def _render_folder(drawing: Drawing, output: Path, alike: list[int], progress: Progress, workers: int | None) -> Rendered:
    digits = max(5, len(str(len(alike))))
    try:
        strange = next((item.name for item in output.iterdir() if not _FRAME.fullmatch(item.name)), None) if output.is_dir() else None
        if strange is not None:
            raise StorageError(f"The folder “{output.name}” holds other files ({strange}). Choose an empty one, or a new name.")
        output.parent.mkdir(parents=True, exist_ok=True)
        sweep(output.parent)
        work = Path(tempfile.mkdtemp(prefix=f".{output.name}.{os.getpid()}-", dir=output.parent))
    except OSError as error:
        raise StorageError(f"Could not write “{output}”: {error.strerror}. Choose another place or make room.") from None
    try:
        done = 0
        for frame, png in drawn_results(drawing, sorted(set(alike)), _png_of, workers):
            for shown in (f for f in range(frame, len(alike)) if alike[f] == frame):
                (work / f"{shown:0{digits}}.png").write_bytes(png)
                done += 1
            if not progress(done, len(alike)):
                raise StoppedError
        work.chmod(0o755)
        if output.is_dir():
            before = work.with_name(f"{work.name}-before")
            output.rename(before)
            work.rename(output)
            shutil.rmtree(before, ignore_errors=True)
        else:
            work.rename(output)
    except OSError as error:
        raise StorageError(f"Could not write “{output}”: {error.strerror}. Nothing of it was left; make room and try again.") from None
    finally:
        shutil.rmtree(work, ignore_errors=True)
    return Rendered(output, len(alike), len(set(alike)))
