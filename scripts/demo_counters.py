"""The demo's counters: hectares, reed plugs, the water level, a countdown to the tide, four numbers one after the other, and a share on a gauge."""

import msgspec

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Table, Wire
from avlet.document.faults.checking import check
from avlet.document.fields import ChoiceField, ColourField, NumberField, Option, TextField
from avlet.document.looks.forms import Ellipse
from avlet.document.looks.paints import Linear, Outline, Shadow, Solid, Stop
from avlet.document.parts import Accent, CounterPart, Counting, Fit, Matte, Place, RulePart, ShapePart, TextPart, Writing
from avlet.document.starts.gauged import gauge
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import Move, Tie

replace = msgspec.structs.replace
FRAME = Frame(1920, 1080, "25/1")
SOFT, BOTH = READY_EASES["quick, then soft"], READY_EASES["soft both"]
DEEP, SAND, GLASS = "#20435C", "#EAE2D0", "#6CC7B0"
NUMBER = {"low": 0.0, "high": 1_000_000_000.0, "figure_only": True}


def unfold(frames: int = 20, start: int = 0) -> Move:
    return Move(scale_x=0, hinge_x=0, frames=frames, start=start, ease=SOFT)


def fade(start: int, frames: int = 15) -> Move:
    return Move(opacity=0, frames=frames, start=start, ease=READY_EASES["soft end"])


def hectares() -> Template:
    """A number with a ring that fills as it counts, and a line under it."""
    light = Accent("Fira Sans", "Medium", 45.0)
    ring = {
        "form": Ellipse(),
        "width": 210.0,
        "height": 210.0,
        "across": Place("plate", "end", "start", -50),
        "down": Place("plate", "middle", "middle"),
    }
    parts = (
        ShapePart(id="plate", name="Plate", corner=30, fill=Solid(DEEP), across=None, down=None, way_in=(unfold(),),
                  fit=Fit(("tally", "caption"), left=70, right=70, top=30, bottom=36)),
        ShapePart(id="ring-ground", name="Ring's ground", fill=Solid("#FFFFFF00"), outline=Outline(width=22, side="inside", fill=Solid("#FFFFFF66")),
                  way_in=(fade(5),), **ring),
        ShapePart(id="ring", name="Ring", fill=Solid("#FFFFFF00"), outline=Outline(width=22, side="inside", fill=Solid("#F4B23E"), end=100.0),
                  turn=-90.0, runs=(RunsWith("outline.end", "tally", 0.0, 100.0),), way_in=(fade(5),), **ring),
        TextPart(id="caption", name="Caption", text="restored since 2019", family="Fira Sans", style="Medium", size=56, fill=Solid(SAND),
                 across=Place("tally", "middle", "middle"), down=Place("tally", "start", "end", -8), mattes=(Matte("plate"),),
                 runs=(RunsWith("opacity", "tally", 0.0, 100.0),), way_in=(fade(10),)),
        CounterPart(id="tally", name="Tally", end="1284", after=" ha", family="Fira Sans", style="Bold", size=210, leading=105, fill=Solid("#FFFFFF"),
                    accents=(light, light), across=Place("frame", "middle", "middle", 100), down=Place("frame", "middle", "middle", -50),
                    mattes=(Matte("plate"),), change="rolling up", blurred=True, way_in=(fade(5),),
                    count=Counting(5, Tie("plate"), "before the way out", 30, ease=BOTH)),
    )  # fmt: skip
    card = Card("One number, a unit, a line under it.", (
        Section("Words", (
            NumberField(id="number", label="Number", default=1284, hint="Written as you like: 1,284 or 1.284,5", **NUMBER),
            TextField(id="unit", label="Unit", default=" ha", hint="Begins with a blank"),
            TextField(id="caption", label="Line under it", default="restored since 2019", hint="Fades in with the count"),
        )),
        Section("Look", (ColourField(id="ring", label="Ring", default="#F4B23E", hint="Fills as it counts"),)),
    ))  # fmt: skip
    wires = (
        Wire("number", "tally/end"),
        Wire("unit", "tally/after"),
        Wire("caption", "caption/text"),
        Wire("ring", "ring/outline.fill.colour"),
    )
    samples = (
        Sample("shortest", "Lowest", {"number": 7.0, "caption": "new"}), Sample("typical", "Typical", {"number": 1284.0}),
        Sample("longest", "Highest", {"number": 1_284_000.0, "caption": "restored by volunteers since 2019"}),
        Sample("two-lines", "Metres", {"number": 320.0, "unit": " m", "caption": "of new dyke"}),
    )  # fmt: skip
    return check(Template(
        name="Hectares", category="Counters", keywords=("number", "count", "ring"), frame=FRAME, length=150, way_in=25, way_out=25,
        parts=parts, card=card, wires=wires, samples=samples,
    ))  # fmt: skip


