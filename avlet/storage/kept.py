"""What a designer keeps for other templates: eases and moves, by name, in a file of the person's own."""

from pathlib import Path

import msgspec
import platformdirs

from avlet.document.time.eases import Ease
from avlet.document.time.moves import Move
from avlet.errors import StorageError
from avlet.storage.atomic import write_whole
from avlet.storage.reading import read_own


class Kept(msgspec.Struct, frozen=True):
    """Eases and moves by name."""

    eases: dict[str, Ease] = {}
    moves: dict[str, Move] = {}


def kept_file() -> Path:
    """Where they are kept."""
    return platformdirs.user_data_path("avlet") / "kept.json"


def read_kept(path: Path | None = None) -> Kept:
    """What is kept; nothing when the file is not there or cannot be read."""
    return read_own(path or kept_file(), Kept, Kept())


def keep(name: str, what: Ease | Move, path: Path | None = None) -> Kept:
    """Keep an ease or a move under a name; raises ``StorageError`` when it cannot be written."""
    if not name.strip():
        raise StorageError("What is kept needs a name.")
    file, kept = path or kept_file(), read_kept(path)
    if isinstance(what, Move):
        kept = msgspec.structs.replace(kept, moves={**kept.moves, name.strip(): msgspec.structs.replace(what, tie=None)})
    else:
        kept = msgspec.structs.replace(kept, eases={**kept.eases, name.strip(): what})
    write_whole(file, msgspec.json.format(msgspec.json.encode(kept), indent=1))
    return kept
