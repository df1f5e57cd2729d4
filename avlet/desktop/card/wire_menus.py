"""Menus of what a wire can begin or end at: properties by part and group, measures, fields, house colours."""

from collections.abc import Callable

from PyQt6.QtWidgets import QMenu

from avlet.document.cards.wire_checks import may_feed
from avlet.document.cards.wire_sources import OF_COUNTERS, source_kind, source_words
from avlet.document.cards.wires import LENGTH, MEASURES, REST
from avlet.document.house import PALETTE, HouseColour
from avlet.document.metadata import Property, properties, property_types
from avlet.document.parts import CounterPart
from avlet.document.targets import house_entries, path_words, type_of
from avlet.document.template import TEMPLATE, Template

_GROUPS = {
    "words": "Words", "list": "List", "count": "Count", "writing": "Writing",
    "columns": "Columns", "movement": "Movement", "look": "Look", "form": "Form", "gradient": "Gradients",
    "picture": "Picture", "size": "Size", "place": "Place", "stance": "Turn and scale", "room": "Room", "matte": "Matte", "move": "Moves",
    "displaced": "How it looks before it comes", "time": "Time", "pattern": "Copies", "axes": "Axes", "echo": "Echo",
    "solid": "Solid", "stand": "Where it stands", "camera": "Camera", "light": "Light",
    "runs": "What runs with a count",
}  # fmt: skip
Chosen = Callable[[str], object]


def fill_targets(menu: QMenu, template: Template, source: str, chosen: Chosen) -> None:
    """The properties that a source can be wired to, those with a wire greyed."""
    menu.clear()
    for part in reversed(template.parts):
        _owner_menu(menu, template, source, part.id, part.name, list(properties(part)), chosen)
    own = [Property(name, kind, getattr(template, name)) for name, kind in property_types(type(template)).items()]
    own += list(properties(template.motion_blur, "motion_blur."))
    _owner_menu(menu, template, source, TEMPLATE, "The template", own, chosen)
    house = QMenu("The house", menu)
    for entry in house_entries(template):
        target = f"{PALETTE}/{entry.id}"
        if may_feed(template, source, type_of(template, target)) and source != target:
            _add(house, entry.name, target, template.wire_to(target) is None, chosen)
    if house.actions():
        menu.addMenu(house)


def _owner_menu(menu: QMenu, template: Template, source: str, owner: str, name: str, props: list[Property], chosen: Chosen) -> None:
    _grouped(menu, template, owner, name, [p for p in props if may_feed(template, source, p.type)], chosen)


def _grouped(menu: QMenu, template: Template, owner: str, name: str, props: list[Property], chosen: Chosen) -> None:
    """A submenu of properties, its groups filled when it is opened."""
    fitting = [p for p in props if p.type.name != "style"]
    if not fitting:
        return
    under = QMenu(name, menu)
    menu.addMenu(under)

    def fill() -> None:
        if under.actions():
            return
        for group, words in _GROUPS.items():
            found = [p for p in fitting if p.type.group == group]
            if not found:
                continue
            deeper = QMenu(words, under)
            under.addMenu(deeper)
            for prop in found:
                target = f"{owner}/{prop.path}"
                _add(
                    deeper,
                    path_words(template.owner(owner), prop.path, prop.type.label).capitalize(),
                    target,
                    template.wire_to(target) is None,
                    chosen,
                )

    under.aboutToShow.connect(fill)


def fill_properties(menu: QMenu, template: Template, chosen: Chosen) -> None:
    """Every property that can go on the card, by part and group; those with a wire greyed."""
    menu.clear()
    for part in reversed(template.parts):
        _grouped(menu, template, part.id, part.name, list(properties(part)), chosen)
    own = [Property(name, kind, getattr(template, name)) for name, kind in property_types(type(template)).items()]
    own += list(properties(template.motion_blur, "motion_blur."))
    _grouped(menu, template, TEMPLATE, "The template", own, chosen)


def fill_sources(menu: QMenu, template: Template, target: str, chosen: Chosen) -> None:
    """What a property can be wired from: fields, house colours, measures, the length of the title, the same property of others."""
    menu.clear()
    kind = type_of(template, target)
    fields = QMenu("A field", menu)
    for field in template.card.fields:
        if may_feed(template, field.id, kind):
            _add(fields, field.label, field.id, True, chosen)
    house = QMenu("The house palette", menu)
    for entry in house_entries(template):
        source = f"{PALETTE}/{entry.id}"
        if kind.accepts("colour" if isinstance(entry, HouseColour) else "gradient") and source != target:
            _add(house, entry.name, source, True, chosen)
    measures = QMenu("A measure", menu)
    if kind.accepts("number"):
        for part in reversed(template.parts):
            under = QMenu(part.name, measures)
            own = MEASURES if isinstance(part, CounterPart) else [m for m in MEASURES if m not in OF_COUNTERS]
            for measure in own:
                source = f"{part.id}/{REST}{measure}"
                _add(under, source_words(template, source).partition(": ")[2].capitalize(), source, True, chosen)
            measures.addMenu(under)
        _add(measures, "Length of the title", LENGTH, True, chosen)
    owner, _, path = target.partition("/")
    same = QMenu("The same of", menu)
    for part in reversed(template.parts):
        source = f"{part.id}/{path}"
        if part.id != owner and _is_there(template, source) and may_feed(template, source, kind):
            _add(same, part.name, source, True, chosen)
    for under in (fields, house, measures, same):
        if under.actions():
            menu.addMenu(under)


def _is_there(template: Template, source: str) -> bool:
    try:
        return bool(source_kind(template, source))
    except LookupError:
        return False


def _add(menu: QMenu, words: str, path: str, enabled: bool, chosen: Chosen) -> None:
    action = menu.addAction(words)
    assert action is not None
    action.setEnabled(enabled)
    action.setToolTip(path)
    action.triggered.connect(lambda _=False, p=path: chosen(p))
