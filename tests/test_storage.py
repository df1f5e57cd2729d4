"""Packages: round trips, guards against hostile files, errors with their place, what may be embedded."""

import importlib.util
import json
import os
import stat
import zipfile
from io import BytesIO
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from conftest import DEMO, plated
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from avlet import limits
from avlet.document.cards.card import Card, Section
from avlet.document.editing import edits
from avlet.document.fields import ColourField, NumberField, SwitchField, TextField
from avlet.document.looks.paints import Solid
from avlet.document.parts import Fit, Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.errors import AnswerError, FontError, StorageError
from avlet.limits import MOST_FILES
from avlet.storage.archive import write_zip
from avlet.storage.embedding import fonts_to_carry
from avlet.storage.handing_over import hand_over
from avlet.storage.library import OTHERS, scan, signature
from avlet.storage.package import TEMPLATE, open_template, package_files, save_template
from avlet.storage.picture_files import taken_out
from avlet.storage.recent import recent_files, remember
from avlet.storage.recovery import Recovery, lost_work
from avlet.storage.schemas import card_schema, template_schema, written
from avlet.storage.template_json import decode, encode, encode_as_it_is
from avlet.storage.thumbnail import thumbnail_png
from avlet.text.fonts import bundled_fonts, read_face

ROOT = DEMO.parent


@pytest.mark.parametrize("folder", [False, True])
def test_what_is_saved_is_what_is_opened(tmp_path, book, name_strap, folder):
    path = tmp_path / "x.avlet"
    if folder:
        path.mkdir()
    save_template(name_strap, path, book)
    opened = open_template(path)
    assert opened.template == name_strap
    assert opened.notes == ()
    names = {p.relative_to(path).as_posix() for p in path.rglob("*") if p.is_file()} if folder else set(zipfile.ZipFile(path).namelist())
    assert names == {
        "template.json", "card.schema.json", "thumbnail.png", "fonts/FiraSans-Bold.ttf", "fonts/FiraSans-Medium.ttf", "fonts/FiraSans-licence.txt",
    }  # fmt: skip


def test_the_demo_is_in_step_with_its_script(tmp_path, monkeypatch):
    import sys

    sys.path.insert(0, str(ROOT / "scripts"))
    import write_demo

    assert open_template(DEMO / "name-strap.avlet").template == write_demo.strap_with_ties()
    assert open_template(DEMO / "episode-title.avlet").template == write_demo.episode_title()
    for name, template in write_demo.further_templates().items():
        assert taken_out(open_template(DEMO / f"{name}.avlet").template) == taken_out(template)


def test_the_same_template_gives_the_same_bytes(tmp_path, book):
    for name in ("a", "b"):
        save_template(plated(), tmp_path / name, book)
    assert (tmp_path / "a").read_bytes() == (tmp_path / "b").read_bytes()


def test_saving_into_a_folder_drops_fonts_that_are_no_longer_used(tmp_path, book):
    path = tmp_path / "x.avlet"
    path.mkdir()
    save_template(plated(), path, book)
    save_template(edits.set_property(edits.set_property(plated(), "name/family", "Alegreya"), "name/style", "Bold"), path, book)
    assert sorted(p.name for p in (path / "fonts").iterdir()) == ["Alegreya-Bold.ttf", "Alegreya-licence.txt"]


def test_thumbnail_shows_the_title():
    data = package_files(plated(), bundled_fonts())["thumbnail.png"]
    picture = Image.open(BytesIO(data))
    assert picture.size == (480, 270)
    assert len(picture.getcolors(100_000)) > 20


