"""Write the demo's templates and cut from their definition here. Run from the project's root."""

from collections.abc import Callable
from pathlib import Path

from avlet.document.card import Card, ColourField, NumberField, Sample, Section, SwitchField, TextField, Wire
from avlet.document.checking import check
from avlet.document.cut import Cut, PictureClip, Title
from avlet.document.eases import READY_EASES
from avlet.document.edits import replace
from avlet.document.moves import Move
from avlet.document.paints import Solid
from avlet.document.parts import Fit, Matte, Place, Room, RulePart, ShapePart, TextPart
from avlet.document.starts import cut_out, framed_title, side_rule, slanted_tag
from avlet.document.template import Frame, Template
from avlet.media.timeline import write_cut
from avlet.storage.package import save_template
from avlet.text.fonts import bundled_fonts

DEMO = Path("demo")
SOFT = READY_EASES["quick, then soft"]


def name_strap() -> Template:
    """Two bars that follow a name and a role; words rise out of the bars line by line."""
    unfold = Move(scale_x=0, hinge_x=0, frames=20, ease=SOFT)
    rise = Move(travel="out of the matte", side="below", by="line", overlap=60, frames=20, start=5, ease=SOFT)
    parts = (
        RulePart(
            id="rule", name="Rule", direction="down", width=8, fill=Solid("#6CC7B0"),
            fit=Fit(("plate", "role-plate"), left=0, right=0, top=0, bottom=0),
            across=Place("title-safe"), down=None, way_in=(Move(scale_y=0, hinge_y=100, frames=10, ease=SOFT),),
        ),
        ShapePart(
            id="role-plate", name="Role plate", corner=5, fill=Solid("#EAE2D0"), across=None, down=None,
            fit=Fit(("role",), left=50, right=40, top=8, bottom=8),
            way_in=(Move(scale_x=0, hinge_x=0, frames=17, start=5, ease=SOFT),),
        ),
        ShapePart(
            id="plate", name="Plate", corner=30, fill=Solid("#20435C"), across=None, down=None,
            fit=Fit(("name",)), way_in=(unfold,),
        ),
        TextPart(
            id="role", name="Role", text="Marsh ecologist", family="Fira Sans", style="Medium", size=42, leading=130,
            fill=Solid("#20435C"), across=Place("name"), down=Place("title-safe", "end", "end", -8),
            mattes=(Matte("role-plate"),),
            way_in=(Move(travel="out of the matte", side="below", by="line", frames=15, start=10, ease=SOFT),),
        ),
        TextPart(
            id="name", name="Name", text="Odalys Brandt", family="Fira Sans", style="Bold", size=80, leading=110,
            fill=Solid("#FFFFFF"), across=Place("rule", "start", "end", 62), down=Place("role-plate", "end", "start", -33, closes=True),
            mattes=(Matte("plate"),), way_in=(rise,),
        ),
    )  # fmt: skip
    card = Card(
        "Two lines. The bars follow the words.",
        (
            Section("Words", (
                TextField(id="name", label="Name", default="Odalys Brandt", several_lines=True, hint="One or two lines"),
                TextField(id="role", label="Role", default="Marsh ecologist", hint="What they do, in a few words"),
            )),
            Section("Look", (
                ColourField(id="bar-colour", label="Bar colour", default="#20435C", hint="Dark enough for white words"),
                SwitchField(id="role-line", label="Role line", default=True, hint="Shows the role under the name"),
                NumberField(id="corners", label="Corners", default=30, low=0, high=60, unit="px", hint="0 is square"),
            )),
        ),
    )  # fmt: skip
    wires = (
        Wire("name", "name/text"), Wire("role", "role/text"), Wire("bar-colour", "plate/fill.colour"),
        Wire("bar-colour", "role/fill.colour"), Wire("role-line", "role/shown"), Wire("role-line", "role-plate/shown"),
        Wire("corners", "plate/corner"),
    )  # fmt: skip
    samples = (
        Sample("shortest", "Shortest", {"name": "Bo Li", "role": "Ringer"}),
        Sample("typical", "Typical", {"name": "Odalys Brandt", "role": "Marsh ecologist"}),
        Sample("longest", "Longest", {"name": "Ioana Crețu-Whitlock", "role": "Head of volunteer programmes, northern reaches"}),
        Sample("two-lines", "Two lines", {"name": "Teodor Våge and\nNkechi Arundel", "role": "Sluice keeper, boat builder"}),
    )
    return check(Template(
        name="Name strap", category="Lower thirds", keywords=("name", "role", "two lines", "bars"),
        frame=Frame(1920, 1080, "25/1"), length=125, way_in=25, way_out=25,
        parts=parts, card=card, wires=wires, samples=samples,
    ))  # fmt: skip


