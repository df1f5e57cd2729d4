"""The recipe's sentences on place, stance and matte."""

from typing import Any

from PyQt6.QtWidgets import QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.drafting import anchor_edge
from avlet.document import edits
from avlet.document.parts import (
    ACTION_SAFE,
    FRAME,
    TITLE_SAFE,
    AnyPart,
    GroupPart,
    Matte,
    Place,
    fit_of,
)
from avlet.layout.arrange import Rest
from avlet.layout.graph import Axis

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
    if isinstance(part, GroupPart):
        return [Sentence(session, "follow").words("where its members lie").widget, _stance_sentence(session, part)]
    return [_place_sentence(session, part, "across"), _place_sentence(session, part, "down"), _stance_sentence(session, part)]


def _stance_sentence(session: Session, part: AnyPart) -> QWidget:
    """How a part is turned and scaled, and about which point."""
    say = Sentence(session, "follow")
    say.words("turned").number(f"{part.id}/turn").words("°, scaled").number(f"{part.id}/scale_x").words("×")
    say.number(f"{part.id}/scale_y").words("% about")
    anchor = (part.anchor_x, part.anchor_y)
    shown = next((name for name, at in _ANCHORS.items() if at == anchor), "a point at")

    def put(at: tuple[float, float]) -> None:
        x, y = (float(v) for v in at)
        session.edit(f"{part.name}: anchor", lambda t: edits.set_relations(t, part.id, anchor_x=x, anchor_y=y))

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
    fit = fit_of(part)
    targets: list[Choice] = [(AREA_WORDS[a], a) for a in (FRAME, ACTION_SAFE, TITLE_SAFE)]
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
        kinds: list[Choice] = [("outline", "outline"), ("coverage", "coverage"), ("brightness", "brightness")]
        say.words("by its").choice(matte.by, kinds, lambda v, c=change: c(by=v), "matte by")
        if matte.by == "outline":
            say.words(", grown by").number(f"{part.id}/mattes.{number}.grow")
        say.words(", softened by").number(f"{part.id}/mattes.{number}.soft")
        say.button("×", lambda b=before, a=after: put((*b, *a)), "matte remove")
        said.append(say.widget)
    say = Sentence(session, "follow")
    if not part.mattes:
        say.words("none,")
    say.choice("show inside…" if not part.mattes else "one more…", parts, lambda other: put((*part.mattes, Matte(other))), "add matte")
    return [*said, say.widget]
