"""The command line's frame: the application object, its printers, options and what all commands use."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer
from rich.console import Console
from rich.measure import Measurement
from rich.progress import BarColumn, Progress, Task, TextColumn, TimeRemainingColumn
from rich.table import Table
from rich.text import Text

from avlet.document.cards.answers import read_answers
from avlet.document.fields import Answer
from avlet.document.template import Frame
from avlet.errors import AnswerError
from avlet.harmless import harmless
from avlet.limits import MOST_FRAME_PIXELS, MOST_SIDE
from avlet.paint.scene import Scene
from avlet.review.samples import said_of
from avlet.storage.answer_files import NAMED_FILES, answers_from_file
from avlet.storage.package import Opened, open_template

app = typer.Typer(
    add_completion=False, pretty_exceptions_enable=False, no_args_is_help=False,
    help="Animated titles whose shapes size themselves to the words.",
)  # fmt: skip


class Printer(Console):
    """Prints words that may be a stranger's: nothing in them is markup, and no code in them reaches the terminal.

    A template may be called ``[/]``. JSON is printed past it, as it is.
    """

    def __init__(self, **options: Any) -> None:
        super().__init__(highlight=False, soft_wrap=True, markup=False, **options)

    def render_str(self, text: str, **options: Any) -> Text:
        return super().render_str(harmless(text), **options)


out, err = Printer(), Printer(stderr=True)

File = Annotated[Path, typer.Argument(metavar="FILE", help="A template: NAME.avlet, a file or a folder.")]
Set = Annotated[list[str] | None, typer.Option("--set", metavar="FIELD=VALUE", help="Answer a field, by its id or label.")]
Length = Annotated[int | None, typer.Option("--length", metavar="N", help="Frames to show; the designed length if left out.")]
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON.")]
Plate = Annotated[str | None, typer.Option("--plate", metavar="NAME", help="Put it over a made-up moving picture.")]
AnswersFile = Annotated[Path | None, typer.Option("--answers", metavar="FILE.json", help="Answers from a JSON file; --set goes over them.")]


def scene_of(file: Path, answers: list[str] | None, length: int | None, answers_file: Path | None = None) -> tuple[Opened, Scene]:
    """A template opened, and its scene with answers from a file and from words."""
    opened = open_template(file)
    given: dict[str, Answer] = answers_from_file(opened.template, answers_file) if answers_file is not None else {}
    return opened, Scene(opened.template, opened.book, {**given, **read_answers(opened.template, answers or (), NAMED_FILES)}, length)


class _Words(TextColumn):
    def render(self, task: Task) -> Text:
        return Text(harmless(task.description))


def progress_bar(what: str = "frames") -> Progress:
    """A bar on standard error that goes away when it is done; ``what`` is counted."""
    words, done = _Words("{task.description}", markup=False), TextColumn(f"{{task.completed}}/{{task.total}} {what}")
    columns = (words, BarColumn(), done, TimeRemainingColumn())
    return Progress(*columns, console=err, transient=True)


def frame_of(scene: Scene, at: int | None) -> int:
    """A frame that the title has. Without one, the middle of its hold."""
    if at is None:
        return scene.spans.middle
    if not 0 <= at < scene.length:
        raise AnswerError(f"There is no frame {at}: the title shows frames 0 to {scene.length - 1}.")
    return at


def size_of(words: str | None, frame: Frame) -> tuple[int, int] | None:
    """A picture size from words, of the same shape as the template's frame: in another one everything would be stretched."""
    if words is None:
        return None
    width, _, height = words.lower().replace("×", "x").partition("x")
    sides = [int(side) if side.isascii() and side.isdigit() and len(side) <= 5 else 0 for side in (width, height)]
    if not all(2 <= side <= MOST_SIDE for side in sides):
        raise AnswerError(f"“{words}” is not a picture size. Write it as 1920x1080, up to {MOST_SIDE} each.")
    size = int(width), int(height)
    if size[0] * size[1] > MOST_FRAME_PIXELS:
        raise AnswerError(f"“{words}” is {size[0] * size[1]:,} px in all; at most {MOST_FRAME_PIXELS:,} are possible.")
    if abs(size[0] * frame.height - size[1] * frame.width) > max(frame.width, frame.height):
        fitting = f"{size[0]}x{round(size[0] * frame.height / frame.width)}"
        raise AnswerError(
            f"“{words}” has another shape than the template's {frame.width}×{frame.height}; everything would be stretched. "
            f"Ask for {fitting}, or give the template another frame first (Frame size, on its recipe), which scales or re-places its parts."
        )
    return size


def say(opened: Opened, scene: Scene | None = None) -> None:
    """Print a template's and a title's notes on standard error."""
    for note in (*opened.notes, *(said_of(scene) if scene else ())):
        err.print(f"note: {note}")


def print_json(facts: dict[str, Any]) -> None:
    """Print plain values as JSON."""
    print(json.dumps(facts, ensure_ascii=False, indent=2))


def print_table(title: str, columns: tuple[str, ...], rows: list[dict[str, Any]]) -> None:
    """Print a table of some columns of rows. On a narrow terminal cells take several lines; nothing is ever cut."""
    made = Table(title=title, title_justify="left", title_style="bold")
    for column in columns:
        made.add_column(column, overflow="fold")
    for row in rows:
        made.add_row(*(str(row[column]).replace("\n", " / ") for column in columns))
    needed = Measurement.get(out, out.options.update(max_width=_WIDEST), made).minimum
    width = max(needed, out.width) if out.is_terminal else _WIDEST
    Printer(width=width, force_terminal=out.is_terminal).print(made)


_WIDEST = 100_000
"""Columns: where nobody looks at a screen, a line is as long as it is."""


def box_words(box: list[float] | None) -> str:
    """A box in words."""
    return "–" if box is None else " ".join(f"{v:.1f}".removesuffix(".0") for v in box)


def edges_words(edges: list[float] | None) -> str:
    """Left, top, right, bottom as x, y, width, height."""
    return box_words(None if edges is None else [edges[0], edges[1], edges[2] - edges[0], edges[3] - edges[1]])
