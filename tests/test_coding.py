"""Films whose pictures are put together from slices: what is decoded is what was painted, at any size."""

import itertools
import struct
from pathlib import Path

import av
import numpy as np
import pytest
from conftest import DEMO
from hypothesis import given
from hypothesis import strategies as st
from lists import credits, scene
from test_credits_motion import LONG

from avlet.document.template import Frame
from avlet.media import coding
from avlet.media.coding import Coder
from avlet.media.drawing import Drawing, Painter
from avlet.media.formats import film_format
from avlet.media.planes import painted_area, straight_bytes
from avlet.media.prores import ROW, SLICE, columns_of, scale_of, sliced
from avlet.media.render import render
from avlet.motion.rolling import whole_lengths
from avlet.paint.scene import Scene
from avlet.storage.package import open_template

PRORES = film_format(Path("a.mov"), None, None)


class Stub:
    """Gives pictures instead of painting them."""

    def __init__(self, pictures):
        self.pictures = pictures
        height, width = pictures[0].shape[:2]
        self.drawing = type("D", (), {"width": width, "height": height, "template": type("T", (), {"frame": Frame(width, height, "25/1")})})

    def paint(self, frame):
        return self.pictures[frame]


def decoded(packet, width, height):
    """By FFmpeg's own decoder."""
    context = av.CodecContext.create("prores", "r")
    frames = context.decode(av.Packet(packet)) + context.decode(None)
    assert (frames[0].width, frames[0].height) == (width, height)
    return frames[0].to_ndarray(format="rgba")


