"""Verbs about the library: list, show, versions, restore, remove."""

import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from avlet.command_line.app import library_app, verb
from avlet.command_line.options import DryRun, Library, LibraryFolder, Named, Note
from avlet.command_line.scenes import refuse_missing
from avlet.command_line.telling import done, facts, note, say, table
from avlet.errors import AnswerError

if TYPE_CHECKING:
    from avlet.command_line.told import Listed
    from avlet.storage.library import Entry

Cuts = Annotated[
    list[Path] | None,
    typer.Option("--cuts", metavar="DIR", help="Also say which cuts in this folder show an older version; again for more."),
]


def _folder(given: Path | None) -> Path:
    from avlet.places import library_folder

    folder = given or library_folder()
    if given is not None:
        refuse_missing(folder)
    return folder


def _when(path: Path) -> str:
    """When a file was written, in local time, by ISO 8601."""
    try:
        return datetime.datetime.fromtimestamp(path.stat().st_mtime).astimezone().isoformat(timespec="seconds")
    except OSError:
        return ""


def _entries(folder: Path, name: str | None = None) -> "list[Entry]":
    """The templates of a library; those that a name means, if one is given. Raises ``AnswerError`` with the nearest names."""
    from rapidfuzz import process

    from avlet.storage.library import scan

    found = scan(folder)
    if name is None:
        return found
    wanted = name.casefold()
    meant = [e for e in found if wanted in (e.file_name.casefold(), e.file_name.casefold().removesuffix(".avlet"))]
    meant = meant or [e for e in found if wanted == e.name.casefold()]
    if not meant:
        near = [one for one, _, _ in process.extract(name, [e.name for e in found], limit=3, score_cutoff=60)]
        hint = f" Is it {' or '.join(near)}?" if near else f" “avlet library list {folder}” says what there is."
        raise AnswerError(f"The library “{folder}” has no template “{name}”.{hint}")
    if len(meant) > 1:
        raise AnswerError(f"{len(meant)} templates are called “{name}”: name the file, {' or '.join(e.file_name for e in meant)}.")
    return meant


def _behind(entry: "Entry", folders: list[Path]) -> tuple[str, ...]:
    """Cuts that show an older version of a template than the library has."""
    from avlet.errors import AvletError
    from avlet.media.timeline import read_cut

    found = []
    for folder in folders:
        refuse_missing(folder)
        for path in sorted(folder.rglob("*.otio")):
            try:
                cut = read_cut(path)
            except AvletError as error:
                note(f"{path}: {error}")
                continue
            old = sorted({t.version for t in cut.titles if t.template == entry.file_name and 0 < t.version < entry.version})
            if old:
                found.append(f"{path} (version {', '.join(map(str, old))})")
    return tuple(found)


def _listed(entry: "Entry", cuts: list[Path]) -> "Listed":
    from avlet.command_line.told import Listed
    from avlet.storage.handing_over import versions_of

    return Listed(
        template=entry.name, path=entry.place, version=entry.version, versions=len(versions_of(entry.path)), category=entry.category,
        keywords=entry.keywords, note=entry.note, when=_when(entry.path), fault=entry.fault or None, behind=_behind(entry, cuts),
    )  # fmt: skip


@verb(library_app, "list", "avlet library list", "avlet library list /srv/titles --cuts /srv/cuts --json")
def list_templates(library: LibraryFolder = None, cuts: Cuts = None) -> None:
    """List what a library holds: versions, notes, dates, and the cuts that are behind."""
    from avlet.command_line.told import LibraryListed

    folder = _folder(library)
    found = tuple(_listed(entry, cuts or []) for entry in _entries(folder))
    facts(LibraryListed(verb="library list", library=str(folder), templates=found))
    if not found:
        say(f"The library “{folder}” is empty. “avlet handover TEMPLATE” puts a template into it.")
        return
    rows = [{"name": t.template, "version": t.version or "saved", "when": t.when[:16].replace("T", " "), "note": t.fault or t.note,
             "behind": ", ".join(t.behind)} for t in found]  # fmt: skip
    columns = ("name", "version", "when", "note", *(("behind",) if cuts else ()))
    table(str(folder), columns, rows)


