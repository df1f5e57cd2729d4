"""The Typer application, and how a verb joins it: with its examples, and with the options that all verbs have."""

import functools
import inspect
from collections.abc import Callable, Sequence
from typing import Annotated, Any, TypeVar, cast

import typer

from avlet.command_line.telling import Teller, teller, telling

Verb = TypeVar("Verb", bound=Callable[..., Any])
NAMES = {"help_option_names": ["-h", "--help"]}
STATUSES = """\
Exit status: 0 done, 1 looked at and something does not hold, 2 not understood or not possible, 130 and 143 when interrupted."""

app = typer.Typer(
    add_completion=True, pretty_exceptions_enable=False, no_args_is_help=False, rich_markup_mode=None, context_settings=NAMES,
    help="Animated titles whose shapes size themselves to the words. Without a verb, avlet [FILE] opens the application.",
    epilog=f"“avlet help VERB” tells more of one. {STATUSES}",
)  # fmt: skip


def group(name: str, about: str) -> typer.Typer:
    """Verbs that are about one thing, such as lists of credits."""
    made = typer.Typer(no_args_is_help=True, rich_markup_mode=None, context_settings=NAMES, help=about)
    app.add_typer(made, name=name)
    return made


credits_app = group("credits", "Lists of credits: proofread one, and tell how fast it rolls.")
cut_app = group("cut", "Cuts: render one, and put titles on it.")
house_app = group("house", "The house: colours, gradients and text styles that templates share.")
library_app = group("library", "The library: what is in it, its versions, and going back to one.")
roster_app = group("roster", "One template, a table, many films.")

_JSON = Annotated[bool, typer.Option("--json", help="Tell it in JSON; “--json lines” tells one line an event.")]
_LINES = Annotated[bool, typer.Option("--json-lines", hidden=True)]
_QUIET = Annotated[bool, typer.Option("-q", "--quiet", help="Say nothing but what was asked for, and faults.")]
_VERBOSE = Annotated[bool, typer.Option("-v", "--verbose", help="Say what is going on.")]
_SHARED = {"as_json": _JSON, "as_lines": _LINES, "quiet": _QUIET, "verbose": _VERBOSE}


def verb(owner: typer.Typer, name: str, *examples: str) -> Callable[[Verb], Verb]:
    """A verb of the command line. ``examples`` are what is typed, one a line."""

    def register(function: Verb) -> Verb:
        @functools.wraps(function)
        def run(*args: Any, as_json: bool, as_lines: bool, quiet: bool, verbose: bool, **given: Any) -> Any:
            received, form = teller().received, "lines" if as_lines else "json" if as_json else "words"
            with telling(Teller(form, quiet, verbose, received=received)):  # type: ignore[arg-type]
                return function(*args, **given)

        signature = inspect.signature(function)
        more = [inspect.Parameter(n, inspect.Parameter.KEYWORD_ONLY, default=False, annotation=kind) for n, kind in _SHARED.items()]
        run.__signature__ = signature.replace(parameters=[*signature.parameters.values(), *more])  # type: ignore[attr-defined]
        run.__annotations__ = {**function.__annotations__, **_SHARED}
        owner.command(name, epilog=_examples(examples), context_settings=NAMES)(run)
        return function

    return cast("Callable[[Verb], Verb]", register)


def _examples(lines: Sequence[str]) -> str:
    return "\b\nExamples:\n" + "\n".join(f"  {line}" for line in lines) if lines else ""
