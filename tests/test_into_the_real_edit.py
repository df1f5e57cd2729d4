"""The whole job by hands: a stranger's timeline with sound comes in at 23.976, gets eleven titles at its markers, is corrected twice, goes out."""

import json

import av
import opentimelineio as otio
from hands import render_titles, settle, type_into
from opentimelineio.opentime import RationalTime, TimeRange
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication
from test_cut_sound import write_clap

from avlet.document.template import Frame

RATE = 24000 / 1001
LEFT = Qt.MouseButton.LeftButton
NAMES = ["Bo Li", "Odalys Brandt", "Teodor Våge", "Ioana Crețu-Whitlock", "渡辺 汐", "Nkechi Arundel", "Tomas Lindqvist", "Ada Vik", "Íris Þórdal",
         "Cai", "Wilhelmina Featherstonehaugh"]  # fmt: skip


def span(start, frames):
    return TimeRange(RationalTime(start, RATE), RationalTime(frames, RATE))


def reel(folder):
    """Two picture tracks with a gap and a dissolve, sound, effects and metadata of another program, eleven markers."""
    write_clap(folder / "shot.mov", 30, 3.0, "24000/1001")
    timeline = otio.schema.Timeline("Reel 7", global_start_time=RationalTime(86_400, RATE), metadata={"theirs": {"bin": [1, {"x": None}]}})
    first, second, sound = (otio.schema.Track(name, kind=kind) for name, kind in (("V1", "Video"), ("V2", "Video"), ("A1", "Audio")))
    for track in (first, second, sound):
        for number in range(4):
            clip = otio.schema.Clip(f"shot {number}", otio.schema.ExternalReference("shot.mov", span(0, 72)), span(0, 60))
            clip.metadata["theirs"] = {"grade": number}
            track.append(clip)
    first.insert(2, otio.schema.Transition(in_offset=RationalTime(6, RATE), out_offset=RationalTime(6, RATE)))
    second.insert(1, otio.schema.Gap(source_range=span(0, 40)))
    first[0].effects.append(otio.schema.Effect(effect_name="theirs", metadata={"amount": 0.5}))
    timeline.tracks.extend([first, second, sound])
    for number, name in enumerate(NAMES):
        timeline.tracks.markers.append(
            otio.schema.Marker(name=name, color="RED", marked_range=span(number * 20, 18), comment="role: Guest")
        )
    otio.adapters.write_to_file(timeline, str(folder / "reel.otio"))
    return timeline


def theirs_in(path):
    """A timeline without what Avlet put on it."""
    timeline = otio.adapters.read_from_file(str(path))
    ours = [track for track in timeline.tracks if track.name.startswith("Words ")]
    assert ours
    for track in ours:
        timeline.tracks.remove(track)
    return timeline


def test_a_strangers_timeline_gets_eleven_titles_is_corrected_twice_and_goes_out_unharmed(window, qtbot, tmp_path):
    theirs, films = reel(tmp_path), tmp_path / "films"
    window.files.open_path(tmp_path / "reel.otio")
    window.show_desk()
    settle()
    session, desk = window.cut_session, window.desk
    assert session.cut.frame == Frame(64, 36, "24000/1001") and desk.time.text() == "01:00:00:00"

    def at_markers():
        dialog = QApplication.activeModalWidget()
        dialog.template.setCurrentIndex(dialog.template.findData("name-strap.avlet"))
        dialog.lasts.setCurrentIndex(dialog.lasts.findData("marker"))
        qtbot.mouseClick(dialog.make, LEFT)

    QTimer.singleShot(300, at_markers)
    qtbot.mouseClick(desk.markers, LEFT)
    assert [(t.start, t.length, t.answers["name"], t.answers["role"]) for t in session.cut.titles] == [
        (number * 20, 18, name, "Guest") for number, name in enumerate(NAMES)
    ]
    assert len(render_titles(window, qtbot, films)) == 11
    for number, words in ((3, "Ioana Crețu-Whitlok"), (6, "Tomas Lindquist")):
        before = {path.name: path.stat().st_mtime_ns for path in films.glob("*.mov")}
        session.select(session.cut.titles[number].id)
        settle()
        type_into(qtbot, desk.card.inputs["name"], words)
        assert session.cut.titles[number].answers["name"] == words
        after = {path.name: path.stat().st_mtime_ns for path in render_titles(window, qtbot, films)}
        assert [name for name in before if after[name] != before[name]] == [f"T{number + 1:04}-name-strap.mov"], "one film newer, no other"
        assert set(after) == set(before)
    window.files.save_cut()
    assert not session.unsaved
    out = theirs_in(tmp_path / "reel.otio")
    assert out.is_equivalent_to(theirs), "nothing of theirs changed"
    (delivered,) = films.glob("*.otio")
    beside = otio.adapters.read_from_file(str(delivered))
    words = [clip for track in beside.tracks if track.name.startswith("Words ") for clip in track if isinstance(clip, otio.schema.Clip)]
    assert sorted(clip.media_reference.target_url for clip in words) == [f"T{n + 1:04}-name-strap.mov" for n in range(11)]
    for clip in words:
        with av.open(str(films / clip.media_reference.target_url)) as film:
            assert film.streams.video[0].codec_context.name == "qtrle"
    assert len(json.loads((films / "delivery.json").read_text())["files"]) == 11
