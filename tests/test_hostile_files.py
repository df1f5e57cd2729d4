"""Files that may be anything: devices, pipes, damaged archives, own files that are damaged; one sentence and status 2, nothing lost."""

import contextlib
import copy
import io
import json
import os
import random
import zipfile

import numpy as np
import opentimelineio as otio
import pytest
from conftest import DEMO
from test_fuzz import owner, places

from avlet.document.cut import change_titles, in_frame, numbered, place_title, replace
from avlet.document.parts import TextPart
from avlet.document.template import Template
from avlet.errors import FontError, StorageError
from avlet.limits import MOST_CUT_FRAMES
from avlet.media.sound import mixed, sound_clips
from avlet.media.theirs import theirs_of
from avlet.media.timeline import cut_bytes, read_cut, with_their_pictures, write_cut
from avlet.paint.outlines import check_outlines
from avlet.paint.scene import Scene
from avlet.storage.archive import read_files, read_one
from avlet.storage.library import is_file_name
from avlet.storage.package import open_template
from avlet.storage.reading import is_there, read_own, read_whole
from avlet.storage.recent import recent_files, remember
from avlet.storage.settings import Settings, read_settings, starred, write_settings
from avlet.text.fonts import BUNDLED, bundled_fonts, read_face


def zipped(how=zipfile.ZIP_DEFLATED, **entries):
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", how) as archive:
        for name, data in entries.items():
            archive.writestr(name, data)
    return bytearray(made.getvalue())


@pytest.fixture
def pipe(tmp_path):
    os.mkfifo(tmp_path / "pipe.avlet")
    return tmp_path / "pipe.avlet"


@pytest.mark.parametrize("command", [("info",), ("check",), ("measure",), ("credits", "speed")])
def test_devices_and_pipes_are_no_templates(avlet, pipe, command):
    for path in (pipe, "/dev/zero", "/dev/full"):
        status, _, err = avlet(*command, path)
        assert status == 2 and "device or a pipe" in err and "Traceback" not in err


def test_devices_and_pipes_are_no_answers_lists_or_cuts(avlet, pipe, demo, tmp_path):
    roll = demo / "end-roll.avlet"
    for words in (
        ("measure", roll, "--set", f"list=@{pipe}"), ("credits", "check", "/dev/zero", roll), ("credits", "check", pipe, roll),
        ("render", roll, "--answers", pipe, "-o", tmp_path / "a.mov"), ("cut", pipe, "render", "-o", tmp_path / "films"),
    ):  # fmt: skip
        status, _, err = avlet(*words)
        assert status == 2 and "Traceback" not in err and err.strip(), words


def test_a_pipe_inside_a_folder_package_is_said(tmp_path, demo):
    os.mkfifo(demo / "name-strap.avlet" / "fonts" / "x.ttf")
    with pytest.raises(StorageError, match="device or a pipe"):
        read_files(demo / "name-strap.avlet")


@pytest.mark.parametrize("how", [zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2, zipfile.ZIP_STORED])
def test_damaged_archives_are_said(tmp_path, how):
    whole = zipped(how, **{"template.json": b"{}" * 500, "fonts/a.ttf": os.urandom(300)})
    path, chance = tmp_path / "a.avlet", random.Random(7)
    for _ in range(150):
        data = bytearray(whole)
        for _ in range(chance.choice([1, 2, 8])):
            data[chance.randrange(len(data))] = chance.randrange(256)
        path.write_bytes(data[: chance.randrange(1, len(data))] if chance.random() < 0.2 else data)
        for read in (lambda: read_files(path), lambda: read_one(path, "template.json")):
            try:
                read()
            except StorageError as error:
                assert str(error)


def test_names_in_an_archive_that_are_no_text_are_said(tmp_path):
    data = zipped(**{"template.json": b"{}", "abcdef": b""})
    for at in [n for n in range(len(data)) if data[n : n + 6] == b"abcdef"]:
        data[at : at + 6] = b"\xff\xfe\xfd\xfc\xfb\xfa"
    for flag in [n for n in range(len(data)) if data[n : n + 4] in (b"PK\x01\x02",)]:
        data[flag + 9] |= 0x08
    (tmp_path / "a.avlet").write_bytes(data)
    with pytest.raises(StorageError):
        read_files(tmp_path / "a.avlet")


