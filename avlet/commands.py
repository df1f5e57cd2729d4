"""The command line: ``avlet [FILE]`` opens the application; the other commands do their work without a window."""

import json
import sys
from pathlib import Path
from typing import Annotated, Any

import typer
from rich.console import Console
from rich.progress import BarColumn, Progress, TextColumn, TimeRemainingColumn
from rich.table import Table

from avlet import __version__
from avlet.errors import AnswerError, AvletError
from avlet.layout.answers import read_answers
from avlet.measuring import describe, measure
from avlet.paint.scene import Scene
from avlet.storage.package import Opened, open_template

app = typer.Typer(
    add_completion=False, pretty_exceptions_enable=False, no_args_is_help=False,
    help="Animated titles whose shapes size themselves to the words.",
)  # fmt: skip
out = Console(highlight=False, soft_wrap=True)
err = Console(stderr=True, highlight=False, soft_wrap=True)

File = Annotated[Path, typer.Argument(metavar="FILE", help="A template: NAME.avlet, a file or a folder.")]
Set = Annotated[list[str] | None, typer.Option("--set", metavar="FIELD=VALUE", help="Answer a field, by its id or label.")]
Length = Annotated[int | None, typer.Option("--length", metavar="N", help="Frames to show; the designed length if left out.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON.")]
Plate = Annotated[str | None, typer.Option("--plate", metavar="NAME", help="Put it over a made-up moving picture.")]
INTERRUPTED = 130
"""What Typer returns for Ctrl+C."""
COMMANDS = ("demo", "info", "measure", "still", "frames", "render", "install")


@app.callback(invoke_without_command=True)
def start(ctx: typer.Context, version: Annotated[bool, typer.Option("--version", help="Print the version.")] = False) -> None:
    """``avlet [FILE]`` opens the application, with FILE if one is named."""
    if version:
        out.print(f"avlet {__version__}")
    elif ctx.invoked_subcommand is None:
        open_application(None)


def open_application(path: Path | None, demo: bool = False) -> None:
    """Start the desktop application; ends the process when its window closes."""
    from avlet.desktop.application import run

    raise SystemExit(run(path, demo))


@app.command("demo")
def demo_command() -> None:
    """Open the application with the demo library and the name strap on the stage."""
    open_application(None, demo=True)


@app.command("info")
def info_command(file: File, as_json: AsJson = False) -> None:
    """Show a template's parts, card, spans, frame and fonts."""
    opened = open_template(file)
    facts = describe(opened.template, opened.book)
    if as_json:
        _print_json({**facts, "notes": list(opened.notes)})
        return
    out.print(f"[bold]{facts['name']}[/]  {facts['category']}")
    width, height = facts["frame"]
    out.print(f"{width}×{height}, {facts['frames_a_second']} frames a second")
    out.print(
        f"{facts['length']} frames ({facts['seconds']:.2f} s): way in {facts['way_in']}, hold {facts['hold']}, way out {facts['way_out']}"
    )
    out.print(_table("Parts", ("id", "name", "kind"), facts["parts"]))
    moves = [{**m, "frames": f"{m['first']:g} – {m['last']:g}"} for m in facts["moves"]]
    if moves:
        out.print(_table("Moves", ("part", "way", "move", "by", "frames"), moves))
    out.print(_table("Card", ("id", "label", "kind", "default"), facts["fields"]))
    out.print("Fonts: " + ", ".join(f["name"] for f in facts["fonts"]))
    _say(opened)


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
    opened, scene = _scene(file, answers, length)
    facts = measure(scene, _frame(scene, at), units)
    if as_json:
        _print_json(facts)
        return
    rows = [
        {
            "part": p["name"], "rest": _box_words(p["rest"]), "now": _box_words(p["now"]), "opacity": f"{p['opacity']:.0%}",
            "characters": p["units"]["character"], "words": p["units"]["word"], "lines": p["units"]["line"],
        }
        for p in facts["parts"]
    ]  # fmt: skip
    title = f"Frame {facts['at']} of {facts['length']}; x, y, width, height in px"
    out.print(_table(title, ("part", "rest", "now", "opacity", "characters", "words", "lines"), rows))
    for part in facts["parts"] if units else ():
        moved = part["moved"]
        rows = [
            {"unit": f"{moved['by']} {n + 1}", "now": _edges_words(box), "opacity": f"{moved['opacity'][n]:.0%}"}
            for n, box in enumerate(moved["boxes"])
        ]
        out.print(_table(f"{part['name']}, by {moved['by']}", ("unit", "now", "opacity"), rows))
    _say(opened, scene)


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

    opened, scene = _scene(file, answers, length)
    if output.suffix.lower() != ".png":
        raise AvletError(f"A still is a PNG; “{output.name}” should end in .png.")
    drawing = Drawing.of(opened.template, opened.book, scene.bound.answers, scene.length, None, plate and plate_named(plate))
    write_whole(output, png_bytes(Painter(drawing).paint(_frame(scene, at))))
    _say(opened, scene)


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

    opened, scene = _scene(file, answers, length)
    if output.suffix.lower() != ".png":
        raise AvletError(f"A contact sheet is a PNG; “{output.name}” should end in .png.")
    write_whole(output, contact_sheet(scene, columns, plate and plate_named(plate)))
    _say(opened, scene)


