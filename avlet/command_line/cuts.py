"""Verbs about cuts: render, add."""

from pathlib import Path
from typing import Annotated

import typer

from avlet.command_line.app import cut_app, verb
from avlet.command_line.options import AnswerFiles, CutFile, DryRun, File, Frames, Length, Library, NoOverwrite, OutFolder, Set
from avlet.command_line.outputs import path_of, refuse_written
from avlet.command_line.scenes import answers_given, frames_typed, opened
from avlet.command_line.telling import done, event, facts, note, say, work
from avlet.errors import AnswerError
from avlet.media.films import names_of


@verb(
    cut_app, "render",
    "avlet cut render episode.otio -o films",
    "avlet cut render episode.otio -o films --titles --codec png --json lines",
)  # fmt: skip
def render(
    file: CutFile, output: OutFolder, library: Library = None,
    codec: Annotated[str | None, typer.Option("--codec", metavar="NAME", help=f"For the titles: {names_of()}.")] = None,
    height: Annotated[int, typer.Option("--height", metavar="LINES", min=16, max=4320, help="Lines of the film to approve.")] = 720,
    frames: Frames = None,
    titles: Annotated[bool, typer.Option("--titles", help="The titles alone, without the film to approve.")] = False,
    prune: Annotated[bool, typer.Option("--prune", help="Remove films of this cut that no title wants any more.")] = False,
    dry_run: DryRun = False,
) -> None:  # fmt: skip
    """Render a cut: one film over the pictures, each title alone with alpha at the cut's size, and an .otio that points at those.

    Says each as it is finished. What is there already, and would be the same, is not made again: so the same command goes on where
    it was stopped.
    """
    from avlet.command_line.told import Written, Wrote
    from avlet.document.cut import in_shape
    from avlet.document.editing.naming import slug
    from avlet.errors import RenderError
    from avlet.media.films import FILMS, film_named
    from avlet.media.timeline import read_cut
    from avlet.places import library_folder
    from avlet.roster.cut_render import CutRender, open_titles
    from avlet.roster.roster import read_size

    film = film_named(codec) if codec is not None else FILMS[0]
    if film is None or film.over:
        raise RenderError(f"“{codec}” is no film with alpha. There are: {', '.join(one.name for one in FILMS if not one.over)}.")
    read = read_cut(file)
    cuts = [in_shape(read, *size) for size in dict.fromkeys(map(read_size, frames or ()))] or [read]
    folders = [library] if library is not None else [file.resolve().parent, library_folder()]
    wrote: list[Wrote] = []

    def each(path: Path, new: bool) -> None:
        wrote.append(Wrote(path=str(path), new=new))
        say(str(path))
        event("wrote", path=str(path), new=new)

    opened_ones, name, kind = open_titles(read, folders), slug(read.name), film.name if codec else None
    jobs = [CutRender(cut, opened_ones, output if len(cuts) == 1 else output / f"{cut.frame.width}x{cut.frame.height}", name, film.suffix,
                      kind, height, not titles, each) for cut in cuts]  # fmt: skip
    if dry_run:
        for job in jobs:
            for path, new in job.planned():
                each(path, new)
        facts(Written(verb="cut render", cut=read.name, wrote=tuple(wrote), dry_run=True))
        return
    said: dict[str, None] = {}
    gone: list[str] = []
    kept = begun = 0
    with work(f"Rendering {read.name}", sum(job.total for job in jobs)) as tell:
        for job in jobs:

            def progress(finished: int, words: str, begun: int = begun) -> bool:
                tell(begun + finished, words)
                return True

            made = job.run(progress)
            begun += job.total
            kept += made.kept
            said |= dict.fromkeys(made.said)
            if made.superseded and not prune:
                said["--prune removes what no title wants any more."] = None
            gone += job.prune() if prune else ()
    for words in said:
        note(words)
    if kept:
        done(f"{kept} of {len(wrote)} files were there already.")
    left = tuple(words for words in said if " is left out: " in words)
    told = Written(verb="cut render", cut=read.name, wrote=tuple(wrote), holds=not left, left_out=left, removed=tuple(gone))
    facts(told)
    if left:
        raise typer.Exit(1)


