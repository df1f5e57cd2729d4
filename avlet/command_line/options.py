"""Every argument and option of the command line, once: what it is called means the same with every verb."""

from pathlib import Path
from typing import Annotated

import typer

from avlet.media.films import names_of

PLATE_NAMES = "tide flats, reed beds, dusk"
_TIME = "as frames (50), “2 s”, or timecode"

# What verbs are about

File = Annotated[Path, typer.Argument(metavar="TEMPLATE", help="A template: NAME.avlet, a file or a folder.")]
ListFile = Annotated[Path, typer.Argument(metavar="LIST", help="A list of credits: CSV, TSV, XLSX or ODS.")]
MaybeList = Annotated[Path | None, typer.Argument(metavar="LIST", help="A list instead of the template's own.")]
TableFile = Annotated[Path, typer.Argument(metavar="TABLE", help="A table: CSV, TSV, XLSX or ODS. Its first line names columns.")]
CutFile = Annotated[Path, typer.Argument(metavar="CUT", help="A cut with titles: NAME.otio.")]
LibraryFolder = Annotated[Path | None, typer.Argument(metavar="LIBRARY", help="The library's folder; your own if left out.")]
Named = Annotated[str, typer.Argument(metavar="NAME", help="A template of the library, by its name or its file's.")]

# What a title says, and how long it is

Set = Annotated[list[str] | None, typer.Option("--set", metavar="FIELD=VALUE", help="Answer a field, by its id or label; again for more.")]
AnswerFiles = Annotated[
    list[Path] | None,
    typer.Option("--answers", metavar="FILE.json", help="Answers from a JSON file, or - for standard input; --set goes over them."),
]
Length = Annotated[str | None, typer.Option("--length", metavar="TIME", help=f"How long it is, {_TIME}; as designed if left out.")]
At = Annotated[str | None, typer.Option("--at", metavar="TIME", help=f"Which frame, {_TIME}; the hold's middle if left out.")]
Ats = Annotated[list[str] | None, typer.Option("--at", metavar="TIME", help=f"Which frame, {_TIME}; again for more.")]

# What is made

Out = Annotated[str, typer.Option("-o", "--output", metavar="OUT", help="What to write; - is standard output.")]
OutFolder = Annotated[Path, typer.Option("-o", "--output", metavar="DIR", help="The folder to write into.")]
Size = Annotated[str | None, typer.Option("--size", metavar="WxH", help="Picture size; the template's if left out.")]
Plate = Annotated[str | None, typer.Option("--plate", metavar="NAME", help=f"Put it over a made-up moving picture: {PLATE_NAMES}.")]
Codec = Annotated[str | None, typer.Option("--codec", metavar="NAME", help=f"{names_of()}; by the ending of OUT if left out.")]
Codecs = Annotated[list[str] | None, typer.Option("--codec", metavar="NAME", help=f"{names_of()}, or still; again for more.")]
Workers = Annotated[int | None, typer.Option("--workers", metavar="N", min=0, max=64, help="Processes to work with; 0: all cores but one.")]
DryRun = Annotated[bool, typer.Option("--dry-run", help="Do all but write, and say what would be written.")]
NoOverwrite = Annotated[bool, typer.Option("--no-overwrite", help="Refuse to write over a file that is there.")]
Strict = Annotated[bool, typer.Option("--strict", help="What is to be looked at counts like what breaks.")]

# Tables and libraries

Map = Annotated[
    list[str] | None,
    typer.Option("--map", metavar="COLUMN=FIELD", help="Which column leads to which field, or to nothing; again for more."),
]
ListMap = Annotated[
    list[str] | None, typer.Option("--map", metavar="COLUMN=MEANING", help="What a column of a list means: role, name …; again for more.")
]
Library = Annotated[Path | None, typer.Option("--library", metavar="DIR", help="The library's folder; your own if left out.")]
Note = Annotated[str, typer.Option("--note", metavar="WORDS", help="What is new, for the editors.")]
Into = Annotated[str | None, typer.Option("--list", metavar="FIELD", help="Which of a template's lists; the first if left out.")]
TokenFile = Annotated[Path | None, typer.Option("--token-file", metavar="FILE", help="A file with the token that the server asks for.")]
Frames = Annotated[
    list[str] | None, typer.Option("--frame", metavar="WxH", help="Another frame, such as 1080x1920; several make all in each.")
]
