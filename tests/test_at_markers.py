"""What is shown of a stranger's timeline, and titles at its markers: made, made again, by table, too close together, with hostile words."""

import itertools

import av
import numpy as np
import opentimelineio as otio
import pytest
from conftest import DEMO
from opentimelineio.opentime import RationalTime, TimeRange

from avlet.document.cards.card import Section
from avlet.document.cut import put_title, remove_title, replace, set_answers
from avlet.document.fields import ColourField
from avlet.media.at_markers import chosen_marks, read_mark, titles_at
from avlet.media.theirs import Mark, theirs_of
from avlet.media.timeline import read_cut, write_cut
from avlet.storage.package import open_template

STRAP = open_template(DEMO / "name-strap.avlet").template
RATE = 24000 / 1001


def span(start, length, rate=RATE):
    return TimeRange(RationalTime(start, rate), RationalTime(length, rate))


def timeline_with(marks, length=1500, rate=RATE, begin=0):
    timeline = otio.schema.Timeline("Reel")
    if begin:
        timeline.global_start_time = RationalTime(begin, rate)
    track = otio.schema.Track("V1", kind="Video")
    track.append(otio.schema.Clip("shot", source_range=span(100, length, rate)))
    timeline.tracks.append(track)
    for frame, name, *more in marks:
        comment, colour, lasts = (*more, *("", "RED", 0)[len(more) :])
        timeline.tracks.markers.append(otio.schema.Marker(name=name, color=colour, comment=comment, marked_range=span(frame, lasts, rate)))
    return timeline


def cut_with(tmp_path, marks, **named):
    otio.adapters.write_to_file(timeline_with(marks, **named), str(tmp_path / "reel.otio"))
    return read_cut(tmp_path / "reel.otio")


def made(cut, **named):
    return titles_at(cut, theirs_of(cut).marks, "name-strap.avlet", STRAP, 1, **named)


# What is shown


def test_tracks_gaps_dissolves_and_speeds_lie_where_theirs_do(tmp_path):
    timeline = timeline_with([])
    track = timeline.tracks[0]
    track.insert(0, otio.schema.Gap(duration=RationalTime(24, RATE)))
    track.append(otio.schema.Transition(in_offset=RationalTime(6, RATE), out_offset=RationalTime(12, RATE)))
    slow = otio.schema.Clip(
        "slow", otio.schema.ExternalReference("slow.mov"), span(48, 30), effects=[otio.schema.LinearTimeWarp(time_scalar=0.5)]
    )
    track.append(slow)
    sound = otio.schema.Track(kind="Audio")
    sound.append(otio.schema.Clip("voice", otio.schema.ExternalReference("file:///elsewhere/voice.wav"), span(0, 99)))
    timeline.tracks.append(sound)
    timeline.tracks.append(otio.schema.Track("other", kind="Captions"))
    otio.adapters.write_to_file(timeline, str(tmp_path / "reel.otio"))
    cut = read_cut(tmp_path / "reel.otio")
    pictures, voices = theirs_of(cut).tracks
    assert [(t.name, t.is_sound) for t in (pictures, voices)] == [("V1", False), ("A1", True)]
    assert [(c.begin, c.length, c.dissolves, c.speed) for c in pictures.clips] == [(24, 1500, 0, 1.0), (1524, 30, 18, 0.5)]
    assert pictures.clips[1].file == tmp_path / "slow.mov" and float(pictures.clips[1].into) == pytest.approx(48 / RATE)
    assert str(voices.clips[0].file) == "/elsewhere/voice.wav"


def test_markers_of_timeline_track_and_clip_stand_at_their_frames(tmp_path):
    timeline = timeline_with([(30, "whole")])
    track = timeline.tracks[0]
    track.insert(0, otio.schema.Gap(duration=RationalTime(24, RATE)))
    track.markers.append(otio.schema.Marker(name="track", marked_range=span(50, 0)))
    track[1].markers.append(otio.schema.Marker(name="clip", marked_range=span(110, 5)))
    track[1].markers.append(otio.schema.Marker(name="cut away", marked_range=span(40, 5)))
    otio.adapters.write_to_file(timeline, str(tmp_path / "reel.otio"))
    marks = theirs_of(read_cut(tmp_path / "reel.otio")).marks
    assert [(m.name, m.frame, m.length, m.track) for m in marks] == [("whole", 30, 0, ""), ("clip", 34, 5, "V1"), ("track", 50, 0, "V1")]


def test_markers_that_count_from_the_timecode_of_the_beginning(tmp_path):
    cut = cut_with(tmp_path, [(86_400 + 48, "an hour on")], begin=86_400)
    assert [m.frame for m in theirs_of(cut).marks] == [48] and cut.start_time == 86_400


