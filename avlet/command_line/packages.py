"""Verbs about packages: handover, check."""

from typing import Annotated

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import DryRun, File, Library, NoOverwrite, Note, Strict, Workers
from avlet.command_line.outputs import refuse_written
from avlet.command_line.scenes import opened, workers_of
from avlet.command_line.telling import facts, note, say
from avlet.errors import AvletError


@verb(
    app, "handover",
    "avlet handover name-strap.avlet --note \"Wider plate\"",
    "avlet handover name-strap.avlet --library /srv/titles --strict --json",
    "avlet handover name-strap.avlet --dry-run",
)  # fmt: skip
def handover(
    file: File, library: Library = None, words: Note = "", strict: Strict = False,
    proved: Annotated[bool, typer.Option("--proof/--no-proof", help="Prove it first, and say what stands open.")] = True,
    workers: Workers = None, dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Hand a template over: write its package, with fonts and preview, into a library as a new version.

    It is proved first, and what stands open is said; that hinders nothing unless it is asked to be strict.
    """
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
