"""What there is to tell of lists of credits that move: speed, way, calm, the lengths at which they move whole px, their pages."""

from collections.abc import Generator
from typing import Any

import msgspec

from avlet.document.fields.credits import CreditsField, answer_of
from avlet.document.lists.blocks import Blocks
from avlet.document.parts import CreditsPart
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.motion.credits import MovingList, lists_of
from avlet.motion.posed_part import PosedPart
from avlet.motion.rolling import axis_of, whole_lengths
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene
from avlet.paint.shimmer import HURRIES, Calm, calm_bit_by_bit, calm_of


def calm_in(scene: Scene, part_id: str) -> Calm | None:
    """How calm a list moves; None for one that does not."""
    found = _moving(scene, part_id)
    return None if found is None else calm_of(*found)


def calm_in_bit_by_bit(scene: Scene, part_id: str) -> Generator[None, None, Calm | None]:
    """The same, a little at each step."""
    found = _moving(scene, part_id)
    return None if found is None else (yield from calm_bit_by_bit(*found))


def _moving(scene: Scene, part_id: str) -> tuple[MovingList, PosedPart] | None:
    moving = lists_of(scene.choreography.movers).get(part_id)
    if moving is None or moving.roll is None:
        return None
    posed = scene.pose(scene.length // 2).parts.get(part_id)
    return None if posed is None else (moving, posed)


def advice(moving: MovingList, calm: Calm) -> tuple[str, ...]:
    """What would calm a roll that is not steady, in words."""
    roll, part = moving.roll, moving.part
    if calm.word == "steady" or roll is None:
        return ()
    if calm.word == "hurries":
        return (f"at most {in_figures(int(roll.speed * HURRIES / calm.pace * 10) / 10)} px a frame: a longer title, or larger type",)
    found = []
    if not roll.whole:
        found.append("a speed of whole px a frame")
    if part.softened < 2:
        found.append("more softness along the movement")
    if 0 < calm.thinnest < 2:
        found.append(f"a heavier face: its thinnest level stroke is {calm.thinnest:.1f} px")
    if calm.contrast > 0.85:
        found.append("less contrast")
    return tuple(found)


def facts_of_lists(scene: Scene) -> list[dict[str, Any]]:
    """Of every list of a title: how it moves, its numbers in px and frames, and what would be better lengths."""
    return [_facts(scene, part_id, moving) for part_id, moving in lists_of(scene.choreography.movers).items()]


def _facts(scene: Scene, part_id: str, moving: MovingList) -> dict[str, Any]:
    part, fps = moving.part, float(scene.template.frame.fps)
    facts: dict[str, Any] = {
        "id": part_id, "name": part.name, "moves": part.movement.how, "leads": part.movement.leads, "frames": scene.length,
        "seconds": round(scene.length / fps, 3), "rows": len(moving.strip.rows), "long": round(moving.strip.length, 3),
    }  # fmt: skip
    roll, ends, calm = moving.roll, moving.ends, calm_in(scene, part_id)
    if roll is not None and ends is not None:
        size = (scene.rest.frame.width, scene.rest.frame.height)[axis_of(part)]
        facts |= {
            "way": round(ends.way, 3), "px_a_frame": round(roll.speed, 4), "whole": roll.whole,
            "seconds_in_frame": round(size / roll.speed / fps, 3) if roll.speed else None,
            "offers": [o._asdict() for o in whole_lengths(part.movement, ends, scene.length)],
            "even_offers": [o._asdict() for o in whole_lengths(part.movement, ends, scene.length, even=True)],
        }  # fmt: skip
    if calm is not None:
        facts |= {
            "calm": calm.word, "shimmer": round(calm.shimmer, 4), "thinnest_stroke": round(calm.thinnest, 3),
            "calmer_with": list(advice(moving, calm)),
        }  # fmt: skip
    if moving.pages:
        facts["pages"] = [{"page": n + 1, "first": w.first, "frames": w.frames} for n, w in enumerate(moving.windows)]
    return facts


def list_places(template: Template) -> tuple[str, ...]:
    """The list fields of a card; without one the parts of the kind credits."""
    fields = tuple(f.id for f in template.card.fields if isinstance(f, CreditsField))
    return fields or tuple(p.id for p in template.parts if isinstance(p, CreditsPart))


def with_list(template: Template, blocks: Blocks, at: str | None = None) -> tuple[Template, dict[str, Any]]:
    """A template with another list, and answers that go with it. Raises ``AnswerError`` where there is no one place for it."""
    places = list_places(template)
    if not places:
        raise AnswerError(f"{template.name} has no credits: add a part of that kind first.")
    place = at or places[0]
    if place not in places:
        raise AnswerError(f"{template.name} has no list “{place}”. Its lists: {', '.join(places)}.")
    if template.card.field(place) is not None:
        return template, {place: answer_of(blocks)}
    parts = tuple(msgspec.structs.replace(p, blocks=blocks) if p.id == place else p for p in template.parts)
    return msgspec.structs.replace(template, parts=parts), {}
