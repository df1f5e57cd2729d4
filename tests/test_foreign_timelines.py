"""Timelines from elsewhere: whatever they hold is kept through open, edit, save, undo and recovery, by OpenTimelineIO's own comparison."""

import json
import random
from fractions import Fraction

import opentimelineio as otio
import pytest
from conftest import DEMO
from hands import settle
from PyQt6.QtCore import Qt

from avlet.document.cut import PictureClip, Title, move_picture, numbered, put_title, remove_title, replace, trim_picture
from avlet.document.editing import edits
from avlet.errors import StorageError
from avlet.media.cut_film import paint_picture
from avlet.media.foreign import shown_pictures, theirs_words
from avlet.media.timeline import cut_bytes, cut_from, read_cut, write_cut, write_rendered
from avlet.paint.painter import new_pixels

RATES = (24.0, 25.0, 30.0, 24000 / 1001, 30000 / 1001, 60.0, 120.0)


def span(rng, rate, most=90, whole=True):
    start = rng.randint(0, 40) if whole else rng.uniform(0, 40)
    return otio.opentime.TimeRange(otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(rng.randint(2, most), rate))


def marks(rng, rate):
    return [
        otio.schema.Marker(
            name=f"mark {n}", marked_range=span(rng, rate, 5), color=rng.choice(["RED", "GREEN"]), metadata={"note": {"n": n}}
        )
        for n in range(rng.randint(0, 2))
    ]


def effects(rng):
    made = [
        otio.schema.LinearTimeWarp(time_scalar=rng.choice([-1.0, 0.5, 2.0])), otio.schema.FreezeFrame(),
        otio.schema.Effect(name="blur", effect_name="blur", metadata={"radius": 4.5}),
    ]  # fmt: skip
    return rng.sample(made, rng.randint(0, 2))


def reference(rng, rate):
    whole = otio.opentime.TimeRange(otio.opentime.RationalTime(0, rate), otio.opentime.RationalTime(500, rate))
    return rng.choice([
        otio.schema.ExternalReference(target_url="file:///there/shot one.mov", available_range=whole),
        otio.schema.MissingReference(name="gone"),
        otio.schema.ImageSequenceReference("file:///seq/", "a.", ".exr", 1, 1, rate, 4, available_range=whole),
        otio.schema.GeneratorReference(name="bars", generator_kind="SMPTEBars", parameters={"loud": True}, available_range=whole),
    ])  # fmt: skip


def clip(rng, rate, name):
    made = otio.schema.Clip(name=name, media_reference=reference(rng, rate), source_range=span(rng, rate, whole=rng.random() < 0.8))
    if rng.random() < 0.2:
        made.set_media_references({"high": reference(rng, rate), "proxy": reference(rng, rate)}, "proxy")
    made.metadata["other program"] = {"bin": rng.choice(["A", "B"]), "deep": [1, {"x": None}]}
    made.markers.extend(marks(rng, rate))
    made.effects.extend(effects(rng))
    made.enabled = rng.random() < 0.9
    return made


def filled(rng, track, rate, depth=0):
    for n in range(rng.randint(0, 5)):
        kind = rng.random()
        if kind < 0.2:
            track.append(otio.schema.Gap(source_range=span(rng, rate)))
        elif kind < 0.35 and depth < 2:
            inner = otio.schema.Stack(name="nested") if rng.random() < 0.5 else otio.schema.Track(name="nested", kind=track.kind)
            if isinstance(inner, otio.schema.Stack):
                inner.append(filled(rng, otio.schema.Track(name="in it"), rate, depth + 1))
            else:
                filled(rng, inner, rate, depth + 1)
            inner.markers.extend(marks(rng, rate))
            track.append(inner)
        else:
            track.append(clip(rng, rate, f"{track.name} {n}"))
            if n and rng.random() < 0.3 and isinstance(track[-2], otio.schema.Clip):
                half = otio.opentime.RationalTime(2, rate)
                track.insert(len(track) - 1, otio.schema.Transition(transition_type="SMPTE_Dissolve", in_offset=half, out_offset=half))
    track.effects.extend(effects(rng))
    return track