def place_typed(words: str) -> tuple[float, float]:
    """px right and down, as they are typed: *180,-40*. Raises ``AnswerError``."""
    from avlet.document.cut import MOST_MOVED

    try:
        across, down = (float(word) for word in words.split(","))
    except ValueError:
        raise AnswerError(f"--place {words!r} is no place. Write px right and down, such as 180,-40.") from None
    if not (abs(across) <= MOST_MOVED and abs(down) <= MOST_MOVED):
        raise AnswerError(f"--place {words} is too far: at most {MOST_MOVED:,.0f} px either way.")
    return across, down


def scale_typed(scale: float) -> float:
    """How large a title is shown, in per cent; raises ``AnswerError`` beyond what is possible."""
    from avlet.document.cut import LEAST_SCALE, MOST_SCALE
    from avlet.numbers.exact import in_figures

    if not LEAST_SCALE <= scale <= MOST_SCALE:
        raise AnswerError(f"--scale is from {in_figures(LEAST_SCALE)} to {in_figures(MOST_SCALE)} per cent.")
    return scale


@verb(
    cut_app, "add",
    "avlet cut add episode.otio name-strap.avlet --at 00:00:12:00 --length 5s --set name=\"Bo Li\" -o episode-2.otio",
)  # fmt: skip
def add(
    file: CutFile, template: File,
    at: Annotated[str, typer.Option("--at", metavar="TIME", help="Where on the cut it begins, as frames (50), “2 s”, or timecode.")],
    length: Length = None, answers: Set = None, files: AnswerFiles = None,
    track: Annotated[int, typer.Option("--track", metavar="N", min=1, max=2, help="On which of the tracks of words.")] = 1,
    place: Annotated[str, typer.Option("--place", metavar="X,Y", help="px of the cut by which it is moved, right and down.")] = "0,0",
    scale: Annotated[float, typer.Option("--scale", metavar="PERCENT", help="How large it is shown, about its own corner.")] = 100.0,
    reframe: Annotated[bool, typer.Option("--reframe", help="Bring its template to the shape of the cut.")] = False,
    output: Annotated[
        str | None, typer.Option("-o", "--output", metavar="OUT.otio", help="The cut to write; over CUT if left out.")
    ] = None,
    dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Put a title on a cut. All else in the file stays as it is."""
    import msgspec

    from avlet.command_line.told import Written, Wrote
    from avlet.document.cut import Title, frames_in_title, place_title, put_title
    from avlet.document.editing.naming import free_id
    from avlet.limits import MOST_FRAMES
    from avlet.media.timeline import read_cut, write_cut
    from avlet.numbers.lengths import is_timecode
    from avlet.numbers.timecode import timecode
    from avlet.places import library_folder
    from avlet.storage.handing_over import versions_of

    cut, one = read_cut(file), opened(template)
    rate, given = cut.frame.fps, answers_given(one.template, answers, files)
    if len(given) > 1:
        raise AnswerError(f"{len(given)} sets of answers were given; one title takes one.")
    begin = (frames_typed(at, rate) or 0) - (cut.start_time if is_timecode(at) else 0)
    if begin < 0:
        raise AnswerError(f"--at {at} lies before the beginning of the cut, which is {timecode(cut.start_time, rate)}.")
    typed = frames_typed(length, rate)
    frames = frames_in_title(one.template.length, one.template.frame.fps, rate) if typed is None else typed
    if not 1 <= frames <= MOST_FRAMES:
        raise AnswerError(f"A title has from 1 to {MOST_FRAMES:,} frames.")
    version = next((v.number for v in versions_of(template) if v.present), 0)
    title_id = free_id("title", {t.id for t in cut.titles})
    wanted = Title(title_id, template.name, begin, frames, given[0][1], version, track=track - 1, reframed=reframe)
    changed = place_title(put_title(cut, wanted), title_id, *place_typed(place), scale_typed(scale))
    placed = changed.title(title_id)
    assert placed is not None
    if placed.start != begin:
        note(f"There is no room at frame {begin} of that track: it begins at frame {placed.start}.")
    if not any((folder / template.name).exists() for folder in (file.resolve().parent, library_folder())):
        note(f"“{template.name}” lies neither beside the cut nor in your library. Name its library when the cut is rendered: --library.")
    target = file if output is None else path_of(output, ".otio", "A cut is an .otio")
    refuse_written([target], no_overwrite)
    if not dry_run:
        write_cut(msgspec.structs.replace(changed), target)
    say(f"{target}: {placed.id}, frames {placed.start} to {placed.end - 1}" + (", not written" if dry_run else ""))
    facts(Written(verb="cut add", cut=cut.name, template=one.template.name, wrote=(Wrote(path=str(target)),), dry_run=dry_run))
