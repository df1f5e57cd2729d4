"""Chalk: Inter from thin to heavy; outlines that are drawn before they are filled, echoes of them, words cut out of bars."""

from typing import Any

import msgspec

from avlet.document.cards.wires import Wire
from avlet.document.looks.paints import Outline, Shadow, Solid
from avlet.document.parts import BlockStyle, CounterPart, Fit, Matte, Place, ShapePart, TextPart
from avlet.document.parts.counter import Counting
from avlet.document.parts.typeset import Accent, AxisPlace
from avlet.document.starts.answers import EPISODES, FAMILY_NAMES, FIRST_NAMES, PLACES, ROLES, THANKS, WHAT_IS_COUNTED, WHERE_NEXT
from avlet.document.starts.builder import Making, Start
from avlet.document.starts.rolls import rolled
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import Move

replace = msgspec.structs.replace
_CALM, _QUICK = READY_EASES["soft both"], READY_EASES["quick, then soft"]
_NOTHING = Solid("#FFFFFF00")
_SHADES = (Shadow(0, 2, 10, "#10141899"), Shadow(0, 0, 44, "#10141880"))


def _start(name: str, category: str, frame: Frame, *keywords: str) -> Start:
    s = Start(f"Chalk {name}", category, frame)
    s.house(chalk="#F4F1EA", coral="#F0A08E", slate="#20262B")
    s.keywords = ("chalk", "outline", "thin and heavy", *keywords)
    return s


def _weight(value: float) -> tuple[AxisPlace, ...]:
    return (AxisPlace("wght", value), AxisPlace("opsz", 32.0))


def _type(weight: float) -> dict[str, Any]:
    return {"family": "Inter Variable", "style": "Regular", "axes": _weight(weight)}


def _shade(s: Start) -> tuple[Shadow, ...]:
    return tuple(replace(one, y=s.px(one.y), blur=s.px(one.blur)) for one in _SHADES)


def _line(s: Start, colour: str, width: float = 2.5) -> Outline:
    return Outline(s.px(width), "middle", "round", s.fill(colour))


def _draws(s: Start, start: float, frames: float = 26) -> tuple[Move, ...]:
    """Letters are drawn in any order, and filled once their outline is there."""
    begin = s.frames(start) if start else 0
    return (Move(drawn=0, fills_after=True, by="character", order="shuffled", seed=7, overlap=72, frames=s.frames(frames), start=begin,
                 ease=_CALM),)  # fmt: skip


def _gathers(s: Start, start: float, frames: float = 22) -> tuple[Move, ...]:
    """Thin words close up as they appear."""
    begin = s.frames(start) if start else 0
    return (Move(opacity=0, tracking=260, frames=s.frames(frames), start=begin, ease=_QUICK),)


def _heavy(s: Start, part_id: str, name: str, words: dict[str, str], longest: int, size: float, start: float, **look: Any) -> None:
    """Heavy words with two echoes of their outline, each 10 px on and 10 px down, fainter and later."""
    s.follow("chalk", f"{part_id}/fill.colour", f"{part_id}/outline.fill.colour")
    step = size / 9.6
    usual = {"text": words["typical"], "room": s.room(), "leading": 104.0, "size": s.px(size), "tracking": -12.0, **_type(800), **look}
    for n, opacity in ((2, 30.0), (1, 55.0)):
        across, down = (
            Place(part_id, mine, mine, s.px(step * n)) for mine in (("start", "middle")[usual.get("align") == "middle"], "start")
        )
        echo = {**usual, "across": across, "down": down, "mattes": ()}
        s.follow("chalk", f"{part_id}-echo-{n}/outline.fill.colour")
        s.wires.append(Wire(part_id, f"{part_id}-echo-{n}/text"))
        draws = _draws(s, start + 6 * n)
        s.parts.append(TextPart(id=f"{part_id}-echo-{n}", name=f"{name}, echo {n}", fill=_NOTHING, outline=_line(s, "chalk", 2.0),
                                opacity=opacity, way_in=(replace(draws[0], fills_after=False),), **echo))  # fmt: skip
    s.words(part_id, name, words, longest, fill=s.fill("chalk"), outline=_line(s, "chalk", 2.0), way_in=_draws(s, start), shadows=_shade(s),
            **{k: v for k, v in usual.items() if k != "text"})  # fmt: skip


