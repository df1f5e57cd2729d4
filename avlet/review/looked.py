"""A title looked at: its frames, poses and pictures, worked out when a check asks for them, and once."""

import functools
import itertools
from collections.abc import Callable, Iterable, Iterator

import numpy as np
import skia

from avlet.arrays import Floats, Marks
from avlet.document.parts import CreditsPart, PaintedPart, TypesetPart
from avlet.geometry import Box
from avlet.layout.rest import RestPart, unit_edges
from avlet.motion.posed import Pose
from avlet.paint.painter import Pixels, canvas_over, new_pixels, paint_one
from avlet.paint.posed_outlines import fronts_outline
from avlet.paint.scene import Scene
from avlet.review.at_rest import rest_frame
from avlet.review.stretches import stretches_of

Draw = Callable[[skia.Canvas, Pose], None]
SEEN, READ, LEGIBLE = 0.02, 0.6, 0.98
"""Opacities from which on something shows, can be read, and is there whole."""
_HALF = 127


class Looked:
    """One title: a scene under the name of its sample, and what all checks measure on it. Pictures are made in its own size."""

    def __init__(self, scene: Scene, name: str, sample: str = "") -> None:
        self.scene, self.name, self.sample = scene, name, sample or name
        self._poses: dict[int, Pose] = {}
        self._motions: dict[str, tuple[Floats, Floats]] = {}

    @property
    def last(self) -> int:
        """The last frame's number."""
        return self.scene.length - 1

    @property
    def frame_box(self) -> Box:
        """The whole picture, in px of it."""
        frame = self.scene.template.frame
        return Box(0, 0, frame.width, frame.height)

    @functools.cached_property
    def stretches(self) -> tuple[range, ...]:
        """The frames that are looked at, in runs of neighbours."""
        return stretches_of(self.scene)

    @functools.cached_property
    def frames(self) -> tuple[int, ...]:
        """The frames that are looked at, in order."""
        return tuple(itertools.chain.from_iterable(self.stretches))

    @functools.cached_property
    def neighbours(self) -> Marks:
        """Whether each of these and the next are neighbours in time, (frames − 1,)."""
        found: Marks = np.diff(np.array(self.frames)) == 1
        return found

    def steps(self, values: Floats) -> Floats:
        """The change of values (frames, …) from each frame to the next, (frames − 1, …); NaN where those are no neighbours in time."""
        found: Floats = np.diff(values, axis=0)
        found[~self.neighbours] = np.nan
        return found

    def lasts(self, frames: Iterable[int]) -> int:
        """For how many frames something is so that is so in these: gaps that were not looked at count where it is so on both sides."""
        so, order = set(frames), self.frames
        return sum((after - before) if after in so else 1 for before, after in zip(order, (*order[1:], -1), strict=True) if before in so)

    @functools.cached_property
    def rest_frame(self) -> int:
        """A frame in which it stands there whole: the middle of its hold."""
        return rest_frame(self.scene)

    def pose(self, frame: int) -> Pose:
        """A frame's pose."""
        if frame not in self._poses:
            self._poses[frame] = self.scene.pose(frame)
        return self._poses[frame]

    @functools.cached_property
    def visible(self) -> dict[str, dict[int, Box]]:
        """What shows of each part, by frame: the bounds of its ink within its mattes, where it is not transparent."""
        found: dict[str, dict[int, Box]] = {part_id: {} for part_id in self.scene.rest.parts}
        for frame in self.frames:
            pose = self.pose(frame)
            for part_id in pose.parts:
                if pose.parts[part_id].most_opacity > SEEN and (box := pose.visible_box(part_id)) is not None and not box.empty:
                    found[part_id][frame] = box
        return found

    @property
    def present(self) -> Iterator[tuple[str, RestPart]]:
        """The parts that are there."""
        return ((i, rest) for i, rest in self.scene.rest.parts.items() if rest.present and rest.part.shown and rest.part.opacity > 0)

    @functools.cached_property
    def texts(self) -> tuple[tuple[str, RestPart], ...]:
        """The parts that show words; outlines that only repeat another part's words are its ornament and not asked."""
        shown = [(i, rest) for i, rest in self.present if rest.words is not None and rest.words.ink_box is not None]
        said = [_said_by(rest) for _, rest in shown if not _only_lines(rest)]
        return tuple((i, rest) for i, rest in shown if not (_only_lines(rest) and _said_by(rest) in said))

    @property
    def words(self) -> tuple[tuple[str, RestPart], ...]:
        """Words and lists: all that is read."""
        ornaments = {i for i, rest in self.present if _only_lines(rest)} - {i for i, _ in self.texts}
        return tuple((i, rest) for i, rest in self.present if isinstance(rest.part, TypesetPart | CreditsPart) and i not in ornaments)

    @functools.cached_property
    def still_frames(self) -> dict[str, list[int]]:
        """In which frames each part stands still and whole, nothing of it hidden by a move."""
        found: dict[str, list[int]] = {i: [] for i in self.scene.rest.parts}
        for frame in self.frames:
            for part_id, posed in self.pose(frame).parts.items():
                whole = posed.opened is None or bool((posed.opened >= 1).all())
                if posed.shown and posed.still and whole and bool((posed.opacity >= LEGIBLE).all()):
                    found[part_id].append(frame)
        return found

    @functools.cached_property
    def legible_frames(self) -> dict[str, list[int]]:
        """In which frames each text can be read: all of it shows, close to where it rests, and sharp."""
        near = {i: rest.words.cap_height / 2 for i, rest in self.texts if rest.words is not None}
        return {i: [frame for frame in self.frames if _legible(self.pose(frame), self.scene.rest.parts[i], far)] for i, far in near.items()}

    def motion(self, part_id: str) -> tuple[Floats, Floats]:
        """How far from rest (frames, units, 2) in px, and how opaque (frames, units), a part's units are; NaN where nothing shows.

        Both are read-only: several checks ask for them.
        """
        if part_id not in self._motions:
            self._motions[part_id] = self._moved(part_id)
        return self._motions[part_id]

    def _moved(self, part_id: str) -> tuple[Floats, Floats]:
        places, shows = [], []
        for frame in self.frames:
            posed = self.pose(frame).parts[part_id]
            seen = posed.opacity * posed.shown
            edges = unit_edges(posed.rest, posed.unit)
            middle = posed.corners.mean(axis=1) - (edges[:, :2] + edges[:, 2:]) / 2
            inside = self.pose(frame).units_in_mattes(posed) if self.pose(frame).mattes_of(posed) else np.ones(len(seen), bool)
            hidden = (seen <= SEEN) | ~inside
            places.append(np.where(hidden[:, None], np.nan, middle))
            shows.append(seen)
        found = np.array(places), np.array(shows)
        for one in found:
            one.flags.writeable = False
        return found

    # Pictures

    def picture(self, frame: int) -> Pixels:
        """A frame as it is painted, premultiplied RGBA in the title's own size."""
        return self.scene.picture(frame)

    def alone(self, part_id: str, frame: int) -> Pixels:
        """One part of a frame, within its mattes and nothing else."""
        return self._painted(lambda canvas, pose: paint_one(canvas, pose, part_id), frame)

    def fronts(self, part_id: str, frame: int) -> Marks | None:
        """Where the fronts of solid letters are seen; None for what has no depth."""
        path = fronts_outline(self.pose(frame), part_id)
        if path is None:
            return None
        white = skia.Paint(Color=skia.ColorWHITE)
        marks: Marks = self._painted(lambda canvas, _: canvas.drawPath(path, white), frame)[..., 3] > _HALF
        return marks

    def behind(self, part_id: str, frame: int) -> Pixels:
        """What of a frame is painted before a part."""
        return self._painted(lambda canvas, pose: _paint_before(canvas, pose, part_id), frame)

    def _painted(self, draw: Draw, frame: int) -> Pixels:
        size = self.scene.template.frame
        pixels = new_pixels(size.width, size.height)
        surface = canvas_over(pixels)
        draw(surface.getCanvas(), self.pose(frame))
        surface.flushAndSubmit()
        return pixels


