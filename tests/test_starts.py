"""Starting points: every one holds in every frame, with every sample, and is empty at both ends."""

import pytest
from conftest import DEMO

from avlet.document.starts import STARTS, blank
from avlet.document.template import Frame
from avlet.paint.scene import Scene
from avlet.review.samples import findings, verdict
from avlet.storage.package import open_template
from avlet.text.fonts import bundled_fonts

FRAMES = [
    Frame(1920, 1080, "25/1"),
    Frame(3840, 2160, "50/1"),
    Frame(1280, 720, "30000/1001"),
    Frame(1080, 1080, "25/1"),
    Frame(1080, 1920, "30/1"),
]


@pytest.mark.parametrize("frame", FRAMES, ids=lambda f: f"{f.width}x{f.height}")
@pytest.mark.parametrize("start", STARTS.values(), ids=STARTS.keys())
def test_a_start_holds_with_every_sample(start, frame):
    template = start(frame)
    for sample in template.samples:
        scene = Scene(template, bundled_fonts(), sample.answers)
        assert verdict(scene) == "holds", (sample.id, findings(scene))
        if template.parts:
            assert scene.picture(template.length // 2, 192, 108).any()
        assert not scene.picture(0, 192, 108).any()
        assert not scene.picture(template.length - 1, 192, 108).any()


SOUND = sorted(path for path in DEMO.glob("*.avlet") if path.stem != "broken-strap")


@pytest.mark.parametrize("path", SOUND, ids=lambda p: p.stem)
def test_every_demo_template_holds(path):
    opened = open_template(path)
    assert opened.notes == ()
    for sample in opened.template.samples:
        scene = Scene(opened.template, opened.book, sample.answers)
        assert verdict(scene) == "holds", (sample.id, findings(scene))
        assert not [note for note in scene.notes() if "stands in" in note or "No font" in note]


def test_type_follows_the_frame():
    # Type doubles from 1080 to 2160 lines: common practice, no source.
    small, large = STARTS["Two-line lower third"](FRAMES[0]), STARTS["Two-line lower third"](FRAMES[1])
    assert large.part("name").size == 2 * small.part("name").size
    assert large.part("plate").fit.left == 2 * small.part("plate").fit.left
    assert (small.length, large.length) == (125, 250)


def test_an_empty_frame_has_its_samples():
    assert [s.name for s in blank().samples] == ["Shortest", "Typical", "Longest", "Two lines"]


def test_the_cut_out_bar_follows_its_words():
    template = STARTS["Word cut out of a bar"](FRAMES[0])
    short, long = (Scene(template, bundled_fonts(), {"words": w}).rest.parts for w in ("Ebb", "The Long Tide"))
    assert long["bar"].box.w - short["bar"].box.w == pytest.approx(long["words"].box.w - short["words"].box.w)
