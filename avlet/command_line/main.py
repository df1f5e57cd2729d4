"""Where the command line begins and ends: words, verbs, faults, interruptions, exit statuses."""

import os
import re
import signal
import sys
import time
import traceback
import warnings
from importlib import import_module
from pathlib import Path
from typing import Annotated, NoReturn

import click
import typer

from avlet import __version__
from avlet.command_line.app import app
from avlet.command_line.helping import commands, nearest
from avlet.command_line.telling import fault, say, written
from avlet.errors import AvletError

DOES_NOT_HOLD, NOT_POSSIBLE = 1, 2
INTERRUPTED = {signal.SIGINT: 130, signal.SIGTERM: 143}
"""Exit statuses as shells have them: 128 and the signal's number."""
_TYPER_INTERRUPTED = 130
VERBS = {
    "info": "measures", "measure": "measures", "counts": "measures", "still": "pictures", "frames": "pictures", "render": "pictures",
    "reel": "pictures",
    "card": "cards", "set": "cards", "handover": "packages", "check": "packages", "library": "libraries", "credits": "lists",
    "insert": "inserting", "house": "houses",
    "proof": "proofs", "roster": "rosters", "cut": "cuts", "batch": "batch", "serve": "serving", "install": "installing",
}  # fmt: skip
"""The file of each verb, or of what verbs are about, in the order in which help has them."""
_TEMPLATES, _CUTS = ".avlet", ".otio"


@app.callback(invoke_without_command=True)
def start(ctx: typer.Context, version: Annotated[bool, typer.Option("--version", help="Print the version.")] = False) -> None:
    """Animated titles whose shapes size themselves to the words. Without a verb, avlet [FILE] opens the application."""
    if version:
        say(f"avlet {__version__}")
    elif ctx.invoked_subcommand is None:
        open_application(None)


def open_application(path: Path | None, demo: bool = False) -> None:
    """Start the desktop application; ends the process when its window closes."""
    from avlet.desktop.window.display import fault_of_display

    if words := fault_of_display():
        raise AvletError(words)
    from avlet.desktop.appearance import prepare
    from avlet.places import state_folder

    prepare(state_folder())
    from avlet.desktop.window.application import run

    run(path, demo)


@app.command("demo")
def demo() -> None:
    """Open the application with the demo library and the name strap on the stage."""
    open_application(None, demo=True)


def load_verbs(name: str | None = None) -> None:
    """Let all verbs join the application; only those of one file where their name is asked for: a start takes less then."""
    for file in (VERBS[name],) if name in VERBS else dict.fromkeys(VERBS.values()):
        import_module(f"avlet.command_line.{file}")


def plain_words(words: list[str]) -> list[str]:
    """What was typed, with ``--json lines`` as one option."""
    found: list[str] = []
    for word in words:
        if word == "lines" and found[-1:] == ["--json"]:
            found[-1] = "--json-lines"
        else:
            found.append(word)
    return found


def run_verb(words: list[str]) -> int:
    """Do what is asked for; the exit status. Raises what went wrong."""
    status = app(plain_words(words), prog_name="avlet", standalone_mode=False)
    if status == _TYPER_INTERRUPTED:
        raise KeyboardInterrupt
    return status if isinstance(status, int) else 0


def main() -> None:
    """Entry point. Ends with an exit status, and one readable message on standard error where something went wrong."""
    words = sys.argv[1:]
    load_verbs(next((word for word in words if not word.startswith("-")), None))
    if "-v" not in words and "--verbose" not in words:
        warnings.simplefilter("ignore")
    try:
        for number in INTERRUPTED:
            signal.signal(number, _interrupted)
        _open_what_is_named(words)
        status = run_verb(words)
        sys.stdout.flush()
    except (KeyboardInterrupt, typer.Abort):
        _end_interrupted()
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)  # who read has gone: nothing is left to be flushed
        sys.exit(DOES_NOT_HOLD)
    except click.exceptions.NoArgsIsHelpError as error:
        written(sys.stderr, error.format_message())
        sys.exit(NOT_POSSIBLE)
    except Exception as error:
        _end(NOT_POSSIBLE, in_words(error))
    if status:
        sys.exit(status)


def in_words(error: Exception) -> str:
    """What went wrong, as a sentence."""
    match error:
        case click.ClickException():
            return _misunderstood(error)
        case AvletError():
            return str(error)
        case RecursionError():
            return "the file nests too deeply to be a template."
    return _surprise(error)


