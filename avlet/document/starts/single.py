"""Starts that stand by themselves, each with an idea of its own."""

from typing import Any

import msgspec

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing.converting import scaled_part
from avlet.document.faults.checking import check
from avlet.document.fields.credits import CreditsField, answer_of
from avlet.document.lists.blocks import Blocks, Heading, Names, Role, multiplied
from avlet.document.looks.forms import SlantedBar
from avlet.document.looks.paints import Outline, Shadow, Solid
from avlet.document.parts import (
    CreditsPart,
    Fit,
    GroupPart,
    Matte,
    PatternPart,
    PictureFile,
    PicturePart,
    Place,
    RulePart,
    ShapePart,
)
from avlet.document.starts.answers import LINES, PEOPLE, PLACES, ROLES, SAMPLES, TITLES
from avlet.document.starts.builder import SOFT, Start, frames_of
from avlet.document.template import Frame, Template
from avlet.document.time.eases import READY_EASES
from avlet.document.time.moves import READY_MOVES, Move, StaysToTheEnd

replace = msgspec.structs.replace


def _shade(s: Start) -> tuple[Shadow, ...]:
    """Two soft shadows, so that light letters read over a bright sky."""
    return Shadow(0, 0, s.px(54), "#080A0E80"), Shadow(0, s.px(2), s.px(12), "#080A0E80")


def lower_third(frame: Frame) -> Template:
    """Two bars, each round its line, that open while the words rise out of them."""
    s = Start("Lower third", "Lower thirds", frame)
    unfold, rise = (
        Move(scale_x=0, hinge_x=0, frames=20, ease=SOFT),
        Move(travel="out of the matte", by="line", overlap=60, start=5, ease=SOFT),
    )
    s.parts += [
        ShapePart(id="role-plate", name="Role plate", corner=s.px(5), fill=Solid("#EAE2D0"), across=None, down=None,
                  fit=s.fit("role", ends=9), way_in=(unfold,)),
        ShapePart(id="plate", name="Plate", corner=s.px(30), across=None, down=None, fit=s.fit("name"), way_in=(unfold,)),
    ]  # fmt: skip
    s.words("role", "Role", ROLES, style="Medium", size=s.px(42), fill=Solid("#20435C"), across=Place("name"),
            down=Place("title-safe", "end", "end", s.px(-9)), mattes=(Matte("role-plate"),), way_in=(rise,))  # fmt: skip
    s.words("name", "Name", PEOPLE, size=s.px(80), across=Place("title-safe", gap=s.px(50)), mattes=(Matte("plate"),), way_in=(rise,),
            down=Place("role-plate", "end", "start", s.px(-33), closes=True))  # fmt: skip
    return s.template("Two lines. The bars follow the words.")


def centred_title(frame: Frame) -> Template:
    """A title in the middle whose letters fade and rise in one by one, with a line above."""
    s = Start("Centred title", "Titles", frame)
    middle = Place("frame", "middle", "middle")
    letters = Move(y=s.px(46), opacity=0, by="character", overlap=82, frames=26, ease=READY_EASES["soft end"])
    two_lines: dict[str, Any] = {"room": replace(s.room(0.72, 34), lines=2), "align": "middle", "across": middle, "shadows": _shade(s)}
    s.words("line", "Line above", LINES, 40, family="Fira Sans Condensed", style="Medium", size=s.px(46), tracking=120,
            down=Place("title", "end", "start", s.px(-14)), way_in=(READY_MOVES["fades"],), **two_lines)  # fmt: skip
    s.words("title", "Title", TITLES, 40, family="Alegreya", style="ExtraBold", size=s.px(180), down=middle, way_in=(letters,),
            **two_lines)  # fmt: skip
    return s.template("A centred title with a line above.")


