"""``package.json``: what a handed-over package says of itself: version, author's note, origin, fonts, sizes to compare with."""

import msgspec

from avlet.document.parts import TypesetPart
from avlet.document.template import FORMAT, Template
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.storage.embedding import fonts_to_carry
from avlet.text.fonts import FontBook

MANIFEST = "package.json"
MOST_NOTE = 2_000


class FontNote(msgspec.Struct, frozen=True):
    """A face that the template uses, and whether it came along."""

    name: str
    carried: bool


class Manifest(msgspec.Struct, frozen=True):
    """``version`` counts hand-overs from 1; ``note`` is what its author says is new; ``sizes`` (width, height in px) of each text's
    line box as its author had it, by part, for the starting answers."""

    format: int = FORMAT
    version: int = 1
    note: str = ""
    derived_from: str = ""
    fonts: tuple[FontNote, ...] = ()
    sizes: dict[str, tuple[float, float]] = {}


def manifest_of(template: Template, book: FontBook, version: int, note: str) -> Manifest:
    """The manifest of a template that is handed over from this machine."""
    carried = fonts_to_carry(template, book)
    fonts = [FontNote(f.full_name, True) for f in carried.faces] + [FontNote(name, False) for name in carried.stays]
    rest = arrange(bind(template), book)
    sizes = {i: (round(p.box.w, 3), round(p.box.h, 3)) for i, p in rest.parts.items() if isinstance(p.part, TypesetPart)}
    return Manifest(FORMAT, version, note, template.derived_from, tuple(fonts), sizes)


def read_manifest(data: bytes | None) -> Manifest | None:
    """A manifest from its file; None if there is none that can be read."""
    if data is None:
        return None
    try:
        return msgspec.json.decode(data, type=Manifest)
    except (msgspec.DecodeError, UnicodeDecodeError):
        return None


def written(manifest: Manifest) -> bytes:
    """The bytes of ``package.json``."""
    return msgspec.json.format(msgspec.json.encode(manifest), indent=2) + b"\n"


def changed_sizes(template: Template, book: FontBook, manifest: Manifest) -> list[str]:
    """What other fonts than the author's do to the sizes of texts, in sentences."""
    rest = arrange(bind(template), book)
    said = []
    for part_id, (width, height) in manifest.sizes.items():
        part = rest.parts.get(part_id)
        if part is None or part.words is None or not part.words.substitutes:
            continue
        now = part.box
        if abs(now.w - width) > 0.5 or abs(now.h - height) > 0.5:
            said.append(f"{part.part.name} is now {now.w:.0f} × {now.h:.0f} px; its author had {width:.0f} × {height:.0f} px.")
    return said