def episode_title() -> Template:
    """A centred title whose letters fade and rise in one by one."""
    letters = Move(y=46, opacity=0, by="character", overlap=75, frames=30, start=6, ease=READY_EASES["soft end"])
    parts = (
        TextPart(
            id="series", name="Series", text="Saltmarsh Stories · Episode one", family="Fira Sans Condensed", style="Medium",
            size=46, tracking=120, align="middle", fill=Solid("#F4E9D2"),
            across=Place("frame", "middle", "middle"), down=Place("rule", "end", "start", -18),
            way_in=(Move(opacity=0, by="word", overlap=50, frames=18, start=12, ease=READY_EASES["soft end"]),),
        ),
        RulePart(
            id="rule", name="Rule", direction="across", width=4, fill=Solid("#F4B23E"),
            fit=Fit(("title",), left=-40, right=-40, top=0, bottom=0), across=None, down=Place("title", "end", "start", -6),
            way_in=(Move(scale_x=0, frames=20, ease=SOFT),),
        ),
        TextPart(
            id="title", name="Title", text="The Long Tide", family="Alegreya", style="ExtraBold", size=190, leading=105,
            align="middle", room=Room(width=1640, remedies=("wrap", "shrink"), balanced=True),
            across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle", 30),
            way_in=(letters,),
        ),
    )  # fmt: skip
    card = Card("A centred title for the start of an episode.", (
        Section("Words", (
            TextField(id="title", label="Title", default="The Long Tide", several_lines=True),
            TextField(id="series", label="Line above", default="Saltmarsh Stories · Episode one"),
        )),
        Section("Look", (
            NumberField(id="size", label="Title size", default=190, low=90, high=260, step=5, unit="px"),
            ColourField(id="rule-colour", label="Rule colour", default="#F4B23E"),
        )),
    ))  # fmt: skip
    wires = (
        Wire("title", "title/text"), Wire("series", "series/text"), Wire("size", "title/size"),
        Wire("rule-colour", "rule/fill.colour"),
    )  # fmt: skip
    samples = (
        Sample("shortest", "Shortest", {"title": "Ebb", "series": "Episode six"}),
        Sample("typical", "Typical", {"title": "The Long Tide"}),
        Sample("longest", "Longest", {"title": "Where the River Lets Go", "series": "Saltmarsh Stories · Episode twenty-three"}),
        Sample("two-lines", "Two lines", {"title": "The Keepers of\nthe North Sluice"}),
    )
    return check(Template(
        name="Episode title", category="Titles", keywords=("episode", "centred", "letters"),
        frame=Frame(1920, 1080, "24000/1001"), length=120, way_in=36, way_out=36,
        parts=parts, card=card, wires=wires, samples=samples,
    ))  # fmt: skip


def from_start(name: str, start: Callable[[Frame], Template], more: tuple[Sample, ...] = ()) -> Template:
    """A starting point under a name of the demo's world, with further samples."""
    made = start(Frame(1920, 1080, "25/1"))
    return check(replace(made, name=name, samples=(*made.samples, *more), keywords=(name.lower(), *made.keywords)))


def further_templates() -> dict[str, Template]:
    """Templates that show what else words and shapes can do; right-to-left and Japanese names among their samples."""
    arabic = Sample("arabic", "Arabic", {"name": "ياسمين الحداد", "role": "حارسة المد"})
    japanese = Sample("japanese", "Japanese", {"name": "渡辺 汐", "role": "潮の記録係"})
    tide = Sample("japanese", "Japanese", {"title": "長い潮"})
    return {
        "cut-out-title": from_start("Cut-out title", cut_out),
        "side-rule": from_start("Side rule", side_rule, (arabic, japanese)),
        "framed-title": from_start("Framed title", framed_title, (tide,)),
        "place-tag": from_start("Place tag", slanted_tag),
    }


def demo_cut() -> Cut:
    """A short cut with both templates and people of the demo's world."""
    pictures = (PictureClip("dusk", 225), PictureClip("tide flats", 350), PictureClip("reed beds", 425), PictureClip("dusk", 200))
    strap = "name-strap.avlet"
    titles = (
        Title("the-long-tide", "episode-title.avlet", 40, 150, {"title": "The Long Tide"}),
        Title("odalys", strap, 275, 125, {"name": "Odalys Brandt", "role": "Marsh ecologist"}),
        Title("teodor", strap, 430, 110, {"name": "Teodor Våge", "role": "Sluice keeper"}),
        Title("nkechi", strap, 620, 125, {"name": "Nkechi Arundel", "role": "Boat builder", "bar-colour": "#3B4A2E"}),
        Title("ioana", strap, 800, 150, {"name": "Ioana Crețu-Whitlock", "role": "Head of volunteer programmes, northern reaches"}),
        Title("watanabe", "side-rule.avlet", 1040, 125, {"name": "渡辺 汐", "role": "Tide recorder"}),
    )
    return Cut("The Long Tide, first cut", Frame(1920, 1080, "25/1"), pictures, titles)


def main() -> None:
    for file_name, template in {"name-strap": name_strap(), "episode-title": episode_title(), **further_templates()}.items():
        folder = DEMO / f"{file_name}.avlet"
        folder.mkdir(parents=True, exist_ok=True)
        save_template(template, folder, bundled_fonts())
    write_cut(demo_cut(), DEMO / "the-long-tide.otio")


if __name__ == "__main__":
    main()