def reed_plugs() -> Template:
    """Millions on rolling wheels, in a plate that holds the widest number of the count."""
    light = Accent("Fira Sans Condensed", "Medium", 46.0)
    parts = (
        ShapePart(id="plate", name="Plate", corner=12, fill=Linear((Stop(0, "#20435C"), Stop(100, "#16303F")), 90.0), across=None, down=None,
                  fit=Fit(("plugs",), left=56, right=56, top=22, bottom=22), way_in=(unfold(),), shadows=(Shadow(0, 10, 30, "#00000066"),)),
        RulePart(id="rule", name="Rule", direction="across", width=6, fill=Solid(GLASS), fit=Fit(("plate",), left=0, right=0, top=0, bottom=0),
                 across=None, down=Place("plate", "start", "end", 8), runs=(RunsWith("scale_x", "plugs", 0.0, 100.0),), anchor_x=0.0,
                 way_in=(fade(0, 10),)),
        CounterPart(id="plugs", name="Plugs", end="3250000", before="≈ ", after=" reed plugs", family="Fira Sans Condensed", style="Bold", size=150,
                    leading=110, fill=Solid("#FFFFFF"), accents=(light, light), change="rolling up", blurred=True, mattes=(Matte("plate"),),
                    across=Place("title-safe", gap=90), down=Place("title-safe", "end", "end", -90), way_in=(fade(5),),
                    count=Counting(0, Tie("plate", "after its start", 5), "before the way out", 25, ease=BOTH)),
    )  # fmt: skip
    languages = (("en", "English"), ("cy", "Welsh"), ("de", "German"), ("fr", "French"), ("de_CH", "Swiss"))
    card = Card("A large number, rolling.", (
        Section("Words", (
            NumberField(id="number", label="Number", default=3_250_000, hint="1.284,5 or 1,284.5", **NUMBER),
            TextField(id="before", label="Before it", default="≈ ", hint="Ends with a blank"),
            TextField(id="after", label="After it", default=" reed plugs", hint="Begins with a blank"),
            ChoiceField(id="language", label="Written as in", default="en", options=tuple(Option(*pair) for pair in languages)),
        )),
    ))  # fmt: skip
    wires = (
        Wire("number", "plugs/end"), Wire("before", "plugs/before"), Wire("after", "plugs/after"),
        Wire("language", "plugs/writing.language", Table({code: code for code, _ in languages})),
    )  # fmt: skip
    samples = (
        Sample("shortest", "Lowest", {"number": 40.0, "before": ""}), Sample("typical", "Typical", {"number": 3_250_000.0}),
        Sample("longest", "Highest", {"number": 999_999_999.0, "after": " reed plugs planted"}),
        Sample("two-lines", "Auf Deutsch", {"number": 1_284_500.0, "language": "de", "after": " Setzlinge"}),
    )  # fmt: skip
    return check(Template(
        name="Reed plugs", category="Counters", keywords=("number", "count", "rolling"), frame=FRAME, length=150, way_in=25, way_out=25,
        parts=parts, card=card, wires=wires, samples=samples,
    ))  # fmt: skip


