"""``avlet insert``: a template as a group in another."""

from pathlib import Path
from typing import Annotated

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import DryRun, NoOverwrite
from avlet.command_line.outputs import is_standard_output, path_of, refuse_written, send
from avlet.command_line.scenes import frames_typed, opened
from avlet.command_line.telling import done, facts, note

Given = Annotated[Path, typer.Argument(metavar="FROM", help="The template that comes in: NAME.avlet, a file or a folder.")]


@verb(
    app, "insert",
    "avlet insert name-strap.avlet --into opening.avlet --at 2s -o opening-2.avlet",
    "avlet insert name-strap.avlet --into opening.avlet --fit --own-house -o opening-2.avlet",
)  # fmt: skip
def insert(
    given: Given,
    into: Annotated[Path, typer.Option("--into", metavar="FILE", help="The template that takes it in.")],
    at: Annotated[str, typer.Option("--at", metavar="TIME", help="When it begins, as frames (50), “2 s”, or timecode.")] = "0",
    fit: Annotated[bool, typer.Option("--fit", help="Make its ends as long as those of FILE, instead of keeping its timing.")] = False,
    own_house: Annotated[bool, typer.Option("--own-house", help="Where names of the house clash, keep its own values.")] = False,
    output: Annotated[
        str | None, typer.Option("-o", "--output", metavar="OUT", help="Write this .avlet; over FILE if left out; - is stdout.")
    ] = None,
    dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Take a template into another: all of it as a group, its card as a section, its house matched by name and value."""
    from avlet.command_line.told import Written, Wrote
    from avlet.document.editing.pieces import clashes, inserted
    from avlet.layout.holding import hold
    from avlet.storage.package import save_template
    from avlet.text.fonts import bundled_fonts

    one, other = opened(into), opened(given)
    made = inserted(one.template, other.template, frames_typed(at, one.template.frame.fps) or 0, fit, own_house)
    template = hold(made.template)
    ships = set(bundled_fonts().faces)
    book = one.book.with_faces(face for face in other.book.faces if face not in ships)
    for words in made.said:
        note(words)
    if not own_house and (names := clashes(one.template, other.template)):
        note(f"{', '.join(names)} follow the house of {one.template.name}; --own-house keeps what they were.")
    if output is not None and is_standard_output(output):
        import tempfile

        with tempfile.TemporaryDirectory(prefix="avlet-") as folder:
            save_template(template, Path(folder) / "out.avlet", book)
            send((Path(folder) / "out.avlet").read_bytes())
        return
    target = into if output is None else path_of(output, ".avlet", "A template is an .avlet")
    refuse_written([target], no_overwrite)
    if not dry_run:
        save_template(template, target, book)
    done(f"{'Would write' if dry_run else 'Wrote'} {target}.")
    facts(Written(verb="insert", template=template.name, wrote=(Wrote(path=str(target)),), dry_run=dry_run))
