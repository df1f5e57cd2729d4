"""Credits as they are laid out: columns at an axis, rows on one baseline, mirrored where the list is, dealt into pages."""

import itertools

import icu
import pytest
from fontTools.ttLib import TTFont
from hypothesis import given, settings
from hypothesis import strategies as st
from lists import BOOK, THREE, credits, scene, titled

from avlet.document.editing.edits import set_property
from avlet.document.editing.sharing import remove_style, share_style, use_style
from avlet.document.faults.checking import check
from avlet.document.house import TextStyle
from avlet.document.lists.blocks import Gap, Heading, Names, PageBreak, Pictures, Role, RuleLine, Words, multiplied
from avlet.document.parts import PictureFile
from avlet.document.parts.credits import BlockStyle
from avlet.document.targets import value_of
from avlet.errors import AvletError
from avlet.layout.arrange import arrange
from avlet.layout.bind import bind
from avlet.layout.pages import dealt
from avlet.paint.scene import Scene
from avlet.review.samples import findings
from avlet.storage.embedding import fonts_to_carry
from avlet.storage.handing_over import hand_over
from avlet.storage.package import open_template
from avlet.storage.template_json import decode, encode
from avlet.text.rows import NAME, ROLE, RowSetter, sorted_names
from avlet.text.strip import strip_of


def pieces(part, text):
    """Left, right, baseline in px of every piece with a text, in the strip."""
    strip = strip_of(part, BOOK)
    found = []
    for row, begin in zip(strip.rows, strip.begins, strict=True):
        for piece in row.pieces:
            if piece.text == text:
                setting = strip.setter.setting(piece)
                left = piece.x + (piece.width - setting.line_box.w) * piece.stands
                found.append((left, left + setting.line_box.w, begin + piece.y + setting.lines[0].baseline))
    return found


def advance(face_name, text, size):
    """The width of a text by its font's own tables, in px, kerning aside."""
    face, _ = BOOK.find(*face_name)
    font = TTFont(__import__("io").BytesIO(face.data))
    cmap, metrics = font.getBestCmap(), font["hmtx"]
    return sum(metrics[cmap[ord(c)]][0] for c in text) / font["head"].unitsPerEm * size


def test_roles_end_and_names_begin_25_px_from_the_middle_on_one_baseline():
    """25 px each side of the middle: common practice, no source. Widths: fontTools, hmtx."""
    part = credits([Role(role="Ox", names=("Nil",))], width=600.0)
    ((role_left, role_right, role_base),) = pieces(part, "Ox")
    ((name_left, name_right, name_base),) = pieces(part, "Nil")
    assert role_right == pytest.approx(275) and name_left == pytest.approx(325)
    assert role_base == pytest.approx(name_base)
    assert role_right - role_left == pytest.approx(advance(("Fira Sans", "Light"), "Ox", 34), abs=0.8)
    assert name_right - name_left == pytest.approx(advance(("Fira Sans", "Medium"), "Nil", 34), abs=0.8)


def test_styles_of_other_sizes_stand_on_one_baseline():
    part = credits([Role(role="Ox", names=("Nil",))], role_style=BlockStyle(style="Light", size=20.0))
    assert pieces(part, "Ox")[0][2] == pytest.approx(pieces(part, "Nil")[0][2])


def test_a_role_that_is_larger_than_its_name_pushes_both_down():
    part = credits([Role(role="Ox", names=("Nil",))], role_style=BlockStyle(style="Light", size=60.0), name_style=BlockStyle(size=20.0))
    strip = strip_of(part, BOOK)
    assert pieces(part, "Ox")[0][2] == pytest.approx(pieces(part, "Nil")[0][2])
    assert all(piece.y >= 0 for piece in strip.rows[0].pieces) and strip.rows[0].height >= 60


@pytest.mark.parametrize(("lie", "left", "right"), [("to the edge", 325 + 275, None), ("centred", None, None), ("to the axis", None, 325)])
def test_names_lie_where_they_are_asked_to(lie, left, right):
    ((begin, end, _),) = pieces(credits([Role(role="Ox", names=("Nil",))], width=600.0, names_lie=lie), "Nil")
    if lie == "to the edge":
        assert end == pytest.approx(600)
    elif lie == "centred":
        assert (begin + end) / 2 == pytest.approx((325 + 600) / 2)
    else:
        assert begin == pytest.approx(325)


