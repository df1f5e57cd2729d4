"""Pictures: placed in their boxes, tinted, packed and opened again; broken, huge and hostile files said in words."""

import base64
import io
import json
import struct
import zipfile
import zlib

import numpy as np
import pytest
from PIL import Image

from avlet.document.editing import edits
from avlet.document.faults.checking import check
from avlet.document.looks.pictures import read_picture
from avlet.document.looks.svg import without_links
from avlet.document.parts import Fit, PictureFile, PicturePart, Place, ShapePart
from avlet.document.template import Frame, Template
from avlet.geometry import Box
from avlet.paint.pictures import placed
from avlet.paint.scene import Scene
from avlet.storage.archive import write_zip
from avlet.storage.package import open_template, package_files, save_template
from avlet.storage.template_json import decode, encode
from avlet.text.fonts import bundled_fonts

FRAME = Frame(400, 200, "25/1")
DRAWING = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><rect width="40" height="20" fill="#00ff00"/></svg>'


def encoded(kind: str = "PNG", size=(80, 40), colour=(255, 0, 0, 255)) -> bytes:
    out = io.BytesIO()
    mode = "RGB" if kind == "JPEG" else "RGBA"
    Image.new(mode, size, colour[: len(mode)]).save(out, kind, **({"lossless": True} if kind == "WEBP" else {}))
    return out.getvalue()


def part(data: bytes, name="a.png", **changes) -> PicturePart:
    values = {
        "id": "p",
        "name": "Logo",
        "picture": PictureFile(name, data),
        "width": 200,
        "height": 150,
        "across": Place(gap=100),
        "down": Place(gap=25),
    }
    return PicturePart(**{**values, **changes})


def scene(*parts) -> Scene:
    return Scene(Template(frame=FRAME, parts=parts), bundled_fonts())


def test_pictures_inside_a_drawing_are_said_to_be_left_out():
    link = "data:image/png;base64," + base64.b64encode(encoded()).decode()
    inner = f'<image width="40" height="20" xlink:href="{link}"/>'.encode()
    drawing = DRAWING.replace(b"<svg ", b'<svg xmlns:xlink="http://www.w3.org/1999/xlink" ').replace(b"<rect", inner + b"<rect")
    assert read_picture(PictureFile("a.svg", drawing)).left_out == (
        "the pictures inside it are left out; bring them in as parts of their own.",
    )
    assert any("Logo: the pictures inside it are left out" in note for note in scene(part(drawing, "a.svg")).notes())
    assert read_picture(PictureFile("a.svg", DRAWING)).left_out == ()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP"])
def test_every_format_is_read_and_shown(kind):
    data = encoded(kind)
    assert (read_picture(PictureFile("a", data)).width, read_picture(PictureFile("a", data)).height) == (80, 40)
    picture = scene(part(data)).picture(60)
    assert picture[100, 200].tolist() == pytest.approx([255, 0, 0, 255], abs=3)


def test_a_whole_picture_lies_within_its_box_and_a_filling_one_covers_it():
    whole, fills = scene(part(encoded())).picture(60), scene(part(encoded(), sits="fills")).picture(60)
    assert np.flatnonzero(whole[:, 200, 3])[[0, -1]].tolist() == [50, 149]
    assert np.flatnonzero(fills[:, 200, 3])[[0, -1]].tolist() == [25, 174]


@pytest.mark.parametrize(
    ("sits", "focus", "wanted"),
    [
        ("whole", 50, (100, 50, 200, 100)),
        ("fills", 50, (50, 25, 300, 150)),
        ("fills", 0, (100, 25, 300, 150)),
        ("fills", 100, (0, 25, 300, 150)),
        ("stretched", 50, (100, 25, 200, 150)),
    ],
)
def test_placing(sits, focus, wanted):
    assert placed(part(b"", sits=sits, focus_x=focus), 80, 40, Box(100, 25, 200, 150)) == pytest.approx(wanted)


def test_a_picture_is_scaled_like_pillow_does():
    rng = np.random.default_rng(5)
    source = Image.fromarray((rng.random((30, 40, 3)) * 255).astype(np.uint8)).resize((400, 300), Image.Resampling.BICUBIC)
    out = io.BytesIO()
    source.save(out, "PNG")
    found = scene(part(out.getvalue(), sits="stretched")).picture(60)[25:175, 100:300, :3].astype(int)
    wanted = np.asarray(source.resize((200, 150), Image.Resampling.BOX)).astype(int)
    assert np.abs(found - wanted).mean() < 3


def test_round_corners_and_opacity():
    picture = scene(part(encoded(), sits="fills", corner=50, corner_unit="percent", opacity=50)).picture(60)
    assert not picture[27:32, 102:106, 3].any()
    assert picture[100, 200].tolist() == pytest.approx([128, 0, 0, 128], abs=2)


