"""A table on a page: one title, many rows. The roster's own threads, rows and checks; the page keeps the table and sends it each time."""

import zipfile
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path, PurePath
from types import MappingProxyType
from typing import Any

import msgspec

from avlet.document.tables import rows_of
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.limits import MOST_NAMED_FILES, MOST_SERVED_ROWS
from avlet.media.plates import PLATES
from avlet.media.render import Progress, StoppedError
from avlet.roster.crew import OwnCrew
from avlet.roster.delivery import LIST, TABLE
from avlet.roster.kinds import KINDS, kind_named
from avlet.roster.rendering import State, render_roster
from avlet.roster.roster import Plan, Roster, Wanted, language_words, plan_of, shape_words, usual_frames
from avlet.roster.sheet import PASTED, table_sheet
from avlet.roster.threads import Thread, targets_of
from avlet.serve.sent import SentFiles, bytes_sent, in_short
from avlet.storage.library import Stamp
from avlet.storage.package import Opened
from avlet.storage.table_files import table_in


class SentTable(msgspec.Struct, forbid_unknown_fields=True):
    """A table as somebody has it: words from a clipboard, or a file's name and its bytes in base64."""

    words: str = ""
    name: str = ""
    data: str = ""


class TableThread(msgspec.Struct, forbid_unknown_fields=True, frozen=True):
    """A column, counted from 0, and the field that its cells answer, or ``@length``, or ``@output``."""

    column: int
    target: str


class WantedRows(msgspec.Struct, forbid_unknown_fields=True):
    """A table for a title. Its first row names columns. Without ``threads`` they suggest themselves.

    ``kinds`` are films, or ``still``; ``frames`` sizes in px, none for the title's own; ``languages`` those of columns such as *Role (cy)*.
    ``empty`` takes an empty cell for an empty text instead of the designed answer. ``files`` are those that cells name, by name, each as
    what it is kept by on the server.
    """

    rows: list[list[str]]
    name: str = PASTED
    kept_as: str = ""
    threads: list[TableThread] | None = None
    kinds: tuple[str, ...] = ("prores",)
    frames: list[tuple[int, int]] = []
    languages: list[str] = []
    pattern: str = ""
    plate: str = PLATES[0]
    empty: bool = False
    files: dict[str, str] = {}


@dataclass(frozen=True)
class AskedRows:
    """A package, as it was when it was changed last, and the table that is wanted of it, with the files that its cells name."""

    place: str
    stamp: Stamp
    wanted: WantedRows
    sent: Mapping[str, bytes] = field(default_factory=dict)


def read_sent(sent: SentTable) -> dict[str, Any]:
    """The rows of a table that was pasted or sent, and what was done to read it. Raises ``AvletError`` in words."""
    name, remarks, kept_as = PASTED, tuple[str, ...](), ""
    if not sent.data:
        rows = rows_of(sent.words)
    else:
        data = bytes_sent(sent.data)
        name = PurePath(sent.name).name[:200] or "a table"
        table = table_in(data, name)
        rows, remarks, kept_as = table.rows, table.remarks, table.kept_as
    _refuse_many(rows)
    table_sheet(rows, None, name, kept_as)
    return {"name": name, "rows": rows, "kept_as": kept_as, "remarks": remarks}


def _refuse_many(rows: Sequence[Sequence[str]]) -> None:
    if len(rows) > MOST_SERVED_ROWS + 1:
        words = f"A table on a page has at most {MOST_SERVED_ROWS:,} rows, this one {len(rows) - 1:,}."
        raise AnswerError(f"{words} Take a part of it, or use the Roster in Avlet.")


def files_for(wanted: WantedRows, kept: SentFiles) -> dict[str, bytes]:
    """The files that cells of a table name, by names in small letters. Raises ``AvletError`` in words."""
    if len(wanted.files) > MOST_NAMED_FILES:
        raise AnswerError(f"A table on a page comes with at most {MOST_NAMED_FILES:,} files, this one with {len(wanted.files):,}.")
    return {name.casefold(): kept.of(one, name) for name, one in wanted.files.items()}


