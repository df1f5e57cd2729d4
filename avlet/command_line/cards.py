"""Commands on cards and packages: card, set, handover, check, cut."""

from pathlib import Path
from typing import Annotated, Any

import msgspec
import typer

from avlet.command_line.app import AsJson, File, app, err, out, print_json, print_table, progress_bar, say
from avlet.document.cards.card import Sample
from avlet.document.cards.carding import change_field
from avlet.document.cards.wires import Straight
from avlet.document.editing.naming import free_id, slug
from avlet.document.targets import words_for
from avlet.document.template import Template
from avlet.errors import AvletError
from avlet.media.films import names_of
from avlet.places import library_folder
from avlet.review.card_measure import fullness, tried_out
from avlet.storage.answer_files import answers_from_file
from avlet.storage.package import open_template, save_template

Library = Annotated[Path | None, typer.Option("--library", metavar="DIR", help="The library's folder; your own if left out.")]


@app.command("card")
def card_command(file: File, as_json: AsJson = False) -> None:
    """Print the card as an editor gets it, what each field drives, and what there is to mend."""
    opened = open_template(file)
    template = opened.template
    found = tried_out(template, opened.book)
    if as_json:
        sections = [{"name": s.name, "fields": [_plain_field(template, f.id) for f in s.fields]} for s in template.card.sections]
        remarks = [{"kind": r.kind, "place": r.place, "words": r.words, "grave": r.grave} for r in found]
        print_json({"name": template.name, "note": template.card.note, "sections": sections, "remarks": remarks})
        return
    out.print(f"{template.name}  {fullness(len(template.card.fields))}", style="bold")
    for section in template.card.sections:
        rows = [_plain_field(template, f.id) for f in section.fields]
        shown = [{**row, "drives": ", ".join(row["drives"]), "start": _brief(row.get("default"))} for row in rows]
        print_table(section.name or "Card", ("id", "label", "kind", "start", "drives"), shown)
    for remark in sorted(found, key=lambda r: not r.grave):
        out.print(("! " if remark.grave else "- ") + remark.words)
    say(opened)


def _brief(value: Any) -> str:
    words = str(value if value is not None else "")
    return words if len(words) <= 40 else f"{words[:39]}…"


def _plain_field(template: Template, field_id: str) -> dict[str, Any]:
    field = template.card.field(field_id)
    assert field is not None
    wires = template.wires_from(field_id)
    drives = [words_for(template, w.target) + ("" if isinstance(w.map, Straight) else f" ({w.map.__struct_config__.tag})") for w in wires]
    return {**msgspec.to_builtins(field), "kind": field.kind, "drives": drives}


@app.command("set")
def set_command(
    file: File,
    answers: Annotated[list[Path], typer.Argument(metavar="ANSWERS.json…", help="JSON objects of answers by field id or label.")],
    samples: Annotated[bool, typer.Option("--samples", help="Keep each file as a sample instead of as starting answers.")] = False,
    output: Annotated[Path | None, typer.Option("-o", "--output", metavar="OUT.avlet", help="Write here; over FILE if left out.")] = None,
) -> None:
    """Write answers into a template: as what its fields start with, or as samples."""
    opened = open_template(file)
    template = opened.template
    for path in answers:
        given = answers_from_file(template, path)
        if samples:
            sample = Sample(free_id(path.stem, {s.id for s in template.samples}), path.stem.replace("-", " ").capitalize(), given)
            template = msgspec.structs.replace(template, samples=(*template.samples, sample))
        else:
            for field_id, value in given.items():
                template = change_field(template, field_id, default=value)
    save_template(template, output or file, opened.book)
    err.print(f"Wrote {output or file}.")


@app.command("handover")
def handover_command(
    file: File,
    library: Library = None,
    note: Annotated[str, typer.Option("--note", metavar="WORDS", help="What is new, for the editors.")] = "",
    strict: Annotated[bool, typer.Option("--strict", help="Refuse what breaks in its proof.")] = False,
    proved: Annotated[bool, typer.Option("--proof/--no-proof", help="Prove it first, and say what stands open.")] = True,
) -> None:
    """Hand a template over: write its package, with fonts and preview, into a library as a new version.

    It is proved first, and what stands open is said; that hinders nothing unless it is asked to be strict.
    """
    from avlet.review.proof import prove, together
    from avlet.storage.embedding import fonts_to_carry
    from avlet.storage.handing_over import hand_over

    opened = open_template(file)
    for words in fonts_to_carry(opened.template, opened.book).left_out:
        err.print(f"note: {words}")
    if proved or strict:
        proof = prove(opened.template, opened.book)
        for finding, names in together([f for f in proof.open if f.level != "told"]):
            err.print(f"note: {finding.level}: {finding.words} ({', '.join(dict.fromkeys(names))})")
        if strict and not proof.holds:
            raise AvletError(f"{opened.template.name} was not handed over: its proof breaks. Mend it, or leave out --strict.")
    done = hand_over(opened.template, opened.book, library or library_folder(), note)
    out.print(f"{done.path}: version {done.version}" + ("" if done.changed else ", unchanged"))


@app.command("check")
def check_command(file: File, as_json: AsJson = False) -> None:
    """Open a package as a stranger's machine would, without this machine's fonts, and compare. Exit status 1 if it differs."""
    from avlet.review.stranger import check_package
    from avlet.storage.bounded import bounded

    report = bounded(lambda: check_package(file), file.name)
    if as_json:
        print_json(report.plain())
    else:
        version = f", version {report.version}" if report.version else ""
        out.print(
            f"{report.name}{version}: " + ("the same at a stranger's" if report.holds else "not the same at a stranger's"), markup=False
        )
        for difference in report.differences:
            out.print(f"  {difference.sample}: {difference.share:.2%} of the picture differs")
            for words in difference.words:
                out.print(f"    {words}")
        for words in (*report.notes, *report.findings):
            out.print(f"  {words}")
    if not report.holds:
        raise typer.Exit(1)


@app.command("cut")
def cut_command(
    file: Annotated[Path, typer.Argument(metavar="CUT.otio", help="A cut with titles.")],
    action: Annotated[str, typer.Argument(metavar="render", help="What to do: render.")],
    output: Annotated[Path, typer.Option("-o", "--output", metavar="DIR", help="The folder to write into.")],
    library: Library = None,
    codec: Annotated[str | None, typer.Option("--codec", metavar="NAME", help=f"For the titles: {names_of('.mov')}.")] = None,
    height: Annotated[int, typer.Option("--height", metavar="LINES", min=16, max=4320, help="Lines of the film to approve.")] = 720,
) -> None:
    """Render a cut: one film over the pictures, each title alone with alpha, and an .otio that points at those.

    Prints the path of each as it was finished, also where it is stopped or fails before the end.
    """
    from avlet.media.cut_render import CutRender, open_titles
    from avlet.media.timeline import read_cut

    if action != "render":
        raise AvletError(f"“{action}” is not something to do with a cut. There is: render.")
    cut = read_cut(file)
    folders = [library] if library is not None else [file.resolve().parent, library_folder()]
    work = CutRender(cut, open_titles(cut, folders), output, slug(cut.name), ".mov", codec, height)
    with progress_bar() as bar:
        task = bar.add_task(f"Rendering {cut.name}", total=work.total)

        def progress(done: int, words: str) -> bool:
            bar.update(task, completed=done, description=words)
            return True

        try:
            done = work.run(progress)
        finally:
            for path in work.finished:
                out.print(str(path))
    for words in done.said:
        err.print(f"note: {words}")
