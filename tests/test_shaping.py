"""Advances, kerning and ink against fontTools' reading of the same tables; units against UAX #29."""

from io import BytesIO

import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import ImageFont

from avlet.document.parts import TextPart
from avlet.text.fonts import bundled_fonts
from avlet.text.marking import plain
from avlet.text.runs import reads_right_to_left, split_runs
from avlet.text.setting import set_text
from avlet.text.shaping import shape_line
from avlet.text.units import grapheme_starts, word_numbers

FACES = [("Fira Sans", "Bold"), ("Alegreya", "ExtraBold"), ("Fira Sans Condensed", "Medium"), ("Inter", "Regular")]


def read(face):
    return TTFont(BytesIO(face.data))


def text(words: str, **changes) -> TextPart:
    return TextPart(**{"id": "t", "name": "T", "text": words, "size": 100.0, **changes})


def kerning(font: TTFont, left: str, right: str) -> int:
    """The pair's adjustment in the ``kern`` feature of GPOS, walked by hand: the first subtable that covers it decides."""
    gpos = font["GPOS"].table
    script = next(s.Script for s in gpos.ScriptList.ScriptRecord if s.ScriptTag == "latn")
    wanted = {gpos.FeatureList.FeatureRecord[i].FeatureTag: i for i in script.DefaultLangSys.FeatureIndex}
    total = 0
    for index in gpos.FeatureList.FeatureRecord[wanted["kern"]].Feature.LookupListIndex:
        for table in gpos.LookupList.Lookup[index].SubTable:
            table = getattr(table, "ExtSubTable", table)
            if left not in table.Coverage.glyphs:
                continue
            if table.Format == 1:
                pairs = table.PairSet[table.Coverage.glyphs.index(left)].PairValueRecord
                hit = next((p for p in pairs if p.SecondGlyph == right), None)
                if hit is None:
                    continue
                total += getattr(hit.Value1, "XAdvance", 0) if hit.Value1 else 0
                break
            first = table.ClassDef1.classDefs.get(left, 0)
            second = table.ClassDef2.classDefs.get(right, 0)
            value = table.Class1Record[first].Class2Record[second].Value1
            total += getattr(value, "XAdvance", 0) if value else 0
            break
    return total


@pytest.mark.parametrize(("family", "style"), FACES)
@pytest.mark.parametrize("pair", ["AV", "HH"])
def test_advance_is_the_tables_sum_with_kerning(family, style, pair):
    face, exact = bundled_fonts().find(family, style)
    assert exact
    font, cmap = read(face), read(face).getBestCmap()
    left, right = cmap[ord(pair[0])], cmap[ord(pair[1])]
    wanted = font["hmtx"][left][0] + font["hmtx"][right][0] + kerning(font, left, right)
    line = shape_line(plain(pair, face), bundled_fonts(), False)
    assert line.advance * face.upem == pytest.approx(wanted, abs=0.01)


def test_some_pair_is_kerned():
    face, _ = bundled_fonts().find("Fira Sans", "Bold")
    font = read(face)
    assert kerning(font, "A", "V") < 0


@pytest.mark.parametrize(("family", "style"), FACES)
def test_ink_is_that_of_fonttools_bounds_pen(family, style):
    face, _ = bundled_fonts().find(family, style)
    font = read(face)
    glyphs, cmap = font.getGlyphSet(), font.getBestCmap()
    setting = set_text(text("Hgo", family=family, style=style, size=face.upem), bundled_fonts())
    for index, letter in enumerate("Hgo"):
        pen = BoundsPen(glyphs)
        glyphs[cmap[ord(letter)]].draw(pen)
        left, low, right, high = pen.bounds
        x, y = setting.x[index], setting.y[index]
        assert setting.ink[index] == pytest.approx([x + left, y - high, x + right, y - low], abs=1.01)


@pytest.mark.parametrize(("family", "style"), FACES)
def test_widths_and_ink_are_those_of_freetype_through_pillow(family, style):
    face, _ = bundled_fonts().find(family, style)
    size = 1000
    font = ImageFont.truetype(BytesIO(face.data), size, layout_engine=ImageFont.Layout.BASIC)
    for letter in "HgÞș8":
        line = shape_line(plain(letter, face), bundled_fonts(), False)
        assert line.advance * size == pytest.approx(font.getlength(letter), abs=1.5)  # it rounds to hinted px
        mask, (left, top) = font.getmask2(letter, anchor="ls")
        x0, y0, x1, y1 = mask.getbbox()
        assert line.ink[0] * size == pytest.approx([left + x0, top + y0, left + x1, top + y1], abs=1.5)


def test_capitals_reach_from_cap_height_to_the_last_baseline():
    face, _ = bundled_fonts().find("Fira Sans", "Bold")
    setting = set_text(text("One\nTwo", leading=120), bundled_fonts())
    cap = read(face)["OS/2"].sCapHeight / face.upem * 100
    assert setting.capitals.y == pytest.approx(setting.lines[0].baseline - cap)
    assert setting.capitals.bottom == pytest.approx(setting.lines[1].baseline)
    assert setting.lines[1].baseline - setting.lines[0].baseline == pytest.approx(120)
    assert setting.line_box.h == pytest.approx(240)


