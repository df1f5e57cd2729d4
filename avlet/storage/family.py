"""The six of a family as working files in a folder of one's own: all of them or none."""

from collections.abc import Mapping
from pathlib import Path

from avlet.document.editing.naming import slug
from avlet.document.starts import FAMILIES, Making
from avlet.document.template import Frame
from avlet.errors import AnswerError, StorageError
from avlet.storage.atomic import cannot_write
from avlet.storage.package import SUFFIX, package_files, write_package
from avlet.text.fonts import FontBook


def family_named(name: str) -> Mapping[str, Making]:
    """The six of a family by kind; raises ``AnswerError`` for a family that there is not."""
    for known, kinds in FAMILIES.items():
        if known.lower() == name.lower():
            return kinds
    raise AnswerError(f"There is no family “{name}”. There are {', '.join(FAMILIES)}.")


def take_family(name: str, frame: Frame, folder: Path, book: FontBook) -> list[Path]:
    """Write the six of a family, in a frame, into a folder, which is made where it is not there.

    Raises ``StorageError`` where one of that name is there already, or the disk takes not all of them; then none is left.
    """
    made = [make(frame) for make in family_named(name).values()]
    paths = [folder / f"{slug(template.name)}{SUFFIX}" for template in made]
    there = [path.name for path in paths if path.exists() or path.is_symlink()]
    if there:
        more = f" and {len(there) - 1} more" if len(there) > 1 else ""
        raise StorageError(f"“{there[0]}”{more} is in “{folder}” already. Nothing was written; choose another folder, or move it away.")
    files = [package_files(template, book) for template in made]
    new = not folder.exists()
    written: list[Path] = []
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for path, one in zip(paths, files, strict=True):
            write_package(path, one)
            written.append(path)
    except (OSError, StorageError) as error:
        for path in written:
            path.unlink(missing_ok=True)
        if new and folder.is_dir() and not any(folder.iterdir()):
            folder.rmdir()
        told = error if isinstance(error, StorageError) else cannot_write(folder, error)
        raise StorageError(f"{told} None of the six was left there.") from error
    return paths
