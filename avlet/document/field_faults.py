"""What is wrong with one field: its starting answer, its limits, its options, when it is shown."""

from collections import Counter
from collections.abc import Iterator

from avlet.document.answers import answer_fault
from avlet.document.fields import ChoiceField, ColourField, Field, FontField, LengthField, NoteField, NumberField
from avlet.document.template import Template


def field_faults(field: Field, template: Template) -> Iterator[str]:
    """Each fault as the rest of a sentence that begins with the field's label."""
    if isinstance(field, NumberField | LengthField) and field.low is not None and field.high is not None and field.low > field.high:
        yield f"goes from {field.low:g} to {field.high:g}. Swap its limits."
        return
    names: list[str] = []
    match field:
        case ChoiceField():
            names = [o.id for o in field.options]
        case FontField():
            names = [f.name for f in field.fonts]
        case ColourField(may_be="swatches"):
            names = [s.id for s in field.swatches]
            if not names:
                yield "has no swatches. Add one, or let it be any colour."
                return
        case ColourField(may_be="house palette") if not template.palette:
            yield "takes a colour of the house palette, which is empty. Add one, or let it be any colour."
            return
    for twice in (i for i, n in Counter(names).items() if n > 1):
        yield f"has “{twice}” twice. Remove one."
    if not isinstance(field, NoteField) and (fault := answer_fault(field, field.start, template.palette)):
        yield f"starts with an answer that it would not take: {fault}"
    condition = field.shown_if
    if condition is not None:
        other = template.card.field(condition.field)
        if other is None or isinstance(other, NoteField):
            yield f"is shown by what “{condition.field}” answers, which is not on the card."
        elif other.id == field.id:
            yield "cannot decide itself whether it is shown."
