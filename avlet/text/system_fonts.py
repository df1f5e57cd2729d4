"""Fonts installed on this machine: found once, remembered in an index, read only when a text asks for one.

They are never used as a fallback, so that a title without its font looks the same on every machine.
"""

import functools
import os
from collections.abc import Iterator
from pathlib import Path

import msgspec
import platformdirs

from avlet.errors import FontError
from avlet.text.fonts import Face, FaceFacts, FontBook, bundled_fonts, face_from_file, font_files, read_facts


class _Indexed(msgspec.Struct):
    changed: int
    facts: FaceFacts | None


def font_folders() -> list[Path]:
    """Where freedesktop systems keep fonts, the person's own first."""
    own = [platformdirs.user_data_path() / "fonts", Path.home() / ".fonts"]
    shared = [Path(folder) / "fonts" for folder in os.environ.get("XDG_DATA_DIRS", "/usr/local/share:/usr/share").split(":") if folder]
    return [folder for folder in (*own, *shared) if folder.is_dir()]


def index_file() -> Path:
    """The index of what is installed, kept with the person's other caches."""
    return platformdirs.user_cache_path("avlet") / "fonts-2.json"


@functools.cache
def system_faces() -> tuple[Face, ...]:
    """Every usable face that is installed; unreadable files are passed over."""
    return tuple(scan(font_folders(), index_file()))


@functools.cache
def machine_fonts() -> FontBook:
    """The bundled faces, and by name those that are installed."""
    return FontBook(bundled_fonts().faces, system_faces)


def scan(folders: list[Path], index: Path) -> Iterator[Face]:
    """The faces below some folders, with the help of an index that is brought up to date."""
    known = _read(index)
    found: dict[str, _Indexed] = {}
    for folder in folders:
        for path in font_files(folder):
            name, changed = str(path), _changed(path)
            entry = known.get(name)
            found[name] = entry if entry and entry.changed == changed else _Indexed(changed, _facts(path))
    if found != known:
        _write(index, found)
    return (face_from_file(Path(name), entry.facts) for name, entry in found.items() if entry.facts is not None)


def _changed(path: Path) -> int:
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return 0


def _facts(path: Path) -> FaceFacts | None:
    try:
        return read_facts(path, path.name)
    except FontError:
        return None


def _read(index: Path) -> dict[str, _Indexed]:
    try:
        return msgspec.json.decode(index.read_bytes(), type=dict[str, _Indexed])
    except (OSError, msgspec.DecodeError):
        return {}


def _write(index: Path, found: dict[str, _Indexed]) -> None:
    """Keep the index; without it the next start only takes a little longer."""
    try:
        index.parent.mkdir(parents=True, exist_ok=True)
        temporary = index.with_suffix(f".{os.getpid()}")
        temporary.write_bytes(msgspec.json.encode(found))
        temporary.replace(index)
    except OSError:
        return