def water_level() -> Template:
    """A level below zero: the decimal sign keeps its place, a column sinks and a needle turns with the count."""
    light = Accent("Fira Sans", "Medium", 50.0)
    parts = (
        ShapePart(id="plate", name="Plate", corner=24, fill=Solid("#16303FE6"), across=None, down=None, way_in=(unfold(),),
                  fit=Fit(("level", "caption"), left=190, right=64, top=34, bottom=34)),
        ShapePart(id="tube", name="Tube", corner=14, width=28, height=190, fill=Solid("#FFFFFF33"), across=Place("plate", "start", "start", 56),
                  down=Place("plate", "middle", "middle"), way_in=(fade(8),)),
        ShapePart(id="column", name="Column", width=28, height=190, fill=Solid(GLASS), across=Place("tube"), down=Place("tube", "end", "end"),
                  anchor_y=100.0, mattes=(Matte("tube"),), runs=(RunsWith("scale_y", "level", 100.0, 32.0),), way_in=(fade(8),)),
        RulePart(id="needle", name="Needle", direction="across", length=60, width=5, fill=Solid("#F4B23E"), across=Place("tube", "start", "end", 14),
                 down=Place("tube", "middle", "middle"), anchor_x=0.0, runs=(RunsWith("turn", "level", -35.0, 35.0),), way_in=(fade(8),)),
        TextPart(id="caption", name="Caption", text="Farrow Sluice, low water", family="Fira Sans", style="Medium", size=46, fill=Solid(SAND),
                 across=Place("level"), down=Place("level", "start", "end", -4), mattes=(Matte("plate"),), way_in=(fade(12),)),
        CounterPart(id="level", name="Level", start="0.4", end="-1.35", step="0.01", after=" m", family="Fira Sans", style="Bold", size=150, leading=105,
                    fill=Solid("#FFFFFF"), accents=(light, light), keeps="decimal sign", across=Place("title-safe", gap=230),
                    down=Place("title-safe", "end", "end", -150), mattes=(Matte("plate"),), way_in=(fade(8),),
                    count=Counting(10, None, "before the way out", 30, ease=BOTH), writing=Writing(least_decimals=2, most_decimals=2)),
    )  # fmt: skip
    card = Card("A level in metres.", (Section("Words", (
        NumberField(id="level", label="Level", default=-1.35, low=-99.0, high=99.0, step=0.01, unit="m", figure_only=True, hint="Below zero is low"),
        NumberField(id="from", label="From", default=0.4, low=-99.0, high=99.0, step=0.01, unit="m", figure_only=True),
        TextField(id="place", label="Place", default="Farrow Sluice, low water", hint="Under the number"),
    )),))  # fmt: skip
    wires = (Wire("level", "level/end"), Wire("from", "level/start"), Wire("place", "caption/text"))
    samples = (
        Sample("shortest", "Lowest", {"level": -12.5, "place": "Sluice"}), Sample("typical", "Typical", {"level": -1.35}),
        Sample("longest", "Highest", {"level": 12.75, "place": "Farrow Sluice, spring tide of March"}),
        Sample("two-lines", "Nought", {"level": 0.0, "from": 3.0}),
    )  # fmt: skip
    return check(Template(
        name="Water level", category="Counters", keywords=("number", "level", "metres"), frame=FRAME, length=150, way_in=25, way_out=25,
        parts=parts, card=card, wires=wires, samples=samples,
    ))  # fmt: skip


def tide_countdown() -> Template:
    """Ten minutes to high water in real time, on leaves that turn over."""
    parts = (
        ShapePart(id="plate", name="Plate", corner=18, fill=Solid("#101A20E6"), across=None, down=None, way_in=(unfold(),),
                  fit=Fit(("clock", "caption"), left=54, right=54, top=22, bottom=26)),
        TextPart(id="caption", name="Caption", text="to high water", family="Fira Sans Condensed", style="Medium", size=44, fill=Solid(GLASS),
                 across=Place("clock", "middle", "middle"), down=Place("clock", "start", "end", -10), mattes=(Matte("plate"),), way_in=(fade(8),)),
        CounterPart(id="clock", name="Clock", start="600", end="0", family="Fira Sans Condensed", style="Bold", size=150, leading=105,
                    fill=Solid("#FFFFFF"), writing=Writing("clock", clock="mm:ss"), change="turning over", turning=6,
                    across=Place("title-safe", "end", "end", -60), down=Place("title-safe", gap=60), mattes=(Matte("plate"),), way_in=(fade(8),),
                    count=Counting(start=25, pace="in real time")),
    )  # fmt: skip
    card = Card("A countdown in real time.", (Section("Words", (
        NumberField(id="seconds", label="Seconds", default=600, low=1, high=86_400, unit="s", figure_only=True, hint="Ten minutes are 600"),
        TextField(id="caption", label="To what", default="to high water", hint="Under the clock"),
    )),))  # fmt: skip
    samples = (
        Sample("shortest", "Lowest", {"seconds": 9.0}), Sample("typical", "Typical", {}),
        Sample("longest", "Highest", {"seconds": 599.0, "caption": "to the next opening"}), Sample("two-lines", "A minute", {"seconds": 60.0}),
    )  # fmt: skip
    return check(Template(
        name="Tide countdown", category="Counters", keywords=("clock", "countdown", "live"), frame=FRAME, length=25 + 600 * 25 + 75, way_in=25, way_out=25,
        parts=parts, card=card, wires=(Wire("seconds", "clock/start"), Wire("caption", "caption/text")), samples=samples,
    ))  # fmt: skip


