"""Taking things out of a document, renaming inputs, putting a fan on an end: what refers to them follows."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any, Literal

from pydantic import BaseModel

from wattikos_core.boundaries import kind_of
from wattikos_core.case.document import Case
from wattikos_core.case.fan_at_end import put_fan
from wattikos_core.case.series import Varied
from wattikos_core.documents import is_evaluated
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.internals import Core, Porous
from wattikos_core.ledger import Key

Action = Literal["remove_part", "remove_input", "rename_input", "remove_material", "remove_table", "put_fan"]


def edited(case: Case, action: Action, name: str, to: str = "") -> tuple[Case, list[str]]:
    """A case after an edit that reaches further than its own place, and in words what else it changed.

    Args:
        case: the case; it stays as it is.
        action: what is done. A part takes its conditions, contacts and wishes with it. In the place of an input stands its value
            from then on. A material becomes the one it was made from. A fan is put on a boundary (see `put_fan`).
        name: of what is taken out or renamed, or of the boundary.
        to: the new name.

    Raises:
        CaseError: there is nothing of that name, or the new name is taken.
    """
    new = case.model_copy(deep=True)
    return new, _ACTIONS[action](new, name, to)


def _remove_part(case: Case, name: str, to: str) -> list[str]:
    index = next((i for i, part in enumerate(case.section.parts) if part.name == name), None)
    if index is None:
        raise _unknown("section.parts", name, [part.name for part in case.section.parts])
    del case.section.parts[index]
    others = [part.name for part in case.section.parts]
    also: list[str] = []

    def of_part(place: str) -> bool:
        return any(_belongs(one, name) and not any(_nearer(one, other, name) for other in others) for one in place.split(" | "))

    kept = []
    for condition in case.conditions:
        before = kind_of(condition).boundaries(condition)
        lost = [boundary for boundary in before if of_part(boundary)]
        condition.boundaries = [boundary for boundary in condition.boundaries if boundary not in lost]
        if condition.type == "periodic":
            condition.downstream = [boundary for boundary in condition.downstream if boundary not in lost]
        whole = condition.boundaries and (condition.type != "periodic" or condition.downstream)
        if lost:
            also.append(f"the condition on {', '.join(lost)}")
        if whole:
            kept.append(condition)
    case.conditions = kept
    for contact in [contact for contact in case.contacts if name in contact.between]:
        case.contacts.remove(contact)
        also.append(f"the contact of {' and '.join(contact.between)}")
    for gas in [part for part in case.section.parts if part.radiation is not None]:
        assert gas.radiation is not None
        gone_surfaces = [one for one in gas.radiation.surfaces if of_part(one.surface)]
        if gone_surfaces:
            gas.radiation.surfaces = [one for one in gas.radiation.surfaces if one not in gone_surfaces]
            also.append(f"what '{gas.name}' says of its surfaces")
    for wish in case.grid.local:
        had_names = bool(wish.at)
        wish.at = [place for place in wish.at if not of_part(place)]
        if had_names and not wish.at and not wish.box:
            also.append("a local fineness")
    case.grid.local = [wish for wish in case.grid.local if wish.at or wish.box]
    if case.time.part_temperatures.pop(name, None) is not None:
        also.append("its temperature at the beginning")

    def names_part(key: Key | None) -> bool:
        return key is not None and (of_part(key.place) or of_part(key.other) or names_part(key.of))

    gone = [key.label for key in case.watches if names_part(key)] + [wish.key.label for wish in case.wanted if names_part(wish.key)]
    case.watches = [key for key in case.watches if not names_part(key)]
    case.wanted = [wish for wish in case.wanted if not names_part(wish.key)]
    gone += [wish.key.label for wish in case.sizing.goals if names_part(wish.key)]
    case.sizing.goals = [wish for wish in case.sizing.goals if not names_part(wish.key)]
    for aim in (case.sizing.aim, case.sizing.second):
        if aim is not None and names_part(aim.key):
            aim.key = None
            gone.append("what is to be best")
    gone += _choose_no_more(case, lambda varied: of_part(varied.material_of))
    return also + [f"'{label}' in the ledger" for label in dict.fromkeys(gone)]


def _belongs(place: str, part: str) -> bool:
    """Whether a boundary or a part is of a part or of a copy of it: `tube`, `tube, outside`, `tube 3, outside`."""
    word = re.escape(part)
    # An edge that a void or a part painted over has cut carries its name behind that of its own part.
    return re.match(rf"{word}(?=$|, | \d+(?:$|, ))|.*, {word}(?= )", place) is not None


def _nearer(place: str, other: str, name: str) -> bool:
    """Whether another part, of a longer name, is meant: `tube 2` is not a copy of `tube` where a part is called so."""
    return other != name and other.startswith(name) and _belongs(place, other)


def _remove_input(case: Case, name: str, to: str) -> list[str]:
    if name not in case.inputs:
        raise _unknown("inputs", name, list(case.inputs))
    value = case.inputs.pop(name).value.strip()
    plain = re.fullmatch(r"[\w.]+", value) is not None
    used = _rewrite(case, name, value if plain else f"({value})", alone=value)
    used += _choose_no_more(case, lambda varied: varied.input == name)
    return [f"its value stands in {place} now" for place in used]


def _rename_input(case: Case, name: str, to: str) -> list[str]:
    if name not in case.inputs:
        raise _unknown("inputs", name, list(case.inputs))
    if to in case.inputs:
        raise CaseError(InputProblem(f"inputs.{name}", f"there is an input '{to}' already", "choose another name"))
    case.inputs = {to if key == name else key: item for key, item in case.inputs.items()}
    used = _rewrite(case, name, to, alone=to)
    for varied in _chosen_and_varied(case):
        if varied.input == name:
            varied.input = to
    for spread in case.sizing.spreads:
        if spread.input == name:
            spread.input = to
    return [f"{place} follows" for place in used]


def _chosen_and_varied(case: Case) -> list[Varied]:
    return [*case.series.varied, *(varied for one in case.sizing.chosen for varied in one.varied)]


def _choose_no_more(case: Case, gone: Callable[[Varied], bool]) -> list[str]:
    """Take what is gone out of the sizing, the series and what scatters; returns where it was."""
    used = []
    if any(gone(varied) for one in case.sizing.chosen for varied in one.varied):
        case.sizing.chosen = [one for one in case.sizing.chosen if not any(gone(varied) for varied in one.varied)]
        used.append("sizing")
    if any(gone(varied) for varied in case.series.varied):
        case.series.varied = [varied for varied in case.series.varied if not gone(varied)]
        used.append("series")
    case.sizing.spreads = [one for one in case.sizing.spreads if not gone(Varied(input=one.input))]
    return used


def _remove_material(case: Case, name: str, to: str) -> list[str]:
    if name not in case.materials:
        raise _unknown("materials", name, list(case.materials))
    base = case.materials.pop(name).base
    also = []
    for part in case.section.parts:
        if part.material == name:
            part.material = base
            also.append(f"{part.name} is of {base} now")
        if isinstance(part.internal, Porous) and part.internal.matrix == name:
            part.internal.matrix = base
            also.append(f"the matrix in {part.name} is of {base} now")
        if isinstance(part.internal, Core) and part.internal.liquid == name:
            part.internal.liquid = base
            also.append(f"in the tubes of {part.name} is {base} now")
    return also


def _remove_table(case: Case, name: str, to: str) -> list[str]:
    if case.tables.pop(name, None) is None:
        raise _unknown("tables", name, list(case.tables))
    also = []
    for part in case.section.parts:
        if isinstance(part.internal, Core) and part.internal.conductance_table == name:
            part.internal.conductance_table = ""
            also.append(f"the conductance of {part.name} has no table now")
        if part.internal is not None and part.internal.table == name:
            part.internal.table = ""
            also.append(f"what stands in {part.name} has no table now")
    return also


_ACTIONS: dict[Action, Callable[[Case, str, str], list[str]]] = {
    "remove_part": _remove_part,
    "remove_input": _remove_input,
    "rename_input": _rename_input,
    "remove_material": _remove_material,
    "remove_table": _remove_table,
    "put_fan": lambda case, name, _: put_fan(case, name),
}


def _unknown(field: str, name: str, there: list[str]) -> CaseError:
    return CaseError(InputProblem(field, f"there is no '{name}'", f"name one of: {', '.join(there) or 'none yet'}"))


def _rewrite(item: Any, name: str, text: str, *, alone: str, where: str = "") -> list[str]:
    """Put `text` in the place of a name in all expressions, `alone` where nothing else stands; returns where."""
    word = re.compile(rf"(?<![\w.]){re.escape(name)}(?!\w)")

    def written(old: Any) -> Any:
        if isinstance(old, str):
            return alone if old.strip() == name else word.sub(lambda _: text, old)
        if isinstance(old, list):
            return [written(one) for one in old]
        return {key: written(one) for key, one in old.items()} if isinstance(old, dict) else old

    found: list[str] = []
    if isinstance(item, BaseModel):
        for field_name, field in type(item).model_fields.items():
            value, place = getattr(item, field_name), f"{where}.{field_name}" if where else field_name
            if is_evaluated(field):
                new = written(value)
                if new != value:
                    setattr(item, field_name, new)
                    found.append(place)
            else:
                found += _rewrite(value, name, text, alone=alone, where=place)
    elif isinstance(item, dict):
        for key, value in item.items():
            found += _rewrite(value, name, text, alone=alone, where=f"{where}.{key}")
    elif isinstance(item, list):
        for index, value in enumerate(item):
            found += _rewrite(value, name, text, alone=alone, where=f"{where}[{index}]")
    return found
