"""Fonts installed on this machine: fontconfig says where they are, an index remembers what they say of themselves.

They are never used as a fallback, so that a title without its font looks the same on every machine. A family that is not there
but has another in its place by the machine's own rules is shown in that, which is said.
"""

import functools
import os
import shutil
import subprocess
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import NamedTuple

import msgspec
import platformdirs

from avlet.errors import FontError
from avlet.text.font_facts import FaceFacts
from avlet.text.fonts import Face, FontBook, bundled_fonts, face_from_file

_SECONDS = 20
"""How long fontconfig may take; without an answer only Avlet's own fonts are there."""
_FORMATS = ("TrueType", "CFF")
_NOBODY = "avlet has no such family"
"""A name that no font has: what fontconfig gives for it is its last resort, and no alias."""


class FontAt(NamedTuple):
    """A face of the machine: its file, and its number there if that is a collection."""

    path: Path
    number: int


class _Indexed(msgspec.Struct):
    changed: int
    facts: FaceFacts | None


def index_file() -> Path:
    """The index of what is installed, kept with the person's other caches."""
    return platformdirs.user_cache_path("avlet") / "fonts-3.json"


def _asked(*words: str) -> list[str]:
    """What a command of fontconfig answers, line by line; nothing where it is not to be had."""
    if shutil.which(words[0]) is None:
        return []
    try:
        done = subprocess.run(words, capture_output=True, timeout=_SECONDS, check=False)
    except (OSError, subprocess.TimeoutExpired):
        return []
    return done.stdout.decode(errors="replace").splitlines()


def installed_faces() -> list[FontAt]:
    """Every scalable face that fontconfig knows of, in the order of their files; those of a variable font once."""
    found: dict[FontAt, None] = {}
    for line in _asked("fc-list", "--format=%{file}\t%{index}\t%{fontformat}\n"):
        file, _, rest = line.partition("\t")
        index, _, kind = rest.partition("\t")
        if kind in _FORMATS and index.isdigit():
            found[FontAt(Path(file), int(index) & 0xFFFF)] = None  # above that fontconfig numbers the instances of a variable font
    return sorted(found)


@functools.lru_cache(maxsize=256)
def alias_of(family: str) -> str | None:
    """The family that this machine puts in the place of one, by its own rules; None where it has only its last resort."""
    if not family.strip() or any(sign in family for sign in ":,-\\"):
        return None
    given, last = (_asked("fc-match", "--format=%{family}\n", name) for name in (family, _NOBODY))
    return None if not given or given == last else given[0].partition(",")[0]


@functools.cache
def system_faces() -> tuple[Face, ...]:
    """Every usable face that is installed; unreadable files are passed over."""
    return tuple(scan(installed_faces(), index_file()))


@functools.cache
def machine_fonts() -> FontBook:
    """The bundled faces, and by name those that are installed."""
    return FontBook(bundled_fonts().faces, system_faces, alias_of)


def scan(places: Iterable[FontAt], index: Path) -> Iterator[Face]:
    """The faces at some places, with the help of an index that is brought up to date."""
    known = _read(index)
    found: dict[str, _Indexed] = {}
    listed: list[tuple[FontAt, FaceFacts]] = []
    for place in places:
        name, changed = f"{place.path}#{place.number}", _changed(place.path)
        entry = known.get(name)
        found[name] = entry if entry and entry.changed == changed else _Indexed(changed, _facts(place))
        facts = found[name].facts
        if facts is not None:
            listed.append((place, facts))
    if found != known:
        _write(index, found)
    return (face_from_file(place.path, facts, place.number) for place, facts in listed)


def _changed(path: Path) -> int:
    try:
        return path.stat().st_mtime_ns
    except OSError:
        return 0


def _facts(place: FontAt) -> FaceFacts | None:
    from avlet.text.font_files import read_facts

    try:
        return read_facts(place.path, place.path.name, place.number)
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