@app.command("render")
def render_command(
    file: File,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="OUT", help=".mov, .webm, a folder for PNGs, or .mp4 over a plate.")],
    answers: Set = None,
    length: Length = None,
    size: Annotated[str | None, typer.Option("--size", metavar="WxH", help="Picture size; the template's if left out.")] = None,
    codec: Annotated[str | None, typer.Option("--codec", metavar="NAME", help="For .mov: prores (default), png or qtrle.")] = None,
    plate: Plate = None,
) -> None:
    """Render a title with transparency, or over a plate to look at."""
    from avlet.media.drawing import Drawing
    from avlet.media.plates import plate_named
    from avlet.media.render import render

    opened, scene = _scene(file, answers, length)
    drawing = Drawing.of(
        opened.template, opened.book, scene.bound.answers, scene.length, _size(size), plate and plate_named(plate)
    )  # fmt: skip
    columns = (TextColumn("{task.description}"), BarColumn(), TextColumn("{task.completed}/{task.total} frames"), TimeRemainingColumn())
    with Progress(*columns, console=err, transient=True) as bar:
        task = bar.add_task(f"Rendering {output.name}", total=scene.length)

        def progress(done: int, total: int) -> bool:
            bar.update(task, completed=done)
            return True

        done = render(drawing, output, codec, progress)
    err.print(f"Wrote {done.path}: {done.frames} frames, {done.drawn} of them different.")
    _say(opened, scene)


@app.command("install")
def install_command(
    remove: Annotated[bool, typer.Option("--remove", help="Take them away again.")] = False,
) -> None:
    """Install the icon, the menu entry and the file type for this user."""
    from avlet.desktop_entry import install, remove_installed

    for path in remove_installed() if remove else install():
        out.print(("removed " if remove else "wrote ") + str(path))


def _scene(file: Path, answers: list[str] | None, length: int | None) -> tuple[Opened, Scene]:
    opened = open_template(file)
    return opened, Scene(opened.template, opened.book, read_answers(opened.template, answers or ()), length)


def _frame(scene: Scene, at: int | None) -> int:
    """A frame that the title has. Without one, the middle of its hold."""
    if at is None:
        return min(scene.length - 1, (scene.spans.way_in + scene.length - scene.spans.way_out) // 2)
    if not 0 <= at < scene.length:
        raise AnswerError(f"There is no frame {at}: the title shows frames 0 to {scene.length - 1}.")
    return at


def _size(words: str | None) -> tuple[int, int] | None:
    if words is None:
        return None
    width, _, height = words.lower().replace("×", "x").partition("x")
    if not (width.isdigit() and height.isdigit()) or not (2 <= int(width) <= 16_384 and 2 <= int(height) <= 16_384):
        raise AnswerError(f"“{words}” is not a picture size. Write it as 1920x1080, up to 16384 each.")
    return int(width), int(height)


def _say(opened: Opened, scene: Scene | None = None) -> None:
    for note in (*opened.notes, *(scene.notes() if scene else ())):
        err.print(f"note: {note}", markup=False)


def _print_json(facts: dict[str, Any]) -> None:
    print(json.dumps(facts, ensure_ascii=False, indent=2))


def _table(title: str, columns: tuple[str, ...], rows: list[dict[str, Any]]) -> Table:
    table = Table(title=title, title_justify="left", title_style="bold")
    for column in columns:
        table.add_column(column, no_wrap=True)
    for row in rows:
        table.add_row(*(str(row[column]).replace("\n", " / ").replace("[", "\\[") for column in columns))
    return table


def _box_words(box: list[float] | None) -> str:
    return "–" if box is None else " ".join(f"{v:.1f}".removesuffix(".0") for v in box)


def _edges_words(edges: list[float] | None) -> str:
    """Left, top, right, bottom as x, y, width, height."""
    return _box_words(None if edges is None else [edges[0], edges[1], edges[2] - edges[0], edges[3] - edges[1]])


def main() -> None:
    """Entry point. Exit status 0, or 2 with one readable message on standard error."""
    words = sys.argv[1:]
    try:
        if words and words[0] not in COMMANDS and not words[0].startswith("-"):
            if len(words) > 1:
                raise AvletError(f"“{words[0]}” is not a command. The commands: {', '.join(COMMANDS)}.")
            path = Path(words[0])
            if not path.exists() and path.suffix.lower() not in (".avlet", ".otio"):
                raise AvletError(f"“{path}” is neither a file nor a command. The commands: {', '.join(COMMANDS)}.")
            open_application(path)
        status = app(prog_name="avlet", standalone_mode=False)
        if status == INTERRUPTED:
            raise KeyboardInterrupt
    except typer.exceptions.TyperException as error:
        err.print(f"avlet: {str(error).rstrip('.')}. Ask “avlet --help”.", markup=False)
        sys.exit(2)
    except AvletError as error:
        err.print(f"avlet: {error}", markup=False)
        sys.exit(2)
    except (KeyboardInterrupt, typer.Abort):
        err.print("avlet: stopped; nothing was left behind.", markup=False)
        sys.exit(2)
    except RecursionError:
        err.print("avlet: the file nests too deeply to be a template.", markup=False)
        sys.exit(2)
