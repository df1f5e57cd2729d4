"""The outline of an SVG: compared with what Skia paints of it, pixel by pixel."""

import numpy as np
import pytest
import skia

from avlet.document.faults.checking import check
from avlet.document.looks.paints import Outline, Solid
from avlet.document.looks.pictures import read_picture
from avlet.document.parts import Matte, PictureFile, PicturePart, Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.limits import MOST_SHAPES
from avlet.paint.drawings import drawing_path
from avlet.paint.painter import canvas_over, new_pixels
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 100 100">'
TURNED = '<g transform="rotate(30 50 50)"><rect x="20" y="20" width="60" height="30" rx="5"/></g>'
RING = '<circle cx="50" cy="50" r="30" fill="none" stroke="red" stroke-width="9"/>'
SCALED_LINE = '<g transform="scale(2)"><path d="M5 5 L40 5 L40 30" fill="none" stroke="#000" stroke-width="4" stroke-linejoin="round"/></g>'
EVENODD = '<path fill-rule="evenodd" d="M10 10H90V90H10Z M30 30H70V70H30Z"/>'
SAME_WAY = '<path d="M10 10H90V90H10Z M30 30H70V70H30Z"/>'
USED = '<defs><path id="a" d="M0 0L40 0L40 40Z"/></defs><use href="#a" x="5" y="6"/><use xlink:href="#a" x="50" y="50"/>'
CLIPPED = '<clipPath id="c"><rect width="50" height="100"/></clipPath><g clip-path="url(#c)"><circle cx="50" cy="50" r="40"/></g>'
SHADED = (
    '<linearGradient id="g"><stop offset="0" stop-color="#f00"/><stop offset="1" stop-color="#00f"/></linearGradient>'
    '<ellipse cx="50" cy="40" rx="40" ry="20" fill="url(#g)"/>'
)
CURVES = '<path d="M10 80 C 40 10, 65 10, 95 80 S 20 95 10 80"/><polygon points="5,5 20,5 12,20"/>'
CAPS = '<line x1="20" y1="20" x2="80" y2="20" stroke="#000" stroke-width="10" stroke-linecap="round"/>'


def svg(body: str) -> PictureFile:
    return PictureFile("drawing.svg", (HEAD + body + "</svg>").encode())


def covered(picture: PictureFile) -> np.ndarray:
    """What Skia paints of it, at four times its size."""
    dom = skia.SVGDOM.MakeFromStream(skia.MemoryStream.MakeCopy(picture.data))
    dom.setContainerSize(skia.Size(100, 100))
    pixels = new_pixels(400, 400)
    surface = canvas_over(pixels)
    surface.getCanvas().scale(4, 4)
    dom.render(surface.getCanvas())
    return pixels[..., 3] > 127


@pytest.mark.parametrize(
    "body",
    [TURNED, RING, SCALED_LINE, EVENODD, SAME_WAY, USED, CLIPPED, SHADED, CURVES, CAPS, TURNED + RING],
    ids=["turned", "ring", "line", "even-odd", "non-zero", "used", "clipped", "shaded", "curves", "caps", "two"],
)
def test_the_outline_covers_what_is_painted(body):
    path, pixels = drawing_path(svg(body)), new_pixels(400, 400)
    surface = canvas_over(pixels)
    surface.getCanvas().scale(4, 4)
    surface.getCanvas().drawPath(path, skia.Paint(AntiAlias=True))
    mine, theirs = pixels[..., 3] > 127, covered(svg(body))
    assert theirs.sum() > 1000 and (mine ^ theirs).sum() < 0.01 * theirs.sum()


@pytest.mark.parametrize("body", ["", '<text x="5" y="50">Words</text>', '<rect width="0" height="0"/>'])
def test_a_drawing_of_nothing_has_no_outline(body):
    assert drawing_path(svg(body)) is None


def part(body: str, **values) -> PicturePart:
    given = {"id": "p", "name": "Gull", "picture": svg(body), "width": 100, "height": 100, "outlined": "its drawing", **values}
    return PicturePart(across=Place(gap=20), down=Place(gap=20), **given)


def scene(*parts) -> Scene:
    return Scene(check(Template(frame=Frame(200, 140, "25/1"), parts=parts, length=50, way_in=5, way_out=5)), bundled_fonts())


def test_a_line_goes_along_the_drawing_and_not_round_its_box():
    line = Outline(width=4, fill=Solid("#FF0000"))
    triangle = '<path d="M0 100 L100 100 L50 0 Z" fill="#00f"/>'
    red = scene(part(triangle, outline=line)).picture(20)
    boxed = scene(part(triangle, outline=line, outlined="its box")).picture(20)
    assert red[120, 18, 0] == 0 or red[60, 18, 0] == 0
    assert boxed[60, 18, 0] == 255 and red[60, 18, 3] == 0, "beside the box there is nothing"
    assert red[70, 43, 0] > 200 and red[70, 70, 2] == 255, "along the slope, and blue inside"


def test_what_is_shown_inside_a_drawing_is_cut_to_it():
    fill = ShapePart(id="s", name="S", width=200, height=140, fill=Solid("#00FF00"), mattes=(Matte("p"),))
    shown = scene(part(RING, opacity=0.0), fill).picture(20)[..., 3] > 127
    assert shown.sum() == pytest.approx(np.pi * (34.5**2 - 25.5**2), rel=0.02)


def test_the_outline_follows_how_the_drawing_sits():
    half = '<rect width="50" height="100"/>'
    fill = ShapePart(id="s", name="S", width=200, height=140, mattes=(Matte("p"),))
    for sits, width in (("whole", 50), ("stretched", 75), ("fills", 75)):
        shown = scene(part(half, width=150, sits=sits, opacity=0.0), fill).picture(20)[70, :, 3] > 127
        assert shown.sum() == width
    tall = scene(part(half, width=150, sits="fills", opacity=0.0), fill).picture(20)[:, 40, 3] > 127
    assert tall.sum() == 100, "what is cut off of the drawing is cut off of its outline"
    round_one = scene(part('<rect width="100" height="100"/>', corner=50.0, opacity=0.0), fill).picture(20)[..., 3] > 127
    assert round_one.sum() == pytest.approx(np.pi * 50**2, rel=0.01)


def test_a_drawing_of_very_many_shapes_goes_by_its_box_and_says_so():
    body = '<rect x="10" y="10" width="5" height="5"/>' * (MOST_SHAPES + 1)
    assert read_picture(svg(body)).intricate and not read_picture(svg(RING)).intricate
    made = scene(part(body))
    assert any("Gull has too many shapes" in note for note in made.notes())
    assert not scene(part(body, outlined="its box")).notes()


def test_a_picture_that_is_no_drawing_goes_by_its_box():
    assert scene(part("", picture=PictureFile("a.png", b"no picture"))).picture(20).any()
