"""Members of a space that stand on each other, come through each other, come from the camera and go there."""

import msgspec
import numpy as np
import pytest
from conftest import DEMO
from space_parts import FLAT_LIGHT, SMALL, STAYS, rgb, scene, sheet, template, word

from avlet.document.editing import edits
from avlet.document.editing.pieces import piece_of
from avlet.document.faults.checking import check
from avlet.document.parts import BallPart, Camera, GroupPart, LampPart, Place, SpacePart
from avlet.document.solids import Solidity, Stand
from avlet.document.standing import back_of, front_of
from avlet.document.template import Template
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import READY_MOVES, Move, OwnWayOut, Tie
from avlet.errors import DocumentError
from avlet.motion.camera import position
from avlet.motion.plans import lifted_by
from avlet.motion.stands import corners_in_space
from avlet.paint.scene import Scene
from avlet.review.measuring import measure
from avlet.storage.package import open_template


def depths(made, frame, part_id):
    """From back to front, of all units at once."""
    z = corners_in_space(made.pose(frame).parts[part_id])[..., 2]
    return float(z.min()), float(z.max())


def test_members_stand_on_fronts_and_backs(book):
    box = sheet("box", width=200.0, height=100.0, solid=Solidity(depth=40.0), stand=Stand(before=15.0))
    made = scene(book, sheet(), box, word(stand=Stand(on="box", before=5.0)), STANDING)
    assert depths(made, 30, "box") == (15.0, 55.0)
    assert depths(made, 30, "word") == (60.0, 80.0)
    assert depths(made, 30, "ball") == (15.0 - 7.0, 15.0 - 7.0 + 30.0), "on its back, 7 px behind that"
    parts = {i: one.part for i, one in made.rest.parts.items()}
    assert (back_of(parts, parts["word"]), front_of(parts, parts["word"])) == (60.0, 80.0)
    facts = {part["id"]: part for part in measure(made, 30)["parts"]}
    assert (facts["word"]["depth"]["back"], facts["word"]["depth"]["front"]) == (60.0, 80.0)


STANDING = BallPart(id="ball", name="Ball", diameter=30.0, group="space", stand=Stand(on="box", side="back", before=-7.0))


def test_what_stands_on_a_member_moves_with_its_depth_as_designed(book):
    box = sheet("box", solid=Solidity(depth=40.0))
    made = template(box, word(stand=Stand(on="box")))
    deeper = edits.set_property(made, "box/solid.depth", 90.0)
    from avlet.paint.scene import Scene

    assert depths(Scene(deeper, book), 30, "word") == (90.0, 110.0)


def test_standing_in_a_circle_is_refused_in_words():
    one, other = sheet("one", stand=Stand(on="other")), sheet("other", stand=Stand(on="one"))
    with pytest.raises(DocumentError, match="one stands on other, other stands on one"):
        template(one, other)
    with pytest.raises(DocumentError, match="stands on one"):
        template(sheet("one", stand=Stand(on="one")))
    with pytest.raises(DocumentError, match="not in the template"):
        template(sheet("one", stand=Stand(on="nothing")))


def test_names_of_what_is_stood_on_and_come_through_are_kept():
    made = template(sheet(), word(stand=Stand(on="sheet"), way_in=(Move(travel="through the sheet", through="sheet"),)))
    both, copies = edits.duplicate_parts(made, ["sheet", "word"])
    copy = both.part(next(i for i in copies if i.startswith("word")))
    assert copy.stand.on == next(i for i in copies if i.startswith("sheet")) == copy.way_in[0].through
    alone, (only,) = edits.duplicate_parts(made, ["word"])
    assert alone.part(only).stand.on == "sheet"
    gone = edits.remove_parts(made, ["sheet"], dict.fromkeys(("sheet", "word", "space"), (0.0, 0.0, 10.0, 10.0)))
    assert gone.part("word").stand.on == "" and gone.part("word").way_in[0].through == ""
    alone = piece_of(made, ["word"], dict.fromkeys(("sheet", "word", "space"), (0.0, 0.0, 10.0, 10.0))).template
    assert alone.part("word").stand.on == "" and alone.part("word").way_in[0].through == ""


def test_a_move_through_itself_or_nothing_is_refused():
    for through, said in (("word", "comes through itself"), ("nothing", "not in the template")):
        with pytest.raises(DocumentError, match=said):
            template(word(way_in=(Move(travel="through the sheet", through=through),)))
        with pytest.raises(DocumentError, match=said):
            template(word(way_out=OwnWayOut((Move(travel="through the sheet", through=through),))))


