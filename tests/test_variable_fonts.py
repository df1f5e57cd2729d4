"""Variable fonts: axes, named instances, and how wide and dark words come out, against fontTools' instancer."""

import dataclasses
import functools
import io

import numpy as np
import pytest
from fontTools.pens.areaPen import AreaPen
from fontTools.pens.boundsPen import BoundsPen
from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

from avlet.document.faults.checking import check
from avlet.document.parts import AxisPlace, TextPart
from avlet.document.template import Frame, Template
from avlet.giving_back import held
from avlet.paint.outlines import _typeface, glyph_path
from avlet.paint.scene import Scene
from avlet.storage.embedding import faces_used
from avlet.text.fonts import BUNDLED, Face, bundled_fonts
from avlet.text.setting import set_text

FILE = BUNDLED / "inter-variable" / "InterVariable.ttf"
PLACES = [{"wght": 250.0, "opsz": 14.0}, {"wght": 650.0, "opsz": 20.0}, {"wght": 900.0, "opsz": 32.0}]


def words(text="Saltmarsh", **axes) -> TextPart:
    places = tuple(AxisPlace(tag, value) for tag, value in axes.items())
    return TextPart(id="t", name="T", text=text, family="Inter Variable", style="Regular", size=100.0, axes=places)


@functools.cache
def instance(places: tuple[tuple[str, float], ...]) -> TTFont:
    """The same place as a static font, made by fontTools; of the letters that are asked about, under their own numbers."""
    font = TTFont(io.BytesIO(FILE.read_bytes()))
    kept = Subsetter(Options(retain_gids=True, layout_features=[], notdef_outline=True))
    kept.populate(text="HamburgnoH")
    kept.subset(font)
    return instantiateVariableFont(font, dict(places))


@pytest.mark.parametrize("places", PLACES)
def test_advances_and_ink_match_fonttools_instancer(places):
    made = set_text(words("Hamburg", **places), bundled_fonts())
    font = instance(tuple(places.items()))
    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
    for index, glyph in enumerate(made.glyphs):
        name = order[glyph]
        pen = BoundsPen(glyphs)
        glyphs[name].draw(pen)
        scale = 100 / font["head"].unitsPerEm
        left, low, right, high = (v * scale for v in pen.bounds)
        x, y = made.x[index], made.y[index]
        assert made.ink[index] == pytest.approx([x + left, y - high, x + right, y - low], abs=0.12)
    alone = set_text(words("n", **places), bundled_fonts())
    assert alone.line_box.w == pytest.approx(glyphs[order[alone.glyphs[0]]].width * 100 / font["head"].unitsPerEm, abs=0.06)


@pytest.mark.parametrize("places", PLACES)
def test_painted_area_matches_fonttools_area_pen(places):
    part = words("oH", **places)
    picture = Scene(check(Template(parts=(part,), frame=Frame(400, 200))), bundled_fonts()).picture(50)
    font = instance(tuple(places.items()))
    glyphs, area = font.getGlyphSet(), 0.0
    for glyph in set_text(part, bundled_fonts()).glyphs:
        pen = AreaPen(glyphs)
        glyphs[font.getGlyphOrder()[glyph]].draw(pen)
        area += abs(pen.value) * (100 / font["head"].unitsPerEm) ** 2
    assert picture[..., 3].sum() / 255 == pytest.approx(area, rel=0.01)


def test_named_instances_are_styles_and_axes_go_on_from_them():
    book = bundled_fonts()
    assert {"Thin", "Regular", "Black"} <= set(book.styles("Inter Variable"))
    bold, exact = book.find("Inter Variable", "Bold")
    assert exact and dict(bold.location)["wght"] == 700 and bold.weight == 700
    assert dict(bold.at([("opsz", 20)]).location) == {"opsz": 20.0, "wght": 700.0}
    assert bold.at([("wght", 5000)]).location == bold.at([("wght", 900)]).location, "kept within the axis"
    assert bold.at([("XXXX", 1)]) is bold and bold.at([("wght", 650)]) is bold.at([("wght", 650)])


def test_heavier_is_wider_and_the_plate_follows():
    widths = [set_text(words(wght=w), bundled_fonts()).line_box.w for w in (100, 400, 700, 900)]
    assert widths == sorted(widths) and widths[-1] > widths[0] * 1.05


def test_one_file_travels_however_often_it_varies():
    parts = tuple(
        TextPart(**{**{f: getattr(words(wght=w), f) for f in TextPart.__struct_fields__}, "id": f"t{w}"}) for w in (100, 500, 900)
    )
    used = faces_used(check(Template(parts=parts)), bundled_fonts())
    assert [f.file_name for f in used] == ["InterVariable.ttf"] and used[0].axes[0].tag in ("opsz", "wght")


def test_controls_and_odd_line_ends_are_no_glyphs():
    made = set_text(words("a\x1fb\tc\u2028d\x85e"), bundled_fonts())
    assert made.counts["line"] == 3 and made.counts["character"] == 5 and not made.lacking
    assert np.isfinite(made.x).all()


def test_an_axis_that_is_dragged_holds_no_font_for_each_of_its_values(book):
    """Three hundred weights, each drawn: what a process holds grows by some MB, not by a font for each. The last one stays the same face."""
    face = book.find("Inter Variable", "Regular")[0]
    weight = next(axis for axis in face.axes if axis.tag == "wght")

    def drawn(number: int) -> Face:
        one = face.at([("wght", weight.low + (weight.high - weight.low) * number / 400)])
        for glyph in range(1, 30):
            glyph_path(one, glyph)
        return one

    for number in range(20):
        drawn(number)
    before = held()
    for number in range(20, 320):
        last = drawn(number)
    assert held() - before < 40 * 2**20
    assert drawn(319) is last and last.data is face.data
    slanted = last.drawn_as(9.0, 0.0)
    assert last.drawn_as(9.0, 0.0) is slanted and slanted.data is face.data


def test_equal_fonts_of_many_packages_are_held_once(book):
    """Skia keeps what it drew with, so a copy of a font for each package that is opened would stay."""
    face = book.find("Fira Sans", "Regular")[0]
    outlines = [_typeface(dataclasses.replace(face, given=bytes(bytearray(face.data)))) for _ in range(3)]
    assert all(one is outlines[0] for one in outlines)
