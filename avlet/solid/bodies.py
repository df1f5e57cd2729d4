"""What is drawn of a space: bodies, the light on them, and from where they are seen. Plain values, nothing of OpenGL."""

from dataclasses import dataclass, field

import numpy as np

from avlet.arrays import Floats
from avlet.solid.meshes import Mesh

Linear = tuple[float, float, float]
"""Red, green and blue in linear light, 0 to 1."""


def to_linear(srgb: Floats) -> Floats:
    """sRGB, 0 to 1, as linear light (IEC 61966-2-1)."""
    found: Floats = np.where(srgb <= 0.04045, srgb / 12.92, ((np.maximum(srgb, 0.0) + 0.055) / 1.055) ** 2.4)
    return found


def from_linear(light: Floats) -> Floats:
    """Linear light as sRGB, 0 to 1 (IEC 61966-2-1)."""
    found: Floats = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 0.0) ** (1 / 2.4) - 0.055)
    return found


@dataclass(frozen=True, eq=False)
class Texture:
    """A picture on a front: premultiplied RGBA (height, width, 4), and the box that it covers in px of the body's own outline."""

    pixels: np.ndarray
    box: tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Body:
    """One mesh as it stands. ``matrix`` (4, 4) brings it into space; ``depth`` is how deep it is.

    Colours are in linear light. ``shine`` is how much of the sun it mirrors, ``sharp`` how sharply. Of one that is ``only_shadows``
    nothing is seen but the shadows on it; one that does not ``cast`` throws none.
    """

    mesh: Mesh
    matrix: Floats
    depth: float
    front: Linear
    side: Linear
    edge: Linear
    opacity: float = 1.0
    shine: float = 0.0
    sharp: float = 1.0
    only_shadows: bool = False
    casts: bool = True
    texture: Texture | None = None


@dataclass(frozen=True)
class Light:
    """Sky from all sides; a sun from a direction (a unit vector from the scene to it). Strengths as colours in linear light."""

    sky: Linear
    sun: Linear
    to_sun: tuple[float, float, float]
    soft: float = 0.0

    @property
    def on_the_sheet(self) -> Linear:
        """What falls on what faces the viewer at rest and lies in no shadow: there colours are what they are called."""
        lean = max(0.0, self.to_sun[2])
        red, green, blue = (max(1e-4, sky + sun * lean) for sky, sun in zip(self.sky, self.sun, strict=True))
        return red, green, blue

    @property
    def throws(self) -> bool:
        """Whether there are shadows."""
        return max(self.sun) > 0


@dataclass(frozen=True, eq=False)
class View:
    """What is seen: ``matrix`` (4, 4) from space to px of the frame (see :mod:`avlet.motion.camera`), ``eye`` (3,) where from."""

    matrix: Floats
    eye: Floats


@dataclass(frozen=True, eq=False)
class Stage:
    """All that a picture of a space follows from."""

    bodies: tuple[Body, ...]
    light: Light
    view: View
    notes: tuple[str, ...] = field(default=())
