"""Write the demo's templates and cut from their definition here. Run from the project's root."""

from collections.abc import Callable
from pathlib import Path

from demo_counters import COUNTERS
from demo_credits import CREDITS, LISTS
from demo_reel import REEL, reel, templates
from demo_roster import ROSTERS
from demo_spaces import SPACES

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Formula, Table, Wire
from avlet.document.cut import Cut, PictureClip, Title
from avlet.document.editing.edits import replace
from avlet.document.faults.checking import check
from avlet.document.fields import ChoiceField, ColourField, Condition, NumberField, Option, Swatch, SwitchField, TextField
from avlet.document.house import HouseColour
from avlet.document.looks.forms import SlantedBar
from avlet.document.looks.paints import Linear, Shadow, Solid, Stop
from avlet.document.parts import EchoPart, Fit, GroupPart, Matte, Place, Room, RulePart, ShapePart, TextPart
from avlet.document.starts.single import cut_out, framed_title, side_rule, slanted_tag
from avlet.document.template import Frame, MotionBlur, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move, Sway, Tie
from avlet.media.timeline import write_cut
from avlet.paint.scene import Scene
from avlet.storage.handing_over import handed_over_files
from avlet.storage.package import package_files, write_package
from avlet.text.fonts import bundled_fonts

DEMO = Path("demo")
NKECHI = {"name": "Nkechi Arundel", "role": "Boat builder", "side": "right", "brand": "reed"}
LONGEST = {"name": "Ioana Crețu-Whitlock", "role": "Head of volunteer programmes, northern reaches"}
TWO = {"name": "Teodor Våge and\nÍris Þórdal", "role": "Sluice keepers"}
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


def long_fade_title() -> Template:
    """Ten seconds, four of them at each end: letters come into focus in shuffled order, and all of it grows slowly."""
    focus = Move(
        blur=34, opacity=0, y=14, by="character", order="shuffled", seed=11, overlap=72, frames=96, ease=READY_EASES["soft both"]
    )  # fmt: skip
    later = replace(focus, frames=70, tie=Tie("title", "ending with it"), seed=4)
    middle = Place("frame", "middle", "middle")
    parts = (
        TextPart(
            id="above", name="Line above", text="Saltmarsh Stories", style="Medium", size=46, tracking=160, case="capitals", align="middle",
            fill=Solid("#E9DFC8"), across=middle, down=Place("title", "end", "start", -6, closes=True), way_in=(later,),
        ),
        TextPart(
            id="title", name="Title", text="What the Tide Keeps", family="Alegreya", style="Bold", size=170, leading=105, align="middle",
            fill=Solid("#F7F1E3"), room=Room(width=1560, remedies=("wrap", "shrink"), balanced=True), across=middle,
            down=Place("frame", "middle", "middle", 24), way_in=(focus,), shadows=(Shadow(0, 8, 40, "#00000066"),), group="all",
        ),
        GroupPart(id="all", name="All", sways=(Sway("drifts", scale=104),)),
    )  # fmt: skip
    parts = (replace(parts[0], group="all"), *parts[1:])
    card = Card("A slow title for a quiet opening. It lasts ten seconds and may be longer.", (
        Section("Words", (
            TextField(id="title", label="Title", default="What the Tide Keeps", several_lines=True),
            TextField(id="above", label="Line above", default="Saltmarsh Stories", hint="May be left empty"),
        )),
        Section("Time", (
            SwitchField(id="comes-in", label="Comes into focus", default=True, hint="Off: it stands there from the first frame"),
        )),
    ))  # fmt: skip
    samples = (
        Sample("shortest", "Shortest", {"title": "Silt"}), Sample("typical", "Typical", {"title": "What the Tide Keeps"}),
        Sample("longest", "Longest", {"title": "All the Names for Standing Water and What Grows There"}),
        Sample("two-lines", "Two lines", {"title": "The Last Ferry\nto Farrow Point", "above": ""}),
        Sample("arabic", "Arabic", {"title": "ما يحفظه المد", "above": ""}),
    )  # fmt: skip
    return check(Template(
        name="Long fade title", category="Titles", keywords=("slow", "focus", "shuffled"), frame=Frame(1920, 1080, "25/1"), length=250,
        way_in=100, way_out=100, parts=parts, card=card, samples=samples,
        wires=(Wire("title", "title/text"), Wire("above", "above/text"), Wire("comes-in", "template/plays_in")),
    ))  # fmt: skip


