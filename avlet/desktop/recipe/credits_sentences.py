"""The recipe's sentences on credits: how they move and at which pace, how calm, and how their columns lie."""

from collections.abc import Callable, Generator
from typing import Any, get_args

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLabel, QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.desktop.widgets.numbers import NumberBox
from avlet.document.editing.edits import replace
from avlet.document.parts import CreditsPart
from avlet.document.parts.credits import How, Lies, Stands, TooLong, Towards
from avlet.motion.credits import MovingList, lists_of
from avlet.motion.rolling import axis_of, whole_lengths
from avlet.numbers.exact import about
from avlet.paint.shimmer import Calm
from avlet.review.rolls import advice, calm_in_bit_by_bit

_MOVES: dict[How, str] = {
    "rolls up": "rolls up", "rolls down": "rolls down", "pages": "in pages", "crawls": "crawls by in one line", "stands": "stands still",
}  # fmt: skip
_FROM = {"off the frame": "off the frame", "in the middle": "its first block in the middle", "at its place": "where it stands"}
_TO = {"off the frame": "off the frame", "in the middle": "its last block in the middle", "at its place": "where it stands"}
_WAIT = 250
"""ms after the last change until it is computed how calm a roll is."""


def _writer(session: Session, part: CreditsPart, path: str) -> Callable[[Any], object]:
    return lambda value: session.write({f"{part.id}/{path}": value})


def _one_of(say: Sentence, session: Session, part: CreditsPart, path: str, options: dict[Any, str], shown: Any) -> Sentence:
    choices: list[Choice] = [(words, value) for value, words in options.items()]
    return say.choice(options[shown], choices, _writer(session, part, path), path)


def _plain(options: Any) -> dict[Any, str]:
    return {option: str(option) for option in get_args(options)}


def moving_of(session: Session, part: CreditsPart) -> MovingList | None:
    """A list as it moves on the stage."""
    return lists_of(session.scene().choreography.movers).get(part.id)


def move_sentences(session: Session, part: CreditsPart) -> list[QWidget]:
    """How it moves, from where to where."""
    movement, at = part.movement, f"{part.id}/movement"
    say = _one_of(Sentence(session, "time"), session, part, "movement.how", _MOVES, movement.how)
    if movement.how == "stands":
        return [say.widget]
    if movement.how == "pages":
        say.words(", each read at").number(f"{at}.reading").words("words a minute, and there for").number(f"{at}.least")
        return [say.words("frames at least").widget, *_page_sentence(session, part)]
    _one_of(say.words("from"), session, part, "movement.begins", _FROM, movement.begins)
    _one_of(say.words("to"), session, part, "movement.ends", _TO, movement.ends)
    held = Sentence(session, "time").words("held for").number(f"{at}.held_first").words("frames at first and")
    held.number(f"{at}.held_last").words("at last; soft over").number(f"{at}.soft").words("frames at both ends")
    fades = Sentence(session, "time").words("fading in over").number(f"{at}.fades_in").words("frames, out over").number(f"{at}.fades_out")
    fades.words("; each row within").number(f"{at}.edge").words("px of the frame's edges")
    said = [say.widget, held.widget, fades.widget]
    if movement.how == "crawls":
        sign = Sentence(session, "follow").line(f"{at}.separator").words("between entries,").number(f"{at}.apart").words("px on each side")
        said.append(sign.widget)
    return said


def _page_sentence(session: Session, part: CreditsPart) -> list[QWidget]:
    """How many pages there are, and a way back from those whose stay was set by hand."""
    moving = moving_of(session, part)
    if moving is None or not moving.windows:
        return []
    stays = [w.frames for w in moving.windows]
    say = Sentence(session, "time").words(f"{len(stays)} pages, each for {min(stays)} to {max(stays)} frames")
    leads: list[Choice] = [("the title’s length is shared", "length"), ("reading leads the length", "speed")]
    say.words(";").choice(leads[part.movement.leads == "speed"][0], leads, lambda what: _lead(session, part, what), "movement.leads")
    if part.movement.stays:
        many = len(part.movement.stays)
        say.button(
            f"{many} set by hand ×",
            lambda: session.change(f"{part.id}/movement", lambda m: replace(m, stays=()), f"{part.name}: pages as they are read"),
            "stays by hand",
            "Let all pages stay as long as their words need",
        )
    return [say.widget]


