"""Cuts as values, and as files and films: tracks, splitting, footage of one's own, OTIO's own reading of what is written."""

import json
from fractions import Fraction

import av
import numpy as np
import opentimelineio as otio
import pytest
from conftest import DEMO, plated
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from avlet.document.cut import (
    Cut,
    PictureClip,
    Title,
    add_picture,
    answer_on_all,
    duplicate_titles,
    move_picture,
    move_titles,
    numbered,
    put_title,
    remove_picture,
    replace,
    split_picture,
    split_title,
    trim_picture,
    trim_title,
    trim_with_later,
)  # fmt: skip
from avlet.document.editing.edits import set_property
from avlet.document.editing.history import History
from avlet.document.template import Frame
from avlet.errors import RenderError, StorageError
from avlet.limits import MOST_CUT_FRAMES
from avlet.media.cut_film import paint_cut, paint_picture, render_cut
from avlet.media.footage import Footage, footage_at
from avlet.media.render import StoppedError
from avlet.media.timeline import cut_bytes, read_cut, write_cut
from avlet.paint.painter import new_pixels
from avlet.roster.cut_render import CutRender, open_titles
from avlet.storage.handing_over import hand_over


@pytest.fixture
def film(tmp_path):
    """Two seconds at 25 frames a second; the red channel says which frame it is."""
    path = tmp_path / "tide.mp4"
    with av.open(str(path), "w") as container:
        stream = container.add_stream("libx264", rate=25, options={"crf": "1", "g": "10"})
        stream.width, stream.height, stream.pix_fmt = 64, 36, "yuv444p"
        for number in range(50):
            picture = np.zeros((36, 64, 3), np.uint8)
            picture[..., 0] = number * 4
            container.mux(stream.encode(av.VideoFrame.from_ndarray(picture, "rgb24")))
        container.mux(stream.encode(None))
    return path


titles = st.lists(st.tuples(st.integers(0, 300), st.integers(1, 80), st.integers(0, 1)), min_size=1, max_size=8)


def cut_of(made) -> Cut:
    cut = Cut()
    for number, (start, length, track) in enumerate(made):
        cut = put_title(cut, Title(f"t{number}", "x.avlet", start, length, track=track))
    return cut


def no_overlap(cut: Cut) -> bool:
    return all(
        a.end <= b.start
        for track in (0, 1)
        for a, b in zip(*[[t for t in cut.titles if t.track == track][k:] for k in (0, 1)], strict=False)
    )


@given(titles, st.integers(0, 7), st.integers(0, 400))
def test_titles_never_overlap_on_a_track_however_they_are_split_and_copied(made, which, frame):
    cut = cut_of(made)
    assert no_overlap(cut)
    title = cut.titles[which % len(cut.titles)]
    split = split_title(cut, title.id, frame)
    assert no_overlap(split)
    assert sum(t.length for t in split.titles) == sum(t.length for t in cut.titles)
    assert (len(split.titles) > len(cut.titles)) == (title.start < frame < title.end)
    copied, ids = duplicate_titles(cut, [title.id])
    assert no_overlap(copied)
    assert copied.title(ids[0]).start >= title.end
    assert {t.track for t in copied.titles} == {t.track for t in cut.titles}


@given(titles, st.sets(st.integers(0, 7), min_size=1), st.integers(-400, 400))
def test_titles_that_move_together_keep_their_distances(made, chosen, step):
    cut = cut_of(made)
    ids = [t.id for n, t in enumerate(cut.titles) if n in chosen]
    moved = move_titles(cut, ids, step)
    assert no_overlap(moved)
    steps = {moved.title(i).start - cut.title(i).start for i in ids}
    assert len(steps) <= 1
    assert all(0 <= s <= step or step <= s <= 0 for s in steps)
    assert [t for t in moved.titles if t.id not in ids] == [t for t in cut.titles if t.id not in ids]
    assert all(t.start >= 0 for t in moved.titles)


@given(titles, st.lists(st.integers(0, 400), max_size=6))
def test_any_edits_undone_and_done_again_give_the_same(made, frames):
    cut = cut_of(made)
    history = History(cut)
    for frame in frames:
        history.push(split_title(history.value, history.value.titles[0].id, frame), "Split")
    last = history.value
    for _ in frames:
        history.undo()
    assert history.value == cut
    for _ in frames:
        history.redo()
    assert history.value == last


def test_the_upper_track_lies_over_the_lower():
    cut = put_title(put_title(Cut(), Title("low", "x", 0, 50)), Title("high", "x", 10, 20, track=1))
    assert [t.id for t in cut.titles_at(15)] == ["low", "high"]
    assert cut.title_at(15).id == "high"
    assert cut.title_at(40).id == "low"