def strip_change() -> Template:
    """A strip that changes its words: those before go letter by letter while others come from the other side, by the same move."""
    travel = 132.0
    letters = Move(y=-travel, by="character", overlap=78, frames=26, ease=READY_EASES["soft both"], tie=Tie("strip", "after its start", 12))
    fit = Fit(("line", "echo"), left=44, right=44, axes="width")
    parts = (
        ShapePart(id="strip", name="Strip", form=SlantedBar(26), corner=4, fit=fit, height=119.2, across=None,
                  down=Place("line", "middle", "middle"),
                  fill=Linear((Stop(0, "#20435C"), Stop(100, "#2F6A78")), 0.0), way_in=(Move(scale_x=0, hinge_x=0, frames=14, ease=SOFT),)),
        EchoPart(id="echo", name="Line before", of="line", words="Low water 12:31", across=Place("line"),
                 down=Place("line", gap=travel), mattes=(Matte("strip"),)),
        TextPart(id="line", name="Line", text="Tide turning 18:42", style="SemiBold", size=66, features=("tnum",),
                 room=Room(width=1500, remedies=("shrink",), smallest_size=50),
                 across=Place("title-safe", gap=70), down=Place("title-safe", "end", "end", -40),
                 mattes=(Matte("strip"),), way_in=(letters,)),
    )  # fmt: skip
    card = Card("A line that changes within its strip.", (
        Section("Words", (
            TextField(id="before", label="Before", default="Low water 12:31", hint="What the strip says first"),
            TextField(id="line", label="Line", default="Tide turning 18:42", hint="What it changes to, and stays"),
        )),
        Section("Look", (
            ColourField(id="left", label="Strip, left", default="#20435C"),
            ColourField(id="right", label="Strip, right", default="#2F6A78"),
        )),
    ))  # fmt: skip
    samples = (
        Sample("shortest", "Shortest", {"before": "Flow", "line": "Ebb"}), Sample("typical", "Typical", {"line": "Tide turning 18:42"}),
        Sample("longest", "Longest", {"before": "Low water, South Sluice", "line": "High water at the North Sluice in forty minutes"}),
        Sample("japanese", "Japanese", {"before": "干潮 12:31", "line": "潮が変わる 18:42"}),
    )  # fmt: skip
    wires = (
        Wire("before", "echo/words"),
        Wire("line", "line/text"),
        Wire("left", "strip/fill.stops.0.colour"),
        Wire("right", "strip/fill.stops.1.colour"),
    )
    return check(Template(
        name="Strip change", category="Lower thirds", keywords=("strip", "letters", "two lines"), frame=Frame(1920, 1080, "25/1"),
        length=150, way_in=40, way_out=40, fits_in=True, fits_out=True, motion_blur=MotionBlur(180), parts=parts, card=card,
        wires=wires, samples=samples,
    ))  # fmt: skip


def strap_with_ties() -> Template:
    """The name strap: words follow their plates, and the lower plate the upper one."""
    return tied(
        name_strap(), name=Tie("plate", "after its start", 5), role_plate=Tie("plate", "after its start", 5),
        role=Tie("role-plate", "after its start", 5),
    )  # fmt: skip


def tied(template: Template, **ties: Tie) -> Template:
    """A template in which the first move of some parts waits for another part's."""
    parts = []
    for part in template.parts:
        tie = ties.get(part.id.replace("-", "_"))
        moves = (replace(part.way_in[0], tie=tie), *part.way_in[1:]) if tie is not None else part.way_in
        parts.append(replace(part, way_in=moves))
    return check(replace(template, parts=tuple(parts)))


def further_templates() -> dict[str, Template]:
    """Templates that show what else words and shapes can do; right-to-left and Japanese names among their samples."""
    arabic = Sample("arabic", "Arabic", {"name": "ياسمين الحداد", "role": "حارسة المد"})
    japanese = Sample("japanese", "Japanese", {"name": "渡辺 汐", "role": "潮の記録係"})
    tide = Sample("japanese", "Japanese", {"title": "長い潮"})
    return {
        "cut-out-title": from_start("Cut-out title", cut_out),
        "side-rule": tied(
            from_start("Side rule", side_rule, (arabic, japanese)),
            name=Tie("rule", "after its end"),
            role=Tie("name", "after its start", 3),
        ),
        "framed-title": from_start("Framed title", framed_title, (tide,)),
        "place-tag": tied(
            from_start("Place tag", slanted_tag), mark=Tie("backing", "after its start", 4), place=Tie("mark", "after its start", 4)
        ),
        "long-fade-title": long_fade_title(),
        "strip-change": strip_change(),
    }


