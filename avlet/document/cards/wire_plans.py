"""In which order a template's wires are worked out, and which of them hang on the resting layout."""

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter

from avlet.document.cards.formulas import parse
from avlet.document.cards.wire_sources import source_of_name
from avlet.document.cards.wires import Formula, Wire, measure_of
from avlet.document.fields import ColourField
from avlet.document.house import PALETTE
from avlet.document.targets import house_entries, words_for
from avlet.document.template import Template
from avlet.errors import DocumentError


def inputs(template: Template, wire: Wire) -> list[str]:
    """All sources that a wire needs; a colour of the house palette needs the whole palette."""
    found = [wire.source]
    if isinstance(wire.map, Formula):
        for name, _ in parse(wire.map.formula).names:
            source = source_of_name(template, name)
            if source is not None:
                found.append(source)
    for source in list(found):
        field = template.card.field(source) if "/" not in source else None
        if isinstance(field, ColourField) and field.may_be == "house palette":
            found.append(f"{PALETTE}/")
    return found


def _feeds(target: str, source: str) -> bool:
    """Whether what a wire sets is (a piece of) what another one needs."""
    if source == f"{PALETTE}/":
        return target.startswith(source)
    return source == target or source.startswith(f"{target}.") or target.startswith(f"{source}.")


def ordered(template: Template) -> list[Wire]:
    """Every wire after those that set what it needs; raises ``DocumentError`` naming the circle."""
    wires = template.wires
    if all("/" not in w.source and not isinstance(w.map, Formula) and not w.target.startswith(PALETTE) for w in wires):
        return list(wires)
    graph: dict[int, set[int]] = {}
    for index, wire in enumerate(wires):
        needed = [s for s in inputs(template, wire) if "/" in s]
        graph[index] = {n for n, other in enumerate(wires) if any(_feeds(other.target, s) for s in needed)}
    try:
        return [wires[i] for i in TopologicalSorter(graph).static_order()]
    except CycleError as error:
        said = [words_for(template, wires[i].target) for i in error.args[1][1:]]
        raise DocumentError(f"These wires run in a circle: {' → '.join(said)}. Take one of them off.") from None


def measured_wires(template: Template, wires: list[Wire]) -> dict[str, set[tuple[str, str]]]:
    """For the target of each wire that hangs on the resting layout, at first or at last: the parts and measures it hangs on.

    ``wires`` are in order.
    """
    found: dict[str, set[tuple[str, str]]] = {}
    for wire in wires:
        needs: set[tuple[str, str]] = set()
        for source in inputs(template, wire) if "/" in wire.source or isinstance(wire.map, Formula) else ():
            measured = measure_of(source)
            if measured is not None:
                needs.add(measured)
            for target, more in found.items():
                if _feeds(target, source):
                    needs |= more
        if needs:
            found[wire.target] = needs
    return found


@dataclass(frozen=True)
class Plan:
    """A template's wires in the order in which they are worked out, and what those that hang on measures hang on, by target."""

    wires: tuple[Wire, ...]
    hangs_on: Mapping[str, frozenset[tuple[str, str]]]


_plans: OrderedDict[int, tuple[tuple[Wire, ...], object, Plan]] = OrderedDict()
_MOST_PLANS = 32


def plan_of(template: Template) -> Plan:
    """The plan of a template's wires; kept while these, and all names that they use, stay the same."""
    names = (
        tuple(p.id for p in template.parts),
        tuple((f.id, getattr(f, "may_be", "")) for f in template.card.fields),
        tuple(e.id for e in house_entries(template)),
    )
    kept = _plans.get(id(template.wires))
    if kept is not None and kept[0] is template.wires and kept[1] == names:
        return kept[2]
    wires = ordered(template)
    hangs_on = {target: frozenset(needs) for target, needs in measured_wires(template, wires).items()}
    plan = Plan(tuple(wires), hangs_on)
    _plans[id(template.wires)] = template.wires, names, plan
    while len(_plans) > _MOST_PLANS:
        _plans.popitem(last=False)
    return plan
