"""End rolls of families: one list, set as each family sets its words, over a veil in a colour of its house."""

import msgspec

from avlet.document.cards.card import Card, Sample, Section
from avlet.document.cards.wires import Wire
from avlet.document.editing.converting import scaled_part
from avlet.document.faults.checking import check
from avlet.document.fields.credits import CreditsField, answer_of
from avlet.document.lists.blocks import Blocks, Heading, Names, Role, multiplied
from avlet.document.parts import BlockStyle, CreditsPart, Fit, Place, ShapePart
from avlet.document.starts.answers import PEOPLE, ROLES, SAMPLES
from avlet.document.starts.builder import Start, frames_of
from avlet.document.template import Template
from avlet.document.time.moves import Move, StaysToTheEnd

replace = msgspec.structs.replace
_USUAL: Blocks = (
    Heading(text="On the water"), Role(role=ROLES["typical"], names=(PEOPLE["typical"],)),
    Role(role="Boat builders", names=("Nkechi Arundel", "Bo Li")), Heading(text="With thanks to"),
    Names(names=("Wren Saltby", "Íris Þórdal", "Ulf Curlew", "Maren Fenn"), columns=2),
)  # fmt: skip
_LISTS: dict[str, Blocks] = {
    "shortest": (Names(names=(PEOPLE["shortest"],)),), "typical": _USUAL,
    "longest": (*_USUAL, Role(role=ROLES["longest"], names=(PEOPLE["longest"],))),
    "two-lines": (Heading(text="The Keepers of\nthe North Sluice"), *_USUAL[1:]),
}  # fmt: skip


def rolled(
    s: Start, veil: str, cover: float, words: str, accent: str, names: BlockStyle, roles: BlockStyle, headings: BlockStyle
) -> Template:
    """An end roll of twelve seconds: names in one colour of the house, roles and headings in another; ``cover`` is the veil's opacity."""
    frame, middle = s.base.frame, Place(mine="middle", theirs="middle")
    part = CreditsPart(
        id="credits", name="Credits", blocks=_USUAL, across=middle, down=middle, fill=s.fill(words), way_out=StaysToTheEnd(),
        name_style=names,
        role_style=replace(roles, fill=s.fill(accent)), heading_style=replace(headings, fill=s.fill(accent)), words_style=replace(roles,
        case="as typed"),
    )  # fmt: skip
    scaled = replace(scaled_part(part, s.unit), width=round(min(s.px(1300), frame.width * 0.86), 2))
    behind = ShapePart(id="veil", name="Veil", corner=0, fill=s.fill(veil), opacity=cover, across=None, down=None,
                       fit=Fit(("frame",), "line box", 0, 0, 0, 0), way_in=(Move(opacity=0, frames=s.frames(20)),))  # fmt: skip
    s.follow(veil, "veil/fill.colour")
    s.follow(accent, "credits/role_style.fill.colour", "credits/heading_style.fill.colour")
    s.follow(words, "credits/fill.colour")
    field = CreditsField(id="list", label="List", default=multiplied(_USUAL, s.unit), hint="Type it, paste it, or open a list file")
    samples = tuple(Sample(i, n, {"list": answer_of(_LISTS[i])}) for i, n in SAMPLES)
    card = Card("An end roll from a list.", (Section("Credits", (field,)),))
    return check(replace(
        s.base, category=s.category, keywords=s.keywords, parts=(behind, scaled), palette=s.palette, length=frames_of(frame, 12),
        way_in=0, way_out=0, card=card, samples=samples, wires=(Wire("list", "credits/blocks"), *s.wires),
    ))  # fmt: skip
