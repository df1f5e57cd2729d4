"""The command line, as a script would use it."""

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import time
from pathlib import Path

import av
import numpy as np
import pytest
from conftest import DEMO
from PIL import Image

from avlet.document.editing.edits import replace
from avlet.storage.package import open_template, save_template

STRAP = str(DEMO / "name-strap.avlet")


def test_info(avlet):
    status, out, _ = avlet("info", STRAP)
    assert status == 0
    for words in ("Name strap", "1920×1080", "role-plate", "bar-colour", "Fira Sans Bold", "way in 25"):
        assert words in out
    facts = json.loads(avlet("info", STRAP, "--json")[1])
    assert facts["fields"][0] == {"id": "name", "label": "Name", "kind": "text", "default": "Odalys Brandt", "hint": "One or two lines"}
    assert [p["kind"] for p in facts["parts"]] == ["rule", "shape", "shape", "text", "text"]


def test_info_of_the_machine(avlet, monkeypatch):
    status, out, _ = avlet("info", "--machine")
    assert status == 0 and out.startswith("Solid letters are drawn with: ") and "avlet 0.1.0" in out and "skia-python" in out
    facts = json.loads(avlet("info", "--machine", "--json")[1])
    assert facts["fault"] is None and facts["versions"]["avlet"] == "0.1.0"
    monkeypatch.setattr("avlet.solid.drawing._drawer", lambda: "Nothing here draws solid letters. Install it.")
    assert avlet("info", "--machine")[1].startswith("Nothing here draws solid letters.")
    status, _, err = avlet("info")
    assert status == 2 and "Name a template" in err


def test_measure_prints_what_is_agreed(avlet):
    status, out, _ = avlet(
        "measure", STRAP, "--set", "Name=Bo Li\\nRinger", "--set", "role=Keeper", "--length", "60", "--at", "30", "--json"
    )
    assert status == 0
    facts = json.loads(out)
    assert (facts["frame"], facts["rate"], facts["length"], facts["way_in"], facts["way_out"], facts["at"]) == (
        [1920, 1080],
        "25/1",
        60,
        25,
        25,
        30,
    )
    parts = {p["id"]: p for p in facts["parts"]}
    assert set(parts["name"]) == {"id", "name", "kind", "rest", "ink", "now", "opacity", "units", "notes"}
    assert parts["name"]["units"] == {"character": 10, "word": 3, "line": 2}
    name, plate = parts["name"]["rest"], parts["plate"]["rest"]
    assert plate == pytest.approx([name[0] - 50, name[1] - 25, name[2] + 100, name[3] + 50], abs=0.01)
    first = {p["id"]: p for p in json.loads(avlet("measure", STRAP, "--at", "0", "--json")[1])["parts"]}
    assert first["name"]["now"] is None
    assert first["name"]["rest"] is not None
    assert "rest" in avlet("measure", STRAP)[1]


def test_still(avlet, tmp_path):
    status, _, _ = avlet("still", STRAP, "--at", "60", "-o", tmp_path / "a.png")
    assert status == 0
    picture = Image.open(tmp_path / "a.png")
    assert (picture.size, picture.mode) == ((1920, 1080), "RGBA")
    assert avlet("still", STRAP, "--at", "60", "--plate", "reed-beds", "-o", tmp_path / "b.png")[0] == 0
    assert (np.asarray(Image.open(tmp_path / "b.png"))[..., 3] == 255).all()