def picture(width, height, seed=1, share=0.3):
    """Blobs of colour, soft and hard, premultiplied; some of it empty."""
    chance = np.random.default_rng(seed)
    small = chance.integers(0, 256, (height // 24 + 2, width // 24 + 2, 4))
    made = np.kron(small, np.ones((24, 24, 1)))[:height, :width]
    made[np.kron(chance.random(small.shape[:2]) > share, np.ones((24, 24)))[:height, :width] > 0] = 0
    alpha = made[..., 3:] / 255
    return np.concatenate([np.round(made[..., :3] * alpha), made[..., 3:]], axis=2).astype(np.uint8)


@pytest.mark.parametrize(
    "size", [(1920, 1080), (1280, 720), (1366, 768), (720, 576), (1080, 1920), (640, 360), (200, 90), (64, 48), (130, 18), (16, 16)]
)
def test_put_together_it_is_what_was_painted_at_any_size(size):
    width, height = size
    wanted = picture(width, height)
    found = decoded(Coder(Stub([wanted]), PRORES).packet(0), width, height).astype(int)
    alpha = wanted[..., 3].astype(int)
    assert np.abs(found[..., 3] - alpha).max() <= 1, "alpha is coded without loss"
    assert not found[alpha == 0][:, 3].any()
    solid = alpha > 200
    straight = np.round(wanted[..., :3] * 255.0 / np.maximum(alpha, 1)[..., None])
    assert not solid.any() or np.abs(found[..., :3] - straight)[solid].mean() < 4


def test_columns_are_those_of_the_standard():
    """SMPTE RDD 36, 5.3.2: 8 macroblocks a slice, what is left in 4, 2 and 1."""
    assert [c.width for c in columns_of(1920)] == [SLICE] * 15
    assert [c.width for c in columns_of(720)] == [SLICE] * 5 + [64, 16]
    assert [(c.left, c.width) for c in columns_of(100)] == [(0, 64), (64, 32), (96, 16)]


@given(st.integers(1, 5000))
def test_columns_cover_the_width(width):
    columns = columns_of(width)
    assert columns[0].left == 0 and all(b.left == a.left + a.width for a, b in itertools.pairwise(columns))
    assert width <= columns[-1].left + columns[-1].width < width + 16


def test_a_picture_taken_apart_and_put_together_is_the_same():
    coder = Coder(Stub([picture(400, 300)]), PRORES)
    whole = coder._coded(picture(400, 300))
    assert sliced(whole).packet() == whole
    for broken in (whole[:20], b"\0" * 100, whole[:4] + b"xxxx" + whole[8:]):
        with pytest.raises((ValueError, struct.error)):
            sliced(broken)


def test_a_slice_is_coded_once(monkeypatch):
    coding._slices.clear()
    coding._empties.clear()
    first = picture(640, 360)
    moved = np.zeros_like(first)
    moved[:-16] = first[16:]
    coder = Coder(Stub([first, moved, first]), PRORES)
    made = []
    plain = coder._coded
    monkeypatch.setattr(coder, "_coded", lambda pixels: made.append(pixels.shape) or plain(pixels))
    one, two, three = coder.packet(0), coder.packet(1), coder.packet(2)
    assert one == three and len(made) <= 4
    assert made.count((360, 640, 4)) == 1, "an empty picture once"
    found = decoded(two, 640, 360).astype(int)
    assert np.abs(found[..., 3] - moved[..., 3].astype(int)).max() <= 1


def test_what_is_kept_is_bounded(monkeypatch):
    monkeypatch.setattr("avlet.media.coding._MOST_SLICES", 50)
    coder = Coder(Stub([picture(640, 360, seed) for seed in range(4)]), PRORES)
    for frame in (0, 1, 2, 3, 0):
        assert decoded(coder.packet(frame), 640, 360).any()
        assert len(coder._known) <= 50


def test_a_whole_px_roll_as_a_film_is_what_the_stage_shows(tmp_path):
    part = credits(LONG)
    moving = scene(part).choreography.movers["c"]
    offer = next(o for o in whole_lengths(part.movement, moving.ends, 60) if o.length > 20)
    made = scene(part, offer.length)
    render(Drawing.of(made), tmp_path / "a.mov")
    with av.open(str(tmp_path / "a.mov")) as film:
        frames = [f.to_ndarray(format="rgba") for f in film.decode(video=0)]
    assert len(frames) == offer.length and not frames[0].any() and not frames[-1][..., 3].any()
    for number in (5, 11, len(frames) // 2, len(frames) - 4):
        wanted = Painter(Drawing.of(made)).paint(number)
        assert np.abs(frames[number][..., 3].astype(int) - wanted[..., 3].astype(int)).max() <= 1


def test_what_is_in_a_slice_alone_decides_its_bytes(tmp_path):
    """Slices are shared by all films of a process: whatever was coded before, and beside, a film has the same bytes."""
    opened = open_template(DEMO / "name-strap.avlet")
    drawing = Drawing.of(Scene(opened.template, opened.book, {"name": "Person 1"}))
    coding._slices.clear()
    coder = Coder(Painter(drawing), PRORES)
    pixels = coder.painter.paint(60).copy()
    coder.packet(60)
    alone = 0
    for _, key, column, cell in coder._cells(pixels, painted_area(pixels)):
        if cell.shape == (ROW, column.width, 4):
            picture = np.concatenate([cell, np.zeros((3 * ROW, column.width, 4), np.uint8)])
            assert sliced(coder._coded(picture)).slices[0] == coder._known[key]
            alone += 1
    assert alone > 40
    coarse = [scale_of(one) for one in coder._known.values()]
    assert max(coarse) > min(coarse) == scale_of(coder._empty.slices[0]), "a slice here is coarser than usual"
    render(drawing, tmp_path / "a.mov", workers=0)
    coding._slices.clear()
    render(drawing, tmp_path / "b.mov", workers=2)
    assert (tmp_path / "a.mov").read_bytes() == (tmp_path / "b.mov").read_bytes()


@pytest.mark.parametrize("opaque_rows", [0, 5_000])
def test_straight_bytes_are_the_premultiplied_ones_over_alpha_rounded(opaque_rows):
    """Every alpha with every value up to it, by fractions; alone, and among many px that are opaque, where it is worked out otherwise."""
    value, alpha = np.meshgrid(np.arange(256), np.arange(256))
    value, alpha = np.minimum(value, alpha).ravel(), alpha.ravel()
    wanted = np.where(alpha > 0, np.floor(255 * value / np.maximum(alpha, 1) + 0.5), 0)
    px = np.stack([value, value, np.minimum(3, alpha), alpha], axis=1).astype(np.uint8)
    picture = np.concatenate([np.full((opaque_rows, 256, 4), 255, np.uint8), px.reshape(256, 256, 4)])
    made = straight_bytes(picture)[opaque_rows:].reshape(-1, 4)
    off = made[:, 0].astype(int) - wanted
    assert (made[:, 3] == alpha).all() and (made[:, 1] == made[:, 0]).all() and np.abs(off).max() <= 1
    ties = np.abs(255 * value / np.maximum(alpha, 1) % 1 - 0.5) < 1e-4
    assert (off[~ties] == 0).all()
    assert (straight_bytes(picture)[:opaque_rows] == 255).all()
