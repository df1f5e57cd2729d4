"""What a template is made of, as plain values for scripts and people; nothing is painted for it."""

from typing import Any

import msgspec

from avlet.document.parts import AnyPart
from avlet.document.template import Template
from avlet.document.time.eases import name_of_ease
from avlet.document.time.moves import Mirrored, Move, name_of_move
from avlet.motion.credits import rest_of
from avlet.motion.pose import Choreography
from avlet.motion.ties import out_moves
from avlet.numbers.timecode import rate_words, seconds_of
from avlet.storage.embedding import faces_used
from avlet.text.fonts import FontBook


def describe(template: Template, book: FontBook) -> dict[str, Any]:
    """What a template is made of: frame, spans, parts, card, fonts, samples."""
    frame = template.frame
    return {
        "template": template.name,
        "category": template.category,
        "keywords": list(template.keywords),
        "format": template.format,
        "frame": [frame.width, frame.height],
        "rate": frame.rate,
        "frames_a_second": rate_words(frame.fps),
        "length": template.length,
        "seconds": seconds_of(template.length, frame.fps),
        "way_in": template.way_in,
        "hold": template.length - template.way_in - template.way_out,
        "way_out": template.way_out,
        "parts": [{"id": p.id, "name": p.name, "kind": p.kind} for p in template.parts],
        "moves": moves_of(Choreography(rest_of(template, book)[0])),
        "fields": [{"id": f.id, "label": f.label, "kind": f.kind, "default": f.start, "hint": f.hint} for f in template.card.fields],
        "wires": [msgspec.to_builtins(w) for w in template.wires],
        "samples": [{"id": s.id, "name": s.name, "answers": s.answers} for s in template.samples],
        "fonts": [{"name": f.full_name, "file": f.file_name, "may_embed": f.may_embed} for f in faces_used(template, book)],
    }


def moves_of(choreography: Choreography) -> list[dict[str, Any]]:
    """Every move of a title with its first and last frame, at its length; mirrored ways out included."""
    spans, found = choreography.spans, []
    last = spans.length - 1
    begins = last - spans.designed_out / spans.pace
    for part_id, timing in choreography.timings.items():
        part = choreography.rest.parts[part_id].part
        for move, times, back in zip(part.way_in, timing.way_in, timing.back, strict=True):
            found.append(_move_facts(part, "in", move, times.start / spans.pace, times.end / spans.pace))
            if isinstance(part.way_out, Mirrored):
                found.append(_move_facts(part, "out", move, last - back.end / spans.pace, last - back.start / spans.pace))
        for move, times in zip(out_moves(part), timing.way_out, strict=True):
            found.append(_move_facts(part, "out", move, begins + times.start / spans.pace, begins + times.end / spans.pace))
    return found


def _move_facts(part: AnyPart, way: str, move: Move, first: float, last: float) -> dict[str, Any]:
    facts = {"part": part.name, "id": part.id, "way": way, "move": name_of_move(move), "by": move.by, "ease": name_of_ease(move.ease)}
    return {**facts, "first": round(first, 6), "last": round(last, 6)}
