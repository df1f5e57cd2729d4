"""The recipe's sentences on the way in and the way out."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QWidget

from avlet.desktop.sentences import Choice, Sentence
from avlet.desktop.session import Session
from avlet.document import edits
from avlet.document.eases import READY_EASES, backwards, name_of_ease
from avlet.document.moves import READY_MOVES, Mirrored, Move, OwnWayOut, StaysToTheEnd, name_of_move
from avlet.document.parts import AnyPart, TextPart

replace = edits.replace
_HINGES = {"left": (0.0, 50.0), "the middle": (50.0, 50.0), "right": (100.0, 50.0), "top": (50.0, 0.0), "bottom": (50.0, 100.0)}
_SIDES: list[Choice] = [("below", "below"), ("above", "above"), ("the left", "left"), ("the right", "right")]
_UNITS: list[Choice] = [("as a whole", "whole"), ("line by line", "line"), ("word by word", "word"), ("letter by letter", "character")]


def way_in_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """One sentence for each move of the way in, and a word to add one."""
    said = [_move_sentence(session, part, "way_in", number, move) for number, move in enumerate(part.way_in)]
    say = Sentence(session, "time")
    if not part.way_in:
        say.words("stands there from the first frame;")
    choices = [(name, move) for name, move in READY_MOVES.items()]

    def add(move: Move) -> None:
        new = ready_for(part, move)
        session.edit(f"{part.name} {name_of_move(move)}", lambda t: edits.set_relations(t, part.id, way_in=(*part.way_in, new)))

    say.choice("add a move" if part.way_in else "let it arrive", choices, add, "add move")
    return [*said, say.widget]


def ready_for(part: AnyPart, move: Move) -> Move:
    """A ready move that suits a part: letters and lines only for texts, and something to come out of."""
    if not isinstance(part, TextPart):
        move = replace(move, by="whole")
    if move.travel == "out of the matte" and not part.mattes:
        move = replace(move, travel="by offset", y=80.0 if move.side == "below" else -80.0, opacity=0.0)
    return move


def way_out_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """How a part leaves."""
    say = Sentence(session, "time")
    kinds: list[Choice] = [("mirrors the way in", Mirrored()), ("goes its own way", None), ("stays to the end", StaysToTheEnd())]

    def choose(kind: Any) -> None:
        way_out = kind if kind is not None else _own_way_out(part)
        session.edit(f"{part.name}: way out", lambda t: edits.set_relations(t, part.id, way_out=way_out))

    shown = {Mirrored: kinds[0][0], OwnWayOut: kinds[1][0], StaysToTheEnd: kinds[2][0]}[type(part.way_out)]
    say.choice(shown, kinds, choose, "way out")
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    return [say.widget, *(_move_sentence(session, part, "way_out.moves", n, m) for n, m in enumerate(own))]


def _own_way_out(part: AnyPart) -> OwnWayOut:
    """A way out to begin with: the way in, turned round, or a fade."""
    moves = part.way_in or (READY_MOVES["fades"],)
    turned = {"first to last": "last to first", "last to first": "first to last"}
    return OwnWayOut(tuple(replace(m, ease=backwards(m.ease), order=turned[m.order], start=0) for m in moves))


def _move_sentence(session: Session, part: AnyPart, where: str, number: int, move: Move) -> QWidget:
    say = Sentence(session, "time")
    at = f"{part.id}/{where}.{number}"

    def change(**changes: Any) -> Callable[[], bool]:
        return lambda: session.edit(f"{part.name}: move", lambda t: _with_move(t, part, where, number, replace(move, **changes)))

    name = name_of_move(move)
    kept = {k: getattr(move, k) for k in ("frames", "start", "overlap", "order", "ease", "by")}
    choices = [(words, replace(ready_for(part, ready), **kept)) for words, ready in READY_MOVES.items()]
    say.choice(
        name, choices, lambda new: session.edit(f"{part.name}: move", lambda t: _with_move(t, part, where, number, new)), f"{where} kind"
    )
    _from_where(say, at, move, change, name)
    if isinstance(part, TextPart):
        words = next(w for w, unit in _UNITS if unit == move.by)
        say.choice(words, _UNITS, lambda unit: change(by=unit)(), f"{where} by")
        if move.by != "whole":
            orders: list[Choice] = [("first to last", "first to last"), ("last to first", "last to first")]
            say.words(",").choice(move.order, orders, lambda o: change(order=o)(), f"{where} order")
            say.words("overlapping").number(f"{at}.overlap").words("%")
    say.words("in").number(f"{at}.frames").words("frames, after").number(f"{at}.start").words(", eased")
    eases = [(words, ease) for words, ease in READY_EASES.items()]
    say.choice(name_of_ease(move.ease), eases, lambda ease: change(ease=ease)(), f"{where} ease")
    say.button(
        "×", lambda: session.edit(f"{part.name}: without move", lambda t: _with_move(t, part, where, number, None)), f"{where} remove"
    )
    return say.widget


def _from_where(say: Sentence, at: str, move: Move, change: Callable[..., Callable[[], bool]], name: str) -> None:
    """What the move comes from: a hinge, a side of the matte, or an offset; and how far it has faded."""
    if name in ("unfolds", "grows"):
        say.words("from")
        hinge = next((w for w, h in _HINGES.items() if h == (move.hinge_x, move.hinge_y)), "a point")
        sides = list(_HINGES.items())
        say.choice(hinge, sides, lambda h: change(hinge_x=h[0], hinge_y=h[1], **_unfolding(name, h))(), "hinge")
    elif move.travel == "out of the matte":
        say.words("just out of the matte from")
        words = next(w for w, side in _SIDES if side == move.side)
        say.choice(words, _SIDES, lambda side: change(side=side)(), "side")
    elif name != "fades":
        say.words("by").number(f"{at}.x").words("px right,").number(f"{at}.y").words("px down,")
    if move.opacity < 100:
        say.words("from").number(f"{at}.opacity").words("% opacity")


def _unfolding(name: str, hinge: tuple[float, float]) -> dict[str, float]:
    """Something that unfolds opens sideways from a side, and upright from top or bottom."""
    if name != "unfolds":
        return {}
    return {"scale_x": 100.0, "scale_y": 0.0} if hinge in (_HINGES["top"], _HINGES["bottom"]) else {"scale_x": 0.0, "scale_y": 100.0}


def _with_move(template: Any, part: AnyPart, where: str, number: int, move: Move | None) -> Any:
    moves = list(part.way_in if where == "way_in" else part.way_out.moves)  # type: ignore[union-attr]
    if move is None:
        del moves[number]
    else:
        moves[number] = move
    change = {"way_in": tuple(moves)} if where == "way_in" else {"way_out": OwnWayOut(tuple(moves))}
    return edits.set_relations(template, part.id, **change)
