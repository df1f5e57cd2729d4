"""Saltmarsh: rounded plates in deep water and paper, one rule of sea glass; unfolds from the placed edge, words rise line by line."""

from typing import Any

import msgspec

from avlet.document.parts import BlockStyle, CounterPart, Fit, Matte, PictureFile, PicturePart, Place, RulePart, ShapePart
from avlet.document.parts.counter import Counting
from avlet.document.parts.typeset import Accent
from avlet.document.starts.answers import EPISODES, LINES, PEOPLE, PLACES, ROLES, THANKS, WHAT_IS_COUNTED, WHERE_NEXT
from avlet.document.starts.builder import SOFT, Making, Start
from avlet.document.starts.rolls import rolled
from avlet.document.starts.single import MARK
from avlet.document.template import Frame, Template
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import Move, Side

replace = msgspec.structs.replace


def _start(name: str, category: str, frame: Frame, *keywords: str) -> Start:
    s = Start(f"Saltmarsh {name}", category, frame)
    s.house(deep_water="#20435C", paper="#F4EFE6", sea_glass="#6CC7B0", marigold="#F4B23E", white="#FFFFFF")
    s.keywords = ("saltmarsh", *keywords)
    return s


def _unfolds(s: Start, start: float = 0, hinge: float = 0) -> tuple[Move, ...]:
    begin = s.frames(start) if start else 0
    return (Move(scale_x=0, hinge_x=hinge, frames=s.frames(20), start=begin, ease=SOFT),)


def _rises(s: Start, start: float, side: Side = "below") -> tuple[Move, ...]:
    return (Move(travel="out of the matte", side=side, by="line", overlap=60, frames=s.frames(22), start=s.frames(start), ease=SOFT),)


def _plate(s: Start, part_id: str, name: str, colour: str, around: tuple[str, ...], corner: float, start: float = 0, hinge: float = 0,
           sides: float = 50, above: float = 25, below: float = 25) -> ShapePart:  # fmt: skip
    """A rounded plate with even room round ink: capitals above, the baseline below."""
    s.follow(colour, f"{part_id}/fill.colour")
    fit = Fit(around, "line box", s.px(sides), s.px(sides), s.px(above), s.px(below))
    return ShapePart(id=part_id, name=name, corner=s.px(corner), fill=s.fill(colour), fit=fit, across=None, down=None,
                     way_in=_unfolds(s, start, hinge))  # fmt: skip


def _words(s: Start, part_id: str, name: str, words: dict[str, str], longest: int, colour: str, **look: Any) -> None:
    s.follow(colour, f"{part_id}/fill.colour")
    s.words(part_id, name, words, longest, fill=s.fill(colour), **look)


def name(frame: Frame) -> Template:
    """A name on deep water, what they do on paper, a rule of sea glass at the outer edge."""
    s = _start("name", "Lower thirds", frame, "name", "role", "two lines", "plates")
    s.follow("sea_glass", "rule/fill.colour")
    s.parts += [
        RulePart(id="rule", name="Rule", direction="down", width=s.px(8), fill=s.fill("sea_glass"), across=Place("title-safe"), down=None,
                 fit=Fit(("plate", "role-plate"), left=0, right=0, top=0, bottom=0),
                 way_in=(Move(scale_y=0, hinge_y=100, frames=s.frames(12), ease=SOFT),)),
        _plate(s, "role-plate", "Role plate", "paper", ("role",), 14, 5, sides=50, above=7, below=8),
        _plate(s, "plate", "Plate", "deep_water", ("name",), 24, 2, above=19, below=14),
    ]  # fmt: skip
    _words(s, "role", "Role", ROLES, 90, "deep_water", style="Medium", size=s.px(44), across=Place("name"), mattes=(Matte("role-plate"),),
           down=Place("title-safe", "end", "end", s.px(-8)), way_in=_rises(s, 9), room=s.room(0.7))  # fmt: skip
    _words(s, "name", "Name", PEOPLE, 60, "white", style="Bold", size=s.px(88), across=Place("rule", "start", "end", s.px(62)),
           mattes=(Matte("plate"),), way_in=_rises(s, 6), room=s.room(0.66, 40),
           down=Place("role-plate", "end", "start", s.px(-24), closes=True))  # fmt: skip
    return s.template("A name, and what they do. The plates follow the words.", way_in=1.1, way_out=1.0)


