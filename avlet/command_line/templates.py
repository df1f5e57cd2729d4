"""The command line: ``avlet [FILE]`` opens the application; the other commands do their work without a window."""

import signal
import sys
import time
import traceback
from importlib import import_module
from pathlib import Path
from typing import Annotated

import typer

from avlet import __version__
from avlet.command_line.app import (
    AnswersFile,
    AsJson,
    File,
    Length,
    Plate,
    Set,
    app,
    box_words,
    edges_words,
    err,
    frame_of,
    out,
    print_json,
    print_table,
    progress_bar,
    say,
    scene_of,
    size_of,
)
from avlet.document.metadata import brief
from avlet.errors import AvletError
from avlet.media.films import names_of
from avlet.numbers.exact import in_figures
from avlet.places import state_folder
from avlet.review.measuring import describe, measure
from avlet.storage.package import open_template

INTERRUPTED = 130
"""What Typer returns for Ctrl+C."""


@app.callback(invoke_without_command=True)
def start(ctx: typer.Context, version: Annotated[bool, typer.Option("--version", help="Print the version.")] = False) -> None:
    """``avlet [FILE]`` opens the application, with FILE if one is named."""
    if version:
        out.print(f"avlet {__version__}")
    elif ctx.invoked_subcommand is None:
        open_application(None)


def open_application(path: Path | None, demo: bool = False) -> None:
    """Start the desktop application; ends the process when its window closes."""
    from avlet.desktop.window.application import run

    run(path, demo)


@app.command("demo")
def demo_command() -> None:
    """Open the application with the demo library and the name strap on the stage."""
    open_application(None, demo=True)


@app.command("info")
def info_command(
    file: Annotated[Path | None, typer.Argument(metavar="FILE", help="A template: NAME.avlet, a file or a folder.")] = None,
    as_json: AsJson = False,
    machine: Annotated[bool, typer.Option("--machine", help="What draws solid letters here, and what decides the bytes of films.")] = False,
) -> None:
    """Show a template's parts, card, spans, frame and fonts; with --machine what this machine draws with."""
    if machine:
        _show_machine(as_json)
    if file is None and not machine:
        raise AvletError("Name a template: avlet info FILE; or ask for this machine: avlet info --machine.")
    if file is None:
        return
    opened = open_template(file)
    facts = describe(opened.template, opened.book)
    if as_json:
        print_json({**facts, "notes": list(opened.notes)})
        return
    out.print(f"{facts['name']}  {facts['category']}", style="bold")
    width, height = facts["frame"]
    out.print(f"{width}×{height}, {facts['frames_a_second']} frames a second")
    out.print(
        f"{facts['length']} frames ({facts['seconds']:.2f} s): way in {facts['way_in']}, hold {facts['hold']}, way out {facts['way_out']}"
    )
    print_table("Parts", ("id", "name", "kind"), facts["parts"])
    moves = [{**m, "frames": f"{in_figures(m['first'])} – {in_figures(m['last'])}"} for m in facts["moves"]]
    if moves:
        print_table("Moves", ("part", "way", "move", "by", "frames"), moves)
    print_table("Card", ("id", "label", "kind", "default"), facts["fields"])
    out.print("Fonts: " + ", ".join(f["name"] for f in facts["fonts"]))
    say(opened)


def _show_machine(as_json: bool) -> None:
    """What this machine draws and codes with."""
    from avlet.roster.making import versions
    from avlet.solid.drawing import drawn_with, fault

    words, found = drawn_with(), versions()
    if as_json:
        print_json({"solid_letters": words or None, "fault": fault() or None, "versions": found})
        return
    out.print(f"Solid letters are drawn with: {words}" if words else fault())
    out.print("Films: " + ", ".join(f"{name} {version}" for name, version in found.items()))


