"""Signal: slanted bars in marigold and ink, condensed capitals; whole words come out of the matte, quickly and a little past."""

import msgspec

from avlet.document.cards.wires import Formula, Wire
from avlet.document.looks.forms import SlantedBar
from avlet.document.parts import BlockStyle, CounterPart, Fit, Matte, PatternPart, Place, ShapePart
from avlet.document.parts.counter import Counting
from avlet.document.parts.typeset import Accent
from avlet.document.starts.answers import EPISODES, LINES, PEOPLE, PLACES, ROLES, THANKS, WHAT_IS_COUNTED, WHERE_NEXT
from avlet.document.starts.builder import Making, Start
from avlet.document.starts.rolls import rolled
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import Move
from avlet.numbers.exact import in_figures

replace = msgspec.structs.replace
MARIGOLD, INK, PAPER = "#F4B23E", "#171A1C", "#FFFFFF"
_LEAN = SlantedBar(13.0, "degrees")
_TAN = 0.2309
"""How far a bar that is slanted by 13° leans for each px of its height."""
_WIPE = 13.0
"""° by which a bar opens, so that its edge on the way leans as its ends do."""
_PAST, _QUICK = READY_EASES["a little past"], READY_EASES["quick, then soft"]


def _start(name: str, category: str, frame: Frame, *keywords: str) -> Start:
    s = Start(f"Signal {name}", category, frame)
    s.house(marigold=MARIGOLD, ink=INK, paper=PAPER)
    s.keywords = ("signal", *keywords)
    return s


def _opens(s: Start, start: float = 0) -> tuple[Move, ...]:
    """A bar opens from the left and drives in as it does."""
    begin = s.frames(start) if start else 0
    return (
        Move(opened=0, opens_from="an angle", opens_angle=_WIPE, opens_soft=0, frames=s.frames(8), start=begin, ease=_QUICK),
        Move(x=s.px(-60), frames=s.frames(12), start=begin, ease=_PAST),
    )


def _words_out(s: Start, start: float, side: str = "below") -> tuple[Move, ...]:
    return (Move(travel="out of the matte", side=side, by="word", overlap=50, frames=s.frames(13), start=s.frames(start), ease=_PAST),)  # type: ignore[arg-type]


def _bar(s: Start, part_id: str, name: str, colour: str, around: str, sides: float, ends: float, start: float = 0) -> ShapePart:
    """A slanted bar round capitals. The higher it is the more it leans, and the more room it leaves at its sides, as much as that takes."""
    fit = Fit((around,), "capitals", s.px(sides), s.px(sides), s.px(ends), s.px(ends))
    s.follow(colour, f"{part_id}/fill.colour")
    lean = f"{in_figures(s.px(sides - ends * _TAN))} + (value + {in_figures(s.px(2 * ends))}) * {_TAN / 2}"
    s.wires += [Wire(f"{around}/rest.height", f"{part_id}/fit.{side}", Formula(lean)) for side in ("left", "right")]
    look = {"form": _LEAN, "corner": 0.0, "fill": s.fill(colour), "way_in": _opens(s, start)}
    return ShapePart(id=part_id, name=name, fit=fit, across=None, down=None, **look)  # type: ignore[arg-type]


def _goes_on(s: Start, text: str, bar: str, sides: float, ends: float) -> None:
    """Place a text so that the left end of its bar goes on with the slant of the bar above, however many lines both have."""
    room = f"{in_figures(s.px(sides - ends * _TAN))} + (value + {in_figures(s.px(2 * ends))}) * {_TAN / 2}"
    s.wires.append(Wire(f"{text}/rest.height", f"{text}/across.gap", Formula(f"{room} - {bar.replace('-', '_')}.height * {_TAN}")))


def _edge(s: Start, part_id: str, name: str, colour: str, high: float, **look: object) -> ShapePart:
    """A strip under a bar, as wide as that is below: its ends go on with the bar's slant."""
    s.follow(colour, f"{part_id}/fill.colour")
    s.wires.append(Wire("bar/rest.height", f"{part_id}/fit.right", Formula(f"value * -{_TAN}")))
    fit = Fit(("bar",), "line box", s.px(high * _TAN), 0, 0, 0, axes="width")
    values = {"form": _LEAN, "corner": 0.0, "height": s.px(high), "fill": s.fill(colour), "way_in": _opens(s, 2), **look}
    return ShapePart(id=part_id, name=name, fit=fit, across=None, down=Place("bar", "start", "end"), **values)  # type: ignore[arg-type]