def title(frame: Frame) -> Template:
    """A title on deep water with a line of sea glass above it, and a marigold rule that grows under it."""
    s = _start("title", "Titles", frame, "title", "episode", "plate", "rule")
    s.follow("marigold", "rule/fill.colour")
    s.parts += [
        _plate(s, "plate", "Plate", "deep_water", ("line", "title", "rule"), 28, 0, 50, sides=80, above=36, below=46),
        RulePart(id="rule", name="Rule", direction="across", width=s.px(8), fill=s.fill("marigold"), across=None,
                 down=Place("title", "start", "end", s.px(12)), fit=Fit(("title",), left=0, right=0, top=0, bottom=0, axes="width"),
                 way_in=(Move(scale_x=0, hinge_x=50, frames=s.frames(20), start=s.frames(14), ease=SOFT),)),
    ]  # fmt: skip
    _words(s, "line", "Line above", LINES, 44, "sea_glass", style="SemiBold", size=s.px(44), tracking=20, align="middle",
           across=Place("frame", "middle", "middle"), down=Place("title", "end", "start", s.px(-16)), mattes=(Matte("plate"),),
           way_in=_rises(s, 10, "above"), room=s.room(0.6))  # fmt: skip
    _words(s, "title", "Title", EPISODES, 48, "white", style="Bold", size=s.px(132), align="middle", leading=106.0,
           across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"), mattes=(Matte("plate"),), way_in=_rises(s,
           6),
           room=s.room(0.66, 34))  # fmt: skip
    return s.template("A title, and a line above it that may be left empty.", way_in=1.3, way_out=1.0)


def place(frame: Frame) -> Template:
    """A place in the upper corner: a mark on deep water, words on paper."""
    s = _start("place", "Tags", frame, "place", "tag", "mark", "corner")
    s.follow("deep_water", "square/fill.colour")
    side = Place("plate", "middle", "middle")
    s.parts += [
        _plate(s, "plate", "Plate", "paper", ("place",), 14, 4, sides=36, above=16, below=17),
        ShapePart(id="square", name="Square", width=s.px(98), height=s.px(98), corner=s.px(18), fill=s.fill("deep_water"), down=side,
                  across=Place("plate", "end", "start", s.px(14)), way_in=(Move(scale_x=0, scale_y=0, frames=s.frames(16), ease=SOFT),)),
        PicturePart(id="mark", name="Mark", picture=PictureFile("mark.svg", MARK), width=s.px(60), height=s.px(60),
                    across=Place("square", "middle", "middle"), down=Place("square", "middle", "middle"),
                    way_in=(Move(opacity=0, y=s.px(16), frames=s.frames(16), start=s.frames(6), ease=SOFT),)),
    ]  # fmt: skip
    _words(s, "place", "Place", PLACES, 46, "deep_water", style="Medium", size=s.px(52), align="end", room=s.room(0.5),
           across=Place("title-safe", "end", "end", s.px(-36)), down=Place("title-safe", "start", "start", s.px(26)),
           mattes=(Matte("plate"),), way_in=_rises(s, 9))  # fmt: skip
    return s.template("A place or a date in the upper corner, with your mark.", way_in=1.1, way_out=1.0)


