"""Ledger: open Alegreya in cream and brass, hairlines that draw themselves, no plates; letters come into focus one after another."""

from typing import Any

import msgspec

from avlet.document.looks.paints import Outline, Shadow, Solid
from avlet.document.parts import BlockStyle, CounterPart, Fit, Place, RulePart, ShapePart
from avlet.document.parts.counter import Counting
from avlet.document.parts.typeset import Accent
from avlet.document.starts.answers import EPISODES, LINES, PEOPLE, PLACES, ROLES, THANKS, WHAT_IS_COUNTED, WHERE_NEXT
from avlet.document.starts.builder import Making, Start
from avlet.document.starts.rolls import rolled
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.keys import RunsWith
from avlet.document.time.moves import Move, OwnWayOut

replace = msgspec.structs.replace
_CALM, _END = READY_EASES["soft both"], READY_EASES["soft end"]
_HAIR = 2.5
"""px of a hairline at 1080 lines."""


def _start(name: str, category: str, frame: Frame, *keywords: str) -> Start:
    s = Start(f"Ledger {name}", category, frame)
    s.house(cream="#F3EAD8", brass="#E7C58E", ink="#14171C")
    s.keywords = ("ledger", "serif", "hairlines", *keywords)
    return s


def _out(s: Start, drift: float = -16) -> OwnWayOut:
    """All of it fades together and drifts on a little."""
    return OwnWayOut((Move(opacity=0, y=s.px(drift), frames=s.frames(24), ease=_CALM),))


def _focus(s: Start, start: float, frames: float = 40) -> tuple[Move, ...]:
    """Letters come into focus, each long before the one before it is sharp."""
    begin = s.frames(start) if start else 0
    return (Move(opacity=0, blur=s.px(16), by="character", overlap=88, frames=s.frames(frames), start=begin, ease=_END),)


def _shade(s: Start, size: float) -> tuple[Shadow, ...]:
    """Two soft shadows, a near and a wide one, that hold light letters over a bright sky."""
    near, wide = s.px(size * 0.08 + 4), s.px(size * 0.3 + 10)
    return (Shadow(0, 0, wide, "#080A0E99"), Shadow(0, s.px(2), near, "#080A0E99"))


def _words(s: Start, part_id: str, name: str, words: dict[str, str], longest: int, colour: str, size: float, start: float,
           **look: Any) -> None:  # fmt: skip
    s.follow(colour, f"{part_id}/fill.colour")
    usual = {"family": "Alegreya", "style": "Medium", "tracking": 14.0, "way_in": _focus(s, start), "way_out": _out(s)}
    s.words(part_id, name, words, longest, fill=s.fill(colour), size=s.px(size), shadows=_shade(s, size), **{**usual, **look})


def _hairline(s: Start, part_id: str, fit: Fit, down: Place | None, across: Place | None = None, hinge: float = 0.0, start: float = 0,
              **look: Any) -> RulePart:  # fmt: skip
    """A hairline that draws itself along what it is as long as."""
    s.follow("brass", f"{part_id}/fill.colour")
    begin = s.frames(start) if start else 0
    axis = {"scale_x": 0.0, "hinge_x": hinge} if look.get("direction", "across") == "across" else {"scale_y": 0.0, "hinge_y": hinge}
    way_in = (Move(frames=s.frames(34), start=begin, ease=_CALM, **axis),)  # type: ignore[arg-type]
    return RulePart(id=part_id, name="Hairline", width=s.px(_HAIR), fill=s.fill("brass"), fit=fit, across=across, down=down, way_in=way_in,
                    way_out=_out(s), shadows=(Shadow(0, 0, s.px(14), "#080A0E99"),), **look)  # fmt: skip


def _along(*parts: str) -> Fit:
    return Fit(parts, "ink", left=0, right=0, top=0, bottom=0, axes="width")


