"""Faces: what a font file says of itself, and the book of all faces at hand."""

import functools
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import Path

import uharfbuzz as hb
from fontTools.ttLib import TTFont, TTLibError

from avlet.errors import FontError
from avlet.text.features import is_chosen

BUNDLED = Path(__file__).resolve().parent.parent / "fonts"
FONT_SUFFIXES = (".ttf", ".otf")
FALLBACK_FAMILIES = (
    "Fira Sans", "Inter", "Noto Sans Arabic", "Noto Sans Hebrew", "Noto Sans Devanagari", "Noto Sans CJK JP",
)  # fmt: skip
"""Families that are asked, in this order, for what the chosen face lacks."""


@dataclass(frozen=True, eq=False)
class Face:
    """One font file. Lengths are in font units, ``upem`` to the em."""

    family: str
    style: str
    weight: int
    italic: bool
    file_name: str
    data: bytes = field(repr=False)
    upem: int
    ascent: int
    descent: int
    cap_height: int
    may_embed: bool
    licence: bytes | None = field(default=None, repr=False)

    @functools.cached_property
    def shaper(self) -> hb.Font:
        """The HarfBuzz font, at ``upem`` units to the em."""
        return hb.Font(hb.Face(hb.Blob(self.data)))

    @functools.cached_property
    def covered(self) -> frozenset[int]:
        """The code points that it has glyphs for."""
        return frozenset(hb.Face(hb.Blob(self.data)).unicodes)

    @functools.cached_property
    def features(self) -> tuple[str, ...]:
        """The OpenType features of its GSUB table that people choose among, sorted."""
        font = TTFont(BytesIO(self.data), lazy=True)
        if "GSUB" not in font or font["GSUB"].table.FeatureList is None:
            return ()
        return tuple(sorted({r.FeatureTag for r in font["GSUB"].table.FeatureList.FeatureRecord if is_chosen(r.FeatureTag)}))

    @property
    def full_name(self) -> str:
        return f"{self.family} {self.style}"


def read_face(data: bytes, file_name: str, licence: bytes | None = None) -> Face:
    """Read a font file's own words about itself.

    Embedding follows the OpenType ``OS/2`` table's ``fsType``: bit 1 alone forbids it
    (https://learn.microsoft.com/typography/opentype/spec/os2#fstype). Raises ``FontError``.
    """
    try:
        font = TTFont(BytesIO(data), lazy=True)
        names, os2, head, hhea = font["name"], font["OS/2"], font["head"], font["hhea"]
        family = names.getDebugName(16) or names.getDebugName(1)
        style = names.getDebugName(17) or names.getDebugName(2)
        use_typographic = bool(os2.fsSelection & (1 << 7))
        ascent = os2.sTypoAscender if use_typographic else hhea.ascent
        descent = -os2.sTypoDescender if use_typographic else -hhea.descent
        cap_height = getattr(os2, "sCapHeight", 0) or round(ascent * 0.7)
        restricted = (os2.fsType & 0x000F) == 0x0002
        if not family:
            raise FontError(f"The font “{file_name}” does not say which family it belongs to.")
        return Face(
            family, style or "Regular", os2.usWeightClass, bool(os2.fsSelection & 1), file_name, data,
            head.unitsPerEm, ascent, descent, cap_height, not restricted, licence,
        )  # fmt: skip
    except (TTLibError, KeyError, AttributeError, AssertionError, ValueError, OSError, EOFError) as error:
        raise FontError(f"The font “{file_name}” is damaged and was left out ({error}).") from None


class FontBook:
    """All faces at hand. A template's own fonts stand before the bundled ones."""

    def __init__(self, faces: Iterable[Face]) -> None:
        self.faces = tuple(faces)
        self._by_family: dict[str, list[Face]] = {}
        for face in self.faces:
            self._by_family.setdefault(face.family.casefold(), []).append(face)
        self._found: dict[tuple[str, str], tuple[Face, bool]] = {}
        self._fallbacks: dict[tuple[Face, str], Face | None] = {}

    def families(self) -> list[str]:
        """The names of all families, sorted."""
        return sorted({face.family for face in self.faces}, key=str.casefold)

    def styles(self, family: str) -> list[str]:
        """The styles of a family, light to heavy."""
        faces = self._by_family.get(family.casefold(), [])
        return list(dict.fromkeys(f.style for f in sorted(faces, key=lambda f: (f.weight, f.italic))))

    def find(self, family: str, style: str) -> tuple[Face, bool]:
        """The face for a family and style, and whether it is exactly the one asked for."""
        key = (family, style)
        if key not in self._found:
            self._found[key] = self._find(family, style)
        return self._found[key]

    def _find(self, family: str, style: str) -> tuple[Face, bool]:
        same_family = self._by_family.get(family.casefold())
        for face in same_family or ():
            if face.style.casefold() == style.casefold():
                return face, True
        pool = same_family or self._by_family.get(FALLBACK_FAMILIES[0].casefold()) or self.faces
        return _nearest(pool, _weight_of(style), "italic" in style.casefold()), False

    def covering(self, cluster: str, face: Face) -> Face | None:
        """A face that has all of ``cluster``: ``face`` itself, or the nearest in weight of a fallback family."""
        wanted = [c for c in map(ord, cluster) if not _ignorable(c)]
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
        return FontBook((*first, *self.faces)) if first else self


def _nearest(faces: Iterable[Face], weight: int, italic: bool) -> Face:
    return min(faces, key=lambda f: (f.italic != italic, abs(f.weight - weight)))


_WEIGHTS = {"thin": 100, "light": 300, "medium": 500, "semibold": 600, "extrabold": 800, "bold": 700, "black": 900}


def _weight_of(style: str) -> int:
    plain = style.casefold().replace(" ", "")
    return next((weight for word, weight in _WEIGHTS.items() if word in plain), 400)


def _ignorable(code: int) -> bool:
    """Joiners, variation selectors and direction marks, which a face need not have."""
    return code in (0x200C, 0x200D, 0x00AD) or 0x200E <= code <= 0x200F or 0x202A <= code <= 0x202E or (
        0x2066 <= code <= 0x2069 or 0xFE00 <= code <= 0xFE0F
    )  # fmt: skip


def font_files(folder: Path) -> Iterator[Path]:
    """The font files below a folder, sorted."""
    return (p for p in sorted(folder.rglob("*")) if p.suffix.lower() in FONT_SUFFIXES)


@functools.cache
def bundled_fonts() -> FontBook:
    """The faces that ship with Avlet."""
    faces = []
    for path in font_files(BUNDLED):
        licence = path.parent / "OFL.txt"
        faces.append(read_face(path.read_bytes(), path.name, licence.read_bytes() if licence.exists() else None))
    return FontBook(faces)
