"""From one version of a template to another: what is new, and how an editor's answers come along."""

from dataclasses import dataclass
from typing import Any

from avlet.document.fields import Field, TextField, words_of
from avlet.document.template import Template


@dataclass(frozen=True)
class CarriedOver:
    """Answers for the other version; those it has no place for are kept ``aside`` and come back when it has one again."""

    answers: dict[str, Any]
    aside: dict[str, Any]
    said: tuple[str, ...] = ()


def carried_over(new: Template, answers: dict[str, Any], aside: dict[str, Any]) -> CarriedOver:
    """Answers brought to a version of the template. None is lost; what is new stays at its starting answer."""
    pool = {**aside, **answers}
    fields = {field.id: field for field in new.card.fields}
    taken: dict[str, Any] = {}
    kept: dict[str, Any] = {}
    said: list[str] = []
    for field_id, value in pool.items():
        field = fields.get(field_id)
        if field is not None and not field.fault(value, new.palette):
            taken[field_id] = value
            fuller = aside.get(field_id)
            if isinstance(field, TextField) and isinstance(fuller, dict) and words_of(fuller) == words_of(value):
                taken[field_id] = value if field.fault(fuller, new.palette) else fuller
                if taken[field_id] is value:
                    kept[field_id] = fuller
            continue
        kept[field_id] = value
        bare = words_of(value) if isinstance(value, dict) and isinstance(field, TextField) else None
        if field is not None and bare is not None and not field.fault(bare, new.palette):
            taken[field_id] = bare
            said.append(f"“{field.label}” keeps its words; its formatting is set aside.")
        elif field_id in answers:
            name = field.label if field is not None else field_id
            why = "is not on the card any more" if field is None else "no longer takes that answer"
            said.append(f"“{name}” {why}; what was answered is set aside.")
    return CarriedOver(taken, kept, tuple(said))


def what_is_new(old: Template, new: Template) -> list[str]:
    """The differences that an editor would notice, in sentences."""
    before = {f.id: f for f in old.card.fields}
    after = {f.id: f for f in new.card.fields}
    said = [f"New: {after[i].label}." for i in after if i not in before]
    said += [f"Gone: {before[i].label}." for i in before if i not in after]
    for field_id, field in after.items():
        if field_id in before:
            said += _changes(before[field_id], field)
    if (old.length, old.frame) != (new.length, new.frame):
        said.append("Its frame or length is another.")
    if old.parts != new.parts or old.palette != new.palette:
        said.append("Its design has changed.")
    return said


def _changes(old: Field, new: Field) -> list[str]:
    if type(old) is not type(new):
        return [f"“{new.label}” is now a {new.kind}."]
    said = [f"“{old.label}” is now called “{new.label}”."] if old.label != new.label else []
    said += new.news(old)  # type: ignore[arg-type]
    if old.start != new.start:
        said.append(f"“{new.label}” starts otherwise.")
    return said
