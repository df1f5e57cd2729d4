"""``avlet roster``: one template, a table, many films."""

from collections import Counter
from pathlib import Path
from typing import Annotated, Any

import typer

from avlet.command_line.app import roster_app, verb
from avlet.command_line.options import Codecs, DryRun, File, Frames, Map, OutFolder, Plate, Strict, TableFile, Workers
from avlet.command_line.scenes import frames_typed, opened, plate_of, workers_of
from avlet.command_line.telling import event, facts, note, say, work
from avlet.errors import AnswerError

Languages = Annotated[list[str] | None, typer.Option("--language", metavar="CODE", help="A language of columns such as “Role (cy)”.")]
Empty = Annotated[bool, typer.Option("--empty", help="An empty cell is an empty text, not the designed answer.")]
Name = Annotated[str | None, typer.Option("--name", metavar="PATTERN", help="What files are called: {row} and columns, {row}-{Person}.")]
At = Annotated[str | None, typer.Option("--at", metavar="TIME", help="The frame of stills, or the last; else the hold's middle.")]


def _plan(template: Path, table: Path, given: list[str] | None, at: str | None = None, **wanted: Any) -> Any:
    """The opened template, and the plan of its roster."""
    from avlet.roster.roster import Roster, Wanted, plan_of, read_size
    from avlet.roster.sheet import open_sheet
    from avlet.roster.threads import read_threads

    one, sheet = opened(template), open_sheet(table)
    frames = tuple(dict.fromkeys(map(read_size, wanted.pop("frames") or ())))
    languages = tuple(dict.fromkeys(language.lower().replace("-", "_") for language in wanted.pop("languages") or ()))
    known = {language.lower(): language for language in sheet.languages}
    languages = tuple(known.get(language, language) for language in languages)
    threads = read_threads(sheet, one.template, given or ())
    frame = frames_typed(at, one.template.frame.fps)
    return one, plan_of(Roster(sheet, threads, Wanted(frames=frames, languages=languages, at=frame, **wanted)), one.template)


@verb(
    roster_app, "check",
    "avlet roster check name-strap.avlet guests.xlsx",
    "avlet roster check name-strap.avlet guests.csv --map Guest=name --whole --json",
)  # fmt: skip
def check(
    template: File, table: TableFile, given: Map = None, frames: Frames = None, languages: Languages = None, empty: Empty = False,
    name: Name = None, whole: Annotated[bool, typer.Option("--whole", help="Prove each row in every frame, as proof does.")] = False,
    strict: Strict = False,
) -> None:  # fmt: skip
    """Say what each row of a table would come to.

    Exit status 1 where one cannot be rendered or breaks, and where a table had to be guessed at while it was read.
    """
    from avlet.command_line.told import RosterChecked, RosterRow
    from avlet.roster.looking import counted, look_at
    from avlet.roster.ordering import said_before
    from avlet.roster.proving import proved
    from avlet.roster.threads import targets_of

    one, plan = _plan(template, table, given, frames=frames, languages=languages, empty=empty, pattern=name or "")
    said = [look_at(plan, one.book, line) for line in range(len(plan.rows))]
    if whole:
        said = proved(plan, one.book, said)
    sheet = plan.roster.sheet
    labels = {target.id: target.label for target in targets_of(one.template)}
    threads = {sheet.heads[thread.column].words: labels[thread.target] for thread in plan.roster.threads}
    summary = counted(Counter(looked.verdict for looked in said))
    for remark in plan.remarks:
        note(remark)
    if repeated := said_before(plan.rows):
        row, before = next(iter(repeated.items()))
        many = f" ({len(repeated):,} rows in all say what an earlier one says)" if len(repeated) > 1 else ""
        note(f"Row {plan.rows[row].number} says the same as row {plan.rows[before].number}{many}.")
    grave = {looked.verdict for looked in said} - {"holds"} if strict else {"breaks", "cannot be rendered"}
    holds = not sheet.guessed and not any(looked.verdict in grave for looked in said)
    rows = tuple(
        RosterRow(row=line.number, verdict=looked.verdict, said=tuple(looked.words)) for line, looked in zip(plan.rows, said, strict=True)
    )
    unused = tuple(head.words for head in sheet.heads if head.words not in threads)
    facts(
        RosterChecked(
            verb="roster check", template=one.template.name, table=sheet.name, holds=holds, rows=rows, threads=threads, unused=unused,
            guessed=sheet.guessed, summary=summary,
        )
    )  # fmt: skip
    say(", ".join(f"{column} → {label}" for column, label in threads.items()))
    alike: dict[tuple[str, str], list[Any]] = {}
    for line, looked in zip(plan.rows, said, strict=True):
        if looked.verdict != "holds":
            alike.setdefault((looked.verdict, " ".join(looked.words)), []).append(line)
    for (verdict, words), lines in alike.items():  # one fault is told once, with its rows
        say(f"{_rows(lines)}: {verdict}. {words}")
    say(summary)
    if not holds:
        raise typer.Exit(1)