@pytest.mark.parametrize(("sizes", "expected"), [
    ([(640, 360), (640, 360), (1280, 720)], (640, 360)),
        ([(640, 360), (640, 360), (1280, 720), "2", "2"], (1280, 720)), ([(64, 64)], (64, 64)), ([], (1920, 1080)), ([(64, 64), None, None], (64, 64)),
])  # fmt: skip
def test_a_cut_is_as_large_as_most_of_its_films(tmp_path, sizes, expected):
    timeline = otio.schema.Timeline("Reel")
    timeline.tracks.append(otio.schema.Track("V1", kind="Video"))
    for number, size in enumerate(sizes):
        path = tmp_path / f"{size if isinstance(size, str) else number}.mov"
        if not isinstance(size, str):
            path.write_bytes(b"no film")
        if isinstance(size, tuple):
            with av.open(str(path), "w") as container:
                stream = container.add_stream("png", rate=24)
                stream.width, stream.height, stream.pix_fmt = *size, "rgb24"
                container.mux(stream.encode(av.VideoFrame.from_ndarray(np.zeros((size[1], size[0], 3), np.uint8), format="rgb24")))
                container.mux(stream.encode(None))
        timeline.tracks[0].append(otio.schema.Clip(f"{number}", otio.schema.ExternalReference(path.name), span(0, 10)))
    otio.adapters.write_to_file(timeline, str(tmp_path / "reel.otio"))
    cut = read_cut(tmp_path / "reel.otio")
    assert (cut.frame.width, cut.frame.height) == expected
    write_cut(replace(cut, frame=replace(cut.frame, width=3840, height=2160)), tmp_path / "reel.otio")
    assert read_cut(tmp_path / "reel.otio").frame.width == 3840, "what was chosen counts, not what is probed"


# Titles at markers


def test_a_marker_gives_its_name_and_what_its_comment_says():
    mark = Mark(0, 0, "Bo Li", "role: Ringer\nBar colour: #112233\nnobody: x\nno colon\nside:", "red", "")
    answers, said = read_mark(STRAP, mark)
    assert answers == {"name": "Bo Li", "role": "Ringer", "bar-colour": "#112233"}
    assert said == ["“nobody” is no field of Name strap."]


def test_a_house_colour_is_named_by_a_comment():
    guest = open_template(DEMO / "guest-strap.avlet").template
    field = ColourField(id="tint", label="Tint", default="brand", may_be="house palette")
    asked = replace(guest, card=replace(guest.card, sections=(*guest.card.sections, Section("More", (field,)))))
    assert read_mark(asked, Mark(0, 0, "Bo", "tint: Brand", "red", ""))[0]["tint"] == "brand"
    assert "tint" not in read_mark(asked, Mark(0, 0, "Bo", "tint: Nobody", "red", ""))[0]


@pytest.mark.parametrize(
    "comment", ["Bar colour: blueish", "role: " + "x" * 5_000, "role\0: a", ":" * 400, "on: maybe", "role: \u202eevil"]
)
def test_hostile_comments_are_said_and_stop_nothing(comment):
    answers, _ = read_mark(STRAP, Mark(0, 0, "Bo", comment, "red", ""))
    assert answers["name"] == "Bo" and set(answers) <= {"name", "role"}


def test_titles_come_in_order_with_their_answers_and_all_of_theirs_stays(tmp_path):
    cut = cut_with(tmp_path, [(400, "Odalys Brandt", "role: Marsh ecologist"), (100, "Bo Li"), (700, "Nkechi Arundel")])
    result = made(cut)
    assert [(t.start, t.length, t.answers["name"], t.number) for t in result.cut.titles] == [
        (100, 120, "Bo Li", 1), (400, 120, "Odalys Brandt", 2), (700, 120, "Nkechi Arundel", 3)
    ]  # fmt: skip
    assert {one.done for one in result.marks} == {"new"} and result.cut.titles[1].answers["role"] == "Marsh ecologist"
    write_cut(result.cut, tmp_path / "out.otio")
    theirs = otio.adapters.read_from_file(str(tmp_path / "out.otio"))
    before = otio.adapters.read_from_file(str(tmp_path / "reel.otio"))
    assert theirs.tracks[0].is_equivalent_to(before.tracks[0]) and len(theirs.tracks.markers) == 3
    assert made(read_cut(tmp_path / "out.otio")).marks[0].done == "as it is", "they are known again from the file"