def test_it_comes_through_a_member_from_just_behind_it(book):
    """From a px behind the other's back: no letter is seen before it begins, and each arrives where it stands."""
    move = msgspec.structs.replace(READY_MOVES["comes through"], frames=20, through="screen", ease=READY_MOVES["fades"].ease)
    screen = sheet("screen", "#20435C", 420.0, 220.0, stand=Stand(before=60.0))
    standing = word(stand=Stand(before=90.0), way_in=(move,), **STAYS)
    made = scene(book, sheet(), screen, standing, **FLAT_LIGHT)
    assert depths(made, 0, "word") == pytest.approx((60.0 - 1.0 - 20.0, 60.0 - 1.0))
    assert depths(made, 30, "word") == (90.0, 110.0)
    without = scene(book, sheet(), screen, **FLAT_LIGHT)
    assert (made.picture(0) == without.picture(0)).all() and (made.picture(30) != without.picture(30)).any()
    assert made.pose(0).visible_box("word") is None
    seen = [int((rgb(made.picture(f)) != rgb(without.picture(f))).any(axis=2).sum()) for f in range(0, 21, 4)]
    assert seen[:4] == sorted(seen[:4]) and 0 < seen[1] < seen[-1] / 2, "letter by letter"
    deep = scene(book, sheet("screen", solid=Solidity(depth=30.0), stand=Stand(before=60.0)), standing)
    assert depths(deep, 0, "word")[1] == pytest.approx(59.0), "behind the back of one that is deep"


def test_springs_go_past_and_settle_in_depth(book):
    from avlet.document.time.eases import READY_EASES

    move = msgspec.structs.replace(READY_MOVES["comes through"], frames=20, by="whole", ease=READY_EASES["springy"])
    made = scene(book, sheet(), word(way_in=(move,), **STAYS))
    fronts = [depths(made, frame, "word")[1] for frame in range(22)]
    assert max(fronts) > 21.0 and fronts[0] == pytest.approx(-1.0) and fronts[-1] == 20.0


@pytest.mark.parametrize("camera", [Camera(), Camera(distance=60.0), Camera(angle=70.0), Camera(round=40.0, up=10.0)])
def test_it_comes_from_behind_the_camera_and_goes_back(book, camera):
    move = msgspec.structs.replace(READY_MOVES["comes from the camera"], frames=20)
    made = scene(book, word(way_in=(move,)), camera=camera)
    eye = position(camera, SMALL)[2]
    assert depths(made, 0, "word")[0] == pytest.approx(max(eye, 441.56 / 10 if eye < 44 else eye) + 1.0, abs=0.1)
    assert made.picture(0).max() == 0
    assert depths(made, 30, "word") == (0.0, 20.0)
    left = msgspec.structs.replace(template(word(way_in=(move,)), camera=camera), way_out=20)
    from avlet.paint.scene import Scene

    gone = Scene(left, book)
    assert gone.picture(59).max() == 0, "mirrored, it leaves where it came from"
    assert depths(gone, 59, "word")[0] == pytest.approx(depths(gone, 0, "word")[0])


def test_outside_of_a_space_such_moves_are_no_more_than_flat(book):
    move = msgspec.structs.replace(READY_MOVES["comes from the camera"], frames=20)
    flat = Template(frame=SMALL, length=60, way_in=20, way_out=0, parts=(word(group=None, way_in=(move,)),))
    from avlet.paint.scene import Scene

    made = Scene(flat, book)
    assert np.abs(made.picture(0).astype(int) - made.picture(30)).max() <= 8, "but for being painted letter by letter"


@pytest.mark.parametrize("order", ["first to last", "last to first", "middle out", "ends in"])
def test_all_orders_go_through_in_depth(book, order):
    move = msgspec.structs.replace(READY_MOVES["comes through"], frames=20, overlap=0.0, order=order, ease=READY_MOVES["fades"].ease)
    made = scene(book, sheet(), word(way_in=(move,), **STAYS))
    z = corners_in_space(made.pose(7).parts["word"])[..., 2].max(axis=1)
    first, last = {"first to last": (0, 3), "last to first": (3, 0), "middle out": (1, 0), "ends in": (0, 1)}[order]
    assert z[first] > z[last]


def test_it_swings_about_upright_and_level_axes(book):
    for turned, axis in ((Move(turn_y=90.0, frames=20), 0), (Move(turn_x=90.0, frames=20), 1)):
        made = scene(book, word("H", way_in=(turned,), solid=None))
        at = corners_in_space(made.pose(0).parts["word"])[0]
        assert np.ptp(at[:, axis]) < 1e-6 and np.ptp(at[:, 2]) > 20 and np.ptp(at[:, 1 - axis]) > 20


def test_ties_and_pace_hold_in_depth(book):
    first = sheet("first", way_in=(Move(z=-50.0, frames=10),))
    second = sheet("second", way_in=(Move(z=-50.0, frames=5, tie=Tie("first", "after its end")),))
    made = scene(book, first, second)
    assert depths(made, 9, "second")[0] == -50.0 and depths(made, 15, "second")[0] == 0.0


