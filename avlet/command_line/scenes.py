"""From what was typed to titles: templates opened, answers read, times and sizes understood."""

import dataclasses
from collections import OrderedDict
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from avlet.command_line.telling import detail, note
from avlet.errors import AnswerError, AvletError
from avlet.limits import MOST_FRAME_PIXELS, MOST_SIDE

if TYPE_CHECKING:
    from fractions import Fraction

    from avlet.document.template import Frame, Template
    from avlet.paint.scene import Scene
    from avlet.storage.package import Opened

_MOST_KEPT = 16
"""Templates that a batch keeps open."""
_kept: "OrderedDict[tuple[str, int, int, int], Opened]" = OrderedDict()


def opened(path: Path) -> "Opened":
    """A template; one that was opened before and has not changed since is not read again."""
    from avlet.storage.package import open_template

    try:
        told = path.stat()
        key = (str(path.absolute()), told.st_mtime_ns, told.st_size, told.st_ino) if path.is_file() else None
    except (OSError, ValueError):
        key = None
    if key is None:
        return open_template(path)
    if key not in _kept:
        _kept[key] = open_template(path)
        detail(f"Opened {path}: {_kept[key].template.name}.")
        if len(_kept) > _MOST_KEPT:
            _kept.popitem(last=False)
    _kept.move_to_end(key)
    return _kept[key]


@dataclasses.dataclass(frozen=True)
class Titled:
    """One title: its scene, and what its answers are called where several sets of them were given."""

    scene: "Scene"
    called: str = ""


def answers_given(template: "Template", words: Sequence[str] | None, files: Sequence[Path] | None) -> list[tuple[str, dict[str, Any]]]:
    """The sets of answers that were given, each with its name; one without a name where none or a single one was."""
    from avlet.document.cards.answers import read_answers
    from avlet.storage.answer_files import NAMED_FILES, STANDARD_INPUT, answer_sets

    over = read_answers(template, words or (), NAMED_FILES)
    found: list[tuple[str, dict[str, Any]]] = []
    for file in files or ():
        sets = answer_sets(template, file)
        stem = "answers" if file == STANDARD_INPUT else file.stem
        found += [(stem if len(sets) == 1 else f"{stem}-{number}", {**one, **over}) for number, one in enumerate(sets, 1)]
    if files and not found:
        raise AnswerError("There are no answers in what --answers names: an empty list.")
    return found or [("", over)]


def titles(file: Path, words: Sequence[str] | None, files: Sequence[Path] | None, length: str | None) -> "tuple[Opened, list[Titled]]":
    """A template opened, and a title of it for each set of answers."""
    from avlet.paint.scene import Scene

    one = opened(file)
    frames = frames_typed(length, one.template.frame.fps)
    given = answers_given(one.template, words, files)
    return one, [Titled(Scene(one.template, one.book, answers, frames), called if len(given) > 1 else "") for called, answers in given]


def title(file: Path, words: Sequence[str] | None, files: Sequence[Path] | None, length: str | None) -> "tuple[Opened, Scene]":
    """The same where one title is wanted; raises ``AnswerError`` for several sets of answers."""
    one, found = titles(file, words, files, length)
    if len(found) > 1:
        raise AnswerError(f"{len(found)} sets of answers were given; here one is taken. “avlet still” takes several, a roster a table.")
    return one, found[0].scene


def frames_typed(words: str | None, rate: "Fraction") -> int | None:
    """Frames from words; None where none were given. Raises ``AnswerError``."""
    from avlet.numbers.lengths import frames_in

    if words is None:
        return None
    try:
        return frames_in(words, rate)
    except ValueError as error:
        raise AnswerError(str(error)) from None


def frame_of(scene: "Scene", at: str | None) -> int:
    """A frame that the title has. Without one, the middle of its hold."""
    frame = frames_typed(at, scene.template.frame.fps)
    if frame is None:
        return scene.spans.middle
    if not 0 <= frame < scene.length:
        raise AnswerError(f"There is no frame {frame}: the title shows frames 0 to {scene.length - 1}.")
    return frame


def size_of(words: str | None, frame: "Frame") -> tuple[int, int] | None:
    """A picture size from words, of the same shape as the template's frame: in another one everything would be stretched."""
    if words is None:
        return None
    width, _, height = words.lower().replace("×", "x").partition("x")
    sides = [int(side) if side.isascii() and side.isdigit() and len(side) <= 5 else 0 for side in (width, height)]
    if not all(2 <= side <= MOST_SIDE for side in sides):
        raise AnswerError(f"“{words}” is not a picture size. Write it as 1920x1080, up to {MOST_SIDE} each.")
    size = int(width), int(height)
    if size[0] * size[1] > MOST_FRAME_PIXELS:
        raise AnswerError(f"“{words}” is {size[0] * size[1]:,} px in all; at most {MOST_FRAME_PIXELS:,} are possible.")
    if abs(size[0] * frame.height - size[1] * frame.width) > max(frame.width, frame.height):
        fitting = f"{size[0]}x{round(size[0] * frame.height / frame.width)}"
        raise AnswerError(
            f"“{words}” has another shape than the template's {frame.width}×{frame.height}; everything would be stretched. "
            f"Ask for {fitting}, or give the template another frame first (Frame size, on its recipe), which scales or re-places its parts."
        )
    return size


def plate_of(words: str | None) -> str | None:
    """A plate by its name; None where none was named."""
    from avlet.media.plates import plate_named

    return None if words is None else plate_named(words)


def workers_of(count: int | None) -> int | None:
    """How many processes to work with: 0 is all cores but one, and none beside this one where there is no other core."""
    import os

    if count == 0:
        return max(1, (os.cpu_count() or 2) - 1)
    return count


def said(one: "Opened", scene: "Scene | None" = None) -> None:
    """A template's and a title's notes are made."""
    from avlet.review.samples import said_of

    for words in (*one.notes, *(said_of(scene) if scene is not None else ())):
        note(words)


def is_library(path: Path) -> bool:
    """Whether a path is a folder of templates rather than one that is a folder itself."""
    return path.is_dir() and path.suffix.lower() != ".avlet" and not (path / "template.json").exists()


def refuse_missing(path: Path) -> None:
    """Raise ``AvletError`` for a folder that is not there."""
    if not path.is_dir():
        raise AvletError(f"There is no folder “{path}”.")
