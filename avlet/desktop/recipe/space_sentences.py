"""The recipe's sentences on depth: how a member of a space is solid and where it stands; a space's camera and light, and lamps."""

from typing import Any, Literal, get_args

from PyQt6.QtWidgets import QWidget

from avlet.desktop.build.new_parts import add_lamp
from avlet.desktop.recipe.look_rows import LookRow
from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.stage.orbiting import rest_camera
from avlet.document.editing import edits
from avlet.document.editing.grouping import stands_in
from avlet.document.metadata import properties
from avlet.document.parts import AnyPart, BallPart, LampPart, PaintedPart, Sky, SpacePart, Sun, members_of
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


def piece_sentences(session: Session, space: SpacePart, piece: str) -> list[Row]:
    """What there is to say of the camera, the sun or the sky of a space."""
    if piece == "camera":
        return [("size", "Camera", _camera(session, space))]
    say = _sun(session, space) if piece == "sun" else _sky(session, space)
    colour = next(p for p in properties(space) if p.path == f"{piece}.colour")
    return [("size", "Light", [_ready_lights(session, space), say, LookRow(session, space.id, colour)])]


def space_sentences(session: Session, part: AnyPart) -> list[Row]:
    """What there is to say of a part's depth; nothing for one that is in no space."""
    if isinstance(part, SpacePart):
        return [("size", "Camera", _camera(session, part)), ("size", "Light", _light(session, part))]
    space = stands_in(session.template, part.id)
    if isinstance(part, LampPart):
        return [("place", "Stands", _lamp_stand(session, part, space)), ("size", "Light", _lamp(session, part))]
    if space is None or not isinstance(part, PaintedPart):
        return []
    solid = _round(session, part) if isinstance(part, BallPart) else _solid(session, part)
    return [("size", "Solid", solid), ("place", "Stands", _stand(session, part, space))]


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


def _round(session: Session, part: BallPart) -> list[QWidget]:
    say = Sentence(session, "follow").words("round, surface")
    at = f"{part.id}/surface"
    return [say.choice(part.surface, _choices(Surface), lambda v: session.write({at: v}), "surface").widget]


def _stand(session: Session, part: AnyPart, space: SpacePart) -> list[QWidget]:
    at, say = f"{part.id}/stand", Sentence(session, "follow")

    def put(stand: Stand | None) -> None:
        session.edit(f"{part.name}: where it stands", lambda t: edits.set_relations(t, part.id, stand=stand))

    if not isinstance(part, PaintedPart):
        return []
    if part.stand is None:
        return [say.words("on the sheet;").button("on another member…", lambda: put(Stand()), "stand elsewhere").widget]
    stand, choices = part.stand, stood_on_choices(session, part, space)

    def stand_on(on: tuple[str, Literal["front", "back"]]) -> None:
        session.change(at, lambda present: edits.replace(present, on=on[0], side=on[1]), f"{part.name}: what it stands on")

    shown = next((words for words, on in choices if on == (stand.on, stand.side)), THE_SHEET)
    say.number(f"{at}.before").words("px before").choice(shown, choices, stand_on, "stands on")
    say.words(", swung").number(f"{at}.swing").words("°, tilted").number(f"{at}.tilt").words("°,")
    seen: list[Choice] = [("seen", False), ("only for shadows", True)]
    word = next(words for words, value in seen if value == stand.only_shadows)
    say.choice(word, seen, lambda v: session.write({f"{at}.only_shadows": v}), "seen or only for shadows")
    return [say.button("×", lambda: put(None), "stand on the sheet", "On the sheet").widget]


THE_SHEET = "the sheet"


def stood_on_choices(session: Session, part: AnyPart, space: SpacePart) -> list[Choice]:
    """What a member of a space can stand on: the sheet, and the others' fronts and backs."""
    inside = set(members_of(session.template.parts, space.id, deep=True))
    found: list[Choice] = [(THE_SHEET, ("", "front"))]
    for other in reversed(session.template.parts):
        if other.id in inside and other.id != part.id and isinstance(other, PaintedPart):
            if other.deep > 0:
                found += [(f"{other.name}’s front", (other.id, "front")), (f"{other.name}’s back", (other.id, "back"))]
            else:
                found.append((other.name, (other.id, "front")))
    return found


def _lamp_stand(session: Session, part: LampPart, space: SpacePart | None) -> list[QWidget]:
    say = Sentence(session, "follow").number(f"{part.id}/before").words("px before the sheet")
    if space is None:
        say.words("; it is in no space and lights nothing")
    return [say.widget]


def _lamp(session: Session, part: LampPart) -> list[QWidget]:
    say = Sentence(session, "follow").number(f"{part.id}/strength").words("% strong, half of it left at")
    say.number(f"{part.id}/reach_of_light").words("px, shadows").number(f"{part.id}/soft").words("px soft")
    return [say.widget]


def _camera(session: Session, part: SpacePart) -> list[QWidget]:
    at, say = f"{part.id}/camera", Sentence(session, "follow")
    say.words("carried").number(f"{at}.round").words("° round and").number(f"{at}.up").words("° up, at").number(f"{at}.distance")
    say.words("% of its distance, seeing").number(f"{at}.angle").words("°, looking")
    say.number(f"{at}.to_x").words("px right,").number(f"{at}.to_y").words("px down,").number(f"{at}.to_z").words("px nearer of the middle")
    say.button("at rest", lambda: rest_camera(session), "camera at rest", "The camera at rest (0)")
    say.widget.setToolTip("Drag on the stage carries the camera round while the space is selected; Shift goes by 15°, 0 lets it rest.")
    return [say.widget]


def _light(session: Session, part: SpacePart) -> list[QWidget]:
    lamps = [session.template.name_of(i) for i in members_of(session.template.parts, part.id, deep=True) if _is_lamp(session, i)]
    third = Sentence(session, "follow")
    if lamps:
        third.words(f"and {' and '.join(lamps)};")
    third.button("one lamp more" if lamps else "add a lamp", lambda: add_lamp(session), "add a lamp")
    return [_ready_lights(session, part), _sun(session, part), _sky(session, part), third.widget]


def _ready_lights(session: Session, part: SpacePart) -> QWidget:
    def put(light: tuple[Sun, Sky]) -> None:
        session.edit(f"{part.name}: light", lambda t: edits.set_relations(t, part.id, sun=light[0], sky=light[1]))

    choices: list[Choice] = list(LIGHTS.items())
    shown = next((words for words, light in choices if light == (part.sun, part.sky)), "its own")
    return Sentence(session, "follow").words("light").choice(shown, choices, put, "light").widget


def _sun(session: Session, part: SpacePart) -> QWidget:
    say, at = Sentence(session, "follow"), f"{part.id}/sun"
    say.words("sun").number(f"{at}.strength").words("%, from").number(f"{at}.round").words("° at the side and")
    return say.number(f"{at}.up").words("° up, shadows").number(f"{at}.soft").words("px soft").widget


def _sky(session: Session, part: SpacePart) -> QWidget:
    return Sentence(session, "follow").words("sky").number(f"{part.id}/sky.strength").words("% from all sides").widget


def _is_lamp(session: Session, part_id: str) -> bool:
    return isinstance(session.template.part(part_id), LampPart)