def timeline_of(seed):
    """A timeline as any other program may write it."""
    rng = random.Random(seed)
    rate = rng.choice(RATES)
    made = otio.schema.Timeline(name=rng.choice(["Ep 1", "", "Schnitt – neu"]))
    if rng.random() < 0.5:
        made.global_start_time = otio.opentime.RationalTime(rng.choice([0, 86400, 90000]), rate)
    made.metadata["other program"] = {"version": seed, "nothing": None}
    for n in range(rng.randint(1, 3)):
        made.tracks.append(filled(rng, otio.schema.Track(name=f"V{n + 1}", kind=otio.schema.TrackKind.Video), rate))
    for n in range(rng.randint(0, 2)):
        made.tracks.append(filled(rng, otio.schema.Track(name=f"A{n + 1}", kind=otio.schema.TrackKind.Audio), rate))
    made.tracks.markers.extend(marks(rng, rate))
    words = json.loads(otio.adapters.write_to_string(made, "otio_json"))
    if rng.random() < 0.4:  # what no version here knows, of another program
        words["metadata"]["unknown"] = {"OTIO_SCHEMA": "Whatever.3", "deep": [1, 2, {"still": True}]}
    return otio.adapters.read_from_string(json.dumps(words), "otio_json")


def same_but_for_titles(written, timeline):
    """Whether a file holds exactly a timeline and, beside that, nothing but tracks of titles."""
    found = otio.adapters.read_from_string(written.decode(), "otio_json")
    for number in reversed(range(len(found.tracks))):
        if str(found.tracks[number].name).startswith("Words ") and "avlet" in found.tracks[number].metadata:
            del found.tracks[number]
    return found.is_equivalent_to(timeline)


@pytest.mark.parametrize("tens", [*range(6), *(pytest.param(n, marks=pytest.mark.soak) for n in range(6, 30))])
def test_whatever_a_timeline_holds_is_kept(tens, tmp_path):
    """Ten generated timelines each: opened, titles added, moved and removed, saved, opened again, saved again."""
    path = tmp_path / "cut.otio"
    for seed in range(tens * 10, tens * 10 + 10):
        timeline = timeline_of(seed)
        path.write_text(otio.adapters.write_to_string(timeline, "otio_json"))
        cut = read_cut(path)
        assert same_but_for_titles(cut_bytes(cut, path), timeline), seed
        for n in range(3):
            cut = put_title(cut, Title(f"t{n}", "name-strap.avlet", 40 * n, 30, {"name": f"Bo {n}"}, track=n % 2))
        write_cut(cut, path)
        assert same_but_for_titles(path.read_bytes(), timeline), seed
        again = read_cut(path)
        assert again == cut, seed
        write_cut(remove_title(again, "t1"), path)
        assert same_but_for_titles(path.read_bytes(), timeline) and [t.id for t in read_cut(path).titles] == ["t0", "t2"], seed
        kept = cut_bytes(again, tmp_path / "recovery")
        assert cut_from(lambda kept=kept: kept, path) == again, "so it is after a crash"
        write_rendered(again, {"t0": tmp_path / "t0.mov"}, path)
        assert same_but_for_titles(path.read_bytes(), timeline) and read_cut(path).titles == again.titles, seed


def two_tracks():
    """A shot with a gap behind it and another over its end, sound, a marker, a dissolve."""
    rate = 25.0
    made = otio.schema.Timeline(name="From elsewhere")

    def shot(name, length, start=0):
        return otio.schema.Clip(
            name=name, media_reference=otio.schema.ExternalReference(target_url=f"{name}.png"),
            source_range=otio.opentime.TimeRange(otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(length, rate)),
        )  # fmt: skip

    lower, upper = (otio.schema.Track(name=n, kind=otio.schema.TrackKind.Video) for n in ("V1", "V2"))
    lower.extend([shot("a", 40, 7), otio.schema.Gap(duration=otio.opentime.RationalTime(20, rate)), shot("b", 30)])
    half = otio.opentime.RationalTime(3, rate)
    lower.append(otio.schema.Transition(transition_type="SMPTE_Dissolve", in_offset=half, out_offset=half))
    lower.append(shot("c", 30))
    upper.extend([otio.schema.Gap(duration=otio.opentime.RationalTime(30, rate)), shot("over", 15, 5)])
    sound = otio.schema.Track(name="A1", kind=otio.schema.TrackKind.Audio)
    sound.append(shot("voice", 120))
    made.tracks.extend([lower, upper, sound])
    made.tracks.markers.append(otio.schema.Marker(name="here"))
    return made


