"""Pictures as files of a package: taken out of the document when it is written, put back when it is read."""

import hashlib
from pathlib import PurePosixPath

import msgspec

from avlet.document.parts import AnyPart, PatternPart, PictureFile, PicturePart
from avlet.document.template import Template

FOLDER = "pictures"


def taken_out(template: Template) -> tuple[Template, dict[str, bytes]]:
    """The template with only the names of its pictures, and their files by name inside the package."""
    files: dict[str, bytes] = {}
    parts: list[AnyPart] = []
    for part in template.parts:
        if isinstance(part, PicturePart | PatternPart) and part.picture is not None and part.picture.data:
            name = _file_name(part.picture)
            files[f"{FOLDER}/{name}"] = part.picture.data
            part = msgspec.structs.replace(part, picture=PictureFile(name))  # noqa: PLW2901
        parts.append(part)
    return msgspec.structs.replace(template, parts=tuple(parts)), files


def put_back(template: Template, files: dict[str, bytes]) -> Template:
    """The template with its pictures' bytes. A picture whose file is missing stays without; arranging says so."""
    parts = tuple(
        msgspec.structs.replace(part, picture=PictureFile(part.picture.name, files.get(f"{FOLDER}/{part.picture.name}", b"")))
        if isinstance(part, PicturePart | PatternPart) and part.picture is not None and not part.picture.data
        else part
        for part in template.parts
    )
    return msgspec.structs.replace(template, parts=parts)


def _file_name(picture: PictureFile) -> str:
    """The picture's own name behind a mark of its contents, so that two files of one name do not meet."""
    name = PurePosixPath(picture.name.replace("\\", "/")).name or "picture"
    mark = hashlib.sha256(picture.data).hexdigest()[:10]
    return name if name.startswith(mark) else f"{mark}-{name}"[-120:]