def pace_sentences(session: Session, part: CreditsPart) -> list[QWidget]:
    """How fast it goes, and the lengths at which that is a whole number of px."""
    moving = moving_of(session, part)
    if moving is None or moving.roll is None or moving.ends is None:
        return []
    movement, fps = part.movement, float(session.template.frame.fps)
    say = Sentence(session, "time")
    leads: list[Choice] = [("the length leads", "length"), ("the speed leads", "speed")]
    say.choice(leads[movement.leads == "speed"][0], leads, lambda what: _lead(session, part, what), "movement.leads")
    if movement.leads == "speed":
        say.words(":").number(f"{part.id}/movement.speed").words(f"px a frame, so {moving.length} frames, {moving.length / fps:.2f} s")
    else:
        length = NumberBox(session.template.length, 1, 1_000_000, 1, whole=True).takes_times(session.template.frame.fps)
        length.setProperty("chip", "time")
        length.setObjectName("pace length")
        length.setAccessibleName("Length in frames")
        length.value_changed.connect(lambda v: set_length(session, int(v), ("pace", id(length))))
        length.finished.connect(session.history.close_gesture)
        say.words(":").add(length).words(f"frames, {moving.length / fps:.2f} s, {about(moving.roll.speed)} px a frame")
    size = (session.template.frame.width, session.template.frame.height)[axis_of(part)]
    said = [say.widget]
    if movement.leads == "length":
        for words, even in (("whole px:", False), ("even px:", True)):
            offers = Sentence(session, "time").words(words)
            found = whole_lengths(movement, moving.ends, moving.length, even=even)
            for offer in found:
                here = offer.length == moving.length
                offers.button(
                    f"{offer.speed} · {offer.length / fps:.1f} s" + (" ✓" if here else ""), _to_length(session, offer.length),
                    f"{words[:-1]} {offer.speed}", f"{offer.speed} px a frame in {offer.length} frames",
                )  # fmt: skip
            if found:
                said.append(offers.widget)
    seen = Sentence(session, "time").words(f"a line is seen for {size / max(moving.roll.speed, 1e-9) / fps:.1f} s")
    return [*said, seen.widget]


def _to_length(session: Session, length: int) -> Callable[[], object]:
    return lambda: set_length(session, length)


def set_length(session: Session, length: int, gesture: object = None) -> bool:
    """Let the title be so long."""
    return session.edit("Length", lambda t: replace(t, length=length), gesture)


def _lead(session: Session, part: CreditsPart, what: str) -> None:
    """Let the length or the speed lead; the speed begins with the present one."""
    moving = moving_of(session, part)
    values: dict[str, Any] = {f"{part.id}/movement.leads": what}
    if what == "speed" and moving is not None and moving.roll is not None and part.movement.leads == "length":
        values[f"{part.id}/movement.speed"] = round(max(0.05, moving.roll.speed), 4)
    session.write(values, None, f"{part.name}: the {what} leads")


def calm_sentences(session: Session, part: CreditsPart) -> list[QWidget]:
    """How soft it is along its movement, and how calm that makes it."""
    if not part.rolls:
        return []
    way = "upright" if part.movement.how != "crawls" else "level"
    say = Sentence(session, "follow").words("softened by").number(f"{part.id}/softened").words(f"px, {way} only")
    return [say.widget, CalmLine(session, part.id)]


class CalmLine(QLabel):
    """How calm a roll is, computed a little after the last change and bit by bit, so that nothing waits for it."""

    def __init__(self, session: Session, part_id: str) -> None:
        super().__init__("…")
        self.session, self.part_id = session, part_id
        self.setWordWrap(True)
        self.setObjectName("calm")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._begin)
        self._work = QTimer(self)
        self._work.timeout.connect(self._go_on)
        self._working: Generator[None, None, Calm | None] | None = None
        session.changed.connect(self._later)
        self._timer.start(0)

    def _later(self) -> None:
        self._work.stop()
        self._timer.start(_WAIT)

    def _begin(self) -> None:
        self._working = calm_in_bit_by_bit(self.session.scene(), self.part_id)
        self._work.start(0)

    def _go_on(self) -> None:
        assert self._working is not None
        try:
            next(self._working)
        except StopIteration as end:
            self._work.stop()
            self._show(end.value)

    def _show(self, calm: Calm | None) -> None:
        moving = lists_of(self.session.scene().choreography.movers).get(self.part_id)
        if calm is None or moving is None:
            self.setText("nothing moves")
            return
        stroke = f"thinnest stroke {calm.thinnest:.1f} px: " if calm.thinnest else ""
        calmer = advice(moving, calm)
        self.setText(f"{stroke}{calm.word} ({calm.shimmer:.2f})" + (f". Calmer with {', or '.join(calmer)}." if calmer else ""))


def column_sentences(session: Session, part: CreditsPart) -> list[QWidget]:
    """Where roles and names meet, and how rows stand apart."""
    if part.movement.how == "crawls":
        return []
    at = part.id
    say = _one_of(Sentence(session, "follow").words("roles and names"), session, part, "lies", _plain(Lies), part.lies)
    said = [say.number(f"{at}/width").words("px wide").widget]
    if part.lies == "side by side":
        meet = Sentence(session, "follow").words("meeting at").number(f"{at}/axis").words("%, with").number(f"{at}/role_gap")
        said.append(meet.words("px before and").number(f"{at}/name_gap").words("after").widget)
        lie = _one_of(Sentence(session, "follow").words("roles"), session, part, "roles_lie", _plain(Towards), part.roles_lie)
        _one_of(lie.words(", names"), session, part, "names_lie", _plain(Towards), part.names_lie)
        _one_of(lie.words("; a long one"), session, part, "too_long", _plain(TooLong), part.too_long)
        lie.words("at").number(f"{at}/role_width").words("and").number(f"{at}/name_width").words("px (0: at the edge)")
        said.append(lie.widget)
    other = _one_of(
        Sentence(session, "follow").words("headings and words at the"), session, part, "others_lie", _plain(Stands), part.others_lie
    )
    other.words(", columns of names").number(f"{at}/column_gap").words("px apart")
    gaps = Sentence(session, "follow").number(f"{at}/row_gap").words("px between rows,").number(f"{at}/heading_gap")
    gaps.words("after a heading,").number(f"{at}/section_gap").words("before one")
    return [*said, other.widget, gaps.widget]
