"""The marks of a template: named moments, in order of time."""

from collections.abc import Iterable

from avlet.document.editing.edits import replace
from avlet.document.template import Mark, Template
from avlet.errors import DocumentError
from avlet.limits import MOST_MARKS


def put_mark(template: Template, mark: Mark) -> Template:
    """Add a mark; raises ``DocumentError`` beyond as many as there may be."""
    if len(template.marks) >= MOST_MARKS:
        raise DocumentError(f"A template has at most {MOST_MARKS} marks. Take one away first.")
    return _with(template, (*template.marks, mark))


def move_mark(template: Template, number: int, frame: float) -> Template:
    """Bring a mark to a frame of the title, the nearest if it is none."""
    moved = replace(template.marks[number], frame=max(0, min(template.length - 1, round(frame))))
    return _with(template, (*template.marks[:number], moved, *template.marks[number + 1 :]))


def remove_mark(template: Template, number: int) -> Template:
    """Take a mark away."""
    return _with(template, template.marks[:number] + template.marks[number + 1 :])


def _with(template: Template, marks: Iterable[Mark]) -> Template:
    return replace(template, marks=tuple(sorted(marks, key=lambda mark: mark.frame)))
