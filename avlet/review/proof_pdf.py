"""A proof sheet as a PDF of vectors: words stay outlines, however large it is printed."""

import functools

import skia

from avlet.document.parts import TextPart
from avlet.document.template import Template
from avlet.geometry import Box
from avlet.paint.outlines import unit_paths
from avlet.review.proof import Proof, together
from avlet.review.proof_sheet import MOMENTS, draw_cell, sheet_of
from avlet.text.fonts import Face, FontBook, bundled_fonts
from avlet.text.setting import set_text

WIDTH, HEIGHT = 842.0, 595.0
"""Points of a page: A4, lying."""
_MARGIN, _NAME, _GAP, _LINE = 28.0, 96.0, 5.0, 13.0
_INK, _MUTED = 0xFF1B1F22, 0xFF6A747A
_SIGNS = {"breaks": "▲", "to look at": "○", "told": "·"}


def proof_pdf(template: Template, book: FontBook, proof: Proof) -> bytes:
    """The pages: what was found in words, then rows down and moments across."""
    stream = skia.DynamicMemoryWStream()
    document = skia.PDF.MakeDocument(stream)
    _write_findings(document, proof)
    _draw_rows(document, template, book, proof)
    document.close()
    return bytes(stream.detachAsData())


def _face() -> Face:
    return bundled_fonts().find("Inter", "Regular")[0]


@functools.cache
def _font(size: float) -> skia.Font:
    return skia.Font(skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(_face().data)), size)


def _draw_words(canvas: skia.Canvas, words: str, x: float, y: float, size: float, colour: int) -> None:
    """Words in scripts that the report's font has not, set as all words are, and drawn as outlines."""
    setting = set_text(TextPart(id="words", name="Words", text=words, family="Inter", style="Regular", size=size), bundled_fonts())
    paint = skia.Paint(AntiAlias=True, Color=colour)
    canvas.save()
    canvas.translate(x, y - setting.lines[0].baseline)
    for path in unit_paths(setting, "line"):
        canvas.drawPath(path, paint)
    canvas.restore()


def _say(canvas: skia.Canvas, words: str, x: float, y: float, size: float = 9.0, colour: int = _INK, room: float = 1e9) -> None:
    """Words on a line, cut where they have no room."""
    font = _font(size)
    if not all(ord(sign) in _face().covered for sign in words):
        _draw_words(canvas, words, x, y, size, colour)
        return
    if font.measureText(words) > room:
        while words and font.measureText(f"{words}…") > room:
            words = words[:-1]
        words = f"{words}…"
    canvas.drawString(words, x, y, font, skia.Paint(AntiAlias=True, Color=colour))


def _write_findings(document: skia.Document, proof: Proof) -> None:
    canvas = document.beginPage(WIDTH, HEIGHT)
    _say(canvas, f"Proof of {proof.name}", _MARGIN, _MARGIN + 12, 18)
    head = f"{proof.counted} · {len(proof.rows)} rows"
    _say(canvas, head, _MARGIN, _MARGIN + 28, 10, _MUTED)
    y = _MARGIN + 54
    lines = [(f"{_SIGNS[f.level]}  {f.words}", ", ".join(dict.fromkeys(rows))) for f, rows in together(proof.open)]
    grave = {f.check for f in proof.open if f.level != "told"}
    lines += [(f"✓  {check.holds}", check.source) for check in proof.checks if check.id not in grave]
    lines += [(f"—  {f.words}", f"it is meant so: {why}") for f, why in proof.meant.items()]
    for words, beside in lines:
        if y > HEIGHT - _MARGIN:
            document.endPage()
            canvas, y = document.beginPage(WIDTH, HEIGHT), _MARGIN + 12
        _say(canvas, words, _MARGIN, y, room=500)
        _say(canvas, beside, _MARGIN + 512, y, colour=_MUTED, room=WIDTH - 2 * _MARGIN - 512)
        y += _LINE
    document.endPage()


def _draw_rows(document: skia.Document, template: Template, book: FontBook, proof: Proof) -> None:
    width = (WIDTH - 2 * _MARGIN - _NAME - _GAP * (len(MOMENTS) - 1)) / len(MOMENTS)
    height = width * 9 / 16
    rows = sheet_of(template, book, proof)
    each = int((HEIGHT - 2 * _MARGIN - 16) // (height + _GAP))
    for begin in range(0, len(rows), each):
        canvas = document.beginPage(WIDTH, HEIGHT)
        for number, name in enumerate(MOMENTS):
            _say(canvas, name, _MARGIN + _NAME + number * (width + _GAP), _MARGIN + 8, colour=_MUTED)
        for line, row in enumerate(rows[begin : begin + each]):
            y = _MARGIN + 16 + line * (height + _GAP)
            _say(canvas, row.row.name, _MARGIN, y + height / 2, room=_NAME - 6)
            if row.scene is None:
                _say(canvas, row.fault, _MARGIN + _NAME, y + height / 2, colour=_MUTED, room=WIDTH - 2 * _MARGIN - _NAME)
                continue
            for number, cell in enumerate(row.cells):
                draw_cell(canvas, row.scene, cell, Box(_MARGIN + _NAME + number * (width + _GAP), y, width, height))
        document.endPage()
