"""Commands on credits: check a list before it goes out, and tell how fast it rolls."""

from pathlib import Path
from typing import Annotated

import typer

from avlet.command_line.app import AsJson, Length, app, err, out, print_json, print_table, say
from avlet.document.fields.credits import blocks_in_file
from avlet.document.lists.blocks import Blocks, lines_of
from avlet.numbers.exact import in_figures
from avlet.paint.scene import Scene
from avlet.review.proofreading import proofread
from avlet.review.rolls import facts_of_lists, with_list
from avlet.storage.answer_files import NAMED_FILES
from avlet.storage.package import open_template
from avlet.storage.table_files import table_in_file

credits_app = typer.Typer(add_completion=False, help="Lists of credits: check one, and how fast it rolls.")
app.add_typer(credits_app, name="credits")

ListFile = Annotated[Path, typer.Argument(metavar="LIST", help="A list: CSV, TSV, XLSX or ODS.")]
Template = Annotated[Path, typer.Argument(metavar="TEMPLATE", help="A template with credits.")]
Into = Annotated[str | None, typer.Option("--into", metavar="FIELD", help="Which of a template's lists; the first if left out.")]


def _list_in(path: Path) -> Blocks:
    """The list of a file; says what was done to read it."""
    for remark in table_in_file(path).remarks:
        err.print(f"note: {remark}")
    return blocks_in_file(str(path), NAMED_FILES)


@credits_app.command("check")
def check_command(file: ListFile, template: Template, into: Into = None, as_json: AsJson = False) -> None:
    """Proofread a list as it will be set. Exit status 1 when there is something to look at."""
    opened, blocks = open_template(template), _list_in(file)
    changed, answers = with_list(opened.template, blocks, into)
    scene = Scene(changed, opened.book, answers)
    remarks = proofread(blocks, opened.book)
    if as_json:
        rows = [{"block": r.block + 1, "words": r.words, "mend": r.mend} for r in remarks]
        print_json({"list": file.name, "lines": lines_of(blocks), "remarks": rows})
    else:
        out.print(f"{file.name}: {lines_of(blocks):,} lines", style="bold")
        for remark in remarks:
            out.print(f"block {remark.block + 1}: {remark.words}" + (f" Should be: “{remark.mend}”." if remark.mend is not None else ""))
        if not remarks:
            out.print("Nothing to look at.")
    say(opened, scene)
    if remarks:
        raise typer.Exit(1)


@credits_app.command("speed")
def speed_command(
    template: Template,
    list_file: Annotated[Path | None, typer.Option("--list", metavar="LIST", help="A list instead of the template's own.")] = None,
    length: Length = None,
    into: Into = None,
    as_json: AsJson = False,
) -> None:
    """Tell how fast credits move, how calm that is, and the lengths near it at which they move whole px a frame."""
    opened = open_template(template)
    changed, answers = (opened.template, {}) if list_file is None else with_list(opened.template, _list_in(list_file), into)
    scene = Scene(changed, opened.book, answers, length)
    found = facts_of_lists(scene)
    if as_json:
        print_json({"template": changed.name, "lists": found})
        return
    if not found:
        out.print(f"{changed.name} has no credits.")
    for facts in found:
        out.print(f"{facts['name']}: {facts['moves']}, {facts['frames']} frames ({facts['seconds']:.2f} s)", style="bold")
        if "px_a_frame" in facts:
            speed, way = in_figures(facts["px_a_frame"]), in_figures(facts["way"])
            out.print(f"{speed} px a frame over {way} px; each line is seen for {facts['seconds_in_frame']:.1f} s")
        if "calm" in facts:
            calmer = f" Calmer with {', or '.join(facts['calmer_with'])}." if facts["calmer_with"] else ""
            out.print(f"{facts['calm']} (shimmer {facts['shimmer']:.3f}, thinnest level stroke {facts['thinnest_stroke']:.1f} px).{calmer}")
        if facts.get("offers"):
            rows = [{"px a frame": o["speed"], "frames": o["length"]} for o in facts["offers"]]
            print_table("Lengths at which it moves whole px", ("px a frame", "frames"), rows)
        if facts.get("pages"):
            print_table("Pages", ("page", "first", "frames"), facts["pages"])
    say(opened, scene)
