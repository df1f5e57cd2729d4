"""The card: all that an editor gets to see of a template; and the samples that are always looked at."""

from typing import Any

from avlet.document.fields import Field, FieldId
from avlet.document.metadata import Value


class Section(Value, frozen=True):
    """Fields that belong together, under a name."""

    name: str = ""
    fields: tuple[Field, ...] = ()


class Card(Value, frozen=True):
    """Sections of fields, and a note above them."""

    note: str = ""
    sections: tuple[Section, ...] = ()

    @property
    def entries(self) -> tuple[Field, ...]:
        """All fields and notes, in the order of the card."""
        return tuple(field for section in self.sections for field in section.fields)

    @property
    def fields(self) -> tuple[Field, ...]:
        """All fields that take an answer."""
        return tuple(field for field in self.entries if field.asks)

    def field(self, field_id: str) -> Field | None:
        """The field or note with this id."""
        return next((f for f in self.entries if f.id == field_id), None)


class Sample(Value, frozen=True):
    """A named set of answers that the designer always sees beside the others."""

    id: FieldId
    name: str
    answers: dict[str, Any] = {}
