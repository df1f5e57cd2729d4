"""Faces: what a font file says of itself, and the book of all faces at hand."""

import dataclasses
import functools
import weakref
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import icu
import msgspec
import uharfbuzz as hb

from avlet.errors import FontError
from avlet.text.font_facts import FaceFacts, FontAxis, Location

BUNDLED = Path(__file__).resolve().parent.parent / "fonts"
INDEX = BUNDLED / "index.json"
FONT_SUFFIXES = (".ttf", ".otf")
FALLBACK_FAMILIES = (
    "Fira Sans", "Inter", "Noto Sans Arabic", "Noto Sans Hebrew", "Noto Sans Devanagari", "Noto Sans CJK JP",
)  # fmt: skip
"""Families that are asked, in this order, for what the chosen face lacks."""


@dataclass(frozen=True, eq=False)
class Face:
    """One font file: what it says of itself, and its bytes, which a face of the machine's own reads when they are needed.

    ``index`` is its number in a collection (``.ttc``). A face of a variable font stands at a ``location`` on its axes; ``base`` is
    the one that the file itself is. ``drawn`` is by how many degrees its letters are slanted and how many em they are made heavier.
    """

    facts: FaceFacts
    file_name: str
    licence: bytes | None = field(default=None, repr=False)
    given: bytes | None = field(default=None, repr=False)
    path: Path | None = None
    index: int = 0
    location: Location = ()
    base_face: "Face | None" = field(default=None, repr=False)
    drawn: tuple[float, float] = (0.0, 0.0)

    def __getstate__(self) -> dict[str, Any]:
        """What is worked out from the file stays in its own process."""
        return {f.name: getattr(self, f.name) for f in dataclasses.fields(self)}

    @property
    def base(self) -> "Face":
        """The face of the file, at no location of its own."""
        return self.base_face or self

    @property
    def axes(self) -> tuple[FontAxis, ...]:
        """The axes that may be set; none for a font that does not vary."""
        return self.facts.axes

    def at(self, places: Iterable[tuple[str, float]]) -> "Face":
        """The face with some of its axes set otherwise, kept within their limits; what it has no axis for is passed over."""
        limits = {axis.tag: axis for axis in self.axes}
        wanted = {tag: max(limits[tag].low, min(limits[tag].high, float(value))) for tag, value in places if tag in limits}
        return self.varied(tuple(sorted({**dict(self.location), **wanted}.items()))) if wanted else self

    def varied(self, location: Location, style: str | None = None) -> "Face":
        """The same file at another location; asked for again while somebody has it, it is the same face."""
        key = (location, style or self.style)
        found = self.base._variations.get(key)
        if found is None:
            facts = msgspec.structs.replace(self.facts, style=key[1], weight=round(dict(location).get("wght", self.weight)))
            found = Face(facts, self.file_name, self.licence, self.given, self.path, self.index, location, self.base)
            self.base._variations[key] = found
        return found

    def drawn_as(self, slant: float, heavier: float) -> "Face":
        """The face with its letters slanted by some degrees and made heavier by some em; the same one while somebody has it."""
        wanted = (round(float(slant), 3), round(float(heavier), 5))
        if wanted == self.drawn:
            return self
        found = self._drawn.get(wanted)
        if found is None:
            found = self._drawn[wanted] = dataclasses.replace(self, drawn=wanted, base_face=self.base)
        return found

    @functools.cached_property
    def _drawn(self) -> "weakref.WeakValueDictionary[tuple[float, float], Face]":
        return weakref.WeakValueDictionary()

    @functools.cached_property
    def _variations(self) -> "weakref.WeakValueDictionary[tuple[Location, str], Face]":
        return weakref.WeakValueDictionary()

    @functools.cached_property
    def data(self) -> bytes:
        """The font file."""
        if self.base is not self:
            return self.base.data
        if self.given is not None:
            return self.given
        assert self.path is not None
        try:
            return self.path.read_bytes()
        except OSError as error:
            raise FontError(f"The font “{self.path}” cannot be read any more ({error.strerror}). Choose another.") from None

    @property
    def family(self) -> str:
        return self.facts.family

    @property
    def style(self) -> str:
        return self.facts.style

    @property
    def weight(self) -> int:
        return self.facts.weight

    @property
    def italic(self) -> bool:
        return self.facts.italic

    @property
    def upem(self) -> int:
        return self.facts.upem

    @property
    def ascent(self) -> int:
        return self.facts.ascent

    @property
    def descent(self) -> int:
        return self.facts.descent

    @property
    def cap_height(self) -> int:
        return self.facts.cap_height

    @property
    def may_embed(self) -> bool:
        """Whether the font's own bits allow that it travels with a template."""
        return self.facts.may_embed

    @functools.cached_property
    def shaper(self) -> hb.Font:
        """The HarfBuzz font, at ``upem`` units to the em."""
        font = hb.Font(self.base._tables)
        if self.location:
            font.set_variations(dict(self.location))
        return font

    @functools.cached_property
    def covered(self) -> frozenset[int]:
        """The code points that it has glyphs for."""
        return self.base.covered if self.base is not self else frozenset(self._tables.unicodes)

    @functools.cached_property
    def _tables(self) -> hb.Face:
        """The tables of the file, as HarfBuzz has read them: the same for all locations."""
        return hb.Face(hb.Blob(self.data), self.index)

    @functools.cached_property
    def features(self) -> tuple[str, ...]:
        """The OpenType features of its GSUB table that people choose among, sorted."""
        from avlet.text.font_files import features_of

        return features_of(self.data, self.index)

    @property
    def full_name(self) -> str:
        return f"{self.family} {self.style}"


