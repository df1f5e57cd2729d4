"""Files that are wanted under another name than they were made under: they are renamed, and not made again."""

import contextlib
import os
import secrets
from collections.abc import Mapping, MutableMapping
from pathlib import Path

import msgspec

from avlet.errors import StorageError
from avlet.roster.delivery import Delivered, still_there


def moved_to_their_names(folder: Path, known: MutableMapping[str, Delivered], wanted: Mapping[str, str]) -> int:
    """Give files the names under which they are wanted; how many were renamed.

    ``known`` are files by name, and is brought up to date; ``wanted`` says by name what each is to be made of. A file stays where what
    it is made of is wanted under its own name. Raises ``StorageError``.
    """
    made: dict[str, list[Delivered]] = {}
    for one in known.values():
        if wanted.get(one.file) != one.made_of:
            made.setdefault(one.made_of, []).append(one)
    moves: dict[str, Delivered] = {}
    for name, mark in wanted.items():
        there = known.get(name)
        if there is not None and there.made_of == mark:
            continue
        found = next((one for one in made.get(mark, ()) if _ending(one.file) == _ending(name) and still_there(folder, one)), None)
        if found is not None:
            made[mark].remove(found)
            moves[name] = found
    moving = {one.file for one in moves.values()}
    for name in [name for name in moves if name not in known and (folder / name).exists()]:
        moving.discard(moves.pop(name).file)  # somebody else's file is under that name
    try:
        waiting = {name: _aside(folder, one.file) for name, one in moves.items()}
        for name, aside in waiting.items():
            aside.replace(folder / name)
    except OSError as error:
        raise StorageError(f"What is in “{folder}” cannot be renamed: {error.strerror}.") from None
    for name in moving:
        known.pop(name, None)
    for name, one in moves.items():
        known[name] = msgspec.structs.replace(one, file=name)
    return len(moves)


def _ending(name: str) -> str:
    return Path(name).suffix


def _aside(folder: Path, name: str) -> Path:
    """A file under a name of its own for a moment, so that two may change places."""
    aside = folder / f".{name}.{os.getpid()}-{secrets.token_hex(4)}.part"
    (folder / name).replace(aside)
    return aside


def removed(folder: Path, files: tuple[Delivered, ...]) -> tuple[str, ...]:
    """Take away files that are as they were delivered; the names of those that are gone."""
    gone = []
    for one in files:
        if still_there(folder, one):
            with contextlib.suppress(OSError):
                (folder / one.file).unlink()
                gone.append(one.file)
    return tuple(gone)
