"""``avlet roster``: one template, a table, many films."""

from collections import Counter
from pathlib import Path
from typing import Annotated, Any

import typer

from avlet.command_line.app import AsJson, Plate, app, err, out, print_json
from avlet.errors import AnswerError
from avlet.media.films import names_of

roster_app = typer.Typer(no_args_is_help=True, help="One template, a table, many films.")
app.add_typer(roster_app, name="roster")

TemplateFile = Annotated[Path, typer.Argument(metavar="TEMPLATE", help="A template: NAME.avlet, a file or a folder.")]
TableFile = Annotated[Path, typer.Argument(metavar="TABLE", help="A table: CSV, TSV, XLSX or ODS. Its first line names columns.")]
Map = Annotated[list[str] | None, typer.Option("--map", metavar="COLUMN=FIELD", help="Which column leads to which field, or to nothing.")]
Frames = Annotated[list[str] | None, typer.Option("--frame", metavar="WxH", help="A frame besides others, such as 1080x1920.")]
Languages = Annotated[list[str] | None, typer.Option("--language", metavar="CODE", help="A language of columns such as “Role (cy)”.")]
Empty = Annotated[bool, typer.Option("--empty", help="An empty cell is an empty text, not the designed answer.")]
Name = Annotated[str | None, typer.Option("--name", metavar="PATTERN", help="What files are called: {row} and columns, {row}-{Person}.")]

Whole = Annotated[bool, typer.Option("--whole", help="Prove each row in every frame, as “avlet proof” does.")]
Into = Annotated[Path, typer.Option("-o", "--output", metavar="DIR", help="The folder to write into.")]
Codecs = Annotated[list[str] | None, typer.Option("--codec", metavar="KIND", help=f"{names_of()}, or still; again for more.")]
At = Annotated[int | None, typer.Option("--at", min=0, metavar="N", help="The frame of stills, or the last; else the hold's middle.")]
Workers = Annotated[int | None, typer.Option("--workers", min=1, max=64, metavar="N", help="Processes on this machine.")]
Replace = Annotated[bool, typer.Option("--replace", help="Write over files of the same names that were made of something else.")]
Cluster = Annotated[str | None, typer.Option("--cluster", metavar="ADDRESS", help="A Dask scheduler, such as tcp://host:8786.")]


def _plan(template: Path, table: Path, given: list[str] | None, **wanted: Any) -> Any:
    """The opened template, and the plan of its roster."""
    from avlet.roster.roster import Roster, Wanted, plan_of, read_size
    from avlet.roster.sheet import open_sheet
    from avlet.roster.threads import read_threads
    from avlet.storage.package import open_template

    opened, sheet = open_template(template), open_sheet(table)
    frames = tuple(dict.fromkeys(map(read_size, wanted.pop("frames") or ())))
    languages = tuple(dict.fromkeys(language.lower().replace("-", "_") for language in wanted.pop("languages") or ()))
    known = {language.lower(): language for language in sheet.languages}
    languages = tuple(known.get(language, language) for language in languages)
    threads = read_threads(sheet, opened.template, given or ())
    return opened, plan_of(Roster(sheet, threads, Wanted(frames=frames, languages=languages, **wanted)), opened.template)


@roster_app.command("check")
def check_command(
    template: TemplateFile, table: TableFile, given: Map = None, frames: Frames = None, languages: Languages = None, empty: Empty = False,
    name: Name = None, whole: Whole = False, as_json: AsJson = False,
) -> None:  # fmt: skip
    """Say what each row of a table would come to. Exit status 1 where one cannot be rendered or breaks."""
    from avlet.roster.looking import counted, look_at
    from avlet.roster.threads import targets_of

    opened, plan = _plan(template, table, given, frames=frames, languages=languages, empty=empty, pattern=name or "")
    said = [look_at(plan, opened.book, line) for line in range(len(plan.rows))]
    if whole:
        said = _proved(opened, plan, said)
    heads = plan.roster.sheet.heads
    labels = {target.id: target.label for target in targets_of(opened.template)}
    threads = {heads[thread.column].words: labels[thread.target] for thread in plan.roster.threads}
    summary = counted(Counter(one.verdict for one in said))
    if as_json:
        rows = [{"row": line.number, "verdict": one.verdict, "said": list(one.words)} for line, one in zip(plan.rows, said, strict=True)]
        unused = [head.words for head in heads if head.words not in threads]
        print_json({"rows": rows, "threads": threads, "unused": unused, "remarks": list(plan.remarks), "summary": summary})
    else:
        for remark in plan.remarks:
            err.print(f"note: {remark}")
        out.print(", ".join(f"{column} → {label}" for column, label in threads.items()))
        for line, one in zip(plan.rows, said, strict=True):
            if one.verdict != "holds":
                out.print(f"Row {line.number}, {_called(line.cells)}: {one.verdict}. {' '.join(one.words)}")
        out.print(summary)
    if any(one.verdict in ("breaks", "cannot be rendered") for one in said):
        raise typer.Exit(1)


