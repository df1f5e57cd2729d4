"""Forms as Skia paths: each fills a box that may be of any size, as it stands in one frame."""

import functools
import math

import skia
from fontTools.pens.basePen import BasePen

from avlet.document.looks.forms import Ellipse, FourCorners, FreeForm, Polygon, Rectangle, SlantedBar, Star, Tag, path_fault
from avlet.document.parts import BallPart, PatternPart, PicturePart, RulePart, ShapePart
from avlet.geometry import Box

Point = tuple[float, float]


def radius_of(part: ShapePart | PicturePart | PatternPart, box: Box) -> float:
    """The corner radius in px, never more than half of a side: corners stay round while a shape unfolds."""
    radius = part.corner if part.corner_unit == "px" else min(box.w, box.h) * part.corner / 100
    return min(radius, box.w / 2, box.h / 2)


def shape_path(part: ShapePart | PatternPart, box: Box) -> skia.Path:
    """The outline of a shape in ``box``."""
    radius = radius_of(part, box)
    rect = skia.Rect.MakeXYWH(*box)
    match part.form:
        case Rectangle():
            return _with(lambda path: path.addRRect(skia.RRect.MakeRectXY(rect, radius, radius)))
        case FourCorners() as form:
            return _with(lambda path: path.addRRect(_four_corners(form, box)))
        case Ellipse():
            return _with(lambda path: path.addOval(rect))
        case Polygon() as form:
            return _rounded(_on_circle(form.sides, form.turn, box), radius)
        case Star() as form:
            return _rounded(_on_circle(form.points, form.turn, box, form.inner / 100), radius)
        case SlantedBar() as form:
            return _rounded(slanted_corners(form, box), radius)
        case Tag() as form:
            return _tag(form, box, radius)
        case FreeForm() as form:
            return _free(form.path, box)


def box_path(part: ShapePart | PicturePart | PatternPart, box: Box) -> skia.Path:
    """A box with the part's round corners."""
    radius = radius_of(part, box)
    return _with(lambda path: path.addRRect(skia.RRect.MakeRectXY(skia.Rect.MakeXYWH(*box), radius, radius)))


def ball_path(part: BallPart, box: Box) -> skia.Path:
    """The outline of a ball that faces the viewer: a disc."""
    return _with(lambda path: path.addOval(skia.Rect.MakeXYWH(*box)))


def rule_path(part: RulePart, box: Box) -> skia.Path:
    """The outline of a rule in ``box``: flat or round ends, unbroken or dashed."""
    if part.dash <= 0 and part.caps == "flat":
        return _with(lambda path: path.addRect(skia.Rect.MakeXYWH(*box)))
    thick, length = (box.h, box.w) if part.direction == "across" else (box.w, box.h)
    round_caps = part.caps == "round"
    if round_caps and (part.dash <= 0 or length <= thick):
        radius = min(box.w, box.h) / 2
        return _with(lambda path: path.addRRect(skia.RRect.MakeRectXY(skia.Rect.MakeXYWH(*box), radius, radius)))
    inset = thick / 2 if round_caps else 0.0
    x, y = box.middle
    ends = (box.x + inset, y, box.right - inset, y) if part.direction == "across" else (x, box.y + inset, x, box.bottom - inset)
    line = _with(lambda path: (path.moveTo(*ends[:2]), path.lineTo(*ends[2:])))
    paint = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=max(thick, 1e-3))
    paint.setStrokeCap(skia.Paint.kRound_Cap if round_caps else skia.Paint.kButt_Cap)
    if part.dash > 0:
        paint.setPathEffect(skia.DashPathEffect.Make([part.dash, max(part.dash_gap, 0.01)], 0.0))
    filled = skia.Path()
    paint.getFillPath(line, filled)
    return filled


def slanted_corners(form: SlantedBar, box: Box) -> list[Point]:
    """The four corners of a slanted bar, clockwise from the top left."""
    shift = form.slant if form.unit == "px" else box.h * math.tan(math.radians(max(-85.0, min(85.0, form.slant))))
    shift = max(-box.w, min(box.w, shift))
    left, right = max(shift, 0.0), max(-shift, 0.0)
    return [(box.x + left, box.y), (box.right - right, box.y), (box.right - left, box.bottom), (box.x + right, box.bottom)]


def _with(add: object) -> skia.Path:
    path = skia.Path()
    add(path)  # type: ignore[operator]
    return path


def _four_corners(form: FourCorners, box: Box) -> skia.RRect:
    """Corners shrink together where two of them are longer than a side, as CSS backgrounds do."""
    radii = [form.top_left, form.top_right, form.bottom_right, form.bottom_left]
    sides = (box.w, box.h, box.w, box.h)
    shrink = min([1.0, *(side / (a + b) for side, a, b in zip(sides, radii, radii[1:] + radii[:1], strict=True) if a + b > 0)])
    made = skia.RRect()
    made.setRectRadii(skia.Rect.MakeXYWH(*box), [skia.Point(r * shrink, r * shrink) for r in radii])
    return made


def _on_circle(count: int, turn: float, box: Box, inner: float | None = None) -> list[Point]:
    """Corners on a circle from the top, clockwise; stretched so that they touch all four sides of the box."""
    steps = count if inner is None else count * 2
    points = []
    for i in range(steps):
        angle = math.radians(turn) - math.pi / 2 + 2 * math.pi * i / steps
        radius = inner if inner is not None and i % 2 else 1.0
        points.append((radius * math.cos(angle), radius * math.sin(angle)))
    return _stretched(points, box)


