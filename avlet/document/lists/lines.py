"""Lines: a list of blocks as a table shows it, a name in each line, and edits of it line by line."""

import math
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import msgspec

from avlet.document.lists.blocks import (
    LONGEST,
    Block,
    Blocks,
    Gap,
    Heading,
    Names,
    PageBreak,
    Pictures,
    Role,
    RuleLine,
    Words,
    inserted,
    put_block,
    shifted,
    turned_into,
    without,
)
from avlet.numbers.exact import in_full

replace = msgspec.structs.replace
LEFT, RIGHT = 0, 1
"""The two cells of a line: a role, a heading, words, a file, a measure; and a name, or another measure."""


class Line(NamedTuple):
    """One line: which block, and which of its names; 0 for what has none."""

    block: int
    number: int = 0


def lines_in(blocks: Iterable[Block]) -> list[Line]:
    """The lines of a list."""
    found = []
    for index, block in enumerate(blocks):
        many = max(1, len(block.names)) if isinstance(block, Role | Names) else 1
        found += [Line(index, number) for number in range(many)]
    return found


def _measure(value: float) -> str:
    return f"{in_full(value)}"


def cell(block: Block, number: int, side: int) -> str:
    """What is typed in a cell of a line."""
    match block:
        case Heading(text=text) | Words(text=text):
            return text if side == LEFT else ""
        case Role(role=role, names=names):
            return (role if number == 0 else "") if side == LEFT else names[number] if number < len(names) else ""
        case Names(names=names):
            return "" if side == LEFT else names[number] if number < len(names) else ""
        case Pictures(pictures=pictures, height=height):
            return ", ".join(p.name for p in pictures) if side == LEFT else _measure(height)
        case RuleLine(width=width, thickness=thickness):
            return _measure(width if side == LEFT else thickness)
        case Gap(height=height):
            return _measure(height) if side == LEFT else ""
    return ""


def may_type(block: Block, side: int) -> bool:
    """Whether a cell of a block takes what is typed."""
    match block:
        case Role():
            return True
        case Heading() | Words() | Gap():
            return side == LEFT
        case Names() | Pictures():
            return side == RIGHT
        case RuleLine():
            return True
    return False


def _number(words: str, present: float) -> float:
    try:
        value = float(words.strip().removesuffix("px").strip().replace(",", "."))
    except ValueError:
        return present
    return present if math.isnan(value) else min(20_000.0, max(0.0, value))


def put_cell(blocks: Blocks, line: Line, side: int, words: str) -> Blocks:
    """A list with other words in a cell. A role beside a further name begins a block there."""
    block = blocks[line.block]
    if isinstance(block, Role) and side == LEFT and line.number > 0:
        if not words:
            return blocks
        before = replace(block, names=block.names[: line.number])
        return (*blocks[: line.block], before, Role(role=words[:LONGEST], names=block.names[line.number :]), *blocks[line.block + 1 :])
    return put_block(blocks, line.block, _typed(block, line.number, side, words))


def _typed(block: Block, number: int, side: int, words: str) -> Block:
    words = words[: LONGEST * (10 if isinstance(block, Words) else 1)]
    match block:
        case Heading() | Words():
            return replace(block, text=words) if side == LEFT else block
        case Role(names=names) if side == LEFT:
            return replace(block, role=words, names=names or ("",))
        case Role(names=names) | Names(names=names):
            return block if side == LEFT else replace(block, names=_with(names, number, words))
        case Pictures():
            return block if side == LEFT else replace(block, height=_number(words, block.height))
        case RuleLine():
            if side == LEFT:
                return replace(block, width=_number(words, block.width))
            return replace(block, thickness=_number(words, block.thickness))
        case Gap():
            return replace(block, height=_number(words, block.height)) if side == LEFT else block
    return block


def _with(names: Sequence[str], number: int, words: str) -> tuple[str, ...]:
    listed = [*names, *([""] * (number + 1 - len(names)))]
    listed[number] = words
    return tuple(listed)


def joined(blocks: Blocks, index: int) -> Blocks:
    """A list in which a block whose role was emptied goes on with the role above, if there is one."""
    block = blocks[index] if 0 <= index < len(blocks) else None
    above = blocks[index - 1] if 0 < index <= len(blocks) else None
    if not isinstance(block, Role) or block.role.strip() or not isinstance(above, Role) or not any(n.strip() for n in block.names):
        return blocks
    return (*blocks[: index - 1], replace(above, names=(*above.names, *block.names)), *blocks[index + 1 :])


