"""Pictures as files of a package: taken out of the document when it is written, put back when it is read."""

import hashlib
from collections.abc import Callable
from pathlib import PurePosixPath
from typing import Any

import msgspec

from avlet.document.fields import CreditsField, Field, PictureField, answer_of, blocks_of
from avlet.document.lists.blocks import Blocks, Pictures
from avlet.document.parts import AnyPart, CreditsPart, PictureFile
from avlet.document.template import Template

FOLDER = "pictures"


def taken_out(template: Template) -> tuple[Template, dict[str, bytes]]:
    """The template with only the names of its pictures, and their files by name inside the package."""
    files: dict[str, bytes] = {}
    parts: list[AnyPart] = []
    for part in template.parts:
        parts.append(_with_pictures(part, lambda picture: _out(picture, files)))
    bare = msgspec.structs.replace(template, parts=tuple(parts))
    return with_picture_answers(bare, lambda picture: _out(picture, files)), files


def _out(picture: PictureFile, files: dict[str, bytes]) -> PictureFile:
    if not picture.data:
        return picture
    name = _file_name(picture)
    files[f"{FOLDER}/{name}"] = picture.data
    return PictureFile(name)


def with_picture_answers(template: Template, change: Callable[[PictureFile], PictureFile]) -> Template:
    """A template whose starting answers and samples to fields of pictures and lists are changed."""
    asked = {f.id: f for f in template.card.fields if isinstance(f, PictureField | CreditsField)}
    if not asked:
        return template

    def changed(field: Field) -> Field:
        if isinstance(field, CreditsField):
            return msgspec.structs.replace(field, default=_listed(field.default, change))
        return msgspec.structs.replace(field, default=change(field.default)) if isinstance(field, PictureField) else field

    def answer(field_id: str, value: Any) -> Any:
        if isinstance(asked[field_id], CreditsField):
            return answer_of(_listed(blocks_of(value), change))
        return msgspec.to_builtins(change(msgspec.convert(value, PictureFile)))

    sections = tuple(msgspec.structs.replace(s, fields=tuple(changed(f) for f in s.fields)) for s in template.card.sections)
    samples = tuple(
        msgspec.structs.replace(s, answers={k: answer(k, v) if k in asked else v for k, v in s.answers.items()}) for s in template.samples
    )
    return msgspec.structs.replace(template, card=msgspec.structs.replace(template.card, sections=sections), samples=samples)


def put_back(template: Template, files: dict[str, bytes]) -> Template:
    """The template with its pictures' bytes. A picture whose file is missing stays without; arranging says so."""

    def back(picture: PictureFile) -> PictureFile:
        return picture if picture.data else PictureFile(picture.name, files.get(f"{FOLDER}/{picture.name}", b""))

    parts = [_with_pictures(part, back) for part in template.parts]
    return with_picture_answers(msgspec.structs.replace(template, parts=tuple(parts)), back)


def _with_pictures(part: AnyPart, change: Callable[[PictureFile], PictureFile]) -> AnyPart:
    """A part whose pictures are changed: its own, or those of its list."""
    if isinstance(part, CreditsPart):
        return msgspec.structs.replace(part, blocks=_listed(part.blocks, change))
    picture = picture_of(part)
    return part if picture is None else msgspec.structs.replace(part, picture=change(picture))


def _listed(blocks: Blocks, change: Callable[[PictureFile], PictureFile]) -> Blocks:
    if not any(isinstance(block, Pictures) for block in blocks):
        return blocks
    return tuple(
        msgspec.structs.replace(block, pictures=tuple(change(p) for p in block.pictures)) if isinstance(block, Pictures) else block
        for block in blocks
    )


def picture_of(part: AnyPart) -> PictureFile | None:
    """The picture of a part that shows one."""
    found = getattr(part, "picture", None)
    return found if isinstance(found, PictureFile) else None


def _file_name(picture: PictureFile) -> str:
    """The picture's own name behind a mark of its contents, so that two files of one name do not meet."""
    name = PurePosixPath(picture.name.replace("\\", "/")).name or "picture"
    mark = hashlib.sha256(picture.data).hexdigest()[:10]
    return name if name.startswith(mark) else f"{mark}-{name}"[-120:]
