"""From painted RGBA to the planes that encoders take: BT.709, limited range, straight alpha.

Matrix and ranges are those of Recommendation ITU-R BT.709-6, items 3.2–3.5 and 4.6.
"""

from typing import Any, NamedTuple

import numpy as np

from avlet.geometry import Box
from avlet.light import KB, KG, KR

_TO_YCBCR = np.array(
    [
        [KR, KG, KB],
        [-KR / (2 * (1 - KB)), -KG / (2 * (1 - KB)), 0.5],
        [0.5, -KG / (2 * (1 - KR)), -KB / (2 * (1 - KR))],
    ],
    np.float32,
)


class Layout(NamedTuple):
    """How an encoder's picture lies in memory: PyAV's name, bits a sample, chroma at half size, with alpha or not.

    ``packed`` names the order of channels (``rgba``, ``argb``) when they lie side by side in one plane of full-range RGB.
    """

    pixel_format: str
    bits: int
    halved: bool
    alpha: bool
    packed: str = ""

    def shapes(self, width: int, height: int) -> list[tuple[int, int]]:
        """The (height, width) of each plane: Y, Cb, Cr and, if there is one, alpha."""
        if self.packed:
            return [(height, width * 4)]
        small = ((height + 1) // 2, (width + 1) // 2) if self.halved else (height, width)
        return [(height, width), small, small] + ([(height, width)] if self.alpha else [])

    @property
    def dtype(self) -> type[np.unsignedinteger]:
        return np.uint16 if self.bits > 8 else np.uint8

    @property
    def empty(self) -> list[int]:
        """What each plane holds where nothing is painted: black, no colour, no alpha."""
        if self.packed:
            return [0]
        middle = 1 << (self.bits - 1)
        return [16 << (self.bits - 8), middle, middle] + ([0] if self.alpha else [])


PRORES = Layout("yuva444p10le", 10, False, True)
VP9 = Layout("yuva420p", 8, True, True)
H264 = Layout("yuv420p", 8, True, False)
RGBA = Layout("rgba", 8, False, True, "rgba")
ARGB = Layout("argb", 8, False, True, "argb")


def painted_area(rgba: np.ndarray) -> tuple[int, int, int, int] | None:
    """Left, top, right, bottom of what is not empty, at even positions; None for an empty picture."""
    height, width = rgba.shape[:2]
    whole = np.ascontiguousarray(rgba).view(np.uint32).reshape(height, width)  # where alpha is 0, so is all else
    rows = np.flatnonzero(whole.any(axis=1))
    if not len(rows):
        return None
    top, bottom = int(rows[0]), int(rows[-1]) + 1
    columns = np.flatnonzero(np.bitwise_or.reduce(whole[top:bottom], axis=0))
    left, right = int(columns[0]), int(columns[-1]) + 1
    return left & ~1, top & ~1, min(width, (right + 1) & ~1), min(height, (bottom + 1) & ~1)


def straight(rgba: np.ndarray) -> np.ndarray:
    """Premultiplied RGBA (8 bits) as straight RGB, float32 0…255; black where alpha is 0."""
    alpha = rgba[..., 3:].astype(np.float32)
    return np.minimum(rgba[..., :3] * (255.0 / np.maximum(alpha, 1.0)), 255.0).astype(np.float32)


def straight_bytes(rgba: np.ndarray) -> np.ndarray:
    """Premultiplied RGBA as straight RGBA, 8 bits each. What is empty or opaque is the same in both, and most px are."""
    made = rgba.copy()
    partly = rgba[..., 3] - np.uint8(1) < 254  # 0 wraps round to 255
    if 3 * np.count_nonzero(partly) > partly.size:  # picking them out takes longer than working all of them out
        partly[...] = True
    made[partly, :3] = straight(rgba[partly]) + 0.5
    return made


def fill_planes(rgba: np.ndarray, planes: list[np.ndarray], layout: Layout) -> Box | None:
    """Write a painted picture into ``planes`` (whole pictures, already empty). Returns the area written."""
    if not layout.alpha:
        _fill_opaque(rgba, planes, layout)
        return Box(0, 0, rgba.shape[1], rgba.shape[0])
    area = painted_area(rgba)
    if area is None:
        return None
    left, top, right, bottom = area
    crop = rgba[top:bottom, left:right]
    if layout.packed:
        packed = planes[0].reshape(rgba.shape)[top:bottom, left:right]
        packed[...] = straight_bytes(crop)[..., ["rgba".index(c) for c in layout.packed]]
        return Box(left, top, right - left, bottom - top)
    scale = (1 << (layout.bits - 8)) / 255.0
    matrix = _TO_YCBCR.T * np.float32(scale) * np.array([219, 224, 224], np.float32)
    y0, c0 = layout.empty[0], layout.empty[1]
    most = (1 << layout.bits) - 1
    # Rounded half up; values cannot leave the range.
    if not layout.halved:
        pixels = np.ascontiguousarray(crop).view(np.uint32).ravel()
        at = np.flatnonzero(pixels)
        painted = pixels[at].view(np.uint8).reshape(-1, 4)
        ycbcr = straight(painted) @ matrix
        ycbcr += np.array([y0 + 0.5, c0 + 0.5, c0 + 0.5], np.float32)
        rows, columns = np.divmod(at, right - left)
        values = (*ycbcr.astype(layout.dtype).T, ((painted[:, 3].astype(np.uint32) * most + 127) // 255).astype(layout.dtype))
        for plane, value in zip(planes, values, strict=True):
            _put_at(plane, rows + top, columns + left, value)
        return Box(left, top, right - left, bottom - top)
    ycbcr = straight(crop) @ matrix
    planes[0][top:bottom, left:right] = np.where(crop[..., 3] > 0, ycbcr[..., 0] + (y0 + 0.5), y0)
    weight = crop[..., 3].astype(np.float32)
    cy, cx = slice(top // 2, (bottom + 1) // 2), slice(left // 2, (right + 1) // 2)
    for plane, values in ((planes[1], ycbcr[..., 1]), (planes[2], ycbcr[..., 2])):
        plane[cy, cx] = _halved(values, weight) + (c0 + 0.5)
    planes[3][top:bottom, left:right] = (crop[..., 3].astype(np.uint32) * most + 127) // 255
    return Box(left, top, right - left, bottom - top)


def _put_at(plane: np.ndarray, rows: np.ndarray, columns: np.ndarray, values: np.ndarray) -> None:
    """Values at places of a plane; along one axis where its rows follow each other, which takes half the time."""
    if plane.flags.c_contiguous:
        plane.reshape(-1)[rows * plane.shape[1] + columns] = values
    else:
        plane[rows, columns] = values


def _fill_opaque(rgba: np.ndarray, planes: list[np.ndarray], layout: Layout) -> None:
    """A whole picture without alpha, converted by FFmpeg's scaler."""
    import av

    source = av.VideoFrame.from_ndarray(rgba, "rgba")
    frame = source.reformat(format=layout.pixel_format, dst_colorspace="ITU709", dst_color_range="MPEG")
    for plane, target in zip(frame.planes, planes, strict=True):
        target[...] = memory_of(plane, target.dtype)[: target.shape[0], : target.shape[1]]


def regions(planes: list[np.ndarray], layout: Layout, area: Box) -> list[np.ndarray]:
    """The stretch of each plane that an area of the picture, at even positions, lies in."""
    left, top, right, bottom = (int(v) for v in (area.x, area.y, area.right, area.bottom))
    found = []
    for number, plane in enumerate(planes):
        if layout.packed:
            found.append(plane[top:bottom, left * 4 : right * 4])
        elif layout.halved and number in (1, 2):
            found.append(plane[top // 2 : (bottom + 1) // 2, left // 2 : (right + 1) // 2])
        else:
            found.append(plane[top:bottom, left:right])
    return found


def memory_of(plane: Any, dtype: Any) -> np.ndarray:
    """An array over an FFmpeg plane, rows with their padding."""
    flat = np.frombuffer(plane, dtype)
    return flat.reshape(-1, plane.line_size // flat.itemsize)


def _halved(values: np.ndarray, weight: np.ndarray) -> np.ndarray:
    """Means of 2 × 2 samples, each as heavy as its alpha, so that edges keep their colour."""
    height, width = values.shape
    pad = ((0, height % 2), (0, width % 2))
    weighted, weights = np.pad(values * weight, pad), np.pad(weight, pad)

    def sums(a: np.ndarray) -> np.ndarray:
        total: np.ndarray = a[0::2, 0::2] + a[1::2, 0::2] + a[0::2, 1::2] + a[1::2, 1::2]
        return total

    return sums(weighted) / np.maximum(sums(weights), 1.0)