def count(frame: Frame) -> Template:
    """A number, what is counted and a rule that fills while it counts, on one plate."""
    s = _start("count", "Counters", frame, "count", "number", "rule that fills")
    middle = Place("frame", "middle", "middle")
    s.follow("sea_glass", "track/fill.colour")
    s.follow("marigold", "run/fill.colour", "number/accents.0.fill.colour", "number/accents.1.fill.colour")
    s.follow("white", "number/fill.colour")
    track = Fit(("number", "label"), left=0, right=0, top=0, bottom=0, axes="width")
    below = Place("label", "start", "end", s.px(20))
    s.parts += [
        _plate(s, "plate", "Plate", "deep_water", ("number", "label", "track"), 30, 0, 50, sides=72, above=22, below=54),
        ShapePart(id="track", name="Track", height=s.px(8), corner=s.px(4), fill=s.fill("sea_glass"), opacity=35.0, across=None, down=below,
                  fit=track, way_in=_unfolds(s, 8)),
        ShapePart(id="run", name="Run", height=s.px(8), corner=s.px(4), fill=s.fill("marigold"), across=None, down=below, fit=track,
                  anchor_x=0.0,
                  runs=(RunsWith("scale_x", "number", 0.0, 100.0),), way_in=_unfolds(s, 8)),
    ]  # fmt: skip
    unit = Accent("Fira Sans", "SemiBold", 46.0, s.fill("marigold"))
    s.number(
        CounterPart(id="number", name="Number", style="Bold", size=s.px(190), end="1284", after=" ha", accents=(unit, unit),
                    fill=s.fill("white"), across=middle, down=replace(middle, gap=s.px(-60)), leading=108.0,
                    count=Counting(start=s.frames(10), frames=s.frames(20)), mattes=(Matte("plate"),), way_in=_rises(s, 6)),
        "Number", {"shortest": 7.0, "typical": 1284.0, "longest": 9_999_999.0, "two-lines": 48_600.0}, 9_999_999.0,
    )  # fmt: skip
    _words(s, "label", "What is counted", WHAT_IS_COUNTED, 70, "white", style="Medium", size=s.px(52), align="middle", across=middle,
           down=Place("number", "start", "end", s.px(-6)), mattes=(Matte("plate"),), way_in=_rises(s, 10), room=s.room(0.58))  # fmt: skip
    return s.template("A number, and what is counted. The rule fills while it counts.", seconds=6.0, way_in=1.3, way_out=1.0)


def sign_off(frame: Frame) -> Template:
    """Thanks on paper with a rule of sea glass, and where to go next on deep water."""
    s = _start("sign-off", "Titles", frame, "thanks", "address", "end")
    middle = Place("frame", "middle", "middle")
    s.parts += [
        _plate(s, "next-plate", "Address plate", "deep_water", ("next",), 18, 6, 50, sides=44, above=12, below=13),
        _plate(s, "plate", "Plate", "paper", ("thanks",), 28, 0, 50, sides=72, above=32, below=34),
    ]  # fmt: skip
    _words(s, "thanks", "Thanks", THANKS, 64, "deep_water", style="Bold", size=s.px(112), align="middle", leading=108.0, across=middle,
           down=replace(middle, gap=s.px(-50)), mattes=(Matte("plate"),), way_in=_rises(s, 6), room=s.room(0.62, 34))  # fmt: skip
    _words(s, "next", "Where next", WHERE_NEXT, 60, "sea_glass", style="Medium", size=s.px(50), align="middle", across=middle,
           down=Place("plate", "start", "end", s.px(22)), mattes=(Matte("next-plate"),), way_in=_rises(s, 11),
    room=s.room(0.6))  # fmt: skip
    return s.template("Thanks, and where to go next.", way_in=1.3, way_out=1.0)


def rolling(frame: Frame) -> Template:
    """An end roll: names in white, roles and headings in sea glass, over deep water."""
    s = _start("credits", "Credits", frame, "credits", "roll", "list")
    names = BlockStyle(family="Fira Sans", style="SemiBold", size=40.0)
    return rolled(
        s, "deep_water", 84.0, "white", "sea_glass", names, replace(names, style="Regular"), replace(names, size=54.0, style="Bold")
    )


SALTMARSH: dict[str, Making] = {"name": name, "title": title, "place": place, "count": count, "credits": rolling, "sign-off": sign_off}
"""The six of the family, by kind."""
