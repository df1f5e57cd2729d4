"""A person's own films and stills under the titles: opened with PyAV and Pillow, read at any moment, filled into the frame."""

import functools
from collections import OrderedDict
from pathlib import Path

import numpy as np
from PIL import Image, UnidentifiedImageError

from avlet.errors import StorageError
from avlet.limits import MOST_PICTURE_PIXELS
from avlet.paint.painter import Pixels

STILLS = (".png", ".jpg", ".jpeg", ".webp")
FILMS = (".mp4", ".mov", ".webm", ".mkv", ".avi", ".m4v")
_KEPT, _AHEAD = 24, 3.0
"""Decoded pictures that are kept; seconds ahead up to which decoding on is quicker than seeking."""


class Footage:
    """One film or still. Pictures come as opaque RGBA of the size that is asked for, cropped to fill it."""

    def __init__(self, path: Path) -> None:
        import av

        self.path = path
        self._still: Image.Image | None = None
        self._kept: OrderedDict[tuple[int, int, int], Pixels] = OrderedDict()
        try:
            if path.suffix.lower() in STILLS:
                self._open_still()
            else:
                self._open_film()
        except (OSError, UnidentifiedImageError, Image.DecompressionBombError, av.FFmpegError, ValueError) as error:
            raise StorageError(f"“{path.name}” cannot be shown: {getattr(error, 'strerror', None) or error}.") from None

    def _open_still(self) -> None:
        with Image.open(self.path) as image:
            if image.width * image.height > MOST_PICTURE_PIXELS:
                raise StorageError(f"“{self.path.name}” is too large. Use at most {MOST_PICTURE_PIXELS // 10**6} megapixels.")
            self._still = image.convert("RGB")
        self.seconds, self.rate = 10.0, 0.0

    def _open_film(self) -> None:
        import av

        self._container = av.open(str(self.path))
        if not self._container.streams.video:
            raise StorageError(f"“{self.path.name}” has no picture in it.")
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "AUTO"
        self.rate = float(self._stream.average_rate or 25)
        length = self._stream.duration * self._stream.time_base if self._stream.duration and self._stream.time_base else None
        container = self._container.duration / av.time_base if self._container.duration else None
        self.seconds = float(length or container or 10.0)
        self._decoder = self._container.decode(self._stream)
        self._last: av.VideoFrame | None = None

    @property
    def is_still(self) -> bool:
        """Whether it is one picture only."""
        return self._still is not None

    def picture(self, seconds: float, width: int, height: int) -> Pixels:
        """The picture at a moment; the last one beyond its end."""
        if self._still is not None:
            return self._keep((0, width, height), lambda: _filled(self._still, width, height))
        number = max(0, int(min(seconds, self.seconds) * self.rate + 1e-6))
        return self._keep((number, width, height), lambda: _filled(self._decoded(number / self.rate), width, height))

    def _keep(self, key: tuple[int, int, int], make: object) -> Pixels:
        if key not in self._kept:
            self._kept[key] = make()  # type: ignore[operator]
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
        return self._kept[key]

    def _decoded(self, seconds: float) -> Image.Image:
        """The film's frame that shows at a moment."""
        import av

        try:
            last = self._last
            if last is None or last.time is None or not last.time - 1e-6 <= seconds < last.time + _AHEAD:
                start = float((self._stream.start_time or 0) * (self._stream.time_base or 0))
                self._container.seek(int((start + seconds) / float(self._stream.time_base or 1)), stream=self._stream)
                self._decoder, self._last = self._container.decode(self._stream), None
            half = 0.5 / self.rate
            while self._last is None or (self._last.time or 0.0) + half < seconds:
                following = next(self._decoder, None)
                if following is None:
                    break
                self._last = following
        except av.FFmpegError as error:
            raise StorageError(f"“{self.path.name}” is damaged at {seconds:.1f} s ({error.strerror}).") from None
        if self._last is None:
            raise StorageError(f"“{self.path.name}” has no picture at {seconds:.1f} s.")
        return self._last.to_image()


def _filled(image: Image.Image, width: int, height: int) -> Pixels:
    scale = max(width / image.width, height / image.height)
    size = max(width, round(image.width * scale)), max(height, round(image.height * scale))
    left, top = (size[0] - width) // 2, (size[1] - height) // 2
    made = image.resize(size, Image.Resampling.BILINEAR).crop((left, top, left + width, top + height))
    pixels = np.full((height, width, 4), 255, np.uint8)
    pixels[..., :3] = np.asarray(made)
    return pixels


@functools.lru_cache(maxsize=8)
def footage_at(path: Path) -> Footage | str:
    """A film or still, opened once; or why it cannot be shown."""
    if not path.exists():
        return f"The film or still “{path.name}” is not at {path.parent} any more. Put it back, or take the clip off."
    try:
        return Footage(path)
    except StorageError as error:
        return str(error)
