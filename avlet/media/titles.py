"""A title on a cut: its scene, and what it and its film are called."""

from collections.abc import Callable
from fractions import Fraction

from avlet.document.cut import Cut, Title, frames_in_title
from avlet.document.editing.naming import slug
from avlet.document.fields import NumberField, TextField, words_of
from avlet.document.parts import CounterPart
from avlet.document.versions import carried_over
from avlet.numbers.exact import decimals_of, exact
from avlet.numbers.written import How, write
from avlet.paint.scene import Scene
from avlet.storage.package import Opened

SceneOf = Callable[[Title], Scene | str]
"""A title's scene at its length on the cut, or why there is none."""


def title_scene(title: Title, opened: Opened, cut_rate: Fraction) -> Scene:
    """A title's scene at its length on a cut, of a piece that of the whole. Raises ``AvletError``.

    Answers that its version has no place for are left aside.
    """
    frames = frames_in_title(title.whole, cut_rate, opened.template.frame.fps)
    answers = carried_over(opened.template, title.answers, {}).answers
    return Scene(opened.template, opened.book, answers, frames)


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


def film_name(cut: Cut, title: Title, opened: Opened) -> str:
    """What a title's film is called, without its ending: its number on the cut, and its words."""
    return f"{cut.titles.index(title) + 1:02}-{slug(words_of_title(title, opened))}"
