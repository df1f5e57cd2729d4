"""The XML files in a spreadsheet's zip, read piece by piece as they unpack."""

import posixpath
import zipfile
from collections.abc import Callable
from xml.parsers import expat

from avlet.document.metadata import brief
from avlet.errors import AnswerError
from avlet.limits import MOST_PACKAGE

_PIECE = 1 << 16
_NAMES = 10_000

Begin = Callable[[str, dict[str, str]], None]
End = Callable[[str], None]
Words = Callable[[str], None]


class _Local(dict[str, str]):
    """Names of elements without their prefix, each taken apart once."""

    def __missing__(self, name: str) -> str:
        if len(self) > _NAMES:
            self.clear()
        self[name] = made = name.rpartition(":")[2]
        return made


class Parts:
    """The files of a spreadsheet; raises ``AnswerError`` when together they unpack to more than a package may."""

    def __init__(self, archive: zipfile.ZipFile, name: str) -> None:
        self._archive, self._name, self._left = archive, brief(name), MOST_PACKAGE
        self._names = {entry.lower(): entry for entry in archive.namelist()}

    def has(self, part: str) -> bool:
        """Whether there is such a file; capitals do not matter (ECMA-376 part 2, 7.2.3)."""
        return part.lstrip("/").lower() in self._names

    def start(self, part: str, length: int) -> bytes:
        """The first bytes of a file."""
        with self._archive.open(self._names[part.lower()]) as stream:
            return stream.read(length)

    def parse(self, part: str, begin: Begin, end: End | None = None, words: Words | None = None) -> None:
        """Tell what stands in a file as it goes by: names without their prefix, attributes with theirs, all words in between."""
        parser = expat.ParserCreate()
        parser.buffer_text = True
        parser.buffer_size = _PIECE
        local = _Local()
        parser.StartElementHandler = lambda name, given: begin(local[name], given)
        if end is not None:
            parser.EndElementHandler = lambda name: end(local[name])
        if words is not None:
            parser.CharacterDataHandler = words
        parser.EntityDeclHandler = self._entity
        with self._archive.open(self._names[part.lstrip("/").lower()]) as stream:
            while piece := stream.read(_PIECE):
                self._left -= len(piece)
                if self._left < 0:
                    raise AnswerError(
                        f"“{self._name}” unpacks to more than {MOST_PACKAGE // 1024**2} MB and was not opened. Save it as CSV."
                    )
                parser.Parse(piece, False)
        parser.Parse(b"", True)

    def _entity(self, *_: object) -> None:
        raise AnswerError(f"“{self._name}” declares words of its own (XML entities), which no spreadsheet does, and was not opened.")


def attribute(given: dict[str, str], name: str, otherwise: str = "") -> str:
    """An attribute by its name, whatever its prefix."""
    if name in given:
        return given[name]
    return next((value for key, value in given.items() if key.rpartition(":")[2] == name), otherwise)


def relations(parts: Parts, of: str) -> dict[str, tuple[str, str]]:
    """What a part relates to: by id the kind and the part's name (ECMA-376 part 2, 6.5)."""
    folder, name = posixpath.split(of)
    found: dict[str, tuple[str, str]] = {}

    def begin(element: str, given: dict[str, str]) -> None:
        if element == "Relationship" and given.get("TargetMode") != "External":
            target = posixpath.normpath(posixpath.join("/", folder, given.get("Target", "")))
            found[given.get("Id", "")] = given.get("Type", "").rpartition("/")[2], target.lstrip("/")

    listed = posixpath.join(folder, "_rels", f"{name}.rels")
    if parts.has(listed):
        parts.parse(listed, begin)
    return found
