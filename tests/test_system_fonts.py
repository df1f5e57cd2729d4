"""Fonts of the machine: found by name, kept in an index, never a fallback; read by the facts that fontTools reads."""

import shutil
from io import BytesIO

import pytest
from conftest import plated
from fontTools.ttLib import TTFont

from avlet.document.editing import edits
from avlet.document.parts import TextPart
from avlet.media.drawing import Drawing
from avlet.paint.scene import Scene
from avlet.storage.embedding import faces_used, fonts_to_carry
from avlet.storage.package import open_template, save_template
from avlet.text.fonts import BUNDLED, FontBook, bundled_fonts, font_files
from avlet.text.setting import faces_used as faces_of_a_text
from avlet.text.setting import set_text
from avlet.text.system_fonts import FontAt, scan


def faces_below(folder):
    """The font files below a folder, without the help of fontconfig."""
    return [FontAt(path, 0) for path in font_files(folder)]


def renamed(path, family: str, **tables) -> None:
    """A copy of a bundled font under another family."""
    font = TTFont(next(p for p in font_files(BUNDLED) if p.name == "FiraSans-Bold.ttf"))
    for name_id in (1, 16):
        font["name"].setName(family, name_id, 3, 1, 0x409)
    for key, value in tables.items():
        setattr(font["OS/2"], key, value)
    font.save(path)


@pytest.fixture
def folder(tmp_path):
    made = tmp_path / "fonts"
    (made / "deep").mkdir(parents=True)
    renamed(made / "deep" / "Marsh.ttf", "Marsh Grotesk")
    renamed(made / "Locked.ttf", "Locked Grotesk", fsType=2)
    (made / "torn.otf").write_bytes(b"OTTO nothing")
    (made / "readme.txt").write_text("no font")
    return made


@pytest.fixture
def book(folder, tmp_path):
    return FontBook(bundled_fonts().faces, lambda: scan(faces_below(folder), tmp_path / "index.json"))


def test_faces_are_found_below_folders_and_torn_files_passed_over(folder, tmp_path):
    found = {face.family: face for face in scan(faces_below(folder), tmp_path / "index.json")}
    assert set(found) == {"Marsh Grotesk", "Locked Grotesk"}
    assert found["Marsh Grotesk"].may_embed
    assert not found["Locked Grotesk"].may_embed
    assert found["Marsh Grotesk"].data == (folder / "deep" / "Marsh.ttf").read_bytes()


def test_the_index_is_kept_used_and_brought_up_to_date(folder, tmp_path, monkeypatch):
    index = tmp_path / "index.json"
    list(scan(faces_below(folder), index))
    assert index.exists()

    def never(*_args):
        raise AssertionError("a known file was read again")

    with monkeypatch.context() as patch:
        patch.setattr("avlet.text.font_files.read_facts", never)
        assert len(list(scan(faces_below(folder), index))) == 2
    shutil.move(folder / "Locked.ttf", folder / "Other.ttf")
    renamed(folder / "deep" / "Marsh.ttf", "Fen Grotesk")
    assert {face.family for face in scan(faces_below(folder), index)} == {"Fen Grotesk", "Locked Grotesk"}
    index.write_text("{ torn")
    assert len(list(scan(faces_below(folder), index))) == 2


def test_an_index_that_cannot_be_kept_is_no_fault(folder, tmp_path):
    (tmp_path / "file").write_text("x")
    assert len(list(scan(faces_below(folder), tmp_path / "file" / "index.json"))) == 2


def test_a_face_of_the_machine_is_found_by_name_and_read_late(book):
    face, exact = book.find("Marsh Grotesk", "Bold")
    assert exact
    assert "data" not in vars(face)
    assert "Marsh Grotesk" in book.families()
    assert book.styles("Marsh Grotesk") == ["Bold"]
    template = edits.set_property(plated(), "name/family", "Marsh Grotesk")
    made = Scene(template, book)
    assert made.notes() == []
    assert made.rest.parts["name"].box == Scene(plated(), book).rest.parts["name"].box


def test_it_never_falls_in_for_another(book):
    """The rune is in none of the bundled faces; one that is only installed does not count."""
    face, _ = bundled_fonts().find("Fira Sans", "Bold")
    book.families()
    assert book.covering("\u16a0", face) is None
    assert book.find("Nowhere Grotesk", "Bold")[0].family == "Fira Sans"


def test_it_travels_where_its_bits_allow(book, tmp_path):
    template = edits.set_property(plated(), "name/family", "Marsh Grotesk")
    assert [f.family for f in fonts_to_carry(template, book).faces] == ["Marsh Grotesk"]
    save_template(template, tmp_path / "x.avlet", book)
    opened = open_template(tmp_path / "x.avlet")
    assert opened.book.find("Marsh Grotesk", "Bold")[1]
    locked = fonts_to_carry(edits.set_property(plated(), "name/family", "Locked Grotesk"), book)
    assert locked.faces == ()
    assert "may not be embedded" in locked.left_out[0]


def test_workers_get_what_the_title_uses(book):
    template = edits.set_property(plated(), "name/family", "Locked Grotesk")
    drawing = Drawing.of(Scene(template, book))
    assert [f.family for f in drawing.named_faces] == ["Locked Grotesk"]
    assert drawing.scene().notes() == []
    assert faces_used(plated(), book) == [bundled_fonts().find("Fira Sans", "Bold")[0]]


def test_a_face_that_went_away_is_said(book, folder):
    from avlet.errors import FontError

    face, _ = book.find("Marsh Grotesk", "Bold")
    (folder / "deep" / "Marsh.ttf").unlink()
    with pytest.raises(FontError, match="cannot be read any more"):
        _ = face.data


def test_facts_are_those_that_fonttools_reads():
    for face in bundled_fonts().faces:
        font = TTFont(BytesIO(face.data))
        assert face.upem == font["head"].unitsPerEm
        assert face.weight == font["OS/2"].usWeightClass
        assert face.cap_height == font["OS/2"].sCapHeight


def test_a_face_that_a_text_names_counts_though_none_of_its_letters_come_from_it():
    part = TextPart(id="t", name="T", text="漢字", family="Fira Sans", style="Bold", size=80)
    used = faces_of_a_text(part, set_text(part, bundled_fonts()), bundled_fonts())
    assert used[0].family == "Fira Sans" and len({face.family for face in used}) == 2
