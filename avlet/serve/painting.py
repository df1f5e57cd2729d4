"""What processes of a server do: paint a frame, a reel, or a film of a title that somebody asked for."""

import contextlib
import errno
import functools
import io
import os
import zipfile
from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, Literal

import msgspec
from PIL import Image

from avlet.document.template import Template
from avlet.errors import AvletError, StorageError
from avlet.layout.other_frame import in_frame
from avlet.media.drawing import Drawing, begin_worker
from avlet.media.films import film_named
from avlet.media.live import write_live
from avlet.media.planes import straight_bytes
from avlet.media.plates import paint_plate
from avlet.media.reel import Reel, write_reel
from avlet.media.render import Progress, StoppedError, png_bytes, render
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import view_round
from avlet.review.samples import said_of
from avlet.review.views import rest_box
from avlet.roster.looking import Verdict, said_of_scene
from avlet.serve.tables import AskedRows, make_rows
from avlet.serve.titles import Asked, Size
from avlet.storage.library import Stamp
from avlet.storage.package import Opened, open_template
from avlet.text.fonts import bundled_fonts

Kind = Literal["prores", "webm", "frames", "still", "reel", "live"]
_MOST_OPEN, _MOST_SCENES = 16, 12
_MAKES_WAY = 10
"""By how much processes are nicer than others: a renderer's page on this machine is not to wait for pictures of another title."""
_CLOSE = 16 / 9
"""The proportions of a picture that shows what is drawn, large."""
_opened: OrderedDict[tuple[str, Any], Opened] = OrderedDict()
_scenes: OrderedDict[bytes, Scene] = OrderedDict()


@dataclass(frozen=True)
class Seen:
    """A frame of a title: its picture as WebP with alpha, and what is to be said of the title."""

    picture: bytes
    width: int
    height: int
    frame: int
    length: int
    way_in: int
    way_out: int
    said: tuple[str, ...]
    verdict: Verdict


@dataclass(frozen=True)
class Failed:
    """What could not be made, and why."""

    words: str


def begin() -> None:
    """A process's beginning: it makes way for whatever shows pictures on this machine."""
    begin_worker()
    os.nice(_MAKES_WAY)


def ready() -> None:
    """Have a process ready before somebody asks: what takes longest is reading the program and its fonts."""
    bundled_fonts().find("Inter", "Regular")


def scene_of(asked: Asked) -> Scene:
    """The scene of a title; those asked for last are kept. Raises ``AvletError`` in words."""
    key = msgspec.json.encode((asked.place, asked.stamp, dict(asked.answers), asked.length, asked.size))
    if key not in _scenes:
        opened = opened_of(asked)
        template = opened.template if asked.size is None else _other_frame(asked.place, asked.stamp, asked.size)
        _scenes[key] = Scene(template, opened.book, dict(asked.answers), asked.length)
        while len(_scenes) > _MOST_SCENES:
            _scenes.popitem(last=False)
    _scenes.move_to_end(key)
    return _scenes[key]


@functools.lru_cache(maxsize=_MOST_OPEN)
def _other_frame(place: str, stamp: Stamp, size: Size) -> Template:
    return in_frame(opened_of(Asked(place, stamp, {}, None)).template, size)


def opened_of(asked: Asked | AskedRows) -> Opened:
    """The package of a title; those asked for last are kept. Raises ``AvletError`` in words."""
    package = asked.place, asked.stamp
    if package not in _opened:
        _opened[package] = open_template(Path(asked.place))
        while len(_opened) > _MOST_OPEN:
            _opened.popitem(last=False)
    _opened.move_to_end(package)
    return _opened[package]


def size_in(scene: Scene, width: int) -> tuple[int, int]:
    """The size of a picture that is at most so many px wide."""
    frame = scene.template.frame
    wide = min(width, frame.width)
    return wide, max(1, round(wide * frame.height / frame.width))


def see(asked: Asked, frame: int | None, width: int, close: bool = False) -> Seen:
    """Paint a frame, that in the middle of the hold unless another is wanted; ``close`` shows what stands at rest, large."""
    scene = scene_of(asked)
    at = scene.spans.middle if frame is None else max(0, min(scene.length - 1, frame))
    wide, high = size_in(scene, width)
    view = None
    if close:
        high = round(wide / _CLOSE)
        view = view_round(rest_box(scene), scene.template.frame, wide / high)
    pixels = new_pixels(wide, high)
    scene.paint(at, pixels, view=view)
    spans, picture = scene.spans, _webp(straight_bytes(pixels))
    return Seen(picture, wide, high, at, scene.length, spans.way_in, spans.way_out, tuple(said_of(scene)), said_of_scene(scene).verdict)