def _misunderstood(error: click.ClickException) -> str:
    """A word that is no verb or option, one that lacks, or that is none of what it may be."""
    context = getattr(error, "ctx", None)
    path = (context.command_path if context is not None else "avlet").removeprefix("avlet").strip()
    asked = f"“avlet help {path}” tells more." if path in commands() else "“avlet help” tells all verbs."
    match error:
        case click.BadParameter(param=click.Parameter(type=click.IntRange() as span) as param) if type(error) is click.BadParameter:
            name = max(param.opts, key=len) if param.param_type_name == "option" else str(getattr(param, "metavar", param.name))
            most = f" to {span.max}" if span.max is not None else " on"
            return f"{name} is a whole number from {span.min or 0}{most}. {asked}"
        case click.NoSuchOption():
            near = f" Is it {' or '.join(sorted(error.possibilities))}?" if error.possibilities else ""
            return f"There is no option {error.option_name}.{near} {asked}"
        case click.MissingParameter() if error.param is not None:
            param = error.param
            name = " or ".join(sorted(param.opts, key=len)) if param.param_type_name == "option" else param.metavar or param.name
            return f"{name} is missing: {getattr(param, 'help', None) or 'it has to be said.'} {asked}"
    unknown = _NO_WORD.match(error.format_message())
    if unknown is not None and context is not None:
        return f"“{unknown[1]}” is no verb.{nearest(unknown[1], list(context.command.commands))} {asked}"
    return f"{error.format_message().rstrip('.')}. {asked}"


_NO_WORD = re.compile(r"No such command '(.*?)'")
"""How Typer names a verb that there is none of."""


def _open_what_is_named(words: list[str]) -> None:
    """``avlet FILE`` opens the application with it. Raises ``AvletError`` for what is neither a file nor a verb."""
    known = [*(str(one.name) for one in app.registered_commands), *(str(one.name) for one in app.registered_groups)]
    if not words or words[0] in known or words[0].startswith("-"):
        return
    path = Path(words[0])
    if len(words) > 1 or (not path.exists() and path.suffix.lower() not in (_TEMPLATES, _CUTS)):
        what = "is no verb" if len(words) > 1 else "is neither a file nor a verb"
        raise AvletError(f"“{words[0]}” {what}.{nearest(words[0], known)} The verbs: {', '.join(known)}.")
    open_application(path)


def _end(status: int, words: str) -> NoReturn:
    sys.stdout.flush()
    fault(words)
    sys.exit(status)


def _end_interrupted() -> NoReturn:
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # it is ending already
    exec("")  # Python remembers that an ``exec`` was interrupted, e.g. that of a dataclass, and would end by the signal for it
    _end(INTERRUPTED[_by], "stopped; nothing half-done was left.")


_PATIENCE = 3.0
"""Seconds in which a second interruption does not disturb the cleaning up after the first."""
_interrupted_at = -_PATIENCE
_by: signal.Signals = signal.SIGINT


def _interrupted(number: int, frame: object) -> None:
    """Being ended is being stopped: what is half written goes away."""
    global _interrupted_at, _by
    before, _interrupted_at = _interrupted_at, time.monotonic()
    if _interrupted_at - before > _PATIENCE:
        _by = signal.Signals(number)
        raise KeyboardInterrupt


def _surprise(error: Exception) -> str:
    """A fault of Avlet's own, in one sentence; the trace goes to a report file."""
    from avlet.document.metadata import brief
    from avlet.places import state_folder

    what = f"something went wrong inside Avlet ({type(error).__name__}: {brief(error)})"
    report = state_folder() / "faults.log"
    try:
        report.parent.mkdir(parents=True, exist_ok=True)
        with report.open("a") as file:
            traceback.print_exception(error, file=file)
    except OSError:
        return f"{what}."
    return f"{what}. Nothing was changed; the details are in {report}."


def quiet_libraries() -> None:
    """Send what libraries of other languages write to standard error nowhere; what Avlet says itself goes on there."""
    own = os.dup(2)
    os.set_inheritable(own, False)
    sys.stderr = os.fdopen(own, "w", buffering=1, encoding=sys.stderr.encoding, errors="backslashreplace")
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 2)
    os.close(nowhere)


def entry() -> None:
    """What the installed command and the module run."""
    words = sys.argv[1:]
    verbs = bool(words) and words[0] != "demo" and not Path(words[0]).exists()
    if verbs and "-v" not in words and "--verbose" not in words:
        quiet_libraries()
    main()