def _stripes(s: Start, high: float, start: float = 6) -> PatternPart:
    """Seven stripes behind a bar, each fainter than the one before."""
    one = Move(x=s.px(-90), by="character", overlap=60, frames=s.frames(18), start=s.frames(start), ease=_QUICK)
    fade = Move(opacity=0, by="character", overlap=60, frames=s.frames(20), start=s.frames(start), ease=READY_EASES["soft both"])
    s.follow("marigold", "stripes/fill.colour")
    return PatternPart(
        id="stripes", name="Stripes", form=_LEAN, width=s.px(high * _TAN + 9), height=s.px(high), count=7, step_x=s.px(27),
        opacity_last=6.0, size_last=100.0,
        fill=s.fill("marigold"), across=Place("bar", "start", "end", s.px(-14)), down=Place("bar", "middle", "middle"), way_in=(one, fade),
    )  # fmt: skip


_UNDER, _ABOVE = 0.225, 0.206
"""Of its size: how far the line box of a text set with 112 % leading reaches under its last baseline, and over its first capitals."""


def _under(size: float, ends: float) -> float:
    """The gap that lets a bar with so much room round capitals of a size end where the line box is placed, in px at 1080 lines."""
    return size * _UNDER - ends


def _over(size: float, ends: float) -> float:
    """The gap that lets a bar with so much room round capitals of a size begin where the line box is placed, in px at 1080 lines."""
    return ends - size * _ABOVE


def name(frame: Frame) -> Template:
    """A name on marigold, what they do on ink under it, seven stripes behind."""
    s = _start("name", "Lower thirds", frame, "name", "role", "two lines", "bars")
    s.parts += [
        _stripes(s, 126),
        _bar(s, "role-bar", "Role bar", "ink", "role", 40, 20, 3),
        _bar(s, "bar", "Bar", "marigold", "name", 46, 40),
    ]
    s.words("role", "Role", ROLES, 90, family="Fira Sans Condensed", style="SemiBold", size=s.px(43), case="capitals", tracking=45,
            fill=s.fill("marigold"), across=Place("bar", gap=s.px(29)), down=Place("title-safe", "end", "end",
            s.px(_under(43, 20))),
            mattes=(Matte("role-bar"),), way_in=_words_out(s, 8, "above"), room=s.room(0.7))  # fmt: skip
    s.words("name", "Name", PEOPLE, 60, family="Fira Sans Condensed", style="Bold", size=s.px(96), case="capitals", tracking=12,
            fill=s.fill("ink"), across=Place("title-safe", gap=s.px(62)), mattes=(Matte("bar"),), way_in=_words_out(s, 5),
            room=s.room(0.66, 40),
            down=Place("role-bar", "end", "start", s.px(_under(96, 40)), closes=True))  # fmt: skip
    _goes_on(s, "role", "role-bar", 40, 20)
    s.follow("marigold", "role/fill.colour")
    s.follow("ink", "name/fill.colour")
    return s.template("A name, and what they do. The bars follow the words.", way_in=0.9, way_out=0.8)


def title(frame: Frame) -> Template:
    """A title on ink with a marigold edge under it, and a tag that stands on its shoulder."""
    s = _start("title", "Titles", frame, "title", "episode", "tag", "edge")
    s.parts += [
        _bar(s, "tag", "Tag", "marigold", "line", 30, 17, 6),
        _edge(s, "edge", "Edge", "marigold", 11),
        _bar(s, "bar", "Bar", "ink", "title", 66, 54),
    ]  # fmt: skip
    s.words("title", "Title", EPISODES, 48, family="Fira Sans Condensed", style="Bold", size=s.px(132), case="capitals", tracking=8,
            fill=s.fill("paper"), align="middle", across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"),
            mattes=(Matte("bar"),), way_in=_words_out(s, 5), room=s.room(0.68, 34))  # fmt: skip
    s.words("line", "Line above", LINES, 44, family="Fira Sans Condensed", style="Bold", size=s.px(42), case="capitals",
            tracking=60, fill=s.fill("ink"), across=Place("bar", gap=s.px(76)), down=Place("bar", "end", "start", s.px(_under(42, 17))),
            mattes=(Matte("tag"),), way_in=_words_out(s, 10), room=s.room(0.6))  # fmt: skip
    s.follow("paper", "title/fill.colour")
    s.follow("ink", "line/fill.colour")
    return s.template("A title, and a line on its shoulder that may be left empty.", way_in=0.9, way_out=0.8)


def place(frame: Frame) -> Template:
    """A place in the upper corner: an ink bar, and three stripes that point to it."""
    s = _start("place", "Tags", frame, "place", "tag", "corner")
    arrive = Move(x=s.px(120), opacity=0, by="character", overlap=60, order="last to first", frames=s.frames(12), ease=_QUICK)
    s.parts += [
        PatternPart(id="stripes", name="Stripes", form=_LEAN, width=s.px(84 * _TAN + 18), height=s.px(84), count=3, step_x=s.px(31),
                    fill=s.fill("marigold"),
                    across=Place("bar", "end", "start", s.px(8)), down=Place("bar", "middle", "middle"), way_in=(arrive,)),
        _bar(s, "bar", "Bar", "ink", "place", 42, 24, 2),
    ]  # fmt: skip
    s.follow("marigold", "stripes/fill.colour")
    s.words("place", "Place", PLACES, 46, family="Fira Sans Condensed", style="Bold", size=s.px(54), case="capitals", tracking=30,
            fill=s.fill("paper"), align="end", across=Place("title-safe", "end", "end", s.px(-44)),
            down=Place("title-safe", "start", "start", s.px(20)), mattes=(Matte("bar"),), way_in=_words_out(s, 6),
    room=s.room(0.5))  # fmt: skip
    s.follow("paper", "place/fill.colour")
    return s.template("A place or a date in the upper corner.", way_in=0.8, way_out=0.8)


