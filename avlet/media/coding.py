"""Coding frames one by one, each without the others, wherever they are painted."""

import functools
import hashlib
from collections import OrderedDict
from collections.abc import Iterator
from typing import cast

import av
import numpy as np
from av.video.codeccontext import VideoCodecContext

from avlet.media.drawing import Painter
from avlet.media.formats import FilmFormat, new_frame, tell_encoder
from avlet.media.planes import fill_planes, memory_of, painted_area
from avlet.media.prores import ROW, Column, Sliced, columns_of, scale_of, sliced
from avlet.paint.painter import Pixels

_MOST_SLICES = 40_000
"""How many coded slices are kept: each has some hundred bytes."""
_HEIGHTS = (*range(4, 48, 4), *range(48, 128, 16), *range(128, 513, 64))
"""Slices are coded so many at a time, one under another; an encoder is made for each of these."""


_empties: dict[tuple[str, int, int], Sliced] = {}
_slices: dict[str, OrderedDict[bytes, bytes]] = {}
"""Coded slices by what their px come to, of each codec. All titles that this process draws share them: what is in a slice decides alone."""


class Coder:
    """Paints and codes frames of one drawing. Of ProRes every slice is coded once, however often it is seen, in whatever title."""

    def __init__(self, painter: Painter, film: FilmFormat) -> None:
        self.painter, self.film = painter, film
        self.width, self.height = painter.drawing.width, painter.drawing.height
        self.columns = columns_of(self.width)
        self._known = _slices.setdefault(film.codec, OrderedDict())
        self._encoder = functools.cache(self._new_encoder)

    def packet(self, frame: int) -> bytes:
        """A frame, coded."""
        pixels = self.painter.paint(frame)
        if not self.film.in_slices:
            return self._coded(pixels)
        area = painted_area(pixels)
        cells = list(self._cells(pixels, area)) if area is not None else []
        self._learn([(key, column, cell) for _, key, column, cell in cells if key not in self._known])
        for _, key, _, _ in cells:
            self._known.move_to_end(key)
        packet = self._empty.packet({number: self._known[key] for number, key, _, _ in cells})
        while len(self._known) > _MOST_SLICES:
            self._known.popitem(last=False)
        return packet

    def _cells(self, pixels: Pixels, area: tuple[int, int, int, int]) -> Iterator[tuple[int, bytes, Column, Pixels]]:
        """The slices in an area: the number of each, what its px come to, its column and its px."""
        left, top, right, bottom = area
        for number, column in enumerate(self.columns):
            if column.left >= right or column.left + column.width <= left:
                continue
            strip = np.ascontiguousarray(pixels[:, column.left : column.left + column.width])
            for row in range(top // ROW, -(-bottom // ROW)):
                cell = strip[row * ROW : (row + 1) * ROW]
                key = hashlib.blake2b(cell.data, digest_size=16, key=bytes([column.width // ROW])).digest()
                yield row * len(self.columns) + number, key, column, cell

    def _learn(self, new: list[tuple[bytes, Column, Pixels]]) -> None:
        """Code slices that were not seen before, those of one width together.

        An encoder that had to be coarser for a slice begins the next as coarse: what follows such a one is coded again behind an
        empty slice, so that what is in a slice alone decides its bytes.
        """
        for width in {column.width for _, column, _ in new}:
            mine = {key: cell for key, column, cell in new if column.width == width}
            coded = self._slices_of(list(mine.values()), width)
            usual = scale_of(self._empty.slices[0])
            again = [n for n in range(1, len(coded)) if scale_of(coded[n - 1]) != usual]
            cells = list(mine.values())
            apart = self._slices_of([cell for n in again for cell in (cells[n], np.zeros_like(cells[n]))], width)
            coded = [apart[2 * again.index(n)] if n in again else one for n, one in enumerate(coded)]
            self._known.update(zip(mine, coded, strict=True))

    def _slices_of(self, cells: list[Pixels], width: int) -> list[bytes]:
        """Slices of one width, coded one under another."""
        coded: list[bytes] = []
        while cells:
            height = next((h for h in _HEIGHTS if h >= len(cells)), _HEIGHTS[-1])
            some, cells = cells[:height], cells[height:]
            picture = np.zeros((height * ROW, width, 4), np.uint8)
            for n, cell in enumerate(some):
                beyond = ((0, ROW - cell.shape[0]), (0, width - cell.shape[1]), (0, 0))
                picture[n * ROW : (n + 1) * ROW] = np.pad(cell, beyond, "edge") if any(map(any, beyond)) else cell
            coded += sliced(self._coded(picture)).slices[: len(some)]
        return coded

    @functools.cached_property
    def _empty(self) -> Sliced:
        """A picture in which nothing is painted; known to all titles of a size."""
        key = (self.film.codec, self.width, self.height)
        if key not in _empties:
            _empties[key] = sliced(self._coded(np.zeros((self.height, self.width, 4), np.uint8)))
        return _empties[key]

    def _coded(self, pixels: Pixels) -> bytes:
        """A painted picture of any size, coded as a whole."""
        height, width = pixels.shape[:2]
        encoder, frame = self._encoder(width, height)
        layout = self.film.layout
        targets = [memory_of(plane, layout.dtype) for plane in frame.planes]
        for target, nothing in zip(targets, layout.empty, strict=True):
            target[...] = nothing
        planes = [target[: shape[0], : shape[1]] for target, shape in zip(targets, layout.shapes(width, height), strict=True)]
        fill_planes(pixels, planes, layout)
        frame.pts, frame.time_base = 0, encoder.time_base
        return b"".join(bytes(packet) for packet in encoder.encode(frame))

    def _new_encoder(self, width: int, height: int) -> tuple[VideoCodecContext, av.VideoFrame]:
        """An encoder for pictures of a size, and one that it takes."""
        encoder = cast(VideoCodecContext, VideoCodecContext.create(self.film.codec, "w"))
        encoder.width, encoder.height, encoder.pix_fmt = width, height, self.film.layout.pixel_format
        encoder.options = dict(self.film.options)
        encoder.framerate = self.painter.drawing.template.frame.fps
        tell_encoder(encoder, self.film, self.painter.drawing.template.frame)
        encoder.thread_count = 1
        return encoder, new_frame(self.film.layout, width, height)


def coded(film: FilmFormat, painter: Painter, frame: int) -> bytes:
    """In a worker: a frame, painted and coded."""
    coder = painter.coder
    if not isinstance(coder, Coder):
        coder = painter.coder = Coder(painter, film)
    return coder.packet(frame)
