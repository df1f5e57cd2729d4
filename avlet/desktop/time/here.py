"""Moves, keys and marks that begin or end at the playhead."""

from typing import TYPE_CHECKING

from avlet.document.editing import edits, keying, timing
from avlet.document.template import Template
from avlet.document.time.keys import Key
from avlet.motion.ruler_rows import Bar

if TYPE_CHECKING:
    from avlet.desktop.time.ruler import Ruler


def begin_here(ruler: "Ruler") -> None:
    """Let the chosen moves begin at the playhead, their ends staying; of chosen keys the first comes here, the others with it.

    A chosen mark comes here whole.
    """
    _here(ruler, True)


def end_here(ruler: "Ruler") -> None:
    """Let the chosen moves end at the playhead, their beginnings staying; of chosen keys the last comes here, the others with it.

    A chosen mark comes here whole.
    """
    _here(ruler, False)


def _here(ruler: "Ruler", begins: bool) -> None:
    session, frame = ruler.session, float(ruler.session.frame)
    bars = [bar for row in ruler.rows for bar in row.bars if bar.at in ruler.chosen and not bar.mirrored]
    if bars:
        session.edit("Begins here" if begins else "Ends here", lambda t: _trimmed(ruler, t, bars, frame, begins))
    elif ruler.keys:
        session.edit("Keys begin here" if begins else "Keys end here", lambda t: _keys(ruler, t, frame, begins))
    elif not ruler.marks.bring_here():
        session.refused.emit("Choose moves, keys or a mark on the ruler first: they begin or end at the playhead then.")


def _trimmed(ruler: "Ruler", template: Template, bars: list[Bar], frame: float, begins: bool) -> Template:
    pace = ruler.time.spans.pace
    for bar in bars:
        move = timing.move_at(template, bar.at)
        if move is None:
            continue
        if begins:
            by = min(round((frame - bar.start) * pace), move.frames - 1)
            changed = edits.replace(timing.brought(template, bar.at, by), frames=move.frames - by)
        else:
            share = max(1e-9, (bar.end - bar.start) * pace)
            changed = edits.replace(move, frames=max(1, round(move.frames * (share + (frame + 1 - bar.end) * pace) / share)))
        template = timing.put_move(template, bar.at, changed)
    return template


def _keys(ruler: "Ruler", template: Template, frame: float, begins: bool) -> Template:
    lanes = {(lane.part, lane.keyed.path): lane for row in ruler.rows for lane in row.keys}
    chosen = [key for key in ruler.keys if key[:2] in lanes]
    times = [lanes[key[:2]].times[key[2]] for key in chosen]
    if not times:
        return template
    spans, by = ruler.time.spans, frame - (min(times) if begins else max(times))
    for part, path in dict.fromkeys(key[:2] for key in chosen):
        numbers = [key[2] for key in chosen if key[:2] == (part, path)]
        own = iter([lanes[part, path].times[number] for number in numbers])

        def moved(key: Key, own: "object" = own) -> Key:
            tied, at = keying.anchored(round(next(own) + by), spans.length, spans.way_in, spans.way_out)  # type: ignore[call-overload]
            return edits.replace(key, tied=tied, at=at)

        template = keying.changed_keys(template, part, path, numbers, moved)
    return template
