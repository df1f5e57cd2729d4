"""What every kind of field has, and what every kind says of itself.

A kind is one class in a file of its own: what it takes, how an answer is read from words, its schema, what of it is tried out, and
what an answer is as a property's value. All else (card, wires, versions, command line) asks the class.
"""

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, ClassVar, Protocol, Self

import msgspec

from avlet.document.looks.picture_file import ChangePicture
from avlet.document.metadata import PropertyType, Value, brief
from avlet.document.tables import Table
from avlet.errors import AnswerError, DocumentError

FieldId = Annotated[str, msgspec.Meta(pattern=r"^[a-z0-9][a-z0-9-]*$", max_length=64)]
Label = Annotated[str, msgspec.Meta(min_length=1, max_length=200)]
Answer = str | float | bool | list[Any] | dict[str, Any]


class Files(Protocol):
    """Files that answers name by their paths. Both raise ``AvletError`` in words."""

    def read(self, path: str) -> bytes:
        """The bytes of a file."""

    def table(self, path: str) -> Table:
        """The table in a file."""


class NamedColour(Protocol):
    """A colour of the house, as fields see it."""

    @property
    def id(self) -> str: ...
    @property
    def name(self) -> str: ...
    @property
    def colour(self) -> str: ...


House = Sequence[NamedColour]
"""The house palette."""


def plain(value: Any) -> Any:
    """A value as JSON has it: objects for structs, lists for tuples."""
    made = msgspec.to_builtins(value)
    return list(made) if isinstance(made, tuple) else made


def one_of(label: str, value: Any, known: Sequence[str]) -> str:
    """The fault of an answer that is none of those known; empty if it is."""
    return "" if value in known else f"“{label}” takes one of {brief(', '.join(known))}, not “{brief(value)}”."


def by_name(words: str, known: Sequence[tuple[str, str]]) -> str:
    """An id from an id or a name; the words themselves where they are neither."""
    return next((i for i, name in known if words in (i, name) or words.casefold() == name.casefold()), words)


class Condition(Value, frozen=True):
    """A field is shown only if another answers one of ``answers``."""

    field: FieldId
    answers: Annotated[tuple[str | float | bool, ...], msgspec.Meta(min_length=1, max_length=100)]


class BaseField(Value, frozen=True, kw_only=True, tag_field="kind"):
    """What every field has: a label for the editor, a hint, and when it is shown."""

    id: FieldId
    label: Label
    hint: str = ""
    shown_if: Condition | None = None

    asks: ClassVar[bool] = True
    """Whether there is anything to answer."""
    numeric: ClassVar[bool] = False
    """Whether an answer is a number."""
    reads_files: ClassVar[bool] = False
    """Whether its answers may be files, named by their path with ``@`` before it."""
    wants_hint: ClassVar[bool] = False
    """Whether a stranger would not know what to fill in without a hint."""

    @property
    def kind(self) -> str:
        """The word for its kind."""
        return str(self.__struct_config__.tag)

    @property
    def start(self) -> Any:
        """The starting answer as plain data; nothing for a note."""
        return plain(getattr(self, "default", None))

    @property
    def measured_in(self) -> str:
        """The unit of an answer that is a number."""
        return ""

    # Answers

    def fault(self, answer: Any, house: House = ()) -> str:
        """Why it does not take an answer, as a sentence; empty when it does."""
        raise NotImplementedError

    def checked(self, answer: Any, house: House = ()) -> Answer:
        """An answer as it is kept; raises ``AnswerError`` in words if it is not taken."""
        fault = self.fault(answer, house)
        if fault:
            raise AnswerError(fault)
        return self.kept(answer)

    def kept(self, answer: Any) -> Answer:
        """A taken answer as it is kept."""
        taken: Answer = answer
        return taken

    def read(self, words: str, house: House, files: Files) -> Answer:
        """An answer typed as words, e.g. on the command line, not yet checked; raises ``AnswerError``."""
        raise NotImplementedError

    def schema(self, house: House) -> dict[str, Any]:
        """The JSON Schema of its answers, without label and hint."""
        raise NotImplementedError

    def tried(self) -> list[tuple[str, Any]]:
        """Answers at the ends of what it takes, with words for each: limits, options, yes and no."""
        return []

    def options_with(self, house: House) -> list[tuple[str, str]]:
        """Key and name of each option, if it has options: the rows of a table that begins at it."""
        return []

    def option_of(self, key: str) -> Any:
        """The answer that a row's key stands for."""
        return key

    def with_pictures(self, change: ChangePicture) -> Self:
        """The same with the pictures of its starting answer changed."""
        return self

    def with_pictures_in(self, answer: Any, change: ChangePicture) -> Any:
        """An answer with its pictures changed."""
        return answer

    # What it drives

    def value(self, answer: Any, house: House) -> Any:
        """What an answer is as the value of a property that is wired straight to it."""
        return answer

    def start_value(self, house: House) -> Any:
        """What the starting answer is as a property's value, with tuples and structs as the document has them."""
        return self.value(self.start, house)

    def answer_to(self, value: Any, present: Any, named: str, house: House) -> Any:
        """The answer that gives a property, which is called ``named``, a value; raises ``DocumentError`` where none does."""
        return plain(value)

    def formatting(self, answer: Any) -> dict[str, Any]:
        """What an answer says of a text besides its words or its family, by the names of the text's properties."""
        return {}

    @property
    def faces(self) -> tuple[tuple[str, str], ...]:
        """Families and styles that it offers."""
        return ()

    # Itself

    def own_faults(self, house: House) -> Iterator[str]:
        """What is wrong with its limits and options, each as the rest of a sentence that begins with its label."""
        yield from ()

    def remarks(self) -> Iterator[str]:
        """What a stranger would stumble over, as sentences."""
        yield from ()

    def news(self, before: Self) -> Iterator[str]:
        """What an editor notices of its limits and options since an earlier version, as sentences."""
        yield from ()

    def multiplied(self, factor: float) -> Self:
        """The same field with its numbers multiplied."""
        return self

    def multiplied_answer(self, answer: Any, factor: float) -> Any:
        """An answer with its numbers multiplied."""
        return answer

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        """A field for a property, with its limits and present value; None if the kind does not suit. ``style`` is that of a font."""
        return None

    @classmethod
    def example(cls) -> tuple[str, Self] | None:
        """A field that is made before what it drives, and what a menu calls it; None for a kind that comes from properties alone."""
        return None


def refused(named: str, what: str, label: str, names: Sequence[str]) -> DocumentError:
    """A property cannot be given a value, as its field offers others."""
    return DocumentError(f"{named} takes one of the {what} of “{label}”: {', '.join(names)}.")
