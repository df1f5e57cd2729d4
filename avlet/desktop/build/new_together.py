"""Adding what goes together with what is selected: a second line, a rule at the edge, a bar that fills, words cut out of a bar."""

from collections.abc import Callable

from avlet.desktop.sessions.template_session import Session
from avlet.document.editing.completing import cut_out_bar, edge_rule, filled_with, plate_of, second_line, words_of_plate
from avlet.document.parts import TITLE_SAFE, CounterPart, TextPart
from avlet.document.template import Template
from avlet.layout.areas import frame_area


def add_second_line(session: Session) -> str | None:
    """A line under the selected words, or over them where there is no room, in the same house; its id, where it was made."""
    template = session.template
    chosen = words_of_plate(template, session.selected) if session.selected is not None else None
    texts = [p for p in template.parts if isinstance(p, TextPart)]
    first = chosen or (texts[-1] if texts else None)
    if first is None:
        session.refused.emit("There are no words yet that a second line could go with. T writes some.")
        return None
    plate, rest = plate_of(template, first.id), session.scene().rest
    box = rest.parts[plate.id if plate is not None else first.id].box
    below = box.bottom + rest.parts[first.id].box.h <= frame_area(TITLE_SAFE, template.frame).bottom
    return _made(session, f"Second line of {first.name}", lambda t: second_line(t, first.id, below))


def add_edge_rule(session: Session) -> None:
    """A rule beside all that is selected, which draws before that comes; with nothing selected, beside everything."""
    chosen = session.selection or tuple(p.id for p in session.template.parts if not p.locked)
    if not any(not part.lights for part in session.template.parts if part.id in chosen):
        session.refused.emit("There is nothing yet that a rule could stand beside. T writes words.")
        return
    _made(session, "Rule that draws first", lambda t: edge_rule(t, chosen))


def fill_with_count(session: Session, ring: bool = False) -> None:
    """A bar, or a ring, that fills with the selected counter, or with the one whose plate is selected."""
    template, part = session.template, session.part
    plated = part.fitted.around if part is not None and part.fitted is not None else ()
    named = [part, *(template.part(i) for i in plated)] if part is not None else list(reversed(template.parts))
    counter = next((p for p in named if isinstance(p, CounterPart)), None)
    if counter is None:
        session.refused.emit("Select the counter that something is to fill with. C makes one.")
        return
    _made(session, f"{counter.name}: {'ring' if ring else 'bar'}", lambda t: filled_with(t, counter.id, ring))


def cut_out_of_a_bar(session: Session) -> None:
    """The selected words cut out of a bar of their own."""
    chosen = tuple(i for i in session.selection if isinstance(session.template.part(i), TextPart))
    if not chosen:
        session.refused.emit("Select the words that are to be cut out of a bar.")
        return
    _made(session, "Cut out of a bar", lambda t: cut_out_bar(t, chosen))


def _made(session: Session, label: str, change: Callable[[Template], tuple[Template, str]]) -> str | None:
    made = [""]

    def edit(template: Template) -> Template:
        new, made[0] = change(template)
        return new

    if not session.edit(label, edit):
        return None
    session.select(made[0])
    return made[0]
