"""Reels: a title as pictures and when each shows, for whoever cannot paint, such as a browser.

Each different picture is there once, cut to what is drawn in it, as lossless WebP with alpha. ``reel.json`` says for every frame which
pictures lie where, so that a hold that stands still costs nothing, and a roll by whole px only what passes.
"""

import hashlib
import io
from collections.abc import Collection
from pathlib import Path
from typing import Any

import msgspec
from PIL import Image

from avlet.document.template import Updates
from avlet.errors import RenderError
from avlet.layout.bodies.rolling_list import RollingList
from avlet.limits import MOST_REEL, MOST_REEL_PICTURES
from avlet.media.drawing import Drawing, Painter
from avlet.media.planes import painted_area, straight_bytes
from avlet.media.render import Progress, StoppedError
from avlet.media.scrolls import LEAST, Run, Way, step_of
from avlet.paint.painter import Pixels
from avlet.paint.scene import Scene, first_alike
from avlet.storage.archive import write_folder

REEL = "reel.json"


class ReelPicture(msgspec.Struct, frozen=True):
    """One picture: its file beside ``reel.json``, its size in px, and in bytes."""

    file: str
    width: int
    height: int
    bytes: int


class Lies(msgspec.Struct, frozen=True, array_like=True):
    """Where a picture lies in a frame: its number, counted from 0, and its left top corner in px; a roll's may lie partly outside."""

    picture: int
    x: int
    y: int


class Reel(msgspec.Struct, frozen=True, kw_only=True):
    """What is shown when. ``frames`` has for each frame what lies in it, back to front; nothing for an empty one.

    ``rate`` is frames a second as a fraction; the way in is the first ``way_in`` frames, the way out the last ``way_out``. ``updates`` says
    what is to be done where other answers come while it stands: exchange it in place, or let it go out and come in again.
    """

    format: int = 1
    name: str
    width: int
    height: int
    rate: str
    length: int
    way_in: int
    way_out: int
    updates: Updates = "in place"
    pictures: tuple[ReelPicture, ...]
    frames: tuple[tuple[Lies, ...], ...]


def reel_schema() -> dict[str, Any]:
    """The JSON Schema of ``reel.json``."""
    made = msgspec.json.schema(Reel)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Reel of an Avlet title", **made}


def reel_of(drawing: Drawing, told: Progress = lambda done, of: True) -> tuple[Reel, dict[str, bytes]]:
    """A title's reel and its pictures by file name.

    Raises ``RenderError`` where there would be too many or too large ones, ``StoppedError`` where ``told`` says so.
    """
    painter = Painter(drawing)
    scene = painter.scene
    alike = first_alike(scene)
    different = sorted(set(alike))
    making = _Making(scene.template.name)
    rolling = next((part_id for part_id, part in scene.rest.parts.items() if isinstance(part.body, RollingList)), None)
    if rolling is None:
        refuse_too_many(len(different), scene.template.name)
    for number, frame in enumerate(different):
        making.take(frame, painter.paint(frame), _place_of_list(scene, rolling, frame, drawing.width))
        if not told(number + 1, len(different)):
            raise StoppedError(f"The reel of {scene.template.name} was stopped; nothing was written.")
    lies = making.end()
    rate, spans = scene.template.frame.fps, scene.spans
    reel = Reel(
        name=scene.template.name, width=drawing.width, height=drawing.height, rate=f"{rate.numerator}/{rate.denominator}",
        length=scene.length, way_in=spans.way_in, way_out=spans.way_out, updates=scene.bound.template.updates,
        pictures=tuple(making.pictures), frames=tuple(lies[n] for n in alike),
    )  # fmt: skip
    return reel, making.files


def _place_of_list(scene: Scene, part_id: str | None, frame: int, width: int) -> tuple[float, float] | None:
    """Where a list stands in a frame, in px of a picture so wide."""
    posed = scene.pose(frame).parts.get(part_id) if part_id is not None else None
    if posed is None or not len(posed.shift):
        return None
    scale = width / scene.template.frame.width
    return float(posed.shift[0][0]) * scale, float(posed.shift[0][1]) * scale