@pytest.mark.parametrize("size", [(1920, 1080), (1080, 1920), (1080, 1080), (3840, 2160)])
@pytest.mark.parametrize(("gap_x", "gap_y"), [(60, 700), (60, 40), (300, 400)])
def test_a_thumbnail_shows_what_is_drawn_large_and_where_it_is(size, gap_x, gap_y):
    """In any shape of frame the plate takes up most of the tile's width; a sign that keeps off it says which part of the frame that is."""
    width, height = size
    plate = ShapePart(
        id="p", name="P", width=width * 0.2, height=height * 0.05, fill=Solid("#FF0000"),
        across=Place("frame", gap=gap_x), down=Place("frame", gap=gap_y),
    )  # fmt: skip
    made = Template(name="T", frame=Frame(width, height, "25/1"), length=50, way_in=0, way_out=0, parts=(plate,))
    picture = np.asarray(Image.open(BytesIO(thumbnail_png(made, bundled_fonts())))).astype(int)
    red = (picture[..., 0] > 230) & (picture[..., 1] < 30)
    columns, rows = np.flatnonzero(red.any(axis=0)), np.flatnonzero(red.any(axis=1))
    ratio = width * 0.2 / (height * 0.05)
    large = columns[-1] - columns[0] + 1 if ratio > 16 / 9 else (rows[-1] - rows[0] + 1) * 16 / 9
    assert large > 0.8 * 480 and large < 480
    sign = (np.abs(picture - picture.mean(axis=2, keepdims=True)) < 14).all(axis=2) & (picture.min(axis=2) > 120)
    assert sign.sum() > 60 and sign[:, :400].sum() == 0 and not (sign & red).any()
    whole = edits.replace(plate, width=width * 0.9, height=height * 0.9, across=Place("frame", gap=0), down=Place("frame", gap=0))
    picture = np.asarray(Image.open(BytesIO(thumbnail_png(edits.replace(made, parts=(whole,)), bundled_fonts())))).astype(int)
    assert not ((picture.min(axis=2) > 120) & (picture[..., 1] > 120)).any(), "nearly all of it needs no sign"


def add_field(document, default, answers) -> None:
    """A number field with a limit, and a sample that answers it."""
    document["card"] = {"sections": [{"fields": [{"kind": "number", "id": "f", "label": "F", "high": 100, "default": default}]}]}
    document["samples"] = [{"id": "s", "name": "S", "answers": answers}]


def damaged(change) -> bytes:
    document = json.loads(encode(plated()))
    change(document)
    return json.dumps(document).encode()


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda d: d["parts"][0].update(corner="round"), r"parts\[0\].corner: expected a number, got words"),
        (lambda d: d["parts"][0].update(corner=-4), r"parts\[0\].corner: expected a number of at least 0"),
        (lambda d: d["parts"][1].update(kind="hologram"), r"parts\[1\].*hologram"),
        (lambda d: d["parts"][1].update(colour="red"), r"parts\[1\].*unknown field.*colour"),
        (lambda d: d["parts"][0]["fit"].update(around=["gone"]), r"parts\[0\].fit.around: Plate fits around “gone”"),
        (lambda d: d["parts"][1].update(across={"on": "plate"}), "run in a circle: .*Plate fits around Name"),
        (lambda d: d.update(format=9), "made with a newer Avlet .format 9; this one reads up to 1."),
        (lambda d: d["frame"].update(rate="25"), r"frame.rate"),
        (lambda d: d.update(length=0), r"length: expected a whole number of at least 1"),
        (lambda d: add_field(d, 120, {}), r"card: “F” starts with an answer that it would not take: “F” takes a number to 100, not 120"),
        (lambda d: add_field(d, 50, {"f": "big"}), r"samples\[0\]\.answers: “F” takes a number, not “big”"),
        (lambda d: d.update(wires=[{"source": "nope", "target": "plate/corner"}]), r"wires\[0\].source: there is no field “nope”"),
    ],
)
def test_a_fault_in_the_file_is_named_with_its_place(change, words):
    with pytest.raises(StorageError, match=words):
        decode(damaged(change), "x.avlet")


@pytest.mark.parametrize("data", [b"", b"{", b"[1,2]", b"\xff\xfe", b"null", b'{"parts": 3}', b"[" * 5000])
def test_what_is_no_template_is_refused_in_words(data):
    with pytest.raises(StorageError, match=r"x\.avlet"):
        decode(data, "x.avlet")


