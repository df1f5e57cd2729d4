"""The outline of a vector drawing: all that it paints, as one Skia path."""

import functools
import re
import xml.etree.ElementTree as ET

import skia
from fontTools.misc.transform import Transform

from avlet.document.looks.pictures import read_picture
from avlet.document.looks.svg import without_links
from avlet.document.parts import PictureFile
from avlet.paint.forms import SkiaPen

_SVG = "{http://www.w3.org/2000/svg}"
_REFERENCE = re.compile(r"url\(#([^)]*)\)")
_CAPS = {"round": skia.Paint.kRound_Cap, "square": skia.Paint.kSquare_Cap}
_FINE = 16.0
"""How much larger than itself a line may be shown before its curves would be seen to be made of pieces."""
_JOINS = {"round": skia.Paint.kRound_Join, "bevel": skia.Paint.kBevel_Join}


@functools.lru_cache(maxsize=32)
def drawing_of(picture: PictureFile) -> skia.SVGDOM | None:
    """A vector drawing, ready to be painted at its own size; None when it cannot be read."""
    facts = read_picture(picture)
    drawing = skia.SVGDOM.MakeFromStream(skia.MemoryStream.MakeCopy(without_links(picture.data)))
    if drawing is not None:
        drawing.setContainerSize(skia.Size(facts.width, facts.height))
    return drawing


@functools.lru_cache(maxsize=32)
def drawing_path(picture: PictureFile) -> skia.Path | None:
    """What a drawing paints, fills and lines alike, in its own px; None when that is nothing. Nobody may change it.

    Skia itself is asked: it lays the drawing out, with references, styles and transformations resolved, and writes each shape down.
    """
    drawing, facts = drawing_of(picture), read_picture(picture)
    if drawing is None or facts.width <= 0 or facts.height <= 0:
        return None
    stream = skia.DynamicMemoryWStream()
    canvas = skia.SVGCanvas.Make(skia.Rect.MakeWH(facts.width, facts.height), stream)
    drawing.render(canvas)
    del canvas  # what is drawn is written when the canvas goes
    root = ET.fromstring(bytes(stream.detachAsData()))
    whole = _Reader({e.get("id", ""): e for e in root.iter()}).within(root)
    return None if whole.isEmpty() else whole


class _Reader:
    """Reads shapes that Skia has written. ``known`` are all elements by their id."""

    def __init__(self, known: dict[str, ET.Element]) -> None:
        self.known = known

    def within(self, element: ET.Element) -> skia.Path:
        """All that is painted by the children of an element, cut by its clip."""
        builder = skia.OpBuilder()
        for child in element:
            tag = child.tag.removeprefix(_SVG)
            if tag not in ("clipPath", "defs", "linearGradient", "radialGradient", "pattern"):
                builder.add(self.within(child) if tag == "g" else self._painted(child), skia.PathOp.kUnion_PathOp)
        joint = builder.resolve()
        clip = _REFERENCE.match(element.get("clip-path", ""))
        held = self.known.get(clip.group(1)) if clip else None
        return joint if held is None else skia.Op(joint, self.within(held), skia.PathOp.kIntersect_PathOp) or joint

    def _painted(self, element: ET.Element) -> skia.Path:
        """One shape: its inside where it is filled, and its line where it has one."""
        from fontTools.pens.transformPen import TransformPen
        from fontTools.svgLib.path import parse_path
        from fontTools.svgLib.path.shapes import PathBuilder

        matrix = _matrix(element.attrib.pop("transform", ""))
        builder = PathBuilder()
        builder.add_path_from_element(element)
        whole = skia.Path()
        for notation in builder.paths:
            path = skia.Path()
            parse_path(notation, TransformPen(SkiaPen(path), matrix))
            if element.get("fill-rule") == "evenodd" or element.get("clip-rule") == "evenodd":
                path.setFillType(skia.PathFillType.kEvenOdd)
            if element.get("fill") != "none":
                whole = skia.Op(whole, path, skia.PathOp.kUnion_PathOp) or path
            if element.get("stroke", "none") != "none":
                scale = abs(matrix.xx * matrix.yy - matrix.xy * matrix.yx) ** 0.5
                whole = skia.Op(whole, _line(element, path, scale), skia.PathOp.kUnion_PathOp) or whole
        return whole


def _matrix(words: str) -> Transform:
    """A transformation as Skia writes it."""
    found = Transform()
    for name, inside in re.findall(r"(matrix|translate|scale)\(([^)]*)\)", words):
        numbers = [float(n) for n in inside.replace(",", " ").split()]
        if name == "matrix":
            found = found.transform(numbers)
        else:
            found = found.translate(*numbers) if name == "translate" else found.scale(*numbers)
    return found


def _line(element: ET.Element, path: skia.Path, scale: float) -> skia.Path:
    """What a line along a path covers."""
    paint = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=float(element.get("stroke-width", "1")) * scale)
    paint.setStrokeCap(_CAPS.get(element.get("stroke-linecap", ""), skia.Paint.kButt_Cap))
    paint.setStrokeJoin(_JOINS.get(element.get("stroke-linejoin", ""), skia.Paint.kMiter_Join))
    paint.setStrokeMiter(float(element.get("stroke-miterlimit", "4")))
    covered = skia.Path()
    paint.getFillPath(path, covered, None, _FINE)
    return covered