def cut_out(frame: Frame) -> Template:
    """A light bar out of which the words are cut; the picture shows through them."""
    s = Start("Cut-out title", "Titles", frame)
    s.words("words", "Words", TITLES, family="Fira Sans", style="ExtraBold", size=s.px(150), case="capitals", align="middle", opacity=0.0,
            across=Place("frame", "middle", "middle"), down=Place("frame", "middle", "middle"), leading=100.0)  # fmt: skip
    fit = Fit(("words",), "capitals", s.px(70), s.px(70), s.px(66), s.px(66))
    s.parts.append(
        ShapePart(id="bar", name="Bar", corner=s.px(14), fill=Solid("#F4F0E6"), fit=fit, across=None, down=None,
                  mattes=(Matte("words", hides=True),), way_in=(Move(scale_x=0, frames=20, ease=SOFT),))
    )  # fmt: skip
    return s.template("Words cut out of a bar that is as wide as they are.")


def side_rule(frame: Frame) -> Template:
    """A rule grows at the side, and the words come out from behind it."""
    s = Start("Side rule", "Lower thirds", frame)
    out = Move(travel="out of the matte", side="left", by="line", overlap=70, frames=20, start=10, ease=SOFT)
    s.parts += [
        ShapePart(id="window", name="Window", shown=False, across=None, down=None, fill=Solid("#FFFFFF"),
                  fit=Fit(("name", "role"), left=0, right=s.px(20), top=s.px(10), bottom=s.px(10))),
        RulePart(id="rule", name="Rule", direction="down", width=s.px(8), fill=Solid("#F4B23E"), across=Place("title-safe"), down=None,
                 fit=Fit(("name", "role"), left=0, right=0, top=0, bottom=0), way_in=(Move(scale_y=0, hinge_y=50, frames=10, ease=SOFT),)),
    ]  # fmt: skip
    s.words("name", "Name", PEOPLE, size=s.px(84), across=Place("rule", "start", "end", s.px(28)), mattes=(Matte("window"),), way_in=(out,),
            down=Place("role", "end", "start", s.px(-4), closes=True))  # fmt: skip
    s.words("role", "Role", ROLES, style="Regular", size=s.px(44), across=Place("name"), down=Place("title-safe", "end", "end", s.px(-12)),
            mattes=(Matte("window"),), way_in=(out,))  # fmt: skip
    return s.template("A rule, and words beside it.")


MARK = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64"><g fill="none" stroke="#fff" stroke-width="5" stroke-linecap="round">'
    b'<path d="M6 40c7-8 13-8 20 0s13 8 20 0 8-6 12-3"/><path d="M6 54c7-8 13-8 20 0s13 8 20 0 8-6 12-3"/>'
    b'<path d="M24 30V8M34 27V14M16 28V18"/></g></svg>'
)
"""A made-up mark, reeds over water, for the tag."""


def slanted_tag(frame: Frame) -> Template:
    """A slanted bar with a mark, for a place or a date, in the upper corner."""
    s = Start("Place tag", "Tags", frame)
    slide = Move(x=s.px(-140), opacity=0, frames=18, ease=SOFT)
    s.parts += [
        ShapePart(id="under", name="Under bar", form=SlantedBar(s.px(34)), corner=s.px(4), fill=Solid("#F4B23E"), across=None, down=None,
                  group="backing", fit=Fit(("bar",), left=s.px(-14), right=s.px(18), top=s.px(-8), bottom=s.px(8))),
        ShapePart(id="bar", name="Bar", form=SlantedBar(s.px(34)), corner=s.px(4), across=None, down=None,
                  group="backing", fit=s.fit("mark", "place", sides=56, ends=14)),
        PatternPart(id="stripes", name="Stripes", form=SlantedBar(s.px(34)), width=s.px(46), step_x=s.px(30), opacity=9.0,
                    fill=Solid("#FFFFFF"), group="backing", mattes=(Matte("bar"),), across=None, down=None, drift_x=s.px(18),
                    fit=Fit(("bar",), left=0, right=0, top=0, bottom=0)),
        GroupPart(id="backing", name="Backing", way_in=(slide,)),
        PicturePart(id="mark", name="Mark", picture=PictureFile("mark.svg", MARK), width=s.px(66), height=s.px(66),
                    across=Place("title-safe", gap=s.px(56)), down=Place("place", "middle", "middle"),
                    way_in=(Move(opacity=0, frames=14, start=4),)),
    ]  # fmt: skip
    s.words("place", "Place", PLACES, family="Fira Sans Condensed", style="SemiBold", size=s.px(58), case="capitals", tracking=40,
            across=Place("mark", "start", "end", s.px(22)), down=Place("title-safe", gap=s.px(16)),
            way_in=(Move(opacity=0, frames=14, start=8),))  # fmt: skip
    return s.template("A place or a date in the corner.")


