"""A list of credits."""

import functools
from collections import OrderedDict
from collections.abc import Sequence
from pathlib import PurePath
from typing import Annotated, Any, ClassVar, Self

import msgspec

from avlet.document.fields.base import Answer, BaseField, Files, House
from avlet.document.lists.blocks import Block, Blocks, multiplied, with_pictures
from avlet.document.lists.listing import blocks_from, led, recognised
from avlet.document.looks.picture_file import ChangePicture
from avlet.document.metadata import PropertyType
from avlet.errors import AnswerError
from avlet.limits import MOST_BLOCKS, MOST_LINES, MOST_LIST_LETTERS, MOST_LIST_PICTURES

_List = Annotated[tuple[Block, ...], msgspec.Meta(max_length=MOST_BLOCKS)]
_taken: OrderedDict[int, tuple[Any, Blocks]] = OrderedDict()
_given: OrderedDict[int, tuple[Blocks, Any]] = OrderedDict()
_MOST_TAKEN = 16


def blocks_of(answer: Any) -> Blocks:
    """The blocks of an answer; raises ``msgspec.ValidationError`` for what is none. An answer that is asked for again is known."""
    known = _taken.get(id(answer))
    if known is not None and known[0] is answer:
        return known[1]
    made: Blocks = msgspec.convert(answer, _List)
    _taken[id(answer)] = answer, made
    while len(_taken) > _MOST_TAKEN:
        _taken.popitem(last=False)
    return made


def answer_of(blocks: Blocks) -> Answer:
    """A list as an answer: plain data, as JSON has it. Lists that were lately asked for, or are equal to one of those, have one answer:
    many titles, and all that is kept to be undone, then share it.
    """
    known = _given.get(id(blocks))
    if known is not None and known[0] is blocks:
        shared: Answer = known[1]
        return shared
    alike = [given for other, given in _given.values() if other == blocks]
    answer: Answer = alike[0] if alike else msgspec.json.decode(msgspec.json.encode(blocks))
    if not alike:
        _taken[id(answer)] = answer, blocks
    _given[id(blocks)] = blocks, answer
    while len(_given) > _MOST_TAKEN:
        _given.popitem(last=False)
    return answer


def weight_of_answer(answer: Sequence[Any]) -> tuple[int, int]:
    """How many lines and letters an answer has, whatever else is wrong with it."""
    lines = letters = 0
    for block in answer:
        names = block.get("names") if isinstance(block, dict) else None
        listed = names if isinstance(names, list) else ()
        lines += max(1, len(listed))
        letters += sum(len(name) for name in listed if isinstance(name, str))
        written = block.items() if isinstance(block, dict) else ()
        letters += sum(len(words) for key, words in written if key != "block" and isinstance(words, str))
    return lines, letters


class CreditsField(BaseField, frozen=True, kw_only=True, tag="list"):
    """A list of credits. The answer is a list of blocks, each an object with its ``block`` and what that has."""

    default: _List = ()

    reads_files: ClassVar[bool] = True
    wants_hint: ClassVar[bool] = True

    @property
    def start(self) -> Any:
        return answer_of(self.default)

    def answer_to(self, value: Any, present: Any, named: str, house: House) -> Any:
        return answer_of(tuple(value))

    def fault(self, answer: Any, house: House = ()) -> str:
        if not isinstance(answer, list):
            return f"“{self.label}” takes a list of blocks, such as a list file gives: @list.csv."
        lines, letters = weight_of_answer(answer)
        if lines > MOST_LINES:
            return f"The list for “{self.label}” has {lines:,} lines, at most {MOST_LINES:,} are possible. Split it."
        if letters > MOST_LIST_LETTERS:
            return f"The list for “{self.label}” has {letters:,} letters, at most {MOST_LIST_LETTERS:,} are possible. Split it."
        try:
            blocks_of(answer)
        except (msgspec.ValidationError, RecursionError) as error:
            return f"The list for “{self.label}” does not hold together: {error}."
        return ""

    def read(self, words: str, house: House, files: Files) -> Answer:
        path = words.strip().removeprefix("@").strip()
        if not path:
            raise AnswerError(f"“{self.label}” takes a list file: @list.csv.")
        return answer_of(blocks_in_file(path, files))

    def with_pictures(self, change: ChangePicture) -> Self:
        return msgspec.structs.replace(self, default=with_pictures(self.default, change))

    def with_pictures_in(self, answer: Any, change: ChangePicture) -> Any:
        return answer_of(with_pictures(blocks_of(answer), change))

    def schema(self, house: House) -> dict[str, Any]:
        return _schema()

    def value(self, answer: Any, house: House) -> Any:
        return blocks_of(answer)

    def start_value(self, house: House) -> Any:
        return self.default

    def multiplied(self, factor: float) -> Self:
        return msgspec.structs.replace(self, default=multiplied(self.default, factor))

    def multiplied_answer(self, answer: Any, factor: float) -> Any:
        return answer_of(multiplied(blocks_of(answer), factor))

    @classmethod
    def for_property(cls, kind: PropertyType, field_id: str, label: str, value: Any, style: str) -> Self | None:
        return cls(id=field_id, label=label, default=value) if kind.kind == "list" else None


def blocks_in_file(path: str, files: Files, given: Sequence[str] = ()) -> Blocks:
    """The list of a file; pictures that it names are looked for beside it. Raises ``AnswerError`` in words.

    ``given`` are ``COLUMN=MEANING`` words for columns whose heads do not say it.
    """
    table = files.table(path)
    loaded = 0

    def load(name: str) -> bytes:
        nonlocal loaded
        try:
            data = files.read(str(PurePath(path).parent / name))
        except AnswerError:
            return b""
        loaded += len(data)
        if loaded > MOST_LIST_PICTURES:
            most = MOST_LIST_PICTURES // 1024**2
            raise AnswerError(
                f"The list names pictures of more than {most} MB, at most that is possible. Name smaller ones, or each less often."
            )
        return data

    return blocks_from(table, led(recognised(table), table, given), load)


@functools.cache
def _schema() -> dict[str, Any]:
    """The schema of a list with all that it refers to in its place, so that it may stand anywhere."""
    (whole,), parts = msgspec.json.schema_components((_List,))
    return dict(_inlined(whole, parts))


def _inlined(value: Any, parts: dict[str, Any]) -> Any:
    if isinstance(value, dict):
        if "$ref" in value:
            return _inlined(parts[value["$ref"].rpartition("/")[2]], parts)
        return {key: _inlined(item, parts) for key, item in value.items() if key != "discriminator"}
    return [_inlined(item, parts) for item in value] if isinstance(value, list) else value