@verb(library_app, "show", "avlet library show name-strap --cuts /srv/cuts")
def show(name: Named, library: Library = None, cuts: Cuts = None) -> None:
    """Show one template of the library: its version, note, date, keywords, and which cuts are behind."""
    from avlet.command_line.told import LibraryListed

    folder = _folder(library)
    one = _listed(_entries(folder, name)[0], cuts or [])
    facts(LibraryListed(verb="library show", library=str(folder), templates=(one,)))
    say(f"{one.template}  {one.category}", bold=True)
    say(one.path)
    say(f"Version {one.version} of {one.versions}, {one.when[:16].replace('T', ' ')}" if one.version else "Saved here, never handed over")
    for label, words in (("Note", one.note), ("Keywords", ", ".join(one.keywords)), ("Fault", one.fault or "")):
        if words:
            say(f"{label}: {words}")
    for cut in one.behind:
        say(f"Behind: {cut}")


@verb(library_app, "versions", "avlet library versions name-strap --json")
def versions(name: Named, library: Library = None) -> None:
    """List all versions of a template, the newest first, each with its note and date."""
    from avlet.command_line.told import KeptVersion, VersionsListed
    from avlet.storage.handing_over import versions_of

    folder, entry = _named(name, library)
    found = tuple(
        KeptVersion(version=v.number, path=str(v.path), note=v.note, when=_when(v.path), present=v.present) for v in versions_of(entry)
    )
    facts(VersionsListed(verb="library versions", library=str(folder), template=name, versions=found))
    rows = [{"version": v.version, "when": v.when[:16].replace("T", " "), "present": v.present, "note": v.note} for v in found]
    table(name, ("version", "when", "present", "note"), rows)


def _named(name: str, library: Path | None) -> tuple[Path, Path]:
    """The library and where a template stands in it, also one of which only earlier versions are left."""
    from avlet.storage.handing_over import VERSIONS

    folder = _folder(library)
    stem = name.removesuffix(".avlet")
    if "/" not in stem and (folder / VERSIONS / stem).is_dir():
        return folder, folder / f"{stem}.avlet"
    return folder, _entries(folder, name)[0].path


@verb(library_app, "restore", 'avlet library restore name-strap 3 --note "The old plate again"')
def restore(
    name: Named, version: Annotated[int, typer.Argument(metavar="VERSION", min=1, help="Which version.")], library: Library = None,
    words: Note = "", dry_run: DryRun = False,
) -> None:  # fmt: skip
    """Go back to a version: it becomes a new one, which says so."""
    from avlet.command_line.told import Written, Wrote
    from avlet.storage.handing_over import bring_back, versions_of

    folder, path = _named(name, library)
    there = versions_of(path)
    found = next((v for v in there if v.number == version), None)
    if found is None:
        raise AnswerError(f"There is no version {version} of {name}. There are: {', '.join(str(v.number) for v in there)}.")
    if found.present:
        note(f"Version {version} is the present one already.")
        facts(Written(verb="library restore", library=str(folder), dry_run=dry_run))
        return
    coming = max(v.number for v in there) + 1
    if not dry_run:
        handed = bring_back(path, version, words)
        path, coming = handed.path, handed.version
    say(f"{path}: {'would be' if dry_run else 'is'} version {coming} again as version {version} was")
    facts(Written(verb="library restore", library=str(folder), wrote=(Wrote(path=str(path), version=coming),), dry_run=dry_run))


@verb(library_app, "remove", "avlet library remove old-strap", "avlet library remove old-strap --with-versions")
def remove(
    name: Named, library: Library = None,
    with_versions: Annotated[bool, typer.Option("--with-versions", help="Remove all its versions too, for good.")] = False,
    dry_run: DryRun = False,
) -> None:  # fmt: skip
    """Take a template out of the library. Its versions stay, so that it can be restored, unless they are to go as well."""
    from avlet.command_line.told import Written
    from avlet.storage.handing_over import remove as take_away
    from avlet.storage.handing_over import versions_of

    folder, path = _named(name, library)
    if dry_run:
        gone = [v.path for v in versions_of(path) if v.present or with_versions]
    elif not path.exists() and not with_versions:
        raise AnswerError(f"{name} is not in the library any more; its versions are. --with-versions removes those.")
    else:
        gone = take_away(path, with_versions)
    for one in gone:
        say(f"{'would remove' if dry_run else 'removed'} {one}")
    if not with_versions and not dry_run:
        done(f"“avlet library versions {path.stem}” shows what can be restored.")
    facts(Written(verb="library remove", library=str(folder), removed=tuple(map(str, gone)), dry_run=dry_run))