def test_tint_keeps_transparency():
    picture = scene(part(encoded(colour=(255, 0, 0, 128)), tint="#0000FF", tint_share=100)).picture(60)
    assert picture[100, 200].tolist() == pytest.approx([0, 0, 128, 128], abs=2)
    half = scene(part(encoded(), tint="#0000FF", tint_share=50)).picture(60)
    assert half[100, 200].tolist() == pytest.approx([128, 0, 128, 255], abs=2)


def test_a_drawing_is_sharp_at_any_size():
    picture = scene(part(DRAWING, "a.svg")).picture(60, 1600, 800)
    column = picture[:, 800, 1]
    assert np.flatnonzero(column)[[0, -1]].tolist() == [200, 599]
    assert set(np.unique(column)) == {0, 255}


@pytest.mark.parametrize(
    ("inside", "said"),
    [
        (b"<text>Hi</text>", "text is left out"),
        (b"<script>alert(1)</script>", "scripts are left out"),
        (b'<rect onclick="x()" width="4" height="4"/>', "scripts are left out"),
        (b'<image href="http://example.org/a.png" width="9" height="9"/>', "links to outside"),
        (b'<image xmlns:xlink="http://www.w3.org/1999/xlink" xlink:href="/etc/hostname" width="9" height="9"/>', "links to outside"),
    ],
)
def test_what_a_drawing_may_not_do_is_left_out_and_said(inside, said):
    data = DRAWING.replace(b"</svg>", inside + b"</svg>")
    made = scene(part(data, "a.svg"))
    assert any(said in note for note in made.notes())
    assert made.picture(60)[100, 200, 1] == 255
    clean = without_links(data)
    for banned in (b"script", b"onclick", b"example.org", b"/etc/"):
        assert banned not in clean


def huge_png(width: int, height: int) -> bytes:
    """A PNG that only claims its size: nothing behind the header is ever needed to refuse it."""
    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b"\0" * 64)) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not in the package"),
        (b"GIF89a....", "is not a PNG"),
        (b"hello", "is not a PNG"),
        (huge_png(30_000, 30_000), "too large"),
        (encoded()[:60], "damaged"),
        (b"<svg", "damaged SVG"),
        (b'<!DOCTYPE svg [<!ENTITY a "b">]><svg xmlns="http://www.w3.org/2000/svg"/>', "entities"),
        (b"<html><svg></svg></html>", "not an SVG drawing"),
    ],
)
def test_a_picture_that_cannot_be_shown_is_said_and_marked(data, said):
    made = scene(part(data))
    assert any(said in note and note.startswith("Logo: ") for note in made.notes())
    assert made.picture(60)[25:175, 100:300, 3].any()


def test_a_shape_fits_around_a_picture():
    plate = ShapePart(id="plate", name="Plate", fit=Fit(("p",), left=10, right=10, top=10, bottom=10), across=None, down=None)
    made = scene(plate, part(encoded()))
    assert made.rest.parts["plate"].box == (90, 15, 220, 170)


@pytest.mark.parametrize("folder", [False, True])
def test_a_package_carries_its_pictures_as_files(tmp_path, folder):
    template = check(Template(frame=FRAME, parts=(part(encoded(), "logo.png"), part(DRAWING, "mark.svg", id="q"))))
    path = tmp_path / "x.avlet"
    if folder:
        path.mkdir()
    save_template(template, path, bundled_fonts())
    opened = open_template(path)
    assert [p.picture.data for p in opened.template.parts] == [encoded(), DRAWING]
    assert opened.template.parts[0].picture.name.endswith("-logo.png")
    text = (path / "template.json").read_text() if folder else zipfile.ZipFile(path).read("template.json").decode()
    assert json.loads(text)["parts"][0]["picture"]["data"] == ""
    save_template(opened.template, tmp_path / "y.avlet", bundled_fonts())
    assert open_template(tmp_path / "y.avlet").template == opened.template


def test_a_package_without_its_picture_opens_and_says_so(tmp_path):
    files = package_files(Template(frame=FRAME, parts=(part(encoded(), "logo.png"),)), bundled_fonts())
    write_zip(tmp_path / "x.avlet", {name: data for name, data in files.items() if not name.startswith("pictures/")})
    opened = open_template(tmp_path / "x.avlet")
    assert any("not in the package" in note for note in Scene(opened.template, opened.book).notes())


def test_unsaved_work_keeps_its_pictures():
    template = Template(frame=FRAME, parts=(part(encoded()),))
    assert decode(encode(template), "kept") == template


def test_removing_what_a_picture_fits_leaves_it_where_it_is():
    template = Template(frame=FRAME, parts=(ShapePart(id="s", name="S"), part(encoded(), fit=Fit(("s",)), across=None, down=None)))
    after = edits.remove_part(template, "s", {"s": (0.0, 0.0, 9.0, 9.0), "p": (5.0, 6.0, 70.0, 80.0)})
    assert (after.part("p").width, after.part("p").height, after.part("p").across.gap) == (70, 80, 5)
