"""Verbs that make pictures: still, frames, render."""

import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import AnswerFiles, Ats, Codec, DryRun, File, Length, NoOverwrite, Out, Plate, Set, Size, Workers
from avlet.command_line.outputs import is_standard_output, path_of, paths_of, refuse_written, send
from avlet.command_line.scenes import Titled, frame_of, plate_of, said, size_of, title, titles, workers_of
from avlet.command_line.telling import done, event, facts, work
from avlet.errors import AnswerError

if TYPE_CHECKING:
    from avlet.command_line.told import Wrote


@verb(
    app, "still",
    "avlet still name-strap.avlet --set name=\"Bo Li\" -o bo-li.png",
    "avlet still name-strap.avlet --at 12 --at 2s --answers guests.json -o \"stills/{answers}-{at}.png\"",
    "avlet still name-strap.avlet -o - | feh -",
)  # fmt: skip
def still(
    file: File, output: Out, at: Ats = None, answers: Set = None, files: AnswerFiles = None, length: Length = None, size: Size = None,
    plate: Plate = None, dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Write frames as PNGs, with transparency unless a plate is named.

    Several --at, and several sets of answers, make several stills: OUT is then a folder, or a pattern with {answers} and {at} in it.
    """
    from avlet.command_line.told import Wrote
    from avlet.media.drawing import Drawing, Painter
    from avlet.media.render import png_bytes
    from avlet.storage.atomic import write_whole

    opened, found = titles(file, answers, files, length)
    over, shape = plate_of(plate), size_of(size, opened.template.frame)
    each = [(one, frame) for one in found for frame in dict.fromkeys(frame_of(one.scene, words) for words in at or (None,))]
    streamed = is_standard_output(output)
    if streamed and len(each) > 1:
        raise AnswerError(f"{len(each)} pictures do not go to standard output; name a folder.")
    paths = [] if streamed else paths_of(output, ".png", "A still is a PNG", file.stem, [_named(one, frame) for one, frame in each])
    refuse_written(paths, no_overwrite)
    wrote: list[Wrote] = []
    with work(f"Stills of {opened.template.name}", len(each), "stills") as tell:
        for number, (one, frame) in enumerate(each):
            drawing = Drawing.of(one.scene, shape, over)
            if streamed:
                send(png_bytes(Painter(drawing).paint(frame)))
                continue
            if not dry_run:
                write_whole(paths[number], png_bytes(Painter(drawing).paint(frame)))
                event("wrote", path=str(paths[number]), frame=frame)
            called = one.called or None
            wrote.append(Wrote(path=str(paths[number]), frame=frame, answers=called, width=drawing.width, height=drawing.height))
            tell(number + 1, paths[number].name)
    for one in found:
        said(opened, one.scene)
    _tell("still", opened.template.name, wrote, dry_run)


def _named(one: Titled, frame: int) -> tuple[str, str]:
    return one.called or "as-designed", f"{frame:05}"


def _tell(name: str, template: str, wrote: "list[Wrote]", dry_run: bool) -> None:
    """What was written, or would be."""
    from avlet.command_line.told import Written

    for one in wrote if dry_run else ():
        done(f"Would write {one.path}.")
    facts(Written(verb=name, template=template, wrote=tuple(wrote), dry_run=dry_run))


@verb(
    app, "frames",
    "avlet frames name-strap.avlet -o sheet.png",
    "avlet frames name-strap.avlet --set name=\"Bo Li\" --columns 9 --whole -o sheet.png",
)  # fmt: skip
def frames(
    file: File, output: Out, answers: Set = None, files: AnswerFiles = None, length: Length = None, plate: Plate = None,
    columns: Annotated[int, typer.Option("--columns", metavar="N", min=1, max=24, help="Frames in a row.")] = 6,
    whole: Annotated[bool, typer.Option("--whole", help="Show the whole frame, not what is drawn, large.")] = False,
    dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Write a contact sheet: every frame of the way in, some of the hold, every frame of the way out."""
    from avlet.command_line.told import Wrote
    from avlet.media.sheets import contact_sheet
    from avlet.storage.atomic import write_whole

    opened, scene = title(file, answers, files, length)
    over, streamed = plate_of(plate), is_standard_output(output)
    path = None if streamed else path_of(output, ".png", "A contact sheet is a PNG")
    refuse_written([path] if path is not None else [], no_overwrite)
    if path is None or not dry_run:
        sheet = contact_sheet(scene, columns, over, whole=whole)
        if path is None:
            send(sheet)
        else:
            write_whole(path, sheet)
    said(opened, scene)
    _tell("frames", opened.template.name, [Wrote(path=str(path))] if path is not None else [], dry_run)


@verb(
    app, "render",
    "avlet render name-strap.avlet --set name=\"Bo Li\" -o bo-li.mov",
    "avlet render name-strap.avlet --answers bo-li.json --length 6s --codec webm -o bo-li.webm",
    "avlet render name-strap.avlet --codec over --plate dusk -o look.mp4",
    "avlet render name-strap.avlet --codec qtrle -o - > bo-li.mov",
)  # fmt: skip
def render(
    file: File, output: Out, answers: Set = None, files: AnswerFiles = None, length: Length = None, size: Size = None,
    codec: Codec = None, plate: Plate = None, workers: Workers = None, dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Render a title with transparency, or over a plate to look at: .mov, .webm, .mp4 over a plate, or a folder of PNGs."""
    from avlet.command_line.told import Wrote
    from avlet.media.drawing import Drawing
    from avlet.media.films import film_named
    from avlet.media.formats import film_format
    from avlet.media.plates import PLATES
    from avlet.media.render import render as write

    film = None if codec is None else film_named(codec)
    streamed = is_standard_output(output)
    path = Path(f"film{film.suffix if film is not None else '.mov'}") if streamed else path_of(output, "", "")
    opened, scene = title(file, answers, files, length)
    over = plate_of(plate) or (PLATES[0] if film is not None and film.over else None)
    drawing = Drawing.of(scene, size_of(size, opened.template.frame), over)
    film_format(path, codec, drawing.plate)
    refuse_written([] if streamed else [path], no_overwrite)
    wrote = Wrote(path=str(path), frames=scene.length, width=drawing.width, height=drawing.height)
    if not dry_run:
        with tempfile.TemporaryDirectory(prefix="avlet-") as folder, work(f"Rendering {path.name}", scene.length) as tell:

            def progress(finished: int, total: int) -> bool:
                tell(finished, "")
                return True

            made = write(drawing, Path(folder) / path.name if streamed else path, codec, progress, workers_of(workers))
            if streamed:
                send(made.path.read_bytes())
        wrote = Wrote(path=str(path), frames=made.frames, different=made.drawn, width=drawing.width, height=drawing.height)
        if not streamed:
            done(f"Wrote {made.path}: {made.frames} frames, {made.drawn} of them different.")
            event("wrote", path=str(path), frames=made.frames)
    said(opened, scene)
    _tell("render", opened.template.name, [] if streamed else [wrote], dry_run)


@verb(
    app, "reel",
    "avlet reel name-strap.avlet --set name=\"Bo Li\" -o bo-li-reel",
    "avlet reel name-strap.avlet --size 960x540 -o small",
)  # fmt: skip
def reel(
    file: File, output: Out, answers: Set = None, files: AnswerFiles = None, length: Length = None, size: Size = None,
    dry_run: DryRun = False, no_overwrite: NoOverwrite = False,
) -> None:  # fmt: skip
    """Write a title as pictures for whoever cannot paint: each different one once, as WebP, and reel.json, which says when each shows."""
    from avlet.command_line.outputs import folder_of
    from avlet.command_line.told import Wrote
    from avlet.media.drawing import Drawing
    from avlet.media.reel import write_reel

    if is_standard_output(output):
        raise AnswerError("A reel is a folder of pictures and does not go to standard output.")
    path = folder_of(path_of(output, "", ""))
    opened, scene = title(file, answers, files, length)
    drawing = Drawing.of(scene, size_of(size, opened.template.frame))
    refuse_written([path], no_overwrite)
    wrote = Wrote(path=str(path), frames=scene.length, width=drawing.width, height=drawing.height)
    if not dry_run:
        with work(f"A reel of {opened.template.name}", scene.length) as tell:

            def progress(finished: int, total: int) -> bool:
                tell(finished, "")
                return True

            made = write_reel(drawing, path, progress)
        weight = sum(picture.bytes for picture in made.pictures)
        wrote = Wrote(path=str(path), frames=made.length, different=len(made.pictures), width=made.width, height=made.height)
        done(f"Wrote {path}: {made.length} frames from {len(made.pictures)} pictures, {weight / 1e6:.1f} MB.")
        event("wrote", path=str(path), frames=made.length)
    said(opened, scene)
    _tell("reel", opened.template.name, [wrote], dry_run)
