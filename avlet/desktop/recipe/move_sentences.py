"""The recipe's sentences on the way in, the way out, and the hold between."""

from collections.abc import Callable
from typing import Any, get_args

from PyQt6.QtWidgets import QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document import edits
from avlet.document.eases import READY_EASES, backwards, name_of_ease
from avlet.document.moves import (
    READY_MOVES,
    READY_SWAYS,
    Mirrored,
    Move,
    Opening,
    Order,
    OwnWayOut,
    StaysToTheEnd,
    Sway,
    Tie,
    Tied,
    name_of_move,
)
from avlet.document.parts import AnyPart, PatternPart, TextPart
from avlet.document.timing import MoveAt, Where, moves_at, put_move
from avlet.storage.kept import read_kept

replace = edits.replace
_HINGES = {"left": (0.0, 50.0), "the middle": (50.0, 50.0), "right": (100.0, 50.0), "top": (50.0, 0.0), "bottom": (50.0, 100.0)}
_SIDES: list[Choice] = [("below", "below"), ("above", "above"), ("the left", "left"), ("the right", "right")]
_TURNED: dict[Order, Order] = {
    "first to last": "last to first", "last to first": "first to last", "middle out": "ends in", "ends in": "middle out",
}  # fmt: skip
_TIES: dict[Tied, str] = {"after its start": "{} starts", "after its end": "{} is done", "ending with it": "{} is done, ending with it"}
_UNITS: list[Choice] = [("as a whole", "whole"), ("line by line", "line"), ("word by word", "word"), ("letter by letter", "character")]


def way_in_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """One sentence for each move of the way in, and a word to add one."""
    said = [move_sentence(session, part, "way_in", number, move) for number, move in enumerate(part.way_in)]
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
    if not isinstance(part, TextPart | PatternPart):
        move = replace(move, by="whole", tracking=0.0)
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
    return [say.widget, *(move_sentence(session, part, "way_out.moves", n, m) for n, m in enumerate(own))]


def _own_way_out(part: AnyPart) -> OwnWayOut:
    """A way out to begin with: the way in, turned round, or a fade."""
    moves = part.way_in or (READY_MOVES["fades"],)
    return OwnWayOut(tuple(replace(m, ease=backwards(m.ease), order=_TURNED.get(m.order, m.order), start=0, tie=None) for m in moves))


def move_sentence(session: Session, part: AnyPart, where: Where, number: int, move: Move) -> QWidget:
    """A move as a sentence whose words can be changed."""
    say = Sentence(session, "time")
    place = MoveAt(part.id, where, number)

    def change(**changes: Any) -> Callable[[], bool]:
        return lambda: session.edit(f"{part.name}: move", lambda t: put_move(t, place, replace(move, **changes)))

    name = name_of_move(move)
    kept = {k: getattr(move, k) for k in ("frames", "start", "tie", "overlap", "order", "by", "pace", "step", "longest")}
    ready = {**READY_MOVES, **read_kept().moves}
    choices: list[Choice] = [(words, replace(ready_for(part, made), **kept)) for words, made in ready.items()]
    say.choice(name, choices, lambda new: session.edit(f"{part.name}: move", lambda t: put_move(t, place, new)), f"{where} kind")
    _from_where(say, place.path, move, change, name)
    if isinstance(part, TextPart | PatternPart):
        _units(say, place.path, move, change, where)
    say.words("in").number(f"{place.path}.frames")
    say.words("frames" if move.pace == "in all" else "frames each, one every")
    if move.pace == "by step":
        say.number(f"{place.path}.step").words("frames, all in").number(f"{place.path}.longest").words("at most (0: no limit)")
    _start(say, session, part, place, move, change)
    eases = [(words, ease) for words, ease in {**READY_EASES, **read_kept().eases}.items()]
    say.words(", eased").choice(name_of_ease(move.ease), eases, lambda ease: change(ease=ease)(), f"{where} ease")
    say.button("×", lambda: session.edit(f"{part.name}: without move", lambda t: put_move(t, place, None)), f"{where} remove")
    return say.widget


def _units(say: Sentence, at: str, move: Move, change: Callable[..., Callable[[], bool]], where: str) -> None:
    """By which unit, in which order, how far they lie over each other."""
    words = next(w for w, unit in _UNITS if unit == move.by)
    say.choice(words, _UNITS, lambda unit: change(by=unit)(), f"{where} by")
    if move.by == "whole":
        return
    say.words(",").choice(move.order, [(order, order) for order in get_args(Order)], lambda o: change(order=o)(), f"{where} order")
    if move.order == "shuffled":
        say.button("shuffle again", change(seed=(move.seed + 1) % 1_000_000), f"{where} shuffle")
    if move.pace == "in all":
        say.words("overlapping").number(f"{at}.overlap").words("%")
    paces: list[Choice] = [("all together", "in all"), ("by a step", "by step")]
    shown = "all together" if move.pace == "in all" else "by a step"
    say.words(", paced").choice(shown, paces, lambda v: change(pace=v)(), f"{where} pace")


