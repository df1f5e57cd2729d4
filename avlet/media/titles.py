"""A title on a cut: its scene, and what it and its film are called."""

from collections.abc import Callable

from avlet.document.cut import Title, frames_in_title
from avlet.document.editing.naming import slug
from avlet.document.fields import NumberField, TextField, words_of
from avlet.document.parts import CounterPart
from avlet.document.template import Frame, Template
from avlet.document.versions import carried_over
from avlet.layout.other_frame import in_frame
from avlet.media.drawing import Drawing
from avlet.media.placing import view_of
from avlet.numbers.exact import decimals_of, exact
from avlet.numbers.written import How, write
from avlet.paint.scene import Scene
from avlet.storage.package import Opened

SceneOf = Callable[[Title], Scene | str]
"""A title's scene at its length on the cut, or why there is none."""


def template_on(title: Title, opened: Opened, cut: Frame) -> Template:
    """A title's template as it stands on a cut: as it is, or brought to the cut's own shape. Raises ``AnswerError``."""
    return in_frame(opened.template, (cut.width, cut.height)) if title.reframed else opened.template


def title_scene(title: Title, opened: Opened, cut: Frame) -> Scene:
    """A title's scene at its length on a cut, of a piece that of the whole. Raises ``AvletError``.

    Answers that its version has no place for are left aside.
    """
    template = template_on(title, opened, cut)
    frames = frames_in_title(title.whole, cut.fps, template.frame.fps)
    answers = carried_over(template, title.answers, {}).answers
    return Scene(template, opened.book, answers, frames)


def title_drawing(title: Title, scene: Scene, cut: Frame) -> Drawing:
    """A title as it is rendered alone: at the cut's size, where it lies on the cut."""
    return Drawing.of(scene, (cut.width, cut.height), view=view_of(title, scene, cut))


def words_of_title(title: Title, opened: Opened) -> str:
    """The first words that an editor typed, or the number that a counter counts to; the template's name if there are none."""
    counted = {wire.source for part in opened.template.parts if isinstance(part, CounterPart) for wire in opened.template.wires
               if wire.target == f"{part.id}/end"}  # fmt: skip
    for field in opened.template.card.fields:
        if isinstance(field, NumberField) and field.id in counted:
            number = exact(title.answers.get(field.id, field.start))
            return f"{opened.template.name} {write(number, How(most_decimals=min(9, decimals_of(number)))).words}"
        if isinstance(field, TextField):
            words = words_of(title.answers.get(field.id, field.start))
            if words.strip():
                return words.replace("\n", " / ")
    return opened.template.name


def film_name(title: Title) -> str:
    """What a title's film is called, without its ending: its own number, and its template. Other words do not change it."""
    return f"{number_words(title)}-{slug(title.template.removesuffix('.avlet'))}"


def number_words(title: Title) -> str:
    """A title's number as it is told: *T0012*."""
    return f"T{title.number:04}"
