"""The demo's spaces: a word that comes through a sheet, and a lower third that throws its shadow on whatever lies behind it."""

from avlet.document.card import Card, Sample, Section
from avlet.document.checking import check
from avlet.document.eases import READY_EASES
from avlet.document.fields import ColourField, NumberField, TextField
from avlet.document.keys import Key, Keyed
from avlet.document.moves import Move, StaysToTheEnd
from avlet.document.paints import Solid
from avlet.document.parts import Fit, Place, Room, ShapePart, Sky, SpacePart, Sun, TextPart
from avlet.document.solids import Solidity, Stand
from avlet.document.template import Frame, Template
from avlet.document.wires import Wire

FRAME = Frame(1920, 1080, "25/1")
MIDDLE = Place("frame", "middle", "middle")
CLOTH, ROSE, DEEP, SAND = "#D9D5C8", "#C0485A", "#20435C", "#EAE2D0"


def rising_word() -> Template:
    """Letter by letter through a sheet, past it and back, then flat; white at first, in its colour when it has arrived."""
    through = Move(
        travel="through the sheet", by="character", overlap=60, frames=30, coloured=True, colour="#FFFFFF", ease=READY_EASES["springy"]
    )
    parts = (
        ShapePart(id="sheet", name="Sheet", group="scene", width=1920, height=1080, fill=Solid(CLOTH), across=MIDDLE, down=MIDDLE,
                  way_out=StaysToTheEnd()),
        TextPart(id="word", name="Word", group="scene", text="TIDE", family="Fira Sans", style="Bold", size=400, align="middle", fill=Solid(ROSE),
                 case="capitals", room=Room(width=1560, remedies=("shrink",), smallest_size=25), across=MIDDLE, down=MIDDLE,
                 solid=Solidity(depth=90, edging="chamfered", edge=3, surface="satin"), way_in=(through,),
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
                  fit=Fit(("name", "role"), left=44, right=60, top=24, bottom=28), stand=Stand(before=26.0), way_in=(lifted,)),
        TextPart(id="role", name="Role", group="space", text="Marsh ecologist", family="Fira Sans", style="Medium", size=44, fill=Solid(SAND),
                 across=Place("name"), down=Place("name", "start", "end", 0), stand=Stand(before=30.0), way_in=(later,),
                 room=Room(width=1340, remedies=("shrink",), smallest_size=60)),
        TextPart(id="name", name="Name", group="space", text="Odalys Brandt", family="Fira Sans", style="Bold", size=84, fill=Solid("#FFFFFF"),
                 across=Place("title-safe", gap=50), down=Place("title-safe", "end", "end", -100), stand=Stand(before=30.0), way_in=(later,),
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


SPACES = {"rising-word": rising_word, "shadow-strap": shadow_strap}
