"""The recipe's sentences on the way in, the way out, and the hold between."""

from typing import Any, get_args

from PyQt6.QtWidgets import QWidget

from avlet.desktop.recipe.elsewhere_sentence import elsewhere_words
from avlet.desktop.recipe.place_sentences import others
from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import edits
from avlet.document.editing.carrying import From, carried_past
from avlet.document.editing.edits import need_part, put_struct
from avlet.document.editing.grouping import stands_in
from avlet.document.editing.outlining import lacks_a_line, with_a_line
from avlet.document.editing.timing import MoveAt, Where, moves_at, need_move, put_move
from avlet.document.parts import AnyPart, LampPart, PaintedPart, members_of
from avlet.document.template import Template
from avlet.document.time.eases import READY_EASES, backwards, name_of_ease
from avlet.document.time.moves import (
    READY_MOVES,
    READY_SWAYS,
    Gathering,
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
    verb_of,
)
from avlet.storage.kept import read_kept

replace = edits.replace
_HINGES = {"left": (0.0, 50.0), "the middle": (50.0, 50.0), "right": (100.0, 50.0), "top": (50.0, 0.0), "bottom": (50.0, 100.0)}
_SIDES: list[Choice] = [("below", "below"), ("above", "above"), ("the left", "left"), ("the right", "right")]
_TURNED: dict[Order, Order] = {
    "first to last": "last to first", "last to first": "first to last", "middle out": "ends in", "ends in": "middle out",
}  # fmt: skip
_TIES: dict[Tied, str] = {"after its start": "{} starts", "after its end": "{} is done", "ending with it": "{} is done, ending with it"}
_COMES: dict[Tied, str] = {"after its start": "{} comes", "after its end": "{} has come", "ending with it": "{} has come, ending with it"}
_KEPT = ("frames", "start", "counts_from", "tie", "overlap", "order", "by", "pace", "step", "longest")
"""What stays when a move becomes another one."""
_BEFORE_THE_END = "before the end"
_LATER = 5
"""Frames that a start is put off by at first."""
_UNITS: list[Choice] = [("as a whole", "whole"), ("line by line", "line"), ("word by word", "word"), ("letter by letter", "character")]


def way_in_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """One sentence for each move of the way in, and a word to add one."""
    said = [move_sentence(session, part, "way_in", number, move) for number, move in enumerate(part.way_in)]
    say = Sentence(session, "time")
    if not part.way_in:
        say.words("stands there from the first frame;")
    choices: list[Choice] = list(READY_MOVES.items())

    def add(move: Move) -> None:
        at, label = f"{part.id}/way_in", f"{part.name} {name_of_move(move)}"
        lacking = move.drawn < 100 and lacks_a_line(session.template, part.id)
        ready = ready_for(session.bound(part.id), move)
        if not lacking:
            session.change(at, lambda moves: (*moves, ready), label)
        elif session.edit(label, lambda t: put_struct(with_a_line(t, part.id), part.id, "way_in", (*need_part(t, part.id).way_in, ready))):
            session.refused.emit(f"{part.name} had no outline to be drawn: it has one now. Its width and colour are under Outline.")

    say.choice("add a move" if part.way_in else "let it arrive", choices, add, "add move")
    return [*said, say.widget]


def ready_for(part: AnyPart, move: Move) -> Move:
    """A ready move that suits a part: letters and lines only for texts, and something to come out of."""
    if not part.in_units:
        move = replace(move, by="whole", tracking=0.0)
    if move.travel == "out of the matte" and not part.mattes:
        move = replace(move, travel="by offset", y=80.0 if move.side == "below" else -80.0, opacity=0.0)
    return move


def way_out_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """How a part leaves."""
    say = Sentence(session, "time")
    kinds: list[Choice] = [("mirrors the way in", Mirrored()), ("goes its own way", None), ("stays to the end", StaysToTheEnd())]

    def choose(kind: Any) -> None:
        def changed(_: Any) -> Any:
            return kind if kind is not None else _own_way_out(session.bound(part.id))

        session.change(f"{part.id}/way_out", changed, f"{part.name}: way out")

    shown = {Mirrored: kinds[0][0], OwnWayOut: kinds[1][0], StaysToTheEnd: kinds[2][0]}[type(part.way_out)]
    say.choice(shown, kinds, choose, "way out")
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    return [say.widget, *(move_sentence(session, part, "way_out.moves", n, m) for n, m in enumerate(own))]