@app.command("measure")
def measure_command(
    file: File,
    answers: Set = None,
    length: Length = None,
    at: Annotated[int | None, typer.Option("--at", metavar="FRAME", help="The frame to measure; in the hold if left out.")] = None,
    units: Annotated[bool, typer.Option("--units", help="Also where each letter, word or line that moves by itself is.")] = False,
    as_json: AsJson = False,
) -> None:
    """Measure every part at rest and in a frame."""
    opened, scene = scene_of(file, answers, length)
    facts = measure(scene, frame_of(scene, at), units)
    if as_json:
        print_json(facts)
        return
    rows = [
        {
            "part": p["name"], "rest": box_words(p["rest"]), "now": box_words(p["now"]), "opacity": f"{p['opacity']:.0%}",
            "characters": p["units"]["character"], "words": p["units"]["word"], "lines": p["units"]["line"],
        }
        for p in facts["parts"]
    ]  # fmt: skip
    title = f"Frame {facts['at']} of {facts['length']}; x, y, width, height in px"
    print_table(title, ("part", "rest", "now", "opacity", "characters", "words", "lines"), rows)
    for part in facts["parts"] if units else ():
        moved = part["moved"]
        rows = [
            {"unit": f"{moved['by']} {n + 1}", "now": edges_words(box), "opacity": f"{moved['opacity'][n]:.0%}"}
            for n, box in enumerate(moved["boxes"])
        ]
        print_table(f"{part['name']}, by {moved['by']}", ("unit", "now", "opacity"), rows)
    say(opened, scene)


@app.command("still")
def still_command(
    file: File,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="OUT.png", help="The picture to write.")],
    at: Annotated[int, typer.Option("--at", metavar="FRAME", help="The frame to show.")],
    answers: Set = None,
    length: Length = None,
    plate: Plate = None,
) -> None:
    """Write one frame as a PNG, with transparency unless a plate is named."""
    from avlet.media.drawing import Drawing, Painter
    from avlet.media.plates import plate_named
    from avlet.media.render import png_bytes
    from avlet.storage.atomic import write_whole

    opened, scene = scene_of(file, answers, length)
    if output.suffix.lower() != ".png":
        raise AvletError(f"A still is a PNG; “{output.name}” should end in .png.")
    drawing = Drawing.of(scene, None, plate and plate_named(plate))
    write_whole(output, png_bytes(Painter(drawing).paint(frame_of(scene, at))))
    say(opened, scene)


@app.command("counts")
def counts_command(
    file: File,
    answers: Set = None,
    length: Length = None,
    every: Annotated[int, typer.Option("--every", metavar="N", min=1, help="Every so manieth frame, and the last.")] = 1,
    as_json: AsJson = False,
) -> None:
    """Show what every counter shows, frame by frame: its value, its words, its share of the way."""
    from avlet.review.measuring import counts_of

    opened, scene = scene_of(file, answers, length)
    facts = counts_of(scene, every)
    if as_json:
        print_json(facts)
        return
    if not facts["counters"]:
        out.print(f"{opened.template.name} has no counter.")
    for counter in facts["counters"]:
        rows = [{**row, "share": f"{row['share']:.2%}"} for row in counter["frames"]]
        title = f"{counter['name']}: begins at frame {in_figures(counter['begins'])}, lands at {in_figures(counter['lands'])}"
        print_table(title, ("frame", "value", "words", "share"), rows)
    say(opened, scene)


@app.command("frames")
def frames_command(
    file: File,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="SHEET.png", help="The contact sheet to write.")],
    answers: Set = None,
    length: Length = None,
    columns: Annotated[int, typer.Option("--columns", metavar="N", min=1, max=24, help="Frames in a row.")] = 6,
    plate: Plate = None,
) -> None:
    """Write a contact sheet: every frame of the way in, some of the hold, every frame of the way out."""
    from avlet.media.plates import plate_named
    from avlet.media.sheets import contact_sheet
    from avlet.storage.atomic import write_whole

    opened, scene = scene_of(file, answers, length)
    if output.suffix.lower() != ".png":
        raise AvletError(f"A contact sheet is a PNG; “{output.name}” should end in .png.")
    write_whole(output, contact_sheet(scene, columns, plate and plate_named(plate)))
    say(opened, scene)


