"""Every letter has a glyph, every font is the one that is named, and may travel."""

from collections.abc import Iterator

from avlet.layout.bodies.body import lacking_words
from avlet.review.checks.base import Check, Finding
from avlet.review.looked import Looked

_ID = "fonts"


def run(looked: Looked) -> Iterator[Finding]:
    """Glyphs that no font has, fonts that others stand in for, and the embedding bits of those that are used."""
    for part_id, rest in looked.present:
        name = rest.part.name
        lacking, substitutes = rest.body.lacking, rest.body.substitutes
        if lacking:
            yield Finding(_ID, "breaks", part_id, lacking_words(name, lacking), "lacks glyphs", len(lacking), 0, "glyphs", box=rest.ink)
        if substitutes:
            yield Finding(_ID, "breaks", part_id, substitutes[0], "font missing", len(substitutes), 0, "fonts", box=rest.ink)
        faces = rest.words.faces if rest.words is not None else ()
        for face in {f.base for f in faces if not f.may_embed}:
            said = f"{face.full_name} (in {name}) may not travel by its licence; the receiver needs it installed."
            yield Finding(_ID, "to look at", part_id, said, "font may not travel", 1, 0, "fonts")


CHECK = Check(_ID, "Fonts", "All glyphs are there, fonts may travel", "none missing", "OpenType OS/2, fsType", run)