def test_most_lamps_are_counted_through_groups():
    lamps = [LampPart(id=f"l{n}", name=f"Lamp {n}", group="inner" if n % 2 else "space") for n in range(5)]
    with pytest.raises(DocumentError, match="Space has 5 lamps; a space has at most 4"):
        check(Template(parts=(*lamps, GroupPart(id="inner", name="In", group="space"), SpacePart(id="space", name="Space"))))
    check(Template(parts=(*lamps[:4], GroupPart(id="inner", name="In", group="space"), SpacePart(id="space", name="Space"))))


def test_a_lamp_takes_no_room_in_its_space(book):
    lamp = LampPart(id="lamp", name="Lamp", group="space", across=Place(gap=-500.0), down=Place(gap=-500.0))
    box = scene(book, word(), lamp).rest.parts["space"].box
    assert box == scene(book, word()).rest.parts["space"].box
    assert scene(book, word(), lamp).pose(30).visible_box("space").x > 0


@pytest.mark.parametrize("which", ["the word's depth", "the word's place", "the sheet's depth", "the screen's place"])
def test_what_waits_is_behind_by_what_it_is_in_that_frame(book, which):
    """Depths and places that are keyed: as long as its turn has not come nothing of a letter is seen."""
    move = Move(travel="through the sheet", by="character", overlap=0, frames=20, through="screen")
    path, low, high = {
        "the word's depth": ("solid.depth", 20.0, 80.0), "the word's place": ("stand.before", 90.0, 200.0), "the sheet's depth": ("solid.depth", 30.0, 5.0),
        "the screen's place": ("stand.before", 60.0, 10.0),
    }[which]  # fmt: skip
    keyed = (Keyed(path, (Key(0, high, to_next="straight"), Key(20, low))),)
    own = {"keys": keyed} if which.startswith("the word") else {}
    screen = sheet(
        "screen", "#20435C", 420.0, 220.0, solid=Solidity(depth=30.0), stand=Stand(before=60.0), **({} if own else {"keys": keyed}), **STAYS
    )
    standing = word(stand=Stand(before=90.0), way_in=(move,), **STAYS, **own)
    made = scene(book, sheet(), screen, standing, **FLAT_LIGHT)
    without = scene(book, sheet(), screen, **FLAT_LIGHT)
    assert (made.picture(0) == without.picture(0)).all()
    fronts = corners_in_space(made.pose(9).parts["word"])[..., 2]
    backs = depths(made, 9, "screen")[0]
    last = fronts.reshape(made.rest.parts["word"].body.setting.counts["character"], -1)[-1]
    assert last.max() == pytest.approx(backs - 1.0, abs=0.05), "the last letter waits just behind it"
    for frame in range(4):
        right = rgb(made.picture(frame))[:, 320:]
        assert (right == rgb(without.picture(frame))[:, 320:]).all(), frame


def test_what_waits_counts_with_the_keys_of_what_its_screen_stands_on(book):
    move = Move(travel="through the sheet", by="character", overlap=0, frames=20, through="screen")
    base = sheet(
        "base",
        "#999999",
        440.0,
        240.0,
        stand=Stand(before=40.0),
        keys=(Keyed("stand.before", (Key(0, 5.0, to_next="straight"), Key(20, 40.0))),),
        **STAYS,
    )
    screen = sheet("screen", "#20435C", 420.0, 220.0, stand=Stand(on="base", before=10.0), **STAYS)
    made = scene(book, sheet(), base, screen, word(stand=Stand(before=90.0), way_in=(move,), **STAYS), **FLAT_LIGHT)
    parts = {i: one.part for i, one in made.rest.parts.items()}
    assert lifted_by(move, parts["word"], parts) == {"word", "screen", "base", "space"}
    parts["base"] = edits.replace(parts["base"], stand=Stand(before=5.0))
    back = back_of(parts, parts["screen"])
    assert back == 15.0 and depths(made, 0, "word")[1] == pytest.approx(back - 1.0, abs=0.05)


def test_the_demos_word_shows_no_letter_before_its_turn(book):
    opened = open_template(DEMO / "rising-word.avlet")
    made = Scene(opened.template, opened.book)
    blank = Scene(opened.template, opened.book, {"word": " "})
    for frame in (2, 5, 8, 11):
        right, alone = (rgb(one.picture(frame, 480, 270))[:, 300:] for one in (made, blank))
        assert abs(right - alone).max() <= 1, frame
    depth = [made.pose(frame).parts["word"].rest.part.solid.depth for frame in range(made.length)]
    assert max(depth) <= 90.0 + 1e-9, "keys between two equal ones stay there"
    tints = [made.pose(frame).parts["word"].tint for frame in range(1, 31)]
    white = np.array([np.zeros(4) if tint is None else tint.share for tint in tints])
    assert (np.diff(white, axis=0) <= 1e-9).all() and white[0].min() > 0.9 and white[-1].max() == 0.0, "a letter takes on its colour once"
