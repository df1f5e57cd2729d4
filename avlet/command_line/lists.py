"""Verbs about lists of credits: check, speed."""

from pathlib import Path
from typing import TYPE_CHECKING

import typer

from avlet.command_line.app import credits_app, verb
from avlet.command_line.options import File, Into, Length, ListFile, ListMap, MaybeList
from avlet.command_line.scenes import frames_typed, opened, said
from avlet.command_line.telling import facts, note, say, table

if TYPE_CHECKING:
    from avlet.document.lists.blocks import Blocks


def _list_in(path: Path, given: list[str] | None) -> "Blocks":
    """The list of a file; says what was done to read it."""
    from avlet.document.fields.credits import blocks_in_file
    from avlet.storage.answer_files import NAMED_FILES
    from avlet.storage.table_files import table_in_file

    for remark in table_in_file(path).remarks:
        note(remark)
    return blocks_in_file(str(path), NAMED_FILES, given or ())


@verb(credits_app, "check", "avlet credits check end-roll.avlet crew.csv", "avlet credits check end-roll.avlet crew.csv --map Job=role")
def check(template: File, file: ListFile, given: ListMap = None, into: Into = None) -> None:
    """Proofread a list as it will be set. Exit status 1 when there is something to look at."""
    from avlet.command_line.told import ListChecked, ListFinding
    from avlet.document.lists.blocks import lines_of
    from avlet.paint.scene import Scene
    from avlet.review.proofreading import proofread
    from avlet.review.rolls import with_list

    one, blocks = opened(template), _list_in(file, given)
    changed, answers = with_list(one.template, blocks, into)
    scene = Scene(changed, one.book, answers)
    remarks = proofread(blocks, one.book)
    said(one, scene)
    found = tuple(ListFinding(block=r.block + 1, words=r.words, mend=r.mend) for r in remarks)
    lines = lines_of(blocks)
    told = ListChecked(
        verb="credits check", template=one.template.name, list=file.name, lines=lines, holds=not remarks, findings=found
    )  # fmt: skip
    facts(told)
    say(f"{file.name}: {lines:,} lines", bold=True)
    for remark in remarks:
        say(f"block {remark.block + 1}: {remark.words}" + (f" Should be: “{remark.mend}”." if remark.mend is not None else ""))
    if not remarks:
        say("Nothing to look at.")
    if remarks:
        raise typer.Exit(1)


@verb(credits_app, "speed", "avlet credits speed end-roll.avlet", "avlet credits speed end-roll.avlet crew.csv --length 45s")
def speed(template: File, file: MaybeList = None, length: Length = None, given: ListMap = None, into: Into = None) -> None:
    """Tell how fast credits move, how calm that is, and the lengths near it at which they move whole px a frame."""
    from avlet.command_line.told import ListSpeeds
    from avlet.numbers.exact import in_figures
    from avlet.paint.scene import Scene
    from avlet.review.rolls import facts_of_lists, with_list

    one = opened(template)
    changed, answers = (one.template, {}) if file is None else with_list(one.template, _list_in(file, given), into)
    scene = Scene(changed, one.book, answers, frames_typed(length, one.template.frame.fps))
    found = facts_of_lists(scene)
    said(one, scene)
    facts(ListSpeeds(verb="credits speed", template=changed.name, lists=tuple(found)))
    if not found:
        say(f"{changed.name} has no credits.")
    for one_list in found:
        say(f"{one_list['name']}: {one_list['moves']}, {one_list['frames']} frames ({one_list['seconds']:.2f} s)", bold=True)
        if "px_a_frame" in one_list:
            pace, way = in_figures(one_list["px_a_frame"]), in_figures(one_list["way"])
            say(f"{pace} px a frame over {way} px; each line is seen for {one_list['seconds_in_frame']:.1f} s")
        if "calm" in one_list:
            calmer = f" Calmer with {', or '.join(one_list['calmer_with'])}." if one_list["calmer_with"] else ""
            stroke = f"thinnest level stroke {one_list['thinnest_stroke']:.1f} px"
            say(f"{one_list['calm']} (shimmer {one_list['shimmer']:.3f}, {stroke}).{calmer}")
        if one_list.get("offers"):
            rows = [{"px a frame": o["speed"], "frames": o["length"]} for o in one_list["offers"]]
            table("Lengths at which it moves whole px", ("px a frame", "frames"), rows)
        if one_list.get("pages"):
            table("Pages", ("page", "first", "frames"), one_list["pages"])
