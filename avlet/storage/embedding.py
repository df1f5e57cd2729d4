"""Which fonts a template uses, and which of them may travel with it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from avlet.document.parts import TextPart
from avlet.document.template import Template
from avlet.layout.bind import bind
from avlet.text.fonts import Face, FontBook
from avlet.text.setting import set_text


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
        for part in bind(template, answers).parts:
            if isinstance(part, TextPart):
                used.update(dict.fromkeys(book.find(*named)[0].base for named in named_faces(part)))
                used.update(dict.fromkeys(face.base for face in set_text(part, book).faces))
    return list(used)


def _fonts_to_choose(template: Template) -> list[dict[str, Any]]:
    """Answers that choose each font an editor may choose."""
    return [{f.id: answer} for f in template.card.fields if f.faces for _, answer in f.tried()]


def named_faces(part: TextPart) -> list[tuple[str, str]]:
    """Family and style of a text and of its accents."""
    return [(part.family, part.style), *((a.family, a.style) for a in part.accents)]


def fonts_to_carry(template: Template, book: FontBook) -> Carried:
    """What may be embedded by the fonts' own ``OS/2`` bits, and what is left out and why."""
    used = faces_used(template, book)
    left_out = [f"{f.full_name} may not be embedded by its licence; the receiver needs it installed." for f in used if not f.may_embed]
    stays = [f.full_name for f in used if not f.may_embed]
    for answers in ({}, *_fonts_to_choose(template)):
        for part in bind(template, answers).parts:
            for family, style in named_faces(part) if isinstance(part, TextPart) else ():
                if not book.find(family, style)[1]:
                    left_out.append(f"{family} {style} (for {part.name}) is not on this machine and cannot be packed.")
                    stays.append(f"{family} {style}")
    return Carried(tuple(f for f in used if f.may_embed), tuple(dict.fromkeys(left_out)), tuple(dict.fromkeys(stays)))


def font_entries(faces: tuple[Face, ...]) -> dict[str, bytes]:
    """The files of ``fonts/``: each face, and its family's licence once."""
    files: dict[str, bytes] = {}
    for face in faces:
        files[f"fonts/{face.file_name}"] = face.data
        if face.licence:
            files[f"fonts/{face.family.replace(' ', '')}-licence.txt"] = face.licence
    return files