def test_render(avlet, tmp_path):
    out = tmp_path / "a.mov"
    status, _, err = avlet("render", STRAP, "--set", "name=Bo Li", "--length", "52", "--size", "480x270", "-o", out)
    assert status == 0
    assert "52 frames" in err
    with av.open(str(out)) as film:
        assert film.streams.video[0].frames == 52


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["measure", STRAP, "--set", "nme=X"], "has no field “nme”"),
        (["measure", STRAP, "--set", "corners=1000"], "from 0 to 60 px, not 1000"),
        (["measure", STRAP, "--set", "corners=big"], "takes a number, not “big”"),
        (["measure", STRAP, "--set", "role-line=perhaps"], "takes yes or no"),
        (["measure", STRAP, "--set", "bar-colour=blue"], "takes a colour"),
        (["measure", STRAP, "--set", "role=a\\nb"], "takes one line"),
        (["measure", STRAP, "--set", "name"], "is not FIELD=VALUE"),
        (["measure", STRAP, "--at", "125"], "shows frames 0 to 124"),
        (["measure", STRAP, "--length", "0"], "at least 1 frame"),
        (["info", "gone.avlet"], "There is no file"),
        (["info", __file__], "is not a template or is damaged"),
        (["still", STRAP, "--at", "1", "-o", "x.jpg"], "should end in .png"),
        (
            ["still", STRAP, "--at", "1", "--plate", "moon", "-o", "x.png"],
            "There is no plate “moon”. There are: tide flats, reed beds, dusk",
        ),
        (["render", STRAP, "--size", "big", "-o", "x.mov"], "is not a picture size"),
        (["render", STRAP, "-o", "x.mp4"], "has no transparency"),
        (["gone.txt"], "neither a file nor a verb"),
    ],
)
def test_mistakes_end_with_2_and_one_message(avlet, tmp_path, monkeypatch, words, said):
    monkeypatch.chdir(tmp_path)
    status, out, err = avlet(*words)
    assert status == 2
    assert out == ""
    assert said in err
    assert len(err.strip().splitlines()) == 1
    assert list(tmp_path.iterdir()) == []


def test_sensible_pictures_for_odd_answers(avlet, tmp_path):
    for words in ("name=", "name=" + "x" * 10_000, "name=\u16a0", "name=ياسمين الحداد", "name=👩‍👧"):
        assert avlet("still", STRAP, "--at", "60", "--set", words, "-o", tmp_path / "a.png")[0] == 0
    assert avlet("still", STRAP, "--at", "0", "--length", "1", "-o", tmp_path / "b.png")[0] == 0
    assert np.asarray(Image.open(tmp_path / "b.png")).any()
    _, _, err = avlet("still", STRAP, "--at", "60", "--set", "name=\u16a0", "-o", tmp_path / "a.png")
    assert "No font here has glyphs" in err


