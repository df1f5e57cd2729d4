"""One scene from one value: stage, samples, stills, films and workers show the same, and nothing is worked out twice."""

import shutil
from collections import Counter
from io import BytesIO

import numpy as np
import pytest
from conftest import DEMO, TEMPLATES, a_share_of, plated
from fontTools.ttLib import TTCollection, TTFont
from PIL import Image
from PyQt6.QtWidgets import QApplication
from typer.testing import CliRunner

from avlet.command_line.main import app, load_verbs
from avlet.document.editing import edits
from avlet.document.parts import TextPart
from avlet.media.drawing import Drawing, drawn_results
from avlet.media.render import _png_of
from avlet.paint.scene import Scene
from avlet.storage.package import open_template
from avlet.text import system_fonts
from avlet.text.fonts import BUNDLED, FontBook, bundled_fonts, font_files
from avlet.text.system_fonts import FontAt, scan

ITS_OWN = "\uea60"
"""A letter for private use (U+EA60), which only the font of the machine has."""

load_verbs()


def family_of_its_own(path, family: str = "Reed Grotesk") -> None:
    """A font of the machine: a copy of a bundled one that also has a letter which no other has."""
    font = TTFont(next(p for p in font_files(BUNDLED) if p.name == "FiraSans-Medium.ttf"))
    for name_id in (1, 16):
        font["name"].setName(family, name_id, 3, 1, 0x409)
    for table in font["cmap"].tables:
        if table.isUnicode():
            table.cmap[ord(ITS_OWN)] = "W"
    font.save(path)


@pytest.fixture
def machine(tmp_path):
    """A book as this machine's, with one more font installed."""
    family_of_its_own(tmp_path / "Reed.ttf")
    return FontBook(bundled_fonts().faces, lambda: scan([FontAt(tmp_path / "Reed.ttf", 0)], tmp_path / "index.json"))


