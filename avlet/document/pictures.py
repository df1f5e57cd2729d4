"""Reading pictures: what a file is, how large, and what is wrong with it. Nothing is decoded further than needed."""

import functools
import io
import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass

from PIL import Image, UnidentifiedImageError

from avlet.document.parts import PictureFile

MOST_SIDE, MOST_PIXELS = 16_384, 120_000_000
"""A picture that is longer than this on a side, or has more px in all, is refused."""
MOST_SHAPES = 2_000
"""An outline is worked out of a drawing of at most so many shapes, and as many kilobytes."""
FORMATS = ("PNG", "JPEG", "WEBP")
_SVG = "{http://www.w3.org/2000/svg}"
ET.register_namespace("", _SVG[1:-1])
ET.register_namespace("xlink", "http://www.w3.org/1999/xlink")
_LENGTH = re.compile(r"\s*([0-9.]+)")


@dataclass(frozen=True)
class PictureFacts:
    """Size in px, whether it is a vector drawing, why it cannot be shown, and what of it is left out.

    ``intricate``: it has so many shapes that its outline is not worked out.
    """

    width: float = 0.0
    height: float = 0.0
    vector: bool = False
    fault: str = ""
    left_out: tuple[str, ...] = ()
    intricate: bool = False


@functools.lru_cache(maxsize=64)
def read_picture(picture: PictureFile) -> PictureFacts:
    """What there is to know of a picture."""
    name = picture.name or "The picture"
    if not picture.data:
        return PictureFacts(fault=f"“{name}” is not in the package. Choose the picture again.")
    if is_svg(picture.data):
        return _read_svg(picture.data, name)
    try:
        with Image.open(io.BytesIO(picture.data), formats=FORMATS) as image:
            width, height = image.size
            if max(width, height) > MOST_SIDE or width * height > MOST_PIXELS:
                size = f"“{name}” is {width:,} × {height:,} px, which is too large."
                return PictureFacts(fault=f"{size} Use at most {MOST_SIDE:,} px a side.")
            image.load()
            return PictureFacts(float(width), float(height))
    except Image.DecompressionBombError:
        return PictureFacts(fault=f"“{name}” is too large. Use at most {MOST_SIDE:,} px a side and {MOST_PIXELS // 10**6} megapixels.")
    except UnidentifiedImageError:
        return PictureFacts(fault=f"“{name}” is not a PNG, JPEG, WebP or SVG picture.")
    except (OSError, ValueError, SyntaxError) as error:
        return PictureFacts(fault=f"“{name}” is damaged ({error}). Export it again.")


def is_svg(data: bytes) -> bool:
    """Whether a file's begin looks like SVG."""
    return b"<svg" in data[:4096]


def _read_svg(data: bytes, name: str) -> PictureFacts:
    if b"<!ENTITY" in data or (b"<!DOCTYPE" in data and b"[" in data[: data.find(b"<svg")]):
        return PictureFacts(vector=True, fault=f"“{name}” defines entities, which Avlet does not read. Export it as plain SVG.")
    try:
        root = ET.fromstring(data)
    except ET.ParseError as error:
        return PictureFacts(vector=True, fault=f"“{name}” is damaged SVG ({error}). Export it again.")
    if root.tag != f"{_SVG}svg":
        return PictureFacts(vector=True, fault=f"“{name}” is not an SVG drawing.")
    tags = [element.tag.removeprefix(_SVG) for element in root.iter() if isinstance(element.tag, str)]
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
    width, height = _svg_size(root)
    return PictureFacts(width, height, True, "", tuple(left_out), len(tags) + len(data) // 1000 > MOST_SHAPES)


def _svg_size(root: ET.Element) -> tuple[float, float]:
    box = [float(v) for v in re.findall(r"-?[0-9.]+", root.get("viewBox", ""))][2:4]
    found = [_LENGTH.match(root.get(key, "")) for key in ("width", "height")]
    sizes = [float(m.group(1)) if m and "%" not in root.get(key, "") else 0.0 for m, key in zip(found, ("width", "height"), strict=True)]
    default = box if len(box) == 2 else [300.0, 150.0]
    return sizes[0] or default[0], sizes[1] or default[1]


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