@given(st.binary(max_size=200))
def test_any_bytes_are_refused_without_a_trace(data):
    with pytest.raises(StorageError):
        decode(b"{" + data, "x")


def zipped(path: Path, name: str, data: bytes = b"x", mode: int = 0o644) -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(TEMPLATE, encode(plated()))
        info = zipfile.ZipInfo(name)
        info.external_attr = mode << 16
        archive.writestr(info, data, zipfile.ZIP_DEFLATED)
    return path


@pytest.mark.parametrize("name", ["../evil", "/etc/evil", "fonts/../../evil", "C:\\evil", "a:evil"])
def test_paths_that_lead_outside_are_refused(tmp_path, name):
    with pytest.raises(StorageError, match="points outside"):
        open_template(zipped(tmp_path / "x.avlet", name))


def test_symbolic_links_are_refused(tmp_path):
    with pytest.raises(StorageError, match="symbolic link"):
        open_template(zipped(tmp_path / "x.avlet", "fonts/a.ttf", b"/etc/passwd", stat.S_IFLNK | 0o777))
    folder = tmp_path / "y.avlet"
    folder.mkdir()
    (folder / TEMPLATE).write_bytes(encode(plated()))
    (folder / "link").symlink_to("/etc/hostname")
    with pytest.raises(StorageError, match="symbolic link"):
        open_template(folder)


def test_bombs_are_refused(tmp_path, monkeypatch):
    monkeypatch.setattr("avlet.storage.archive.MOST_PACKAGE", 100_000)
    with pytest.raises(StorageError, match="unpacks to more than"):
        open_template(zipped(tmp_path / "x.avlet", "fonts/big.bin", b"\0" * 5_000_000))
    with zipfile.ZipFile(tmp_path / "many.avlet", "w") as archive:
        for number in range(MOST_FILES + 1):
            archive.writestr(f"f{number}", b"")
    with pytest.raises(StorageError, match="at most"):
        open_template(tmp_path / "many.avlet")


@pytest.mark.parametrize("data", [b"", b"PK\x03\x04broken", b"%PDF-1.7", b"\0" * 1000])
def test_a_foreign_file_is_refused(tmp_path, data):
    path = tmp_path / "x.avlet"
    path.write_bytes(data)
    with pytest.raises(StorageError, match=r"x\.avlet.*not a template or is damaged"):
        open_template(path)


def test_a_truncated_package_is_refused(tmp_path, book):
    path = tmp_path / "x.avlet"
    save_template(plated(), path, book)
    path.write_bytes(path.read_bytes()[:-400])
    with pytest.raises(StorageError):
        open_template(path)


def test_nothing_there_and_nothing_in_it(tmp_path):
    with pytest.raises(StorageError, match="There is no file"):
        open_template(tmp_path / "gone.avlet")
    write_zip(tmp_path / "empty.avlet", {"readme.txt": b"hello"})
    with pytest.raises(StorageError, match=r"has no template\.json"):
        open_template(tmp_path / "empty.avlet")


def test_a_damaged_font_is_left_out_and_said(tmp_path, book):
    path = tmp_path / "x.avlet"
    write_zip(path, {**package_files(plated(), book), "fonts/Broken.ttf": b"not a font"})
    assert "Broken.ttf" in open_template(path).notes[0]
    with pytest.raises(FontError, match="damaged"):
        read_face(b"junk", "Junk.ttf")


def test_saving_is_whole_or_not_at_all(tmp_path, book, monkeypatch):
    path = tmp_path / "x.avlet"
    save_template(plated(), path, book)
    before = path.read_bytes()

    def full(*_args, **_kw):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(StorageError, match="No space left on device"):
        save_template(plated("Other words"), path, book)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == ["x.avlet"]


def test_a_folder_that_is_a_file_cannot_be_written_into(tmp_path, book):
    (tmp_path / "file").write_text("x")
    with pytest.raises(StorageError, match="Could not write"):
        save_template(plated(), tmp_path / "file" / "x.avlet", book)


