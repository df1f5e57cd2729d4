"""The sound of a cut: in step with its picture, as its file says, at three rates; decoded by PyAV, which is the reference."""

from fractions import Fraction

import av
import numpy as np
import opentimelineio as otio
import pytest
from hypothesis import given
from hypothesis import strategies as st

from avlet.document.cut import Cut, PictureClip
from avlet.document.template import Frame
from avlet.media.cut_film import render_cut
from avlet.media.samples import HERTZ
from avlet.media.sound import SoundClip, mixed, peaks_of, sample_of, sound_clips
from avlet.media.sound_file import Sound
from avlet.media.timeline import read_cut

RATES = ("24000/1001", "25/1", "60/1")


def write_clap(path, at, seconds, rate, sound=True, level=0.9):
    """A film of 64 × 36 px that claps at a frame: that frame is white, and a click of 4 ms begins with it; raw sound, exact to the sample."""
    fps = Fraction(rate)
    with av.open(str(path), "w", format="mov") as container:
        video = container.add_stream("png", rate=fps)
        video.width, video.height, video.pix_fmt, video.time_base = 64, 36, "rgb24", 1 / fps
        audio = container.add_stream("pcm_s16le", rate=HERTZ, layout="stereo") if sound else None
        for number in range(round(seconds * fps)):
            picture = av.VideoFrame.from_ndarray(np.full((36, 64, 3), 255 if number == at else 20, np.uint8), format="rgb24")
            picture.pts, picture.time_base = number, 1 / fps
            container.mux(video.encode(picture))
        container.mux(video.encode(None))
        if audio is not None:
            samples = np.zeros((1, 2 * round(seconds * HERTZ)), np.int16)
            begin = sample_of(at, fps)
            samples[0, 2 * begin : 2 * (begin + 192)] = int(32767 * level)
            frame = av.AudioFrame.from_ndarray(samples, format="s16", layout="stereo")
            frame.sample_rate, frame.pts, frame.time_base = HERTZ, 0, Fraction(1, HERTZ)
            container.mux(audio.encode(frame))
            container.mux(audio.encode(None))
    return path


def clap_in(path):
    """Where a film claps, as PyAV decodes it: the seconds of its brightest picture, and of its first loud sample."""
    with av.open(str(path)) as container:
        bright = max(container.decode(video=0), key=lambda f: f.to_ndarray(format="gray").mean()).time
    with av.open(str(path)) as container:
        for frame in container.decode(audio=0):
            samples = np.abs(frame.to_ndarray()).max(0)
            if samples.max() > 0.3:
                return bright, frame.time + int(np.argmax(samples > 0.3)) / frame.sample_rate
    return bright, None


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("film_rate", ["25/1", "30000/1001"])
def test_the_film_to_approve_claps_in_step_to_a_frame(tmp_path, rate, film_rate):
    first, second = write_clap(tmp_path / "a.mov", 7, 1.0, film_rate), write_clap(tmp_path / "b.mov", 20, 2.0, film_rate, level=0.5)
    fps = Fraction(rate)
    one = round(Fraction(7, 1) / Fraction(film_rate) * fps) + 6
    cut = Cut("Clap", Frame(64, 36, rate), (PictureClip("a", one, str(first)), PictureClip("b", 2 * one, str(second), 3)))
    assert render_cut(cut, lambda title: "", tmp_path / "out.mp4", 36) == []
    bright, loud = clap_in(tmp_path / "out.mp4")
    assert loud == pytest.approx(7 / float(Fraction(film_rate)), abs=0.5 / float(fps)), "its own second"
    assert abs(bright - loud) <= 1 / float(fps) + 1e-6, "picture and sound within one frame"


def test_a_cut_without_sound_has_no_track_of_it(tmp_path):
    silent = write_clap(tmp_path / "a.mov", 7, 1.0, "25/1", sound=False)
    cut = Cut("Quiet", Frame(64, 36), (PictureClip("dusk", 5), PictureClip("", 5)))
    render_cut(cut, lambda title: "", tmp_path / "out.mp4", 36)
    with av.open(str(tmp_path / "out.mp4")) as container:
        assert not container.streams.audio
    said = render_cut(Cut("Quiet", Frame(64, 36), (PictureClip("a", 10, str(silent)),)), lambda title: "", tmp_path / "b.mp4", 36)
    assert said == [], "that a film is silent is no fault"


@given(st.integers(0, 190_000), st.integers(1, 3_000), st.integers(0, 190_000))
def test_any_stretch_is_read_as_the_whole_is(clap, start, count, before):
    """Whatever was read before, forwards or backwards."""
    whole, sound = clap
    sound.read(before, 10)
    expected = np.zeros((count, 2), np.float32)
    piece = whole[start : start + count]
    expected[: len(piece)] = piece
    assert np.abs(sound.read(start, count) - expected).max() < 1e-4