def plan_for(template: Template, wanted: WantedRows, sent: Mapping[str, bytes] = MappingProxyType({})) -> Plan:
    """The roster's plan of a table with the files that were ``sent`` for it. Raises ``AvletError`` in words for what concerns all rows."""
    _refuse_many(wanted.rows)
    sheet = replace(table_sheet(wanted.rows, None, PurePath(wanted.name).name[:200] or PASTED, wanted.kept_as), sent=sent)
    roster = Roster.of(sheet, template)
    threads = roster.threads if wanted.threads is None else _threads(wanted.threads, len(sheet.heads), template)
    if wanted.plate not in PLATES:
        raise AnswerError(f"There is no plate “{wanted.plate[:60]}”. There are: {', '.join(PLATES)}.")
    if not wanted.kinds:
        raise AnswerError("Choose at least one kind of file.")
    kinds = tuple(dict.fromkeys(map(kind_named, wanted.kinds)))
    frames, languages = tuple(dict.fromkeys(wanted.frames)), tuple(dict.fromkeys(wanted.languages))
    return plan_of(Roster(sheet, threads, Wanted(kinds, wanted.plate, frames, languages, wanted.pattern, wanted.empty)), template)


def _threads(given: list[TableThread], columns: int, template: Template) -> tuple[Thread, ...]:
    known = {target.id for target in targets_of(template)}
    for one in given:
        if not 0 <= one.column < columns:
            raise AnswerError(f"The table has no column {one.column + 1}: it has {columns}.")
        if one.target not in known:
            raise AnswerError(f"{template.name} has no field “{one.target[:60]}” on its card.")
    if len({one.column for one in given}) < len(given):
        raise AnswerError("A column leads to one field.")
    return tuple(Thread(one.column, one.target) for one in sorted(given, key=lambda one: one.column))


def told_of_plan(plan: Plan, sent_as: Collection[str] = ()) -> dict[str, Any]:
    """All that a page shows of a table: heads, threads, and for each row its answers, its files' name, and what hinders it. Pictures that
    were ``sent_as`` something are named by that.
    """
    roster, template = plan.roster, plan.templates[0]
    sheet, known = roster.sheet, set(sent_as)
    naming = {one.id for one in template.card.fields if one.asks and one.reads_files}
    return {
        "heads": [head.words for head in sheet.heads], "languages": [{"id": one, "name": language_words(one)} for one in sheet.languages],
        "threads": [{"column": one.column, "target": one.target} for one in roster.threads],
        "targets": [{"id": one.id, "label": one.label, "files": one.id in naming} for one in targets_of(template)],
        "kinds": [{"id": one.id, "name": one.words} for one in KINDS], "pattern": roster.pattern,
        "frames": [{"size": size, "name": shape_words(size)} for size in usual_frames(template)],
        "remarks": plan.remarks, "files": len(plan.items), "rows": [_told_row(plan, place, known) for place in range(len(plan.rows))],
    }  # fmt: skip


def _told_row(plan: Plan, place: int, known: set[str]) -> dict[str, Any]:
    line, spoken = plan.rows[place], plan.roster.languages
    sizes = plan.roster.wanted.frames
    each = [(language, frame, plan.answered(place, language, frame)) for language in spoken for frame in range(len(plan.templates))]
    faults = dict.fromkeys(fault for *_, answered in each for fault in answered.faults)
    told = []
    for language, frame, said in each:
        size = sizes[frame] if sizes else None
        which = [*([language] if len(spoken) > 1 else []), *([shape_words(size)] if size is not None and len(sizes) > 1 else [])]
        told.append({"which": ", ".join(which), "size": size, "answers": in_short(said.answers, known), "length": said.length})
    return {
        "number": line.number, "cells": line.cells, "name": plan.names[place], "fault": plan.faulty.get(place, ""), "each": told,
        "faults": [{"column": fault.column, "words": fault.words} for fault in faults],
    }  # fmt: skip


def make_rows(opened: Opened, asked: AskedRows, path: Path, progress: Progress) -> None:
    """Write all files of a table and their delivery list into a zip; ``progress`` counts files. Raises ``AvletError`` in words.

    A file that cannot be made is on the list with why, as rows that cannot be read are; all others are there.
    """
    plan = plan_for(opened.template, asked.wanted, asked.sent)
    if not plan.items:
        raise AnswerError(f"No row can be rendered. {next(iter(plan.faulty.values()), '')}")
    folder, ended = path.with_suffix(""), 0
    folder.mkdir()

    def told(state: State) -> bool:
        nonlocal ended
        ended += state.done or bool(state.words)
        return progress(ended, len(plan.items))

    outcome = render_roster(plan, opened.book, folder, OwnCrew(lambda done, total: progress(ended, len(plan.items))), told)
    if outcome.stopped:
        raise StoppedError
    with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as packed:
        lists = [LIST, TABLE, *(timeline.name for timeline in outcome.timelines)]
        for name in dict.fromkeys([*(one.file for one in outcome.delivery.files), *lists]):
            packed.write(folder / name, f"{path.stem}/{name}")
            (folder / name).unlink()