def count(frame: Frame) -> Template:
    """A number on ink that fills a marigold edge while it counts, and what is counted under it."""
    s = _start("count", "Counters", frame, "count", "number", "bar that fills")
    middle = Place("frame", "middle", "middle")
    s.parts += [
        _bar(s, "label-bar", "Label bar", "marigold", "label", 36, 18, 4),
        _edge(s, "track", "Track", "ink", 14, opacity=60.0),
        _edge(s, "run", "Run", "marigold", 14, anchor_x=0.0, runs=(RunsWith("scale_x", "number", 0.0, 100.0),)),
        _bar(s, "bar", "Bar", "ink", "number", 66, 40),
    ]  # fmt: skip
    unit = Accent("Fira Sans Condensed", "SemiBold", 52.0, s.fill("marigold"))
    s.number(
        CounterPart(id="number", name="Number", family="Fira Sans Condensed", style="Bold", size=s.px(176), end="1284", after=" ha",
                    accents=(unit, unit), fill=s.fill("paper"), across=middle, down=replace(middle, gap=s.px(-40)), leading=112.0,
                    count=Counting(start=s.frames(8), frames=s.frames(20)), mattes=(Matte("bar"),), way_in=_words_out(s, 5)),
        "Number", {"shortest": 7.0, "typical": 1284.0, "longest": 9_999_999.0, "two-lines": 48_600.0}, 9_999_999.0,
    )  # fmt: skip
    s.words("label", "What is counted", WHAT_IS_COUNTED, 70, family="Fira Sans Condensed", style="SemiBold", size=s.px(46), case="capitals",
            tracking=30, fill=s.fill("ink"), align="middle", across=middle, down=Place("track", "start", "end", s.px(30)),
            mattes=(Matte("label-bar"),), way_in=_words_out(s, 9, "above"), room=s.room(0.62))  # fmt: skip
    s.follow("paper", "number/fill.colour")
    s.follow("marigold", "number/accents.0.fill.colour", "number/accents.1.fill.colour")
    s.follow("ink", "label/fill.colour")
    return s.template("A number, and what is counted. Its edge fills while it counts.", seconds=6.0, way_in=0.9, way_out=0.8)


def sign_off(frame: Frame) -> Template:
    """Thanks on a marigold band between stripes, and where to go next on ink under it."""
    s = _start("sign-off", "Titles", frame, "thanks", "address", "end")
    middle = Place("frame", "middle", "middle")
    s.parts += [
        _stripes(s, 150),
        _bar(s, "next-bar", "Address bar", "ink", "next", 44, 22, 4),
        _bar(s, "bar", "Bar", "marigold", "thanks", 60, 46),
    ]  # fmt: skip
    s.words("thanks", "Thanks", THANKS, 64, family="Fira Sans Condensed", style="Bold", size=s.px(110), case="capitals", tracking=8,
            fill=s.fill("ink"), align="middle", across=replace(middle, gap=s.px(-60)), down=replace(middle, gap=s.px(-40)),
            mattes=(Matte("bar"),), way_in=_words_out(s, 5), room=s.room(0.62, 34))  # fmt: skip
    s.words("next", "Where next", WHERE_NEXT, 60, family="Fira Sans Condensed", style="SemiBold", size=s.px(50), tracking=20,
            fill=s.fill("paper"), across=Place("bar", gap=s.px(32)), down=Place("bar", "start", "end", s.px(_over(50, 22))),
            mattes=(Matte("next-bar"),), way_in=_words_out(s, 9, "above"), room=s.room(0.6))  # fmt: skip
    _goes_on(s, "next", "next-bar", 44, 22)
    s.follow("ink", "thanks/fill.colour")
    s.follow("paper", "next/fill.colour")
    return s.template("Thanks, and where to go next.", way_in=0.9, way_out=0.8)


def rolling(frame: Frame) -> Template:
    """An end roll: roles in marigold, names in white capitals, headings on their own."""
    s = _start("credits", "Credits", frame, "credits", "roll", "list")
    names = BlockStyle(family="Fira Sans Condensed", style="Bold", size=40.0, tracking=30.0, case="capitals")
    return rolled(s, "ink", 72.0, "paper", "marigold", names, replace(names, style="SemiBold"), replace(names, size=56.0))


SIGNAL: dict[str, Making] = {"name": name, "title": title, "place": place, "count": count, "credits": rolling, "sign-off": sign_off}
"""The six of the family, by kind."""
