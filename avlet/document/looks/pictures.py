"""Reading pictures: what a file is, how large, and what is wrong with it. Nothing is decoded further than needed."""

import functools
import io
from dataclasses import dataclass

from avlet.document.looks.picture_file import PictureFile
from avlet.document.looks.svg import read_drawing
from avlet.limits import MOST_PICTURE_PIXELS, MOST_SIDE

FORMATS = ("PNG", "JPEG", "WEBP")


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
        drawing = read_drawing(picture.data, name)
        return PictureFacts(drawing.width, drawing.height, True, drawing.fault, drawing.left_out, drawing.intricate)
    from PIL import Image, UnidentifiedImageError

    try:
        with Image.open(io.BytesIO(picture.data), formats=FORMATS) as image:
            width, height = image.size
            if max(width, height) > MOST_SIDE or width * height > MOST_PICTURE_PIXELS:
                size = f"“{name}” is {width:,} × {height:,} px, which is too large."
                return PictureFacts(fault=f"{size} Use at most {MOST_SIDE:,} px a side.")
            image.load()
            return PictureFacts(float(width), float(height))
    except Image.DecompressionBombError:
        return PictureFacts(
            fault=f"“{name}” is too large. Use at most {MOST_SIDE:,} px a side and {MOST_PICTURE_PIXELS // 10**6} megapixels."
        )
    except UnidentifiedImageError:
        return PictureFacts(fault=f"“{name}” is not a PNG, JPEG, WebP or SVG picture.")
    except (OSError, ValueError, SyntaxError, OverflowError, MemoryError) as error:
        return PictureFacts(fault=f"“{name}” is damaged ({error}). Export it again.")


def is_svg(data: bytes) -> bool:
    """Whether a file's begin looks like SVG."""
    return b"<svg" in data[:4096]