def name(frame: Frame) -> Template:
    """A name over a hairline that is as long as it, and what they do in italics under that."""
    s = _start("name", "Lower thirds", frame, "name", "role", "two lines", "letters that focus")
    s.dusk("ink", ("name", "role"), 40, 60, 30, _out(s, 0))
    _words(s, "role", "Role", ROLES, 90, "brass", 50, 16, style="Italic", tracking=6.0, across=Place("title-safe", gap=s.px(6)),
           down=Place("title-safe", "end", "end", s.px(-4)), room=s.room(0.7))  # fmt: skip
    s.parts.append(_hairline(s, "hairline", _along("name"), Place("role", "end", "start", s.px(-4), closes=True), start=4))
    _words(s, "name", "Name", PEOPLE, 60, "cream", 96, 0, across=Place("title-safe", gap=s.px(4)), leading=104.0,
           down=Place("hairline", "end", "start", s.px(-8)), room=s.room(0.66, 40))  # fmt: skip
    return s.template("A name and what they do, over any picture. The hairline is as long as the name.", way_in=2.2, way_out=1.0)


def title(frame: Frame) -> Template:
    """A title in a hairline frame that draws itself, over a veil of ink."""
    s = _start("title", "Titles", frame, "title", "episode", "frame that draws itself", "veil")
    s.follow("ink", "veil/fill.colour")
    s.follow("brass", "edge/outline.fill.colour")
    line = Outline(s.px(_HAIR), "middle", "miter", s.fill("brass"))
    fit = Fit(("line", "title", "under"), "line box", s.px(64), s.px(64), s.px(40), s.px(38))
    s.parts += [
        ShapePart(id="veil", name="Veil", corner=0, fill=s.fill("ink"), opacity=38.0, across=None, down=None,
                  fit=Fit(("frame",), "line box", 0, 0, 0, 0), way_in=(Move(opacity=0, frames=s.frames(30), ease=_CALM),)),
        ShapePart(id="edge", name="Edge", corner=0, fill=Solid("#FFFFFF00"), outline=line, fit=fit, across=None, down=None,
                  way_in=(Move(drawn=0, frames=s.frames(44), ease=_CALM),), way_out=_out(s)),
    ]  # fmt: skip
    middle = Place("frame", "middle", "middle")
    _words(s, "line", "Line above", LINES, 44, "brass", 52, 8, case="small capitals", tracking=240.0, align="middle", across=middle,
           down=Place("title", "end", "start", s.px(-10)), room=s.room(0.6))  # fmt: skip
    _words(s, "title", "Title", EPISODES, 48, "cream", 168, 12, tracking=6.0, align="middle", leading=92.0, across=middle, down=middle,
           room=s.room(0.7, 34))  # fmt: skip
    under = {"shortest": "One", "typical": "Saltmarsh Stories", "longest": "Saltmarsh Stories, the second year on the water",
             "two-lines": "Saltmarsh\nStories"}  # fmt: skip
    _words(s, "under", "Line under", under, 60, "cream", 52, 22, style="Italic", tracking=6.0, align="middle", across=middle,
           down=Place("title", "start", "end", s.px(8)), room=s.room(0.6))  # fmt: skip
    return s.template("A title with a line above and one under it; both may be left empty.", seconds=6.0, way_in=2.6, way_out=1.2)


def place(frame: Frame) -> Template:
    """A place in the upper corner, beside an upright hairline as high as its words."""
    s = _start("place", "Tags", frame, "place", "tag", "corner", "date")
    s.dusk("ink", ("place",), 36, 50, 20, _out(s, 0))
    fit = Fit(("place",), "capitals", left=0, right=0, top=s.px(8), bottom=s.px(10), axes="height")
    s.parts.append(_hairline(s, "hairline", fit, None, Place("title-safe"), hinge=0.0, direction="down"))
    _words(s, "place", "Place", PLACES, 46, "cream", 56, 8, style="Italic", tracking=8.0, room=s.room(0.5),
           across=Place("hairline", "start", "end", s.px(24)), down=Place("title-safe", "start", "start", s.px(8)))  # fmt: skip
    return s.template("A place or a date in the upper corner.", way_in=1.8, way_out=1.0)