@pytest.mark.parametrize("name", a_share_of(TEMPLATES, 5))
def test_with_a_font_of_the_machine_film_and_stage_are_the_same_to_the_pixel(name, machine):
    """In a worker process the font comes along by name, and never stands in for a letter that it was not asked for."""
    template = open_template(DEMO / name).template
    texts = [part for part in template.parts if isinstance(part, TextPart)]
    for part in texts:
        named = {"family": "Reed Grotesk", "style": "Medium", "text_style": ""} if part is texts[0] else {}
        template = edits.put_part(template, edits.replace(part, text=f"{part.text} {ITS_OWN}", **named))
    template = edits.replace(template, wires=tuple(w for w in template.wires if not w.target.endswith(("/text", "/family"))))
    template = edits.prune_wires(template)
    scene = Scene(template, machine)
    frames = [template.way_in // 2, template.length // 2]
    drawing = Drawing.of(scene, (480, 480 * template.frame.height // template.frame.width))
    for frame, png in drawn_results(drawing, frames, _png_of, workers=1):
        film = np.asarray(Image.open(BytesIO(png)).convert("RGBA")).astype(int)
        stage = np.asarray(Image.open(BytesIO(_png_of_scene(scene, frame, drawing.width, drawing.height))).convert("RGBA")).astype(int)
        assert np.abs(film - stage).max() == 0


def _png_of_scene(scene, frame, width, height) -> bytes:
    from avlet.media.render import png_bytes

    return png_bytes(scene.picture(frame, width, height))


def test_a_box_is_as_large_in_the_film_as_on_the_stage(machine):
    """A letter that the font lacks comes from the same bundled face in both, though the film's machine font has it too."""
    template = edits.set_property(edits.set_property(plated(f"Bo {ITS_OWN}"), "name/family", "Reed Grotesk"), "name/style", "Medium")
    template = edits.add_part(template, TextPart(id="role", name="Role", text=f"Ringer {ITS_OWN}"))
    scene = Scene(template, machine)
    elsewhere = Drawing.of(scene)
    anew = Drawing(**{**elsewhere.__dict__, "_made": None}).scene()
    assert anew is not scene
    assert {i: p.box for i, p in anew.rest.parts.items()} == {i: p.box for i, p in scene.rest.parts.items()}


@pytest.fixture
def counted(monkeypatch):
    """How often answers are bound, layouts arranged and font books made."""
    found: Counter[str] = Counter()

    def count(module: str, name: str) -> None:
        real = getattr(__import__(module, fromlist=[name]), name)

        def counting(*args, **kwargs):
            found[name] += 1
            return real(*args, **kwargs)

        monkeypatch.setattr(f"{module}.{name}", counting)

    count("avlet.motion.credits", "bind")
    count("avlet.layout.holding", "bind")
    count("avlet.motion.credits", "arrange")
    return found


def test_a_still_binds_and_arranges_once(counted, tmp_path):
    done = CliRunner().invoke(app, ["still", str(DEMO / "name-strap.avlet"), "--at", "40", "-o", str(tmp_path / "a.png")])
    assert done.exit_code == 0 and (tmp_path / "a.png").exists()
    assert counted == {"bind": 1, "arrange": 1}


def test_a_mouse_move_makes_one_scene_for_the_stage_and_one_for_each_sample_that_shows(window, counted):
    session = window.session
    session.show_answers("")
    QApplication.processEvents()
    shown = len(window.build.samples.cells())
    counted.clear()
    session.write({"plate/corner": 11.0}, "drag")
    for _ in range(4):
        QApplication.processEvents()
    window.build.samples.repaint()
    assert counted == {"bind": 1 + shown, "arrange": 1 + shown}


def test_what_is_hidden_is_followed_when_it_is_shown(window, counted):
    session = window.session
    window.show_bench(1)
    QApplication.processEvents()
    session.show_answers("")
    counted.clear()
    session.write({"template/length": 140})
    for _ in range(4):
        QApplication.processEvents()
    assert counted["arrange"] == 1  # no samples are shown on this bench
    assert window.build.stage.pose.frame != 139
    window.show_bench(0)
    session.go_to(139)
    QApplication.processEvents()
    assert window.build.stage.pose.frame == 139


# Fonts of the machine


@pytest.mark.skipif(shutil.which("fc-list") is None, reason="fontconfig's commands are not here")
def test_fontconfig_finds_a_font_put_into_the_persons_folder(tmp_path, monkeypatch):
    folder = tmp_path / "fonts"
    folder.mkdir()
    family_of_its_own(folder / "Reed.ttf")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    assert folder / "Reed.ttf" in [place.path for place in system_fonts.installed_faces()]


def test_each_face_of_a_collection_is_found_and_drawn(tmp_path):
    """A .ttc written by fontTools."""
    collection = TTCollection()
    wanted = ("FiraSans-Bold.ttf", "FiraSans-Light.ttf")
    collection.fonts = [TTFont(next(p for p in font_files(BUNDLED) if p.name == name)) for name in wanted]
    for number, font in enumerate(collection.fonts):
        for name_id in (1, 16):
            font["name"].setName(f"Weir {number}", name_id, 3, 1, 0x409)
    path = tmp_path / "Weir.ttc"
    collection.save(path)
    faces = list(scan([FontAt(path, 0), FontAt(path, 1)], tmp_path / "index.json"))
    assert [(f.family, f.style) for f in faces] == [("Weir 0", "Bold"), ("Weir 1", "Light")]
    book = FontBook(bundled_fonts().faces, lambda: faces)
    for number, name in enumerate(("Bold", "Light")):
        template = edits.set_property(edits.set_property(plated(), "name/family", f"Weir {number}"), "name/style", name)
        own = edits.set_property(plated(), "name/style", name)
        one, two = Scene(template, book).picture(50, 480, 270), Scene(own, bundled_fonts()).picture(50, 480, 270)
        assert np.array_equal(one, two)


def test_an_alias_of_the_machine_stands_in_and_is_said(machine):
    aliased = FontBook(machine.faces, machine.on_request, {"Sedge": "Reed Grotesk"}.get)
    template = edits.set_property(edits.set_property(plated(), "name/family", "Sedge"), "name/style", "Medium")
    scene = Scene(template, aliased)
    assert scene.notes() == ["Sedge Medium is not here; Reed Grotesk Medium stands in for it."]
    assert Drawing.of(scene).aliases == (("Sedge", "Reed Grotesk"),)
    assert Drawing(**{**Drawing.of(scene).__dict__, "_made": None}).scene().notes() == scene.notes()
    assert Scene(template, machine).notes() == ["Sedge Medium is not here; Fira Sans Medium stands in for it."]
