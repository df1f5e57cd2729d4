"""The recipe's sentences on size, place and matte."""

from typing import Any

from PyQt6.QtWidgets import QWidget

from avlet.desktop.drafting import anchor_edge
from avlet.desktop.sentences import Choice, Sentence
from avlet.desktop.session import Session
from avlet.document import edits
from avlet.document.parts import (
    ACTION_SAFE,
    FRAME,
    TITLE_SAFE,
    AnyPart,
    Matte,
    Place,
    Remedy,
    Room,
    RulePart,
    TextPart,
    fit_of,
)
from avlet.layout.arrange import Rest
from avlet.layout.graph import Axis, fits_along

replace = edits.replace
_AXES = ("both ways", "width", "height")
_REMEDIES: dict[Remedy, str] = {"wrap": "wraps", "shrink": "shrinks", "squeeze": "is squeezed", "ellipsis": "ends in …"}
_WAYS: tuple[tuple[Remedy, ...], ...] = (
    (), ("wrap",), ("shrink",), ("squeeze",), ("ellipsis",), ("wrap", "shrink"), ("shrink", "wrap"), ("squeeze", "shrink"),
    ("wrap", "ellipsis"), ("shrink", "ellipsis"), ("wrap", "shrink", "ellipsis"), ("squeeze", "shrink", "wrap", "ellipsis"),
)  # fmt: skip
_EDGES = {
    "across": {"start": "left edge", "middle": "middle", "end": "right edge"},
    "down": {"start": "top edge", "middle": "middle", "end": "bottom edge"},
}
_AREA_WORDS = {FRAME: "the frame", TITLE_SAFE: "title-safe", ACTION_SAFE: "action-safe"}


def others(session: Session, part: AnyPart) -> list[AnyPart]:
    """The parts that a part can relate to, front to back."""
    return [p for p in reversed(session.template.parts) if p.id != part.id]


def name_on(session: Session, on: str) -> str:
    """What a place is on, in words."""
    return _AREA_WORDS.get(on) or session.template.name_of(on)


def size_sentence(session: Session, part: AnyPart) -> QWidget:
    """How large a part is, and because of what."""
    say = Sentence(session, "follow")
    if isinstance(part, TextPart):
        return _room_sentence(say, session, part)
    fit = fit_of(part)
    if fit is None:
        first, second = ("width", "height") if not isinstance(part, RulePart) else ("length", "width")
        say.number(f"{part.id}/{first}").words("wide," if first == "width" else "long,")
        say.number(f"{part.id}/{second}").words("high, or" if first == "width" else "thick, or")
        choices = [(p.name, (p.id,)) for p in others(session, part)]
        say.choice("fit around…", choices, lambda around: _fit(session, part, around), "fit around")
        return say.widget
    names = " and ".join(session.template.name_of(i) for i in fit.around)
    ticks = [(p.name, p.id, p.id in fit.around) for p in others(session, part)]
    say.words("fits around").several(names, ticks, lambda around: _fit(session, part, around), "fits around")
    sides = [s for s, axis in (("left", 0), ("right", 0), ("top", 1), ("bottom", 1)) if fits_along(part, 1 if axis else 0)]
    say.words("with")
    apart = part.id in session.sides_apart
    uneven = fit.left != fit.right or fit.top != fit.bottom
    if {"left", "right"} <= set(sides):
        _pair(say, part, ("left", "right"), fit.left == fit.right and not apart, ("at the sides", "left,", "right"))
    if {"top", "bottom"} <= set(sides):
        if "left" in sides:
            say.words("and")
        _pair(say, part, ("top", "bottom"), fit.top == fit.bottom and not apart, ("above and below", "above,", "below"))
    say.words("of its").choice(
        fit.box,
        [("line box", "line box"), ("capitals", "capitals"), ("ink", "ink")],
        lambda box: session.set_value(f"{part.id}/fit.box", box),
        "fit box",
    )
    if isinstance(part, RulePart):
        say.words(",").number(f"{part.id}/width").words("thick")
    if fit.least_width or fit.most_width:
        say.words("; between").number(f"{part.id}/fit.least_width").words("and").number(f"{part.id}/fit.most_width").words(
            "wide (0: no limit)"
        )
    if fit.axes != "both ways":
        say.words(f"; its {fit.axes} only")
    if not fit.vanishes:
        say.words("; stays when they are empty")
    sides_option = ("sides alike", "alike") if apart or uneven else ("each side by itself", "apart")
    options: list[Choice] = [
        sides_option,
        ("stays when they are empty", "stay") if fit.vanishes else ("vanishes when they are empty", "vanish"),
        ("a least and a most width", "limits"),
        *((f"fits {ways}" if ways == "both ways" else f"fits its {ways} only", ways) for ways in _AXES if ways != fit.axes),
        ("a size of its own", "own"),
    ]
    say.choice("…", options, lambda what: _fit_option(session, part, what), "fit options")
    return say.widget


