"""The recipe's sentences on place, stance and matte."""

from PyQt6.QtWidgets import QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.drafting import anchor_edge
from avlet.document.editing import edits
from avlet.document.parts import (
    ACTION_SAFE,
    FRAME,
    TITLE_SAFE,
    AnyPart,
    Edge,
    Matte,
    Place,
)
from avlet.document.usual import is_usual
from avlet.geometry import Axis
from avlet.layout.rest import Rest

replace = edits.replace
_EDGES = {
    "across": {"start": "left edge", "middle": "middle", "end": "right edge"},
    "down": {"start": "top edge", "middle": "middle", "end": "bottom edge", "baseline": "baseline"},
}
_ANCHORS: dict[str, tuple[float, float]] = {
    "the middle": (50, 50), "the left top corner": (0, 0), "the top edge": (50, 0), "the right top corner": (100, 0),
    "the left edge": (0, 50), "the right edge": (100, 50), "the left bottom corner": (0, 100), "the bottom edge": (50, 100),
    "the right bottom corner": (100, 100),
}  # fmt: skip
AREA_WORDS = {FRAME: "the frame", TITLE_SAFE: "title-safe", ACTION_SAFE: "action-safe"}


def others(session: Session, part: AnyPart) -> list[AnyPart]:
    """The parts that a part can relate to, front to back."""
    return [p for p in reversed(session.template.parts) if p.id != part.id]


def name_on(session: Session, on: str) -> str:
    """What a place is on, in words."""
    return AREA_WORDS.get(on) or session.template.name_of(on)


def place_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """Where a part sits, one sentence for each axis, and how it is turned and scaled."""
    if part.holds:
        return [Sentence(session, "follow").words("where its members lie").widget, _stance_sentence(session, part)]
    places = [_place_sentence(session, part, "across"), _place_sentence(session, part, "down")]
    return places if part.lights else [*places, _stance_sentence(session, part)]


def _stance_sentence(session: Session, part: AnyPart) -> QWidget:
    """How a part is turned and scaled, and about which point."""
    say, at = Sentence(session, "follow"), f"{part.id}/stance"
    usual = is_usual(session.template, part.id, "turn", "scale_x", "scale_y", "anchor_x", "anchor_y")
    if usual and at not in session.unfolded:
        return say.button("turn or scale…", lambda: session.unfold(at), "unfold stance").widget
    say.words("turned").number(f"{part.id}/turn").words("°, scaled").number(f"{part.id}/scale_x").words("×")
    say.number(f"{part.id}/scale_y").words("% about")
    anchor = (part.anchor_x, part.anchor_y)
    shown = next((name for name, at in _ANCHORS.items() if at == anchor), "a point at")

    def put(at: tuple[float, float]) -> None:
        session.write({f"{part.id}/anchor_x": float(at[0]), f"{part.id}/anchor_y": float(at[1])}, None, f"{part.name}: anchor")

    choices: list[Choice] = [*_ANCHORS.items(), ("a point of its own", (part.anchor_x + 0.5, part.anchor_y))]
    say.choice(shown, choices, put, "anchor")
    say.widget.setToolTip("Turn by the ring above the part (Shift: whole steps); with Ctrl, drag the cross, its anchor.")
    if shown == "a point at":
        say.number(f"{part.id}/anchor_x").words("% across,").number(f"{part.id}/anchor_y").words("% down")
    if anchor != (50.0, 50.0):
        say.button("to the middle", lambda: put((50.0, 50.0)), "anchor to the middle")
    return say.widget


