"""A space: a group whose members stand in depth, seen by a camera and lit."""

from typing import Annotated, ClassVar

from avlet.document.metadata import Value, piece, prop
from avlet.document.parts.group import GroupPart
from avlet.document.solids import MOST_DEPTH


class Camera(Value, frozen=True):
    """From where a space is seen. At rest px on the plane of the frame are px of the frame.

    It is carried ``round`` the point that it looks at, and ``up``, both in degrees; ``distance`` is a share of that at rest, ``angle``
    its angle of view from top to bottom. ``to_x``, ``to_y`` and ``to_z`` are px from the middle of the frame to what it looks at.
    """

    round: Annotated[float, prop("Carried round", unit="°", low=-180, high=180, step=5, group="camera")] = 0.0
    up: Annotated[float, prop("Carried up", unit="°", low=-89, high=89, step=5, group="camera")] = 0.0
    distance: Annotated[float, prop("Distance", unit="%", low=10, high=1000, step=5, group="camera")] = 100.0
    angle: Annotated[float, prop("Angle of view", unit="°", low=5, high=120, group="camera")] = 34.0
    to_x: Annotated[float, prop("Looks to the right", unit="px", group="camera")] = 0.0
    to_y: Annotated[float, prop("Looks down", unit="px", group="camera")] = 0.0
    to_z: Annotated[float, prop("Looks nearer", unit="px", low=-MOST_DEPTH, high=MOST_DEPTH, group="camera")] = 0.0


class Sun(Value, frozen=True):
    """Light from far away: ``round`` from the left (negative) or right, ``up`` from above, in degrees; how strong against the sky.

    ``soft`` is how wide the soft border of its shadows is, in px. A sun without strength throws no shadows.
    """

    strength: Annotated[float, prop("Sun", unit="%", low=0, high=400, step=5, group="light")] = 65.0
    round: Annotated[float, prop("Sun from the side", unit="°", low=-180, high=180, step=5, group="light")] = -40.0
    up: Annotated[float, prop("Sun from above", unit="°", low=-89, high=89, step=5, group="light")] = 50.0
    soft: Annotated[float, prop("Soft shadows", unit="px", low=0, high=200, group="light")] = 6.0
    colour: Annotated[str, prop("Sun colour", colour=True, group="light")] = "#FFFFFF"


class Sky(Value, frozen=True):
    """Light from all sides."""

    strength: Annotated[float, prop("Sky", unit="%", low=0, high=400, step=5, group="light")] = 35.0
    colour: Annotated[str, prop("Sky colour", colour=True, group="light")] = "#FFFFFF"


class SpacePart(GroupPart, frozen=True, kw_only=True, tag="space"):
    """Parts that stand in depth. What it paints is a picture with alpha in the stack of parts, as of any other group."""

    camera: Annotated[Camera, piece("camera")] = Camera()
    sun: Annotated[Sun, piece("light")] = Sun()
    sky: Annotated[Sky, piece("light")] = Sky()

    has_depth: ClassVar[bool] = True
