"""What credits are made of: blocks, one after another, and edits of a list of them."""

from collections.abc import Callable, Iterable, Sequence
from typing import Annotated, Literal, get_args

import msgspec

from avlet.document.looks.picture_file import ChangePicture, PictureFile
from avlet.document.metadata import Value
from avlet.limits import MOST_BLOCKS

replace = msgspec.structs.replace
LONGEST = 10_000
"""How many characters a name, a role or a heading may have; words may have ten times as many."""

Line = Annotated[str, msgspec.Meta(max_length=LONGEST)]
Lines = Annotated[tuple[Line, ...], msgspec.Meta(max_length=MOST_BLOCKS)]
Px = Annotated[float, msgspec.Meta(ge=0, le=20_000)]


class BaseBlock(Value, frozen=True, kw_only=True, tag_field="block", omit_defaults=True):
    """One thing in a list. ``meant`` names what proofreading found in it and somebody has said to be right."""

    meant: Annotated[tuple[str, ...], msgspec.Meta(max_length=100)] = ()

    @property
    def kind(self) -> str:
        """The word for its kind."""
        return str(self.__struct_config__.tag)


class Heading(BaseBlock, frozen=True, kw_only=True, tag="heading"):
    """What a section is called. It stays with what follows it."""

    text: Line = ""


class Role(BaseBlock, frozen=True, kw_only=True, tag="role"):
    """What somebody does, and one or several who do it."""

    role: Line = ""
    names: Lines = ("",)


class Names(BaseBlock, frozen=True, kw_only=True, tag="names"):
    """Names by themselves in 1 to 4 columns, filled down or across; ``sorted_in`` a language by its rules, or as they stand."""

    names: Lines = ("",)
    columns: Annotated[int, msgspec.Meta(ge=1, le=4)] = 1
    filled: Literal["down", "across"] = "down"
    sorted_in: Annotated[str, msgspec.Meta(max_length=40)] = ""


class Words(BaseBlock, frozen=True, kw_only=True, tag="words"):
    """A paragraph."""

    text: Annotated[str, msgspec.Meta(max_length=LONGEST * 10)] = ""


class Pictures(BaseBlock, frozen=True, kw_only=True, tag="picture"):
    """One picture, or several in a row, all ``height`` px high."""

    pictures: Annotated[tuple[PictureFile, ...], msgspec.Meta(max_length=100)] = ()
    height: Px = 120.0


class RuleLine(BaseBlock, frozen=True, kw_only=True, tag="rule"):
    """A level line, ``width`` px long and ``thickness`` px thick."""

    width: Px = 400.0
    thickness: Px = 3.0


class Gap(BaseBlock, frozen=True, kw_only=True, tag="gap"):
    """Nothing, ``height`` px high."""

    height: Px = 90.0


class PageBreak(BaseBlock, frozen=True, kw_only=True, tag="page break"):
    """What follows begins on another page. A roll does not mind it."""


Block = Heading | Role | Names | Words | Pictures | RuleLine | Gap | PageBreak
BLOCK_TYPES: tuple[type[Block], ...] = get_args(Block)
BLOCK_KINDS: dict[str, type[Block]] = {str(kind.__struct_config__.tag): kind for kind in BLOCK_TYPES}
"""The kinds of block by their words."""
Blocks = tuple[Block, ...]


def words_in(block: Block) -> tuple[str, ...]:
    """All that is to be read in a block, in order."""
    match block:
        case Heading(text=text) | Words(text=text):
            return (text,)
        case Role(role=role, names=names):
            return (role, *names)
        case Names(names=names):
            return names
    return ()


def with_words(block: Block, words: Sequence[str]) -> Block:
    """A block with other words in the places of :func:`words_in`."""
    match block:
        case Heading() | Words():
            return replace(block, text=words[0])
        case Role():
            return replace(block, role=words[0], names=tuple(words[1:]))
        case Names():
            return replace(block, names=tuple(words))
    return block


def lines_of(blocks: Iterable[Block]) -> int:
    """How many lines a list has: a name, a heading, a paragraph, a row of pictures each is one."""
    return sum(max(1, len(b.names)) if isinstance(b, Role | Names) else 0 if isinstance(b, Gap | PageBreak) else 1 for b in blocks)


