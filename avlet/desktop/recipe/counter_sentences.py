"""The recipe's sentences on a counter: what it counts and when, how it is written, how its figures change, what runs with it."""

from collections.abc import Callable
from typing import Any, get_args

from PyQt6.QtWidgets import QMenu, QWidget

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document.editing import counting
from avlet.document.editing.timing import moves_at
from avlet.document.metadata import type_at
from avlet.document.parts import Change, CounterPart, Keeps
from avlet.document.targets import path_words
from avlet.document.time.eases import READY_EASES, name_of_ease
from avlet.document.time.moves import Tie, Tied
from avlet.numbers.languages import USUAL, language_name
from avlet.numbers.written import Clock, DateStyle, Digits, Sign, Style, Width
from avlet.storage.kept import read_kept

_STYLES: dict[Style, str] = {
    "number": "a number", "percent": "a percentage", "money": "money", "unit": "a measure", "short": "a short number",
    "ordinal": "an ordinal", "year": "a year", "clock": "a clock", "timecode": "timecode", "date": "a date",
    "pattern": "a pattern of its own",
}  # fmt: skip
_TIES: dict[Tied, str] = {"after its start": "{} starts", "after its end": "{} is done", "ending with it": "{} is done, ending with it"}
_CHANGES: list[Choice] = [(words, words) for words in get_args(Change)]
_DECIMALS = ("number", "percent", "money", "unit", "short", "clock")


def count_sentences(session: Session, part: CounterPart) -> list[QWidget]:
    """From where to where it counts, and when."""
    say = Sentence(session, "time").words("from").exact(f"{part.id}/start", part.writing.language, part.step)
    say.words("to").exact(f"{part.id}/end", part.writing.language, part.step)
    say.words("in steps of").exact(f"{part.id}/step", part.writing.language, part.step)
    when = Sentence(session, "time")
    _begins(when, session, part)
    paces: list[Choice] = [("eased", "eased"), ("in real time", "in real time")]
    at = f"{part.id}/count"
    if part.count.pace == "eased":
        _lands(when, session, part)
        when.words(",")
    when.choice(part.count.pace, paces, lambda pace: session.write({f"{at}.pace": pace}), "count pace")
    if part.count.pace == "eased":
        eases: list[Choice] = list({**READY_EASES, **read_kept().eases}.items())
        when.choice(name_of_ease(part.count.ease), eases, _putter(session, part, "ease"), "count ease")
    else:
        when.words(", one whole number a second")
    return [say.widget, when.widget]


def _putter(session: Session, part: CounterPart, name: str) -> Callable[[Any], object]:
    return lambda value: session.edit(f"{part.name}: count", lambda t: counting.put_count(t, part.id, **{name: value}))


def _begins(say: Sentence, session: Session, part: CounterPart) -> None:
    """When it begins: so long after the beginning, or after what another part or counter does."""
    tie = part.count.tie
    choices: list[Choice] = [("the beginning", None)]
    for other in reversed(session.template.parts):
        counts = isinstance(other, CounterPart)
        if other.id != part.id and (counts or other.way_in or moves_at(other, "way_out.moves")):
            choices += [(_tied(other.name, how, counts), (other.id, how)) for how in get_args(Tied)]

    def put(to: Any) -> None:
        now = session.template.part(part.id)
        frames = now.count.tie.frames if isinstance(now, CounterPart) and now.count.tie is not None else 0.0
        _putter(session, part, "tie")(None if to is None else Tie(to[0], to[1], frames))

    leads = session.template.part(tie.on) if tie is not None else None
    shown = "the beginning" if tie is None or leads is None else _tied(leads.name, tie.how, isinstance(leads, CounterPart))
    say.words("starting").number(f"{part.id}/count.start" if tie is None else f"{part.id}/count.tie.frames")
    say.words("frames after").choice(shown, choices, put, "count tie")


def _tied(name: str, how: Tied, counts: bool) -> str:
    words = _TIES[how].format(name)
    return words.replace("starts", "begins to count").replace("is done", "has landed") if counts else words


def _lands(say: Sentence, session: Session, part: CounterPart) -> None:
    choices: list[Choice] = [("before the way out", "before the way out"), ("after that", "after")]
    shown = "after that" if part.count.lands == "after" else "before the way out"
    say.words(", landing").number(f"{part.id}/count.frames").words("frames")
    say.choice(shown, choices, lambda lands: session.write({f"{part.id}/count.lands": lands}), "count lands")


