"""Verbs about packages: handover, check."""

from pathlib import Path
from typing import Annotated

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import (
    AnswerFiles,
    DryRun,
    File,
    Length,
    Library,
    NoOverwrite,
    Note,
    Set,
    Strict,
    TokenFile,
    Workers,
)  # fmt: skip
from avlet.command_line.outputs import refuse_written
from avlet.command_line.scenes import opened, title, workers_of
from avlet.command_line.serving import read_token
from avlet.command_line.telling import done, facts, note, say, work
from avlet.errors import AnswerError, AvletError


@verb(
    app, "handover",
    "avlet handover name-strap.avlet --note \"Wider plate\"",
    "avlet handover name-strap.avlet --library /srv/titles --strict --json",
    "avlet handover name-strap.avlet --dry-run",
    "avlet handover name-strap.avlet --live on-air/odalys --set name=\"Odalys Brandt\"",
    "avlet handover name-strap.avlet --live on-air/guest --server http://titles.example:8470 --token-file token.txt",
)  # fmt: skip
def handover(
    file: File, library: Library = None, words: Note = "", strict: Strict = False,
    proved: Annotated[bool, typer.Option("--proof/--no-proof", help="Prove it first, and say what stands open.")] = True,
    workers: Workers = None, dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
    live: Annotated[Path | None, typer.Option(help="Write a folder for live graphics (EBU OGraf) instead, with these answers.")] = None,
    server: Annotated[str | None, typer.Option(metavar="ADDRESS", help="With --live: an avlet serve that paints other words.")] = None,
    token_file: TokenFile = None, answers: Set = None, files: AnswerFiles = None, length: Length = None,
) -> None:  # fmt: skip
    """Hand a template over: write its package, with fonts and preview, into a library as a new version.

    It is proved first, and what stands open is said; that hinders nothing unless it is asked to be strict. With --live it is a title
    with its answers, painted, that plays in any OGraf renderer; with --server its words may change there, as that server has the title.
    """
    if live is not None:
        _for_live(file, live, answers, files, length, dry_run, no_overwrite, (server, token_file))
        return
    if server is not None or token_file is not None:
        raise AnswerError("--server and --token-file are for --live.")
    if answers or files or length:
        raise AnswerError("A template is handed over with its own starting answers; --set, --answers and --length are for --live.")
    from avlet.command_line.told import HandedOver
    from avlet.places import library_folder
    from avlet.review.proof import prove, together
    from avlet.review.proof_json import as_json
    from avlet.storage.embedding import fonts_to_carry
    from avlet.storage.handing_over import hand_over, next_version, package_path

    one, folder = opened(file), library or library_folder()
    for left in fonts_to_carry(one.template, one.book).left_out:
        note(left)
    proof = prove(one.template, one.book, workers=workers_of(workers)) if proved or strict else None
    if proof is not None:
        for finding, names in together([f for f in proof.open if f.level != "told"]):
            note(f"{finding.level}: {finding.words} ({', '.join(dict.fromkeys(names))})")
        if strict and not (proof.holds and not proof.count("to look at")):
            raise AvletError(f"{one.template.name} was not handed over: its proof does not hold. Mend it, or leave out --strict.")
    path = package_path(one.template, folder)
    refuse_written([path], no_overwrite)
    if dry_run:
        version, changed = next_version(one.template, one.book, folder)
        say(f"{path}: would be version {version}" if changed else f"{path}: version {version}, would be unchanged")
    else:
        handed = hand_over(one.template, one.book, folder, words)
        path, version, changed = handed.path, handed.version, handed.changed
        say(f"{path}: version {version}" + ("" if changed else ", unchanged"))
    if words and not changed:
        note(f"The note “{words}” went nowhere: nothing has changed since version {version}, so there is no new one to carry it.")
    found = () if proof is None else as_json(proof).findings
    holds = None if proof is None else proof.holds
    facts(
        HandedOver(
            verb="handover", template=one.template.name, path=str(path), version=version, changed=changed, holds=holds, findings=found,
            dry_run=dry_run,
        )
    )  # fmt: skip


def _for_live(
    file: Path, folder: Path, answers: list[str] | None, files: list[Path] | None, length: str | None, dry_run: bool, no_overwrite: bool,
    served: tuple[str | None, Path | None],
) -> None:  # fmt: skip
    """A folder for live graphics."""
    from avlet.command_line.told import Written, Wrote
    from avlet.document.editing.naming import slug
    from avlet.media.live import ENDING, LiveServer, write_live
    from avlet.review.samples import said_of

    one, scene = title(file, answers, files, length)
    frame, path = one.template.frame, folder / f"{slug(one.template.name)}{ENDING}"
    refuse_written([path], no_overwrite)
    server = None
    if served[0] is not None or served[1] is not None:
        if served[0] is None or served[1] is None:
            raise AnswerError("A server is named with its --server address and its --token-file, both.")
        server = LiveServer.at(served[0], slug(one.template.name), read_token(served[1]))
    if not dry_run:
        with work(f"{one.template.name} for live", scene.length) as tell:

            def progress(finished: int, total: int) -> bool:
                tell(finished, "")
                return True

            path = write_live(scene, folder, one.manifest.version if one.manifest is not None else 0, progress, server)
        words = f" Its words change by {server.address}." if server else ""
        done(f"Wrote {path}: {scene.length} frames that play in any OGraf renderer.{words}")
    wrote = Wrote(path=str(path), frames=scene.length, width=frame.width, height=frame.height)
    for words in said_of(scene):
        note(words)
    facts(Written(verb="handover", template=one.template.name, wrote=(wrote,), dry_run=dry_run))


@verb(app, "check", "avlet check library/name-strap.avlet", "avlet check library/name-strap.avlet --json")
def check(file: File) -> None:
    """Open a package as a stranger's machine would, without this machine's fonts, and compare. Exit status 1 if it differs."""
    from avlet.command_line.told import Checked, Differs
    from avlet.review.stranger import check_package
    from avlet.storage.bounded import bounded

    report = bounded(lambda: check_package(file), file.name)
    facts(
        Checked(
            verb="check", template=report.name, version=report.version, holds=report.holds, missing=report.notes,
            differences=tuple(Differs(sample=d.sample, share=d.share, words=d.words) for d in report.differences),
            findings=report.findings,
        )
    )  # fmt: skip
    version = f", version {report.version}" if report.version else ""
    say(f"{report.name}{version}: " + ("the same at a stranger's" if report.holds else "not the same at a stranger's"))
    for difference in report.differences:
        say(f"  {difference.sample}: {difference.share:.2%} of the picture differs")
        for line in difference.words:
            say(f"    {line}")
    for line in (*report.notes, *report.findings):
        say(f"  {line}")
    if not report.holds:
        raise typer.Exit(1)
