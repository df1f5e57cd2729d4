"""Edits of moves: one, or several parts' together, shifted, stretched and staggered."""

from collections.abc import Callable, Iterable
from typing import Literal, NamedTuple, get_args

import msgspec

from avlet.document.editing.edits import need_part, put_part, set_property
from avlet.document.faults.checking import check
from avlet.document.parts import AnyPart, PatternPart
from avlet.document.template import Template
from avlet.document.time.moves import Move, OwnWayOut
from avlet.errors import DocumentError

replace = msgspec.structs.replace
Where = Literal["way_in", "way_out.moves"]


class MoveAt(NamedTuple):
    """One move of a template: of which part, on its way in or out, and its number there."""

    part: str
    where: Where
    number: int

    @property
    def path(self) -> str:
        """The move's path, for properties below it."""
        return f"{self.part}/{self.where}.{self.number}"


def moves_at(part: AnyPart, where: str) -> tuple[Move, ...]:
    """The moves of a part's way in, or of a way out of its own."""
    if where == "way_in":
        return part.way_in
    return part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()


def move_at(template: Template, at: MoveAt) -> Move | None:
    """The move that stands there."""
    part = template.part(at.part)
    moves = moves_at(part, at.where) if part is not None else ()
    return moves[at.number] if at.number < len(moves) else None


def need_move(template: Template, at: MoveAt) -> Move:
    """The move that stands there; raises ``DocumentError`` if it is gone."""
    move = move_at(template, at)
    if move is None:
        raise DocumentError(f"{template.name_of(at.part)} does not have that move any more.")
    return move


def put_move(template: Template, at: MoveAt, move: Move | None) -> Template:
    """The template with another move there, or with that one gone."""
    part = need_part(template, at.part)
    moves = list(moves_at(part, at.where))
    moves[at.number : at.number + 1] = [] if move is None else [move]
    change = {"way_in": tuple(moves)} if at.where == "way_in" else {"way_out": OwnWayOut(tuple(moves))}
    return check(put_part(template, replace(part, **change)))


def changed_moves(template: Template, chosen: Iterable[MoveAt], change: Callable[[Move, int], Move]) -> Template:
    """Several moves changed; ``change`` is given each with its place in the order of ``chosen``."""
    for number, at in enumerate(chosen):
        move = move_at(template, at)
        if move is not None:
            template = put_move(template, at, change(move, number))
    return template


def shifted_by(move: Move, frames: float) -> Move:
    """A move that begins so many frames later, by its own start or by its tie."""
    if move.tie is not None:
        return replace(move, tie=replace(move.tie, frames=move.tie.frames + frames))
    return replace(move, start=max(0, round(move.start + (-frames if move.counts_from == "the end" else frames))))


def brought(template: Template, at: MoveAt, frames: float) -> Move:
    """A move of a template that begins so many frames later. A way out that would begin before the template's counts from the end.

    Where the template's own way out is as long as the moves need, nothing begins before it by being moved.
    """
    move = need_move(template, at)
    early = -(move.start + frames)
    if at.where == "way_in" or move.tie is not None or move.counts_from == "the end" or early <= 0 or template.fits_out:
        return shifted_by(move, frames)
    return replace(move, counts_from="the end", start=round(template.way_out + early))


def by_chance(move: Move) -> bool:
    """Whether anything of a move goes by its chance."""
    return move.order == "shuffled" or move.elsewhere is not None


def shuffled_again(template: Template, part_ids: Iterable[str]) -> Template:
    """Another chance for all moves of some parts that go by one, and for the copies of patterns."""
    for part_id in part_ids:
        part = need_part(template, part_id)
        for where in get_args(Where):
            for number, move in enumerate(moves_at(part, where)):
                if by_chance(move):
                    template = put_move(template, MoveAt(part_id, where, number), replace(move, seed=(move.seed + 1) % 1_000_000))
        if isinstance(part, PatternPart):
            template = set_property(template, f"{part_id}/seed", (part.seed + 1) % 1_000_000)
    return template


def shifted(template: Template, chosen: Iterable[MoveAt], frames: float) -> Template:
    """Moves that begin so many frames later, none of a way in before the begin."""
    for at in [one for one in chosen if move_at(template, one) is not None]:
        template = put_move(template, at, brought(template, at, frames))
    return template


def stretched(template: Template, chosen: Iterable[MoveAt], percent: float) -> Template:
    """Moves that take so much of their frames; starts of their own move along, from the first of them on."""
    listed = list(chosen)
    starts = [m.start for at in listed if (m := move_at(template, at)) is not None and m.tie is None and m.counts_from == "the beginning"]
    first = min(starts, default=0)

    def change(move: Move, _: int) -> Move:
        own = move.tie is None and move.counts_from == "the beginning"
        start = round(first + (move.start - first) * percent / 100) if own else move.start
        return replace(move, frames=max(1, round(move.frames * percent / 100)), start=start)

    return changed_moves(template, listed, change)


def staggered(template: Template, chosen: Iterable[MoveAt], frames: float) -> Template:
    """Moves that begin one after another, so many frames apart, from where the first of them begins."""
    listed = list(chosen)
    first = move_at(template, listed[0]) if listed else None
    begin = first.start if first is not None else 0
    from_end = first is not None and first.counts_from == "the end"
    counts_from = "the end" if from_end else "the beginning"

    def change(move: Move, number: int) -> Move:
        start = begin - number * frames if from_end else begin + number * frames
        return replace(move, start=max(0, round(start)), counts_from=counts_from, tie=None)

    return changed_moves(template, listed, change)
