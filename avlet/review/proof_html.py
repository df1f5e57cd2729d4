"""A proof as one HTML file that stands by itself: findings in words, and the proof sheet with its faults marked."""

import base64
import html
import io

from PIL import Image

from avlet.document.template import Template
from avlet.geometry import Box
from avlet.paint.painter import canvas_over, new_pixels
from avlet.review.checks import Finding
from avlet.review.proof import Proof, together
from avlet.review.proof_sheet import MOMENTS, Cell, SheetRow, draw_cell, sheet_of
from avlet.text.fonts import FontBook

WIDTH, HEIGHT = 240, 135
_STYLE = """
body{background:#22272a;color:#e9ebec;font:15px/1.5 Inter,system-ui,sans-serif;margin:0 auto;max-width:1680px;padding:32px}
h1{font-size:26px;margin:0}h2{font-size:18px;margin:32px 0 8px}p.facts{color:#a7b0b5;margin:4px 0 0}
ul{list-style:none;padding:0;margin:0}li{padding:8px 12px;margin:6px 0;border:1px solid #3b4449;border-radius:6px}
li.breaks{border-color:#f4b23e}li small{display:block;color:#a7b0b5}li.meant{opacity:.6}
table{border-collapse:collapse}th{font-weight:400;color:#a7b0b5;text-align:left;padding:4px 10px 4px 0}td{padding:3px}
img{display:block;border-radius:3px;width:100%;min-width:120px}
"""
_SIGNS = {"breaks": "▲ breaks", "to look at": "○ to look at", "told": "· told"}


def proof_html(template: Template, book: FontBook, proof: Proof) -> str:
    """The report. Everything in it that comes from the template is text, and no link leads outside."""
    words = html.escape
    head = f"{proof.counted} · {len(proof.rows)} rows"
    found = "".join(_item(f, rows) for f, rows in together(proof.open)) or "<li>Nothing was found.</li>"
    meant = "".join(_line("meant", f.words, f"{f.sample} · it is meant so: {why}") for f, why in proof.meant.items())
    grave = {f.check for f in proof.open if f.level != "told"}
    holds = "".join(_line("holds", f"✓ {c.holds}", f"{c.limit} · {c.source}") for c in proof.checks if c.id not in grave)
    columns = "".join(f"<th>{name}</th>" for name in MOMENTS)
    sheet = "".join(_row(row) for row in sheet_of(template, book, proof))
    stopped = "" if proof.done else " · stopped before its end"
    pieces = [
        f"<h1>{words(proof.name)}</h1><p class=facts>{words(head)}{stopped}</p><h2>Preflight</h2><ul>{found}</ul>",
        f"<h2>It is meant so</h2><ul>{meant}</ul>" if meant else "",
        f"<h2>Holds</h2><ul>{holds}</ul><h2>Rows down, moments across</h2><table><tr><th></th>{columns}</tr>{sheet}</table>",
    ]
    top = f"<meta charset=utf-8><title>{words(f'Proof of {proof.name}')}</title><style>{_STYLE}</style>"
    return f"<!doctype html><html lang=en>{top}<body>{''.join(pieces)}</body></html>\n"


def _line(kind: str, words: str, beside: str) -> str:
    return f"<li class='{kind}'>{html.escape(words)}<small>{html.escape(beside)}</small></li>"


def _item(finding: Finding, rows: list[str]) -> str:
    where = "" if finding.first is None else f" · from frame {finding.first}"
    beside = f"{_SIGNS[finding.level]} · {', '.join(dict.fromkeys(rows))}{where}"
    return _line(finding.level.replace(" ", "-"), finding.words, beside)


def _row(row: SheetRow) -> str:
    name = html.escape(row.row.name)
    if row.scene is None:
        return f"<tr><th>{name}</th><td colspan={len(MOMENTS)}>{html.escape(row.fault)}</td></tr>"
    cells = "".join(f"<td>{_picture(row, cell)}</td>" for cell in row.cells)
    return f"<tr><th>{name}</th>{cells}</tr>"


def _picture(row: SheetRow, cell: Cell) -> str:
    assert row.scene is not None
    pixels = new_pixels(WIDTH, HEIGHT)
    surface = canvas_over(pixels)
    draw_cell(surface.getCanvas(), row.scene, cell, Box(0, 0, WIDTH, HEIGHT))
    surface.flushAndSubmit()
    out = io.BytesIO()
    Image.fromarray(pixels[..., :3].copy()).save(out, "PNG", optimize=True)
    faults = "; ".join(f.words for f in cell.marked)
    said = html.escape(f"{row.row.name}, frame {cell.frame}{': ' + faults if faults else ''}", quote=True)
    return f'<img alt="{said}" title="{said}" src="data:image/png;base64,{base64.b64encode(out.getvalue()).decode()}">'
