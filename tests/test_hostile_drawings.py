"""Drawings that may be anything: whatever they are, there is a size or a sentence, and painting them ends."""

import time

import numpy as np
import pytest
import skia

from avlet.document.looks.pictures import read_picture
from avlet.document.parts import PictureFile, PicturePart
from avlet.geometry import Box
from avlet.limits import MOST_DRAWN, MOST_DRAWN_DEPTH
from avlet.paint.pictures import paint_picture, picture_path

RECT = '<rect id="r" width="9" height="9"/>'


def drawing(inside=RECT, sizes='width="100" height="100"', head=""):
    words = f'{head}<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {sizes}>{inside}</svg>'
    return PictureFile("a.svg", words.encode())


def tree(piece, refers, deep=24):
    """``deep`` elements each of which shows the one before it twice, the last shown by a rectangle."""
    made = piece.format(n=0, inside=RECT)
    twice = "".join(f'<rect width="9" height="9" {refers}/>' for _ in range(2))
    for n in range(1, deep):
        made += piece.format(n=n, inside=twice.replace("N", str(n - 1)))
    return drawing(made + f'<rect width="9" height="9" {refers}/>'.replace("N", str(deep - 1)))


def uses(deep):
    made = RECT.replace('"r"', '"u0"')
    made += "".join(f'<g id="u{n}">{f"""<use xlink:href="#u{n - 1}"/>""" * 10}</g>' for n in range(1, deep))
    return drawing(f'<defs>{made}</defs><use xlink:href="#u{deep - 1}"/>')


ENDLESS = {
    "uses": (uses(9), "draws .* shapes, those it repeats counted each time; at most 50,000"),
    "patterns": (tree('<pattern id="p{n}" width="1" height="1">{inside}</pattern>', 'fill="url(#pN)"'), "draws"),
    "masks": (tree('<mask id="p{n}">{inside}</mask>', 'mask="url(#pN)"'), "draws"),
    "masks by style": (tree('<mask id="p{n}">{inside}</mask>', "style='mask: url(\"#pN\")'"), "draws"),
    "shapes": (drawing(RECT.replace(' id="r"', "") * (MOST_DRAWN + 1)), "draws 50,002"),
    "depth": (drawing("<g>" * MOST_DRAWN_DEPTH + RECT + "</g>" * MOST_DRAWN_DEPTH), "nests 202 deep; at most 200"),
    "filter": (drawing(f'<filter id="f">{"<feOffset/>" * 5_000}</filter><rect filter="url(#f)"/>'), "nests"),
    "filters": (drawing(f'<filter id="f">{"<feOffset/>" * 100}</filter>' + '<rect filter="url(#f)"/>' * 50), "draws"),
}


@pytest.mark.parametrize("what", ENDLESS)
def test_what_would_never_be_painted_is_said(what):
    picture, words = ENDLESS[what]
    begun = time.process_time()
    fault = read_picture(picture).fault
    assert time.process_time() - begun < 10
    import re

    assert re.search(words, fault), fault


ODD = {
    "itself": drawing('<g id="a"><use xlink:href="#a"/></g>'),
    "circle": drawing('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'),
    "mask of itself": drawing('<mask id="m"><rect width="9" height="9" mask="url(#m)"/></mask><rect width="9" height="9" mask="url(#m)"/>'),
    "encoding": drawing(head='<?xml version="1.0" encoding="klingon"?>'), "not single bytes": drawing(head='<?xml version="1.0" encoding="utf-7"?>'),
    "no text": drawing(head='<?xml version="1.0" encoding="rot13"?>'), "utf-16 that is none": drawing(head='<?xml version="1.0" encoding="utf-16"?>'),
    "many filters": drawing(f'<filter id="f">{"<feOffset/>" * 100}</filter><rect filter="url(#f)"/>'),
    "soft": drawing('<filter id="f"><feGaussianBlur stdDeviation="1e9"/></filter><rect width="9" height="9" filter="url(#f)"/>'),
    "no numbers": drawing('<path d="M nan inf L 1e400 5 A 1 1 1 1 1 1e38 1e38"/>'),
    "deep": drawing("<g>" * 190 + RECT + "</g>" * 190), "null": PictureFile("a.svg", b"<svg\0>"), "none": PictureFile("a.svg", b"<svg></svg>"),
}  # fmt: skip


@pytest.mark.parametrize("what", ODD)
def test_odd_drawings_are_painted_or_marked(what):
    part = PicturePart(id="a", name="A", picture=ODD[what], width=100.0, height=100.0, outlined="its drawing")
    pixels = np.zeros((100, 100, 4), np.uint8)
    paint_picture(skia.Surface(pixels).getCanvas(), part, Box(0, 0, 100, 100), 1.0)
    picture_path(part, Box(0, 0, 100, 100))
    facts = read_picture(part.picture)
    assert (facts.width > 0 and facts.height > 0) or (facts.fault and pixels.any())


@pytest.mark.parametrize(
    ("sizes", "expected"),
    [
        ('width="1.2.3" height="..."', (1.2, 150)), ('width="1e999" height="9e9"', (300, 150)), ('width="0" height="-3"', (300, 150)),
        ('viewBox="0 0 . -"', (300, 150)), ('viewBox="0 0 -5 -5"', (300, 150)), ('viewBox="0 0 1.2.3 4..5"', (300, 150)),
        ('viewBox="-1 -2 30.5,4e1"', (30.5, 40)), ('width="50%" viewBox="0 0 8 9"', (8, 9)), ('width="12px" height="7" viewBox="0 0 8 9"', (12, 7)),
        ('viewBox="0 0 8"', (300, 150)), ('width="nan" height="inf"', (300, 150)),
    ],
)  # fmt: skip
def test_sizes_of_a_drawing_may_be_broken(sizes, expected):
    facts = read_picture(drawing(sizes=sizes))
    assert (facts.width, facts.height) == expected and not facts.fault