def test_pictures_are_split_moved_trimmed_and_removed():
    cut = add_picture(add_picture(Cut(), PictureClip("dusk", 100)), PictureClip("tide flats", 50))
    cut = split_picture(cut, 30)
    assert [(c.plate, c.length, c.start) for c in cut.pictures] == [("dusk", 30, 0), ("dusk", 70, 30), ("tide flats", 50, 0)]
    assert cut.clip_at(40) == (1, 10)
    assert split_picture(cut, 30) == cut
    cut = move_picture(trim_picture(cut, 0, 10), 2, 0)
    assert [(c.plate, c.length) for c in cut.pictures] == [("tide flats", 50), ("dusk", 10), ("dusk", 70)]
    assert remove_picture(cut, 0).length == 80


def test_one_answer_on_several():
    cut = answer_on_all(cut_of([(0, 10, 0), (20, 10, 0), (40, 10, 1)]), ["t0", "t2"], "name", "Bo Li")
    assert [t.answers for t in cut.titles] == [{"name": "Bo Li"}, {}, {"name": "Bo Li"}]


def test_a_film_is_read_at_any_moment_in_any_order(film):
    footage = Footage(film)
    assert (footage.is_still, footage.rate) == (False, 25.0)
    assert footage.seconds == pytest.approx(2.0, abs=0.05)
    for number in (0, 3, 4, 5, 30, 2, 49, 10, 11):
        red = footage.picture(number / 25, 32, 18)[..., 0].mean()
        assert red == pytest.approx(number * 4, abs=3), number
    assert footage.picture(99.0, 32, 18)[..., 0].mean() == pytest.approx(49 * 4, abs=3)


def test_a_still_fills_the_frame_and_broken_ones_are_said(tmp_path):
    Image.new("RGB", (100, 100), "#20435C").save(tmp_path / "sea.png")
    picture = Footage(tmp_path / "sea.png").picture(0, 64, 36)
    assert picture.shape == (36, 64, 4)
    assert (picture == (0x20, 0x43, 0x5C, 255)).all()
    (tmp_path / "torn.mp4").write_bytes(b"nothing")
    with pytest.raises(StorageError, match=r"“torn\.mp4” cannot be shown"):
        Footage(tmp_path / "torn.mp4")
    assert "is not at" in footage_at(tmp_path / "gone.mp4")
    cut = Cut(pictures=(PictureClip("gone", 10, str(tmp_path / "gone.mp4")),))
    pixels = new_pixels(16, 9)
    assert "gone.mp4" in paint_picture(cut, 3, pixels)
    assert (pixels == (0, 0, 0, 255)).all()


def test_a_cut_goes_through_otio_and_back_with_tracks_versions_and_footage(tmp_path, film):
    cut = Cut(
        "C", Frame(1920, 1080, "30000/1001"), (PictureClip("dusk", 60, "", 12), PictureClip("tide", 40, str(film), 5)),
        (Title("a", "x.avlet", 12, 48, {"name": {"text": "Bo", "size": 9}, "fade": [{"at": 0, "colour": "#000000"}]}, 3, {"old": 1}),
         Title("b", "y.avlet", 20, 30, {}, 0, {}, 1)),
    )  # fmt: skip
    write_cut(cut, tmp_path / "c.otio")
    assert read_cut(tmp_path / "c.otio") == numbered(cut)
    # OpenTimelineIO's own API and its bundled adapters are the reference.
    timeline = otio.adapters.read_from_file(str(tmp_path / "c.otio"))
    assert [t.name for t in timeline.video_tracks()] == ["Pictures", "Words 1", "Words 2"]
    clip = timeline.video_tracks()[0][1]
    assert clip.media_reference.target_url == film.as_uri()
    assert clip.source_range.start_time.value == 5
    for adapter in ("otiod", "otioz"):
        other = tmp_path / f"c.{adapter}"
        otio.adapters.write_to_file(timeline, str(other), media_policy="MissingIfNotFile")
        again = otio.adapters.read_from_file(str(other))
        assert [len(t) for t in again.video_tracks()] == [len(t) for t in timeline.video_tracks()]
        assert again.video_tracks()[1][1].duration() == timeline.video_tracks()[1][1].duration()


