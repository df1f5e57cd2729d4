"""``NAME.avlet``: a template with its card's schema, fonts, pictures and thumbnail, as a zip or as a folder."""

import functools
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

from avlet.document.template import Template
from avlet.errors import FontError, StorageError
from avlet.giving_back import kept_to_be_quick
from avlet.storage.archive import read_files, read_one, write_folder, write_zip
from avlet.storage.embedding import font_entries, fonts_to_carry
from avlet.storage.manifest import MANIFEST, Manifest, changed_sizes, read_manifest
from avlet.storage.picture_files import put_back, taken_out
from avlet.storage.schemas import card_schema, written
from avlet.storage.template_json import decode, encode
from avlet.text.fonts import FONT_SUFFIXES, Face, FontBook, bundled_fonts, read_face
from avlet.text.system_fonts import machine_fonts

TEMPLATE = "template.json"
CARD_SCHEMA = "card.schema.json"
THUMBNAIL = "thumbnail.png"
SUFFIX = ".avlet"


@dataclass(frozen=True)
class Opened:
    """A template that was read, the fonts to show it with, what it says of itself, and what the reader should know."""

    template: Template
    book: FontBook
    notes: tuple[str, ...] = ()
    manifest: Manifest | None = None


def open_template(path: Path, machine: bool = True) -> Opened:
    """Read a template from a zip or a folder; without ``machine`` only with Avlet's own fonts and those that came along.

    Raises ``StorageError`` in words.
    """
    if path.is_dir() and not (path / TEMPLATE).exists():  # before all that lies in a folder is read
        raise StorageError(f"“{path.name or path}” is not a template: it has no {TEMPLATE}.")
    return opened_from(read_files(path), path.name, machine)


def opened_from(files: dict[str, bytes], where: str, machine: bool = True) -> Opened:
    """The same of files that are read already; ``where`` is what they are called in messages."""
    if TEMPLATE not in files:
        raise StorageError(f"“{where}” is not a template: it has no {TEMPLATE}.")
    template = put_back(decode(files[TEMPLATE], where), files)
    faces: list[Face] = []
    notes: list[str] = []
    for name, data in files.items():
        inside = PurePosixPath(name)
        if inside.parent.name == "fonts" and inside.suffix.lower() in FONT_SUFFIXES:
            try:
                faces.extend(_new_face(data, inside.name, files))
            except FontError as error:
                notes.append(str(error))
    book = _book_with(tuple(faces)) if machine else bundled_fonts().with_first(tuple(faces))
    manifest = read_manifest(files.get(MANIFEST))
    if manifest is not None and not all(font.carried for font in manifest.fonts):
        notes += changed_sizes(template, book, manifest)
    return Opened(template, book, tuple(notes), manifest)


def _new_face(data: bytes, name: str, files: dict[str, bytes]) -> list[Face]:
    """The face in ``data``, unless the bundled one is the very same."""
    if any(face.file_name == name and face.data == data for face in bundled_fonts().faces):
        return []
    from avlet.paint.outlines import check_outlines  # only a font that came along is painted to see whether it can be

    face = read_face(data, name)
    licence = files.get(f"fonts/{face.family.replace(' ', '')}-licence.txt")
    return [check_outlines(read_face(data, name, licence))]


@functools.lru_cache(maxsize=16)
def _book_with(faces: tuple[Face, ...]) -> FontBook:
    return machine_fonts().with_first(faces)


kept_to_be_quick(_book_with.cache_clear)


def package_files(template: Template, book: FontBook) -> dict[str, bytes]:
    """All files of the package that follow from the template, by name."""
    from avlet.storage.thumbnail import thumbnail_png  # what is only opened is not painted

    bare, pictures = taken_out(template)
    return {
        TEMPLATE: encode(bare),
        CARD_SCHEMA: written(card_schema(template.card, template.name, template.palette)),
        THUMBNAIL: thumbnail_png(template, book),
        **font_entries(fonts_to_carry(template, book).faces),
        **pictures,
    }


def save_template(template: Template, path: Path, book: FontBook) -> None:
    """Write a working file: a folder where ``path`` is one, else a zip. Whole or not at all; raises ``StorageError``.

    A package that was handed over is never written so: cuts are made with it.
    """
    version = handed_over_as(path)
    if version:
        raise StorageError(
            f"“{path.name}” was handed over, as version {version}, and cuts may use it. Save your work under another name or in another "
            "folder, and hand it over again: that makes the next version."
        )
    write_package(path, package_files(template, book))


def handed_over_as(path: Path) -> int:
    """The version that a file was handed over as; 0 for a working file, and for one that is not there."""
    try:
        manifest = read_manifest(read_one(path, MANIFEST)) if path.exists() else None
    except StorageError:
        return 0
    return manifest.version if manifest is not None else 0


def refuse_as_output(folder: Path) -> None:
    """Raise ``StorageError`` where a folder that is to be written into is a template itself."""
    if (folder / TEMPLATE).exists() or (folder.suffix.lower() == SUFFIX and folder.is_dir()):
        raise StorageError(f"“{folder}” is a template: what is written into it would become part of it. Choose another folder.")


def write_package(path: Path, files: dict[str, bytes]) -> None:
    """Write the files of a package: as a folder where ``path`` is one, else as a zip."""
    if path.is_dir():
        write_folder(path, files, last=TEMPLATE)
    else:
        write_zip(path, files)
