"""The files of a package, whether it is a zip or a folder, with guards against hostile ones."""

import errno
import lzma
import os
import shutil
import stat
import struct
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from pathlib import Path, PurePosixPath
from typing import BinaryIO

from avlet.document.metadata import brief
from avlet.errors import StorageError
from avlet.limits import MOST_FILES, MOST_PACKAGE
from avlet.storage.atomic import cannot_write, replacing, staging
from avlet.storage.reading import is_there, read_whole

_DAMAGED = (
    zipfile.BadZipFile, OSError, NotImplementedError, RuntimeError, EOFError, ValueError, OverflowError, LookupError, MemoryError,
    zlib.error, lzma.LZMAError, struct.error,
)  # fmt: skip
"""What the zip reader raises for what is none, or is damaged."""


def _reason(error: BaseException) -> str:
    """What is wrong, in words."""
    if isinstance(error, OSError) and error.strerror:
        return error.strerror
    return brief(error) or "it is damaged"


def _opened(path: Path) -> BinaryIO:
    """A file to read, and never a device or a pipe."""
    if path.exists() and not path.is_file():
        raise OSError(errno.EINVAL, "it is a device or a pipe, and no file")
    return open(path, "rb")


def read_files(path: Path) -> dict[str, bytes]:
    """Every file of a package by its name inside it. Raises ``StorageError`` in words."""
    if not is_there(path):
        raise StorageError(f"There is no file “{brief(path)}”.")
    return _read_folder(path) if path.is_dir() else _read_zip(path)


def read_one(path: Path, name: str, most: int = MOST_PACKAGE) -> bytes | None:
    """One file of a package of at most so many bytes, None if it is not there. For quick looks, e.g. by the library."""
    try:
        if path.is_dir():
            inside = path / name
            return read_whole(inside, most) if inside.is_file() and not inside.is_symlink() else None
        with _opened(path) as file, zipfile.ZipFile(file) as archive:
            info = archive.NameToInfo.get(name)
            return None if info is None else _extract(path, archive, info, most, most)
    except _DAMAGED as error:
        raise StorageError(f"“{path.name}” cannot be read: {_reason(error)}.") from None


def _read_zip(path: Path) -> dict[str, bytes]:
    files: dict[str, bytes] = {}
    try:
        with _opened(path) as file, zipfile.ZipFile(file) as archive:
            entries = [info for info in archive.infolist() if not info.is_dir()]
            if len(entries) > MOST_FILES:
                raise StorageError(f"“{path.name}” holds {len(entries):,} files; a template has at most {MOST_FILES:,}.")
            room = MOST_PACKAGE
            for info in entries:
                _refuse_hostile(path, info.filename)
                if stat.S_ISLNK(info.external_attr >> 16):
                    raise StorageError(f"“{path.name}” holds a symbolic link ({info.filename}), which a template may not.")
                files[info.filename] = _extract(path, archive, info, room)
                room -= len(files[info.filename])
    except _DAMAGED as error:
        reason = _reason(error)
        raise StorageError(f"“{path.name}” is not a template or is damaged ({reason}). Open a copy or an older version.") from None
    return files


def _extract(path: Path, archive: zipfile.ZipFile, info: zipfile.ZipInfo, room: int, most: int = MOST_PACKAGE) -> bytes:
    """One entry, never unpacking more than there is room for, whatever its header claims."""
    with archive.open(info) as stream:
        data = stream.read(room + 1)
    if len(data) > room:
        raise StorageError(f"“{path.name}” unpacks to more than {most // 1024**2} MB and was not opened.")
    return data


def _read_folder(path: Path) -> dict[str, bytes]:
    files: dict[str, bytes] = {}
    room = MOST_PACKAGE
    try:
        for item in sorted(path.rglob("*")):
            if item.is_symlink():
                raise StorageError(f"“{path.name}” holds a symbolic link ({item.name}), which a template may not.")
            if item.is_dir() or any(piece.startswith(".") for piece in item.relative_to(path).parts):
                continue
            room -= item.stat().st_size
            if len(files) >= MOST_FILES or room < 0:
                raise StorageError(f"“{path.name}” is too large for a template.")
            files[item.relative_to(path).as_posix()] = read_whole(item, MOST_PACKAGE)
    except (OSError, ValueError) as error:
        raise StorageError(f"“{path}” cannot be read: {_reason(error)}.") from None
    return files


def _refuse_hostile(path: Path, name: str) -> None:
    pure = PurePosixPath(name)
    if pure.is_absolute() or ".." in pure.parts or "\\" in name or ":" in name or "\0" in name:
        raise StorageError(f"“{path.name}” holds a file that points outside of it ({name}) and was not opened.")


def write_zip(path: Path, files: Mapping[str, bytes]) -> None:
    """Write a package as one file, whole or not at all. The same files give the same bytes."""
    with replacing(path) as temporary, zipfile.ZipFile(temporary, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in sorted(files.items()):
            info = zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0))
            info.external_attr = 0o644 << 16
            info.compress_type = zipfile.ZIP_STORED if name.endswith(".png") else zipfile.ZIP_DEFLATED
            archive.writestr(info, data)


def write_folder(path: Path, files: Mapping[str, bytes], last: str) -> None:
    """Write a package as a folder, whole or not at all; ``last`` takes its place after all others. Other files there stay.

    Everything is written beside before anything takes its place, so that a full disk changes nothing; where one of the files cannot
    take its place, those that have are put back. Raises ``StorageError``.
    """
    try:
        with staging(path) as folder:
            fresh = [name for name in sorted(files, key=lambda name: (name == last, name)) if not _is(path / name, files[name])]
            for number, name in enumerate(fresh):
                _write_through(folder / str(number), files[name])
            _exchange(path, folder, fresh)
    except OSError as error:
        raise cannot_write(path, error) from None
    for inner in ("fonts", "pictures"):
        for item in (path / inner).iterdir() if (path / inner).is_dir() else ():
            if f"{inner}/{item.name}" not in files:
                item.unlink()


def _is(path: Path, data: bytes) -> bool:
    return path.is_file() and not path.is_symlink() and path.read_bytes() == data


def _second(path: Path, other: Path) -> None:
    """A file under another name as well; the first stays where it is all the while."""
    try:
        os.link(path, other)
    except OSError:  # not every file system has several names for a file
        shutil.copy2(path, other)


def _write_through(path: Path, data: bytes) -> None:
    with path.open("wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())


def _exchange(path: Path, folder: Path, names: Sequence[str]) -> None:
    """Let written files take their places one after another, or none of them."""
    before: list[tuple[Path, Path | None]] = []
    try:
        for number, name in enumerate(names):
            target = path / name
            target.parent.mkdir(exist_ok=True)
            kept = folder / f"before-{number}" if target.exists() else None
            if kept is not None:
                _second(target, kept)
            before.append((target, kept))
            (folder / str(number)).replace(target)
    except OSError:
        for target, kept in reversed(before):
            if kept is not None:
                kept.replace(target)
            else:
                target.unlink(missing_ok=True)
        raise
