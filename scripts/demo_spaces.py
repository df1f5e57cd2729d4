"""The demo's spaces: a word that comes through a sheet, two lines before balls in a harbour's light, and a lower third that throws its
shadow on whatever lies behind it."""

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Range, Wire
from avlet.document.editing.edits import replace
from avlet.document.faults.checking import check
from avlet.document.fields import ColourField, NumberField, TextField
from avlet.document.looks.paints import Solid
from avlet.document.parts import BallPart, Fit, GroupPart, LampPart, Place, Room, ShapePart, Sky, SpacePart, Sun, TextPart
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import Key, Keyed
from avlet.document.time.moves import Move, StaysToTheEnd, Sway

FRAME = Frame(1920, 1080, "25/1")
MIDDLE = Place("frame", "middle", "middle")
CLOTH, ROSE, DEEP, SAND = "#D9D5C8", "#C0485A", "#20435C", "#EAE2D0"


def rising_word() -> Template:
    """Letter by letter through a sheet, past it and back, then flat; white at first, in its colour when it has arrived."""
    through = Move(travel="through the sheet", by="character", overlap=60, frames=30, ease=READY_EASES["springy"])
    whitened = Move(coloured=True, colour="#FFFFFF", by="character", overlap=60, frames=30, ease=READY_EASES["soft both"])
    parts = (
        ShapePart(id="sheet", name="Sheet", group="scene", width=1920, height=1080, fill=Solid(CLOTH), across=MIDDLE, down=MIDDLE,
                  way_out=StaysToTheEnd()),
        TextPart(id="word", name="Word", group="scene", text="TIDE", family="Fira Sans", style="Bold", size=400, align="middle", fill=Solid(ROSE),
                 case="capitals", room=Room(width=1560, remedies=("shrink",), smallest_size=25), across=MIDDLE, down=MIDDLE,
                 solid=Solidity(depth=90, edging="chamfered", edge=3, surface="satin"), way_in=(through, whitened),
                 keys=(Keyed("solid.depth", (Key(0, 100.0), Key(34, 100.0), Key(50, 12.0)), "times"),)),
        SpacePart(id="scene", name="Scene", way_out=StaysToTheEnd()),
    )  # fmt: skip
    card = Card("One word, in a colour and as deep as you like.", (
        Section("Word", (TextField(id="word", label="Word", default="TIDE", hint="One word, or two short ones", longest=16),)),
        Section("Look", (
            ColourField(id="colour", label="Colour", default=ROSE, hint="It comes white, and takes this on"),
            NumberField(id="depth", label="Depth", default=90, low=10, high=200, unit="px", hint="Before it settles"),
        )),
    ))  # fmt: skip
    return check(Template(
        name="Rising word", category="Titles", keywords=("title", "depth", "word", "shadow"), frame=FRAME, length=120, way_in=50, way_out=40,
        parts=parts, card=card, wires=(Wire("word", "word/text"), Wire("colour", "word/fill.colour"), Wire("depth", "word/solid.depth")),
        samples=(
            Sample("shortest", "Shortest", {"word": "O"}), Sample("typical", "Typical", {"word": "Tide"}),
            Sample("longest", "Longest", {"word": "Saltmarsh storms"}), Sample("other", "Another colour", {"word": "Reed", "colour": "#2F6A78"}),
        ),
    ))  # fmt: skip


def shadow_strap() -> Template:
    """A lower third of flat parts that stand before a sheet of which only the shadows are seen."""
    soft = READY_EASES["soft end"]
    lifted = Move(z=-25.0, opacity=0.0, frames=18, ease=soft)
    later = Move(z=90.0, opacity=0.0, frames=16, start=8, ease=soft)
    parts = (
        ShapePart(id="ground", name="Ground for shadows", group="space", width=1920, height=1080, across=MIDDLE, down=MIDDLE,
                  stand=Stand(only_shadows=True), way_out=StaysToTheEnd()),
        ShapePart(id="plate", name="Plate", group="space", corner=14, fill=Solid(DEEP), across=None, down=None,
                  fit=Fit(("name", "role"), left=44, right=60, top=24, bottom=28), stand=Stand(on="ground", before=26.0), way_in=(lifted,)),
        TextPart(id="role", name="Role", group="space", text="Marsh ecologist", family="Fira Sans", style="Medium", size=44, fill=Solid(SAND),
                 across=Place("name"), down=Place("name", "start", "end", 0), stand=Stand(on="plate", before=4.0), way_in=(later,),
                 room=Room(width=1340, remedies=("shrink",), smallest_size=60)),
        TextPart(id="name", name="Name", group="space", text="Odalys Brandt", family="Fira Sans", style="Bold", size=84, fill=Solid("#FFFFFF"),
                 across=Place("title-safe", gap=50), down=Place("title-safe", "end", "end", -100), stand=Stand(on="plate", before=4.0), way_in=(later,),
                 room=Room(width=1340, remedies=("shrink",), smallest_size=60)),
        SpacePart(id="space", name="Space", sun=Sun(strength=70.0, round=-35.0, up=48.0, soft=22.0), sky=Sky(30.0), way_out=StaysToTheEnd()),
    )  # fmt: skip
    card = Card("A name and what somebody does, lifted off the picture.", (
        Section("Words", (
            TextField(id="name", label="Name", default="Odalys Brandt", hint="One line", longest=40),
            TextField(id="role", label="Role", default="Marsh ecologist", hint="What somebody does, one line", longest=60),
        )),
        Section("Look", (ColourField(id="colour", label="Plate", default=DEEP, hint="Dark, so that white can be read on it"),)),
    ))  # fmt: skip
    return check(Template(
        name="Shadow strap", category="Lower thirds", keywords=("name", "role", "shadow", "depth"), frame=FRAME, length=125, way_in=25, way_out=25,
        parts=parts, card=card, wires=(Wire("name", "name/text"), Wire("role", "role/text"), Wire("colour", "plate/fill.colour")),
        samples=(
            Sample("shortest", "Shortest", {"name": "Bo Li", "role": "Ringer"}), Sample("typical", "Typical", {}),
            Sample("longest", "Longest", {"name": "Ioana Crețu-Whitlock", "role": "Head of volunteer programmes, northern reaches"}),
            Sample("other", "Another script", {"name": "ياسمين الحداد", "role": "Hydrologist"}),
        ),
    ))  # fmt: skip