def _small(
    s: Start, part_id: str, name: str, words: dict[str, str], longest: int, colour: str, size: float, start: float,
    weight: float = 560, **look: Any,
) -> None:  # fmt: skip
    s.follow(colour, f"{part_id}/fill.colour")
    usual = {**_type(weight), "size": s.px(size), "tracking": 4.0, "way_in": _gathers(s, start), "shadows": _shade(s), **look}
    s.words(part_id, name, words, longest, fill=s.fill(colour), **usual)


def _bar(s: Start, around: str, sides: float, ends: float, start: float = 0, hinge: float = 0.0) -> None:
    """A bar of chalk out of which its words are cut; slate behind it darkens what is seen through them, so that they read over anything."""
    s.follow("chalk", "bar/fill.colour")
    s.follow("slate", "behind/fill.colour")
    fit = Fit((around,), "capitals", s.px(sides), s.px(sides), s.px(ends), s.px(ends))
    come = (Move(scale_x=0, hinge_x=hinge, frames=s.frames(22), start=s.frames(start) if start else 0, ease=_QUICK),)
    look = {"corner": s.px(10), "fit": fit, "across": None, "down": None, "way_in": come}
    s.parts += [
        ShapePart(id="behind", name="Behind the cut", fill=s.fill("slate"), opacity=66.0, mattes=(Matte(around),), **look),  # type: ignore[arg-type]
        ShapePart(id="bar", name="Bar", fill=s.fill("chalk"), mattes=(Matte(around, hides=True),), **look),  # type: ignore[arg-type]
    ]


def name(frame: Frame) -> Template:
    """First names thin over a heavy family name that is drawn, filled and echoed; what they do in coral."""
    s = _start("name", "Lower thirds", frame, "name", "role", "two lines", "echo")
    s.dusk("slate", ("first", "family", "role"), 38, 50, 20)
    _small(s, "role", "Role", ROLES, 90, "coral", 44, 16, 640, across=Place("title-safe", gap=s.px(4)),
           down=Place("title-safe", "end", "end", s.px(-2)), room=s.room(0.7))  # fmt: skip
    _heavy(s, "family", "Family name", FAMILY_NAMES, 34, 96, 2, across=Place("title-safe"), room=s.room(0.64, 40),
           down=Place("role", "end", "start", s.px(-14), closes=True))  # fmt: skip
    _small(s, "first", "First names", FIRST_NAMES, 34, "chalk", 84, 8, 250, tracking=-6.0, leading=104.0,
           across=Place("title-safe", gap=s.px(2)), down=Place("family", "end", "start", s.px(-4), closes=True),
           room=s.room(0.66, 40))  # fmt: skip
    return s.template("First names thin, the family name heavy; either may be left empty.", way_in=1.7, way_out=1.4)


def title(frame: Frame) -> Template:
    """Words cut out of a bar of chalk, and a line under it."""
    s = _start("title", "Titles", frame, "title", "cut out", "bar")
    middle = Place("frame", "middle", "middle")
    s.words("title", "Title", EPISODES, 48, **_type(860), size=s.px(150), tracking=4.0, case="capitals", align="middle", leading=100.0,
            opacity=0.0, across=middle, down=replace(middle, gap=s.px(-24)), room=s.room(0.66, 34))  # fmt: skip
    _bar(s, "title", 70, 58, hinge=50.0)
    under = {"shortest": "Two", "typical": "Saltmarsh Stories · part two", "longest": "Saltmarsh Stories, the second year on the water",
             "two-lines": "Saltmarsh Stories\npart two"}  # fmt: skip
    _small(s, "under", "Line under", under, 60, "chalk", 48, 12, 460, align="middle", across=middle,
           down=Place("bar", "start", "end", s.px(24)), room=s.room(0.6))  # fmt: skip
    return s.template(
        "A title cut out of a bar; the picture shows through it. The line under it may be left empty.", way_in=1.6, way_out=1.2
    )