def test_done_again_only_what_changed_at_the_markers_changes(tmp_path):
    marks = [(100, "Bo Li", "role: Ringer"), (400, "Odalys Brandt", "role: Ecologist"), (700, "Nkechi Arundel"), (900, "Teodor Våge")]
    first = made(cut_with(tmp_path, marks)).cut
    by_name = {t.answers["name"]: t for t in first.titles}
    typed = set_answers(first, by_name["Bo Li"].id, {"name": "Bo Li", "role": "Bird ringer"})
    again = [(100, "Bo Li", "role: Ringer"), (450, "Odalys Brandt", "role: Marsh ecologist"), (900, "Teodor V."), (1100, "Íris Þórdal")]
    changed = replace(cut_with(tmp_path, again), titles=typed.titles, numbers=typed.numbers)
    result = made(changed)
    now = {t.id: t for t in result.cut.titles}
    assert [one.done for one in result.marks] == ["as it is", "moved, other words", "other words", "new"]
    assert now[by_name["Bo Li"].id].answers["role"] == "Bird ringer", "what was typed since stays"
    assert (now[by_name["Odalys Brandt"].id].start, now[by_name["Odalys Brandt"].id].answers["role"]) == (450, "Marsh ecologist")
    assert now[by_name["Teodor Våge"].id].answers["name"] == "Teodor V."
    assert result.gone == (by_name["Nkechi Arundel"].id,) and by_name["Nkechi Arundel"].id in now, "that one stays, and is told"
    assert {one.done for one in made(result.cut).marks} == {"as it is"}


def test_one_name_twice_is_two_titles_and_a_word_that_goes_from_the_comment_goes_from_the_title(tmp_path):
    first = made(cut_with(tmp_path, [(100, "Bo Li", "role: Ringer"), (400, "Bo Li")])).cut
    assert len(first.titles) == 2
    result = made(replace(cut_with(tmp_path, [(100, "Bo Li"), (420, "Bo Li")]), titles=first.titles))
    assert [one.done for one in result.marks] == ["other words", "moved"] and "role" not in result.cut.titles[0].answers
    assert len(result.cut.titles) == 2


@pytest.mark.parametrize(("lasts", "expected"), [("template", [120, 120, 120]), ("next", [300, 50, 120]), ("marker", [80, 120, 120])])
def test_how_long_each_lasts(tmp_path, lasts, expected):
    cut = cut_with(tmp_path, [(100, "A", "", "RED", 80), (400, "B"), (450, "C")])
    result = made(cut, lasts=lasts)
    assert [result.cut.title(one.title).length for one in result.marks] == expected
    assert [t.track for t in result.cut.titles].count(1) == (0 if lasts == "next" else 1), "what overlaps goes on the other track"


def test_where_both_tracks_are_taken_a_title_ends_before_the_next_and_it_is_said(tmp_path):
    result = made(cut_with(tmp_path, [(100, "A"), (110, "B"), (130, "C"), (130, "D")]))
    titles = sorted(result.cut.titles, key=lambda t: (t.track, t.start))
    assert len(titles) == 4
    for a, b in itertools.pairwise(titles):
        assert a.track != b.track or b.start >= a.end, "none lies over another"


def test_only_some_markers_are_taken():
    marks = [Mark(1, 0, "a", "", "red", ""), Mark(2, 0, "b", "", "green", "V1"), Mark(3, 0, "c", "", "red", "V1")]
    assert [m.name for m in chosen_marks(marks, "red")] == ["a", "c"] and [m.name for m in chosen_marks(marks, "red", "V1")] == ["c"]
    assert [m.name for m in chosen_marks(marks, track="")] == ["a"] and len(chosen_marks(marks)) == 3


def test_the_rows_of_a_table_go_to_the_markers_in_order(tmp_path):
    result = made(cut_with(tmp_path, [(100, "1"), (400, "2"), (700, "3")]), rows=[["Bo Li", "Ringer"], ["Odalys", ""]])
    assert [dict(t.answers) for t in result.cut.titles] == [{"name": "Bo Li", "role": "Ringer"}, {"name": "Odalys"}, {}]
    assert result.marks[2].said == ("The table has no row for it.",)


@pytest.mark.parametrize(("heads", "taken"), [
    (["Name", "Role"], True), (["ROLE", ""], True), (["name", "bar colour"], True), (["Name", "Ringer"], False), (["", ""], False), ([], False),
])  # fmt: skip
def test_heads_that_name_fields_are_no_row(tmp_path, heads, taken):
    result = made(cut_with(tmp_path, [(100, "1"), (400, "2")]), rows=[heads, ["Bo Li", "Ringer"]])
    assert (result.cut.titles[0].answers.get("name") == "Bo Li") is taken
    assert not made(cut_with(tmp_path, [(100, "1")]), rows=[]).cut.titles[0].answers


def test_a_title_that_was_taken_off_comes_again_and_another_template_is_another_title(tmp_path):
    cut = made(cut_with(tmp_path, [(100, "A")])).cut
    assert [one.done for one in made(remove_title(cut, cut.titles[0].id)).marks] == ["new"]
    other = titles_at(cut, theirs_of(cut).marks, "side-rule.avlet", open_template(DEMO / "side-rule.avlet").template)
    assert [one.done for one in other.marks] == ["new"] and len(other.cut.titles) == 2
    assert put_title(cut, cut.titles[0]) == cut
