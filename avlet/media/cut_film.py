"""A whole cut as one film to look at: pictures, titles over them, their sound; H.264 and AAC."""

from pathlib import Path

import av

from avlet.document.cut import Cut, frame_in_title
from avlet.errors import AvletError, RenderError
from avlet.media.footage import footage_at
from avlet.media.formats import add_stream, film_format, new_frame
from avlet.media.placing import view_of
from avlet.media.planes import fill_planes, memory_of
from avlet.media.plates import PLATES, paint_plate
from avlet.media.render import Progress, StoppedError
from avlet.media.sound import sample_of, sound_clips
from avlet.media.sound_track import SoundTrack
from avlet.media.titles import SceneOf
from avlet.paint.painter import Pixels, new_pixels
from avlet.storage.atomic import replacing


def paint_picture(cut: Cut, frame: int, pixels: Pixels) -> str:
    """Paint what the picture track shows in a frame, black where it shows nothing; says what is missing."""
    found = cut.clip_at(frame)
    pixels[...] = (0, 0, 0, 255)
    if found is None:
        return ""
    clip = cut.pictures[found[0]]
    seconds = float((found[1] + clip.start) / cut.frame.fps)
    if not clip.file:
        if clip.plate in PLATES:
            paint_plate(clip.plate, seconds, pixels)
        return ""
    footage = footage_at(Path(clip.file))
    if isinstance(footage, str):
        return footage
    try:
        pixels[...] = footage.picture(seconds, pixels.shape[1], pixels.shape[0])
    except AvletError as error:
        return str(error)
    return ""


def paint_cut(cut: Cut, frame: int, pixels: Pixels, scene_of: SceneOf) -> list[str]:
    """Paint a frame of a cut, titles over pictures; says what is missing."""
    said = [words for words in (paint_picture(cut, frame, pixels),) if words]
    for title in cut.titles_at(frame):
        scene = scene_of(title)
        if isinstance(scene, str):
            said.append(f"{title.id}: {scene}")
            continue
        inside = frame_in_title(frame - title.start + title.before, cut.frame.fps, scene.template.frame.fps, scene.length)
        scene.paint(inside, pixels, clear=False, view=view_of(title, scene, cut.frame))
    return said


def render_cut(cut: Cut, scene_of: SceneOf, output: Path, height: int, progress: Progress = lambda done, total: True) -> list[str]:
    """Write a cut as one ``.mp4`` with its sound; says once what was missing in it.

    Raises ``RenderError``, ``StoppedError``, ``StorageError``.
    """
    if cut.length < 1:
        raise RenderError("There is nothing on the cut yet. Put a picture or a title on it.")
    film = film_format(output, None, "a cut")
    if film is None or film.container != "mp4":
        raise RenderError(f"A whole cut is written as .mp4; “{output.name}” should end so.")
    height = max(2, height // 2 * 2)
    width = max(2, round(height * cut.frame.width / cut.frame.height / 2) * 2)
    pixels, said = new_pixels(width, height), dict[str, None]()
    clips = sound_clips(cut)
    try:
        with replacing(output) as temporary, av.open(str(temporary), "w", format=film.container) as container:
            stream = add_stream(container, film, cut.frame, width, height)
            track = SoundTrack(container, clips, said) if clips else None
            for number in range(cut.length):
                said.update(dict.fromkeys(paint_cut(cut, number, pixels, scene_of)))
                frame = new_frame(film.layout, width, height)
                planes = [memory_of(plane, film.layout.dtype)[: shape[0], : shape[1]]
                          for plane, shape in zip(frame.planes, film.layout.shapes(width, height), strict=True)]  # fmt: skip
                fill_planes(pixels, planes, film.layout)
                frame.pts, frame.time_base = number, 1 / cut.frame.fps
                container.mux(stream.encode(frame))
                if track is not None:
                    track.write(sample_of(number + 1, cut.frame.fps))
                if not progress(number + 1, cut.length):
                    raise StoppedError
            container.mux(stream.encode(None))
            if track is not None:
                track.end()
    except av.FFmpegError as error:
        raise RenderError(f"“{output.name}” could not be written ({error.strerror}). Nothing of it was left; try another size.") from None
    return list(said)
