"""Titles at the markers of a timeline from elsewhere: worked out, shown before they are made, and brought up to date later.

A title remembers what its marker gave it (``Title.marked``). Done again, only what changed at the marker changes on the title; what an
editor typed since stays.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Any, Literal, NamedTuple

from avlet.document.cards.answers import NO_FILES
from avlet.document.cards.typed_answers import read_typed
from avlet.document.cut import Cut, Title, frames_in_title, free_track, put_title, replace
from avlet.document.editing.naming import free_id
from avlet.document.fields import Field, TextField
from avlet.document.template import Template
from avlet.errors import AnswerError
from avlet.media.theirs import Mark
from avlet.numbers.typed import ENGLISH

Lasts = Literal["template", "next", "marker"]
"""How long a title lasts: as its template does, up to the next marker, or as long as the marker marks."""


class AtMark(NamedTuple):
    """What becomes of one marker: the title's id, what is done (*new*, *moved*, *other words*, *as it is*), and what does not fit."""

    mark: Mark
    title: str
    done: str
    said: tuple[str, ...] = ()


class Marked(NamedTuple):
    """The cut with its titles, marker by marker, and the titles whose markers are gone."""

    cut: Cut
    marks: tuple[AtMark, ...]
    gone: tuple[str, ...] = ()


def chosen_marks(marks: Iterable[Mark], colour: str = "", track: str | None = None) -> list[Mark]:
    """The markers of a colour, of a track, or all of them."""
    return [mark for mark in marks if colour in ("", mark.colour) and track in (None, mark.track)]


def read_mark(
    template: Template, mark: Mark, cells: Sequence[str] | None = None, languages: Sequence[str] = ENGLISH
) -> tuple[dict[str, Any], list[str]]:
    """The answers that a marker gives, and what of it does not fit.

    Its name goes into the first field for words, ``field: value`` in the lines of its comment into others, by label or id. ``cells``, a row
    of a table, go into the fields for words in their order instead, before what the comment says of them.
    """
    answers: dict[str, Any] = {}
    said: list[str] = []
    words = [field for field in template.card.fields if isinstance(field, TextField)]
    typed: list[tuple[Field | None, str, str]] = []
    if cells is None and words and mark.name.strip():
        typed.append((words[0], words[0].label, mark.name.strip()))
    by_name = {name.casefold(): f for f in template.card.fields if f.asks for name in (f.id, f.label)}
    for line in mark.comment.splitlines():
        name, colon, value = line.partition(":")
        if colon and value.strip():
            typed.append((by_name.get(name.strip().casefold()), name.strip(), value.strip()))
    if cells is not None:
        typed += [(field, field.label, cell) for field, cell in zip(words, cells, strict=False) if cell.strip()]
    for field, name, value in typed:
        if field is None:
            said.append(f"“{name}” is no field of {template.name}.")
            continue
        try:
            answers[field.id] = field.checked(read_typed(template, field, value, NO_FILES, languages), template.palette)
        except AnswerError as error:
            said.append(str(error))
    return answers, said


def titles_at(
    cut: Cut, marks: Sequence[Mark], file_name: str, template: Template, version: int = 0, lasts: Lasts = "template",
    rows: Sequence[Sequence[str]] | None = None, languages: Sequence[str] = ENGLISH,
) -> Marked:  # fmt: skip
    """A title of a template at each marker, in order; those that were made before are brought up to date."""
    known = {_key(title.marked): title for title in cut.titles if title.marked and title.template == file_name}
    rows = None if rows is None else without_heads(rows, template)
    names: Counter[str] = Counter()
    found: list[AtMark] = []
    for number, mark in enumerate(marks):
        names[mark.name] += 1
        cells = None if rows is None else rows[number] if number < len(rows) else []
        answers, said = read_mark(template, mark, cells, languages)
        if cells == []:
            said.append("The table has no row for it.")
        length = _length(cut, mark, marks[number + 1 :], template, lasts)
        told = {"name": mark.name, "number": names[mark.name], "frame": mark.frame, "length": length, "answers": answers}
        title = known.pop(_key(told), None) or _renamed(known, mark, {m.name for m in marks})
        if title is None:
            taken = {t.id for t in cut.titles}
            new_id = free_id(file_name.removesuffix(".avlet"), taken)
            cut = _put(cut, Title(new_id, file_name, mark.frame, length, answers, version, marked=told))
            found.append(AtMark(mark, new_id, "new", (*said, *_shorter(cut, new_id, length))))
            continue
        known = {key: one for key, one in known.items() if one.id != title.id}
        cut, done = _brought_up(cut, title, told)
        found.append(AtMark(mark, title.id, done, tuple(said)))
    return Marked(cut, tuple(found), tuple(title.id for title in known.values()))


def without_heads(rows: Sequence[Sequence[str]], template: Template) -> Sequence[Sequence[str]]:
    """Rows of a table without the first one, where that names fields of a template."""
    names = {name.casefold() for f in template.card.fields if f.asks for name in (f.id, f.label)}
    first = [cell.strip().casefold() for cell in rows[0] if cell.strip()] if rows else []
    return rows[1:] if first and names.issuperset(first) else rows


def _key(marked: dict[str, Any]) -> tuple[Any, Any]:
    return marked.get("name"), marked.get("number")


def _renamed(known: dict[tuple[Any, Any], Title], mark: Mark, names: set[str]) -> Title | None:
    """The title of a marker that stands where one stood that has another name now."""
    found = (one for one in known.values() if one.marked.get("frame") == mark.frame and one.marked.get("name") not in names)
    return next(found, None)


def _length(cut: Cut, mark: Mark, later: Sequence[Mark], template: Template, lasts: Lasts) -> int:
    designed = frames_in_title(template.length, template.frame.fps, cut.frame.fps)
    following = next((other.frame - mark.frame for other in later if other.frame > mark.frame), designed)
    return max(1, mark.length if lasts == "marker" and mark.length > 1 else following if lasts == "next" else designed)


def _put(cut: Cut, title: Title) -> Cut:
    """Put a title on a track that is free there, as long as there is room; before another that stands in its way it ends."""
    track = free_track(cut, title.start, title.length)
    ahead = [t.start - title.start for t in cut.titles if t.track == track and t.start > title.start]
    return put_title(cut, replace(title, track=track, length=max(1, min([title.length, *ahead]))))


def _shorter(cut: Cut, title_id: str, wanted: int) -> list[str]:
    title = cut.title(title_id)
    if title is None or title.length == wanted:
        return []
    return [f"It lasts {title.length} frames instead of {wanted}: another title stands behind it."]


def _brought_up(cut: Cut, title: Title, told: dict[str, Any]) -> tuple[Cut, str]:
    """A title with what changed at its marker since."""
    before: dict[str, Any] = dict(title.marked.get("answers", {}))
    changed = {name: value for name, value in told["answers"].items() if before.get(name) != value}
    lost = [name for name in before if name not in told["answers"] and title.answers.get(name) == before[name]]
    moved, longer = told["frame"] != title.marked.get("frame"), told["length"] != title.marked.get("length")
    if told == title.marked:
        return cut, "as it is"
    answers = {**{n: v for n, v in title.answers.items() if n not in lost}, **changed}
    start = title.start + told["frame"] - int(title.marked.get("frame", title.start))
    new = replace(title, answers=answers, start=max(0, start), length=told["length"] if longer else title.length, marked=told)
    done = ", ".join([*(["moved"] if moved else []), *(["other words"] if changed or lost else []), *(["other length"] if longer else [])])
    return put_title(cut, new), done or "as it is"
