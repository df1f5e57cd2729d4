"""What has one outline: shapes, rules and pictures, balls, and lamps, which have a place but are not seen."""

from avlet.document.parts import AnyPart
from avlet.layout.bodies.body import Body, Making


class Outline(Body):
    """A shape or rule, in its box."""


class Picture(Outline):
    """A picture: the outline that it is cut to, with the picture in it."""


class Ball(Body):
    """A ball in a space, in its box as it is seen from the front."""


class Light(Body):
    """A lamp: it has a place, and is not seen itself."""

    takes_room = False
    seen = False


def outline_of(part: AnyPart, making: Making) -> Outline:
    """The body of a shape or a rule."""
    return Outline()


def picture_of(part: AnyPart, making: Making) -> Picture:
    """A picture's body."""
    return Picture()


def ball_of(part: AnyPart, making: Making) -> Ball:
    """A ball's body."""
    return Ball()


def light_of(part: AnyPart, making: Making) -> Light:
    """A lamp's body."""
    return Light()