def _room_sentence(say: Sentence, session: Session, part: TextPart) -> QWidget:
    """How much room words have, and what happens when they are too long."""

    def put(room: Room | None) -> None:
        session.edit(f"{part.name}: room", lambda t: edits.put_struct(t, part.id, "room", room))

    room = part.room
    if room is None:
        width = round(session.template.frame.width * 0.6)
        return say.words("as long as its words;").button("give it room…", lambda: put(Room(width=width)), "give room").widget
    at = f"{part.id}/room"
    say.words("at most").number(f"{at}.width").words("wide,").number(f"{at}.height").words("high,")
    say.number(f"{at}.lines").words("lines (0: no limit). Too long, it")
    shown = _remedy_words(room.remedies)
    choices: list[Choice] = [(_remedy_words(way), way) for way in _WAYS]
    say.choice(shown, choices, lambda way: put(replace(room, remedies=way)), "remedies")
    if "shrink" in room.remedies:
        say.words("down to").number(f"{at}.smallest_size").words("%")
    if "squeeze" in room.remedies:
        say.words("to a width of").number(f"{at}.smallest_width").words("%")
    if "wrap" in room.remedies:
        even: list[Choice] = [("full lines", False), ("even lines", True)]
        say.words("with").choice(
            "even lines" if room.balanced else "full lines", even, lambda v: put(replace(room, balanced=v)), "balanced"
        )
    return say.button("×", lambda: put(None), "no room").widget


def _remedy_words(remedies: tuple[Remedy, ...]) -> str:
    return ", then ".join(_REMEDIES[r] for r in remedies) or "runs on"


def _pair(say: Sentence, part: AnyPart, sides: tuple[str, str], alike: bool, words: tuple[str, str, str]) -> None:
    first, second = (f"{part.id}/fit.{side}" for side in sides)
    if alike:
        say.number(first, second).words(words[0])
    else:
        say.number(first).words(words[1]).number(second).words(words[2])


def _fit(session: Session, part: AnyPart, around: tuple[str, ...]) -> None:
    if not around:
        _fit_option(session, part, "own")
    else:
        session.edit(f"{part.name} fits around", lambda t: edits.fit_around(t, part.id, around))


def _fit_option(session: Session, part: AnyPart, what: str) -> None:
    fit = fit_of(part)
    assert fit is not None
    if what == "own":
        box = session.scene().rest.parts[part.id].box
        size = {"length": max(box.w, box.h)} if isinstance(part, RulePart) else {"width": box.w, "height": box.h}
        places = {"across": part.across or Place(gap=box.x), "down": part.down or Place(gap=box.y)}
        session.edit(f"{part.name}: own size", lambda t: edits.set_relations(t, part.id, fit=None, **size, **places))
    elif what in ("stay", "vanish"):
        session.set_value(f"{part.id}/fit.vanishes", what == "vanish")
    elif what == "limits":
        limits = replace(fit, least_width=fit.least_width or 100.0, most_width=fit.most_width or round(session.template.frame.width * 0.8))
        session.edit(f"{part.name}: limits", lambda t: edits.set_relations(t, part.id, fit=limits))
    elif what in _AXES:
        session.set_value(f"{part.id}/fit.axes", what)
    elif what == "alike":
        session.sides_apart.discard(part.id)
        session.edit(
            f"{part.name}: sides alike", lambda t: edits.set_relations(t, part.id, fit=replace(fit, right=fit.left, bottom=fit.top))
        )
    else:
        session.sides_apart.add(part.id)
        session.selection_changed.emit()


def place_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """Where a part sits, one sentence for each axis."""
    return [_place_sentence(session, part, "across"), _place_sentence(session, part, "down")]