def read_face(data: bytes, file_name: str, licence: bytes | None = None) -> Face:
    """A face from the bytes of its file; raises ``FontError``."""
    from avlet.text.font_files import read_facts

    return Face(read_facts(data, file_name), file_name, licence, data)


def face_from_file(path: Path, facts: FaceFacts, index: int = 0) -> Face:
    """A face whose file is read when it is needed; ``index`` is its number in a collection."""
    return Face(facts, path.name, path=path, index=index)


class FontBook:
    """All faces at hand. A template's own fonts stand before the bundled ones.

    ``on_request`` gives further faces, those of the machine: they are found by name, but never fall in for another. ``alias`` says
    which family of those the machine puts in the place of one that is not there.
    """

    def __init__(
        self, faces: Iterable[Face], on_request: Callable[[], Iterable[Face]] = tuple, alias: Callable[[str], str | None] = lambda _: None
    ) -> None:
        self.faces = tuple(faces)
        self.on_request, self.alias = on_request, alias
        self._by_family = _by_family(self.faces)
        self._found: dict[tuple[str, str], tuple[Face, bool]] = {}
        self._fallbacks: dict[tuple[Face, str], Face | None] = {}

    def with_faces(self, more: Iterable[Face]) -> "FontBook":
        """The same book with further faces before those that it has."""
        new = tuple(face for face in more if face not in self.faces)
        return FontBook((*new, *self.faces), self.on_request, self.alias) if new else self

    @functools.cached_property
    def _requested(self) -> dict[str, list[Face]]:
        return _by_family(self.on_request())

    def _family(self, name: str) -> list[Face]:
        key = name.casefold()
        return self._by_family.get(key) or self._requested.get(key) or []

    def standing_in_for(self, name: str) -> str | None:
        """The family that the machine puts in the place of one that is not here."""
        other = None if self._family(name) else self.alias(name)
        return other if other is not None and self._family(other) else None

    def families(self) -> list[str]:
        """The names of all families, sorted."""
        return sorted({face.family for faces in (*self._by_family.values(), *self._requested.values()) for face in faces}, key=str.casefold)

    def styles(self, family: str) -> list[str]:
        """The styles of a family, light to heavy."""
        faces = self._family(family)
        return list(dict.fromkeys(f.style for f in sorted(faces, key=lambda f: (f.weight, f.italic))))

    def find(self, family: str, style: str) -> tuple[Face, bool]:
        """The face for a family and style, and whether it is exactly the one asked for."""
        key = (family, style)
        if key not in self._found:
            self._found[key] = self._find(family, style)
        return self._found[key]

    def _find(self, family: str, style: str) -> tuple[Face, bool]:
        same_family = self._family(family)
        for face in same_family:
            if face.style.casefold() == style.casefold():
                return face, True
        other = self.standing_in_for(family) or FALLBACK_FAMILIES[0]
        pool = same_family or self._family(other) or self.faces
        return _nearest(pool, _weight_of(style), "italic" in style.casefold()), False

    def covering(self, cluster: str, face: Face) -> Face | None:
        """A face that has all of ``cluster``: ``face`` itself, or the nearest in weight of a fallback family."""
        wanted = [c for c in map(ord, cluster) if not is_ignorable(c)]
        if all(c in face.covered for c in wanted):
            return face
        key = (face, cluster)
        if key not in self._fallbacks:
            self._fallbacks[key] = self._covering(wanted, face)
        return self._fallbacks[key]

    def _covering(self, wanted: list[int], face: Face) -> Face | None:
        names = [name.casefold() for name in FALLBACK_FAMILIES]
        others = [name for name in self._by_family if name not in names]
        for name in (*names, *others):
            able = [f for f in self._by_family.get(name, []) if all(c in f.covered for c in wanted)]
            if able:
                return _nearest(able, face.weight, face.italic)
        return None

    def with_first(self, faces: Iterable[Face]) -> "FontBook":
        """A book in which ``faces`` are found before these."""
        first = tuple(faces)
        return FontBook((*first, *self.faces), self.on_request, self.alias) if first else self


def _by_family(faces: Iterable[Face]) -> dict[str, list[Face]]:
    found: dict[str, list[Face]] = {}
    for face in faces:
        named = [face.varied(location, style) for style, location in face.facts.instances]
        found.setdefault(face.family.casefold(), []).extend(named or [face])
    return found


def _nearest(faces: Iterable[Face], weight: int, italic: bool) -> Face:
    return min(faces, key=lambda f: (f.italic != italic, abs(f.weight - weight)))


_WEIGHTS = {"thin": 100, "light": 300, "medium": 500, "semibold": 600, "extrabold": 800, "bold": 700, "black": 900}


def _weight_of(style: str) -> int:
    plain = style.casefold().replace(" ", "")
    return next((weight for word, weight in _WEIGHTS.items() if word in plain), 400)


@functools.lru_cache(maxsize=4096)
def is_ignorable(code: int) -> bool:
    """Whether a face need not have a code point: joiners, variation selectors and the like (Unicode's Default_Ignorable_Code_Point)."""
    return bool(icu.Char.hasBinaryProperty(code, icu.UProperty.DEFAULT_IGNORABLE_CODE_POINT))


def font_files(folder: Path) -> Iterator[Path]:
    """The font files below a folder, sorted."""
    return (p for p in sorted(folder.rglob("*")) if p.suffix.lower() in FONT_SUFFIXES)


@functools.cache
def bundled_fonts() -> FontBook:
    """The faces that ship with Avlet, and nothing else. What they say of themselves is written down beside them (``INDEX``)."""
    index = msgspec.json.decode(INDEX.read_bytes(), type=dict[str, FaceFacts])
    return FontBook(
        Face(facts, Path(name).name, (BUNDLED / name).with_name("OFL.txt").read_bytes(), path=BUNDLED / name)
        for name, facts in index.items()
    )
