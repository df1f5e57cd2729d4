"""Proofreading a list: what somebody would want to look at before it goes out. Nothing is changed by itself."""

import itertools
import re
import unicodedata
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass

import msgspec
import numpy as np

from avlet.document.lists.blocks import Blocks, Heading, Names, Role, Words, with_words, words_in
from avlet.review.unseen import unseen
from avlet.text.fonts import FontBook
from avlet.text.units import grapheme_starts

replace = msgspec.structs.replace
_ALIKE = 90
"""How alike two names are, of 100 (Levenshtein's ratio), from which on they may be one name spelled two ways."""
_LEAST = 6
_AT_ONCE = 2_500
_STRAIGHT, _CURLY = "'\"", "‘’“”"
_STRAIGHTENED: dict[int, str] = {ord("‘"): "'", ord("’"): "'", ord("“"): '"', ord("”"): '"'}
SEVERAL = "several names"
"""How the sort of such a remark begins: its mend has a line for each name."""
_TITLE = re.compile(r"[A-Z]{2,5}|\w{1,4}\.")
"""What stands behind a name, such as a degree."""
_BLANKS = re.compile(r"[ \t\u00a0]{2,}|^\s+|\s+$")


@dataclass(frozen=True)
class Remark:
    """What there is to look at: in which block, in which of its words, of which sort, and what those words should be where there is one
    right answer.
    """

    block: int
    place: int
    sort: str
    words: str
    mend: str | None = None


def proofread(blocks: Blocks, book: FontBook | None = None) -> list[Remark]:
    """All remarks on a list, in its order, without what somebody has said to be meant so. ``book`` tells which letters have glyphs."""
    signs = (Remark(number, place, seen.sort, seen.words, seen.mend) for number, place, seen in unseen(blocks))
    alone = list(_alone(blocks))
    blank = {(remark.block, remark.place) for remark in alone if remark.sort.startswith("blanks")}
    signs = (one for one in signs if (one.block, one.place) not in blank)  # that mend takes them away as well
    found = [*alone, *signs, *_spelled_two_ways(blocks), *_quotes(blocks), *(_glyphs(blocks, book) if book is not None else ())]
    kept = [remark for remark in found if remark.sort not in blocks[remark.block].meant]
    return sorted(kept, key=lambda r: (r.block, r.place))


def meant(blocks: Blocks, remark: Remark) -> Blocks:
    """A list in which somebody has said that it is meant so."""
    block = blocks[remark.block]
    changed = replace(block, meant=(*block.meant, remark.sort)[-100:])
    return (*blocks[: remark.block], changed, *blocks[remark.block + 1 :])


def mended(blocks: Blocks, remark: Remark) -> Blocks:
    """A list with the one right answer in its place; the same list where there is none."""
    block = blocks[remark.block]
    words = list(words_in(block))
    if remark.mend is None or remark.place >= len(words):
        return blocks
    words[remark.place : remark.place + 1] = remark.mend.split("\n") if remark.sort.startswith(SEVERAL) else [remark.mend]
    return (*blocks[: remark.block], with_words(block, words), *blocks[remark.block + 1 :])


def _alone(blocks: Blocks) -> Iterator[Remark]:
    """What shows in a block by itself: blanks, and names that are missing or there twice."""
    for number, block in enumerate(blocks):
        for place, words in enumerate(words_in(block)):
            if _BLANKS.search(words) and words.strip():
                lines = (" ".join(re.split(r"[ \t\u00a0]+", line.strip())) for line in words.strip().split("\n"))
                what = "two blanks" if re.search(r"\S[ \t\u00a0]{2,}\S", words) else "a blank at an end"
                yield Remark(number, place, f"blanks: {words[:200]}", f"“{words.strip()[:60]}” has {what}.", "\n".join(lines))
        if isinstance(block, Role) and block.role.strip() and not any(n.strip() for n in block.names):
            yield Remark(number, 0, "no name", f"“{block.role.strip()[:60]}” has no name.")
        elif isinstance(block, Role) and not block.role.strip() and any(n.strip() for n in block.names):
            yield Remark(number, 0, "no role", f"“{block.names[0].strip()[:60]}” has no role.")
        elif isinstance(block, Role | Names) and len(block.names) > 1 and not all(n.strip() for n in block.names):
            at = next(n for n, name in enumerate(block.names) if not name.strip())
            yield Remark(number, at + isinstance(block, Role), "empty line", "There is an empty line among its names.")
        if isinstance(block, Heading | Words) and not block.text.strip():
            yield Remark(number, 0, "empty", f"This {block.kind} is empty." if isinstance(block, Heading) else "These words are empty.")
        if isinstance(block, Role | Names):
            yield from _twice(number, block)
            yield from _several(number, block)


def _several(number: int, block: Role | Names) -> Iterator[Remark]:
    """Names that stand in one cell, parted by semicolons, lines or commas. Between commas each has to be a full name, as none else tells
    them from a title behind a name, or a family name before a first one.
    """
    for place, name in enumerate(block.names):
        parts = [part.strip() for part in re.split(r"[;\n]", name) if part.strip()]
        if len(parts) < 2:
            parts = [part.strip() for part in name.split(",") if part.strip()]
            if len(parts) < 2 or not all(len(part.split()) > 1 and not _TITLE.fullmatch(part.split()[0]) for part in parts):
                continue
        words = f"“{name.strip()[:60]}” looks like {len(parts)} names in one."
        yield Remark(number, place + isinstance(block, Role), f"{SEVERAL}: {name[:200]}", words, "\n".join(parts))


