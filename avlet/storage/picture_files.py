"""Pictures as files of a package: taken out of the document when it is written, put back when it is read."""

import hashlib
from pathlib import PurePosixPath
from typing import Any

import msgspec

from avlet.document.looks.picture_file import ChangePicture
from avlet.document.parts import PictureFile
from avlet.document.template import Template

FOLDER = "pictures"


def taken_out(template: Template) -> tuple[Template, dict[str, bytes]]:
    """The template with only the names of its pictures, and their files by name inside the package."""
    files: dict[str, bytes] = {}
    bare = msgspec.structs.replace(template, parts=tuple(p.with_pictures(lambda picture: _out(picture, files)) for p in template.parts))
    return with_picture_answers(bare, lambda picture: _out(picture, files)), files


def _out(picture: PictureFile, files: dict[str, bytes]) -> PictureFile:
    if not picture.data:
        return picture
    name = _file_name(picture)
    files[f"{FOLDER}/{name}"] = picture.data
    return PictureFile(name)


def with_picture_answers(template: Template, change: ChangePicture) -> Template:
    """A template whose pictures in starting answers and samples are changed."""
    fields = {field.id: field for field in template.card.fields}

    def answer(field_id: str, value: Any) -> Any:
        return fields[field_id].with_pictures_in(value, change) if field_id in fields else value

    sections = tuple(msgspec.structs.replace(s, fields=tuple(f.with_pictures(change) for f in s.fields)) for s in template.card.sections)
    samples = tuple(msgspec.structs.replace(s, answers={k: answer(k, v) for k, v in s.answers.items()}) for s in template.samples)
    return msgspec.structs.replace(template, card=msgspec.structs.replace(template.card, sections=sections), samples=samples)


def put_back(template: Template, files: dict[str, bytes]) -> Template:
    """The template with its pictures' bytes. A picture whose file is missing stays without; arranging says so."""

    def back(picture: PictureFile) -> PictureFile:
        return picture if picture.data else PictureFile(picture.name, files.get(f"{FOLDER}/{picture.name}", b""))

    parts = tuple(part.with_pictures(back) for part in template.parts)
    return with_picture_answers(msgspec.structs.replace(template, parts=parts), back)


def _file_name(picture: PictureFile) -> str:
    """The picture's own name behind a mark of its contents, so that two files of one name do not meet."""
    name = PurePosixPath(picture.name.replace("\\", "/")).name or "picture"
    mark = hashlib.sha256(picture.data).hexdigest()[:10]
    return name if name.startswith(mark) else f"{mark}-{name}"[-120:]