def _own_way_out(part: AnyPart) -> OwnWayOut:
    """A way out to begin with: the way in, turned round, or a fade."""
    moves = part.way_in or (READY_MOVES["fades"],)
    fresh: dict[str, Any] = {"start": 0, "counts_from": "the beginning", "tie": None}
    return OwnWayOut(tuple(replace(m, ease=backwards(m.ease), order=_TURNED.get(m.order, m.order), **fresh) for m in moves))


class _MoveChanges:
    """Changes of one move, from what it is when they are made."""

    def __init__(self, session: Session, part_id: str, place: MoveAt) -> None:
        self.session, self.part_id, self.place = session, part_id, place
        self.label = f"{session.template.name_of(part_id)}: move"

    def write(self, **values: Any) -> None:
        """Properties of the move."""
        self.session.write({f"{self.place.path}.{name}": value for name, value in values.items()}, None, self.label)

    def put(self, **changes: Any) -> None:
        """What of the move is no property: its ease, its tie."""
        self.session.edit(self.label, lambda t: put_move(t, self.place, replace(need_move(t, self.place), **changes)))

    def turn_into(self, ready: Move, name: str) -> None:
        """Another move, with its time and order kept."""

        def change(template: Template) -> Template:
            kept = {key: getattr(need_move(template, self.place), key) for key in _KEPT}
            new = replace(ready_for(need_part(template, self.part_id), ready), named=name, **kept)
            return put_move(template, self.place, new)

        self.session.edit(self.label, change)

    def reshape(self, shape: Gathering) -> None:
        """Units come from places of another shape, by the same chance."""
        self.write(**{"elsewhere.shape": shape})

    def shuffle(self) -> None:
        """Another chance for a shuffled order, and for what comes from elsewhere."""
        self.session.edit(self.label, lambda t: put_move(t, self.place, _shuffled(need_move(t, self.place))))

    def remove(self) -> None:
        """Without the move."""
        self.session.edit(f"{self.label} taken away", lambda t: put_move(t, self.place, None))


def _shuffled(move: Move) -> Move:
    return replace(move, seed=(move.seed + 1) % 1_000_000)


def move_sentence(session: Session, part: AnyPart, where: Where, number: int, move: Move) -> QWidget:
    """A move as a sentence whose words can be changed."""
    say = Sentence(session, "time")
    place = MoveAt(part.id, where, number)
    changes = _MoveChanges(session, part.id, place)
    ready = {**READY_MOVES, **read_kept().moves}
    choices: list[Choice] = [(words, words) for words in ready]
    say.choice(name_of_move(move), choices, lambda name: changes.turn_into(ready[name], name), f"{where} kind")
    if move.travel == "through the sheet":
        _through(say, session, part, move, changes)
    _from_where(say, move, changes)
    if part.in_units:
        _units(say, move, changes)
    if move.elsewhere is not None or (part.in_units and move.by != "whole"):
        elsewhere_words(say, place.path, move, lambda own: changes.put(elsewhere=own), changes.reshape, changes.shuffle)
    say.words("in").number(f"{place.path}.frames")
    say.words("frames" if move.pace == "in all" else "frames each, one every")
    if move.pace == "by step":
        say.number(f"{place.path}.step").words("frames, all in").number(f"{place.path}.longest").words("at most (0: no limit)")
    _start(say, session, part, move, changes)
    eases: list[Choice] = [(words, ease) for words, ease in {**READY_EASES, **read_kept().eases}.items()]
    say.words(", eased").choice(name_of_ease(move.ease), eases, lambda ease: changes.put(ease=ease), f"{where} ease")
    say.button("×", changes.remove, f"{where} remove", f"Take “{name_of_move(move)}” away")
    return say.widget


def _through(say: Sentence, session: Session, part: AnyPart, move: Move, changes: _MoveChanges) -> None:
    """What a member of a space comes through: the sheet, or another member."""
    space = stands_in(session.template, part.id)
    inside = members_of(session.template.parts, space.id, deep=True) if space is not None else []
    sheets: list[Choice] = [("the sheet", "")]
    sheets += [(p.name, p.id) for p in others(session, part) if p.id in inside and isinstance(p, PaintedPart)]
    shown = next((words for words, on in sheets if on == move.through), session.template.name_of(move.through))
    say.choice(shown, sheets, lambda on: changes.put(through=on), f"{changes.place.where} through").words(",")