def test_gaps_stay_and_the_uppermost_clip_shows(tmp_path):
    path = tmp_path / "cut.otio"
    path.write_text(otio.adapters.write_to_string(two_tracks(), "otio_json"))
    cut = read_cut(path)
    shown = [(clip.plate, clip.length, clip.start) for clip in cut.pictures]
    assert shown == [("a", 30, 7), ("over", 15, 5), ("", 15, 0), ("b", 30, 0), ("c", 30, 0)] and cut.length == 120
    assert cut.frame.fps == 25 and cut.foreign
    pixels = new_pixels(64, 36)
    assert paint_picture(cut, 50, pixels) == "" and (pixels[..., :3] == 0).all(), "where there is nothing it is black"
    assert theirs_words(cut.foreign) == "2 picture tracks, 1 sound track, 1 marker, 1 dissolve"


@pytest.mark.parametrize("seed", [*range(15), *(pytest.param(n, marks=pytest.mark.soak) for n in range(15, 60))])
def test_what_is_shown_is_the_uppermost_clip_frame_by_frame(seed):
    """Brute force over every frame, by the ranges that OpenTimelineIO gives each clip in its track."""
    timeline = timeline_of(seed)
    for track in timeline.tracks:  # whole frames, so that no rounding is in the way
        for item in track:
            if isinstance(item, otio.schema.Clip):
                kept = item.source_range
                item.source_range = otio.opentime.TimeRange(
                    otio.opentime.RationalTime(round(kept.start_time.value), kept.start_time.rate), kept.duration
                )
    rate = Fraction(timeline.find_clips()[0].duration().rate).limit_denominator(1001) if timeline.find_clips() else Fraction(25)
    stretches = shown_pictures(timeline, lambda time: round(time.to_seconds() * rate))
    flat = [(one.item, one.into + n) for one in stretches for n in range(one.length)]
    wanted = {}
    for track in timeline.video_tracks():
        for item in track:
            if not isinstance(item, otio.schema.Gap | otio.schema.Transition):
                span_ = track.trimmed_range_of_child(item) or track.range_of_child(item)
                begin, length = (round(t.to_seconds() * rate) for t in (span_.start_time, span_.duration))
                wanted |= {begin + n: (item, n) for n in range(length)}
    assert len(flat) >= max(wanted, default=-1) + 1 and all(frame < len(flat) for frame in wanted)
    for frame, (item, into) in enumerate(flat):
        other, far = wanted.get(frame, (None, 0))
        assert (item is None) == (other is None) and (item is None or (item.name == other.name and into == far)), (seed, frame)


def test_titles_among_other_clips_become_avlets_own_and_leave_their_room(tmp_path):
    path, timeline = tmp_path / "cut.otio", two_tracks()
    reference = otio.schema.GeneratorReference(generator_kind="avlet.template", parameters={"template": "name-strap.avlet", "answers": {}})
    title = otio.schema.Clip(name="mixed", media_reference=reference, source_range=timeline.tracks[1][1].source_range)
    timeline.tracks[1].append(title)
    path.write_text(otio.adapters.write_to_string(timeline, "otio_json"))
    cut = read_cut(path)
    assert [(t.id, t.start, t.length) for t in cut.titles] == [("mixed", 45, 15)] and sum(c.length for c in cut.pictures) == 120
    write_cut(cut, path)
    assert read_cut(path) == numbered(cut)