def _rows(lines: list[Any]) -> str:
    """Rows by their numbers, a single one with what it is called."""
    if len(lines) == 1:
        return f"Row {lines[0].number}, {_called(lines[0].cells)}"
    more = f" and {len(lines) - 12} more" if len(lines) > 12 else ""
    return f"Rows {', '.join(str(line.number) for line in lines[:12])}{more}"


def _called(cells: tuple[str, ...]) -> str:
    return next((" / ".join(cell.split("\n"))[:60] for cell in cells if cell), "")


@verb(
    roster_app, "render",
    "avlet roster render name-strap.avlet guests.xlsx -o films",
    "avlet roster render name-strap.avlet guests.csv -o films --name \"{row}-{Guest}\" --codec prores --codec still --prune",
    "avlet roster render name-strap.avlet guests.csv -o films --cluster tcp://render-1:8786 --json lines",
)  # fmt: skip
def render(
    template: File, table: TableFile, output: OutFolder, given: Map = None, name: Name = None, codec: Codecs = None,
    frames: Frames = None, languages: Languages = None, plate: Plate = None, empty: Empty = False, at: At = None,
    workers: Workers = None,
    cluster: Annotated[str | None, typer.Option("--cluster", metavar="ADDRESS", help="A Dask scheduler, such as tcp://host:8786.")] = None,
    replace: Annotated[bool, typer.Option("--replace", help="Write over files of the same names that others made.")] = False,
    prune: Annotated[bool, typer.Option("--prune", help="Remove files that this roster made and no row wants any more.")] = False,
    rows: Annotated[str | None, typer.Option("--in-rows", metavar="ROWS", help="Only these rows, by number: 3,7-12.")] = None,
    dry_run: DryRun = False,
) -> None:  # fmt: skip
    """Render all rows of a table. What is finished already is not made again; exit status 1 where some could not be made.

    Says the delivery list's path. Ctrl+C stops; the same command goes on from there. A file that is there under another name is renamed.
    """
    from avlet.media.plates import PLATES
    from avlet.roster.cluster import ClusterCrew
    from avlet.roster.crew import Crew, LocalCrew
    from avlet.roster.kinds import KINDS, kind_named
    from avlet.roster.rendering import State, in_the_way, in_the_way_words, render_roster
    from avlet.roster.roster import rows_named

    if cluster is not None and workers is not None:
        raise AnswerError("--workers is for this machine, --cluster for another: give one of them.")
    kinds = tuple(dict.fromkeys(kind_named(words) for words in codec or ())) or (KINDS[0],)
    over = plate_of(plate) or PLATES[0]
    if plate is not None and not any(kind.over for kind in kinds):
        raise AnswerError("--plate is for films over a plate: ask for that kind too, --codec over.")
    one, plan = _plan(
        template, table, given, at, frames=frames, languages=languages, empty=empty, pattern=name or "", kinds=kinds, plate=over
    )
    for remark in plan.remarks:
        note(remark)
    only = rows_named(plan, rows) if rows is not None else frozenset()
    if not replace and (names := in_the_way(plan, output, only)):
        words = in_the_way_words(names, output)
        raise AnswerError(f"{words} Choose another folder or other names (--name), or write over them with --replace.")
    if dry_run:
        _dry(plan, one.template.name, output, only)
        return
    crew: Crew = ClusterCrew(cluster) if cluster is not None else LocalCrew(workers_of(workers))
    shares = {number: 0.0 for number, item in enumerate(plan.items) if not only or item.line in only}
    with work(f"Rendering {plan.roster.sheet.name}", len(shares), "files") as tell:

        def told(state: State) -> bool:
            item = plan.items[state.item]
            shares[state.item] = 1.0 if state.done or state.words else state.share
            if state.done or state.words:
                row = plan.rows[item.line].number
                event(
                    "wrote" if state.done else "left out",
                    path=str(output / item.name),
                    row=row,
                    new=not state.kept,
                    why=state.words or None,
                )
            tell(sum(shares.values()), item.name)
            return True

        outcome = render_roster(plan, one.book, output, crew, told, replace=replace, prune=prune, only=only)
    _outcome(outcome, one.template.name, plan, output, prune, only)
    if outcome.delivery.left_out:
        raise typer.Exit(1)


