"""What the keys do on the ruler: go from move to move and from key to key, bring them earlier or later, make the spans longer."""

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent

from avlet.document.editing import edits, keying, timing
from avlet.document.editing.timing import MoveAt
from avlet.document.template import Template
from avlet.document.time.keys import Key
from avlet.motion.keyed import key_time
from avlet.motion.spans import Spans

if TYPE_CHECKING:
    from avlet.desktop.time.ruler import Ruler

KEYS: tuple[tuple[str, str], ...] = (
    ("Down", "The next move or key, down the ruler"), ("Up", "The one before"),
    ("Alt+Right", "What is chosen, or the delay of its tie, a frame later"), ("Alt+Left", "A frame earlier"),
    ("Alt+Shift+Right", "Ten frames later"), ("Alt+Shift+Left", "Ten frames earlier"),
    ("Ctrl+Right", "The way in a frame longer"), ("Ctrl+Left", "The way in a frame shorter"),
    ("Ctrl+Shift+Left", "The way out a frame longer"), ("Ctrl+Shift+Right", "The way out a frame shorter"),
)  # fmt: skip
"""What the keys do on the ruler, in words."""
_SIDES = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}


def takes(event: QKeyEvent) -> bool:
    """Whether a key is one of the ruler's own."""
    held = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
    if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
        return held == Qt.KeyboardModifier.NoModifier
    return event.key() in _SIDES and bool(held & (Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ControlModifier))


def press(ruler: "Ruler", event: QKeyEvent) -> None:
    """Do what a key means on the ruler."""
    held = event.modifiers()
    if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
        _step(ruler, 1 if event.key() == Qt.Key.Key_Down else -1)
    elif held & Qt.KeyboardModifier.ControlModifier:
        side = _SIDES[Qt.Key(event.key())]
        _span(ruler, "way_out", -side) if held & Qt.KeyboardModifier.ShiftModifier else _span(ruler, "way_in", side)
    else:
        bring(ruler, _SIDES[Qt.Key(event.key())] * (10 if held & Qt.KeyboardModifier.ShiftModifier else 1))


def _step(ruler: "Ruler", by: int) -> None:
    """Choose the move or the key that comes next, and the part that it is of."""
    stops: list[tuple[tuple[MoveAt, ...], tuple[tuple[str, str, int], ...]]] = []
    for row in ruler.rows:
        stops += [((bar.at,), ()) for bar in row.bars if not bar.mirrored]
        stops += [((), ((lane.part, lane.keyed.path, n),)) for lane in row.keys for n in range(len(lane.times))]
    if not stops:
        return
    here = (ruler.chosen[:1], ()) if ruler.chosen else ((), ruler.keys[:1])
    at = stops.index(here) + by if here in stops else 0 if by > 0 else len(stops) - 1
    moves, keys = stops[max(0, min(len(stops) - 1, at))]
    ruler.choose(moves, keys)
    ruler.session.select(moves[0].part if moves else keys[0][0])


def bring(ruler: "Ruler", frames: int) -> None:
    """What is chosen begins so many frames later; a tied move changes its delay."""
    session, spans = ruler.session, ruler.time.spans
    if ruler.chosen:
        chosen = ruler.chosen
        session.edit("Move in time", lambda t: timing.shifted(t, chosen, frames), ("ruler keys", chosen))
    elif ruler.keys:
        keys = ruler.keys

        def later(template: Template) -> Template:
            for part_id, path, number in keys:
                template = keying.changed_keys(template, part_id, path, [number], lambda key: _later(key, frames, spans))
            return template

        session.edit("Keys in time", later, ("ruler keys", keys))


def _later(key: Key, frames: int, spans: Spans) -> Key:
    frame = max(0, min(spans.length - 1, round(key_time(key, spans)) + frames))
    tied, at = keying.anchored(frame, spans.length, spans.way_in, spans.way_out)
    moved: Key = edits.replace(key, tied=tied, at=at)
    return moved


def _span(ruler: "Ruler", name: str, by: int) -> None:
    """The way in or the way out so many frames longer, as far as both have room."""
    template = ruler.session.template
    other = template.way_out if name == "way_in" else template.way_in
    value = max(0, min(template.length - other, getattr(template, name) + by))
    if value != getattr(template, name):
        ruler.session.edit(name.replace("_", " ").capitalize(), lambda t: edits.replace(t, **{name: value}), ("ruler keys", name))