def line_added(blocks: Blocks, line: Line | None) -> tuple[Blocks, Line]:
    """A list with an empty line after one, or at its end, and where that is: a name where names stand, else a role."""
    if line is None or line.block >= len(blocks):
        return (*blocks, Role()), Line(len(blocks))
    block = blocks[line.block]
    if isinstance(block, Role | Names):
        at = line.number + 1
        made = replace(block, names=(*block.names[:at], "", *block.names[at:]))
        return put_block(blocks, line.block, made), Line(line.block, at)
    return inserted(blocks, line.block + 1, [Role()]), Line(line.block + 1)


def block_added(blocks: Blocks, line: Line | None, block: Block) -> tuple[Blocks, Line]:
    """A list with a block behind that of a line, or at its end, and where it is."""
    at = len(blocks) if line is None else min(len(blocks), line.block + 1)
    return inserted(blocks, at, [block]), Line(at)


def _picked(blocks: Blocks, lines: Iterable[Line]) -> dict[int, list[int]]:
    """By block: which of its lines are among some."""
    found: dict[int, list[int]] = {}
    for line in sorted(set(lines)):
        if line.block < len(blocks):
            found.setdefault(line.block, []).append(line.number)
    return found


def _many(block: Block) -> int:
    return max(1, len(block.names)) if isinstance(block, Role | Names) else 1


def lines_taken(blocks: Blocks, lines: Iterable[Line]) -> Blocks:
    """The blocks of some lines, with only the names that are among them."""
    found: list[Block] = []
    for index, numbers in _picked(blocks, lines).items():
        block = blocks[index]
        if isinstance(block, Role | Names) and len(numbers) < _many(block):
            names = tuple(block.names[n] for n in numbers if n < len(block.names))
            block = (
                replace(block, names=names, role=block.role if 0 in numbers else "")
                if isinstance(block, Role)
                else replace(block, names=names)
            )
        found.append(block)
    return tuple(found)


def lines_removed(blocks: Blocks, lines: Iterable[Line]) -> Blocks:
    """A list without some lines. A role stays while one of its names does."""
    gone, kept = [], list(blocks)
    for index, numbers in _picked(blocks, lines).items():
        block = blocks[index]
        if isinstance(block, Role | Names) and len(numbers) < _many(block):
            kept[index] = replace(block, names=tuple(n for at, n in enumerate(block.names) if at not in numbers))
        else:
            gone.append(index)
    return without(tuple(kept), gone)


def lines_shifted(blocks: Blocks, lines: Sequence[Line], by: int) -> tuple[Blocks, list[Line]]:
    """Some lines moved one place up (−1) or down (1): names within their block, else whole blocks; and where they are then."""
    picked = _picked(blocks, lines)
    if len(picked) == 1:
        ((index, numbers),) = picked.items()
        block = blocks[index]
        if isinstance(block, Role | Names) and len(numbers) < _many(block):
            names = list(block.names)
            if (by < 0 and numbers[0] == 0) or (by > 0 and numbers[-1] == len(names) - 1):
                return blocks, [Line(index, n) for n in numbers]
            for n in numbers if by < 0 else reversed(numbers):
                names[n], names[n + by] = names[n + by], names[n]
            return put_block(blocks, index, replace(block, names=tuple(names))), [Line(index, n + by) for n in numbers]
    moved, places = shifted(blocks, picked, by)
    return moved, [Line(place, number) for place in places for number in range(_many(moved[place]))]


def lines_turned(blocks: Blocks, lines: Iterable[Line], kind: str) -> Blocks:
    """A list in which the blocks of some lines are of another kind."""
    listed = list(blocks)
    for index in _picked(blocks, lines):
        listed[index] = turned_into(listed[index], kind)
    return tuple(listed)


def lines_pasted(blocks: Blocks, line: Line | None, new: Blocks) -> tuple[Blocks, list[Line]]:
    """A list with more blocks behind the line, and the lines of those. Names alone go on with a block of names or a role."""
    if (
        line is not None
        and line.block < len(blocks)
        and len(new) == 1
        and isinstance(new[0], Names | Role)
        and not getattr(new[0], "role", "")
    ):
        block = blocks[line.block]
        if isinstance(block, Role | Names):
            at = line.number + 1
            made = replace(block, names=(*block.names[:at], *new[0].names, *block.names[at:]))
            return put_block(blocks, line.block, made), [Line(line.block, at + n) for n in range(len(new[0].names))]
    at = len(blocks) if line is None else min(len(blocks), line.block + 1)
    return inserted(blocks, at, new), [Line(at + n.block, n.number) for n in lines_in(new)]


def facts_of(block: Block) -> str:
    """What is to be said of a block beside its words."""
    match block:
        case Names():
            said = [f"{block.columns} columns, {block.filled}"] if block.columns > 1 else []
            return ", ".join([*said, *([f"sorted in {block.sorted_in}"] if block.sorted_in else [])])
        case PageBreak():
            return "another page begins"
    return ""