def _units(say: Sentence, move: Move, changes: _MoveChanges) -> None:
    """By which unit, in which order, how far they lie over each other."""
    where, at = changes.place.where, changes.place.path
    words = next(w for w, unit in _UNITS if unit == move.by)
    say.choice(words, _UNITS, lambda unit: changes.write(by=unit), f"{where} by")
    if move.by == "whole":
        return
    say.words(",").choice(move.order, [(order, order) for order in get_args(Order)], lambda o: changes.write(order=o), f"{where} order")
    if move.order == "shuffled" and move.elsewhere is None:
        say.button("shuffle again", changes.shuffle, f"{where} shuffle")
    if move.pace == "in all":
        say.words("overlapping").number(f"{at}.overlap").words("%")
    paces: list[Choice] = [("all together", "in all"), ("by a step", "by step")]
    shown = "all together" if move.pace == "in all" else "by a step"
    say.words(", paced").choice(shown, paces, lambda v: changes.write(pace=v), f"{where} pace")


def _start(say: Sentence, session: Session, part: AnyPart, move: Move, changes: _MoveChanges) -> None:
    """When a move begins: at the beginning or so long after it, after what a part does, or so long before the end."""
    where, at, tie = changes.place.where, changes.place.path, move.tie
    if tie is None and move.counts_from == "the end":
        _before_the_end(say, changes)
        return
    late = (tie.frames if tie is not None else move.start) != 0
    beginning = "the beginning" if where == "way_in" else "the beginning of the way out"
    choices: list[Choice] = [(beginning if late else f"at {beginning}", None)]
    if not late:
        choices.append(("some frames later", _LATER))
    choices.append(("some frames before the end", _BEFORE_THE_END))
    when = "" if late else "when "
    for other in reversed(session.template.parts):
        if other.id != part.id and (other.way_in or moves_at(other, "way_out.moves")):
            choices += [(when + _TIES[how].format(other.name), (other.id, how, "the same way")) for how in _TIES]
    choices += [(when + words, (on, how, "its way in")) for words, on, how in _comings(session, part) if where != "way_in"]

    def put(to: Any) -> None:
        present = need_move(session.template, changes.place)
        if to == _BEFORE_THE_END:
            changes.put(tie=None, counts_from="the end", start=_left(session.template))
        elif isinstance(to, int):
            changes.write(**{"start" if present.tie is None else "tie.frames": to})
        else:
            frames = present.tie.frames if present.tie is not None else 0.0
            changes.put(tie=None if to is None else Tie(to[0], to[1], frames, to[2]))

    shown = beginning if tie is None else _tied_to(tie, session.template.name_of(tie.on) if tie.on != part.id else "it")
    say.words(", starting")
    if late:
        say.number(f"{at}.start" if tie is None else f"{at}.tie.frames").words("frames after").choice(shown, choices, put, f"{where} tie")
    else:
        say.choice(f"at {shown}" if tie is None else f"when {shown}", choices, put, f"{where} tie")


def _comings(session: Session, part: AnyPart) -> list[tuple[str, str, Tied]]:
    """What a way out of its own may wait for beside other ways out: that another part comes, or that it came itself."""
    own: list[tuple[str, str, Tied]] = [(_COMES["after its end"].format("it"), part.id, "after its end")] if part.way_in else []
    others = [p for p in reversed(session.template.parts) if p.id != part.id and p.way_in]
    return [*own, *((words.format(p.name), p.id, how) for p in others for how, words in _COMES.items())]


def _tied_to(tie: Tie, name: str) -> str:
    """What a start waits for, as words after *when*."""
    return (_COMES if tie.to == "its way in" else _TIES)[tie.how].format(name)


def _before_the_end(say: Sentence, changes: _MoveChanges) -> None:
    """The start of what arrives late or leaves early, whatever the length, and the way back to the beginning."""
    where = changes.place.where
    choices: list[Choice] = [("the beginning" if where == "way_in" else "the beginning of the way out", None)]
    say.words(", starting").number(f"{changes.place.path}.start").words("frames before")
    say.choice("the end", choices, lambda _: changes.put(counts_from="the beginning", start=0), f"{where} tie")


