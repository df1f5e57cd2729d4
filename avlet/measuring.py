"""Measures: what can be read off a title, as plain values for scripts and people."""

from typing import Any

import msgspec

from avlet.document.card import kind_of_field
from avlet.document.parts import kind_of
from avlet.document.template import Template
from avlet.geometry import Box
from avlet.motion.timecode import rate_words, seconds_of
from avlet.paint.scene import Scene
from avlet.storage.embedding import faces_used
from avlet.text.fonts import FontBook


def measure(scene: Scene, frame: int) -> dict[str, Any]:
    """Boxes, opacity, units and notes of every part in ``frame``, in px of the template's frame, unrounded."""
    pose = scene.pose(frame)
    shape = scene.template.frame
    parts: list[dict[str, Any]] = []
    for part_id, posed in pose.parts.items():
        rest = posed.rest
        counts = rest.units.counts if rest.units else {"character": 0, "word": 0, "line": 0}
        parts.append(
            {
                "id": part_id,
                "name": rest.part.name,
                "kind": kind_of(rest.part),
                "rest": list(rest.box),
                "ink": _edges(rest.ink),
                "now": _edges(pose.visible_box(part_id)),
                "opacity": posed.most_opacity,
                "units": {unit: counts[unit] for unit in ("character", "word", "line")},
                "notes": list(rest.notes),
            }
        )
    return {
        "frame": [shape.width, shape.height],
        "rate": shape.rate,
        "length": scene.length,
        "way_in": scene.spans.way_in,
        "way_out": scene.spans.way_out,
        "at": frame,
        "notes": [note for note in scene.notes() if not any(note in p["notes"] for p in parts)],
        "parts": parts,
    }


def _edges(box: Box | None) -> list[float] | None:
    return [float(v) for v in box] if box else None


def describe(template: Template, book: FontBook) -> dict[str, Any]:
    """What a template is made of: frame, spans, parts, card, fonts, samples."""
    frame = template.frame
    return {
        "name": template.name,
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
        "parts": [{"id": p.id, "name": p.name, "kind": kind_of(p)} for p in template.parts],
        "fields": [
            {"id": f.id, "label": f.label, "kind": kind_of_field(f), "default": f.default, "hint": f.hint} for f in template.card.fields
        ],
        "wires": [msgspec.to_builtins(w) for w in template.wires],
        "samples": [{"id": s.id, "name": s.name, "answers": s.answers} for s in template.samples],
        "fonts": [{"name": f.full_name, "file": f.file_name, "may_embed": f.may_embed} for f in faces_used(template, book)],
    }
