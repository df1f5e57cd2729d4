"""``avlet proof``: everything measured before a template leaves; of one, or of all in a folder."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import AnswerFiles, Length, Map, Set, Strict, Workers
from avlet.command_line.outputs import path_of, refuse_written
from avlet.command_line.scenes import answers_given, frames_typed, is_library, opened, workers_of
from avlet.command_line.telling import done, event, facts, note, say, work
from avlet.errors import AnswerError, AvletError

if TYPE_CHECKING:
    from avlet.review.awkward import Row
    from avlet.review.proof import Proof
    from avlet.storage.package import Opened

Subject = Annotated[Path, typer.Argument(metavar="TEMPLATE", help="A template, or a folder of them.")]


@verb(
    app, "proof",
    "avlet proof name-strap.avlet --html proof.html",
    "avlet proof name-strap.avlet --rows guests.csv --map Guest=name",
    "avlet proof name-strap.avlet --set name=\"Wilhelmina Featherstonehaugh\"",
    "avlet proof /srv/titles --strict --json",
)  # fmt: skip
def proof(
    file: Subject, answers: Set = None, files: AnswerFiles = None, length: Length = None,
    rows: Annotated[Path | None, typer.Option("--rows", metavar="TABLE", help="Prove these rows instead of made-up answers.")] = None,
    given: Map = None,
    only: Annotated[list[str] | None, typer.Option("--only", metavar="CHECK", help="Make this check alone; again for more.")] = None,
    html: Annotated[str | None, typer.Option("--html", metavar="FILE", help="Write a report that stands by itself.")] = None,
    pdf: Annotated[str | None, typer.Option("--pdf", metavar="FILE", help="Write the proof sheet as vectors.")] = None,
    strict: Strict = False, workers: Workers = None,
) -> None:  # fmt: skip
    """Prove a template: its samples and awkward answers against every check. Exit status 1 where something breaks.

    With answers of yours, or rows, those are proved instead of made-up ones. Of a folder each template is proved, one line each.
    """
    from avlet.review.proof import checks_named
    from avlet.review.proof_json import as_json

    checks = checks_named(only or ())
    if is_library(file):
        if any((answers, files, length, rows, given, html, pdf)):
            raise AnswerError(
                "A folder is proved with the answers that its templates have: leave out --set, --answers, --rows and reports."
            )
        _prove_folder(file, checks, strict, workers)
        return
    targets = [path_of(path, "", "") for path in (html, pdf) if path is not None]
    refuse_written(targets, False)
    one = opened(file)
    wanted = _rows(one, answers, files, length, rows, given)
    found = _proved(one, wanted, checks, workers)
    if html is not None:
        from avlet.review.proof_html import proof_html

        _write(html, proof_html(one.template, one.book, found).encode())
    if pdf is not None:
        from avlet.review.proof_pdf import proof_pdf

        _write(pdf, proof_pdf(one.template, one.book, found))
    for words in one.notes:
        note(words)
    holds = _holds(found, strict)
    import msgspec

    facts({"verb": "proof", **msgspec.to_builtins(as_json(found)), "holds": holds})
    _say(found)
    if not holds:
        raise typer.Exit(1)


def _holds(found: "Proof", strict: bool) -> bool:
    return found.holds and not (strict and found.count("to look at"))


def _rows(
    one: "Opened", answers: list[str] | None, files: list[Path] | None, length: str | None, rows: Path | None, given: list[str] | None
) -> "list[Row]":
    """What is proved: answers that were given, rows of a table, or those that the card makes up."""
    from avlet.review.awkward import Row, rows_of
    from avlet.review.proof_rows import rows_from_table

    frames = frames_typed(length, one.template.frame.fps)
    if answers or files or (length is not None and rows is None):
        sets = answers_given(one.template, answers, files)
        mine = [Row(called or "Your answers", said, frames, "own") for called, said in sets]
        return mine if rows is None else [*mine, *rows_from_table(one.template, rows, given or ())]
    wanted = rows_of(one.template)
    if rows is None:
        if given:
            raise AnswerError("--map is about a table's columns: name one with --rows.")
        return wanted
    return [row for row in wanted if row.kind != "made"] + rows_from_table(one.template, rows, given or ())


def _proved(one: "Opened", wanted: "list[Row]", checks: Any, workers: int | None) -> "Proof":
    from avlet.review.proof import prove

    with work(f"Proving {one.template.name}", len(wanted), "rows") as tell:

        def told(finished: int, of: int, name: str) -> bool:
            tell(finished, name)
            return True

        return prove(one.template, one.book, checks, wanted, told, workers_of(workers))


def _write(words: str, data: bytes) -> None:
    from avlet.storage.atomic import write_whole

    write_whole(Path(words), data)
    done(f"Wrote {words}.")
    event("wrote", path=words)


def _say(found: "Proof") -> None:
    from avlet.review.proof import together

    say(f"{found.name}: {found.counted}, {len(found.rows)} rows")
    for finding, names in together(found.open):
        listed = list(dict.fromkeys(names))
        more = f" and {len(listed) - 4} more" if len(listed) > 4 else ""
        say(f"  {finding.level}: {finding.words} ({', '.join(listed[:4])}{more})")
    for finding, reason in found.meant.items():
        say(f"  meant so: {finding.words} ({finding.sample}) {reason}")


def _prove_folder(folder: Path, checks: Any, strict: bool, workers: int | None) -> None:
    """Every template of a folder, one line each, and how many hold."""
    from avlet.command_line.told import LibraryProved, ProvedTemplate
    from avlet.review.awkward import rows_of
    from avlet.storage.library import scan

    entries = scan(folder)
    if not entries:
        raise AvletError(f"There is no template in “{folder}”.")
    told: list[ProvedTemplate] = []
    for entry in entries:
        try:
            one = opened(entry.path)
            found = _proved(one, rows_of(one.template), checks, workers)
            holds, breaks, looks = _holds(found, strict), found.count("breaks"), found.count("to look at")
            line = ProvedTemplate(template=found.name, path=entry.place, holds=holds, breaks=breaks, to_look_at=looks)
            say(f"{found.name}: {'holds' if holds else 'does not hold'}, {found.counted}, {len(found.rows)} rows")
        except AvletError as error:
            line = ProvedTemplate(template=entry.name, path=entry.place, holds=False, breaks=0, to_look_at=0, fault=str(error))
            say(f"{entry.name}: cannot be proved. {error}")
        told.append(line)
        event("proved", template=line.template, holds=line.holds, breaks=line.breaks, to_look_at=line.to_look_at, fault=line.fault)
    holding = sum(line.holds for line in told)
    say(f"{holding} of {len(told)} hold.")
    facts(LibraryProved(verb="proof", library=str(folder), holds=holding == len(told), templates=tuple(told)))
    if holding < len(told):
        raise typer.Exit(1)