class NoRoomError(StorageError):
    """The disk of the server is full: nothing that who asks can do about it."""


@contextlib.contextmanager
def on_the_servers_disk() -> Iterator[None]:
    """Raises ``NoRoomError``, which names no place of this machine, where what is written finds no room."""
    try:
        yield
    except (OSError, AvletError) as error:
        if _finds_no_room(error):
            raise NoRoomError("The server's disk is full. Have somebody make room there, then ask for this again.") from None
        raise


def _finds_no_room(error: BaseException | None) -> bool:
    """Whether it was raised for a disk that is full, or while another error was dealt with that was."""
    while error is not None:
        if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT):
            return True
        error = error.__context__
    return False


def reel(asked: Asked, width: int, folder: Path) -> Reel:
    """Write a title's reel into a folder, unless nobody waits for it any more: then ``stop_file`` is there."""
    scene, stop = scene_of(asked), stop_file(folder)
    with on_the_servers_disk():
        return write_reel(Drawing.of(scene, size_in(scene, width)), folder, lambda done, total: not stop.exists())


def stop_file(folder: Path) -> Path:
    """What stops a reel that is being made."""
    return folder.with_name(f"{folder.name}.stop")


def plate(name: str, width: int) -> bytes:
    """A plate, as WebP."""
    pixels = new_pixels(width, round(width * 9 / 16))
    paint_plate(name, 0.0, pixels)
    out = io.BytesIO()
    Image.fromarray(pixels[..., :3]).save(out, "WEBP", quality=82, method=2)
    return out.getvalue()


def _webp(rgba: Any) -> bytes:
    out = io.BytesIO()
    Image.fromarray(rgba, "RGBA").save(out, "WEBP", lossless=True, quality=0, method=0)
    return out.getvalue()


# Films, each in a process of its own


def make(kind: str, asked: Asked | AskedRows, frame: int | None, path: Path, progress: Progress) -> None:
    """Write what is taken away: a film, a still, or a zip of frames, a reel or all rows of a table. Raises ``AvletError`` in words."""
    if isinstance(asked, AskedRows):
        make_rows(opened_of(asked), asked, path, progress)
        return
    scene = scene_of(asked)
    if kind == "still":
        path.write_bytes(png_bytes(scene.picture(scene.spans.middle if frame is None else max(0, min(scene.length - 1, frame)))))
    elif kind in ("frames", "reel", "live"):
        folder = path.with_suffix("")
        if kind == "frames":
            render(Drawing.of(scene), folder, None, progress, workers=0)
        elif kind == "live":
            write_live(scene, folder, 0, progress)
        else:
            write_reel(Drawing.of(scene), folder, progress)
        with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as packed:
            for file in sorted(one for one in folder.rglob("*") if one.is_file()):
                packed.write(file, f"{path.stem}/{file.relative_to(folder)}")
    else:
        film = film_named(kind)
        assert film is not None
        render(Drawing.of(scene), path, film.name, progress, workers=0)


def work(pipe: Connection, kind: str, asked: Asked | AskedRows, frame: int | None, path: Path) -> None:
    """A process's life: it makes one thing, tells how far it is, and at the end that it is there, or why not. Anything sent stops it."""
    begin()
    with contextlib.suppress(EOFError, OSError):
        try:
            with on_the_servers_disk():
                make(kind, asked, frame, path, _telling(pipe))
            pipe.send(None)
        except StoppedError:
            return
        except AvletError as error:
            pipe.send(Failed(str(error)))
        except MemoryError:
            pipe.send(Failed("It needs more memory than there is. Make it smaller."))
        except Exception as error:  # whatever it is, the server goes on
            pipe.send(Failed(f"It cannot be made ({type(error).__name__}: {error}). This is a fault of Avlet."))


def _telling(pipe: Connection) -> Callable[[int, int], bool]:
    def progress(done: int, total: int) -> bool:
        pipe.send((done, total))
        return not pipe.poll()

    return progress