def demo_cut() -> Cut:
    """A short cut with both templates and people of the demo's world."""
    pictures = (PictureClip("dusk", 225), PictureClip("tide flats", 350), PictureClip("reed beds", 425), PictureClip("dusk", 200))
    strap = "name-strap.avlet"
    titles = (
        Title("the-long-tide", "episode-title.avlet", 40, 150, {"title": "The Long Tide"}, 1),
        Title("tomas", "shadow-strap.avlet", 194, 78, {"name": "Tomas Lindqvist", "role": "Ferry pilot", "colour": "#5A2A3A"}, 1),
        Title("odalys", strap, 275, 125, {"name": "Odalys Brandt", "role": "Marsh ecologist"}, 1),
        Title("teodor", strap, 430, 110, {"name": "Teodor Våge", "role": "Sluice keeper"}, 1),
        Title(
            "nkechi", "guest-strap.avlet", 620, 125, {"name": "Nkechi Arundel", "role": "Boat builder", "side": "right", "brand": "reed"}, 1
        ),
        Title("hectares", "hectares.avlet", 560, 150, {"number": 1284.0}, 1, track=1),
        Title("reed-plugs", "reed-plugs.avlet", 965, 150, {"number": 3_250_000.0}, 1, track=1),
        Title("ioana", strap, 800, 150, {"name": "Ioana Crețu-Whitlock", "role": "Head of volunteer programmes, northern reaches"}, 1),
        Title("watanabe", "side-rule.avlet", 1040, 125, {"name": "渡辺 汐", "role": "Tide recorder"}, 1),
        Title("end-roll", "end-roll.avlet", 1200, as_long_as_its_list(CREDITS["end-roll"]()).length, {}, 1),
    )
    return Cut("The Long Tide, first cut", Frame(1920, 1080, "25/1"), pictures, titles)


