"""Films decoded again with PyAV; colour against Recommendation ITU-R BT.709; cuts through OpenTimelineIO's own API."""

from fractions import Fraction
from pathlib import Path

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
    frame_in_title,
    frames_in_title,
    numbered,
    put_title,
    remove_title,
    trim_title,
)
from avlet.document.editing import edits
from avlet.document.template import Frame
from avlet.errors import RenderError, StorageError
from avlet.media.cut_film import paint_picture
from avlet.media.drawing import Drawing
from avlet.media.planes import H264, PRORES, VP9, fill_planes, painted_area
from avlet.media.plates import PLATES, paint_plate
from avlet.media.render import StoppedError, png_bytes, render
from avlet.media.timeline import read_cut, write_cut
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.text.fonts import bundled_fonts


def small(**changes):
    """A quick title: 480 × 270 px, 24 frames."""
    template = plated(length=24, way_in=8, way_out=8, frame=Frame(480, 270, "24000/1001"))
    for target, value in {
        "name/size": 40, "name/across.gap": 60, "name/down.gap": 80, "plate/corner": 8, "plate/way_in.0.frames": 6,
        "name/way_in.0.frames": 6, "name/way_in.0.start": 2, **changes,
    }.items():  # fmt: skip
        template = edits.set_property(template, target, value)
    return template


def drawing(template=None, size=None, plate=None, length=None) -> Drawing:
    return Drawing.of(Scene(template or small(), bundled_fonts(), {}, length), size, plate)


def inside_plate(template) -> tuple[slice, slice]:
    box = Scene(template, bundled_fonts()).rest.parts["plate"].box
    return slice(round(box.y) + 3, round(box.y) + 12), slice(round(box.x) + 16, round(box.right) - 16)


def decode(path: Path, decoder: str | None = None) -> list[np.ndarray]:
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        if decoder is None:
            return [f.to_ndarray(format="rgba") for f in container.decode(stream)]
        context = av.CodecContext.create(decoder, "r")
        context.extradata = stream.codec_context.extradata
        frames = [f for packet in container.demux(stream) for f in context.decode(packet if packet.size else None)]
        return [f.to_ndarray(format="rgba") for f in frames]


@pytest.mark.parametrize(
    ("name", "codec", "decoder"),
    [("a.mov", None, None), ("b.mov", "png", None), ("c.mov", "qtrle", None), ("d.webm", None, "libvpx-vp9")],
)
def test_film_is_what_was_drawn(tmp_path, name, codec, decoder):
    template = small()
    done = render(drawing(template), tmp_path / name, codec)
    assert done.frames == 24
    with av.open(str(tmp_path / name)) as container:
        stream = container.streams.video[0]
        assert (stream.width, stream.height) == (480, 270)
        assert stream.average_rate == Fraction(24000, 1001)
        assert float(container.duration / av.time_base) == pytest.approx(24 * 1001 / 24000, abs=0.03)
        if codec is None:
            assert (stream.codec_context.colorspace, stream.codec_context.color_range) == (1, 1)
    frames = decode(tmp_path / name, decoder)
    assert len(frames) == 24
    rows, columns = inside_plate(template)
    rest = frames[12]
    assert (rest[rows, columns, 3] == 255).all()
    assert np.abs(rest[rows, columns, :3].astype(int) - [0x20, 0x43, 0x5C]).max() <= (2 if decoder is None else 3)
    outside = rest[..., 3].copy()
    box = Scene(template, bundled_fonts()).rest.parts["plate"].box
    outside[round(box.y) - 1 : round(box.bottom) + 1, round(box.x) - 1 : round(box.right) + 1] = 0
    assert not outside.any()
    assert not frames[0][..., 3].any()
    assert not frames[23][..., 3].any()


def test_prores_keeps_soft_edges(tmp_path):
    template = small()
    render(drawing(template), tmp_path / "a.mov")
    frame = decode(tmp_path / "a.mov")[5]
    wanted = Scene(template, bundled_fonts()).picture(5)
    assert np.abs(frame[..., 3].astype(int) - wanted[..., 3]).max() <= 3


def test_folder_of_pngs_is_exact(tmp_path):
    template = small()
    render(drawing(template), tmp_path / "frames")
    names = sorted(p.name for p in (tmp_path / "frames").iterdir())
    assert names == [f"{n:05}.png" for n in range(24)]
    scene = Scene(template, bundled_fonts())
    for frame in (0, 4, 12, 20, 23):
        found = np.asarray(Image.open(tmp_path / "frames" / f"{frame:05}.png").convert("RGBA")).astype(int)
        wanted = scene.picture(frame).astype(int)
        assert np.array_equal(found[..., 3], wanted[..., 3])
        again = found[..., :3] * found[..., 3:] / 255
        assert np.abs(again - wanted[..., :3]).max() <= 1


