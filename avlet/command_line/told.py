"""What verbs tell in JSON, as values: the same names for the same things everywhere. Their schema is ``docs/format/told.schema.json``."""

from typing import Any

import msgspec

from avlet.review.proof_json import FoundJson

FORMAT = 1


class Wrote(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """One file that was written, or that would be. ``frame`` is the one of a still, ``answers`` names the file that they came from.

    ``different`` is how many of ``frames`` are different pictures; ``new`` is False for a file that was there already.
    """

    path: str
    width: int | None = None
    height: int | None = None
    frame: int | None = None
    frames: int | None = None
    different: int | None = None
    answers: str | None = None
    version: int | None = None
    row: int | None = None
    new: bool | None = None


class Told(msgspec.Struct, frozen=True, kw_only=True):
    """What every verb tells. ``notes`` are remarks in words."""

    verb: str
    notes: tuple[str, ...] = ()
    format: int = FORMAT


class Written(Told, frozen=True, kw_only=True):
    """Files that were written; with ``dry_run`` those that would be. ``left_out`` says in words what could not be made."""

    template: str | None = None
    cut: str | None = None
    library: str | None = None
    wrote: tuple[Wrote, ...] = ()
    dry_run: bool = False
    holds: bool = True
    left_out: tuple[str, ...] = ()
    removed: tuple[str, ...] = ()


class Serving(Told, frozen=True, kw_only=True, omit_defaults=True):
    """A library that is served. ``link`` lets a browser in where a token is asked for that nobody knows yet."""

    library: str
    address: str
    link: str = ""


class HandedOver(Told, frozen=True, kw_only=True):
    """A template that was handed over. ``changed`` is False where the library had the very same."""

    template: str
    path: str
    version: int
    changed: bool
    holds: bool | None
    findings: tuple[FoundJson, ...] = ()
    dry_run: bool = False


class Differs(msgspec.Struct, frozen=True, kw_only=True):
    """What a stranger sees otherwise in one sample: the share of px, and why in words."""

    sample: str
    share: float
    words: tuple[str, ...] = ()


class Checked(Told, frozen=True, kw_only=True):
    """A package as a stranger's machine opens it. ``missing`` is what it does not find there."""

    template: str
    version: int
    holds: bool
    missing: tuple[str, ...]
    differences: tuple[Differs, ...]
    findings: tuple[str, ...]


class ListFinding(msgspec.Struct, frozen=True, kw_only=True):
    """Something to look at in a list: the block, from 1, what it is, and what it should be where that is known."""

    block: int
    words: str
    mend: str | None = None


class ListChecked(Told, frozen=True, kw_only=True):
    """A list of credits, proofread."""

    template: str
    list: str
    lines: int
    holds: bool
    findings: tuple[ListFinding, ...]


class ListSpeeds(Told, frozen=True, kw_only=True):
    """How lists of credits move."""

    template: str
    lists: tuple[dict[str, Any], ...]


class RosterRow(msgspec.Struct, frozen=True, kw_only=True):
    """What one row would come to."""

    row: int
    verdict: str
    said: tuple[str, ...]


class RosterChecked(Told, frozen=True, kw_only=True):
    """A table, looked at row by row. ``guessed`` is what had to be guessed at while it was read."""

    template: str
    table: str
    holds: bool
    rows: tuple[RosterRow, ...]
    threads: dict[str, str]
    unused: tuple[str, ...]
    guessed: tuple[str, ...]
    summary: str


class RosterRendered(Told, frozen=True, kw_only=True):
    """A roster that was rendered: all its files, and what became of others that it had made before."""

    template: str
    table: str
    delivery: str
    holds: bool
    wrote: tuple[Wrote, ...]
    made: int
    kept: int
    alike: int
    renamed: int
    left_out: tuple[str, ...]
    superseded: tuple[str, ...]
    removed: tuple[str, ...]
    dry_run: bool = False


class ProvedTemplate(msgspec.Struct, frozen=True, kw_only=True):
    """One template of a library that was proved, or why it could not be."""

    template: str
    path: str
    holds: bool
    breaks: int
    to_look_at: int
    fault: str | None = None


class LibraryProved(Told, frozen=True, kw_only=True):
    """A folder of templates, each proved."""

    library: str
    holds: bool
    templates: tuple[ProvedTemplate, ...]


class Listed(msgspec.Struct, frozen=True, kw_only=True):
    """One template of a library. ``when`` is when it was written, by ISO 8601; ``behind`` the cuts that show an older version."""

    template: str
    path: str
    version: int
    versions: int
    category: str
    keywords: tuple[str, ...]
    note: str
    when: str
    fault: str | None = None
    behind: tuple[str, ...] = ()


class LibraryListed(Told, frozen=True, kw_only=True):
    """The templates of a library."""

    library: str
    templates: tuple[Listed, ...]


class KeptVersion(msgspec.Struct, frozen=True, kw_only=True):
    """One version of a template."""

    version: int
    path: str
    note: str
    when: str
    present: bool


class VersionsListed(Told, frozen=True, kw_only=True):
    """All versions of a template, the newest first."""

    library: str
    template: str
    versions: tuple[KeptVersion, ...]


class TookHouse(msgspec.Struct, frozen=True, kw_only=True):
    """One template that took on a house: what changed, in sentences; what breaks now that held before, and all that is found new."""

    path: str
    template: str
    changed: tuple[str, ...]
    breaks: tuple[str, ...]
    found: tuple[str, ...]


class TakenHouse(Told, frozen=True, kw_only=True):
    """A house that was taken on; ``template`` is whose it is."""

    template: str
    holds: bool
    took: tuple[TookHouse, ...]
    dry_run: bool


ALL = (
    Written, Serving, TakenHouse, HandedOver, Checked, ListChecked, ListSpeeds, RosterChecked, RosterRendered, LibraryProved, LibraryListed,
    VersionsListed,
)  # fmt: skip


def told_schema() -> dict[str, Any]:
    """The JSON Schema of what verbs tell: any of these."""
    kinds, definitions = msgspec.json.schema_components(ALL, ref_template="#/$defs/{name}")
    title = "What verbs of Avlet's command line tell with --json"
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": title, "anyOf": list(kinds), "$defs": definitions}