@app.command("render")
def render_command(
    file: File,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="OUT", help=".mov, .webm, a folder for PNGs, or .mp4 over a plate.")],
    answers: Set = None,
    answers_file: AnswersFile = None,
    length: Length = None,
    size: Annotated[str | None, typer.Option("--size", metavar="WxH", help="Picture size; the template's if left out.")] = None,
    codec: Annotated[str | None, typer.Option("--codec", metavar="NAME", help=f"For .mov: {names_of('.mov')} (the first).")] = None,
    plate: Plate = None,
) -> None:
    """Render a title with transparency, or over a plate to look at."""
    from avlet.media.drawing import Drawing
    from avlet.media.plates import plate_named
    from avlet.media.render import render

    opened, scene = scene_of(file, answers, length, answers_file)
    drawing = Drawing.of(scene, size_of(size, opened.template.frame), plate and plate_named(plate))
    with progress_bar() as bar:
        task = bar.add_task(f"Rendering {output.name}", total=scene.length)

        def progress(done: int, total: int) -> bool:
            bar.update(task, completed=done)
            return True

        done = render(drawing, output, codec, progress)
    err.print(f"Wrote {done.path}: {done.frames} frames, {done.drawn} of them different.")
    say(opened, scene)


@app.command("install")
def install_command(
    remove: Annotated[bool, typer.Option("--remove", help="Take them away again.")] = False,
) -> None:
    """Install the icon, the menu entry and the file type for this user."""
    from avlet.desktop_entry import install, remove_installed

    for path in remove_installed() if remove else install():
        out.print(("removed " if remove else "wrote ") + str(path))


def main() -> None:
    """Entry point. Exit status 0, 1 where a check does not hold, or 2 with one readable message on standard error."""
    for name in ("avlet.command_line.cards", "avlet.command_line.lists", "avlet.command_line.proofs", "avlet.command_line.rosters"):
        import_module(name)  # its commands join the others
    words = sys.argv[1:]
    known = [str(c.name) for c in app.registered_commands] + [str(group.name) for group in app.registered_groups]
    try:
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, _interrupted)
        if words and words[0] not in known and not words[0].startswith("-"):
            if len(words) > 1:
                raise AvletError(f"“{words[0]}” is not a command. The commands: {', '.join(known)}.")
            path = Path(words[0])
            if not path.exists() and path.suffix.lower() not in (".avlet", ".otio"):
                raise AvletError(f"“{path}” is neither a file nor a command. The commands: {', '.join(known)}.")
            open_application(path)
        status = app(prog_name="avlet", standalone_mode=False)
        if status == INTERRUPTED:
            raise KeyboardInterrupt
        if isinstance(status, int) and status:
            sys.exit(status)
    except typer.exceptions.TyperException as error:
        err.print(f"avlet: {str(error).rstrip('.')}. Ask “avlet --help”.")
        sys.exit(2)
    except AvletError as error:
        err.print(f"avlet: {error}")
        sys.exit(2)
    except (KeyboardInterrupt, typer.Abort):
        signal.signal(signal.SIGINT, signal.SIG_IGN)  # it is ending already
        exec("")  # Python remembers that an ``exec`` was interrupted, e.g. that of a dataclass, and would end by the signal for it
        err.print("avlet: stopped; nothing half-done was left.")
        sys.exit(2)
    except RecursionError:
        err.print("avlet: the file nests too deeply to be a template.")
        sys.exit(2)
    except Exception as error:
        err.print(f"avlet: {_surprise(error)}")
        sys.exit(2)


_PATIENCE = 3.0
"""Seconds in which a second interruption does not disturb the cleaning up after the first."""
_interrupted_at = -_PATIENCE


def _interrupted(number: int, frame: object) -> None:
    """Being ended is being stopped: what is half written goes away."""
    global _interrupted_at
    before, _interrupted_at = _interrupted_at, time.monotonic()
    if _interrupted_at - before > _PATIENCE:
        raise KeyboardInterrupt


def _surprise(error: Exception) -> str:
    """A fault of Avlet's own, in one sentence; the trace goes to a report file."""
    what = f"something went wrong inside Avlet ({type(error).__name__}: {brief(error)})"
    report = state_folder() / "faults.log"
    try:
        report.parent.mkdir(parents=True, exist_ok=True)
        with report.open("a") as file:
            traceback.print_exception(error, file=file)
    except OSError:
        return f"{what}."
    return f"{what}. Nothing was changed; the details are in {report}."