def test_an_empty_track_of_somebody_else_stays_whatever_it_is_called(tmp_path):
    path, timeline = tmp_path / "cut.otio", two_tracks()
    timeline.tracks.append(otio.schema.Track(name="Words 1", kind=otio.schema.TrackKind.Video))
    path.write_text(otio.adapters.write_to_string(timeline, "otio_json"))
    write_cut(put_title(read_cut(path), Title("t", "name-strap.avlet", 0, 20)), path)
    written = otio.adapters.read_from_string(path.read_text(), "otio_json")
    assert [track.name for track in written.tracks] == ["V1", "V2", "A1", "Words 1", "Words 1"] and len(written.tracks[3]) == 0
    assert same_but_for_titles(path.read_bytes(), timeline)


def test_avlets_own_cuts_are_no_strangers(tmp_path):
    """The demo's cut, and one with films and stills, are written and read as ever, and their pictures may be changed."""
    cut = read_cut(next(DEMO.glob("*.otio")))
    assert cut.foreign == ""
    still = replace(cut, pictures=(PictureClip("a", 30, str(tmp_path / "a.png"), 3), PictureClip("dusk", 20), PictureClip("", 10)))
    for one in (cut, still, replace(cut, titles=()), replace(cut, pictures=())):
        write_cut(one, tmp_path / "x.otio")
        assert read_cut(tmp_path / "x.otio") == numbered(one)
    marked = otio.adapters.read_from_string((tmp_path / "x.otio").read_text(), "otio_json")
    marked.tracks.markers.append(otio.schema.Marker(name="from elsewhere"))
    (tmp_path / "x.otio").write_text(otio.adapters.write_to_string(marked, "otio_json"))
    assert read_cut(tmp_path / "x.otio").foreign, "somebody has put a marker into it: that is kept"


def test_pictures_of_a_stranger_stay_and_it_is_said(window, qtbot, tmp_path):
    """On the desk: what is not shown is told when it is opened; titles are put on it, pictures are not changed; undo and saving lose nothing."""
    path = tmp_path / "elsewhere.otio"
    path.write_text(otio.adapters.write_to_string(two_tracks(), "otio_json"))
    window.files.open_path(path)
    settle()
    assert (
        "comes from elsewhere" in window.message.text() and "1 sound track" in window.message.text() and "1 marker" in window.message.text()
    )
    session, said = window.cut_session, []
    session.refused.connect(said.append)
    before = session.cut
    for change in (lambda c: trim_picture(c, 0, 5), lambda c: move_picture(c, 0, 2), lambda c: edits.replace(c, pictures=())):
        session.edit("Pictures", change)
        assert session.cut == before and "change them there" in said[-1]
    session.take_library(DEMO)
    window.desk.add_title("name-strap.avlet", 10)
    settle()
    assert len(session.cut.titles) == 1
    window.desk.grab()
    qtbot.keyClick(window.windowHandle(), Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    assert same_but_for_titles(path.read_bytes(), two_tracks()) and len(read_cut(path).titles) == 1
    window.undo()
    assert session.cut.titles == () and window.files.save_cut()
    assert same_but_for_titles(path.read_bytes(), two_tracks())


@pytest.mark.parametrize("harm", ["huge", "loop", "no tracks", "text", "negative"])
def test_hostile_strangers_are_refused_in_words_and_left_alone(harm, tmp_path):
    words = json.loads(otio.adapters.write_to_string(two_tracks(), "otio_json"))
    clips = words["tracks"]["children"][0]["children"]
    if harm == "huge":
        clips[0]["source_range"]["duration"]["value"] = 1e15
    elif harm == "loop":
        clips[0] = {"OTIO_SCHEMA": "SerializableObjectRef.1", "id": "x"}
    elif harm == "no tracks":
        words["tracks"] = {"OTIO_SCHEMA": "Clip.2", "name": "not a stack"}
    elif harm == "text":
        clips[0]["source_range"]["duration"]["value"] = "ten"
    else:
        clips[0]["source_range"]["duration"]["value"] = -40
    path = tmp_path / "bad.otio"
    path.write_text(json.dumps(words))
    given = path.read_bytes()
    try:
        cut = read_cut(path)
    except StorageError as error:
        assert "bad.otio" in str(error)
    else:
        assert cut.length >= 0 and same_but_for_titles(cut_bytes(cut, path), otio.adapters.read_from_string(given.decode(), "otio_json"))
    assert path.read_bytes() == given