def harbour_depths() -> Template:
    """Two lines before balls, at night. A lamp goes along them in the hold; for long lines the camera steps back."""
    past, even = READY_EASES["a little past"], READY_EASES["soft both"]
    swung = Move(turn_y=75.0, z=-260.0, by="character", overlap=75, frames=26, ease=past, opacity=0.0)
    after = Move(turn_x=-80.0, z=160.0, by="character", overlap=80, frames=26, start=8, ease=past, opacity=0.0)
    drop = Move(z=1500.0, opacity=0.0, frames=22, ease=past)
    line = {"family": "Fira Sans", "style": "Bold", "align": "middle", "case": "capitals", "group": "words", "across": MIDDLE}
    balls = ((-560.0, -170.0, 300.0, "#2F6A78", 90), (690.0, 150.0, 240.0, "#C0485A", 40), (300.0, -330.0, 120.0, "#F4B23E", 160),
             (-760.0, 290.0, 130.0, "#D9D5C8", 120))  # fmt: skip
    parts = (
        ShapePart(id="wall", name="Wall", group="harbour", width=9600, height=6000, fill=Solid("#2B5876"), across=MIDDLE, down=MIDDLE,
                  stand=Stand(before=-620.0), way_out=StaysToTheEnd()),
        *(BallPart(id=f"ball-{n}", name=f"Ball {n}", group="harbour", diameter=wide, fill=Solid(colour), surface="satin",
                   across=Place("frame", "middle", "middle", x), down=Place("frame", "middle", "middle", y),
                   stand=Stand(on="wall", before=float(gap)), way_in=(replace(drop, start=n * 3),))
          for n, (x, y, wide, colour, gap) in enumerate(balls, 1)),
        TextPart(id="lower", name="Lower line", text="Lights", size=190, fill=Solid("#FFD27A"), solid=Solidity(depth=46, edging="chamfered", edge=3),
                 down=Place("upper", "start", "end", -20), way_in=(after,), **line),
        TextPart(id="upper", name="Upper line", text="Harbour", size=250, fill=Solid("#EAE2D0"), solid=Solidity(depth=64, edging="chamfered", edge=4),
                 down=Place("frame", "middle", "middle", -90), way_in=(swung,), **line),
        GroupPart(id="words", name="Words", group="harbour"),
        LampPart(id="lamp", name="Harbour lamp", group="harbour", across=Place("frame", "middle", "middle", -620), way_in=(
            Move(opacity=0.0, frames=20, start=14),), down=Place("frame", "middle", "middle", -250), before=330.0, strength=120.0,
            reach_of_light=900.0, soft=16.0, sways=(Sway("drifts", x=1240.0, y=60.0, ease=even),)),
        SpacePart(id="harbour", name="Harbour", sun=Sun(strength=18.0, round=-30.0, up=40.0, soft=40.0, colour="#C9D8F0"),
                  sky=Sky(26.0, "#9FC3E8")),
    )  # fmt: skip
    card = Card("Two lines in the light of a lamp that passes by.", (
        Section("Words", (
            TextField(id="upper", label="Upper line", default="Harbour", hint="One or two words", longest=18),
            TextField(id="lower", label="Lower line", default="Lights", hint="One or two words", longest=22),
        )),
        Section("Look", (
            ColourField(id="colour", label="Lower line", default="#FFD27A", hint="Bright: it is night"),
            NumberField(id="lamp", label="Lamp", default=120, low=40, high=250, unit="%", hint="How bright the lamp is"),
        )),
    ))  # fmt: skip
    steps_back = Range(from_low=1500.0, from_high=4500.0, to_low=100.0, to_high=300.0)
    return check(Template(
        name="Harbour depths", category="Titles", keywords=("title", "depth", "lamp", "balls", "night"), frame=FRAME, length=150, way_in=50,
        way_out=40, parts=parts, card=card, wires=(
            Wire("upper", "upper/text"), Wire("lower", "lower/text"), Wire("colour", "lower/fill.colour"), Wire("lamp", "lamp/strength"),
            Wire("words/rest.width", "harbour/camera.distance", steps_back),
        ),
        samples=(
            Sample("shortest", "Shortest", {"upper": "O", "lower": "1"}), Sample("typical", "Typical", {}),
            Sample("longest", "Longest", {"upper": "Northern Sluiceway", "lower": "Lanterns of midsummer"}),
            Sample("other", "Another script", {"upper": "長い潮", "lower": "ياسمين"}),
        ),
    ))  # fmt: skip


SPACES = {"rising-word": rising_word, "harbour-depths": harbour_depths, "shadow-strap": shadow_strap}