def test_install_and_remove(avlet, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert avlet("install")[0] == 0
    entry = (tmp_path / "applications" / "avlet.desktop").read_text()
    assert "MimeType=application/vnd.avlet.template+zip" in entry
    assert "*.avlet" in (tmp_path / "mime" / "packages" / "avlet.xml").read_text()
    assert (tmp_path / "icons" / "hicolor" / "scalable" / "apps" / "avlet.svg").exists()
    assert avlet("install", "--remove")[0] == 0
    assert not (tmp_path / "applications" / "avlet.desktop").exists()


def test_ctrl_c_leaves_nothing_half_written(tmp_path):
    out = tmp_path / "a.webm"
    process = subprocess.Popen(
        [sys.executable, "-m", "avlet", "render", STRAP, "--length", "2000", "-o", str(out)],
        stderr=subprocess.PIPE, start_new_session=True, cwd=Path(__file__).parent.parent,
    )  # fmt: skip
    deadline = time.monotonic() + 60
    while not list(tmp_path.glob(".*part")) and time.monotonic() < deadline:
        time.sleep(0.1)
    time.sleep(2.0)
    os.killpg(process.pid, signal.SIGINT)
    _, err = process.communicate(timeout=60)
    assert process.returncode == 130
    assert b"nothing half-done was left" in err
    assert b"Traceback" not in err
    assert list(tmp_path.iterdir()) == []


def test_info_lists_moves_with_their_first_and_last_frame(avlet):
    status, out, _ = avlet("info", STRAP, "--json")
    moves = {(m["id"], m["way"]): (m["first"], m["last"]) for m in json.loads(out)["moves"]}
    assert status == 0
    assert moves["plate", "in"] == (0, 20) and moves["name", "in"] == (5, 25) and moves["name", "out"] == (99, 119)
    assert "5 – 25" in avlet("info", STRAP)[1]


def test_measure_gives_each_unit(avlet):
    status, out, _ = avlet("measure", str(DEMO / "long-fade-title.avlet"), "--at", "40", "--units", "--json")
    title = next(p for p in json.loads(out)["parts"] if p["id"] == "title")
    assert status == 0 and title["moved"]["by"] == "character" and len(title["moved"]["boxes"]) == title["units"]["character"]
    assert 0 < sum(o > 0.99 for o in title["moved"]["opacity"]) < len(title["moved"]["opacity"]) and max(title["moved"]["blur"]) > 0
    assert "by character" in avlet("measure", str(DEMO / "long-fade-title.avlet"), "--at", "40", "--units")[1]


def test_frames_writes_a_contact_sheet(avlet, tmp_path):
    sheet = tmp_path / "sheet.png"
    status, _, _ = avlet("frames", STRAP, "--set", "name=Bo Li", "-o", sheet, "--columns", "9")
    with Image.open(sheet) as picture:
        assert status == 0 and picture.size == (9 * 250 + 10, 7 * (135 + 30) + 10)
        cell = np.asarray(picture.convert("RGB"))[10:145, 10:250]
    assert (cell == cell[0, 0]).all(), "the first frame is empty"
    assert avlet("frames", STRAP, "-o", tmp_path / "sheet.jpg")[0] == 2


def test_card_is_printed_and_measured(avlet):
    status, out, _ = avlet("card", DEMO / "guest-strap.avlet")
    assert status == 0
    for words in ("8 fields · a stranger needs a moment", "Side", "Time"):
        assert words in out
    facts = json.loads(avlet("card", DEMO / "guest-strap.avlet", "--json")[1])
    side = facts["sections"][1]["fields"][0]
    assert (side["id"], side["kind"], side["default"]) == ("side", "choice", "left")
    assert "Rule: across: edge (table)" in side["drives"]
    assert facts["findings"] == [] and facts["holds"]


def test_answers_come_from_a_file_and_go_into_a_template(avlet, tmp_path):
    answers = tmp_path / "bo-li.json"
    answers.write_text(json.dumps({"Name": "Bo Li", "side": "right"}))
    target = tmp_path / "guest.avlet"
    assert avlet("set", DEMO / "guest-strap.avlet", answers, "-o", target)[0] == 0
    facts = json.loads(avlet("info", target, "--json")[1])
    assert {f["id"]: f["default"] for f in facts["fields"]}["side"] == "right"
    assert avlet("set", target, answers, "--samples")[0] == 0
    assert json.loads(avlet("info", target, "--json")[1])["samples"][-1] == {
        "id": "bo-li",
        "name": "Bo li",
        "answers": {"name": "Bo Li", "side": "right"},
    }
    status, _, _ = avlet(
        "render", target, "--answers", answers, "--size", "160x90", "--codec", "qtrle", "-o", tmp_path / "a.mov", "--length", "8"
    )
    assert status == 0
    for words, fault in (
        ('{"side": "up"}', "takes one of left, middle, right"),
        ("[1]", "holds no object"),
        ("{", "is not JSON"),
        ('{"x": 1}', "no field “x”"),
    ):
        answers.write_text(words)
        status, _, said = avlet("render", target, "--answers", answers, "-o", tmp_path / "b.mov")
        assert status == 2
        assert fault in said


def test_handing_over_and_checking(avlet, tmp_path):
    status, out, _ = avlet("handover", STRAP, "--library", tmp_path / "lib", "--note", "First", "--no-proof")
    assert (status, out.strip()) == (0, f"{tmp_path / 'lib' / 'name-strap.avlet'}: version 1")
    assert "unchanged" in avlet("handover", STRAP, "--library", tmp_path / "lib", "--no-proof")[1]
    status, out, _ = avlet("check", tmp_path / "lib" / "name-strap.avlet")
    assert (status, out.strip()) == (0, "Name strap, version 1: the same at a stranger's")
    report = json.loads(avlet("check", tmp_path / "lib" / "name-strap.avlet", "--json")[1])
    assert (report["holds"], report["version"]) == (True, 1)
    (tmp_path / "torn.avlet").write_bytes(b"PK")
    status, _, said = avlet("check", tmp_path / "torn.avlet")
    assert status == 2
    assert "damaged" in said


def test_a_cut_is_rendered_from_the_command_line(avlet, tmp_path):
    from avlet.document.cut import Cut, PictureClip, Title
    from avlet.document.template import Frame
    from avlet.media.timeline import write_cut

    write_cut(Cut("Short", Frame(320, 180), (PictureClip("dusk", 12),), (Title("a", "name-strap.avlet", 2, 8),)), tmp_path / "short.otio")
    status, out, _ = avlet(
        "cut", "render", tmp_path / "short.otio", "-o", tmp_path / "out", "--library", DEMO, "--codec", "qtrle", "--height", "36"
    )
    assert status == 0
    assert [Path(line).name for line in out.split()] == ["T0001-name-strap.mov", "short.mp4", "short.otio"]
    status, _, said = avlet("cut", "knit", tmp_path / "short.otio", "-o", tmp_path / "out")
    assert (status, "knit" in said) == (2, True)


@pytest.mark.skipif(not shutil.which("script"), reason="no terminal can be made here")
def test_tables_never_cut_a_figure(avlet):
    """In a pipe a table is as wide as it needs; on a narrow terminal its cells take several lines."""
    _, facts, _ = avlet("measure", STRAP, "--json")
    wanted = [f"{value:.1f}".removesuffix(".0") for part in json.loads(facts)["parts"] for value in part["rest"]]
    _, told, _ = avlet("measure", STRAP)
    for figure in wanted:
        assert figure in told.replace("│", " ").split()
    narrow = subprocess.run(
        ["script", "-qec", f"stty cols 60; {sys.executable} -m avlet measure {STRAP}", "/dev/null"],
        capture_output=True,
        text=True,
        check=False,
    )
    for figure in wanted:
        assert figure in re.sub(r"\x1b\[[0-9;]*m", "", narrow.stdout).replace("│", " ").split()


def test_another_shape_is_refused_with_what_to_do(avlet, tmp_path):
    status, _, err = avlet("render", STRAP, "--size", "1080x1080", "-o", tmp_path / "a.mov")
    assert status == 2 and "Ask for 1080x608" in err and "Frame size" in err and not (tmp_path / "a.mov").exists()
    assert avlet("render", STRAP, "--size", "1080x608", "--length", "4", "--codec", "qtrle", "-o", tmp_path / "a.mov")[0] == 0


def test_what_leaves_the_frame_is_said_by_every_command(avlet, tmp_path):
    long = ("--set", "name=" + "Wilhelmina Featherstonehaugh " * 6)
    said = "Plate reaches beyond the frame by "
    assert said in avlet("measure", STRAP, *long)[2]
    assert any(said in note for note in json.loads(avlet("measure", STRAP, *long, "--json")[1])["notes"])
    assert said in avlet("still", STRAP, *long, "--at", "60", "-o", tmp_path / "a.png")[2]
    assert said in avlet("render", STRAP, *long, "--size", "160x90", "--length", "4", "--codec", "qtrle", "-o", tmp_path / "a.mov")[2]
    assert said not in avlet("measure", STRAP)[2]


@pytest.mark.parametrize("size", ["²x٣", "٣٠٠x٢٠٠", "9" * 400 + "x2", "x", "1x1", "-5x5"])
def test_what_is_no_picture_size_is_refused_in_words(avlet, tmp_path, size):
    status, _, err = avlet("render", STRAP, f"--size={size}", "-o", tmp_path / "a.mov")
    assert status == 2 and "is not a picture size" in err and "Traceback" not in err and not list(tmp_path.iterdir())


@pytest.mark.parametrize("name", ["[/]", "[bold]Strap", "Strap [red]", "[link=x]"])
def test_nothing_that_a_template_is_called_is_markup(avlet, tmp_path, name):
    opened = open_template(Path(STRAP))
    parts = tuple(replace(p, name=name) for p in opened.template.parts)
    renamed = replace(opened.template, name=name, category=name, parts=parts)
    save_template(renamed, tmp_path / "a.avlet", opened.book)
    for words in (("info",), ("measure",), ("card",), ("counts",), ("check",)):
        status, out, err = avlet(*words, tmp_path / "a.avlet")
        assert "Traceback" not in err and status in (0, 1) and (name in out or words[0] == "check"), words