def test_mp4_lies_over_a_plate(tmp_path):
    render(drawing(plate="dusk"), tmp_path / "a.mp4")
    frames = decode(tmp_path / "a.mp4")
    assert len(frames) == 24
    under = new_pixels(480, 270)
    paint_plate("dusk", 0, under)
    assert np.abs(frames[0][40:200, 40:400, :3].astype(int) - under[40:200, 40:400, :3]).mean() < 4


@pytest.mark.parametrize("workers", [0, 1, 2])
def test_workers_change_nothing(tmp_path, workers):
    render(drawing(), tmp_path / "a.mov", "png", workers=workers)
    render(drawing(), tmp_path / "b.mov", "png", workers=0)
    assert all(np.array_equal(a, b) for a, b in zip(decode(tmp_path / "a.mov"), decode(tmp_path / "b.mov"), strict=True))


@pytest.mark.parametrize("name", ["a.mov", "a.webm", "frames"])
def test_stopping_leaves_nothing(tmp_path, name):
    with pytest.raises(StoppedError):
        render(drawing(), tmp_path / name, progress=lambda done, total: done < 3, workers=0)
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(
    ("name", "codec", "plate", "words"),
    [("a.mp4", None, None, "no transparency"), ("a.avi", None, None, r"writes \.mov"), ("a.mov", "h265", None, "no film that Avlet writes. There are: prores, png, qtrle, webm, over"),
     ("a.webm", "png", None, "written as webm, not as png, which is a .mov"), ("a.mov", "webm", None, "as prores, png, qtrle, not as webm"),
     ("frames", "png", None, "folder of PNGs"), ("a.mp4", "over", None, "no transparency")],
)  # fmt: skip
def test_films_that_cannot_be_made_are_refused(tmp_path, name, codec, plate, words):
    with pytest.raises(RenderError, match=words):
        render(drawing(plate=plate), tmp_path / name, codec)
    assert list(tmp_path.iterdir()) == []


def test_an_odd_size_is_refused_where_it_cannot_be_coded(tmp_path):
    with pytest.raises(RenderError, match="even width and height"):
        render(drawing(size=(481, 271)), tmp_path / "a.webm")
    with pytest.raises(RenderError, match="even width and height"):
        render(drawing(size=(481, 270)), tmp_path / "a.mov")
    render(drawing(size=(241, 135)), tmp_path / "a.mov", "png")
    assert decode(tmp_path / "a.mov")[0].shape == (135, 241, 4)


def test_a_place_that_cannot_be_written_is_said(tmp_path):
    (tmp_path / "file").write_text("x")
    for name in ("a.mov", "frames"):
        with pytest.raises(StorageError, match="Could not write"):
            render(drawing(), tmp_path / "file" / name)


def test_another_length_and_size(tmp_path):
    render(drawing(length=60, size=(240, 134)), tmp_path / "a.mov")
    frames = decode(tmp_path / "a.mov")
    assert len(frames) == 60
    assert frames[0].shape == (134, 240, 4)
    assert not frames[59][..., 3].any()


# BT.709-6, items 3.2-3.5 and 4.6 at 8 bits: Y' = 16 + 219·E'Y, C' = 128 + 224·E'C.
@pytest.mark.parametrize("rgb", [(255, 255, 255), (0, 0, 0), (255, 0, 0), (0, 255, 0), (0, 0, 255), (32, 67, 92), (108, 199, 176)])
@pytest.mark.parametrize(("layout", "scale"), [(VP9, 1), (PRORES, 4), (H264, 1)])
def test_planes_are_bt709(rgb, layout, scale):
    pixels = new_pixels(16, 16)
    pixels[...] = (*rgb, 255)
    planes = [np.zeros(shape, layout.dtype) for shape in layout.shapes(16, 16)]
    fill_planes(pixels, planes, layout)
    r, g, b = (v / 255 for v in rgb)
    y = 0.2126 * r + 0.7152 * g + 0.0722 * b
    wanted = [(16 + 219 * y) * scale, (128 + 224 * (b - y) / 1.8556) * scale, (128 + 224 * (r - y) / 1.5748) * scale]
    found = [int(plane[4, 4]) for plane in planes[:3]]
    assert found == pytest.approx(wanted, abs=0.51 if layout.alpha else 1.6)
    if layout.alpha:
        assert planes[3][4, 4] == (1 << layout.bits) - 1


def test_planes_are_straight_alpha():
    pixels = new_pixels(8, 8)
    pixels[2:6, 2:6] = (50, 25, 0, 100)
    planes = [np.zeros(shape, PRORES.dtype) for shape in PRORES.shapes(8, 8)]
    for plane, nothing in zip(planes, PRORES.empty, strict=True):
        plane[...] = nothing
    area = fill_planes(pixels, planes, PRORES)
    assert area[:] == (2, 2, 4, 4)
    y = 0.2126 * 127.5 / 255 + 0.7152 * 63.75 / 255
    assert planes[0][3, 3] == pytest.approx((16 + 219 * y) * 4, abs=1)
    assert planes[3][3, 3] == pytest.approx(100 / 255 * 1023, abs=1)
    assert planes[3][0, 0] == 0
    assert painted_area(new_pixels(8, 8)) is None