def four_counts() -> Template:
    """Four numbers in a row that land one after the other."""
    facts = (
        ("hides", "Bird hides", "14"),
        ("species", "Species", "212"),
        ("hours", "Hours given", "48600"),
        ("visitors", "Visitors", "1250000"),
    )
    parts: list[object] = [
        ShapePart(id="band", name="Band", width=1728, height=240, fill=Solid("#16303FE6"), across=Place("frame", "middle", "middle"),
                  down=Place("title-safe", "end", "end", -40), way_in=(unfold(25),)),
    ]  # fmt: skip
    for number, (part_id, name, end) in enumerate(facts):
        before = facts[number - 1][0] if number else None
        tie = Tie(f"{before}-count", "after its end", -12) if before else Tie("band", "after its start", 10)
        middle = Place("frame", "middle", "start", 96 + 216 + number * 432)
        parts += [
            CounterPart(id=f"{part_id}-count", name=f"{name} count", end=end, family="Fira Sans", style="Bold", size=92, leading=105,
                        fill=Solid("#FFFFFF"), keeps="middle", across=middle, down=Place("band", "start", "start", 48), mattes=(Matte("band"),),
                        count=Counting(0, tie, "after", 30, ease=BOTH), way_in=(fade(10 + 4 * number),)),
            TextPart(id=part_id, name=name, text=name, family="Fira Sans Condensed", style="Medium", size=44, align="middle", fill=Solid(GLASS),
                     across=middle, down=Place(f"{part_id}-count", "start", "end", 4), mattes=(Matte("band"),), way_in=(fade(10 + 4 * number),)),
        ]  # fmt: skip
    fields = [
        (NumberField(id=f"{i}-number", label=n, default=float(e), **NUMBER), TextField(id=f"{i}-words", label=f"{n}: words", default=n))
        for i, n, e in facts
    ]  # type: ignore[arg-type]
    card = Card("Four numbers, one after the other.", (Section("Numbers", tuple(f for pair in fields for f in pair)),))
    wires = tuple(w for i, _, _ in facts for w in (Wire(f"{i}-number", f"{i}-count/end"), Wire(f"{i}-words", f"{i}/text")))
    samples = (
        Sample("shortest", "Lowest", {f"{i}-number": 1.0 for i, _, _ in facts}), Sample("typical", "Typical", {}),
        Sample("longest", "Highest", {f"{i}-number": 9_999_999.0 for i, _, _ in facts}),
        Sample("two-lines", "Nought", {"hides-number": 0.0}),
    )  # fmt: skip
    return check(Template(
        name="Four counts", category="Counters", keywords=("numbers", "facts", "row"), frame=FRAME, length=200, way_in=25, way_out=25,
        parts=tuple(parts), card=card, wires=wires, samples=samples,  # type: ignore[arg-type]
    ))  # fmt: skip


COUNTERS = {
    "hectares": hectares, "reed-plugs": reed_plugs, "water-level": water_level, "tide-countdown": tide_countdown, "four-counts": four_counts,
    "reed-share": lambda: replace(gauge(FRAME), name="Reed share"),
}  # fmt: skip
