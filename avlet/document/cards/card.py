"""The card: all that an editor gets to see of a template; and the samples that are always looked at."""

import functools
from typing import Any

from avlet.document.cards.wires import underscored
from avlet.document.fields import Field, FieldId
from avlet.document.metadata import Value


class Section(Value, frozen=True):
    """Fields that belong together, under a name."""

    name: str = ""
    fields: tuple[Field, ...] = ()


class Card(Value, frozen=True, dict=True):
    """Sections of fields, and a note above them."""

    note: str = ""
    sections: tuple[Section, ...] = ()

    @functools.cached_property
    def entries(self) -> tuple[Field, ...]:
        """All fields and notes, in the order of the card."""
        return tuple(field for section in self.sections for field in section.fields)

    @functools.cached_property
    def fields(self) -> tuple[Field, ...]:
        """All fields that take an answer."""
        return tuple(field for field in self.entries if field.asks)

    def field(self, field_id: str) -> Field | None:
        """The field or note with this id."""
        return self._known.get(field_id)

    @functools.cached_property
    def by_formula_name(self) -> dict[str, str]:
        """The id of each field that takes an answer by its name in formulas."""
        return {underscored(field.id): field.id for field in reversed(self.fields)}

    @functools.cached_property
    def _known(self) -> dict[str, Field]:
        return {field.id: field for field in reversed(self.entries)}


class Sample(Value, frozen=True):
    """A named set of answers that the designer always sees beside the others."""

    id: FieldId
    name: str
    answers: dict[str, Any] = {}
