"""The recipe's sentence on size: how large a part is, and because of what."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QWidget

from avlet.desktop.build.part_commands import take_apart
from avlet.desktop.recipe.counter_sentences import box_sentence
from avlet.desktop.recipe.place_sentences import AREA_WORDS, name_on, others
from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import edits
from avlet.document.editing.grouping import stands_in
from avlet.document.parts import (
    AnyPart,
    BallPart,
    CounterPart,
    CreditsPart,
    EchoPart,
    Fit,
    GaugePart,
    GroupPart,
    LampPart,
    Matte,
    PatternPart,
    PicturePart,
    Place,
    Remedy,
    Room,
    RulePart,
    ShapePart,
    SpacePart,
    TextPart,
    members_of,
)
from avlet.layout.bodies.rolling_list import RollingList

replace = edits.replace
FittedPart = ShapePart | PicturePart | RulePart | GaugePart | PatternPart
_AXES = ("both ways", "width", "height")
_REMEDIES: dict[Remedy, str] = {"wrap": "wraps", "shrink": "shrinks", "squeeze": "is squeezed", "ellipsis": "ends in …"}
_WAYS: tuple[tuple[Remedy, ...], ...] = (
    (), ("wrap",), ("shrink",), ("squeeze",), ("ellipsis",), ("wrap", "shrink"), ("shrink", "wrap"), ("squeeze", "shrink"),
    ("wrap", "ellipsis"), ("shrink", "ellipsis"), ("wrap", "shrink", "ellipsis"), ("squeeze", "shrink", "wrap", "ellipsis"),
)  # fmt: skip


def size_sentence(session: Session, part: AnyPart) -> QWidget:
    """How large a part is, and because of what."""
    return _SIZES[type(part)](Sentence(session, "follow"), session, part)


def _list_sentence(say: Sentence, session: Session, part: CreditsPart) -> QWidget:
    rest = session.scene().rest.parts.get(part.id)
    long = rest.body.strip.length if rest is not None and isinstance(rest.body, RollingList) else 0.0
    if part.movement.how == "crawls":
        return say.words(f"as long as its list: {long:,.0f} px").widget
    return say.number(f"{part.id}/width").words(f"wide, and as high as its list: {long:,.0f} px").widget


def _echo_sentence(say: Sentence, session: Session, part: EchoPart) -> QWidget:
    originals: list[Choice] = [(p.name, p.id) for p in others(session, part)]
    say.words("as large as").choice(
        session.template.name_of(part.of),
        originals,
        lambda of: session.change(f"{part.id}/of", lambda _: of, f"{part.name}: original"),
        "echo of",
    )
    return say.words(", of which it is an echo;").number(f"{part.id}/later").words("frames later").widget


def _pattern_sentence(say: Sentence, session: Session, part: PatternPart) -> QWidget:
    say.words("copies").number(f"{part.id}/width").words("wide")
    if part.fit is None or part.lies != "in a row":
        say.words("and").number(f"{part.id}/height").words("high")
    if part.fit is None:
        targets: list[Choice] = [(name, on) for name, on in _fit_targets(session, part)]
        return say.words(",").choice("fill…", targets, lambda inside: _fill(session, part, inside), "fit around").widget
    return _fit_words(say.words("that fill"), session, part, part.fit)


def _own_sentence(say: Sentence, session: Session, part: ShapePart | PicturePart | RulePart) -> QWidget:
    if part.fit is None:
        rule = isinstance(part, RulePart)
        first, second = ("length", "width") if rule else ("width", "height")
        say.number(f"{part.id}/{first}").words("long," if rule else "wide,")
        say.number(f"{part.id}/{second}").words("thick, or" if rule else "high, or")
        choices: list[Choice] = [(name, (on,)) for name, on in _fit_targets(session, part)]
        return say.choice("fit around…", choices, lambda around: _fit(session, part.id, around), "fit around").widget
    padded = part.fit.left or part.fit.right or part.fit.top or part.fit.bottom
    if part.fit.share_width != 100 or part.fit.share_height != 100:
        say.words("is").number(f"{part.id}/fit.share_width").words("% of the width and").number(f"{part.id}/fit.share_height")
        say.words("% of the height of")
    else:
        say.words("fits around" if padded else "is as large as")
    return _fit_words(say, session, part, part.fit)


def _fit_words(say: Sentence, session: Session, part: FittedPart, fit: Fit) -> QWidget:
    """What a part fits around, with how much padding, and within which limits."""

    def ticks() -> list[tuple[str, str, bool]]:
        now = session.template.part(part.id)
        present = now.fitted if now is not None else None
        return [(name, on, present is not None and on in present.around) for name, on in _fit_targets(session, part)]

    names = " and ".join(name_on(session, i) for i in fit.around)
    say.several(names, ticks, lambda around: _fit(session, part.id, around), "fits around")
    across, down = part.fits_along(0), part.fits_along(1)
    say.words("with")
    apart = part.id in session.sides_apart
    if across:
        _pair(say, part, ("left", "right"), fit.left == fit.right and not apart, ("at the sides", "left,", "right"))
    if down:
        if across:
            say.words("and")
        _pair(say, part, ("top", "bottom"), fit.top == fit.bottom and not apart, ("above and below", "above,", "below"))
    boxes: list[Choice] = [("line box", "line box"), ("capitals", "capitals"), ("ink", "ink")]
    say.words("of its").choice(fit.box, boxes, lambda box: session.write({f"{part.id}/fit.box": box}), "fit box")
    if isinstance(part, RulePart):
        say.words(",").number(f"{part.id}/width").words("thick")
    if fit.least_width or fit.most_width:
        say.words("; between").number(f"{part.id}/fit.least_width").words("and").number(f"{part.id}/fit.most_width").words(
            "wide (0: no limit)"
        )
    if fit.least_height or fit.most_height:
        say.words("; between").number(f"{part.id}/fit.least_height").words("and").number(f"{part.id}/fit.most_height").words(
            "high (0: no limit)"
        )
    if fit.axes != "both ways":
        say.words(f"; its {fit.axes} only")
        other, words = ("height", "high") if fit.axes == "width" else ("width", "wide")
        if isinstance(part, ShapePart | PicturePart):
            say.words(",").number(f"{part.id}/{other}").words(words)
    if not fit.vanishes:
        say.words("; stays when they are empty")
    uneven = fit.left != fit.right or fit.top != fit.bottom
    options: list[Choice] = [
        ("sides alike", "alike") if apart or uneven else ("each side by itself", "apart"),
        ("stays when they are empty", "stay") if fit.vanishes else ("vanishes when they are empty", "vanish"),
        ("a least and a most width", "limits"),
        ("a least and a most height", "high limits"),
        ("just as large", "same"),
        ("a share of its size", "share"),
        *(
            (f"fits {ways}" if ways == "both ways" else f"fits its {ways} only", ways)
            for ways in _AXES
            if ways != fit.axes and not part.is_round
        ),
        ("a size of its own", "own"),
    ]
    return say.choice("…", options, lambda what: _fit_option(session, part.id, what), "fit options").widget


def _room_sentence(say: Sentence, session: Session, part: TextPart) -> QWidget:
    """How much room words have, and what happens when they are too long."""
    at, label, room = f"{part.id}/room", f"{part.name}: room", part.room
    if room is None:
        width = round(session.template.frame.width * 0.6)
        say.words("as long as its words;")
        return say.button("limit its width…", lambda: session.change(at, lambda _: Room(width=width), label), "give room").widget
    say.words("at most").number(f"{at}.width").words("wide,").number(f"{at}.height").words("high,")
    say.number(f"{at}.lines").words("lines (0: no limit). Too long, it")
    shown = _remedy_words(room.remedies)
    choices: list[Choice] = [(_remedy_words(way), way) for way in _WAYS]
    say.choice(shown, choices, lambda way: session.change(at, lambda present: replace(present, remedies=way), label), "remedies")
    if "shrink" in room.remedies:
        say.words("down to").number(f"{at}.smallest_size").words("%")
    if "squeeze" in room.remedies:
        say.words("to a width of").number(f"{at}.smallest_width").words("%")
    if "wrap" in room.remedies:
        even: list[Choice] = [("full lines", False), ("even lines", True)]
        say.words("with").choice(
            "even lines" if room.balanced else "full lines", even, lambda v: session.write({f"{at}.balanced": v}), "balanced"
        )
    return say.button("×", lambda: session.change(at, lambda _: None, label), "no room", "No room: as long as its words").widget


def _remedy_words(remedies: tuple[Remedy, ...]) -> str:
    return ", then ".join(_REMEDIES[r] for r in remedies) or "runs on"


def _pair(say: Sentence, part: AnyPart, sides: tuple[str, str], alike: bool, words: tuple[str, str, str]) -> None:
    first, second = (f"{part.id}/fit.{side}" for side in sides)
    if alike:
        say.number(first, second).words(words[0])
    else:
        say.number(first).words(words[1]).number(second).words(words[2])


def _fit(session: Session, part_id: str, around: tuple[str, ...]) -> None:
    if not around:
        _fit_option(session, part_id, "own")
    else:
        session.edit(f"{session.template.name_of(part_id)} fits around", lambda t: edits.fit_around(t, part_id, around))


def _fit_option(session: Session, part_id: str, what: str) -> None:
    part = session.bound(part_id)
    fit = part.fitted
    if fit is None:
        return
    at, frame = f"{part_id}/fit", session.template.frame
    values: dict[str, Any] = {}
    if what == "own":
        box = session.scene().rest.parts[part_id].box
        size = part.sized(box.w, box.h)
        places = {"across": part.across or Place(gap=box.x), "down": part.down or Place(gap=box.y)}
        session.edit(f"{part.name}: own size", lambda t: edits.set_relations(t, part_id, fit=None, **size, **places))
        return
    if what == "apart":
        session.sides_apart.add(part_id)
        session.selection_changed.emit()
        return
    if what in ("stay", "vanish"):
        values = {"vanishes": what == "vanish"}
    elif what == "limits":
        values = {"least_width": fit.least_width or 100.0, "most_width": fit.most_width or round(frame.width * 0.8)}
    elif what == "high limits":
        values = {"least_height": fit.least_height or 20.0, "most_height": fit.most_height or frame.height}
    elif what in ("same", "share"):
        share = 50.0 if what == "share" else 100.0
        values = {"left": 0.0, "right": 0.0, "top": 0.0, "bottom": 0.0, "share_width": share, "share_height": share}
    elif what in _AXES:
        values = {"axes": what}
    elif what == "alike":
        session.sides_apart.discard(part_id)
        values = {"right": fit.left, "bottom": fit.top}
        if (fit.right, fit.bottom) == (fit.left, fit.top):
            session.selection_changed.emit()
            return
    session.write({f"{at}.{name}": value for name, value in values.items()}, None, f"{part.name}: size")


def _fit_targets(session: Session, part: AnyPart) -> list[tuple[str, str]]:
    """What a part can take its size from, by name: other parts and the areas of the frame."""
    return [(p.name, p.id) for p in others(session, part)] + [(words, area) for area, words in AREA_WORDS.items()]


def _fill(session: Session, part: PatternPart, inside: str) -> None:
    """Let a pattern fill a box from edge to edge."""
    fit = Fit((inside,), left=0.0, right=0.0, top=0.0, bottom=0.0)
    mattes = {} if inside in AREA_WORDS else {"mattes": (Matte(inside),)}
    session.edit(f"{part.name} fills", lambda t: edits.set_relations(t, part.id, fit=fit, across=None, down=None, **mattes))


def _members_sentence(say: Sentence, session: Session, part: GroupPart) -> QWidget:
    names = [session.template.name_of(i) for i in reversed(members_of(session.template.parts, part.id))]
    say.words(f"holds {', '.join(names)}" if names else "holds nothing yet; drag parts under it")
    return say.button("take apart", lambda: take_apart(session), "take apart").widget


def _ball_sentence(say: Sentence, session: Session, part: BallPart) -> QWidget:
    flat = "" if stands_in(session.template, part.id) is not None else "; a disc, as it is in no space"
    return say.number(f"{part.id}/diameter").words(f"px across{flat}").widget


def _gauge_sentence(say: Sentence, session: Session, part: GaugePart) -> QWidget:
    if part.fit is not None:
        return _fit_words(say.words("a circle round the corners of"), session, part, part.fit)
    choices: list[Choice] = [(name, (on,)) for name, on in _fit_targets(session, part)]
    say.number(f"{part.id}/diameter").words("across, or")
    return say.choice("fit around…", choices, lambda around: _fit(session, part.id, around), "fit around").widget


def _lamp_sentence(say: Sentence, session: Session, part: LampPart) -> QWidget:
    return say.words("a lamp is not seen itself").widget


_SIZES: dict[type[AnyPart], Callable[[Sentence, Session, Any], QWidget]] = {
    TextPart: _room_sentence, CounterPart: box_sentence, CreditsPart: _list_sentence,
    GroupPart: _members_sentence, SpacePart: _members_sentence, EchoPart: _echo_sentence,
    BallPart: _ball_sentence, LampPart: _lamp_sentence, GaugePart: _gauge_sentence,
    PatternPart: _pattern_sentence, ShapePart: _own_sentence, PicturePart: _own_sentence, RulePart: _own_sentence,
}  # fmt: skip
"""How each kind of part says its size."""