def place(frame: Frame) -> Template:
    """A place cut out of a small bar in the upper corner."""
    s = _start("place", "Tags", frame, "place", "tag", "corner", "cut out")
    s.words("place", "Place", PLACES, 46, **_type(760), size=s.px(54), tracking=10.0, opacity=0.0, leading=108.0, room=s.room(0.5),
            across=Place("title-safe", gap=s.px(30)), down=Place("title-safe", "start", "start", s.px(16)))  # fmt: skip
    _bar(s, "place", 30, 24)
    return s.template("A place or a date in the upper corner, cut out of a bar.", way_in=1.2, way_out=1.0)


def count(frame: Frame) -> Template:
    """A heavy number on wheels, with what is counted in thin words over it and a line of coral under it."""
    s = _start("count", "Counters", frame, "count", "number", "wheels")
    middle = Place("frame", "middle", "middle")
    s.follow("chalk", "number/fill.colour")
    s.follow("coral", "number/accents.0.fill.colour", "number/accents.1.fill.colour")
    s.dusk("slate", ("number", "label"), 42, 60, 30)
    unit = Accent("Inter", "Medium", 34.0, s.fill("coral"))
    _small(s, "label", "What is counted", WHAT_IS_COUNTED, 70, "chalk", 54, 6, 300, align="middle", across=middle,
           down=Place("number", "end", "start", s.px(8)), room=s.room(0.62))  # fmt: skip
    comes = Move(opacity=0, y=s.px(60), frames=s.frames(20), ease=_QUICK)
    s.number(
        CounterPart(id="number", name="Number", **_type(820), size=s.px(230), end="1284", after=" ha", accents=(unit, unit),
                    tracking=-14.0, fill=s.fill("chalk"), across=middle, down=replace(middle, gap=s.px(40)), leading=92.0,
                    change="rolling up", blurred=True, count=Counting(start=s.frames(8), frames=s.frames(20)), way_in=(comes,)),
        "Number", {"shortest": 7.0, "typical": 1284.0, "longest": 9_999_999.0, "two-lines": 48_600.0}, 9_999_999.0,
    )  # fmt: skip
    return s.template("A number, and what is counted.", seconds=6.0, way_in=1.4, way_out=1.0)


def rolling(frame: Frame) -> Template:
    """An end roll: heavy names in chalk, thin roles in coral, over slate."""
    s = _start("credits", "Credits", frame, "credits", "roll", "list")
    names = BlockStyle(family="Inter", style="Bold", size=38.0)
    return rolled(s, "slate", 82.0, "chalk", "coral", names, replace(names, style="Regular"), replace(names, size=50.0))


def sign_off(frame: Frame) -> Template:
    """Heavy thanks that are drawn, filled and echoed, and where to go next cut out of a bar under them."""
    s = _start("sign-off", "Titles", frame, "thanks", "address", "cut out", "echo")
    middle = Place("frame", "middle", "middle")
    _heavy(
        s, "thanks", "Thanks", THANKS, 64, 118, 0, align="middle", across=middle, down=replace(middle, gap=s.px(-64)), room=s.room(0.62, 34)
    )
    s.words("next", "Where next", WHERE_NEXT, 60, **_type(720), size=s.px(52), tracking=6.0, align="middle", opacity=0.0, across=middle,
            down=Place("thanks", "start", "end", s.px(52)), room=s.room(0.6))  # fmt: skip
    _bar(s, "next", 36, 24, 10, 50.0)
    return s.template("Thanks, and where to go next.", way_in=2.0, way_out=1.4)


CHALK: dict[str, Making] = {"name": name, "title": title, "place": place, "count": count, "credits": rolling, "sign-off": sign_off}
"""The six of the family, by kind."""