def _stretched(points: list[Point], box: Box) -> list[Point]:
    left, right = min(x for x, _ in points), max(x for x, _ in points)
    top, bottom = min(y for _, y in points), max(y for _, y in points)
    sx, sy = box.w / max(right - left, 1e-9), box.h / max(bottom - top, 1e-9)
    return [(box.x + (x - left) * sx, box.y + (y - top) * sy) for x, y in points]


def _rounded(points: list[Point], radius: float) -> skia.Path:
    """A closed outline through ``points`` with round corners; a corner never takes more than half of its shorter side."""
    path = skia.Path()
    if radius <= 0.01:
        path.addPoly([skia.Point(*p) for p in points], True)
        return path
    count = len(points)
    for i, corner in enumerate(points):
        before, after = points[i - 1], points[(i + 1) % count]
        start, end, weight = _arc(before, corner, after, radius)
        if i == 0:
            path.moveTo(*start)
        else:
            path.lineTo(*start)
        path.conicTo(*corner, *end, weight)
    path.close()
    return path


def _arc(before: Point, corner: Point, after: Point, radius: float) -> tuple[Point, Point, float]:
    """Where a round corner begins and ends, and the weight of the conic between that makes it a circle's arc."""
    a, b = math.dist(corner, before), math.dist(corner, after)
    cosine = ((before[0] - corner[0]) * (after[0] - corner[0]) + (before[1] - corner[1]) * (after[1] - corner[1])) / max(a * b, 1e-9)
    half = math.acos(max(-1.0, min(1.0, cosine))) / 2
    cut = min(radius / max(math.tan(half), 1e-6), a / 2, b / 2)

    def towards(other: Point, length: float) -> Point:
        return corner[0] + (other[0] - corner[0]) * cut / max(length, 1e-9), corner[1] + (other[1] - corner[1]) * cut / max(length, 1e-9)

    return towards(before, a), towards(after, b), math.sin(half)


def _tag(form: Tag, box: Box, radius: float) -> skia.Path:
    if form.end == "speech":
        return _speech(form, box, radius)
    if form.end == "round":
        full = box.h / 2
        left, right = (full if form.side in (s, "both") else radius for s in ("left", "right"))
        return _with(lambda path: path.addRRect(_four_corners(FourCorners(left, right, right, left), box)))
    depth = min(form.depth, box.w / (2 if form.side == "both" else 1))
    left, right = (depth if form.side in (s, "both") else 0.0 for s in ("left", "right"))
    middle = box.y + box.h / 2
    points = [(box.x, box.y), (box.right, box.y), (box.right, box.bottom), (box.x, box.bottom)]
    if form.end == "point":
        points = [(box.x + left, box.y), (box.right - right, box.y), (box.right - right, box.bottom), (box.x + left, box.bottom)]
        left = right = 0.0
    right_tip = [(box.right - right, middle)] if form.side != "left" else []
    left_tip = [(box.x + left, middle)] if form.side != "right" else []
    return _rounded([*points[:2], *right_tip, *points[2:], *left_tip], radius)


def _speech(form: Tag, box: Box, radius: float) -> skia.Path:
    """A rounded bar with a tail that hangs below it, inside the box."""
    depth = min(form.depth, box.h * 0.8)
    bar = Box(box.x, box.y, box.w, box.h - depth)
    radius = min(radius, bar.w / 2, bar.h / 2)
    path = _with(lambda p: p.addRRect(skia.RRect.MakeRectXY(skia.Rect.MakeXYWH(*bar), radius, radius)))
    at = {"left": bar.x + radius + depth, "right": bar.right - radius - depth, "both": bar.middle[0]}[form.side]
    lean = {"left": -depth, "right": depth, "both": 0.0}[form.side]
    width = max(6.0, depth * 0.6)
    tail = skia.Path()
    tail.addPoly([skia.Point(at - width, bar.bottom - 1), skia.Point(at + width, bar.bottom - 1), skia.Point(at + lean, box.bottom)], True)
    return skia.Op(path, tail, skia.PathOp.kUnion_PathOp) or path


class SkiaPen(BasePen):
    """A pen that draws into a Skia path."""

    def __init__(self, path: skia.Path) -> None:
        super().__init__(None)
        self.path = path

    def _moveTo(self, pt: Point) -> None:
        self.path.moveTo(*pt)

    def _lineTo(self, pt: Point) -> None:
        self.path.lineTo(*pt)

    def _curveToOne(self, pt1: Point, pt2: Point, pt3: Point) -> None:
        self.path.cubicTo(*pt1, *pt2, *pt3)

    def _closePath(self) -> None:
        self.path.close()


@functools.lru_cache(maxsize=256)
def _free_path(notation: str) -> skia.Path | None:
    path = skia.Path()
    if path_fault(notation) is None:
        from fontTools.svgLib.path import parse_path

        parse_path(notation, SkiaPen(path))
    return None if path.isEmpty() else path


def _free(notation: str, box: Box) -> skia.Path:
    """A free outline stretched to the box; notation that cannot be read stands as the box itself."""
    path = _free_path(notation)
    if path is None:
        return _with(lambda p: p.addRect(skia.Rect.MakeXYWH(*box)))
    made = skia.Path()
    path.transform(skia.Matrix.MakeRectToRect(path.computeTightBounds(), skia.Rect.MakeXYWH(*box), skia.Matrix.kFill_ScaleToFit), made)
    return made