def test_a_right_to_left_list_swaps_sides():
    part = credits([Role(role="تصوير", names=("نادية",))], width=600.0)
    assert pieces(part, "تصوير")[0][0] == pytest.approx(325) and pieces(part, "نادية")[0][1] == pytest.approx(275)
    forced = credits([Role(role="Ox", names=("Nil",))], width=600.0, direction="right to left")
    assert pieces(forced, "Ox")[0][0] == pytest.approx(325)
    mixed = credits([Role(role="Ox", names=("نادية",))], width=600.0)
    assert pieces(mixed, "نادية")[0][0] == pytest.approx(325), "a name in another script lies like the others"


def test_a_long_role_breaks_where_icu_lets_lines_break_and_is_told():
    """Unicode Standard Annex #14, by ICU's own break iterator."""
    words = "Second assistant to the keeper-of-sluices (nights) and all weirs"
    part = credits([Role(role=words, names=("Nil",))], width=500.0)
    strip = strip_of(part, BOOK)
    setting = strip.setter.setting(strip.rows[0].pieces[0])
    assert len(setting.lines) > 1 and setting.line_box.w <= 225 + 1e-6
    breaks = icu.BreakIterator.createLineInstance(icu.Locale("en"))
    breaks.setText(words)
    allowed = set(breaks)
    starts = sorted({int(setting.clusters[n]) for row in range(len(setting.lines)) for n in [list(setting.rows).index(row)]})
    assert set(starts) - {0} <= allowed
    assert strip.remarks
    assert any(words[:20] in note for note in scene(part).notes())


def test_a_long_name_shrinks_where_it_is_asked_to():
    part = credits([Role(role="Ox", names=("A name that is far too long for it",))], width=500.0, too_long="shrinks")
    ((left, right, _),) = pieces(part, "A name that is far too long for it")
    assert right - left <= 225.5 and left == pytest.approx(275)


def test_names_are_sorted_as_icu_sorts_them():
    """CLDR's collation, by ICU's own collator: Swedish has å, ä, ö behind z; German has them with a and o."""
    names = ("Östlund", "Zetter", "Åberg", "Andersson")
    for language in ("sv", "de"):
        collator = icu.Collator.createInstance(icu.Locale(language))
        assert list(sorted_names(names, language)) == sorted(names, key=collator.getSortKey)
    assert sorted_names(names, "sv")[-1] == "Östlund" and sorted_names(names, "de")[-1] == "Zetter"
    assert sorted_names(names, "") == names


@pytest.mark.parametrize(("filled", "order"), [("down", ["a", "d", "b", "e", "c"]), ("across", ["a", "b", "c", "d", "e"])])
def test_names_fill_columns_down_or_across(filled, order):
    part = credits([Names(names=tuple("abcde"), columns=2, filled=filled)], width=600.0, others_lie="start")
    strip = strip_of(part, BOOK)
    assert [p.text for row in strip.rows for p in row.pieces] == order
    xs = {p.x for row in strip.rows for p in row.pieces}
    assert xs == {0.0, 320.0}, "two columns with 40 px between"
    rtl = strip_of(credits([Names(names=tuple("ab"), columns=2, filled="across")], width=600.0, direction="right to left"), BOOK)
    assert [p.x for p in rtl.rows[0].pieces] == [320.0, 0.0]


def test_gaps_stand_between_rows_headings_and_sections():
    part = credits([Heading(text="A"), Role(role="x", names=("y",)), Role(role="x", names=("y",)), Heading(text="B")])
    strip = strip_of(part, BOOK)
    between = [float(b - e) for e, b in itertools.pairwise([*itertools.chain(*zip(strip.begins, strip.ends, strict=True))][1:-1])][::2]
    assert between == pytest.approx([part.heading_gap, part.row_gap, part.section_gap])


def test_one_above_the_other_is_centred():
    part = credits([Role(role="Ox", names=("Nil", "Bo"))], width=600.0, lies="one above the other")
    for text in ("Ox", "Nil", "Bo"):
        ((left, right, _),) = pieces(part, text)
        assert (left + right) / 2 == pytest.approx(300)
    assert pieces(part, "Ox")[0][2] < pieces(part, "Nil")[0][2] < pieces(part, "Bo")[0][2]