def _start(say: Sentence, session: Session, part: AnyPart, place: MoveAt, move: Move, change: Callable[..., Callable[[], bool]]) -> None:
    """When a move begins: so long after the begin, or after what another part does."""
    choices: list[Choice] = [("the begin", None)]
    for other in reversed(session.template.parts):
        if other.id != part.id and (other.way_in or moves_at(other, "way_out.moves")):
            ways = ("after its start", "after its end", "ending with it")
            choices += [(_TIES[how].format(other.name), (other.id, how)) for how in ways]
    tie = move.tie

    def put(to: tuple[str, Tied] | None) -> None:
        change(tie=None if to is None else Tie(to[0], to[1], tie.frames if tie is not None else 0.0))()

    say.words(", starting")
    if tie is None:
        say.number(f"{place.path}.start").words("frames after").choice("the begin", choices, put, f"{place.where} tie")
    else:
        say.number(f"{place.path}.tie.frames").words("frames after")
        say.choice(_TIES[tie.how].format(session.template.name_of(tie.on)), choices, put, f"{place.where} tie")


def sway_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """What a part does while it holds, and a word to add to it."""

    def put(sways: tuple[Sway, ...]) -> None:
        session.edit(f"{part.name}: while it holds", lambda t: edits.set_relations(t, part.id, sways=sways))

    said = []
    for number, sway in enumerate(part.sways):
        at, others = f"{part.id}/sways.{number}", (*part.sways[:number], *part.sways[number + 1 :])
        say = Sentence(session, "time")
        ways: list[Choice] = [(way, way) for way in ("drifts", "breathes", "loops")]
        before, after = part.sways[:number], part.sways[number + 1 :]
        say.choice(sway.way, ways, lambda way, s=sway, b=before, a=after: put((*b, replace(s, way=way), *a)), "sway way")
        say.words("by").number(f"{at}.x").words("px right,").number(f"{at}.y").words("px down, to").number(f"{at}.scale")
        say.words("% size,").number(f"{at}.turn").words("° turned,").number(f"{at}.opacity").words("% opacity")
        if sway.way != "drifts":
            say.words(", about every").number(f"{at}.period").words("frames")
        said.append(say.button("×", lambda o=others: put(o), "remove sway").widget)
    say = Sentence(session, "time")
    if not part.sways:
        say.words("stands still;")
    choices: list[Choice] = list(READY_SWAYS.items())
    return [*said, say.choice("let it move" if not part.sways else "one more", choices, lambda s: put((*part.sways, s)), "add sway").widget]


def _from_where(say: Sentence, at: str, move: Move, change: Callable[..., Callable[[], bool]], name: str) -> None:
    """What the move comes from: a hinge, a side of the matte, or an offset; and how far it has faded."""
    if name in ("unfolds", "grows"):
        say.words("from")
        hinge = next((w for w, h in _HINGES.items() if h == (move.hinge_x, move.hinge_y)), "a point")
        sides = list(_HINGES.items())
        say.choice(hinge, sides, lambda h: change(hinge_x=h[0], hinge_y=h[1], **_unfolding(name, h))(), "hinge")
    elif move.travel != "by offset":
        whats: list[Choice] = [("matte", "out of the matte"), ("frame", "out of the frame")]
        say.words("just out of the").choice(move.travel.rpartition(" ")[2], whats, lambda v: change(travel=v)(), "out of").words("from")
        words = next(w for w, side in _SIDES if side == move.side)
        say.choice(words, _SIDES, lambda side: change(side=side)(), "side")
    elif name in ("wipes",):
        openings: list[Choice] = [(o, o) for o in get_args(Opening)]
        say.words("open from").choice(move.opens_from, openings, lambda v: change(opens_from=v)(), "opens from")
        say.words("with a soft edge of").number(f"{at}.opens_soft").words("px")
    elif name == "focuses":
        say.words("from").number(f"{at}.blur").words("px of blur")
    elif name == "turns":
        say.words("by").number(f"{at}.turn").words("°")
    elif name == "tumbles":
        say.words("by").number(f"{at}.turn_x").words("° over,").number(f"{at}.turn_y").words("° round")
    elif name in ("pops", "settles"):
        say.words("from").number(f"{at}.scale_x", f"{at}.scale_y").words("% size")
    elif name not in ("fades", "types on", "draws on"):
        say.words("by").number(f"{at}.x").words("px right,").number(f"{at}.y").words("px down,")
    if move.opacity < 100:
        say.words("from").number(f"{at}.opacity").words("% opacity")


def _unfolding(name: str, hinge: tuple[float, float]) -> dict[str, float]:
    """Something that unfolds opens sideways from a side, and upright from top or bottom."""
    if name != "unfolds":
        return {}
    return {"scale_x": 100.0, "scale_y": 0.0} if hinge in (_HINGES["top"], _HINGES["bottom"]) else {"scale_x": 0.0, "scale_y": 100.0}