def restricted(face, fs_type: int):
    font = TTFont(BytesIO(face.data))
    font["OS/2"].fsType = fs_type
    font["name"].setName("Locked Sans", 1, 3, 1, 0x409)
    font["name"].setName("Locked Sans", 16, 3, 1, 0x409)
    out = BytesIO()
    font.save(out)
    return read_face(out.getvalue(), "Locked.ttf")


# OpenType OS/2 fsType: 0 installable, 2 restricted, 4 preview & print, 8 editable; bits read back by fontTools.
@pytest.mark.parametrize(("fs_type", "may"), [(0, True), (2, False), (4, True), (8, True), (0x100, True), (0x102, False)])
def test_embedding_bits_decide_what_travels(book, fs_type, may):
    face = restricted(book.find("Fira Sans", "Bold")[0], fs_type)
    assert TTFont(BytesIO(face.data))["OS/2"].fsType == fs_type
    assert face.may_embed is may
    template = edits.set_property(edits.set_property(plated(), "name/family", "Locked Sans"), "name/style", face.style)
    carried = fonts_to_carry(template, book.with_first([face]))
    assert (face in carried.faces) is may
    assert bool(carried.left_out) is not may
    if not may:
        assert "may not be embedded" in carried.left_out[0]


def test_a_font_that_travels_is_used_where_it_is_not_installed(tmp_path, book):
    face = restricted(book.find("Alegreya", "Bold")[0], 0)
    template = edits.set_property(edits.set_property(plated(), "name/family", "Locked Sans"), "name/style", face.style)
    save_template(template, tmp_path / "x.avlet", book.with_first([face]))
    opened = open_template(tmp_path / "x.avlet")
    assert opened.book.find("Locked Sans", face.style)[1]


FIELDS = (
    TextField(id="one", label="One", longest=5), TextField(id="many", label="Many", several_lines=True),
    NumberField(id="n", label="N", low=-2, high=7), NumberField(id="free", label="Free"),
    ColourField(id="c", label="C"), SwitchField(id="s", label="S"),
)  # fmt: skip
VALUES = st.one_of(
    st.text(max_size=8), st.floats(-10, 10), st.integers(-10, 10), st.booleans(), st.none(), st.lists(st.integers(), max_size=2),
    st.from_regex(r"#[0-9a-fA-F]{5,9}", fullmatch=True),
)  # fmt: skip


@given(st.sampled_from(FIELDS), VALUES)
def test_the_cards_schema_accepts_exactly_what_the_card_accepts(field, value):
    schema = card_schema(Card(sections=(Section("", FIELDS),)), "t")
    jsonschema.Draft202012Validator.check_schema(schema)
    by_schema = jsonschema.Draft202012Validator(schema).is_valid({field.id: value})
    try:
        field.checked(value)
        by_card = True
    except AnswerError:
        by_card = False
    assert by_schema == by_card


def test_the_format_tells_all_limits():
    """docs/format.md has each as limits.py has it, and nothing else of its own."""
    spec = importlib.util.spec_from_file_location("write_format", ROOT / "scripts/write_format.py")
    script = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(script)
    described = (ROOT / "docs/format.md").read_text(encoding="utf-8")
    assert script.with_limits(described) == described, "run scripts/write_format.py"
    assert described.count("\n| ") > 45 and f"| {limits.MOST_FILES:,} | Files in a package. |" in described


def test_template_schema_is_valid_written_down_and_accepts_the_demo():
    schema = template_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    assert (ROOT / "docs/format/template.schema.json").read_bytes() == written(schema), "run scripts/write_format.py"
    for name in sorted(p.stem for p in DEMO.glob("*.avlet")):
        document = json.loads((DEMO / f"{name}.avlet" / TEMPLATE).read_text())
        jsonschema.Draft202012Validator(schema).validate(document)
        document["parts"][0]["opacity"] = 200
        assert not jsonschema.Draft202012Validator(schema).is_valid(document)


