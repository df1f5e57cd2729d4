"""The recipe's sentence on size: how large a part is, and because of what."""

from PyQt6.QtWidgets import QWidget

from avlet.desktop.build.part_commands import take_apart
from avlet.desktop.recipe.place_sentences import AREA_WORDS, name_on, others
from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.desktop.sessions.template_session import Session
from avlet.document import edits
from avlet.document.parts import (
    AnyPart,
    EchoPart,
    Fit,
    GroupPart,
    Matte,
    PatternPart,
    Place,
    Remedy,
    Room,
    RulePart,
    TextPart,
    fit_of,
    members_of,
)
from avlet.layout.graph import fits_along

replace = edits.replace
_AXES = ("both ways", "width", "height")
_REMEDIES: dict[Remedy, str] = {"wrap": "wraps", "shrink": "shrinks", "squeeze": "is squeezed", "ellipsis": "ends in …"}
_WAYS: tuple[tuple[Remedy, ...], ...] = (
    (), ("wrap",), ("shrink",), ("squeeze",), ("ellipsis",), ("wrap", "shrink"), ("shrink", "wrap"), ("squeeze", "shrink"),
    ("wrap", "ellipsis"), ("shrink", "ellipsis"), ("wrap", "shrink", "ellipsis"), ("squeeze", "shrink", "wrap", "ellipsis"),
)  # fmt: skip


def size_sentence(session: Session, part: AnyPart) -> QWidget:
    """How large a part is, and because of what."""
    say = Sentence(session, "follow")
    if isinstance(part, TextPart):
        return _room_sentence(say, session, part)
    if isinstance(part, GroupPart):
        return _members_sentence(say, session, part)
    if isinstance(part, EchoPart):
        originals: list[Choice] = [(p.name, p.id) for p in others(session, part)]
        say.words("as large as").choice(
            session.template.name_of(part.of),
            originals,
            lambda of: session.edit(f"{part.name}: original", lambda t: edits.set_relations(t, part.id, of=of)),
            "echo of",
        )
        return say.words(", of which it is an echo;").number(f"{part.id}/later").words("frames later").widget
    fit = fit_of(part)
    if isinstance(part, PatternPart):
        say.words("copies").number(f"{part.id}/width").words("wide")
        if fit is None or part.lies != "in a row":
            say.words("and").number(f"{part.id}/height").words("high")
        say.words("," if fit is None else "that fill")
    if fit is None and isinstance(part, PatternPart):
        choices = [(name, (on,)) for name, on in _fit_targets(session, part)]
        return say.choice("fill…", choices, lambda around: _fill(session, part, around[0]), "fit around").widget
    if fit is None:
        first, second = ("width", "height") if not isinstance(part, RulePart) else ("length", "width")
        say.number(f"{part.id}/{first}").words("wide," if first == "width" else "long,")
        say.number(f"{part.id}/{second}").words("high, or" if first == "width" else "thick, or")
        choices = [(name, (on,)) for name, on in _fit_targets(session, part)]
        say.choice("fit around…", choices, lambda around: _fit(session, part, around), "fit around")
        return say.widget
    names = " and ".join(name_on(session, i) for i in fit.around)
    ticks = [(name, on, on in fit.around) for name, on in _fit_targets(session, part)]
    if not isinstance(part, PatternPart):
        _fit_verb(say, session, part, fit)
    say.several(names, ticks, lambda around: _fit(session, part, around), "fits around")
    sides = [s for s, axis in (("left", 0), ("right", 0), ("top", 1), ("bottom", 1)) if fits_along(part, 1 if axis else 0)]
    say.words("with")
    apart = part.id in session.sides_apart
    uneven = fit.left != fit.right or fit.top != fit.bottom
    if {"left", "right"} <= set(sides):
        _pair(say, part, ("left", "right"), fit.left == fit.right and not apart, ("at the sides", "left,", "right"))
    if {"top", "bottom"} <= set(sides):
        if "left" in sides:
            say.words("and")
        _pair(say, part, ("top", "bottom"), fit.top == fit.bottom and not apart, ("above and below", "above,", "below"))
    say.words("of its").choice(
        fit.box,
        [("line box", "line box"), ("capitals", "capitals"), ("ink", "ink")],
        lambda box: session.set_value(f"{part.id}/fit.box", box),
        "fit box",
    )
    if isinstance(part, RulePart):
        say.words(",").number(f"{part.id}/width").words("thick")
    if fit.least_width or fit.most_width:
        say.words("; between").number(f"{part.id}/fit.least_width").words("and").number(f"{part.id}/fit.most_width").words(
            "wide (0: no limit)"
        )
    if fit.least_height or fit.most_height:
        say.words("; between").number(f"{part.id}/fit.least_height").words("and").number(f"{part.id}/fit.most_height").words(
            "high (0: no limit)"
        )
    if fit.axes != "both ways":
        say.words(f"; its {fit.axes} only")
    if not fit.vanishes:
        say.words("; stays when they are empty")
    sides_option = ("sides alike", "alike") if apart or uneven else ("each side by itself", "apart")
    options: list[Choice] = [
        sides_option,
        ("stays when they are empty", "stay") if fit.vanishes else ("vanishes when they are empty", "vanish"),
        ("a least and a most width", "limits"),
        ("a least and a most height", "high limits"),
        ("just as large", "same"),
        ("a share of its size", "share"),
        *((f"fits {ways}" if ways == "both ways" else f"fits its {ways} only", ways) for ways in _AXES if ways != fit.axes),
        ("a size of its own", "own"),
    ]
    say.choice("…", options, lambda what: _fit_option(session, part, what), "fit options")
    return say.widget


