"""Reels: a title as pictures and when each shows, for whoever cannot paint, such as a browser.

Each different picture is there once, cut to what is drawn in it, as lossless WebP with alpha. ``reel.json`` says for every frame which
picture lies where, so that a hold that stands still costs nothing.
"""

import hashlib
import io
from pathlib import Path
from typing import Any

import msgspec
from PIL import Image

from avlet.document.template import Updates
from avlet.errors import RenderError
from avlet.limits import MOST_REEL, MOST_REEL_PICTURES
from avlet.media.drawing import Drawing, Painter
from avlet.media.planes import painted_area, straight_bytes
from avlet.media.render import Progress, StoppedError
from avlet.paint.scene import first_alike
from avlet.storage.archive import write_folder

REEL = "reel.json"


class ReelPicture(msgspec.Struct, frozen=True):
    """One picture: its file beside ``reel.json``, its size in px, and in bytes."""

    file: str
    width: int
    height: int
    bytes: int


class Lies(msgspec.Struct, frozen=True, array_like=True):
    """Where a picture lies in a frame: its number, counted from 0, and its left top corner in px."""

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
    refuse_too_many(len(different), scene.template.name)
    pictures: list[ReelPicture] = []
    files: dict[str, bytes] = {}
    known: dict[bytes, int] = {}
    lies: dict[int, tuple[Lies, ...]] = {}
    held = 0
    for number, frame in enumerate(different):
        pixels = painter.paint(frame)
        area = painted_area(pixels)
        if area is None:
            lies[frame] = ()
            continue
        left, top, right, bottom = area
        crop = straight_bytes(pixels[top:bottom, left:right])
        mark = hashlib.blake2b(crop.tobytes(), digest_size=16, salt=f"{right - left}x{bottom - top}".encode()[:16]).digest()
        if mark not in known:
            data = _webp(crop)
            held += len(data)
            if held > MOST_REEL:
                raise RenderError(
                    f"The reel of {scene.template.name} would be larger than {MOST_REEL / 1024**2:.0f} MB. Render a film instead."
                )
            known[mark] = len(pictures)
            name = f"{len(pictures):04}.webp"
            files[name] = data
            pictures.append(ReelPicture(name, right - left, bottom - top, len(data)))
        lies[frame] = (Lies(known[mark], left, top),)
        if not told(number + 1, len(different)):
            raise StoppedError(f"The reel of {scene.template.name} was stopped; nothing was written.")
    rate, spans = scene.template.frame.fps, scene.spans
    reel = Reel(
        name=scene.template.name, width=drawing.width, height=drawing.height, rate=f"{rate.numerator}/{rate.denominator}",
        length=scene.length, way_in=spans.way_in, way_out=spans.way_out, updates=scene.bound.template.updates,
        pictures=tuple(pictures), frames=tuple(lies[n] for n in alike),
    )  # fmt: skip
    return reel, files


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
