"""``avlet house``: colours, gradients and text styles that templates share."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from avlet.command_line.app import house_app, verb
from avlet.command_line.options import DryRun
from avlet.command_line.scenes import opened
from avlet.command_line.telling import event, facts, note, say, work
from avlet.errors import AnswerError

if TYPE_CHECKING:
    from avlet.document.template import Template
    from avlet.storage.package import Opened

From = Annotated[Path, typer.Argument(metavar="FROM", help="The template whose house is taken on.")]
To = Annotated[list[Path], typer.Argument(metavar="TO…", help="The templates that take it on.")]


@verb(
    house_app, "take",
    "avlet house take saltmarsh-name.avlet saltmarsh-*.avlet --dry-run",
    "avlet house take saltmarsh-name.avlet saltmarsh-title.avlet --entry \"Deep water\"",
)  # fmt: skip
def take(
    given: From, to: To,
    entries: Annotated[
        list[str] | None, typer.Option("--entry", metavar="NAME", help="Take this colour, gradient or text style alone; again for more.")
    ] = None,
    dry_run: DryRun = False,
) -> None:  # fmt: skip
    """Take on a house in many templates at once: what has the same name changes, what is only here stays. Each is proved anew.

    Exit status 1 where something breaks that held before.
    """
    from avlet.command_line.told import TakenHouse, TookHouse
    from avlet.document.editing.house_taking import side_by_side, with_house_of
    from avlet.layout.holding import hold
    from avlet.storage.package import handed_over_as, save_template

    source = opened(given).template
    wanted = None if not entries else {name.casefold() for name in entries}
    known = {beside.theirs.name.casefold() for beside in side_by_side(source, source)}
    if not known:
        raise AnswerError(f"{source.name} has no house: no colour, gradient or text style of its own to be taken on.")
    if wanted is not None and (unknown := wanted - known):
        raise AnswerError(f"The house of {source.name} has no “{sorted(unknown)[0]}”. It has: {', '.join(sorted(known))}.")
    changed: list[tuple[Path, Opened, Template, tuple[str, ...]]] = []
    for path in dict.fromkeys(p for p in to if p.resolve() != given.resolve()):
        one = opened(path)
        rows = [b for b in side_by_side(one.template, source) if b.differs and (wanted is None or b.theirs.name.casefold() in wanted)]
        if rows and handed_over_as(path):
            raise AnswerError(
                f"“{path.name}” was handed over and stays as it is: take the house on in its working file. Nothing was changed."
            )
        changed.append((path, one, hold(with_house_of(one.template, source, {b.key for b in rows})), tuple(b.words for b in rows)))
    told: list[TookHouse] = []
    with work(f"Taking on the house of {source.name}", len(changed)) as tell:
        for number, (path, one, template, words) in enumerate(changed):
            before, after = (_found(t, one) if words else {} for t in (one.template, template))
            worse = tuple(sentence for sentence in after if sentence not in before)
            breaks = tuple(sentence for sentence in worse if after[sentence] == "breaks")
            if words and not dry_run:
                save_template(template, path, one.book)
            say(f"{path}: {'; '.join(words) if words else 'as it was'}")
            for sentence in worse:
                note(f"{template.name}: {sentence}")
            event("took", path=str(path), changed=list(words), breaks=list(breaks), found=list(worse))
            told.append(TookHouse(path=str(path), template=template.name, changed=words, breaks=breaks, found=worse))
            tell(number + 1, path.name)
    holds = not any(one.breaks for one in told)
    facts(TakenHouse(verb="house take", template=source.name, took=tuple(told), dry_run=dry_run, holds=holds))
    if not holds:
        raise typer.Exit(1)


def _found(template: "Template", one: "Opened") -> dict[str, str]:
    """What is found in a template with its samples: sentences, each with its level."""
    from avlet.review.awkward import rows_of
    from avlet.review.proof import prove

    rows = [row for row in rows_of(template) if row.kind != "made"]
    return {finding.words: finding.level for finding in prove(template, one.book, rows=rows).open}