@pytest.mark.parametrize("damage", [b"", b"\xff\xfe", b'{"shared": ["\xff"]}', b"[" * 200_000, b'{"shared": 3}', b"null"])
def test_own_files_that_are_damaged_are_put_aside(tmp_path, damage):
    (tmp_path / "library.json").write_bytes(damage)
    assert read_settings(tmp_path) == Settings()
    assert (tmp_path / "library.json.damaged").read_bytes() == damage, "nothing is written over it"
    write_settings(tmp_path, starred(Settings(), "a.avlet", True))
    assert read_settings(tmp_path).starred == ("a.avlet",)


@pytest.mark.parametrize("names", [b'["\xff"]', b'["/\\u0000"]', b'["' + b"x" * 5000 + b'"]', b'["/root/\\ud800"]', b"{}"])
def test_one_unreadable_recent_file_breaks_nothing(tmp_path, names):
    (tmp_path / "recent.json").write_bytes(names)
    assert recent_files(tmp_path) == []
    remember(tmp_path, tmp_path)
    assert recent_files(tmp_path) == [tmp_path.resolve()]


def test_the_window_opens_beside_damaged_files(qtbot, tmp_path):
    from avlet.desktop.window.window import Window

    state = tmp_path / "state"
    state.mkdir()
    for name in ("library.json", "recent.json", "window.json"):
        (state / name).write_bytes(b'{"\xff')
    window = Window(tmp_path / "library", state)
    qtbot.addWidget(window)
    window.show_welcome()
    window.close()


def test_reading_has_bounds(tmp_path):
    (tmp_path / "a").write_bytes(b"x" * 100)
    assert read_whole(tmp_path / "a") == b"x" * 100
    with pytest.raises(OSError, match="more than"):
        read_whole(tmp_path / "a", 99)
    with pytest.raises(OSError, match="folder"):
        read_whole(tmp_path)
    assert is_there(tmp_path) and not is_there(tmp_path / "b") and not is_there(tmp_path / ("x" * 5000))
    assert read_own(tmp_path / "none", int, 3) == 3


def test_what_nobody_thought_of_is_one_sentence_and_a_report(avlet, monkeypatch, tmp_path, demo):
    monkeypatch.setattr("avlet.places.state_folder", lambda: tmp_path / "state")
    monkeypatch.setattr("avlet.review.describing.describe", lambda *_: 1 / 0)
    status, _, err = avlet("info", demo / "name-strap.avlet")
    assert status == 2 and err.count("\n") == 1 and "ZeroDivisionError" in err
    assert "Traceback" in (tmp_path / "state" / "faults.log").read_text()


# Fonts


def damaged_font(table, at, value):
    """The bytes of a font of Avlet's own with a number of two bytes in one of its tables set otherwise."""
    data = bytearray((BUNDLED / "alegreya" / "Alegreya-Regular.ttf").read_bytes())
    entry = data.index(table, 12)
    offset = int.from_bytes(data[entry + 8 : entry + 12], "big") + at
    data[offset : offset + 2] = value.to_bytes(2, "big")
    return bytes(data)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (damaged_font(b"head", 18, 0), "0 units to the em, where 16 to 16,384"), (damaged_font(b"head", 18, 20_000), "20000 units to the em"),
        (damaged_font(b"name", 2, 0), "which family"), (b"wOF2" + b"\0" * 40, r"packed for web pages \(WOFF\)"), (b"wOFF", "packed for web pages"),
        (b"", "damaged"), (b"\0\1\0\0", "damaged"), (b"OTTO" + b"\xff" * 100, "damaged"),
    ],
)  # fmt: skip
def test_damaged_fonts_are_said(data, words):
    with pytest.raises(FontError, match=words):
        read_face(data, "x.ttf")


@pytest.mark.parametrize("seed", range(4))
def test_fonts_with_bytes_that_are_wrong_are_set_or_said(seed):
    whole, chance, used = (BUNDLED / "alegreya" / "Alegreya-Regular.ttf").read_bytes(), random.Random(seed), 0
    for _ in range(15):
        data = bytearray(whole)
        for _ in range(chance.choice([1, 5, 40])):
            data[chance.choice([chance.randrange(600), chance.randrange(len(data))])] = chance.choice([0, 255, chance.randrange(256)])
        try:
            face = check_outlines(read_face(bytes(data), "x.ttf"))
        except FontError as error:
            assert "x.ttf" in str(error)
            continue
        part = TextPart(id="t", name="T", text="Añ fi 12", family=face.family, style=face.style, features=("liga",))
        scene = Scene(Template(parts=(part,)), bundled_fonts().with_first([face]))
        scene.picture(60, 160, 90)
        scene.notes()
        used += bool(face.features) + 1
    assert used


