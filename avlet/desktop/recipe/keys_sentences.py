"""The recipe's sentences on keys: what changes while the title runs, from what to what, and when that is done."""

from functools import partial

from PyQt6.QtWidgets import QWidget

from avlet.desktop.recipe.sentences import Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document.metadata import type_at
from avlet.document.parts import AnyPart
from avlet.document.targets import path_words
from avlet.document.time.keys import Keyed
from avlet.motion.keyed import key_time
from avlet.numbers.exact import in_figures


def keys_sentences(session: Session, part: AnyPart) -> list[QWidget]:
    """One sentence for each keyed property; a click on its last value shows the frame of that."""
    return [_sentence(session, part, keyed) for keyed in part.keys if keyed.keys]


def _sentence(session: Session, part: AnyPart, keyed: Keyed) -> QWidget:
    spans = session.scene().spans
    timed = sorted((key_time(key, spans), number, key.value) for number, key in enumerate(keyed.keys))
    values, last = [_words(value) for _, _, value in timed], round(timed[-1][0])
    say = Sentence(session, "time").words(path_words(part, keyed.path, type_at(part, keyed.path).label).lower())
    shown = " → ".join(values if len(values) < 4 else [values[0], "…", values[-1]])
    return say.button(f"{shown} by frame {last}", partial(session.go_to, last), f"keys {keyed.path}", "Go to its last key").widget


def _words(value: object) -> str:
    return f"{in_figures(value)}" if isinstance(value, int | float) else str(value)