class _Making:
    """Takes frames one after another: each picture is kept once, and what moves by whole px as tiles of what passes."""

    def __init__(self, name: str) -> None:
        self.name = name
        self.pictures: list[ReelPicture] = []
        self.files: dict[str, bytes] = {}
        self._known: dict[bytes, int] = {}
        self._lies: dict[int, tuple[Lies, ...]] = {}
        self._held = 0
        self._last: tuple[int, Pixels, tuple[float, float] | None] | None = None
        self._waiting: dict[int, tuple[Pixels, int, int] | None] = {}
        self._run: Run | None = None

    def take(self, frame: int, pixels: Pixels, at: tuple[float, float] | None) -> None:
        """The next frame, premultiplied RGBA, and where a list stands in it, in px."""
        area = painted_area(pixels)
        whole = pixels.copy() if at is not None else pixels
        step = step_of(self._last[2], at) if self._last is not None and self._last[2] is not None and at is not None else None
        if self._run is not None and (step is None or step[0] != self._run.way or not self._run.take(frame, whole, step[1])):
            self._end_run()
        if self._run is None:
            if step is not None and self._last is not None and area is not None:
                self._begin_run(step[0], self._last[:2], (frame, whole), step[1])
            self._keep_waiting(but=self._run.offsets if self._run is not None else ())
        if area is None:
            self._waiting[frame] = None
        else:
            left, top, right, bottom = area
            self._waiting[frame] = pixels[top:bottom, left:right].copy(), left, top
        if self._run is not None and len(self._run.offsets) >= LEAST:
            self._waiting = {one: kept for one, kept in self._waiting.items() if one not in self._run.offsets}
        self._last = frame, whole, at

    def _begin_run(self, way: Way, first: tuple[int, Pixels], second: tuple[int, Pixels], by: int) -> None:
        run = Run(way, self._put, first[1].shape[1 if way.across else 0])
        run.begin(*first)
        if run.take(*second, by):
            self._run = run

    def end(self) -> dict[int, tuple[Lies, ...]]:
        """What lies where in each frame that was taken."""
        self._end_run()
        self._keep_waiting()
        return self._lies

    def _end_run(self) -> None:
        """What moved moves no more: long enough, it is tiles; else each frame is a picture."""
        run, self._run = self._run, None
        if run is not None and len(run.offsets) >= LEAST:
            self._lies |= {frame: tuple(Lies(*one) for one in lying) for frame, lying in run.end()}
        self._keep_waiting()

    def _keep_waiting(self, but: Collection[int] = ()) -> None:
        for frame, cut in self._waiting.items():
            if frame not in but:
                self._lies[frame] = () if cut is None else (Lies(self._put(cut[0]), cut[1], cut[2]),)
        self._waiting = {frame: cut for frame, cut in self._waiting.items() if frame in but}

    def _put(self, painted: Pixels) -> int:
        """Keep a picture, premultiplied RGBA, once; its number. Raises ``RenderError`` for too many, or too large ones."""
        crop = straight_bytes(painted)
        mark = hashlib.blake2b(crop.tobytes(), digest_size=16, salt=f"{crop.shape[1]}x{crop.shape[0]}".encode()[:16]).digest()
        if mark not in self._known:
            refuse_too_many(len(self.pictures) + 1, self.name)
            data = _webp(crop)
            self._held += len(data)
            if self._held > MOST_REEL:
                raise RenderError(f"The reel of {self.name} would be larger than {MOST_REEL / 1024**2:.0f} MB. Render a film instead.")
            self._known[mark] = len(self.pictures)
            file = f"{len(self.pictures):04}.webp"
            self.files[file] = data
            self.pictures.append(ReelPicture(file, crop.shape[1], crop.shape[0], len(data)))
        return self._known[mark]


def refuse_too_many(pictures: int, name: str) -> None:
    """Raise ``RenderError`` for more different pictures than a reel may have."""
    if pictures > MOST_REEL_PICTURES:
        raise RenderError(f"The reel of {name} would need {pictures:,} pictures; {MOST_REEL_PICTURES:,} may be. Render a film instead.")


def write_reel(drawing: Drawing, folder: Path, told: Progress = lambda done, of: True) -> Reel:
    """Write a reel into a folder, whole or not at all; pictures of a reel that was there before go."""
    reel, files = reel_of(drawing, told)
    folder.mkdir(parents=True, exist_ok=True)
    write_folder(folder, {**files, REEL: msgspec.json.encode(reel)}, REEL)
    for old in folder.glob("[0-9][0-9][0-9][0-9].webp"):
        if old.name not in files:
            old.unlink()
    return reel


def _webp(rgba: Any) -> bytes:
    out = io.BytesIO()
    Image.fromarray(rgba, "RGBA").save(out, "WEBP", lossless=True, quality=0, method=0)
    return out.getvalue()