def _called(cells: tuple[str, ...]) -> str:
    return next((" / ".join(cell.split("\n"))[:60] for cell in cells if cell), "")


def _proved(opened: Any, plan: Any, said: list[Any]) -> list[Any]:
    """What is said of rows, with what proof finds in every frame of those that can be rendered, in the first frame and language."""
    from avlet.roster.proving import proved

    return proved(plan, opened.book, said)


@roster_app.command("render")
def render_command(
    template: TemplateFile, table: TableFile, output: Into, given: Map = None, name: Name = None, codec: Codecs = None,
    frames: Frames = None, languages: Languages = None, plate: Plate = None, empty: Empty = False, at: At = None,
    workers: Workers = None, cluster: Cluster = None, replace: Replace = False,
) -> None:  # fmt: skip
    """Render all rows of a table. What is finished already is not made again; exit status 1 where some could not be made.

    Prints the delivery list's path. Ctrl+C stops; the same command goes on from there.
    """
    from avlet.command_line.app import progress_bar
    from avlet.media.plates import PLATES, plate_named
    from avlet.roster.cluster import ClusterCrew
    from avlet.roster.crew import Crew, LocalCrew
    from avlet.roster.delivery import LIST
    from avlet.roster.kinds import KINDS, kind_named
    from avlet.roster.rendering import State, in_the_way, in_the_way_words, render_roster

    if cluster is not None and workers is not None:
        raise AnswerError("--workers is for this machine, --cluster for another: give one of them.")
    kinds = tuple(dict.fromkeys(kind_named(words) for words in codec or ())) or (KINDS[0],)
    over = plate_named(plate) if plate is not None else PLATES[0]
    if plate is not None and not any(kind.over for kind in kinds):
        raise AnswerError("--plate is for films over a plate: ask for that kind too, --codec over.")
    opened, plan = _plan(
        template, table, given, frames=frames, languages=languages, empty=empty, pattern=name or "", kinds=kinds, plate=over, at=at
    )
    for remark in plan.remarks:
        err.print(f"note: {remark}")
    if not replace and (names := in_the_way(plan, output)):
        words = in_the_way_words(names, output)
        raise AnswerError(f"{words} Choose another folder or other names (--name), or write over them with --replace.")
    crew: Crew = ClusterCrew(cluster) if cluster is not None else LocalCrew(workers)
    shares = dict.fromkeys(range(len(plan.items)), 0.0)
    with progress_bar("files") as bar:
        task = bar.add_task(f"Rendering {plan.roster.sheet.name}", total=len(plan.items))

        def told(state: State) -> bool:
            shares[state.item] = 1.0 if state.done or state.words else state.share
            bar.update(task, completed=round(sum(shares.values()), 2), description=plan.items[state.item].name)
            return True

        outcome = render_roster(plan, opened.book, output, crew, told, replace=replace)
    for left in outcome.delivery.left_out:
        err.print(f"Row {left.row}{f', {left.file}' if left.file else ''} is left out: {left.why}")
    facts = [f"{len(outcome.delivery.files)} files", f"{outcome.made} made"]
    facts += [f"{outcome.kept} were there"] * bool(outcome.kept) + [f"{outcome.alike} alike"] * bool(outcome.alike)
    facts += [f"{len(outcome.delivery.left_out)} left out"] * bool(outcome.delivery.left_out)
    out.print(str(output / LIST))
    out.print(", ".join(facts))
    if outcome.delivery.left_out:
        raise typer.Exit(1)