@pytest.fixture(scope="module")
def clap(tmp_path_factory):
    path = write_clap(tmp_path_factory.mktemp("sound") / "clap.mov", 12, 4.0, "25/1")
    whole = np.zeros((4 * HERTZ, 2), np.float32)
    begin = sample_of(12, Fraction(25))
    whole[begin : begin + 192] = int(32767 * 0.9) / 32768
    return whole, Sound(path)


def test_clips_are_added_up_held_within_one_and_played_at_their_speed(tmp_path):
    path = write_clap(tmp_path / "clap.mov", 12, 1.0, "25/1")
    begin = sample_of(12, Fraction(25))
    twice = mixed((SoundClip(0, HERTZ, path, Fraction(0)), SoundClip(0, HERTZ, path, Fraction(0))), begin, 100)
    assert twice.max() == 1.0, "1.8 would be heard as a crackle"
    later = mixed((SoundClip(1_000, HERTZ, path, Fraction(0)),), 0, HERTZ)
    assert int(np.argmax(later[:, 0] > 0.3)) == begin + 1_000
    cut_short = mixed((SoundClip(0, begin, path, Fraction(0)),), 0, HERTZ)
    assert cut_short.max() == 0.0, "it ends before it claps"
    slow = mixed((SoundClip(0, 2 * HERTZ, path, Fraction(0), 0.5),), 0, 2 * HERTZ)
    assert int(np.argmax(slow[:, 0] > 0.3)) == pytest.approx(2 * begin, abs=2)
    into = mixed((SoundClip(0, HERTZ, path, Fraction(2, 5)),), 0, HERTZ)
    assert int(np.argmax(into[:, 0] > 0.3)) == begin - round(0.4 * HERTZ)


def test_a_waveform_has_the_loudest_of_each_hundredth_and_is_kept_by_content(tmp_path, monkeypatch):
    path = write_clap(tmp_path / "clap.mov", 12, 1.0, "25/1")
    peaks = peaks_of(path)
    assert len(peaks) >= 100 and np.flatnonzero(peaks > 10).tolist() == [48] and peaks[48] == round(255 * 0.9**0.5)
    copy = tmp_path / "copy.mov"
    copy.write_bytes(path.read_bytes())
    monkeypatch.setattr("avlet.media.sound_file.Sound", lambda path: pytest.fail("the same content is not decoded twice"))
    assert np.array_equal(peaks_of(copy), peaks)


def test_what_cannot_be_heard_is_said_and_all_else_sounds(tmp_path):
    path, broken = write_clap(tmp_path / "clap.mov", 2, 0.4, "25/1"), tmp_path / "broken.mov"
    broken.write_bytes(path.read_bytes()[:200])
    clips = tuple(SoundClip(0, HERTZ, p, Fraction(0)) for p in (broken, tmp_path / "gone.mov", path))
    said: dict[str, None] = {}
    assert mixed(clips, 0, HERTZ // 2, said).max() > 0.8
    assert [("broken.mov" in w, "gone.mov" in w) for w in said] == [(True, False), (False, True)]


def test_sound_of_a_stranger_comes_from_its_sound_tracks(tmp_path):
    write_clap(tmp_path / "voice.mov", 5, 1.0, "25/1")
    timeline = otio.schema.Timeline("Theirs")
    for name, kind in (("V1", "Video"), ("A1", "Audio")):
        track = otio.schema.Track(name, kind=kind)
        span = otio.opentime.TimeRange(otio.opentime.RationalTime(2, 25), otio.opentime.RationalTime(20, 25))
        if kind == "Audio":
            track.append(otio.schema.Gap(duration=otio.opentime.RationalTime(10, 25)))
        track.append(otio.schema.Clip("voice", otio.schema.ExternalReference("voice.mov"), span))
        timeline.tracks.append(track)
    otio.adapters.write_to_file(timeline, str(tmp_path / "theirs.otio"))
    clips = sound_clips(read_cut(tmp_path / "theirs.otio"))
    assert clips == (SoundClip(10 * 1920, 30 * 1920, tmp_path / "voice.mov", Fraction(2, 25)),)
    assert int(np.argmax(mixed(clips, 0, HERTZ)[:, 0] > 0.3)) == 13 * 1920


def test_a_stranger_with_sound_tracks_that_are_silent_is_silent(tmp_path):
    """Their editor muted the films: what has sound tracks is heard by those alone."""
    write_clap(tmp_path / "film.mov", 5, 1.0, "25/1")
    timeline = otio.schema.Timeline("Theirs")
    span = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(20, 25))
    video, sound = otio.schema.Track("V1", kind="Video"), otio.schema.Track("A1", kind="Audio")
    video.append(otio.schema.Clip("film", otio.schema.ExternalReference("film.mov"), span))
    timeline.tracks.append(video)
    otio.adapters.write_to_file(timeline, str(tmp_path / "without.otio"))
    timeline.tracks.append(sound)
    otio.adapters.write_to_file(timeline, str(tmp_path / "with.otio"))
    assert len(sound_clips(read_cut(tmp_path / "without.otio"))) == 1 and sound_clips(read_cut(tmp_path / "with.otio")) == ()