def writing_sentences(session: Session, part: CounterPart) -> list[QWidget]:
    """How it is written: as what, in which language, with which decimals, groups and signs."""
    writing, at = part.writing, f"{part.id}/writing"

    def put(name: str) -> Callable[[Any], object]:
        return lambda value: session.write({f"{at}.{name}": value})

    def one_of(say: Sentence, shown: str, options: Any, name: str) -> None:
        choices: list[Choice] = list(options) if isinstance(options, list) else [(str(o), o) for o in get_args(options)]
        say.choice(shown, choices, put(name), f"writing {name}")

    say = Sentence(session, "follow").words("as")
    one_of(say, _STYLES[writing.style], [(words, style) for style, words in _STYLES.items()], "style")
    if writing.style == "money":
        say.words("in").line(f"{at}.currency")
    if writing.style == "unit":
        say.words("in").line(f"{at}.unit")
    if writing.style == "pattern":
        say.line(f"{at}.pattern")
    if writing.style in ("money", "unit", "short"):
        one_of(say, writing.width, Width, "width")
    if writing.style == "clock":
        one_of(say, writing.clock, Clock, "clock")
    if writing.style == "date":
        one_of(say, writing.date, DateStyle, "date")
    if writing.style == "timecode" and session.template.frame.rate in ("30000/1001", "60000/1001"):
        one_of(say, "drop-frame" if writing.drop else "without drops", [("drop-frame", True), ("without drops", False)], "drop")
    say.words("in")
    one_of(say, language_name(writing.language), [(language_name(code), code) for code in USUAL], "language")
    say.words("with figures")
    one_of(say, writing.digits, Digits, "digits")
    more = Sentence(session, "follow")
    if writing.style in _DECIMALS:
        more.number(f"{at}.least_decimals").words("to").number(f"{at}.most_decimals").words("decimals,")
    if writing.style in ("number", "percent", "money", "unit", "short"):
        one_of(more, "in groups" if writing.grouping else "without groups", [("in groups", True), ("without groups", False)], "grouping")
        more.words(", at least").number(f"{at}.least_digits").words("whole digits, a sign")
        one_of(more, writing.sign, Sign, "sign")
    return [say.widget, more.widget] if writing.style in _DECIMALS else [say.widget]


def figure_sentences(session: Session, part: CounterPart) -> list[QWidget]:
    """How its figures stand and change."""
    say = Sentence(session, "follow").words("each")
    say.choice(
        part.figures, [(w, w) for w in ("as wide as the widest", "as the font sets them")], _writer(session, part, "figures"), "figures"
    )
    say.words(", kept at the").choice(part.keeps, [(w, w) for w in get_args(Keeps)], _writer(session, part, "keeps"), "keeps")
    change = Sentence(session, "time").words("changing").choice(part.change, _CHANGES, _writer(session, part, "change"), "figures change")
    if part.change != "at once":
        change.words("over").number(f"{part.id}/turning").words("frames at most (0: all the while)")
    if part.change.startswith("rolling"):
        blurs: list[Choice] = [("blurred by their speed", True), ("always sharp", False)]
        change.words(", wheels").choice(blurs[not part.blurred][0], blurs, _writer(session, part, "blurred"), "blurred wheels")
        edges: list[Choice] = [("soft edges", True), ("hard edges", False)]
        change.words("with").choice(edges[not part.soft_edges][0], edges, _writer(session, part, "soft_edges"), "soft-edged wheels")
    return [say.widget, change.widget]


def _writer(session: Session, part: CounterPart, name: str) -> Callable[[Any], object]:
    return lambda value: session.write({f"{part.id}/{name}": value})


def box_sentence(say: Sentence, session: Session, part: CounterPart) -> QWidget:
    """How large it is: as its widest number, or as its last."""
    choices: list[Choice] = [(words, words) for words in ("widest number", "last number")]
    say.words("holds the").choice(part.box, choices, _writer(session, part, "box"), "count box")
    if part.room is not None and part.room.width:
        say.words(", in").number(f"{part.id}/room.width").words("px, shrinking to").number(f"{part.id}/room.smallest_size").words("%")
    return say.widget


def run_sentences(session: Session, part: CounterPart) -> list[QWidget]:
    """What runs with the count: each property with its values at the begin and at the landing, and a word to add one."""
    said = []
    for other in reversed(session.template.parts):
        for number, run in enumerate(other.runs):
            if run.counter != part.id:
                continue
            kind = type_at(other, run.path)
            say = Sentence(session, "time").words(f"{other.name}: {path_words(other, run.path, kind.label)}, from")
            for name, then in (("first", "to"), ("last", kind.unit or " ")):
                target = f"{other.id}/runs.{number}.{name}"
                say = (say.colour if kind.kind == "colour" else say.number)(target).words(then)
            off = _run_off(session, other.id, run.path)
            said.append(
                say.button("×", off, f"run off {other.id}/{run.path}", f"Let {kind.label.lower()} of {other.name} run no more").widget
            )
    add = Sentence(session, "time")
    if not said:
        add.words("nothing yet;")
    add.menu("let a property run" if not said else "another property", lambda menu: _fill_runs(menu, session, part), "run with")
    return [*said, add.widget]


def _run_off(session: Session, part_id: str, path: str) -> Callable[[], object]:
    return lambda: session.edit("Runs no more", lambda t: counting.run_no_more(t, part_id, path))


def _fill_runs(menu: QMenu, session: Session, part: CounterPart) -> None:
    """All properties that can run, by part."""
    for other in reversed(session.template.parts):
        under = menu.addMenu(other.name)
        assert under is not None
        for path, label in counting.may_run(session.template, other.id):
            words = path_words(other, path, label)
            action = under.addAction(words[:1].upper() + words[1:])
            assert action is not None
            action.triggered.connect(
                lambda _=False, o=other.id, p=path: session.edit("Runs with a count", lambda t: counting.run_with(t, o, p, part.id))
            )