def test_ligature_shapes_as_one_and_tracking_takes_it_apart():
    face, _ = bundled_fonts().find("Fira Sans", "Bold")
    joined = shape_line(plain("fi", face), bundled_fonts(), False)
    apart = shape_line(plain("fi", face), bundled_fonts(), False, ("-liga", "-clig"))
    assert (len(joined.glyphs), len(apart.glyphs)) == (1, 2)
    assert set_text(text("fi", tracking=10), bundled_fonts()).counts["character"] == 2


def test_tracking_stands_between_letters_only():
    plain = set_text(text("HHH"), bundled_fonts())
    wide = set_text(text("HHH", tracking=100), bundled_fonts())
    assert wide.line_box.w - plain.line_box.w == pytest.approx(2 * 10)


# Examples of UAX #29, GraphemeBreakTest and the text of section 3 (from memory).
@pytest.mark.parametrize(
    ("words", "count"),
    [("g̈", 1), ("각", 1), ("각", 1), ("ก็", 1), ("नि", 1), ("👩‍👧‍👦", 1), ("🇳🇴🇸🇪", 2), ("a\u0308b", 2), ("Íris", 4)],
)  # fmt: skip
def test_grapheme_clusters(words, count):
    assert len(grapheme_starts(words)) - 1 == count


# UAX #29, section 4: the word boundaries of this sentence's kind; punctuation joins the word before it (our own rule).
@pytest.mark.parametrize(
    ("words", "count"),
    [("The quick (“brown”) fox can’t jump 32.3 feet, right?", 9), ("Odalys Brandt", 2), ("Bo", 1), ("", 0), ("  a  b ", 2), ("渡辺 汐", 2)],
)  # fmt: skip
def test_words(words, count):
    assert len({n for n in word_numbers(words) if n >= 0}) == count


def test_units_count_letters_words_lines_without_blanks():
    setting = set_text(text("Odalys Brandt\nMarsh"), bundled_fonts())
    assert setting.counts == {"whole": 1, "line": 2, "word": 3, "character": 17}


def test_arabic_runs_right_to_left_and_joins():
    book = bundled_fonts()
    face, _ = book.find("Fira Sans", "Bold")
    words = "ياسمين الحداد"
    assert reads_right_to_left(words)
    runs = split_runs(plain(words, face), list(grapheme_starts(words)), book, True).runs
    assert all(run.rtl and run.script == "Arab" and run.face.family == "Noto Sans Arabic" for run in runs)
    setting = set_text(text(words), book)
    first_letter = setting.x[setting.unit_of["character"] == 0]
    assert first_letter.max() == setting.x.max()
    assert setting.lacking == ()


def test_mixed_directions_keep_reading_order_for_units():
    setting = set_text(text("abc ياسمين 12"), bundled_fonts())
    words = setting.unit_of["word"]
    assert setting.counts["word"] == 3
    assert setting.x[words == 0].max() < setting.x[words == 1].min()


def test_fallback_is_decided_by_cluster_and_lack_is_said():
    setting = set_text(text("A\u16a0"), bundled_fonts())
    assert setting.lacking == ("\u16a0",)
    mixed = set_text(text("a渡"), bundled_fonts())
    assert [f.family for f in mixed.faces] == ["Fira Sans", "Noto Sans CJK JP"]
    assert mixed.faces[1].weight == 700


def test_a_missing_font_is_replaced_and_named():
    setting = set_text(text("Hello", family="Nowhere Grotesk", style="Bold"), bundled_fonts())
    assert "Fira Sans Bold stands in" in setting.substitutes[0]


@pytest.mark.parametrize("align", ["start", "middle", "end"])
def test_alignment(align):
    setting = set_text(text("wide line here\nnarrow", align=align), bundled_fonts())
    slack = setting.line_box.w - setting.lines[1].width
    assert setting.lines[1].left == pytest.approx({"start": 0, "middle": slack / 2, "end": slack}[align])


@settings(max_examples=60, deadline=None)
@given(st.text(max_size=40), st.floats(4, 400))
def test_size_scales_everything(words, size):
    book = bundled_fonts()
    one, two = set_text(text(words, size=size), book), set_text(text(words, size=2 * size), book)
    assert two.line_box == pytest.approx([2 * v for v in one.line_box], abs=1e-6)
    assert one.counts == two.counts


@settings(max_examples=60, deadline=None)
@given(st.text(max_size=60))
def test_any_text_sets(words):
    setting = set_text(text(words), bundled_fonts())
    assert len(setting.x) == len(setting.glyphs) == len(setting.faces) == len(setting.ink)
    for unit, count in setting.counts.items():
        numbers = setting.unit_of[unit]
        assert not len(numbers) or numbers.max() < max(count, 1)


def test_ten_thousand_characters():
    setting = set_text(text("Tide flats " * 1000), bundled_fonts())
    assert setting.counts["word"] == 2000
