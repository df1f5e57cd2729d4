"""Pages: a list dealt out so that each fits, what belongs together stays together, and none is nearly empty."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from avlet.document.lists.blocks import Block, Heading, PageBreak
from avlet.text.strip import Strip

_ROUNDS = 24


class Page(NamedTuple):
    """Rows ``first`` to before ``last`` of a strip."""

    first: int
    last: int


class _Chunk(NamedTuple):
    """Rows that stay together, from where to where they reach in px, and whether they begin a page in any case."""

    first: int
    last: int
    begin: float
    end: float
    breaks: bool


def dealt(strip: Strip, blocks: Sequence[Block], height: float) -> tuple[Page, ...]:
    """The pages of a list, each at most ``height`` px high but for a row that is higher by itself.

    As few as do; of all ways with so many, the one whose highest page is lowest, so that the last is not nearly empty.
    """
    found: list[Page] = []
    for stretch in _stretches(_chunks(strip, blocks, height)):
        count = len(_filled(stretch, height))
        low, high = 0.0, height
        for _ in range(_ROUNDS):
            middle = (low + high) / 2
            low, high = (low, middle) if len(_filled(stretch, middle)) <= count else (middle, high)
        found += _filled(stretch, high)
    return tuple(found)


def _filled(chunks: Sequence[_Chunk], height: float) -> list[Page]:
    """Chunks put on pages one after another, a new page where one does not fit any more."""
    pages: list[list[_Chunk]] = []
    for chunk in chunks:
        if pages and chunk.end - pages[-1][0].begin <= height + 1e-6:
            pages[-1].append(chunk)
        else:
            pages.append([chunk])
    return [Page(page[0].first, page[-1].last) for page in pages]


def _stretches(chunks: Sequence[_Chunk]) -> Iterator[list[_Chunk]]:
    """Chunks from one page break to the next."""
    stretch: list[_Chunk] = []
    for chunk in chunks:
        if chunk.breaks and stretch:
            yield stretch
            stretch = []
        stretch.append(chunk)
    if stretch:
        yield stretch


def _chunks(strip: Strip, blocks: Sequence[Block], height: float) -> list[_Chunk]:
    """What stays together: a block with the headings before it. Higher than a page, it goes apart row by row, but for those headings."""
    begins, ends = strip.begins.tolist(), strip.ends.tolist()
    rows_of: dict[int, list[int]] = {}
    for row, block in enumerate(strip.block_of.tolist()):
        rows_of.setdefault(block, []).append(row)
    found: list[_Chunk] = []
    first, upto, breaks = None, 0, False
    for number, block in enumerate(blocks):
        if isinstance(block, PageBreak):
            if first is not None:
                found.append(_Chunk(first, upto, begins[first], ends[upto - 1], breaks))
                first = None
            breaks = True
        rows = rows_of.get(number)
        if not rows:
            continue
        start = rows[0] if first is None else first
        if isinstance(block, Heading):
            first, upto = start, rows[-1] + 1
            continue
        whole = _Chunk(start, rows[-1] + 1, begins[start], ends[rows[-1]], breaks)
        if whole.end - whole.begin <= height:
            found.append(whole)
        else:
            found.append(_Chunk(start, rows[0] + 1, begins[start], ends[rows[0]], breaks))
            found += [_Chunk(row, row + 1, begins[row], ends[row], False) for row in rows[1:]]
        first, breaks = None, False
    if first is not None:
        last = len(begins)
        found.append(_Chunk(first, last, begins[first], ends[last - 1], breaks))
    return found


def words_on(page: Page, strip: Strip) -> int:
    """How many words are to be read on a page."""
    return sum(len(piece.text.split()) for row in strip.rows[page.first : page.last] for piece in row.pieces)
