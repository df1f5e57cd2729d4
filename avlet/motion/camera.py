"""The camera of a space: where points with a depth lie in the frame.

Depth 0 is the plane of the frame. A camera at rest stands where px on that plane are px of the frame; it is carried about a point of
the plane. x goes right, y down, z towards the viewer.
"""

import math

import numpy as np

from avlet.arrays import Floats
from avlet.document.parts.space import Camera
from avlet.document.template import Frame

NEAREST = 0.02
"""What is nearer to the camera than this share of its distance at rest is not seen."""


def resting_distance(camera: Camera, frame: Frame) -> float:
    """px from the plane of the frame at which px there are px of the frame."""
    return frame.height / 2 / math.tan(math.radians(camera.angle) / 2)


def looked_at(camera: Camera, frame: Frame) -> Floats:
    """The point of space (3,) that the camera looks at and is carried about."""
    return np.array([frame.width / 2 + camera.to_x, frame.height / 2 + camera.to_y, camera.to_z])


def turned(camera: Camera) -> Floats:
    """From directions in space to those as the camera sees them, (3, 3)."""
    a, b = math.radians(-camera.round), math.radians(-camera.up)
    about_upright = np.array([[math.cos(a), 0, math.sin(a)], [0, 1, 0], [-math.sin(a), 0, math.cos(a)]])
    about_level = np.array([[1, 0, 0], [0, math.cos(b), -math.sin(b)], [0, math.sin(b), math.cos(b)]])
    made: Floats = about_level @ about_upright
    return made


def camera_matrix(camera: Camera, frame: Frame) -> Floats:
    """(4, 4): from a point (x, y, z, 1) to (x·w, y·w, nearness, w), x and y in px of the frame.

    For a camera at rest w is 1 on the plane of the frame.
    """
    rest = resting_distance(camera, frame)
    turn, target = turned(camera), looked_at(camera, frame)
    eye = np.eye(4)
    eye[:3, :3], eye[:3, 3] = turn, -turn @ target
    look = np.zeros((4, 4))
    look[3] = [0, 0, -1 / rest, camera.distance / 100]
    look[0] = [1, 0, 0, 0] + frame.width / 2 * look[3]
    look[1] = [0, 1, 0, 0] + frame.height / 2 * look[3]
    look[2, 2] = 1.0
    made: Floats = look @ eye
    return made


def position(camera: Camera, frame: Frame) -> Floats:
    """Where the camera stands, (3,)."""
    rest = resting_distance(camera, frame)
    away = rest * camera.distance / 100
    found: Floats = looked_at(camera, frame) + turned(camera).T @ np.array([0.0, 0.0, away])
    return found


def projected(matrix: Floats, points: Floats) -> Floats:
    """Points (n, 3) as they lie in the frame, (n, 2) in px; NaN for those that the camera does not see."""
    whole = np.column_stack([points, np.ones(len(points))]) @ matrix.T
    seen = whole[:, 3:] > NEAREST
    found: Floats = np.where(seen, whole[:, :2] / np.where(seen, whole[:, 3:], 1.0), np.nan)
    return found