def framed_title(frame: Frame) -> Template:
    """An outline draws itself round a title that sizes it."""
    s = Start("Framed title", "Titles", frame)
    middle = Place("frame", "middle", "middle")
    line = Outline(s.px(5), "middle", "miter", Solid("#F4E9D2"))
    fit = Fit(("title",), "capitals", s.px(90), s.px(90), s.px(70), s.px(70))
    s.parts.append(
        ShapePart(id="edge", name="Edge", fill=Solid("#FFFFFF00"), outline=line, fit=fit, across=None, down=None,
                  way_in=(Move(drawn=0, frames=24, ease=READY_EASES["soft both"]),))
    )  # fmt: skip
    words = (Move(opacity=0, by="word", overlap=80, frames=26, start=7),)
    s.words("title", "Title", TITLES, 48, family="Alegreya", style="Bold", size=s.px(130), align="middle", across=middle, down=middle,
            fill=Solid("#F4E9D2"), shadows=_shade(s), way_in=words)  # fmt: skip
    return s.template("A title in a drawn frame.")


def rolling_credits(frame: Frame) -> Template:
    """Roles and names that meet in the middle and roll through the frame; samples from one line to too long ones."""
    s = Start("Rolling credits", "Credits", frame)
    middle = Place(mine="middle", theirs="middle")
    usual = (
        Heading(text="On the water"), Role(role=ROLES["typical"], names=(PEOPLE["typical"],)),
        Role(role="Boat builders", names=("Nkechi Arundel", "Bo Li")), Heading(text="With thanks to"),
        Names(names=("Wren Saltby", "Íris Þórdal", "Ulf Curlew", "Maren Fenn"), columns=2),
    )  # fmt: skip
    lists: dict[str, Blocks] = {
        "shortest": (Names(names=(PEOPLE["shortest"],)),), "typical": usual,
        "longest": (*usual, Role(role=ROLES["longest"], names=(PEOPLE["longest"],))),
        "two-lines": (Heading(text=PEOPLE["two-lines"]), *usual[1:]),
    }  # fmt: skip
    part = scaled_part(CreditsPart(id="credits", name="Credits", blocks=usual, across=middle, down=middle, way_out=StaysToTheEnd()), s.unit)
    part = replace(part, width=round(min(s.px(1300), frame.width * 0.86), 2))
    field = CreditsField(id="list", label="List", default=multiplied(usual, s.unit), hint="Type it, paste it, or open a list file")
    samples = tuple(Sample(i, n, {"list": answer_of(lists[i])}) for i, n in SAMPLES)
    return check(replace(
        s.base, category=s.category, parts=(part,), card=Card("", (Section("Credits", (field,)),)), samples=samples,
        wires=(Wire("list", "credits/blocks"),), length=frames_of(frame, 12), way_in=0, way_out=0,
    ))  # fmt: skip


SINGLE = {
    "Two-line lower third": lower_third, "Centred title": centred_title, "Word cut out of a bar": cut_out, "Side rule and words": side_rule,
    "Tag with a picture": slanted_tag, "Framed title": framed_title, "Rolling credits": rolling_credits,
}  # fmt: skip