def _place_sentence(session: Session, part: AnyPart, axis: str) -> QWidget:
    say = Sentence(session, "follow")
    place: Place | None = getattr(part, axis)
    fit = part.fitted
    targets: list[Choice] = [(AREA_WORDS[a], a) for a in (FRAME, ACTION_SAFE, TITLE_SAFE)]
    targets += [(p.name, p.id) for p in others(session, part)]
    if fit is not None:
        targets.insert(0, ("what it fits around", None))
    if place is None:
        say.words("sideways as" if axis == "across" else "upright as")
        say.choice("what it fits around", targets, lambda on: put_on(session, part.id, axis, on), f"{axis} on")
        return say.widget
    edges = [(words, edge) for edge, words in _EDGES[axis].items()]
    say.choice(_EDGES[axis][place.mine], edges, lambda e: re_place(session, part.id, axis, mine=e), f"{axis} mine").words("on")
    say.choice(_EDGES[axis][place.theirs], edges, lambda e: re_place(session, part.id, axis, theirs=e), f"{axis} theirs").words("of")
    say.choice(name_on(session, place.on), targets, lambda on: put_on(session, part.id, axis, on), f"{axis} on")
    say.words("plus").number(f"{part.id}/{axis}.gap").words("px right" if axis == "across" else "px down")
    if place.on in AREA_WORDS:
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
    say.choice("…", options, lambda what: session.write({f"{part.id}/{axis}.{what[0]}": what[1]}), f"{axis} options")
    return say.widget


def re_place(session: Session, part_id: str, axis: str, **changes: Edge) -> None:
    """Change the edges that a place ties together; the part stays where it is, its gap makes up for it."""
    part = session.bound(part_id)
    present = getattr(part, axis)
    if present is None:  # it has lost that place since the sentence was said
        return
    place = _holding(session.scene().rest, part_id, axis, replace(present, **changes))
    at = f"{part_id}/{axis}"
    session.write({**{f"{at}.{name}": edge for name, edge in changes.items()}, f"{at}.gap": place.gap}, None, f"{part.name}: place")


def put_on(session: Session, part_id: str, axis: str, on: str | None) -> None:
    """Tie a part to something else along an axis; it stays where it is."""
    rest = session.scene().rest

    def change(present: Place | None) -> Place | None:
        return None if on is None else _holding(rest, part_id, axis, replace(present or Place(), on=on))

    session.change(f"{part_id}/{axis}", change, f"{session.template.name_of(part_id)}: place")


def _holding(rest: Rest, part_id: str, axis: str, place: Place) -> Place:
    """The place with the gap that keeps the part where it rests now."""
    n: Axis = 0 if axis == "across" else 1
    return replace(place, gap=round(rest.parts[part_id].edge(place.mine, n) - anchor_edge(rest, place, n), 2))


def matte_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """Inside or outside of which other parts it shows; nothing for a lamp, which is not seen."""
    if part.lights:
        return []
    parts: list[Choice] = [(p.name, p.id) for p in others(session, part)]
    said = [_matte_sentence(session, part, number, matte, parts) for number, matte in enumerate(part.mattes)]
    say = Sentence(session, "follow")
    if not part.mattes:
        say.words("none,")

    def add(other: str) -> None:
        session.change(f"{part.id}/mattes", lambda mattes: (*mattes, Matte(other)), f"{part.name}: matte")

    say.choice("show inside…" if not part.mattes else "one more…", parts, add, "add matte")
    return [*said, say.widget]


def _matte_sentence(session: Session, part: AnyPart, number: int, matte: Matte, parts: list[Choice]) -> QWidget:
    at, label = f"{part.id}/mattes.{number}", f"{part.name}: matte"

    def turn_to(other: str) -> None:
        session.change(at, lambda present: replace(present, inside=other), label)

    def remove() -> None:
        session.change(f"{part.id}/mattes", lambda mattes: (*mattes[:number], *mattes[number + 1 :]), label)

    say = Sentence(session, "follow")
    ways: list[Choice] = [("shown inside", False), ("hidden inside", True)]
    say.choice("hidden inside" if matte.hides else "shown inside", ways, lambda v: session.write({f"{at}.hides": v}), "matte way")
    say.choice(session.template.name_of(matte.inside), parts, turn_to, "matte")
    kinds: list[Choice] = [("outline", "outline"), ("coverage", "coverage"), ("brightness", "brightness")]
    say.words("by its").choice(matte.by, kinds, lambda v: session.write({f"{at}.by": v}), "matte by")
    if is_usual(session.template, part.id, f"mattes.{number}.grow", f"mattes.{number}.soft") and at not in session.unfolded:
        say.button("…", lambda: session.unfold(at), "unfold matte", "Grow or soften the matte")
    else:
        if matte.by == "outline":
            say.words(", grown by").number(f"{at}.grow")
        say.words(", softened by").number(f"{at}.soft")
    return say.button("×", remove, "matte remove", f"Take the matte by {session.template.name_of(matte.inside)} off").widget
