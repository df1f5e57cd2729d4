"""``avlet install``: icon, menu entry, file type and man page of this user."""

from typing import Annotated

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import DryRun
from avlet.command_line.telling import facts, say


@verb(app, "install", "avlet install", "avlet install --remove")
def install(
    remove: Annotated[bool, typer.Option("--remove", help="Take them away again.")] = False, dry_run: DryRun = False
) -> None:  # fmt: skip
    """Install the icon, the menu entry, the file type and the man page for this user."""
    from avlet import desktop_entry
    from avlet.command_line.helping import man_page
    from avlet.command_line.told import Written, Wrote

    files = desktop_entry.files(man_page())
    if dry_run:
        paths = [path for path in files if path.exists() or not remove]
    else:
        paths = desktop_entry.remove_installed(files) if remove else desktop_entry.install(files)
    word = ("would remove" if remove else "would write") if dry_run else ("removed" if remove else "wrote")
    for path in paths:
        say(f"{word} {path}")
    wrote = () if remove else tuple(Wrote(path=str(path)) for path in paths)
    facts(Written(verb="install", wrote=wrote, removed=tuple(map(str, paths)) if remove else (), dry_run=dry_run))
