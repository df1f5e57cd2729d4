"""Handing over: versions, manifests, previews, libraries of several folders, answers that survive any pair of versions, a stranger's machine."""

import fcntl
import io
import json
import os
import threading

import av
import numpy as np
import pytest
from conftest import DEMO, plated
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from avlet.document.cards import carding
from avlet.document.cards.answers import check_answers
from avlet.document.cards.card import Card, Sample, Section
from avlet.document.editing import edits
from avlet.document.fields import (
    ChoiceField,
    ColourField,
    FontChoice,
    FontField,
    LengthField,
    NumberField,
    Option,
    PictureField,
    SwitchField,
    TextField,
)  # fmt: skip
from avlet.document.parts import PictureFile, PicturePart
from avlet.document.versions import carried_over, what_is_new
from avlet.errors import StorageError
from avlet.paint.scene import Scene
from avlet.review.stranger import check_package
from avlet.storage import handing_over
from avlet.storage.archive import read_files, write_zip
from avlet.storage.handing_over import HandedOver, bring_back, hand_over, version_path, versions_of
from avlet.storage.library import find_package, import_package, scan, scan_all
from avlet.storage.manifest import MANIFEST, FontNote, Manifest, read_manifest
from avlet.storage.package import TEMPLATE, open_template, save_template
from avlet.storage.preview import preview_webp
from avlet.storage.settings import FILE, Settings, read_settings, starred, used, with_answers, write_settings
from avlet.text.fonts import bundled_fonts

replace = edits.replace


def test_handing_over_again_makes_versions_and_the_old_ones_stay(tmp_path, book):
    first = hand_over(plated(), book, tmp_path, "The beginning")
    assert (first.version, first.changed) == (1, True)
    again = hand_over(plated(), book, tmp_path)
    assert (again.version, again.changed) == (1, False)
    taller = edits.set_property(plated(), "plate/fit.top", 80)
    second = hand_over(taller, book, tmp_path, "Taller")
    assert second.version == 2
    assert [(v.number, v.note, v.present) for v in versions_of(second.path)] == [(2, "Taller", True), (1, "The beginning", False)]
    assert open_template(version_path(second.path, 1)).template == plated()
    assert open_template(version_path(second.path, 2)).template == taller
    back = bring_back(second.path, 1)
    assert back.version == 3
    assert open_template(back.path).template == plated()
    assert open_template(back.path).manifest.note == "Back to version 1"
    assert [e.version for e in scan(tmp_path)] == [3]


def test_a_package_that_was_only_saved_becomes_version_one_when_another_follows(tmp_path, book):
    save_template(plated(), tmp_path / "plated.avlet", book)
    done = hand_over(edits.set_property(plated(), "plate/corner", 3), book, tmp_path)
    assert done.version == 2
    assert open_template(version_path(done.path, 1)).template == plated()


def test_a_handed_over_package_is_never_written_but_by_handing_over(tmp_path, book):
    done = hand_over(plated(), book, tmp_path, "Note")
    before = done.path.read_bytes()
    with pytest.raises(StorageError, match="handed over, as version 1, and cuts may use it"):
        save_template(plated("Bo Li"), done.path, book)
    assert done.path.read_bytes() == before
    assert hand_over(plated("Bo Li"), book, tmp_path).version == 2


def test_templates_whose_names_read_alike_do_not_replace_each_other(tmp_path, book):
    first = hand_over(replace(plated(), name="★"), book, tmp_path)
    other = hand_over(replace(plated(), name="☆"), book, tmp_path)
    assert (first.version, other.version, first.path == other.path) == (1, 1, False)
    assert hand_over(replace(plated("Bo Li"), name="☆"), book, tmp_path) == HandedOver(other.path, 2)
    assert open_template(first.path).template.name == "★"
    assert hand_over(replace(plated(), name="渡辺 汐"), book, tmp_path).path.name == "du-bian-xi.avlet"


def test_a_variant_remembers_where_it_comes_from(tmp_path, book):
    made = replace(plated(), name="Plated, wide", derived_from="Plated")
    opened = open_template(hand_over(made, book, tmp_path).path)
    assert (opened.template.derived_from, opened.manifest.derived_from) == ("Plated", "Plated")


