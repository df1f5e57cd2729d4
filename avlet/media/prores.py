"""ProRes pictures put together from slices, each coded once however often it is seen.

Layout of frame header, picture header, slice table and slices by SMPTE RDD 36:2022, section 5. A slice is coded without any other.
"""

import struct
from dataclasses import dataclass
from typing import NamedTuple

SLICE, ROW = 128, 16
"""A slice is 8 macroblocks of 16 × 16 px; those at a picture's end have 4, 2 or 1."""
_BEFORE_HEADER = 8
_IDENTIFIER = b"icpf"


class Column(NamedTuple):
    """The slices that lie under each other: from where on, and how wide, in px."""

    left: int
    width: int


def columns_of(width: int) -> tuple[Column, ...]:
    """The columns of slices of a picture, which reach beyond it where it does not end with a macroblock."""
    blocks, left, found = -(-width // 16), 0, []
    for many in (8, 4, 2, 1):
        while blocks >= many:
            found.append(Column(left, many * 16))
            left, blocks = left + many * 16, blocks - many
    return tuple(found)


@dataclass(frozen=True)
class Sliced:
    """A coded picture: its headers, and its slices row by row."""

    header: bytes
    picture_header: bytes
    slices: tuple[bytes, ...]

    def packet(self, others: dict[int, bytes] | None = None) -> bytes:
        """The picture as its film holds it, with other slices by their numbers."""
        slices = list(self.slices)
        for number, other in (others or {}).items():
            slices[number] = other
        sizes = struct.pack(f">{len(slices)}H", *map(len, slices))
        body = b"".join(slices)
        size = len(self.picture_header) + len(sizes) + len(body)
        picture = self.picture_header[:1] + struct.pack(">I", size) + self.picture_header[5:]
        whole = _BEFORE_HEADER + len(self.header) + size
        return b"".join((struct.pack(">I", whole), _IDENTIFIER, self.header, picture, sizes, body))


def sliced(packet: bytes) -> Sliced:
    """A coded picture taken apart; raises ``ValueError`` for what is none, or is of two fields."""
    size, identifier, header_size = struct.unpack_from(">I4sH", packet)
    if identifier != _IDENTIFIER or size > len(packet):
        raise ValueError("no ProRes picture")
    at = _BEFORE_HEADER + header_size
    picture_size, count = struct.unpack_from(">IH", packet, at + 1)
    if at + picture_size != size:
        raise ValueError("a ProRes picture of two fields")
    table = at + (packet[at] >> 3)
    slices, begin = [], table + 2 * count
    for one in struct.unpack_from(f">{count}H", packet, table):
        slices.append(packet[begin : begin + one])
        begin += one
    return Sliced(packet[_BEFORE_HEADER:at], packet[at:table], tuple(slices))


def scale_of(coded: bytes) -> int:
    """How coarse a slice is: its quantization index (section 5.3.1 of the same)."""
    return coded[1]