def test_library_lists_good_and_broken_packages(tmp_path, book, name_strap):
    hand_over(name_strap, book, tmp_path)
    hand_over(plated(), book, tmp_path)
    (tmp_path / "torn.avlet").write_bytes(b"PK")
    write_zip(tmp_path / "empty.avlet", {"a": b""})
    write_zip(tmp_path / "newer.avlet", {TEMPLATE: b'{"name": "Newer", "format": 99}'})
    entries = {e.path.name: e for e in scan(tmp_path)}
    assert entries["name-strap.avlet"].category == "Lower thirds"
    assert entries["plated.avlet"].category == OTHERS
    assert entries["name-strap.avlet"].thumbnail().startswith(b"\x89PNG")
    assert "newer Avlet" in entries["newer.avlet"].fault
    assert all(entries[n].fault for n in ("torn.avlet", "empty.avlet"))
    assert entries["name-strap.avlet"].matches("BARS lower")
    assert not entries["name-strap.avlet"].matches("credits")
    assert scan(tmp_path / "gone") == []


def test_a_librarys_signature_changes_with_it(tmp_path, book):
    before = signature([tmp_path])
    hand_over(plated(), book, tmp_path)
    after = signature([tmp_path])
    assert before != after == signature([tmp_path])


def test_recent_files_newest_first(tmp_path):
    paths = [tmp_path / f"{n}.avlet" for n in range(15)]
    for path in paths:
        path.touch()
        remember(tmp_path / "state", path)
    remember(tmp_path / "state", paths[3])
    assert recent_files(tmp_path / "state")[:2] == [paths[3], paths[14]]
    paths[14].unlink()
    assert len(recent_files(tmp_path / "state")) == 11


def test_unsaved_work_is_found_again_after_a_crash(tmp_path):
    keeper = Recovery.of_templates(tmp_path)
    keeper.keep(plated("Half-typed"), Path("/somewhere/x.avlet"))
    assert lost_work(tmp_path) == []
    kept = json.loads(keeper.file.read_text())
    keeper.file.write_text(json.dumps({**kept, "process": 999_999_999}))
    (tmp_path / "torn.json").write_text("{")
    lost = next(found for found in lost_work(tmp_path) if found.file == keeper.file)
    assert lost.document == plated("Half-typed")
    assert lost.path == Path("/somewhere/x.avlet")
    keeper.forget()
    (torn,) = lost_work(tmp_path)
    assert (torn.document, torn.data) == (None, b"{") and "damaged" in torn.fault


def test_kept_work_that_does_not_hold_together_is_found_with_its_reason(tmp_path):
    """Nobody's work is passed over in silence: it can be kept as a file."""
    broken = edits.replace(plated(), parts=tuple(edits.replace(p, across=Place("nowhere")) for p in plated().parts))
    keeper = Recovery.of_templates(tmp_path)
    keeper.keep(broken, None)
    kept = json.loads(keeper.file.read_text())
    keeper.file.write_text(json.dumps({**kept, "process": 999_999_999}))
    (lost,) = lost_work(tmp_path)
    assert lost.document is None and "nowhere" in lost.fault
    assert json.loads(lost.data)["parts"][0]["across"]["on"] == "nowhere"


@pytest.mark.parametrize("change", [
    {"fit": Fit(("name",), least_width=500, most_width=300)},
    {"across": Place("frame", "baseline", "start"), "fit": None, "down": Place()},
    {"corner": -5.0},
    {"opacity": 400.0},
])  # fmt: skip
def test_what_reading_would_refuse_is_not_written(change, tmp_path):
    broken = edits.replace(plated(), parts=(edits.replace(plated().part("plate"), **change), plated().part("name")))
    with pytest.raises(StorageError, match=r"Plated is not written, as it could not be opened again: parts\[0\]"):
        encode(broken)
    with pytest.raises(StorageError):
        decode(encode_as_it_is(broken), "x")
    with pytest.raises(StorageError):
        save_template(broken, tmp_path / "x.avlet", bundled_fonts())
    assert list(tmp_path.iterdir()) == []