def _place_sentence(session: Session, part: AnyPart, axis: str) -> QWidget:
    say = Sentence(session, "follow")
    place: Place | None = getattr(part, axis)
    fit = fit_of(part)
    targets: list[Choice] = [(_AREA_WORDS[a], a) for a in (FRAME, ACTION_SAFE, TITLE_SAFE)]
    targets += [(p.name, p.id) for p in others(session, part)]
    if fit is not None:
        targets.insert(0, ("what it fits around", None))
    if place is None:
        say.words("sideways as" if axis == "across" else "upright as")
        say.choice("what it fits around", targets, lambda on: put_on(session, part, axis, on), f"{axis} on")
        return say.widget
    edges = [(words, edge) for edge, words in _EDGES[axis].items()]
    say.choice(_EDGES[axis][place.mine], edges, lambda e: re_place(session, part, axis, mine=e), f"{axis} mine").words("on")
    say.choice(_EDGES[axis][place.theirs], edges, lambda e: re_place(session, part, axis, theirs=e), f"{axis} theirs").words("of")
    say.choice(name_on(session, place.on), targets, lambda on: put_on(session, part, axis, on), f"{axis} on")
    say.words("plus").number(f"{part.id}/{axis}.gap").words("px right" if axis == "across" else "px down")
    if place.on in _AREA_WORDS:
        return say.widget
    if place.closes:
        say.words(", closing up")
    if place.rides:
        say.words(", riding along")
    name = name_on(session, place.on)
    options: list[Choice] = [
        (f"stays when {name} is empty" if place.closes else f"closes up when {name} is empty", ("closes", not place.closes)),
        (f"stays at rest when {name} moves" if place.rides else f"rides along when {name} moves", ("rides", not place.rides)),
    ]
    say.choice("…", options, lambda what: session.set_value(f"{part.id}/{axis}.{what[0]}", what[1]), f"{axis} options")
    return say.widget


def re_place(session: Session, part: AnyPart, axis: str, **changes: Any) -> None:
    """Change the edges that a place ties together; the part stays where it is, its gap makes up for it."""
    place: Place = getattr(part, axis)
    rest = session.scene().rest
    new = replace(place, **changes)
    session.edit(f"{part.name}: place", lambda t: edits.set_relations(t, part.id, **{axis: _holding(rest, part.id, axis, new)}))


def put_on(session: Session, part: AnyPart, axis: str, on: str | None) -> None:
    """Tie a part to something else along an axis; it stays where it is."""
    if on is None:
        session.edit(f"{part.name}: place", lambda t: edits.set_relations(t, part.id, **{axis: None}))
        return
    rest = session.scene().rest
    new = replace(getattr(part, axis) or Place(), on=on)
    session.edit(f"{part.name}: place", lambda t: edits.set_relations(t, part.id, **{axis: _holding(rest, part.id, axis, new)}))


def _holding(rest: Rest, part_id: str, axis: str, place: Place) -> Place:
    """The place with the gap that keeps the part where it rests now."""
    n: Axis = 0 if axis == "across" else 1
    return replace(place, gap=round(rest.parts[part_id].edge(place.mine, n) - anchor_edge(rest, place, n), 2))


def matte_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """Inside or outside of which other parts it shows."""

    def put(mattes: tuple[Matte, ...]) -> None:
        session.edit(f"{part.name}: matte", lambda t: edits.set_relations(t, part.id, mattes=mattes))

    said = []
    parts: list[Choice] = [(p.name, p.id) for p in others(session, part)]
    for number, matte in enumerate(part.mattes):
        before, after = part.mattes[:number], part.mattes[number + 1 :]

        def change(b: tuple[Matte, ...] = before, a: tuple[Matte, ...] = after, m: Matte = matte, **changes: Any) -> None:
            put((*b, replace(m, **changes), *a))

        say = Sentence(session, "follow")
        ways: list[Choice] = [("shown inside", False), ("hidden inside", True)]
        say.choice("hidden inside" if matte.hides else "shown inside", ways, lambda v, c=change: c(hides=v), "matte way")
        say.choice(session.template.name_of(matte.inside), parts, lambda v, c=change: c(inside=v), "matte")
        say.words("grown by").number(f"{part.id}/mattes.{number}.grow").words(", softened by").number(f"{part.id}/mattes.{number}.soft")
        say.button("×", lambda b=before, a=after: put((*b, *a)), "matte remove")
        said.append(say.widget)
    say = Sentence(session, "follow")
    if not part.mattes:
        say.words("none,")
    say.choice("show inside…" if not part.mattes else "one more…", parts, lambda other: put((*part.mattes, Matte(other))), "add matte")
    return [*said, say.widget]
