"""What is drawn of a space: bodies, the light on them, and from where they are seen. Plain values, nothing of OpenGL."""

import functools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from avlet.arrays import Floats
from avlet.solid.meshes import Mesh, edge_share

Linear = tuple[float, float, float]
"""Red, green and blue in linear light, 0 to 1."""


@dataclass(frozen=True, eq=False)
class Texture:
    """A picture on a front: premultiplied RGBA (height, width, 4), and the box that it covers in px of the body's own outline."""

    pixels: np.ndarray
    box: tuple[float, float, float, float]


@dataclass(frozen=True, eq=False)
class Body:
    """One mesh as it stands. ``matrix`` (4, 4) brings it into space; ``depth`` is how deep it is.

    Colours are in linear light. ``shine`` is how much of the sun it mirrors, ``sharp`` how sharply. Of one that is ``only_shadows``
    nothing is seen but the shadows on it; one that does not ``cast`` throws none. ``mask`` names the mask of its stage that it is seen
    through.
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
    mask: str = ""

    @functools.cached_property
    def through(self) -> bool:
        """Whether one sees through it."""
        clear = self.texture is not None and bool((self.texture.pixels[..., 3] < 255).any())
        return self.opacity < 1 or self.only_shadows or clear or bool(self.mask)

    @property
    def square(self) -> bool:
        """Whether it is flat and lies as the sheet of the frame does, so that no other like it cuts through it."""
        return self.mesh.flat and bool(np.abs(self.matrix[2, :2]).max() < 1e-6 and np.abs(self.matrix[3, :3]).max() < 1e-9)

    @functools.cached_property
    def normals(self) -> bytes:
        """What brings normals into space, (3, 3) as OpenGL reads it."""
        return np.linalg.pinv(self.matrix[:3, :3]).astype("f4").tobytes()

    @functools.cached_property
    def corners(self) -> Floats:
        """Eight corners in space, (8, 3)."""
        v = self.mesh.vertices
        low, high = v[:, :2].min(axis=0), v[:, :2].max(axis=0)
        z = v[:, 2] * self.depth + v[:, 3] * edge_share(self.mesh.edge, self.depth)
        box = np.array([(x, y, d, 1.0) for x in (low[0], high[0]) for y in (low[1], high[1]) for d in (float(z.min()), float(z.max()))])
        whole = box @ self.matrix.T
        found: Floats = whole[:, :3] / whole[:, 3:]
        return found


@dataclass(frozen=True)
class Lamp:
    """Light from a place, ``light`` strong at it; half of that is left at ``reach`` px. ``soft`` as for the sun."""

    at: tuple[float, float, float]
    light: Linear
    reach: float
    soft: float = 0.0


@dataclass(frozen=True)
class Light:
    """Sky from all sides; a sun from a direction (a unit vector from the scene to it); lamps. Strengths as colours in linear light.

    In light as strong as ``white`` colours are what they are called.
    """

    sky: Linear
    sun: Linear
    to_sun: tuple[float, float, float]
    soft: float = 0.0
    lamps: tuple[Lamp, ...] = ()
    white: Linear = (1.0, 1.0, 1.0)

    @property
    def sunny(self) -> bool:
        """Whether the sun throws shadows."""
        return max(self.sun) > 0


def white_of(sky: Linear, sun: Linear, to_sun: tuple[float, float, float], lamps: Sequence[Linear] = ()) -> Linear:
    """What falls on what faces the viewer at rest and lies in no shadow, right below all lamps."""
    lean = max(0.0, to_sun[2])
    red, green, blue = (max(1e-4, sky[n] + sun[n] * lean + sum(lamp[n] for lamp in lamps)) for n in range(3))
    return red, green, blue


@dataclass(frozen=True, eq=False)
class View:
    """What is seen: ``matrix`` (4, 4) from space to px of the frame (see :mod:`avlet.motion.camera`), ``eye`` (3,) where from."""

    matrix: Floats
    eye: Floats


@dataclass(frozen=True, eq=False)
class Stage:
    """All that a picture of a space follows from. ``masks`` are as large as the picture: what is let through, 0 to 255, (height, width).

    Edges of one that is not ``fine`` are left as the middles of px have them.
    """

    bodies: tuple[Body, ...]
    light: Light
    view: View
    masks: Mapping[str, np.ndarray] = field(default_factory=dict)
    fine: bool = True

    @functools.cached_property
    def farthest(self) -> float:
        """How far from the eye, along its view, the farthest corner of a body is."""
        m, points = self.view.matrix, [body.corners for body in self.bodies if not body.mesh.empty]
        return float((np.concatenate(points) @ m[3, :3] + m[3, 3]).max()) if points else 1.0
