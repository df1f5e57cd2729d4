"""Adding parts: what ``layout/adding`` makes beside what is selected becomes an edit, and is selected itself."""

from collections.abc import Callable
from pathlib import Path

from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.editing import counting
from avlet.document.parts import CounterPart, PictureFile
from avlet.errors import AnswerError
from avlet.layout.adding import forms, in_space, words
from avlet.layout.adding.selected import New, Selected
from avlet.motion.counting import counters_of


def selected_in(session: Session) -> Selected:
    """What is selected."""
    return Selected(session.template, session.part, tuple(session.selection), lambda: session.scene().rest)


def _add(session: Session, make: Callable[[Selected], New]) -> None:
    try:
        new = make(selected_in(session))
    except AnswerError as error:
        session.refused.emit(str(error))
        return
    if session.edit(new.words, new.change):
        session.select(new.id)


def _adds(make: Callable[[Selected], New]) -> Callable[[Session], None]:
    return lambda session: _add(session, make)


add_text, add_counter, add_credits = _adds(words.new_text), _adds(words.new_counter), _adds(words.new_credits)
add_shape, add_rule, add_gauge = map(_adds, (forms.new_shape, forms.new_rule, forms.new_gauge))
add_pattern, add_echo = _adds(forms.new_pattern), _adds(forms.new_echo)
add_ball, add_lamp = _adds(in_space.new_ball), _adds(in_space.new_lamp)


def add_picture(session: Session, path: Path) -> None:
    """A picture from a file."""
    try:
        picture = PictureFile(path.name, path.read_bytes())
    except OSError as error:
        session.refused.emit(f"“{path}” cannot be read: {error.strerror}.")
        return
    _add(session, lambda on: forms.new_picture(on, picture))


def count_with(session: Session) -> None:
    """The selected text, if it is a number, made into a counter that counts up to it; a counter made into words again."""
    part = session.part
    if isinstance(part, CounterPart):
        counted = counters_of(session.scene().choreography.movers)[part.id]
        words = f"{part.before}{counted.words_of(counted.moment(float('inf')))[1]}{part.after}"
        session.edit(f"{part.name} as words", lambda t: counting.text_from(t, part.id, words))
    elif part is not None:
        session.edit(f"{part.name} counts", lambda t: counting.counter_from(t, part.id, (NumberBox.language,)))
    else:
        session.refused.emit("Select the words that are to count, or the counter that is to be words.")