class AtRest(Looked):
    """A title of which the resting layout alone is looked at: no frame is posed."""

    @functools.cached_property
    def still_frames(self) -> dict[str, list[int]]:
        return {part_id: [self.rest_frame] for part_id in self.scene.rest.parts}


def _paint_before(canvas: skia.Canvas, pose: Pose, part_id: str) -> None:
    """All that lies behind a part; of groups that it is in, the members before it."""
    lineage = [part_id]
    while (group := pose.parts[lineage[-1]].rest.part.group) is not None and group in pose.parts:
        lineage.append(group)
    for inside in reversed(lineage):
        holder = pose.parts[inside].rest.part.group
        for other in pose.members.get(holder if holder in pose.parts else None, ()):
            if other == inside:
                break
            paint_one(canvas, pose, other)


def _legible(pose: Pose, rest: RestPart, near: float) -> bool:
    """Whether all of a text can be read: no unit further from rest than ``near`` px, or softer than half of that."""
    posed = pose.parts[rest.part.id]
    opened = posed.opened is None or bool((posed.opened >= 1).all())
    keyed = posed.rest.part.opacity / max(rest.part.opacity, 1e-9)  # its own opacity may be keyed
    if not posed.shown or not opened or not bool((posed.opacity * keyed >= READ).all()):
        return False
    soft = float(posed.blur.max(initial=0.0)) if posed.blur is not None else 0.0
    close = float(np.abs(posed.shift).max(initial=0.0)) <= near and soft <= near / 2
    return posed.still or (close and bool(pose.units_in_mattes(posed).all()))


def covered(pixels: Pixels, least: int = 1) -> Marks:
    """Where something is painted, (height, width)."""
    found: Marks = pixels[..., 3] >= least
    return found


def bounds_of(marks: Marks) -> Box | None:
    """The bounds of what is marked."""
    rows, columns = np.flatnonzero(marks.any(axis=1)), np.flatnonzero(marks.any(axis=0))
    if not len(rows):
        return None
    return Box.from_edges(float(columns[0]), float(rows[0]), float(columns[-1] + 1), float(rows[-1] + 1))


def _only_lines(rest: RestPart) -> bool:
    return isinstance(rest.part, PaintedPart) and rest.part.only_lines


def _said_by(rest: RestPart) -> list[str]:
    """The lines of a part's words."""
    return [line.text for line in rest.words.texts] if rest.words is not None else []
