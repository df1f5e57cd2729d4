"""How verbs tell what they do: words for people, JSON for programs, one line an event for long work; and nothing else on the way."""

import contextlib
import json
import os
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from contextvars import ContextVar
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal, TextIO

import msgspec

from avlet.errors import AnswerError
from avlet.harmless import harmless

if TYPE_CHECKING:
    from rich.console import Console

Form = Literal["words", "json", "lines"]
Progress = Callable[[float, str], None]
"""Called with how much is done, and what it is busy with."""
_EVERY = 5.0
"""Seconds between two lines of progress where no terminal shows a bar."""
_EVENTS = 0.5
"""Seconds between two events of progress."""


@dataclass
class Teller:
    """How one run of a verb tells. ``received`` takes what is told instead of printing it: a batch answers in its own lines."""

    form: Form = "words"
    quiet: bool = False
    verbose: bool = False
    notes: list[str] = field(default_factory=list)
    received: dict[str, Any] | None = None


_present: ContextVar[Teller] = ContextVar("teller")


def teller() -> Teller:
    """The one that this run tells with."""
    return _present.get(Teller())


@contextlib.contextmanager
def telling(one: Teller) -> Iterator[Teller]:
    """Tell with this one for a while."""
    token = _present.set(one)
    try:
        yield one
    finally:
        _present.reset(token)


def written(file: TextIO, words: str, bold: bool = False) -> None:
    """A line of words that may be a stranger's: no code in them reaches the terminal. It is there at once."""
    plain = harmless(words)
    file.write(f"\x1b[1m{plain}\x1b[0m\n" if bold and file.isatty() and not os.environ.get("NO_COLOR") else f"{plain}\n")
    file.flush()


def say(words: str, bold: bool = False) -> None:
    """Something for people, on standard output; nothing where JSON is asked for."""
    if teller().form == "words" and teller().received is None:
        written(sys.stdout, words, bold)


def note(words: str) -> None:
    """A remark: on standard error for people, among the notes of the JSON otherwise. The same is said once."""
    one = teller()
    if words in one.notes:
        return
    one.notes.append(words)
    if one.form == "words" and one.received is None and not one.quiet:
        written(sys.stderr, f"note: {words}")


def done(words: str) -> None:
    """That something was done: on standard error, for people who did not ask for quiet."""
    one = teller()
    if one.form == "words" and one.received is None and not one.quiet:
        written(sys.stderr, words)


def detail(words: str) -> None:
    """What only who asked for more wants to read."""
    if teller().verbose and teller().received is None:
        written(sys.stderr, words)


def fault(words: str) -> None:
    """Why nothing, or not all, came of it."""
    written(sys.stderr, f"avlet: {words}")


def event(kind: str, **facts: Any) -> None:
    """One line of JSON, for who asked for lines."""
    if teller().form == "lines" and teller().received is None:
        sys.stdout.write(json.dumps({"event": kind, **{k: v for k, v in facts.items() if v is not None}}, ensure_ascii=False) + "\n")
        sys.stdout.flush()


def facts(told: msgspec.Struct | dict[str, Any]) -> None:
    """All that a verb has to tell a program; the notes that were made on the way go with it."""
    one = teller()
    plain: dict[str, Any] = {k: v for k, v in msgspec.to_builtins(told).items() if v is not None or k not in _ABOUT}
    if one.notes:
        plain["notes"] = list(dict.fromkeys([*plain.get("notes", ()), *one.notes]))
    if one.received is not None:
        one.received.update(plain)
    elif one.form == "lines":
        event("done", **plain)
    elif one.form == "json":
        sys.stdout.write(json.dumps(plain, ensure_ascii=False, indent=2) + "\n")
        sys.stdout.flush()


def wants_json() -> bool:
    """Whether a program reads what is told."""
    return teller().form != "words" or teller().received is not None


def refuse_json_with_data() -> None:
    """Standard output holds one thing: raises ``AnswerError`` where both are asked for."""
    if wants_json():
        raise AnswerError("“-o -” sends the file to standard output, where --json tells: ask for one of them.")


_ABOUT = ("template", "cut", "library")
"""What a verb may be about: of these only what it is about is told."""

# Tables

_WIDEST = 100_000
"""Columns: where nobody looks at a screen, a line is as long as it is."""


def _console(**options: Any) -> "Console":
    """A printer of tables in which nothing is markup, and no code of a stranger's reaches the terminal."""
    from rich.console import Console
    from rich.text import Text

    class Printer(Console):
        def render_str(self, text: str, **more: Any) -> Text:
            return super().render_str(harmless(text), **more)

    return Printer(highlight=False, soft_wrap=True, markup=False, **options)


def table(title: str, columns: Sequence[str], rows: Sequence[dict[str, Any]]) -> None:
    """Some columns of rows, for people. On a narrow terminal cells take several lines; nothing is ever cut."""
    if wants_json():
        return
    from rich.measure import Measurement
    from rich.table import Table

    out = _console()
    made = Table(title=title, title_justify="left", title_style="bold")
    for column in columns:
        made.add_column(column, overflow="fold")
    for row in rows:
        made.add_row(*(in_a_cell(row[column]) for column in columns))
    needed = Measurement.get(out, out.options.update(max_width=_WIDEST), made).minimum
    width = max(needed, out.width) if out.is_terminal else _WIDEST
    _console(width=width, force_terminal=out.is_terminal).print(made)


def in_a_cell(value: Any) -> str:
    """A value as people write it: *yes* and *no*, whole numbers without a point, lists with commas."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float) and value.is_integer():
        return str(int(value))
    if value is None:
        return "–"
    if isinstance(value, list | tuple) and all(isinstance(item, str) for item in value):
        return ", ".join(value)
    return str(value).replace("\n", " / ")


# Long work


@contextlib.contextmanager
def work(what: str, total: float, unit: str = "frames") -> Iterator[Progress]:
    """Work of which one can see how far it is: a bar on a terminal, now and then a line elsewhere, events for programs."""
    one = teller()
    event("begin", what=what, of=total, unit=unit)
    if one.form == "words" and one.received is None and not one.quiet and sys.stderr.isatty():
        with _bar(what, total, unit) as shown_on_a_bar:
            yield shown_on_a_bar
        return
    begun = shown = time.monotonic()

    def tell(done: float, words: str = "") -> None:
        nonlocal shown
        every = _EVENTS if one.form == "lines" else _EVERY
        if one.received is not None or time.monotonic() - shown < every or done >= total:
            return
        shown = time.monotonic()
        event("progress", what=words or what, done=round(done, 2), of=total)
        if one.form == "words" and not one.quiet:
            written(sys.stderr, f"{words or what}: {done:.0f} of {total:.0f} {unit}")

    yield tell
    detail(f"{what}: {time.monotonic() - begun:.1f} s")


@contextlib.contextmanager
def _bar(what: str, total: float, unit: str) -> Iterator[Progress]:
    """A bar on standard error that goes away when it is done."""
    from rich.progress import BarColumn, Progress, Task, TextColumn, TimeRemainingColumn
    from rich.text import Text

    class Words(TextColumn):
        def render(self, task: Task) -> Text:
            return Text(harmless(task.description))

    done = TextColumn(f"{{task.completed}}/{{task.total}} {unit}")
    columns = (Words("{task.description}", markup=False), BarColumn(), done, TimeRemainingColumn())
    with Progress(*columns, console=_console(stderr=True), transient=True) as bar:
        task = bar.add_task(what, total=total)

        def tell(done: float, words: str = "") -> None:
            bar.update(task, completed=round(done, 2), description=words or what)

        yield tell