def test_a_damaged_font_in_a_package_is_left_out_and_said(tmp_path, demo):
    (demo / "name-strap.avlet" / "fonts" / "x.ttf").write_bytes(damaged_font(b"head", 18, 0))
    assert any("x.ttf" in note and "left out" in note for note in open_template(demo / "name-strap.avlet").notes)


# Cuts

STRANGE = [
    None, 0, -1, 1e308, float("inf"), float("nan"), "", "x" * 300, "../../etc/passwd", "/etc/passwd", "%00", "a\0b", [], {}, [[]], True, 10**400,
    "25/0", "1/99999", "ü" * 200, {"OTIO_SCHEMA": "SerializableObjectRef.1", "id": "x"},
]  # fmt: skip


@pytest.mark.parametrize("seed", range(3))
def test_damaged_cuts_are_said(tmp_path, seed):
    cut = place_title(read_cut(DEMO / "the-long-tide.otio"), "odalys", 180, -40, 90)
    mark = {"name": "m", "number": 1, "frame": 3, "length": 4, "answers": {"name": "A"}}
    cut = replace(change_titles(cut, ["teodor"], reframed=True, marked=mark, aside={"a": 1}), start_time=90_000)
    path, good = tmp_path / "a.otio", 0
    base = json.loads(cut_bytes(cut, path))
    there, chance = list(places(base))[1:], random.Random(seed)
    for _ in range(250):
        document = copy.deepcopy(base)
        with contextlib.suppress(LookupError, TypeError):
            for _ in range(chance.choice([1, 1, 3])):
                place = chance.choice(there)
                if chance.random() < 0.25:
                    del owner(document, place)[place[-1]]
                else:
                    owner(document, place)[place[-1]] = chance.choice(STRANGE)
        path.write_text(json.dumps(document))
        try:
            cut = read_cut(path)
            good += all(is_file_name(t.template) for t in cut.titles)
            write_cut(cut, path)
            assert read_cut(path).titles == numbered(cut).titles, "what could be read is kept as it was read"
        except StorageError as error:
            assert str(error)
    assert good


def stranger(path):
    """A timeline of another program: two tracks, a dissolve, a slow clip, sound, markers."""

    def span(start, frames):
        return otio.opentime.TimeRange(otio.opentime.RationalTime(start, 24), otio.opentime.RationalTime(frames, 24))

    timeline = otio.schema.Timeline("Theirs", global_start_time=otio.opentime.RationalTime(86_400, 24))
    for kind in ("Video", "Video", "Audio"):
        track = otio.schema.Track(kind=kind)
        for number in range(3):
            media = otio.schema.ExternalReference(f"{number}.mov", span(0, 200))
            clip = otio.schema.Clip(f"shot {number}", media, span(number, 100), effects=[otio.schema.LinearTimeWarp(time_scalar=0.5)])
            clip.markers.append(otio.schema.Marker(name="here", marked_range=span(20, 5)))
            track.append(clip)
            if number == 1:
                track.append(
                    otio.schema.Transition(in_offset=otio.opentime.RationalTime(6, 24), out_offset=otio.opentime.RationalTime(6, 24))
                )
        timeline.tracks.append(track)
    timeline.tracks.markers.append(otio.schema.Marker(name="all", marked_range=span(30, 1)))
    otio.adapters.write_to_file(timeline, str(path))
    return json.loads(path.read_text())


@pytest.mark.parametrize("seed", [*range(3), *(pytest.param(n, marks=pytest.mark.soak) for n in range(3, 23))])
def test_a_damaged_timeline_of_another_program_is_said_or_shown(tmp_path, seed):
    path, chance, good = tmp_path / "a.otio", random.Random(seed), 0
    base = stranger(path)
    there = list(places(base))[1:]
    for _ in range(250):
        document = copy.deepcopy(base)
        with contextlib.suppress(LookupError, TypeError):
            place = chance.choice(there)
            owner(document, place)[place[-1]] = chance.choice(STRANGE)
        path.write_text(json.dumps(document))
        try:
            cut = read_cut(path)
        except StorageError as error:
            assert str(error)
            continue
        good += 1
        theirs = theirs_of(cut)
        sounding = [clip for clip in sound_clips(cut) if clip.end > 24_000 > clip.begin]
        assert np.abs(mixed(sounding, 24_000, 480)).max() <= 1
        assert all(0 <= m.frame <= MOST_CUT_FRAMES for m in theirs.marks)
        with contextlib.suppress(StorageError):
            with_their_pictures(in_frame(cut, replace(cut.frame, rate="120/1")))
    assert good > 10, "some of them are still shown"