def test_the_preview_is_an_animated_webp_that_others_can_read(book, name_strap):
    # Pillow's and FFmpeg's own decoders are the reference.
    data = preview_webp(name_strap, book)
    with Image.open(io.BytesIO(data)) as image:
        assert (image.format, image.size, image.is_animated) == ("WEBP", (240, 135), True)
        assert 12 <= image.n_frames <= 74
        image.seek(0)
        first = np.asarray(image.convert("RGB")).astype(int)
        image.seek(image.n_frames // 2)
        middle = np.asarray(image.convert("RGB")).astype(int)
    assert np.abs(first - first[0, 0]).max() < 12  # nothing shows in the first frame
    assert np.abs(middle - middle[0, 0]).max() > 100
    with av.open(io.BytesIO(data)) as container:
        assert container.streams.video[0].codec_context.name == "webp"


def test_what_may_not_travel_is_named_and_its_sizes_are_remembered(tmp_path):
    # The reference for embedding bits is fontTools' reading of OS/2.fsType (OpenType, OS/2 table).
    face = bundled_fonts().find("Fira Sans", "Bold")[0]
    font = TTFont(io.BytesIO(face.data))
    assert font["OS/2"].fsType & 0x0002 == 0
    font["OS/2"].fsType = 0x0002
    for name in font["name"].names:
        if name.nameID in (1, 16):
            font["name"].setName("Kept Here", name.nameID, name.platformID, name.platEncID, name.langID)
    out = io.BytesIO()
    font.save(out)
    from avlet.text.fonts import read_face

    book = bundled_fonts().with_first((read_face(out.getvalue(), "kept.ttf"),))
    template = edits.set_property(edits.set_property(plated("Odalys"), "name/family", "Kept Here"), "name/size", 90)
    done = hand_over(template, book, tmp_path)
    manifest = open_template(done.path).manifest
    assert FontNote("Kept Here Bold", False) in manifest.fonts
    width = Scene(template, book).rest.parts["name"].box.w
    assert manifest.sizes["name"][0] == pytest.approx(width, abs=0.001)
    narrower = {**read_files(done.path), MANIFEST: json.dumps({"version": 1, "fonts": [{"name": "Kept Here Bold", "carried": False}],
                                                               "sizes": {"name": [width - 40, 99]}}).encode()}  # fmt: skip
    write_zip(done.path, narrower)
    notes = open_template(done.path).notes
    assert any("Name is now" in n and f"its author had {width - 40:.0f} × 99 px" in n for n in notes)
    report = check_package(done.path)
    assert not report.holds
    assert any("Kept Here" in n for n in report.notes)


def test_demo_packages_hold_at_a_strangers():
    for name in ("name-strap", "guest-strap"):
        report = check_package(DEMO / f"{name}.avlet")
        assert report.holds, report
        assert report.version == 1
        assert report.plain()["differences"] == []


def test_pictures_that_are_answers_travel_as_files(tmp_path, book):
    picture = PictureFile("boat.png", b"\x89PNG not really")
    parts = (*plated().parts, PicturePart(id="photo", name="Photo", picture=PictureFile("")))
    card = Card(sections=(Section("", (PictureField(id="photo", label="Photo", default=picture),)),))
    answer = {"photo": {"name": "other.png", "data": "YWJj"}}
    template = replace(plated(), parts=parts, card=card, samples=(Sample("s", "S", answer),))
    template = carding.wire_up(template, "photo", "photo/picture")
    done = hand_over(template, book, tmp_path)
    assert len([n for n in read_files(done.path) if n.startswith("pictures/")]) == 2
    opened = open_template(done.path).template
    assert opened.card.field("photo").default.data == picture.data
    assert opened.samples[0].answers["photo"]["data"] == "YWJj"


def test_two_avlets_do_not_write_one_library_at_once(tmp_path, book, monkeypatch):
    monkeypatch.setattr(handing_over, "_PATIENCE", 0.2)
    with (tmp_path / ".avlet-lock").open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        with pytest.raises(StorageError, match="Another Avlet is writing"):
            hand_over(plated(), book, tmp_path)
    assert hand_over(plated(), book, tmp_path).version == 1
    monkeypatch.setattr(handing_over, "_PATIENCE", 20)
    threads = [
        threading.Thread(target=hand_over, args=(edits.set_property(plated(), "plate/corner", n), book, tmp_path)) for n in (1, 2, 3)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert [v.number for v in versions_of(tmp_path / "plated.avlet")] == [4, 3, 2, 1]


def test_a_library_that_cannot_be_written_is_said(tmp_path, book, monkeypatch):
    (tmp_path / "file").write_text("not a folder")
    with pytest.raises(StorageError, match="cannot be written"):
        hand_over(plated(), book, tmp_path / "file")
    before = hand_over(plated(), book, tmp_path / "lib").path.read_bytes()
    monkeypatch.setattr(os, "fsync", lambda fd: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    with pytest.raises(StorageError, match="No space left"):
        hand_over(edits.set_property(plated(), "plate/corner", 9), book, tmp_path / "lib")
    assert (tmp_path / "lib" / "plated.avlet").read_bytes() == before


def test_shared_folders_are_read_and_gone_ones_said(tmp_path, book):
    own, shared = tmp_path / "own", tmp_path / "shared"
    hand_over(plated(), book, own)
    hand_over(replace(plated(), name="From afar"), book, shared)
    hand_over(edits.set_property(plated(), "plate/corner", 9), book, shared)
    scanned = scan_all([own, shared])
    entries, said = scanned.entries, scanned.said
    assert ([e.name for e in entries], said) == (["From afar", "Plated"], [])
    assert entries[1].path.parent == own
    assert find_package([own, shared], "from-afar.avlet").parent == shared
    scanned = scan_all([own, tmp_path / "gone"])
    entries, said = scanned.entries, scanned.said
    assert len(entries) == 1
    assert "is not there any more" in said[0]


def test_packages_are_imported_whole_or_refused_with_their_reason(tmp_path, book):
    package = hand_over(plated(), book, tmp_path / "a").path
    target = import_package(package, tmp_path / "b")
    assert open_template(target).template == plated()
    with pytest.raises(StorageError, match=r"has a “plated\.avlet” already"):
        import_package(package, tmp_path / "b")
    (tmp_path / "torn.avlet").write_bytes(b"PK torn")
    with pytest.raises(StorageError, match="was not taken into the library"):
        import_package(tmp_path / "torn.avlet", tmp_path / "b")
    assert import_package(DEMO / "name-strap.avlet", tmp_path / "b").is_file()


def test_settings_are_kept_and_damaged_ones_do_no_harm(tmp_path):
    settings = with_answers(used(starred(Settings(), "a.avlet", True), "a.avlet"), "Bo", {"Name": "Bo Li"})
    write_settings(tmp_path, settings)
    assert read_settings(tmp_path) == settings
    assert starred(settings, "a.avlet", False).starred == ()
    (tmp_path / FILE).write_text("{")
    assert read_settings(tmp_path) == Settings()
    assert read_manifest(b"{") is None
    assert read_manifest(b'{"version": 3}') == Manifest(version=3)


# Answers from version to version

KINDS = [
    lambda i: TextField(id=i, label=i, longest=10), lambda i: TextField(id=i, label=i, several_lines=True, may=("size", "alignment")),
    lambda i: NumberField(id=i, label=i, low=0, high=50), lambda i: NumberField(id=i, label=i, low=-10, high=200),
    lambda i: SwitchField(id=i, label=i), lambda i: LengthField(id=i, label=i, low=1, high=99, default=9), lambda i: ColourField(id=i, label=i),
    lambda i: ChoiceField(id=i, label=i, default="a", options=(Option("a", "A"), Option("b", "B"))),
    lambda i: FontField(id=i, label=i, default="Fira Sans Bold", fonts=(FontChoice("Fira Sans", "Bold"),)),
]  # fmt: skip
ANSWERS = st.one_of(
    st.text("ab\n", max_size=14), st.floats(-20, 300), st.booleans(), st.integers(1, 120), st.sampled_from(["a", "b", "#112233", "Fira Sans Bold"]),
    st.fixed_dictionaries({"text": st.text("ab", max_size=12)}, optional={"size": st.floats(1, 90), "align": st.sampled_from(["start", "end"])}),
)  # fmt: skip


@st.composite
def cards(draw):
    ids = draw(st.lists(st.sampled_from(["p", "q", "r", "s"]), unique=True))
    return replace(plated(), card=Card(sections=(Section("", tuple(draw(st.sampled_from(KINDS))(i) for i in ids)),)))


@given(cards(), cards(), st.data())
def test_answers_survive_any_pair_of_versions(one, other, data):
    given_answers = carried_over(one, {f.id: data.draw(ANSWERS) for f in one.card.fields}, {}).answers
    check_answers(one, given_answers)
    there = carried_over(other, given_answers, {})
    check_answers(other, there.answers)
    back = carried_over(one, there.answers, there.aside)
    assert back.answers == given_answers
    assert carried_over(one, given_answers, {}).said == ()


def test_what_is_new_is_said_in_words():
    old = carding.put_on_card(plated(), "plate/corner", "Corners")[0]
    new = carding.put_on_card(old, "plate/opacity", "See-through")[0]
    new = carding.change_field(new, "corners", high=9, default=5, label="Roundness")
    assert what_is_new(old, new) == [
        "New: See-through.", "“Corners” is now called “Roundness”.", "“Roundness” has other limits.", "“Roundness” starts otherwise.",
    ]  # fmt: skip
    assert what_is_new(new, old)[0] == "Gone: See-through."
    assert what_is_new(old, old) == []
    assert what_is_new(old, edits.set_property(old, "plate/fit.top", 1)) == ["Its design has changed."]


def test_formatting_is_set_aside_and_comes_back():
    may = replace(plated(), card=Card(sections=(Section("", (TextField(id="t", label="T", may=("size",)),)),)))
    plain = replace(plated(), card=Card(sections=(Section("", (TextField(id="t", label="T"),)),)))
    there = carried_over(plain, {"t": {"text": "Bo", "size": 9}}, {})
    assert (there.answers, there.aside) == ({"t": "Bo"}, {"t": {"text": "Bo", "size": 9}})
    assert "keeps its words; its formatting is set aside" in there.said[0]
    assert carried_over(may, there.answers, there.aside).answers == {"t": {"text": "Bo", "size": 9}}
    assert carried_over(may, {"t": "Íris"}, there.aside).answers == {"t": "Íris"}


def test_a_newer_package_is_refused_and_a_missing_manifest_is_not_needed(tmp_path, book):
    done = hand_over(plated(), book, tmp_path)
    files = read_files(done.path)
    del files[MANIFEST]
    write_zip(done.path, files)
    assert open_template(done.path).manifest is None
    write_zip(done.path, {**files, TEMPLATE: files[TEMPLATE].replace(b'"format": 1', b'"format": 7')})
    with pytest.raises(StorageError, match="newer Avlet"):
        open_template(done.path)