def test_a_rendered_cut_points_at_its_films(tmp_path, book):
    package = hand_over(plated(), book, tmp_path).path
    cut = Cut("Tide", Frame(320, 180), (PictureClip("dusk", 30),), (Title("a", package.name, 4, 20), Title("b", "gone.avlet", 26, 4)))
    work = CutRender(cut, open_titles(cut, [tmp_path]), tmp_path / "out", "tide", ".mov", "qtrle", 90)
    told = []
    done = work.run(lambda frames, words: told.append((frames, words)) or True)
    assert told[-1] == (work.total, "tide.mp4")
    assert [p.name for p in done.written] == ["T0001-plated.mov", "tide.mp4", "tide.otio"]
    assert any("gone.avlet is left out" in words for words in done.said)
    with av.open(str(done.written[1])) as container:
        stream = container.streams.video[0]
        frames = [f.to_ndarray(format="rgb24") for f in container.decode(stream)]
        assert (stream.width, stream.height, len(frames), stream.average_rate) == (160, 90, 30, Fraction(25))
    bare = new_pixels(160, 90)
    paint_picture(cut, 2, bare)
    assert np.abs(frames[2].astype(int) - bare[..., :3]).mean() < 4
    assert np.abs(frames[14].astype(int) - frames[2]).mean() > np.abs(frames[3].astype(int) - frames[2]).mean()
    timeline = otio.adapters.read_from_file(str(done.written[2]))
    clips = list(timeline.video_tracks()[1].find_clips())
    assert clips[0].media_reference.target_url == done.written[0].name
    assert isinstance(clips[1].media_reference, otio.schema.GeneratorReference)
    again = read_cut(done.written[2])
    assert (again.titles, again.pictures) == (numbered(cut).titles, cut.pictures)
    assert json.loads(done.written[2].read_text())


def test_rendering_a_cut_is_stopped_and_refused_in_words(tmp_path):
    cut = Cut("C", Frame(64, 36), (PictureClip("dusk", 30),))
    with pytest.raises(StoppedError):
        render_cut(cut, lambda title: "none", tmp_path / "c.mp4", 36, lambda done, total: done < 3)
    assert list(tmp_path.iterdir()) == []
    with pytest.raises(RenderError, match="nothing on the cut yet"):
        render_cut(Cut(), lambda title: "none", tmp_path / "c.mp4", 36)
    with pytest.raises(RenderError, match="should end so"):
        render_cut(cut, lambda title: "none", tmp_path / "c.mov", 36)


def test_titles_show_the_version_they_are_on(tmp_path, book):
    package = hand_over(plated(), book, tmp_path).path
    hand_over(set_property(plated(), "plate/fill.colour", "#FF0000"), book, tmp_path)
    cut = Cut("C", Frame(), (), (Title("a", package.name, 0, 50, {}, 1), Title("b", package.name, 0, 50, {}, 0, {}, 1)))
    opened = open_titles(cut, [tmp_path])
    assert opened["a"].manifest.version == 1
    assert opened["b"].manifest.version == 2


def test_the_demo_cut_paints_without_anything_missing():
    cut = read_cut(DEMO / "the-long-tide.otio")
    work = CutRender(cut, open_titles(cut, [DEMO]), DEMO, "x")
    pixels = new_pixels(192, 108)
    for title in cut.titles:
        assert paint_cut(cut, title.start + title.length // 2, pixels, work.scene_of) == []
    assert all(t.version == 1 for t in cut.titles)


def test_a_title_ends_within_the_longest_cut_whatever_moves_it(tmp_path):
    cut = put_title(Cut(), Title("a", "a.avlet", 10**12, 100))
    cut = put_title(cut, Title("b", "a.avlet", 0, 100))
    assert cut.title("a").end == MOST_CUT_FRAMES
    early = replace(cut, titles=tuple(replace(t, start=0) if t.id == "a" else replace(t, start=200) for t in cut.titles))
    assert move_titles(early, ["a", "b"], 10**12).title("b").end == MOST_CUT_FRAMES
    assert trim_title(early, "b", 200, 10**12).title("b").end == MOST_CUT_FRAMES
    later = trim_with_later(early, "a", 10**12)
    assert (later.title("b").end, later.title("b").start - later.title("a").end) == (MOST_CUT_FRAMES, 100)
    write_cut(cut, tmp_path / "long.otio")
    assert read_cut(tmp_path / "long.otio").titles == numbered(cut).titles


def test_a_cut_that_could_not_be_read_again_is_not_written(tmp_path):
    path = tmp_path / "long.otio"
    long = Cut(titles=(Title("a", "a.avlet", MOST_CUT_FRAMES - 5, 6),))
    with pytest.raises(StorageError, match="“a” ends at frame 20,000,001; a cut has at most 20,000,000"):
        write_cut(long, path)
    assert not path.exists()
    made = otio.adapters.read_from_string(
        cut_bytes(replace(long, titles=(replace(long.titles[0], start=MOST_CUT_FRAMES - 6),)), path).decode(), "otio_json"
    )
    made.tracks[-1].insert(0, otio.schema.Gap(source_range=otio.opentime.TimeRange(duration=otio.opentime.RationalTime(1, 25))))
    otio.adapters.write_to_file(made, str(path))
    with pytest.raises(StorageError, match="20,000,001 frames"):
        read_cut(path)
