"""Verbs about cards: card, set."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import DryRun, File, NoOverwrite
from avlet.command_line.outputs import is_standard_output, path_of, refuse_written, send
from avlet.command_line.scenes import opened, said
from avlet.command_line.telling import done, facts, say, table, wants_json

if TYPE_CHECKING:
    from avlet.document.template import Template


@verb(app, "card", "avlet card guest-strap.avlet", "avlet card guest-strap.avlet --json | jq .sections")
def card(file: File) -> None:
    """Print the card as an editor gets it, what each field drives, and what there is to mend."""
    from avlet.review.card_measure import fullness, tried_out

    one = opened(file)
    template = one.template
    found = tried_out(template, one.book)
    said(one)
    if wants_json():
        sections = [{"name": s.name, "fields": [_plain_field(template, f.id) for f in s.fields]} for s in template.card.sections]
        findings = [{"kind": r.kind, "place": r.place, "words": r.words, "grave": r.grave} for r in found]
        holds = not any(r.grave for r in found)
        told = {"verb": "card", "template": template.name, "note": template.card.note, "holds": holds}
        facts({**told, "sections": sections, "findings": findings})
        return
    say(f"{template.name}  {fullness(len(template.card.fields))}", bold=True)
    for section in template.card.sections:
        rows = [_plain_field(template, f.id) for f in section.fields]
        table(section.name or "Card", ("id", "label", "kind", "start", "drives"), [{**r, "start": _brief(r.get("default"))} for r in rows])
    for remark in sorted(found, key=lambda r: not r.grave):
        say(("! " if remark.grave else "- ") + remark.words)


def _brief(value: Any) -> str:
    from avlet.command_line.telling import in_a_cell

    words = "" if value is None else in_a_cell(value)
    return words if len(words) <= 40 else f"{words[:39]}…"


def _plain_field(template: "Template", field_id: str) -> dict[str, Any]:
    import msgspec

    from avlet.document.cards.wires import Straight
    from avlet.document.targets import words_for

    field = template.card.field(field_id)
    assert field is not None
    wires = template.wires_from(field_id)
    drives = [words_for(template, w.target) + ("" if isinstance(w.map, Straight) else f" ({w.map.__struct_config__.tag})") for w in wires]
    return {**msgspec.to_builtins(field), "kind": field.kind, "drives": drives}


@verb(
    app, "set",
    "avlet set name-strap.avlet bo-li.json -o bo-li.avlet",
    "avlet set name-strap.avlet shortest.json longest.json --samples",
)  # fmt: skip
def set_answers(
    file: File,
    answers: Annotated[list[Path], typer.Argument(metavar="ANSWERS.json…", help="JSON objects of answers by field id or label.")],
    samples: Annotated[bool, typer.Option("--samples", help="Keep each file as a sample instead of as starting answers.")] = False,
    output: Annotated[
        str | None, typer.Option("-o", "--output", metavar="OUT", help="Write this .avlet; over TEMPLATE if left out; - is stdout.")
    ] = None,
    dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Write answers into a template: as what its fields start with, or as samples."""
    import msgspec

    from avlet.command_line.told import Written, Wrote
    from avlet.document.cards.card import Sample
    from avlet.document.cards.carding import change_field
    from avlet.document.editing.naming import free_id
    from avlet.storage.answer_files import answers_from_file
    from avlet.storage.package import save_template

    one = opened(file)
    template = one.template
    for path in answers:
        given = answers_from_file(template, path)
        if samples:
            sample = Sample(free_id(path.stem, {s.id for s in template.samples}), path.stem.replace("-", " ").capitalize(), given)
            template = msgspec.structs.replace(template, samples=(*template.samples, sample))
        else:
            for field_id, value in given.items():
                template = change_field(template, field_id, default=value)
    if output is not None and is_standard_output(output):
        import tempfile

        with tempfile.TemporaryDirectory(prefix="avlet-") as folder:
            save_template(template, Path(folder) / "out.avlet", one.book)
            send((Path(folder) / "out.avlet").read_bytes())
        return
    target = file if output is None else path_of(output, ".avlet", "A template is an .avlet")
    refuse_written([target], no_overwrite)
    if not dry_run:
        save_template(template, target, one.book)
    done(f"{'Would write' if dry_run else 'Wrote'} {target}.")
    facts(Written(verb="set", template=template.name, wrote=(Wrote(path=str(target)),), dry_run=dry_run))