def _twice(number: int, block: Role | Names) -> Iterator[Remark]:
    seen: set[str] = set()
    for place, name in enumerate(block.names):
        key = " ".join(name.casefold().split())
        if key and key in seen:
            under = f" under “{block.role.strip()[:40]}”" if isinstance(block, Role) and block.role.strip() else " here"
            yield Remark(number, place + isinstance(block, Role), f"twice: {key[:200]}", f"“{name.strip()[:60]}” stands twice{under}.")
        seen.add(key)


def _names(blocks: Blocks) -> Iterator[tuple[int, int, str]]:
    for number, block in enumerate(blocks):
        if isinstance(block, Role | Names):
            for place, name in enumerate(block.names):
                if name.strip():
                    yield number, place + isinstance(block, Role), " ".join(name.split())


def _skeleton(name: str) -> str:
    """A name without accents, case, hyphens and points: equal for two that differ in those alone."""
    bare = "".join(c for c in unicodedata.normalize("NFKD", name.casefold()) if not unicodedata.combining(c))
    return re.sub(r"[\W_]+", " ", bare).strip()


def _spelled_two_ways(blocks: Blocks) -> Iterator[Remark]:
    """Names that are nearly another one of the list; said at the later of the two."""
    first: dict[str, tuple[int, int]] = {}
    for number, place, name in _names(blocks):
        first.setdefault(name, (number, place))
    names = list(first)
    for one, other in _alike(names):
        earlier, later = sorted((one, other), key=lambda n: first[n])
        number, place = first[later]
        yield Remark(number, place, f"two ways: {earlier[:200]}", f"“{later[:60]}”: “{earlier[:60]}” is above. One name, spelled two ways?")


def _alike(names: list[str]) -> Iterator[tuple[str, str]]:
    """Pairs of different names that are nearly the same; of a long list only those that begin with the same letters."""
    bare = {name: _skeleton(name) for name in names}
    groups: dict[object, list[str]] = {}
    for name in names:
        words = bare[name].split()
        key = None if len(names) <= _AT_ONCE else (words[0][:1], words[-1][:2]) if words else name
        groups.setdefault(key, []).append(name)
    for group in groups.values():
        if len(group) < 2:
            continue
        lean = [bare[name] for name in group]
        from rapidfuzz import fuzz, process

        scores = process.cdist(lean, lean, scorer=fuzz.ratio, score_cutoff=_ALIKE, dtype=np.uint8)
        rows, columns = np.nonzero(np.triu(scores, 1))
        for a, b in zip(rows.tolist(), columns.tolist(), strict=True):
            same = lean[a] == lean[b]
            if lean[a] and (same or (min(len(lean[a]), len(lean[b])) >= _LEAST and not _differ_in_figures(lean[a], lean[b]))):
                yield group[a], group[b]


def _differ_in_figures(one: str, other: str) -> bool:
    return re.sub(r"\d", "", one) == re.sub(r"\d", "", other) and one != other


def _quotes(blocks: Blocks) -> Iterator[Remark]:
    """Straight and curly quotes in one list: said where those stand that are fewer; each can be turned into the others."""
    count: Counter[bool] = Counter()
    for block in blocks:
        for words in words_in(block):
            count[True] += sum(words.count(c) for c in _CURLY)
            count[False] += sum(words.count(c) for c in _STRAIGHT)
    if not (count[True] and count[False]):
        return
    curly = count[True] >= count[False]
    strange = _STRAIGHT if curly else _CURLY
    for number, block in enumerate(blocks):
        for place, words in enumerate(words_in(block)):
            if any(c in words for c in strange):
                mend = curled(words) if curly else words.translate(_STRAIGHTENED)
                what = "straight quotes; elsewhere they are curly" if curly else "curly quotes; elsewhere they are straight"
                yield Remark(number, place, "quotes", f"“{words.strip()[:60]}” has {what}.", mend)


def curled(words: str) -> str:
    """Words with curly quotes for straight ones: opening ones before a letter that begins a word."""
    words = re.sub(r"(^|[\s(\[{–—])\"", "\\1“", words).replace('"', "”")
    return re.sub(r"(^|[\s(\[{–—“])'(?=\w+['’])", "\\1‘", words).replace("'", "’")


def _glyphs(blocks: Blocks, book: FontBook) -> Iterator[Remark]:
    """Letters that no font here has."""
    known: dict[str, bool] = {}
    face = book.faces[0]
    for number, block in enumerate(blocks):
        for place, words in enumerate(words_in(block)):
            if words.isascii():
                continue
            starts = grapheme_starts(words)
            lacking = []
            for a, b in itertools.pairwise(starts):
                cluster = words[a:b]
                if cluster not in known:
                    known[cluster] = cluster.isspace() or book.covering(cluster, face) is not None
                if not known[cluster]:
                    lacking.append(cluster)
            if lacking:
                signs = " ".join(dict.fromkeys(lacking))
                yield Remark(number, place, f"glyphs: {signs[:100]}", f"No font here has glyphs for {signs[:60]}.")
