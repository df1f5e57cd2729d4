"""``avlet proof``: everything measured before a template leaves."""

from pathlib import Path
from typing import Annotated

import typer

from avlet.command_line.app import AsJson, File, app, err, out


@app.command("proof")
def proof_command(
    file: File,
    as_json: AsJson = False,
    html: Annotated[Path | None, typer.Option("--html", metavar="FILE.html", help="Write a report that stands by itself.")] = None,
    pdf: Annotated[Path | None, typer.Option("--pdf", metavar="FILE.pdf", help="Write the proof sheet as vectors.")] = None,
    only: Annotated[list[str] | None, typer.Option("--only", metavar="CHECK", help="Make this check alone; may be given again.")] = None,
    rows: Annotated[Path | None, typer.Option("--rows", metavar="FILE.csv", help="Prove these rows instead of made-up answers.")] = None,
    workers: Annotated[int | None, typer.Option("--workers", min=0, max=64, metavar="N", help="Processes to work with.")] = None,
) -> None:
    """Prove a template: its samples and awkward answers against every check. Exit status 1 where something breaks."""
    from avlet.command_line.app import progress_bar
    from avlet.review.awkward import rows_of
    from avlet.review.proof import checks_named, prove, together
    from avlet.review.proof_json import proof_bytes
    from avlet.review.proof_rows import rows_from_table
    from avlet.storage.atomic import write_whole
    from avlet.storage.package import open_template

    checks = checks_named(only or ())
    opened = open_template(file)
    wanted = rows_of(opened.template)
    if rows is not None:
        wanted = [row for row in wanted if row.kind != "made"] + rows_from_table(opened.template, rows)
    with progress_bar("rows") as bar:
        task = bar.add_task(f"Proving {opened.template.name}", total=len(wanted))

        def told(done: int, of: int, name: str) -> bool:
            bar.update(task, completed=done)
            return True

        proof = prove(opened.template, opened.book, checks, wanted, told, workers)
    if html is not None:
        from avlet.review.proof_html import proof_html

        write_whole(html, proof_html(opened.template, opened.book, proof).encode())
        err.print(f"Wrote {html}.")
    if pdf is not None:
        from avlet.review.proof_pdf import proof_pdf

        write_whole(pdf, proof_pdf(opened.template, opened.book, proof))
        err.print(f"Wrote {pdf}.")
    if as_json:
        print(proof_bytes(proof).decode(), end="")
    else:
        out.print(f"{proof.name}: {proof.counted}, {len(proof.rows)} rows")
        for finding, names in together(proof.open):
            listed = list(dict.fromkeys(names))
            more = f" and {len(listed) - 4} more" if len(listed) > 4 else ""
            out.print(f"  {finding.level}: {finding.words} ({', '.join(listed[:4])}{more})")
        for finding, reason in proof.meant.items():
            out.print(f"  meant so: {finding.words} ({finding.sample}) {reason}")
    if not proof.holds:
        raise typer.Exit(1)
