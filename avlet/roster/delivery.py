"""The delivery list: ``delivery.json`` and ``delivery.csv``, what each file is, with its SHA-256, and what it was made of."""

import contextlib
import hashlib
import re
import time
from collections.abc import Iterable
from pathlib import Path
from typing import Annotated, Any

import msgspec

from avlet import __version__
from avlet.document.tables import as_csv
from avlet.errors import StorageError
from avlet.limits import MOST_DOCUMENT
from avlet.roster.making import measured
from avlet.storage.atomic import write_whole
from avlet.storage.reading import UNREADABLE, read_whole, refuse_crowded

LIST, TABLE = "delivery.json", "delivery.csv"
FORMAT = 1
_EVERY = 3.0
"""Seconds between two writings while films are made; more where writing itself takes long."""
_Sha = Annotated[str, msgspec.Meta(pattern="^[0-9a-f]{64}$")]


class Delivered(msgspec.Struct, frozen=True, kw_only=True):
    """One file. ``made_of`` is what its bytes follow from: template, fonts, answers, settings, versions. ``said`` is what proof says.

    ``row`` counts from 1 below the table's heads, ``size`` is in bytes, ``frames`` at ``rate`` a second. ``source`` is that of its
    roster, see ``Delivery``.
    """

    file: str
    row: int
    kind: str
    codec: str
    language: str
    width: int
    height: int
    frames: int
    rate: str
    size: int
    sha256: _Sha
    made_of: _Sha
    said: tuple[str, ...] = ()
    answers: dict[str, Any] = {}
    source: str = ""


class LeftOut(msgspec.Struct, frozen=True, kw_only=True):
    """A row, or one of its files, that could not be made, and why."""

    row: int
    file: str = ""
    why: str


class Delivery(msgspec.Struct, frozen=True, kw_only=True):
    """The whole list, in the order of the table. ``planned`` are the names of all files, until it is ``complete``.

    ``source`` names the template and the table that it was made of, see :func:`source_of`; ``others`` are files of other rosters that
    lie in the same folder; ``superseded`` are files that this one made before and wants no more.
    """

    format: int = FORMAT
    avlet: str = __version__
    template: str = ""
    table: str = ""
    complete: bool = False
    planned: tuple[str, ...] = ()
    files: tuple[Delivered, ...] = ()
    left_out: tuple[LeftOut, ...] = ()
    source: str = ""
    others: tuple[Delivered, ...] = ()
    superseded: tuple[Delivered, ...] = ()

    @property
    def owners(self) -> dict[str, str]:
        """All files that the list knows by name, each with the source of its roster."""
        own = self.source
        named = {one.file: one.source or own for one in (*self.superseded, *self.others)}
        return {**named, **dict.fromkeys(self.planned, own), **{one.file: one.source or own for one in self.files}}


def source_of(template: str, table: str, folder: Path) -> str:
    """What tells one roster from another: the names of its template and its table, and where the table lies."""
    told = "\0".join((template, table, str(folder.absolute())))
    return hashlib.sha256(told.encode(errors="surrogatepass")).hexdigest()[:16]


def read_delivery(folder: Path) -> Delivery:
    """The list in a folder; an empty one where there is none, or where it is damaged."""
    try:
        data = read_whole(folder / LIST, MOST_DOCUMENT)
        refuse_crowded(data, LIST)
        found = msgspec.json.decode(data, type=Delivery)
    except (*UNREADABLE, StorageError):
        return Delivery()
    return found if found.format == FORMAT else Delivery()


def still_there(folder: Path, one: Delivered) -> bool:
    """Whether a file is as it was delivered: there, as large, and with the same SHA-256."""
    path = folder / one.file
    if path.name != one.file:
        return False
    with contextlib.suppress(OSError):
        return path.is_file() and path.stat().st_size == one.size and measured(path)[1] == one.sha256
    return False


def schema() -> dict[str, Any]:
    """The JSON Schema of ``delivery.json``."""
    made = msgspec.json.schema(Delivery)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Delivery list of an Avlet roster", **made}


_HEADS = ("file", "row", "kind", "codec", "language", "width", "height", "frames", "rate", "bytes", "sha256", "said", "answers")


def table_of(delivery: Delivery) -> bytes:
    """The list as CSV (RFC 4180) in UTF-8; answers as JSON, pictures in them by their names."""
    rows: list[tuple[str, ...]] = [_HEADS]
    for f in delivery.files:
        answers = msgspec.json.encode(f.answers).decode()
        cells = (
            f.file,
            f.row,
            f.kind,
            f.codec,
            f.language,
            f.width,
            f.height,
            f.frames,
            f.rate,
            f.size,
            f.sha256,
            " ".join(f.said),
            answers,
        )
        rows.append(tuple(_harmless(str(cell)) for cell in cells))
    return as_csv(tuple(rows)).encode()


def _harmless(cell: str) -> str:
    """Words that a spreadsheet would work out as a formula, kept from that."""
    return f"'{cell}" if cell[:1] in _FORMULAS and not _NUMBER.fullmatch(cell) else cell


_FORMULAS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")
"""Signs before which a cell is worked out (OWASP, CSV Injection), full width ones among them."""
_NUMBER = re.compile(r"[-+]?\d+([.,]\d+)?")


class Ledger:
    """Keeps the list in its folder while files are made."""

    def __init__(self, folder: Path, template: str, table: str, source: str = "") -> None:
        self.folder, self.template, self.table, self.source = folder, template, table, source
        self.others: tuple[Delivered, ...] = ()
        self.superseded: tuple[Delivered, ...] = ()
        self.files: dict[int, Delivered] = {}
        self.left_out: dict[int, LeftOut] = {}
        self.planned: tuple[str, ...] = ()
        self._next = time.monotonic() + _EVERY

    def put(self, number: int, one: Delivered) -> None:
        """A file is whole: its place in the order of all, and what it is."""
        self.files[number] = one
        self.left_out.pop(number, None)
        if time.monotonic() >= self._next:
            begun = time.monotonic()
            self.write(complete=False)
            self._next = time.monotonic() + max(_EVERY, 20 * (time.monotonic() - begun))

    def leave_out(self, number: int, one: LeftOut) -> None:
        """A file that cannot be made."""
        self.left_out[number] = one

    def write(self, complete: bool, more: Iterable[LeftOut] = ()) -> Delivery:
        """Write both files; raises ``StorageError``."""
        left = sorted([*self.left_out.values(), *more], key=lambda one: one.row)
        files = tuple(self.files[number] for number in sorted(self.files))
        delivery = Delivery(template=self.template, table=self.table, complete=complete, files=files, left_out=tuple(left),
                            planned=() if complete else self.planned, source=self.source, others=self._left_of(self.others, files),
                            superseded=self._left_of(self.superseded, files))  # fmt: skip
        if not self.folder.is_dir():
            raise StorageError(f"The folder “{self.folder}” is gone. Make it again, or choose another; what was in it cannot be found.")
        write_whole(self.folder / LIST, msgspec.json.format(msgspec.json.encode(delivery), indent=1) + b"\n")
        write_whole(self.folder / TABLE, table_of(delivery))
        return delivery

    def _left_of(self, known: Iterable[Delivered], files: Iterable[Delivered]) -> tuple[Delivered, ...]:
        """Files that are still there, and are none of those that are wanted."""
        own = {one.file for one in files}
        return tuple(one for one in known if one.file not in own and (self.folder / one.file).exists())