@pytest.mark.parametrize(("kind", "change"), [
    ("Audio", lambda clip: clip.update(source_range=None, media_references={"DEFAULT_MEDIA": {"OTIO_SCHEMA": "MissingReference.1"}})),
    ("Audio", lambda clip: clip["source_range"]["start_time"].update(value=1e308)),
    ("Audio", lambda clip: clip["source_range"]["duration"].update(value=1e308)),
    ("Audio", lambda clip: clip["source_range"]["start_time"].update(rate=0.0)),
    ("Audio", lambda clip: clip["effects"][0].update(time_scalar=1e308)),
    ("Audio", lambda clip: clip["media_references"]["DEFAULT_MEDIA"].update(target_url="http://[")),
    ("Audio", lambda clip: clip["media_references"]["DEFAULT_MEDIA"].update(target_url="file:///a%00b")),
    ("Video", lambda clip: clip["effects"][0].update(time_scalar=-1e308)),
    ("Video", lambda clip: clip["markers"][0]["marked_range"]["start_time"].update(value=1e308)),
    ("Video", lambda clip: clip["markers"][0]["marked_range"]["duration"].update(value=-1e308, rate=0.0)),
])  # fmt: skip
def test_what_a_timeline_says_that_cannot_be_is_shown_as_far_as_it_can_be(tmp_path, kind, change):
    path = tmp_path / "a.otio"
    document = stranger(path)
    track = next(t for t in document["tracks"]["children"] if t["kind"] == kind)
    change(track["children"][0])
    path.write_text(json.dumps(document))
    cut = read_cut(path)
    theirs = theirs_of(cut)
    assert len(theirs.tracks) == 3 and all(0 <= c.begin <= c.begin + c.length <= MOST_CUT_FRAMES for t in theirs.tracks for c in t.clips)
    assert all(abs(c.speed) <= 100 for t in theirs.tracks for c in t.clips)
    assert np.isfinite(mixed(sound_clips(cut), 0, 480)).all()


def test_a_rate_at_which_a_timeline_is_too_long_is_refused_in_words(tmp_path):
    path = tmp_path / "a.otio"
    document = stranger(path)
    document["tracks"]["children"][0]["children"][0]["source_range"]["duration"]["value"] = MOST_CUT_FRAMES - 1_000
    path.write_text(json.dumps(document))
    cut = read_cut(path)
    with pytest.raises(StorageError, match=r"cannot be shown at 120/1: it lasts .* a cut has at most 20,000,000"):
        with_their_pictures(in_frame(cut, replace(cut.frame, rate="120/1")))


def test_an_answer_is_kept_whole_whatever_characters_are_in_it(tmp_path):
    words = "a\0b\x01\x1f\x7f\u2028\ufeff😀ü"
    given = {"name": words, "list": [{"x": words}], words: 1}
    cut = read_cut(DEMO / "the-long-tide.otio")
    title = replace(cut.titles[0], answers=given, marked={"name": words, "number": 1, "frame": 2, "length": 3, "answers": {"name": words}})
    write_cut(replace(cut, titles=(title,)), tmp_path / "a.otio")
    whole, (read,) = words.replace("\0", ""), read_cut(tmp_path / "a.otio").titles
    assert read.answers == {"name": whole, "list": [{"x": whole}], whole: 1}
    assert (read.marked["name"], read.marked["answers"]) == (whole, {"name": whole})


def test_a_cut_names_no_package_outside_the_library_and_nests_not_too_deeply(tmp_path):
    words = (DEMO / "the-long-tide.otio").read_text()
    path = tmp_path / "a.otio"
    for name in ("../name-strap.avlet", "/etc/passwd", "a/b.avlet", "..", "x" * 300, "a\\u0000b"):
        path.write_text(words.replace("name-strap.avlet", name))
        with pytest.raises(StorageError):
            read_cut(path)
    for hostile in ('{"a":' * 5000 + "1" + "}" * 5000, '{"OTIO_SCHEMA":"SerializableObjectRef.1","id":"a"}', "[]", "null", "\x00", "1e999"):
        path.write_text(hostile)
        with pytest.raises(StorageError):
            read_cut(path)
    assert is_file_name("name-strap.avlet") and not is_file_name("")
