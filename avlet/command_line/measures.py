"""Verbs that tell what can be read off a template and its titles: info, measure, counts."""

from pathlib import Path
from typing import Annotated, Any

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import AnswerFiles, At, File, Length, Set
from avlet.command_line.scenes import frame_of, opened, said, title
from avlet.command_line.telling import facts, note, say, table, wants_json
from avlet.errors import AvletError


@verb(app, "info", "avlet info name-strap.avlet", "avlet info name-strap.avlet --json | jq .length", "avlet info --machine")
def info(
    file: Annotated[Path | None, typer.Argument(metavar="TEMPLATE", help="A template: NAME.avlet, a file or a folder.")] = None,
    machine: Annotated[bool, typer.Option("--machine", help="What draws solid letters here, and what decides the bytes of films.")] = False,
) -> None:
    """Show a template's parts, card, spans, frame and fonts; with --machine what this machine draws with."""
    from avlet.numbers.exact import in_figures
    from avlet.review.describing import describe

    if machine:
        _show_machine()
    if file is None and not machine:
        raise AvletError("Name a template: avlet info TEMPLATE; or ask for this machine: avlet info --machine.")
    if file is None:
        return
    one = opened(file)
    told = describe(one.template, one.book)
    for words in one.notes:
        note(words)
    if wants_json():
        facts({"verb": "info", **told})
        return
    say(f"{told['template']}  {told['category']}", bold=True)
    width, height = told["frame"]
    say(f"{width}×{height}, {told['frames_a_second']} frames a second")
    say(f"{told['length']} frames ({told['seconds']:.2f} s): way in {told['way_in']}, hold {told['hold']}, way out {told['way_out']}")
    table("Parts", ("id", "name", "kind"), told["parts"])
    moves = [{**m, "frames": f"{in_figures(m['first'])} – {in_figures(m['last'])}"} for m in told["moves"]]
    if moves:
        table("Moves", ("part", "way", "move", "by", "frames"), moves)
    table("Card", ("id", "label", "kind", "default"), [{**field, "default": _short(field["default"])} for field in told["fields"]])
    say("Fonts: " + ", ".join(f["name"] for f in told["fonts"]))


def _short(value: Any) -> Any:
    """What a field starts with, in a cell: a list by how many lines it has, what holds a file by its name."""
    if isinstance(value, list):
        return f"a list of {len(value)} blocks"
    return value["name"] if isinstance(value, dict) and "name" in value else value


def _show_machine() -> None:
    """What this machine draws and codes with."""
    from avlet.roster.making import versions
    from avlet.solid.drawing import drawn_with, fault

    words, found = drawn_with(), versions()
    facts({"verb": "info", "solid_letters": words or None, "fault": fault() or None, "versions": found})
    say(f"Solid letters are drawn with: {words}" if words else fault())
    say("Films: " + ", ".join(f"{name} {version}" for name, version in found.items()))


@verb(app, "measure", 'avlet measure name-strap.avlet --set name="Bo Li" --at 2s', "avlet measure name-strap.avlet --units --json")
def measure(
    file: File, at: At = None, answers: Set = None, files: AnswerFiles = None, length: Length = None,
    units: Annotated[bool, typer.Option("--units", help="Also where each letter, word or line that moves by itself is.")] = False,
) -> None:  # fmt: skip
    """Measure every part at rest and in a frame."""
    from avlet.review.measuring import measure as measured

    one, scene = title(file, answers, files, length)
    told = measured(scene, frame_of(scene, at), units)
    if wants_json():
        facts({"verb": "measure", "template": one.template.name, **told})
        return
    rows = [
        {
            "part": p["name"], "rest": box_words(p["rest"]), "now": box_words(p["now"]), "opacity": f"{p['opacity']:.0%}",
            "characters": p["units"]["character"], "words": p["units"]["word"], "lines": p["units"]["line"],
        }
        for p in told["parts"]
    ]  # fmt: skip
    heads = ("part", "rest", "now", "opacity", "characters", "words", "lines")
    table(f"Frame {told['at']} of {told['length']}; x, y, width, height in px", heads, rows)
    for part in told["parts"] if units else ():
        moved = part["moved"]
        rows = [
            {"unit": f"{moved['by']} {n + 1}", "now": edges_words(box), "opacity": f"{moved['opacity'][n]:.0%}"}
            for n, box in enumerate(moved["boxes"])
        ]
        table(f"{part['name']}, by {moved['by']}", ("unit", "now", "opacity"), rows)
    said(one, scene)


def box_words(box: list[float] | None) -> str:
    """A box in words."""
    return "–" if box is None else " ".join(f"{v:.1f}".removesuffix(".0") for v in box)


def edges_words(edges: list[float] | None) -> str:
    """Left, top, right, bottom as x, y, width, height."""
    return box_words(None if edges is None else [edges[0], edges[1], edges[2] - edges[0], edges[3] - edges[1]])


@verb(app, "counts", "avlet counts hectares.avlet --every 5", "avlet counts hectares.avlet --set end=2500 --json")
def counts(
    file: File, answers: Set = None, files: AnswerFiles = None, length: Length = None,
    every: Annotated[int, typer.Option("--every", metavar="N", min=1, help="Print every N-th frame, and the last one.")] = 1,
) -> None:  # fmt: skip
    """Show what every counter shows, frame by frame: its value, its words, its share of the way."""
    from avlet.numbers.exact import in_figures
    from avlet.review.measuring import counts_of

    one, scene = title(file, answers, files, length)
    told = counts_of(scene, every)
    if wants_json():
        facts({"verb": "counts", "template": one.template.name, **told})
        return
    if not told["counters"]:
        say(f"{one.template.name} has no counter.")
    for counter in told["counters"]:
        rows = [{**row, "share": f"{row['share']:.2%}"} for row in counter["frames"]]
        heading = f"{counter['name']}: begins at frame {in_figures(counter['begins'])}, lands at {in_figures(counter['lands'])}"
        table(heading, ("frame", "value", "words", "share"), rows)
    said(one, scene)