def count(frame: Frame) -> Template:
    """A number over a hairline that grows as it counts, and what is counted in italics."""
    s = _start("count", "Counters", frame, "count", "number", "hairline that grows")
    middle = Place("frame", "middle", "middle")
    s.follow("cream", "number/fill.colour")
    s.follow("brass", "number/accents.0.fill.colour", "number/accents.1.fill.colour")
    s.dusk("ink", ("number", "label"), 36, 70, 20, _out(s, 0))
    track, below = _along("number", "label"), Place("number", "start", "end", s.px(2))
    s.follow("cream", "track/fill.colour")
    s.parts += [
        RulePart(id="track", name="Track", width=s.px(_HAIR), fill=s.fill("cream"), opacity=40.0, fit=track, across=None, down=below,
                 way_in=(Move(opacity=0, frames=s.frames(24), ease=_CALM),), way_out=_out(s)),
        replace(_hairline(s, "hairline", track, below), anchor_x=0.0, runs=(RunsWith("scale_x", "number", 0.0, 100.0),),
                way_in=(Move(opacity=0, frames=s.frames(12), ease=_CALM),)),
    ]  # fmt: skip
    unit = Accent("Alegreya", "Italic", 44.0, s.fill("brass"))
    s.number(
        CounterPart(id="number", name="Number", family="Alegreya", style="Medium", size=s.px(220), end="1284", after=" ha",
                    accents=(unit, unit), features=("lnum",), fill=s.fill("cream"), across=middle, down=replace(middle, gap=s.px(-50)),
                    leading=96.0, count=Counting(start=s.frames(12), frames=s.frames(20), ease=_CALM), way_in=_focus(s, 0),
                    way_out=_out(s), shadows=_shade(s, 150)),
        "Number", {"shortest": 7.0, "typical": 1284.0, "longest": 9_999_999.0, "two-lines": 48_600.0}, 9_999_999.0,
    )  # fmt: skip
    _words(s, "label", "What is counted", WHAT_IS_COUNTED, 70, "cream", 54, 12, style="Italic", tracking=6.0, align="middle",
           across=middle, down=Place("hairline", "start", "end", s.px(8)), room=s.room(0.6))  # fmt: skip
    return s.template("A number, and what is counted. The hairline grows while it counts.", seconds=6.0, way_in=2.2, way_out=1.0)


def rolling(frame: Frame) -> Template:
    """An end roll: names in cream, roles in brass italics, headings in open small capitals, over a veil of ink."""
    s = _start("credits", "Credits", frame, "credits", "roll", "list")
    names = BlockStyle(family="Alegreya", style="Medium", size=44.0, tracking=8.0)
    heads = replace(names, size=46.0, case="small capitals", tracking=220.0)
    return rolled(s, "ink", 72.0, "cream", "brass", names, replace(names, style="Italic", tracking=4.0), heads)


def sign_off(frame: Frame) -> Template:
    """Thanks between two hairlines, and where to go next in italics."""
    s = _start("sign-off", "Titles", frame, "thanks", "address", "end", "veil")
    middle = Place("frame", "middle", "middle")
    s.follow("ink", "veil/fill.colour")
    s.parts += [
        ShapePart(id="veil", name="Veil", corner=0, fill=s.fill("ink"), opacity=38.0, across=None, down=None,
                  fit=Fit(("frame",), "line box", 0, 0, 0, 0), way_in=(Move(opacity=0, frames=s.frames(30), ease=_CALM),)),
        _hairline(s, "hairline", _along("thanks"), Place("thanks", "end", "start", s.px(-14)), hinge=50.0),
        _hairline(s, "hairline-under", _along("thanks"), Place("thanks", "start", "end", s.px(14)), hinge=50.0, start=4),
    ]  # fmt: skip
    _words(s, "thanks", "Thanks", THANKS, 64, "cream", 128, 6, tracking=6.0, align="middle", leading=98.0, across=middle,
           down=replace(middle, gap=s.px(-46)), room=s.room(0.66, 34))  # fmt: skip
    _words(s, "next", "Where next", WHERE_NEXT, 60, "brass", 54, 20, style="Italic", tracking=8.0, align="middle", across=middle,
           down=Place("hairline-under", "start", "end", s.px(16)), room=s.room(0.6))  # fmt: skip
    return s.template("Thanks, and where to go next.", seconds=6.0, way_in=2.4, way_out=1.2)


LEDGER: dict[str, Making] = {"name": name, "title": title, "place": place, "count": count, "credits": rolling, "sign-off": sign_off}
"""The six of the family, by kind."""
