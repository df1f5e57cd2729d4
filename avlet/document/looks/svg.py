"""Vector drawings: how large one is, what of it is left out, and whether painting it would ever end."""

import math
import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass

from avlet.document.faults.weighing import weighed
from avlet.limits import MOST_DRAWN, MOST_DRAWN_DEPTH, MOST_PX, MOST_SHAPES

_SVG = "{http://www.w3.org/2000/svg}"
ET.register_namespace("", _SVG[1:-1])
ET.register_namespace("xlink", "http://www.w3.org/1999/xlink")
_NUMBER = r"\s*([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d{1,3})?)"
_LENGTH = re.compile(_NUMBER + r"\s*(%?)")
_BOX = re.compile(rf"^(?:{_NUMBER}[\s,]*){{4}}$")
_REFERENCE = re.compile(r"url\(\s*[\"']?#([^)\"']*)")
_FILTER_WEIGHT = 100
"""How many shapes a step of a filter counts for."""
_USUAL = 300.0, 150.0
"""px: the size of a drawing that does not say any (CSS 2.2, 10.3.2)."""


@dataclass(frozen=True)
class DrawingFacts:
    """Size in px, why it cannot be shown, what is left out, and whether it has too many shapes for its outline to be worked out."""

    width: float = 0.0
    height: float = 0.0
    fault: str = ""
    left_out: tuple[str, ...] = ()
    intricate: bool = False


def read_drawing(data: bytes, name: str) -> DrawingFacts:
    """What there is to know of a drawing; ``name`` is how it is called where it has a fault."""
    if b"<!ENTITY" in data or (b"<!DOCTYPE" in data and b"[" in data[: data.find(b"<svg")]):
        return DrawingFacts(fault=f"“{name}” defines entities, which Avlet does not read. Export it as plain SVG.")
    try:
        root = ET.fromstring(data)
    except (ET.ParseError, LookupError, ValueError) as error:
        return DrawingFacts(fault=f"“{name}” is damaged SVG ({error}). Export it again.")
    if root.tag != f"{_SVG}svg":
        return DrawingFacts(fault=f"“{name}” is not an SVG drawing.")
    deep, drawn = _depth(root), _drawn(root)
    if deep > MOST_DRAWN_DEPTH or drawn > MOST_DRAWN:
        much = f"nests {deep:,} deep" if deep > MOST_DRAWN_DEPTH else f"draws {drawn:,} shapes, those it repeats counted each time"
        most = MOST_DRAWN_DEPTH if deep > MOST_DRAWN_DEPTH else MOST_DRAWN
        return DrawingFacts(fault=f"“{name}” {much}; at most {most:,} are possible. Simplify it.")
    many = sum(1 for _ in root.iter())
    return DrawingFacts(*_size(root), "", _left_out(root), many + len(data) // 1000 > MOST_SHAPES)


def _left_out(root: ET.Element) -> tuple[str, ...]:
    tags = {element.tag.removeprefix(_SVG) for element in root.iter() if isinstance(element.tag, str)}
    links = [value for e in root.iter() for key, value in e.attrib.items() if key.endswith("href") and not value.startswith(("#", "data:"))]
    handlers = [key for e in root.iter() for key in e.attrib if key.startswith("on")]
    left_out = []
    if "text" in tags:
        left_out.append("its text is left out; turn text into outlines before exporting.")
    if "image" in tags:
        left_out.append("the pictures inside it are left out; bring them in as parts of their own.")
    if "script" in tags or handlers:
        left_out.append("its scripts are left out.")
    if links:
        left_out.append(f"links to outside are left out ({links[0][:60]}).")
    return tuple(left_out)


def _size(root: ET.Element) -> tuple[float, float]:
    """Width and height: what it says, else those of its view box, else the usual ones."""
    box = _BOX.match(root.get("viewBox", ""))
    boxed = [float(v) for v in re.findall(_NUMBER, root.get("viewBox", ""))][2:4] if box else []
    otherwise = boxed if len(boxed) == 2 and all(_fits(v) for v in boxed) else _USUAL
    found = [_LENGTH.match(root.get(key, "")) for key in ("width", "height")]
    sizes = [float(m.group(1)) if m and not m.group(2) else 0.0 for m in found]
    return sizes[0] if _fits(sizes[0]) else otherwise[0], sizes[1] if _fits(sizes[1]) else otherwise[1]


def _fits(side: float) -> bool:
    return math.isfinite(side) and 0 < side <= MOST_PX


def _depth(root: ET.Element) -> int:
    """How deep elements lie in each other; a step of a filter lies in the one before it."""
    deepest, open_elements = 1, [(root, 1)]
    while open_elements:
        element, depth = open_elements.pop()
        deepest = max(deepest, depth)
        is_filter = element.tag == f"{_SVG}filter"
        open_elements += [(child, depth + 1 + (number if is_filter else 0)) for number, child in enumerate(element)]
    return deepest


def _drawn(root: ET.Element) -> int:
    """How many shapes are painted, those referred to counted each time."""
    elements = list(root.iter())
    number = {id(element): n for n, element in enumerate(elements)}
    known = {element.get("id", ""): n for n, element in enumerate(elements) if element.get("id")}
    leads: dict[int, list[int]] = {}
    for n, element in enumerate(elements):
        names = [value[1:] for key, value in element.attrib.items() if key.endswith("href") and value.startswith("#")]
        names += [name for value in element.attrib.values() if "url(" in value for name in _REFERENCE.findall(value)]
        leads[n] = [number[id(child)] for child in element] + [known[name] for name in names if name in known]
    steps = {n for n, element in enumerate(elements) if isinstance(element.tag, str) and element.tag.removeprefix(_SVG).startswith("fe")}
    return weighed(leads, lambda n, found: (_FILTER_WEIGHT if n in steps else 1) + sum(found))[0]


def without_links(data: bytes) -> bytes:
    """An SVG without scripts and without links to outside, so that drawing it can reach nothing."""
    root = ET.fromstring(data)
    for parent in list(root.iter()):
        for child in list(parent):
            if isinstance(child.tag, str) and child.tag.removeprefix(_SVG) in ("script", "foreignObject"):
                parent.remove(child)
        for key in [k for k, v in parent.attrib.items() if k.startswith("on") or (k.endswith("href") and not v.startswith(("#", "data:")))]:
            del parent.attrib[key]
    return ET.tostring(root)
