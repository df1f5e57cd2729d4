"""Help: of one verb, of all in a table, as a man page; all of it read off the commands themselves."""

import difflib
from collections.abc import Iterator
from typing import Annotated, Any

import typer
from typer.main import get_command

from avlet import __version__
from avlet.command_line.app import STATUSES, app, verb
from avlet.command_line.telling import facts, say, wants_json
from avlet.errors import AvletError


def commands() -> dict[str, Any]:
    """Every verb by what is typed for it, such as *cut render*."""
    from avlet.command_line.main import VERBS, load_verbs

    load_verbs()
    order = [*VERBS, "help", "demo"]
    found = list(_commands(get_command(app), ()))
    return dict(sorted(found, key=lambda one: order.index(one[0].split()[0])))


def _commands(one: Any, names: tuple[str, ...]) -> Iterator[tuple[str, Any]]:
    for name, inner in one.commands.items():
        if hasattr(inner, "commands"):
            yield from _commands(inner, (*names, name))
        elif not inner.hidden:
            yield " ".join((*names, name)), inner


def subject_and_options(command: Any) -> tuple[list[str], list[str]]:
    """What a verb is about, and its options' long names."""
    subjects = [
        (p.metavar or p.name) if p.required else f"[{p.metavar or p.name}]" for p in command.params if p.param_type_name == "argument"
    ]
    shown = [p for p in command.params if p.param_type_name == "option" and not p.hidden]
    return subjects, [max(p.opts, key=len) for p in shown]


def table() -> str:
    """All verbs with what they are about and what they take, as a table in Markdown."""
    rows = ["| verb | about | options |", "|---|---|---|"]
    common = ("--json", "--quiet", "--verbose")
    for name, one in commands().items():
        subjects, options = subject_and_options(one)
        own = " ".join(f"`{option}`" for option in options if option not in common)
        rows.append(f"| `{name}` | {' '.join(subjects)} | {own} |")
    every = " ".join(f"`{option}`" for option in common)
    return "\n".join(rows) + f"\n\nEvery verb also takes {every}.\n"


def nearest(words: str, known: list[str]) -> str:
    """The likest of known names, as a question; empty where none is like it."""
    found = difflib.get_close_matches(words, known, 1, 0.6)
    return f" Is it “{found[0]}”?" if found else ""


@verb(app, "help", "avlet help render", "avlet help roster check", "avlet help --man | man -l -")
def help_command(
    words: Annotated[list[str] | None, typer.Argument(metavar="VERB", help="The verb that is asked about; all if left out.")] = None,
    man: Annotated[bool, typer.Option("--man", help="Print the man page.")] = False,
    as_table: Annotated[bool, typer.Option("--table", help="Print all verbs with their options, as a table in Markdown.")] = False,
) -> None:  # fmt: skip
    """Tell how a verb is used, or all of them."""
    if man or as_table:
        say((man_page() if man else table()).rstrip("\n"))
        return
    name = " ".join(words or ())
    known = commands()
    root: Any = get_command(app)
    if wants_json():
        told = {one: dict(zip(("about", "options"), subject_and_options(command), strict=True)) for one, command in known.items()}
        facts({"verb": "help", "verbs": told})
        return
    if not name:
        say(root.get_help(_context(root, "avlet")))
        return
    one = known.get(name) or root.commands.get(name)
    if one is None:
        raise AvletError(f"There is no verb “{name}”.{nearest(name, list(known))} “avlet help” tells all.")
    say(one.get_help(_context(one, f"avlet {name}")))


def _context(command: Any, name: str) -> Any:
    return command.context_class(command, info_name=name, help_option_names=["-h", "--help"])


# The man page

_BEGIN = """\
.TH AVLET 1 "" "Avlet {version}" "User Commands"
.SH NAME
avlet \\- animated titles whose shapes size themselves to the words
.SH SYNOPSIS
.B avlet
[\\fIFILE\\fR]
.br
.B avlet
\\fIVERB\\fR [\\fISUBJECT\\fR...] [\\fIOPTION\\fR...]
.SH DESCRIPTION
Without a verb the application is opened, with FILE if one is named. The verbs do their work without a window.
.SH VERBS
"""


def man_page() -> str:
    """The manual page of all verbs, as groff sets it."""
    lines = _BEGIN.format(version=__version__).splitlines()
    for name, one in commands().items():
        subjects, _ = subject_and_options(one)
        lines += [f'.SS "avlet {name} {" ".join(subjects)}"', _roff(" ".join((one.help or "").split()))]
        for param in one.params:
            if param.param_type_name == "option" and not param.hidden and param.help:
                takes = f" \\fI{_roff(param.metavar)}\\fR" if param.metavar else ""
                lines += [".TP", f"\\fB{_roff(', '.join(sorted(param.opts, key=len)))}\\fR{takes}", _roff(param.help)]
        for example in (one.epilog or "").splitlines()[2:]:
            lines += [".PP", ".nf", _roff(example.strip()), ".fi"]
    return "\n".join([*lines, ".SH EXIT STATUS", _roff(STATUSES.removeprefix("Exit status: "))]) + "\n"


def _roff(words: str) -> str:
    """Words with what roff would read as its own made plain."""
    plain = words.replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{plain}" if plain[:1] in ".'" else plain
