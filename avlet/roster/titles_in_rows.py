"""The rows of a table as titles on a cut: which column goes where, what each row says, and which rows are there already."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

import msgspec

from avlet.document.cut import Cut, Title, put_title
from avlet.document.editing.naming import free_id
from avlet.document.fields import NumberField, TextField
from avlet.document.template import Template
from avlet.roster.answering import Answering, in_words
from avlet.roster.sheet import Sheet, table_sheet
from avlet.roster.threads import LENGTH, OUTPUT, Thread, threads_for

BETWEEN = 1.0
"""Seconds between the titles that rows become."""
Becomes = Literal["new", "there already", "cannot be read"]


@dataclass(frozen=True)
class RowTitle:
    """A row: its number, counted from the first that is no heading, its answers, and its length in frames of the template's rate.

    ``title`` is the one on the cut that says the same; ``said`` tells why a row cannot be read.
    """

    number: int
    answers: dict[str, Any]
    length: int | None
    becomes: Becomes
    title: str = ""
    said: str = ""


def has_heads(rows: Sequence[Sequence[str]], template: Template) -> bool:
    """Whether the first row says what the columns are: at least half of its cells are called like, or mean, a field."""
    cells = [cell for cell in rows[0] if cell.strip()] if len(rows) > 1 else []
    if not cells:
        return False
    found = threads_for(table_sheet(rows, Path()).heads, template)
    return 2 * len(found) >= len(cells)


def sheet_of(rows: Sequence[Sequence[str]], headed: bool) -> Sheet:
    """Rows as a sheet. Without heads of their own its columns are called *Column 1* and so on. Raises ``AnswerError``."""
    if headed:
        return table_sheet(rows, Path.home())
    width = max(map(len, rows), default=0)
    return table_sheet([[f"Column {n}" for n in range(1, width + 1)], *rows], Path.home())


def threads_of(sheet: Sheet, template: Template, headed: bool) -> tuple[Thread, ...]:
    """Where the columns go at first: by what they are called, else to the card's words and numbers in order."""
    if headed:
        return tuple(thread for thread in threads_for(sheet.heads, template) if thread.target != OUTPUT)
    fields = [f.id for f in template.card.fields if isinstance(f, TextField | NumberField)]
    return tuple(Thread(column, field) for column, (_, field) in enumerate(zip(sheet.heads, fields, strict=False)))


def titles_in(sheet: Sheet, template: Template, threads: Sequence[Thread], like: Title, cut: Cut) -> tuple[RowTitle, ...]:
    """What becomes of each row, as titles like one that is on the cut."""
    answering = Answering(template, sheet, threads)
    starts = {f.id: f.start for f in template.card.fields}
    known = [(title.id, {**starts, **title.answers}) for title in cut.titles if title.template == like.template]
    asked = [thread.target for thread in threads if thread.target != LENGTH]
    found = []
    for line in sheet.lines:
        answered = answering.of(line)
        if answered.faults:
            found.append(RowTitle(line.number, {}, None, "cannot be read", said=in_words(answered.faults, sheet.heads)))
            continue
        whole = {**starts, **like.answers, **answered.answers}
        same = next((i for i, answers in known if asked and all(answers.get(t) == whole.get(t) for t in asked)), "")
        found.append(RowTitle(line.number, answered.answers, answered.length, "there already" if same else "new", same))
    return tuple(found)


def with_titles(cut: Cut, template: Template, like: Title, rows: Sequence[RowTitle]) -> tuple[Cut, list[str]]:
    """The cut with a title for each row, one after another behind all that is on the track of ``like``; and their ids."""
    fps, gap, made = cut.frame.fps, round(BETWEEN * cut.frame.fps), []
    start = max([like.end, *(t.end for t in cut.titles if t.track == like.track)]) + gap
    for row in rows:
        length = like.length if row.length is None else max(1, round(row.length * fps / template.frame.fps))
        title_id = free_id(like.template.removesuffix(".avlet"), {t.id for t in cut.titles})
        title = Title(title_id, like.template, start, length, {**like.answers, **row.answers}, like.version, track=like.track)
        cut = put_title(cut, msgspec.structs.replace(title, x=like.x, y=like.y, scale=like.scale, reframed=like.reframed))
        made.append(title_id)
        start += length + gap
    return cut, made