PNG = PictureFile(
    "mark.svg", b'<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="40" height="20" fill="#f00"/></svg>'
)


def test_pictures_stand_in_a_row_by_their_height():
    strip = strip_of(credits([Pictures(pictures=(PNG, PNG), height=50.0)], width=600.0), BOOK)
    first, second = (extra.box for extra in strip.rows[0].extras)
    assert (first.w, first.h) == pytest.approx((100, 50)) and second.x - first.right == pytest.approx(40)
    assert (first.x + second.right) / 2 == pytest.approx(300)


@pytest.mark.parametrize("data", [b"", b"\x89PNG broken", b"<svg"])
def test_a_picture_that_is_missing_or_broken_is_said(data):
    made = scene(credits([Pictures(pictures=(PictureFile("mark.png", data),)), Heading(text="A")]))
    assert any("mark.png" in note for note in made.notes())


BLOCK = st.one_of(
    st.builds(Heading, text=st.text("ab ", max_size=12)),
    st.builds(Role, role=st.text("ab ", max_size=30), names=st.lists(st.text("ab נ ", max_size=40), min_size=1, max_size=5).map(tuple)),
    st.builds(Names, names=st.lists(st.text("ab ", max_size=10), min_size=1, max_size=9).map(tuple), columns=st.integers(1, 4)),
    st.builds(Words, text=st.text("ab ", max_size=120)), st.builds(Gap, height=st.floats(0, 200)), st.just(PageBreak()), st.just(RuleLine()),
)  # fmt: skip
LISTS = st.lists(BLOCK, max_size=14).map(tuple)


@settings(max_examples=60)
@given(LISTS, st.sampled_from(["side by side", "one above the other"]))
def test_rows_keep_their_order_and_none_lies_over_another(blocks, lies):
    strip = strip_of(credits(blocks, lies=lies), BOOK)
    assert all(a <= b + 1e-9 for a, b in zip(strip.ends, strip.begins[1:], strict=False))
    assert list(strip.block_of) == sorted(strip.block_of)
    shown = [p.text for row in strip.rows for p in row.pieces if p.text]
    wanted = [w for b in blocks for w in _words(b)]
    assert sorted(shown) == sorted(wanted), "no words are skipped"
    assert [t.first for t in strip.tiles[1:]] == [t.last for t in strip.tiles[:-1]], "tiles follow each other"
    if len(strip.rows):
        assert strip.tiles[0].first == 0 and strip.tiles[-1].last == len(strip.rows)


def _words(block):
    match block:
        case Heading(text=text) | Words(text=text):
            return [text] if text else []
        case Role(role=role, names=names):
            return [w for w in (role, *names) if w]
        case Names(names=names):
            return [w for w in names if w]
    return []


@settings(max_examples=60)
@given(LISTS, st.floats(150, 700))
def test_pages_hold_every_row_once_and_keep_together_what_belongs_together(blocks, height):
    strip = strip_of(credits(blocks), BOOK)
    pages = dealt(strip, blocks, height)
    assert [r for p in pages for r in range(p.first, p.last)] == list(range(len(strip.rows)))
    for page in pages:
        high = strip.ends[page.last - 1] - strip.begins[page.first]
        assert high <= height + 1e-6 or page.last - page.first == 1 or _one_block_with_headings(strip, blocks, page)
        last = blocks[int(strip.block_of[page.last - 1])]
        if isinstance(last, Heading) and page is not pages[-1]:
            after = blocks[int(strip.block_of[page.last - 1]) + 1 : int(strip.block_of[page.last])]
            assert any(isinstance(b, PageBreak) for b in after), "a heading stays with what follows"
    first_of = {int(strip.block_of[p.first]) for p in pages}
    for number, block in enumerate(blocks):
        after = [int(b) for b in strip.block_of if b > number]
        if isinstance(block, PageBreak) and after and any(int(b) < number for b in strip.block_of):
            assert after[0] in first_of, "a page break begins a page"


def _one_block_with_headings(strip, blocks, page):
    held = {int(strip.block_of[r]) for r in range(page.first, page.last)}
    return sum(not isinstance(blocks[n], Heading) for n in held) <= 1