def _left(template: Template) -> int:
    """Frames before the end at which something arrives, or leaves early, at first: in the middle of what is held, rather near its end."""
    return template.way_out + max(0, (template.length - template.way_in - template.way_out) // 3)


def sway_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """What a part does while it holds, and a word to add to it."""
    said = [_sway_sentence(session, part, number, sway) for number, sway in enumerate(part.sways)]
    say = Sentence(session, "time")
    if not part.sways:
        say.words("stands still;")
    choices: list[Choice] = list(READY_SWAYS.items())
    if isinstance(part, LampPart):
        choices += [(f"is carried past from {start}", start) for start in get_args(From)]

    def add(sway: Sway | From) -> None:
        if not isinstance(sway, Sway):
            session.edit(f"{part.name}: carried past", lambda t: carried_past(t, part.id, sway))
            return
        session.change(f"{part.id}/sways", lambda sways: (*sways, sway), f"{part.name}: while it holds")

    return [*said, say.choice("let it move" if not part.sways else "one more", choices, add, "add sway").widget]


def _sway_sentence(session: Session, part: AnyPart, number: int, sway: Sway) -> QWidget:
    at = f"{part.id}/sways.{number}"

    def remove() -> None:
        session.change(f"{part.id}/sways", lambda sways: (*sways[:number], *sways[number + 1 :]), f"{part.name}: while it holds")

    say = Sentence(session, "time")
    ways: list[Choice] = [(way, way) for way in ("drifts", "breathes", "loops")]
    say.choice(sway.way, ways, lambda way: session.write({f"{at}.way": way}), "sway way")
    say.words("by").number(f"{at}.x").words("px right,").number(f"{at}.y").words("px down, to").number(f"{at}.scale")
    say.words("% size,").number(f"{at}.turn").words("° turned,").number(f"{at}.opacity").words("% opacity")
    if sway.way != "drifts":
        say.words(", about every").number(f"{at}.period").words("frames")
    return say.button("×", remove, "remove sway", "Let it stand still").widget


def _from_where(say: Sentence, move: Move, changes: _MoveChanges) -> None:
    """What the move comes from: a hinge, a side of the matte, or an offset; and how far it has faded."""
    at, verb = changes.place.path, verb_of(move)
    if verb in ("unfolds", "grows"):
        say.words("from")
        hinge = next((w for w, h in _HINGES.items() if h == (move.hinge_x, move.hinge_y)), "a point")
        sides: list[Choice] = list(_HINGES.items())
        say.choice(hinge, sides, lambda h: changes.write(hinge_x=h[0], hinge_y=h[1], **_unfolding(verb, h)), "hinge")
    elif verb in ("comes through", "comes from the camera"):
        say.words("from just behind it," if verb == "comes through" else "from just behind that,")
        say.words("turning").number(f"{at}.turn_y").words("° round and").number(f"{at}.turn_x").words("° over on the way,")
    elif verb == "swings in":
        say.words("by").number(f"{at}.turn_y").words("° about the upright axis,")
    elif verb == "comes nearer":
        say.words("from").number(f"{at}.z").words("px in depth,")
    elif move.goes_out:
        whats: list[Choice] = [("matte", "out of the matte"), ("frame", "out of the frame")]
        say.words("just out of the").choice(move.travel.rpartition(" ")[2], whats, lambda v: changes.write(travel=v), "out of").words(
            "from"
        )
        words = next(w for w, side in _SIDES if side == move.side)
        say.choice(words, _SIDES, lambda side: changes.write(side=side), "side")
    elif verb == "wipes":
        openings: list[Choice] = [(o, o) for o in get_args(Opening)]
        say.words("open from").choice(move.opens_from, openings, lambda v: changes.write(opens_from=v), "opens from")
        say.words("with a soft edge of").number(f"{at}.opens_soft").words("px")
    elif verb == "focuses":
        say.words("from").number(f"{at}.blur").words("px of blur")
    elif verb == "turns":
        say.words("by").number(f"{at}.turn").words("°")
    elif verb == "tumbles":
        say.words("by").number(f"{at}.turn_x").words("° over,").number(f"{at}.turn_y").words("° round")
    elif verb in ("pops", "settles"):
        say.words("from").number(f"{at}.scale_x", f"{at}.scale_y").words("% size")
    elif verb == "rises by a distance":
        say.words("of").number(f"{at}.y").words("px,")
    elif verb not in ("fades", "types on", "draws on"):
        say.words("by").number(f"{at}.x").words("px right,").number(f"{at}.y").words("px down,")
    if move.opacity < 100:
        say.words("from").number(f"{at}.opacity").words("% opacity")


def _unfolding(verb: str, hinge: tuple[float, float]) -> dict[str, float]:
    """Something that unfolds opens sideways from a side, and upright from top or bottom."""
    if verb != "unfolds":
        return {}
    return {"scale_x": 100.0, "scale_y": 0.0} if hinge in (_HINGES["top"], _HINGES["bottom"]) else {"scale_x": 0.0, "scale_y": 100.0}