def guest_strap() -> Template:
    """The name strap with all that one answer can do: side, size, pace, a wider bar, one brand colour for three parts."""
    strap = strap_with_ties()
    sides = ("left", "middle", "right")
    card = Card("For guests, on either side of the picture.", (
        Section("Words", (
            TextField(id="name", label="Name", default="Nkechi Arundel", several_lines=True, hint="One or two lines"),
            SwitchField(id="role-line", label="Role line", default=True, hint="Shows the role under the name"),
            TextField(id="role", label="Role", default="Boat builder", hint="What they do, in a few words",
                      shown_if=Condition("role-line", (True,))),
        )),
        Section("Look", (
            ChoiceField(id="side", label="Side", default="left", options=tuple(Option(s, s.capitalize()) for s in sides)),
            ColourField(id="brand", label="Brand colour", may_be="swatches", default="deep-water", hint="The three house colours",
                        swatches=(Swatch("deep-water", "Deep water", "#20435C"), Swatch("reed", "Reed", "#3B4A2E"),
                                  Swatch("slate", "Slate", "#3A4046"))),
            NumberField(id="size", label="Size", default=100, low=50, high=150, step=5, unit="%", hint="All of it, in percent"),
            NumberField(id="bar-width", label="Wider bar", default=0, low=0, high=300, step=10, unit="px",
                        hint="Beyond what the name needs"),
        )),
        Section("Time", (
            NumberField(id="pace", label="Pace", default=100, low=50, high=200, step=10, unit="%", hint="How quickly it comes and goes"),
        )),
    ))  # fmt: skip

    def by_side(left: object, middle: object, right: object) -> Table:
        return Table(dict(zip(sides, (left, middle, right), strict=True)))

    edge, other_edge = by_side("start", "middle", "end"), by_side("end", "middle", "start")
    sized = ("name/size", "role/size", "plate/fit.top", "plate/fit.bottom", "role-plate/fit.left", "role-plate/fit.right",
             "role-plate/fit.top", "role-plate/fit.bottom", "name/down.gap", "rule/width")  # fmt: skip
    wires = (
        Wire("name", "name/text"), Wire("role", "role/text"), Wire("role-line", "role/shown"), Wire("role-line", "role-plate/shown"),
        Wire("brand", "palette/brand"), Wire("palette/brand", "plate/fill.colour"),
        Wire("palette/brand", "rule/fill.colour", Formula("lighter(value, 45)")),
        Wire("palette/brand", "role/fill.colour", Formula("darker(value, 30)")),
        *(Wire("side", f"{part}/across.{end}", edge) for part in ("rule", "role") for end in ("mine", "theirs")),
        Wire("side", "name/across.mine", edge), Wire("side", "name/across.theirs", other_edge),
        Wire("side", "name/across.gap", Formula("(62 if value == 'left' else -62 if value == 'right' else 0) * size / 100")),
        Wire("side", "rule/shown", by_side(True, False, True)), Wire("side", "name/align", edge), Wire("side", "role/align", edge),
        Wire("side", "plate/way_in.0.hinge_x", by_side(0.0, 50.0, 100.0)),
        Wire("side", "role-plate/way_in.0.hinge_x", by_side(0.0, 50.0, 100.0)),
        *(Wire("size", target, Formula("own * value / 100")) for target in sized),
        Wire("bar-width", "plate/fit.right", Formula("own * size / 100 + (0 if side == 'right' else value)")),
        Wire("bar-width", "plate/fit.left", Formula("own * size / 100 + (value if side == 'right' else 0)")),
        Wire("pace", "template/pace"),
    )  # fmt: skip
    samples = (
        Sample("shortest", "Shortest", {"name": "Bo Li", "role": "Ringer", "side": "right"}),
        Sample("typical", "Typical", {"name": "Nkechi Arundel", "role": "Boat builder"}),
        Sample(
            "longest",
            "Longest",
            {"name": "Ioana Crețu-Whitlock", "role": "Head of volunteer programmes, northern reaches", "side": "right"},
        ),
        Sample(
            "two-lines", "Two lines", {"name": "Teodor Våge and\nÍris Þórdal", "role": "Sluice keepers", "side": "middle", "brand": "reed"}
        ),
    )
    parts = tuple(replace(p, fit=replace(p.fit, right=50)) if p.id == "role-plate" else p for p in strap.parts)
    return check(replace(
        strap, parts=parts, name="Guest strap", keywords=("name", "guest", "left", "right", "side"), derived_from="Name strap",
        card=card, wires=wires, samples=samples, palette=(HouseColour("brand", "Brand", "#20435C"),),
    ))  # fmt: skip


def broken_strap() -> Template:
    """The name strap with four faults, to show what its proof finds: words before their plate, a role that is hard to read and too far
    to the left, and a rule that is there on the first frame.
    """
    strap = strap_with_ties()
    faults = {
        "name": {"mattes": (), "way_in": (Move(opacity=0.0, frames=10, start=2),)},
        "plate": {"way_in": (Move(opacity=0.0, frames=10, start=9),)},
        "role": {"across": Place("title-safe", gap=-24.0)},
        "role-plate": {"fill": Solid("#6F8699")},
        "rule": {"way_in": (Move(y=-40.0, frames=10, start=6),)},
    }
    parts = tuple(replace(part, **faults.get(part.id, {})) for part in strap.parts)
    return check(
        replace(strap, parts=parts, name="Broken strap", keywords=("proof", "faults"), derived_from="Name strap", category="Proof")
    )


def as_long_as_its_list(template: Template) -> Template:
    """A template whose credits lead it, as long as they make it."""
    return replace(template, length=Scene(template, bundled_fonts()).length)


def main() -> None:
    for file_name, template in {
        "name-strap": strap_with_ties(),
        "episode-title": episode_title(),
        "guest-strap": guest_strap(),
        "broken-strap": broken_strap(),
        **further_templates(),
        **{name: made() for name, made in COUNTERS.items()},
        **{name: made() for name, made in SPACES.items()},
        **{name: as_long_as_its_list(made()) for name, made in CREDITS.items()},
        **templates(),
    }.items():
        folder = DEMO / f"{file_name}.avlet"
        folder.mkdir(parents=True, exist_ok=True)
        book = bundled_fonts()
        write_package(folder, {**package_files(template, book), **handed_over_files(template, book, 1, "")})
    for name, data in {**LISTS, **ROSTERS}.items():
        (DEMO / name).write_bytes(data)
    write_cut(demo_cut(), DEMO / "the-long-tide.otio")
    write_cut(reel(), DEMO / REEL)


if __name__ == "__main__":
    main()