def test_the_last_page_is_not_nearly_empty():
    blocks = tuple(Role(role="x", names=(f"name {n}",)) for n in range(11))
    strip = strip_of(credits(blocks), BOOK)
    ten = float(strip.ends[9] - strip.begins[0])
    pages = dealt(strip, blocks, ten)
    assert [p.last - p.first for p in pages] in ([6, 5], [5, 6])


def test_a_page_higher_than_the_safe_area_is_told():
    made = scene(credits([Words(text="word " * 400)], {"how": "pages"}))
    assert any("higher than the safe area" in note for note in made.notes())


# Of the document


def test_a_text_style_of_the_house_sets_a_sort_of_line():
    template = titled(credits())
    template, style = share_style(template, "c", "Names of it", "name_style")
    assert value_of(template, "c/name_style.size") == 34
    template = set_property(template, "c/name_style.size", 50.0)
    assert template.text_style(style).size == 50, "what it is set in is passed on to the style"
    assert template.part("c").name_style.size == 34
    made = arrange(bind(template, {}), BOOK)
    assert made.parts["c"].part.name_style.size == 50
    template = remove_style(template, style)
    assert template.part("c").name_style == BlockStyle(size=50.0) and not template.text_styles
    with pytest.raises(AvletError):
        use_style(template, "c", "gone", "name_style")
    with pytest.raises(AvletError):
        share_style(template, "c", "x", "movement")


def test_credits_are_kept_as_they_are():
    template = titled(credits(meant_blocks()))
    assert decode(encode(template), "here") == template


def meant_blocks():
    return (
        *THREE,
        Names(names=("a", "b"), columns=3, filled="across", sorted_in="sv", meant=("twice: a",)),
        Pictures(pictures=(PNG,)),
        PageBreak(),
    )


def test_a_list_that_is_handed_over_follows_no_file_of_this_machine(tmp_path):
    template = titled(credits(linked="/somewhere/list.csv"))
    done = hand_over(template, BOOK, tmp_path)
    assert open_template(done.path).template.part("c").linked == ""
    assert not hand_over(template, BOOK, tmp_path).changed


def test_fonts_of_a_list_travel_also_those_that_stand_in(tmp_path):
    made = titled(
        credits([Role(role="שומרת", names=("नदी",)), Heading(text="A")], heading_style=BlockStyle(family="Alegreya", style="Bold"))
    )
    carried = [face.full_name for face in fonts_to_carry(made, BOOK).faces]
    assert any("Hebrew" in n for n in carried) and any("Devanagari" in n for n in carried) and any("Alegreya" in n for n in carried)
    missing = titled(credits(heading_style=BlockStyle(family="Nowhere")))
    assert any("Nowhere" in words for words in fonts_to_carry(missing, BOOK).left_out)


def test_an_unknown_style_of_the_house_is_refused():
    with pytest.raises(AvletError, match="style"):
        check(titled(credits(name_style=BlockStyle(text_style="gone"))))
    assert TextStyle(id="a", name="A")


def test_another_frame_multiplies_measures():
    assert multiplied((Gap(height=90.0), RuleLine(width=400.0, thickness=3.0)), 2)[1] == RuleLine(width=800.0, thickness=6.0)


@pytest.mark.parametrize(
    ("blocks", "says"),
    [((), "has an empty list"), ((Heading(text="\U000f0001"),), "glyph"), ((Role(role="x", names=("w" * 5000,)),), "Credits:")],
)
def test_hostile_lists_are_pictures_with_a_note(blocks, says):
    made = scene(credits(blocks))
    assert any(says in note for note in made.notes()), made.notes()
    made.pose(100)
    Scene(made.template, BOOK, {}, 1).pose(0)


def test_letters_without_glyphs_and_fonts_that_are_not_here_are_findings():
    verdicts = {f.verdict for f in findings(scene(credits([Heading(text="a\U000f0001")], heading_style=BlockStyle(family="Nowhere"))))}
    assert {"lacks glyphs", "font missing"} <= verdicts


def test_a_setter_knows_what_it_set():
    part = credits()
    setter = RowSetter(part, BOOK, False)
    assert setter.rows_of(THREE[1]) is setter.rows_of(THREE[1])
    assert strip_of(part, BOOK) is strip_of(part, BOOK)
    assert (NAME, ROLE) == (0, 1)