def test_png_has_straight_alpha():
    from io import BytesIO

    pixels = new_pixels(4, 4)
    pixels[1, 1] = (50, 25, 0, 100)
    found = np.asarray(Image.open(BytesIO(png_bytes(pixels))))
    assert found[1, 1].tolist() == pytest.approx([128, 64, 0, 100], abs=1)


@pytest.mark.parametrize("plate", PLATES)
def test_plates_move_and_fill_every_shape(plate):
    for width, height in ((320, 180), (180, 320)):
        one, two = new_pixels(width, height), new_pixels(width, height)
        paint_plate(plate, 1.0, one)
        paint_plate(plate, 2.0, two)
        assert (one[..., 3] == 255).all()
        assert (one != two).any()


# Cuts


def test_a_cut_survives_its_file(tmp_path):
    cut = read_cut(DEMO / "the-long-tide.otio")
    assert len(cut.titles) == 10
    write_cut(cut, tmp_path / "x.otio")
    assert read_cut(tmp_path / "x.otio") == numbered(cut)


def test_titles_are_generator_references_to_otio_itself(tmp_path):
    cut = Cut(
        "C",
        Frame(1920, 1080, "24000/1001"),
        (PictureClip("dusk", 100),),
        (Title("a", "x.avlet", 12, 48, {"name": "Bo Li", "on": True, "n": 2.5}),),
    )
    write_cut(cut, tmp_path / "x.otio")
    timeline = otio.adapters.read_from_file(str(tmp_path / "x.otio"))
    words = next(t for t in timeline.video_tracks() if t.name == "Words 1")
    gap, clip = words
    assert isinstance(gap, otio.schema.Gap)
    assert gap.duration().value == 12
    assert isinstance(clip.media_reference, otio.schema.GeneratorReference)
    assert clip.media_reference.generator_kind == "avlet.template"
    assert clip.media_reference.parameters["template"] == "x.avlet"
    assert dict(clip.media_reference.parameters["answers"]) == {"name": "Bo Li", "on": True, "n": 2.5}
    assert clip.range_in_parent().start_time.value == 12
    assert clip.duration().rate == pytest.approx(24000 / 1001)
    assert read_cut(tmp_path / "x.otio") == numbered(cut)


def test_a_foreign_timeline_keeps_its_films_even_where_they_are_gone(tmp_path):
    timeline = otio.schema.Timeline("T")
    track = otio.schema.Track("V1", kind="Video")
    rate = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(50, 25))
    track.append(otio.schema.Clip("film", otio.schema.ExternalReference("gone.mov"), rate))
    timeline.tracks.append(track)
    otio.adapters.write_to_file(timeline, str(tmp_path / "x.otio"))
    cut = read_cut(tmp_path / "x.otio")
    assert (cut.titles, cut.frame.rate) == ((), "25/1")
    assert cut.pictures == (PictureClip("film", 50, str(tmp_path / "gone.mov")),)
    said = paint_picture(cut, 3, new_pixels(64, 36))
    assert "“gone.mov” is not at" in said


@pytest.mark.parametrize("words", ["", "{", '{"OTIO_SCHEMA": "Clip.1"}', "[]", '{"OTIO_SCHEMA": "Nothing.9"}'])
def test_what_is_no_timeline_is_refused(tmp_path, words):
    (tmp_path / "x.otio").write_text(words)
    with pytest.raises(StorageError, match=r"x\.otio"):
        read_cut(tmp_path / "x.otio")


titles = st.lists(st.tuples(st.integers(0, 400), st.integers(1, 90)), max_size=12)


@given(titles, st.integers(0, 11), st.integers(-100, 500), st.integers(-100, 500))
def test_titles_never_overlap(places, which, start, end):
    cut = Cut()
    for number, (at, length) in enumerate(places):
        cut = put_title(cut, Title(f"t{number}", "x", at, length))
    if cut.title(f"t{which}"):
        cut = trim_title(cut, f"t{which}", start, end)
    for a, b in zip(cut.titles, cut.titles[1:], strict=False):
        assert a.end <= b.start
    assert all(t.length >= 1 and t.start >= 0 for t in cut.titles)
    assert len(remove_title(cut, "t0").titles) == max(0, len(cut.titles) - 1)


def test_a_title_of_another_rate_keeps_its_seconds():
    rate = Fraction(24000, 1001)
    assert frames_in_title(125, Fraction(25), rate) == 120
    assert frame_in_title(124, Fraction(25), rate, 120) == 118
    assert frame_in_title(0, Fraction(25), rate, 120) == 0
    assert frame_in_title(25, Fraction(25), Fraction(50), 250) == 50


def test_what_shows_at_a_frame():
    cut = Cut("C", Frame(), (PictureClip("dusk", 10), PictureClip("reed beds", 20)), (Title("a", "x", 5, 10),))
    assert cut.clip_at(12) == (1, 2)
    assert cut.clip_at(40) is None
    assert cut.title_at(14).id == "a"
    assert cut.title_at(15) is None
    assert cut.length == 30
