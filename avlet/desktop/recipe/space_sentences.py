"""The recipe's sentences on depth: how a member of a space is solid and where it stands; a space's camera and light."""

from typing import Any, get_args

from PyQt6.QtWidgets import QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.orbiting import rest_camera
from avlet.document import edits
from avlet.document.grouping import stands_in
from avlet.document.parts import AnyPart, PaintedPart, Sky, SpacePart, Sun
from avlet.document.solids import Edging, Solidity, Stand, Surface

Row = tuple[str, str, list[QWidget]]
"""The tone of a heading, its words, and the sentences beside it."""
LIGHTS: dict[str, tuple[Sun, Sky]] = {
    "over the left shoulder": (Sun(), Sky()),
    "over the right shoulder": (Sun(round=40.0), Sky()),
    "straight from above": (Sun(strength=70.0, round=0.0, up=70.0, soft=10.0), Sky(30.0)),
    "low from the left": (Sun(strength=80.0, round=-62.0, up=18.0, soft=14.0, colour="#FFE2BC"), Sky(25.0, "#C9D8F0")),
    "a bright overcast day": (Sun(strength=25.0, round=-20.0, up=55.0, soft=60.0), Sky(75.0)),
    "no shadows": (Sun(strength=0.0), Sky(100.0)),
}
"""Lights with plain names, as starting points: ordinary values afterwards."""


def space_sentences(session: Session, part: AnyPart) -> list[Row]:
    """What there is to say of a part's depth; nothing for one that is in no space."""
    if isinstance(part, SpacePart):
        return [("size", "Camera", _camera(session, part)), ("size", "Light", _light(session, part))]
    if isinstance(part, PaintedPart) and stands_in(session.template, part.id) is not None:
        return [("size", "Solid", _solid(session, part)), ("place", "Stands", _stand(session, part))]
    return []


def _choices(words: Any) -> list[Choice]:
    return [(word, word) for word in get_args(words)]


def _solid(session: Session, part: PaintedPart) -> list[QWidget]:
    at, say = f"{part.id}/solid", Sentence(session, "follow")

    def put(solid: Solidity | None) -> None:
        session.edit(f"{part.name}: solid", lambda t: edits.set_relations(t, part.id, solid=solid))

    if part.solid is None:
        depth = float(round(session.template.frame.height * 0.055))
        return [say.words("flat;").button("make it solid", lambda: put(Solidity(depth=depth)), "make solid").widget]
    say.words("it is").number(f"{at}.depth").words("px deep, edges")
    say.choice(part.solid.edging, _choices(Edging), lambda v: session.write({f"{at}.edging": v}), "edges")
    if part.solid.edging != "square":
        say.words("by").number(f"{at}.edge").words("px")
    say.words(", sides")
    sides: list[Choice] = [(words, words) for words in ("darker", "as the front", "their own")]
    say.choice(part.solid.sides, sides, lambda v: session.write({f"{at}.sides": v}), "sides")
    say.words(", surface").choice(part.solid.surface, _choices(Surface), lambda v: session.write({f"{at}.surface": v}), "surface")
    return [say.button("×", lambda: put(None), "make flat", "Flat").widget]


def _stand(session: Session, part: PaintedPart) -> list[QWidget]:
    at, say = f"{part.id}/stand", Sentence(session, "follow")

    def put(stand: Stand | None) -> None:
        session.edit(f"{part.name}: where it stands", lambda t: edits.set_relations(t, part.id, stand=stand))

    if part.stand is None:
        return [say.words("on the sheet;").button("elsewhere…", lambda: put(Stand()), "stand elsewhere").widget]
    say.number(f"{at}.before").words("px before the sheet, swung").number(f"{at}.swing").words("°, tilted").number(f"{at}.tilt").words("°,")
    shown: list[Choice] = [("seen", False), ("only for shadows", True)]
    word = next(words for words, value in shown if value == part.stand.only_shadows)
    say.choice(word, shown, lambda v: session.write({f"{at}.only_shadows": v}), "seen or only for shadows")
    return [say.button("×", lambda: put(None), "stand on the sheet", "On the sheet").widget]


def _camera(session: Session, part: SpacePart) -> list[QWidget]:
    at, say = f"{part.id}/camera", Sentence(session, "follow")
    say.words("carried").number(f"{at}.round").words("° round and").number(f"{at}.up").words("° up, at").number(f"{at}.distance")
    say.words("% of its distance, seeing").number(f"{at}.angle").words("°")
    say.button("at rest", lambda: rest_camera(session), "camera at rest", "The camera at rest (0)")
    say.widget.setToolTip("Drag on the stage carries the camera round while the space is selected; Shift goes by 15°, 0 lets it rest.")
    return [say.widget]


def _light(session: Session, part: SpacePart) -> list[QWidget]:
    def put(light: tuple[Sun, Sky]) -> None:
        session.edit(f"{part.name}: light", lambda t: edits.set_relations(t, part.id, sun=light[0], sky=light[1]))

    choices: list[Choice] = list(LIGHTS.items())
    shown = next((words for words, light in choices if light == (part.sun, part.sky)), "its own")
    first = Sentence(session, "follow").words("light").choice(shown, choices, put, "light")
    say = Sentence(session, "follow")
    say.words("sun").number(f"{part.id}/sun.strength").words("%, from").number(f"{part.id}/sun.round").words("° at the side and")
    say.number(f"{part.id}/sun.up").words("° up, shadows").number(f"{part.id}/sun.soft").words("px soft; sky")
    say.number(f"{part.id}/sky.strength").words("%")
    return [first.widget, say.widget]