def multiplied(blocks: Blocks, factor: float) -> Blocks:
    """A list whose measures in px are multiplied."""

    def times(value: float) -> float:
        return round(value * factor, 4)

    def made(block: Block) -> Block:
        match block:
            case Gap() | Pictures():
                return replace(block, height=times(block.height))
            case RuleLine():
                return replace(block, width=times(block.width), thickness=times(block.thickness))
        return block

    return tuple(made(block) for block in blocks)


# Edits


def with_pictures(blocks: Blocks, change: ChangePicture) -> Blocks:
    """The same blocks with pictures that are changed."""
    if not any(isinstance(block, Pictures) for block in blocks):
        return blocks
    return tuple(
        msgspec.structs.replace(block, pictures=tuple(map(change, block.pictures))) if isinstance(block, Pictures) else block
        for block in blocks
    )


def pictures_in(blocks: Blocks) -> list[PictureFile]:
    """All pictures of a list, in its order."""
    return [picture for block in blocks if isinstance(block, Pictures) for picture in block.pictures]


def put_block(blocks: Blocks, index: int, block: Block) -> Blocks:
    """A list with another block at a place."""
    return (*blocks[:index], block, *blocks[index + 1 :])


def inserted(blocks: Blocks, index: int, new: Iterable[Block]) -> Blocks:
    """A list with more blocks before a place."""
    return (*blocks[:index], *new, *blocks[index:])


def without(blocks: Blocks, places: Iterable[int]) -> Blocks:
    """A list without some of its blocks."""
    gone = set(places)
    return tuple(block for index, block in enumerate(blocks) if index not in gone)


def shifted(blocks: Blocks, places: Iterable[int], by: int) -> tuple[Blocks, list[int]]:
    """Some blocks moved one place up (−1) or down (1) past their neighbours, and their new places; ends hold them."""
    chosen = sorted(set(places))
    listed = list(blocks)
    if not chosen or (by < 0 and chosen[0] == 0) or (by > 0 and chosen[-1] == len(listed) - 1):
        return blocks, chosen
    for place in chosen if by < 0 else reversed(chosen):
        listed[place], listed[place + by] = listed[place + by], listed[place]
    return tuple(listed), [place + by for place in chosen]


def turned_into(block: Block, kind: str) -> Block:
    """A block of another kind with the same words, as far as that has a place for them."""
    if kind == block.kind:
        return block
    words = [w for w in words_in(block) if w]
    match kind:
        case "heading":
            return Heading(text=" ".join(words))
        case "role":
            split = words[:1] if isinstance(block, Heading | Words) else []
            rest = words[len(split) :] if not isinstance(block, Names) else words
            return Role(role=" ".join(split), names=tuple(rest) or ("",))
        case "names":
            return Names(names=tuple(words) or ("",))
        case "words":
            return Words(text=" ".join(words) if not isinstance(block, Names | Role) else "\n".join(words))
    return BLOCK_KINDS[kind]()


def found_words(blocks: Blocks, wanted: str, whole_case: bool = False) -> list[tuple[int, int]]:
    """Where words stand in a list: the block, and which of its :func:`words_in`."""
    if not wanted:
        return []
    seek = wanted if whole_case else wanted.casefold()
    return [
        (index, place)
        for index, block in enumerate(blocks)
        for place, words in enumerate(words_in(block))
        if seek in (words if whole_case else words.casefold())
    ]


def replaced_words(blocks: Blocks, wanted: str, new: str, only: tuple[int, int] | None = None) -> Blocks:
    """A list with other words for some, everywhere or in one place. Large and small letters are told apart only where they are given so."""
    if not wanted:
        return blocks
    change = _replacer(wanted, new)
    listed = list(blocks)
    for index, place in [only] if only is not None else found_words(blocks, wanted):
        words = list(words_in(listed[index]))
        words[place] = change(words[place])
        listed[index] = with_words(listed[index], words)
    return tuple(listed)


def _replacer(wanted: str, new: str) -> Callable[[str], str]:
    def change(words: str) -> str:
        if wanted in words:
            return words.replace(wanted, new)
        folded, seek, made, at = words.casefold(), wanted.casefold(), "", 0
        if len(folded) != len(words):
            return words
        while (found := folded.find(seek, at)) >= 0:
            made += words[at:found] + new
            at = found + len(seek)
        return made + words[at:]

    return change
