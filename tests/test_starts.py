"""Starting points: every one holds in every frame, with every sample, and is empty at both ends."""

import msgspec
import pytest
from conftest import DEMO, TEMPLATES, a_share_of

from avlet.document.starts import STARTS, blank
from avlet.document.starts.of_a_kind import OF_A_KIND
from avlet.document.starts.single import SINGLE
from avlet.document.template import Frame
from avlet.layout.holding import hold
from avlet.paint.scene import Scene
from avlet.review.awkward import rows_of
from avlet.review.proof import prove
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


@pytest.mark.parametrize(("name", "frame"), [
    pytest.param(name, frame, id=f"{name}-{frame.width}x{frame.height}", marks=[] if (n + m) % len(FRAMES) == 0 else pytest.mark.soak)
    for n, name in enumerate(STARTS) for m, frame in enumerate(FRAMES)
])  # fmt: skip
def test_a_start_holds_with_every_sample(name, frame):
    """Each start in one of the frames; in all of them behind ``soak``."""
    template = STARTS[name](frame)
    for sample in template.samples:
        scene = Scene(template, bundled_fonts(), sample.answers)
        assert verdict(scene) == "holds", (sample.id, findings(scene))
        if template.parts:
            assert scene.picture(scene.length // 2, 192, 108).any()
        assert not scene.picture(0, 192, 108).any()
        assert not scene.picture(scene.length - 1, 192, 108).any()


SOUND = [DEMO / name for name in TEMPLATES if name != "broken-strap.avlet"]


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


@pytest.mark.parametrize("name", a_share_of([*OF_A_KIND, *SINGLE], 4))
def test_those_of_a_kind_prove_without_a_break(name):
    """Some of the awkward answers against every check; all of them were looked at by hand, upright and square as well."""
    template = hold(STARTS[name](Frame(480, 270)))
    if name == "Ten-minute countdown":
        template = msgspec.structs.replace(template, length=200)
    rows = [
        row
        for n, row in enumerate(rows_of(template))
        if n % (99 if "Solid" in name else 12) == 0 or row.name in ("Longest", "Widest letters")
    ]
    found = prove(template, bundled_fonts(), rows=rows, workers=0)
    assert [f.words for f in found.open if f.level == "breaks"] == []
    assert all(f.hint for f in template.card.fields) and len(template.samples) == 4


def test_a_board_has_its_counts_in_one_row_or_two_and_they_land_one_after_the_other():
    for frame, columns in ((Frame(1920, 1080), 4), (Frame(1080, 1920), 2), (Frame(1080, 1080), 2)):
        scene = Scene(STARTS["Board of four counts"](frame), bundled_fonts())
        counts = [rest for i, rest in scene.rest.parts.items() if i.endswith("-count")]
        assert len({round(one.box.y) for one in counts}) == 4 // columns
        landed = [scene.choreography.movers[one.part.id].times.land for one in counts]
        assert landed == sorted(landed) and len(set(landed)) == 4
        assert all(scene.rest.parts["band"].box.contains(one.box) for one in counts)