def _room_sentence(say: Sentence, session: Session, part: TextPart) -> QWidget:
    """How much room words have, and what happens when they are too long."""

    def put(room: Room | None) -> None:
        session.edit(f"{part.name}: room", lambda t: edits.put_struct(t, part.id, "room", room))

    room = part.room
    if room is None:
        width = round(session.template.frame.width * 0.6)
        return say.words("as long as its words;").button("give it room…", lambda: put(Room(width=width)), "give room").widget
    at = f"{part.id}/room"
    say.words("at most").number(f"{at}.width").words("wide,").number(f"{at}.height").words("high,")
    say.number(f"{at}.lines").words("lines (0: no limit). Too long, it")
    shown = _remedy_words(room.remedies)
    choices: list[Choice] = [(_remedy_words(way), way) for way in _WAYS]
    say.choice(shown, choices, lambda way: put(replace(room, remedies=way)), "remedies")
    if "shrink" in room.remedies:
        say.words("down to").number(f"{at}.smallest_size").words("%")
    if "squeeze" in room.remedies:
        say.words("to a width of").number(f"{at}.smallest_width").words("%")
    if "wrap" in room.remedies:
        even: list[Choice] = [("full lines", False), ("even lines", True)]
        say.words("with").choice(
            "even lines" if room.balanced else "full lines", even, lambda v: put(replace(room, balanced=v)), "balanced"
        )
    return say.button("×", lambda: put(None), "no room").widget


def _remedy_words(remedies: tuple[Remedy, ...]) -> str:
    return ", then ".join(_REMEDIES[r] for r in remedies) or "runs on"


def _pair(say: Sentence, part: AnyPart, sides: tuple[str, str], alike: bool, words: tuple[str, str, str]) -> None:
    first, second = (f"{part.id}/fit.{side}" for side in sides)
    if alike:
        say.number(first, second).words(words[0])
    else:
        say.number(first).words(words[1]).number(second).words(words[2])


def _fit(session: Session, part: AnyPart, around: tuple[str, ...]) -> None:
    if not around:
        _fit_option(session, part, "own")
    else:
        session.edit(f"{part.name} fits around", lambda t: edits.fit_around(t, part.id, around))


def _fit_option(session: Session, part: AnyPart, what: str) -> None:
    fit = fit_of(part)
    assert fit is not None
    if what == "own":
        box = session.scene().rest.parts[part.id].box
        size = edits.own_size(part, box.w, box.h)
        places = {"across": part.across or Place(gap=box.x), "down": part.down or Place(gap=box.y)}
        session.edit(f"{part.name}: own size", lambda t: edits.set_relations(t, part.id, fit=None, **size, **places))
    elif what in ("stay", "vanish"):
        session.set_value(f"{part.id}/fit.vanishes", what == "vanish")
    elif what == "limits":
        limits = replace(fit, least_width=fit.least_width or 100.0, most_width=fit.most_width or round(session.template.frame.width * 0.8))
        session.edit(f"{part.name}: limits", lambda t: edits.set_relations(t, part.id, fit=limits))
    elif what == "high limits":
        limits = replace(fit, least_height=fit.least_height or 20.0, most_height=fit.most_height or session.template.frame.height)
        session.edit(f"{part.name}: limits", lambda t: edits.set_relations(t, part.id, fit=limits))
    elif what in ("same", "share"):
        share = 50.0 if what == "share" else 100.0
        same = replace(fit, left=0.0, right=0.0, top=0.0, bottom=0.0, share_width=share, share_height=share)
        session.edit(f"{part.name}: size", lambda t: edits.set_relations(t, part.id, fit=same))
    elif what in _AXES:
        session.set_value(f"{part.id}/fit.axes", what)
    elif what == "alike":
        session.sides_apart.discard(part.id)
        session.edit(
            f"{part.name}: sides alike", lambda t: edits.set_relations(t, part.id, fit=replace(fit, right=fit.left, bottom=fit.top))
        )
    else:
        session.sides_apart.add(part.id)
        session.selection_changed.emit()


def _fit_verb(say: Sentence, session: Session, part: AnyPart, fit: Fit) -> None:
    """*Fits around*, *is as large as*, or *is 50 % of the width and 100 % of the height of*."""
    padded = fit.left or fit.right or fit.top or fit.bottom
    if fit.share_width != 100 or fit.share_height != 100:
        say.words("is").number(f"{part.id}/fit.share_width").words("% of the width and").number(f"{part.id}/fit.share_height")
        say.words("% of the height of")
    else:
        say.words("fits around" if padded else "is as large as")


def _fit_targets(session: Session, part: AnyPart) -> list[tuple[str, str]]:
    """What a part can take its size from, by name: other parts and the areas of the frame."""
    return [(p.name, p.id) for p in others(session, part)] + [(words, area) for area, words in AREA_WORDS.items()]


def _fill(session: Session, part: PatternPart, inside: str) -> None:
    """Let a pattern fill a box from edge to edge."""
    fit = Fit((inside,), left=0.0, right=0.0, top=0.0, bottom=0.0)
    mattes = part.mattes if inside in AREA_WORDS else (Matte(inside),)
    session.edit(f"{part.name} fills", lambda t: edits.set_relations(t, part.id, fit=fit, across=None, down=None, mattes=mattes))


def _members_sentence(say: Sentence, session: Session, part: GroupPart) -> QWidget:
    names = [session.template.name_of(i) for i in reversed(members_of(session.template.parts, part.id))]
    say.words(f"holds {', '.join(names)}" if names else "holds nothing yet; drag parts under it")
    return say.button("take apart", lambda: take_apart(session), "take apart").widget
