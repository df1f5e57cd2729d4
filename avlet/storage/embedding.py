"""Which fonts a template uses, and which of them may travel with it."""

from collections.abc import Mapping
from dataclasses import dataclass
from io import BytesIO
from typing import Any

from avlet.document.template import Template
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.layout.rest import faces_of
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import named_faces


@dataclass(frozen=True)
class Carried:
    """Faces that go into the package, sentences about those that do not, and the names of those."""

    faces: tuple[Face, ...]
    left_out: tuple[str, ...]
    stays: tuple[str, ...] = ()


def faces_used(template: Template, book: FontBook, more: Mapping[str, Any] | None = None) -> list[Face]:
    """The faces of all texts, with the starting answers, with each sample's and with ``more``; fallbacks included."""
    used: dict[Face, None] = {}
    for answers in ({}, *(s.answers for s in template.samples), *_fonts_to_choose(template), more or {}):
        used |= dict.fromkeys(faces_of(arrange(bind(template, answers), book), book))
    return list(used)


def _fonts_to_choose(template: Template) -> list[dict[str, Any]]:
    """Answers that choose each font an editor may choose."""
    return [{f.id: answer} for f in template.card.fields if f.faces for _, answer in f.tried()]


def fonts_to_carry(template: Template, book: FontBook) -> Carried:
    """What may be embedded by the fonts' own ``OS/2`` bits, and what is left out and why."""
    used = faces_used(template, book)
    left_out = [f"{f.full_name} may not be embedded by its licence; the receiver needs it installed." for f in used if not f.may_embed]
    stays = [f.full_name for f in used if not f.may_embed]
    for answers in ({}, *_fonts_to_choose(template)):
        for part in bind(template, answers).parts:
            for family, style in named_faces(part):
                if not book.find(family, style)[1]:
                    left_out.append(f"{family} {style} (for {part.name}) is not on this machine and cannot be packed.")
                    stays.append(f"{family} {style}")
    return Carried(tuple(f for f in used if f.may_embed), tuple(dict.fromkeys(left_out)), tuple(dict.fromkeys(stays)))


def font_entries(faces: tuple[Face, ...]) -> dict[str, bytes]:
    """The files of ``fonts/``: each face, and its family's licence once."""
    files: dict[str, bytes] = {}
    for face in faces:
        name, data = _alone(face)
        files[f"fonts/{name}"] = data
        if face.licence:
            files[f"fonts/{face.family.replace(' ', '')}-licence.txt"] = face.licence
    return files


def _alone(face: Face) -> tuple[str, bytes]:
    """A face as a font file of its own: one of a collection is taken out of it."""
    if not face.data.startswith(b"ttcf"):
        return face.file_name, face.data
    from fontTools.ttLib import TTFont

    out = BytesIO()
    TTFont(BytesIO(face.data), fontNumber=face.index).save(out)
    return f"{face.family}-{face.style}.ttf".replace(" ", "").replace("/", "-"), out.getvalue()