def _dry(plan: Any, template: str, output: Path, only: frozenset[int]) -> None:
    """What would be written, and which rows could not be."""
    from avlet.command_line.told import RosterRendered, Wrote
    from avlet.roster.delivery import LIST

    wrote = tuple(
        Wrote(path=str(output / item.name), row=plan.rows[item.line].number) for item in plan.items if not only or item.line in only
    )
    faulty = [(line, why) for line, why in plan.faulty.items() if not only or line in only]
    left = tuple(f"Row {plan.rows[line].number} is left out: {why}" for line, why in faulty)
    for one in wrote:
        say(one.path)
    for words in left:
        note(words)
    facts(
        RosterRendered(
            verb="roster render", template=template, table=plan.roster.sheet.name, delivery=str(output / LIST), holds=not left, wrote=wrote,
            made=0, kept=0, alike=0, renamed=0, left_out=left, superseded=(), removed=(), dry_run=True,
        )
    )  # fmt: skip
    if left:
        raise typer.Exit(1)


def _outcome(outcome: Any, template: str, plan: Any, output: Path, prune: bool, only: frozenset[int]) -> None:
    """What came of it."""
    from avlet.command_line.told import RosterRendered, Wrote
    from avlet.roster.delivery import LIST

    delivery, asked = outcome.delivery, {plan.rows[line].number for line in only}
    files = [one for one in delivery.files if not asked or one.row in asked]
    left = tuple(f"Row {one.row}{f', {one.file}' if one.file else ''} is left out: {one.why}" for one in delivery.left_out)
    for words in left:
        note(words)
    if prune and outcome.superseded and not outcome.removed and plan.faulty:
        note("Nothing was removed: a row that cannot be rendered may want what is there.")
    elif outcome.superseded_words:
        note(f"{outcome.superseded_words} --prune removes what this roster made.")
    wrote = tuple(Wrote(path=str(output / f.file), width=f.width, height=f.height, frames=f.frames, row=f.row) for f in files)
    facts(
        RosterRendered(
            verb="roster render", template=template, table=plan.roster.sheet.name, delivery=str(output / LIST), holds=not left, wrote=wrote,
            made=outcome.made, kept=outcome.kept, alike=outcome.alike, renamed=outcome.renamed, left_out=left,
            superseded=outcome.superseded, removed=outcome.removed,
        )
    )  # fmt: skip
    counts = [f"{len(files)} files", f"{outcome.made} made"]
    told = ((outcome.kept, "were there"), (outcome.renamed, "renamed"), (outcome.alike, "alike"), (len(left), "left out"))
    counts += [f"{number} {words}" for number, words in (*told, (len(outcome.removed), "removed")) if number]
    say(str(output / LIST))
    say(", ".join(counts))
