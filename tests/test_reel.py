"""Reels: what they show is what the engine paints, each picture is there once, and what is too much is refused."""

import io
import json

import jsonschema
import numpy as np
import pytest
from conftest import DEMO, put
from PIL import Image

from avlet.errors import RenderError
from avlet.limits import MOST_REEL_PICTURES
from avlet.media import reel as reel_module
from avlet.media.drawing import Drawing
from avlet.media.reel import REEL, Reel, reel_of, reel_schema, refuse_too_many, write_reel
from avlet.media.render import StoppedError
from avlet.paint.scene import Scene, first_alike
from avlet.storage.package import open_template

STRAP = DEMO / "name-strap.avlet"


@pytest.fixture(scope="module")
def strap():
    return open_template(STRAP)


def drawing(opened, size=(960, 540), answers=None, length=None) -> Drawing:
    return Drawing.of(Scene(opened.template, opened.book, answers, length), size)


def composed(reel: Reel, files, frame: int) -> np.ndarray:
    """A frame put together as who only has the reel does: premultiplied RGBA, decoded by Pillow."""
    picture = np.zeros((reel.height, reel.width, 4), np.float64)
    for one in reel.frames[frame]:
        own = np.asarray(Image.open(io.BytesIO(files[reel.pictures[one.picture].file])).convert("RGBA")).astype(np.float64)
        own[..., :3] *= own[..., 3:] / 255
        picture[one.y : one.y + own.shape[0], one.x : one.x + own.shape[1]] = own
    return picture


@pytest.mark.parametrize(
    ("name", "frames"), [("name-strap", (0, 3, 7, 12, 60, 110, 124)), ("hectares", (0, 40, 80, 130)), ("place-tag", (10, 60))]
)
def test_each_frame_is_the_engines_picture(name, frames):
    opened = open_template(DEMO / f"{name}.avlet")
    scene = Scene(opened.template, opened.book)
    reel, files = reel_of(drawing(opened))
    assert reel.length == scene.length == len(reel.frames)
    for frame in frames:
        own, wanted = composed(reel, files, frame), scene.picture(frame, 960, 540).astype(float)
        assert np.array_equal(own[..., 3], wanted[..., 3]) and np.abs(own - wanted).max() <= 1, frame


def test_each_picture_is_there_once_and_a_hold_that_stands_is_one(strap):
    reel, files = reel_of(drawing(strap))
    alike = first_alike(Scene(strap.template, strap.book))
    assert len(reel.pictures) <= len(set(alike)) < 60 and len(files) == len(reel.pictures) == len(set(files.values()))
    assert reel.frames[0] == reel.frames[-1] == (), "empty ends cost nothing"
    held = reel.frames[reel.way_in + 5 : reel.length - reel.way_out - 5]
    assert len(held) > 50 and len(set(held)) == 1
    assert all(reel.frames[n] == reel.frames[first] for n, first in enumerate(alike))
    longer, more = reel_of(drawing(strap, length=600))
    assert longer.length == 600 and set(more.values()) == set(files.values()), "a longer hold is the same pictures"
    for picture in reel.pictures:
        data = files[picture.file]
        with Image.open(io.BytesIO(data)) as image:
            assert (image.format, image.size, picture.bytes) == ("WEBP", (picture.width, picture.height), len(data))


def test_the_name_straps_reel_is_light(strap):
    """Under 1.5 MB at 1080 lines."""
    reel, _ = reel_of(drawing(strap, (1920, 1080)))
    assert sum(picture.bytes for picture in reel.pictures) < 1_500_000


def test_what_stands_elsewhere_only_is_the_same_picture_at_another_place():
    from avlet.document.faults.checking import check
    from avlet.document.parts import Place, ShapePart
    from avlet.document.template import Frame, Template
    from avlet.document.time.eases import READY_EASES
    from avlet.document.time.moves import Move, StaysToTheEnd
    from avlet.text.fonts import bundled_fonts

    move = Move(x=-200, frames=10, ease=READY_EASES["even"])
    box = ShapePart(
        id="a", name="A", across=Place(gap=300), down=Place(gap=40), width=60, height=40, way_in=(move,), way_out=StaysToTheEnd()
    )
    scene = Scene(check(Template(parts=(box,), frame=Frame(480, 160), length=20, way_in=10, way_out=0, plays_out=False)), bundled_fonts())
    reel, _ = reel_of(Drawing.of(scene))
    assert len(reel.pictures) == 1 and [one[0].x for one in reel.frames[:11]] == [100 + 20 * n for n in range(11)]


def test_it_follows_its_published_schema_and_is_written_whole(strap, tmp_path):
    small = drawing(strap, (480, 270))
    made = write_reel(small, tmp_path / "reel")
    said = json.loads((tmp_path / "reel" / REEL).read_text())
    jsonschema.validate(said, reel_schema())
    assert json.loads((DEMO.parent / "docs/format/reel.schema.json").read_text()) == json.loads(json.dumps(reel_schema())), (
        "run scripts/write_format.py"
    )
    assert (said["rate"], said["length"], said["width"], said["way_in"]) == ("25/1", 125, 480, made.way_in)
    assert {path.name for path in (tmp_path / "reel").iterdir()} == {REEL, *(picture.file for picture in made.pictures)}
    (tmp_path / "reel" / "notes.txt").write_text("kept")
    still = Drawing.of(Scene(put(strap.template, {"template/plays_in": False, "template/plays_out": False}), strap.book), (480, 270))
    write_reel(still, tmp_path / "reel")
    assert sorted(path.name for path in (tmp_path / "reel").iterdir()) == ["0000.webp", "notes.txt", REEL], "pictures of the one before go"


def test_too_much_is_refused_in_words_and_leaves_nothing(strap, tmp_path, monkeypatch):
    with pytest.raises(RenderError, match=r"would need 3,001 pictures; 3,000 may be\. Render a film instead"):
        refuse_too_many(MOST_REEL_PICTURES + 1, "Long")
    refuse_too_many(MOST_REEL_PICTURES, "Long")
    monkeypatch.setattr(reel_module, "MOST_REEL", 20_000)
    with pytest.raises(RenderError, match="Render a film instead"):
        write_reel(drawing(strap), tmp_path / "large")
    monkeypatch.undo()
    with pytest.raises(StoppedError, match="nothing was written"):
        write_reel(drawing(strap), tmp_path / "stopped", lambda done, of: done < 3)
    assert list(tmp_path.iterdir()) == []


def test_the_verb_writes_tells_and_refuses(avlet, tmp_path):
    folder = tmp_path / "bo-li"
    status, out, err = avlet("reel", STRAP, "--set", "name=Bo Li", "--size", "480x270", "-o", folder)
    assert status == 0 and "125 frames from" in out + err and (folder / REEL).is_file()
    status, out, _ = avlet("reel", STRAP, "--size", "480x270", "-o", tmp_path / "not", "--dry-run", "--json")
    told = json.loads(out)
    assert status == 0 and told["verb"] == "reel" and told["dry_run"] and not (tmp_path / "not").exists()
    for words, said in (
        (("-o", folder, "--no-overwrite"), "is there already"), (("-o", "-"), "does not go to standard output"),
        (("-o", STRAP), ""), (("-o", tmp_path / "x", "--set", "nobody=1"), "nobody"),
    ):  # fmt: skip
        status, _, err = avlet("reel", STRAP, *words)
        assert status == 2 and said in err and "Traceback" not in err, words
    assert sorted(path.name for path in tmp_path.iterdir()) == ["bo-li"]
