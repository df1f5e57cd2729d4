"""The proof sheet: rows down, moments across, what is drawn filling each cell, every fault marked; as pictures or as vectors."""

from collections.abc import Sequence
from dataclasses import dataclass

import skia

from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.geometry import Box
from avlet.paint.scene import Scene
from avlet.paint.views import view_round
from avlet.review.awkward import Row
from avlet.review.checks import Finding
from avlet.review.proof import Proof
from avlet.review.views import rest_box
from avlet.text.fonts import FontBook

GROUND, FAULT, LOOK = 0xFF58656C, 0xFFF4B23E, 0xFFE9EBEC
"""Behind the titles; round what breaks; round what is to be looked at."""


@dataclass(frozen=True)
class Cell:
    """One picture of the sheet: a row in a frame, what of the frame is shown, and what is marked."""

    row: Row
    frame: int
    view: Box
    marked: tuple[Finding, ...]


@dataclass(frozen=True)
class SheetRow:
    """A row with its scene and cells; ``fault`` says why there are none."""

    row: Row
    scene: Scene | None
    cells: tuple[Cell, ...] = ()
    fault: str = ""


Moment = str | int
"""One of the moments that every title has, by its name, or a frame."""
MOMENTS = ("first", "early", "arrived", "middle", "leaving", "last")


def moments_of(scene: Scene, moments: Sequence[Moment] = MOMENTS) -> tuple[int, ...]:
    """The frames of moments of a title; those beyond its end are its last."""
    spans, last = scene.spans, scene.length - 1
    leaving = last - spans.way_out // 2
    usual = (0, spans.way_in // 4, spans.way_in, spans.middle, leaving, last)
    named = dict(zip(MOMENTS, usual, strict=True))
    return tuple(max(0, min(last, named[moment] if isinstance(moment, str) else moment)) for moment in moments)


def sheet_of(template: Template, book: FontBook, proof: Proof, whole: bool = False, ratio: float = 16 / 9) -> list[SheetRow]:
    """All rows of a proof as cells; with ``whole`` each shows the whole frame instead of what is drawn."""
    made = []
    for row in proof.rows:
        try:
            scene = Scene(template, book, row.answers, row.length)
        except AvletError as error:
            made.append(SheetRow(row, None, (), str(error)))
            continue
        view = view_round(None if whole else rest_box(scene), template.frame, ratio)
        found = [f for f in proof.of_row(row.name) if f not in proof.meant and f.level != "told"]
        cells = tuple(Cell(row, frame, view, tuple(f for f in found if marks(f, frame))) for frame in moments_of(scene))
        made.append(SheetRow(row, scene, cells))
    return made


def marks(finding: Finding, frame: int) -> bool:
    """Whether a finding is to be seen in a frame."""
    if finding.box is None or finding.first is None or finding.last is None:
        return False
    return finding.first <= frame <= finding.last


def draw_cell(canvas: skia.Canvas, scene: Scene, cell: Cell, place: Box, footed: bool = False) -> None:
    """Draw a cell at a place of a canvas, as vectors where the canvas keeps them."""
    canvas.save()
    canvas.clipRect(skia.Rect.MakeXYWH(*place))
    canvas.drawRect(skia.Rect.MakeXYWH(*place), skia.Paint(Color=GROUND))
    canvas.translate(place.x, place.y)
    scale = place.w / cell.view.w
    canvas.scale(scale, scale)
    canvas.translate(-cell.view.x, -cell.view.y)
    scene.paint_on(canvas, cell.frame, blurred=False)
    for finding in cell.marked:
        assert finding.box is not None
        colour = FAULT if finding.level == "breaks" else LOOK
        line = skia.Paint(AntiAlias=True, Color=colour, Style=skia.Paint.kStroke_Style, StrokeWidth=2 / scale)
        if finding.level != "breaks":
            line.setPathEffect(skia.DashPathEffect.Make([6 / scale, 4 / scale], 0))
        canvas.drawRect(skia.Rect.MakeXYWH(*finding.box.grown(*[3 / scale] * 4)), line)
    canvas.restore()
