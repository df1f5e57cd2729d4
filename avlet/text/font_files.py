"""Reading font files: what one says of itself, and what people choose among in it."""

import logging
import struct
import zlib
from io import BytesIO
from pathlib import Path

from fontTools.ttLib import TTFont, TTLibError

from avlet.document.metadata import brief
from avlet.errors import FontError
from avlet.text.features import is_chosen
from avlet.text.font_facts import FaceFacts, FontAxis, Location

logging.getLogger("fontTools").setLevel(logging.CRITICAL)  # what is wrong with a font is said in words of Avlet's own


def read_facts(source: bytes | Path, file_name: str, index: int = 0) -> FaceFacts:
    """Read a font file's own words about itself, or those of one face of a collection.

    Embedding follows the OpenType ``OS/2`` table's ``fsType``: bit 1 alone forbids it
    (https://learn.microsoft.com/typography/opentype/spec/os2#fstype). Raises ``FontError``.
    """
    if isinstance(source, bytes) and source[:4] in (b"wOFF", b"wOF2"):
        raise FontError(f"The font “{file_name}” is packed for web pages (WOFF). Use its TTF or OTF file.")
    try:
        font = TTFont(BytesIO(source) if isinstance(source, bytes) else source, lazy=True, fontNumber=index)
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
        if not _LEAST_EM <= head.unitsPerEm <= _MOST_EM:
            reason = f"{head.unitsPerEm} units to the em, where {_LEAST_EM} to {_MOST_EM:,} are possible"
            raise FontError(f"The font “{file_name}” is damaged and was left out ({reason}).")
        italic = bool(os2.fsSelection & 1)
        return FaceFacts(
            family, style or "Regular", os2.usWeightClass, italic, head.unitsPerEm, ascent, descent, cap_height, not restricted,
            *_variation(font),
        )  # fmt: skip
    except FontError:
        raise
    except _DAMAGED as error:
        reason = brief(error) or type(error).__name__
        raise FontError(f"The font “{file_name}” is damaged and was left out ({reason}).") from None


_LEAST_EM, _MOST_EM = 16, 16_384
"""Units to the em that the OpenType ``head`` table allows."""
_DAMAGED = (
    TTLibError, LookupError, AttributeError, AssertionError, ValueError, TypeError, ArithmeticError, OSError, EOFError, ImportError,
    NotImplementedError, MemoryError, RecursionError, zlib.error, struct.error,
)  # fmt: skip
"""What reading a font's tables raises when they are damaged."""
_HIDDEN_AXIS = 0x0001


def _variation(font: TTFont) -> tuple[tuple[FontAxis, ...], tuple[tuple[str, Location], ...]]:
    """The axes of a font's ``fvar`` table that are meant for people, and its named instances."""
    if "fvar" not in font:
        return (), ()
    table, names = font["fvar"], font["name"]
    axes = tuple(
        FontAxis(
            str(a.axisTag).encode("ascii").decode(),
            names.getDebugName(a.axisNameID) or str(a.axisTag),
            float(a.minValue),
            float(a.defaultValue),
            float(a.maxValue),
        )
        for a in table.axes
        if not a.flags & _HIDDEN_AXIS
    )
    instances = tuple(
        (names.getDebugName(i.subfamilyNameID) or "Regular", tuple(sorted((str(t), float(v)) for t, v in i.coordinates.items())))
        for i in table.instances
    )
    return axes, instances


def features_of(data: bytes, index: int = 0) -> tuple[str, ...]:
    """The OpenType features of a font's GSUB table that people choose among, sorted; none of one that is damaged."""
    try:
        font = TTFont(BytesIO(data), lazy=True, fontNumber=index)
        if "GSUB" not in font or font["GSUB"].table.FeatureList is None:
            return ()
        tags = {str(record.FeatureTag) for record in font["GSUB"].table.FeatureList.FeatureRecord}
    except _DAMAGED:
        return ()
    return tuple(sorted(tag for tag in tags if is_chosen(tag)))
