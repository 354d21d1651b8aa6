"""How documents of older versions become those of the current one."""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from typing import Any

from wattikos_core.case.names_of_version_3 import key_of_name


def _with_senses(document: dict[str, Any]) -> dict[str, Any]:
    """From version 1: heat and torque are called by their sense (`heat from plate to hot`, `torque to turn rod, outside`)."""
    new = copy.deepcopy(document)
    turning = {
        name
        for condition in new.get("conditions", [])
        if isinstance(condition, dict) and str(condition.get("turning", "")).strip()
        for name in condition.get("boundaries", [])
    }

    def renamed(text: str) -> str:
        text = re.sub(r"^(time to \d+ % of )?heat through (.+) \| (.+)$", r"\1heat from \2 to \3", text)
        text = re.sub(r"^(time to \d+ % of )?heat through (.+)$", r"\1heat out through \2", text)
        torque = re.match(r"^(time to \d+ % of )?torque on (.+)$", text)
        return f"{torque[1] or ''}torque to turn {torque[2]}" if torque and torque[2] in turning else text

    def follow(value: Any) -> Any:
        if isinstance(value, str):
            return renamed(value)
        if isinstance(value, list):
            return [follow(item) for item in value]
        return {key: follow(item) for key, item in value.items()} if isinstance(value, dict) else value

    for key in ("watches", "wanted", "sizing", "estimate"):
        if key in new:
            new[key] = follow(new[key])
    new["version"] = 2
    return new


# Fields that are named by what they mean since version 3.
_OF_CONDITION = {
    "turning": "angular_velocity",
    "ambient": "ambient_temperature",
    "surroundings": "surroundings_temperature",
    "coating": "coating_thickness",
}
_OF_PHYSICS = {"reference": "reference_temperature", "mush": "mush_constant"}
_OF_TIME = {"step": "first_step", "largest": "largest_step", "of_parts": "part_temperatures"}
# What a wall's one value was, by what stands on it.
_VALUE = {
    "temperature": "temperature",
    "heat_flux": "heat_flux",
    "heat_rate": "heat_rate",
    "convection": "heat_transfer_coefficient",
    "convection_radiation": "heat_transfer_coefficient",
}


def _with_meanings(document: dict[str, Any]) -> dict[str, Any]:
    """From version 2: fields are named by what they mean; a wall's one value is a temperature, a flux, a rate or a coefficient."""
    new = copy.deepcopy(document)

    def rename(item: Any, names: dict[str, str]) -> None:
        if isinstance(item, dict):
            for old, name in names.items():
                if old in item:
                    item[name] = item.pop(old)

    def each(items: Any) -> list[dict[str, Any]]:
        return [item for item in items if isinstance(item, dict)] if isinstance(items, list) else []

    for condition in each(new.get("conditions")):
        rename(condition, _OF_CONDITION)
        if "value" in condition:
            # A value that stood beside a kind without one, unused, is kept where most such walls had theirs.
            condition[_VALUE.get(str(condition.get("thermal", "")), "heat_transfer_coefficient")] = condition.pop("value")
    for contact in each(new.get("contacts")):
        rename(contact, {"gap": "thickness"})
    if isinstance(new.get("section"), dict):
        for part in each(new["section"].get("parts")):
            rename(part, {"turning": "angular_velocity"})
    if isinstance(new.get("inputs"), dict):
        for item in each(list(new["inputs"].values())):
            if item.get("kind") == "turning":
                item["kind"] = "angular_velocity"
    rename(new.get("physics"), _OF_PHYSICS)
    rename(new.get("time"), _OF_TIME)
    new["version"] = 3
    return new


def _with_keys(document: dict[str, Any]) -> dict[str, Any]:
    """From version 3: quantities of the ledger are known by key, not by how they are written.

    What was written wrongly, and so named no quantity, has no key: it is kept in the note.
    """
    new = copy.deepcopy(document)
    unknown: list[str] = []

    def exchange(item: Any) -> bool:
        if not isinstance(item, dict) or "quantity" not in item:
            return True
        written = str(item.pop("quantity"))
        item["key"] = known(written)
        return item["key"] is not None

    def known(written: str) -> dict[str, Any] | None:
        key = key_of_name(written)
        unknown.extend([written] if key is None and written.strip() else [])
        return key

    if isinstance(new.get("watches"), list):
        new["watches"] = [key for name in new["watches"] if (key := known(str(name))) is not None]
    if isinstance(new.get("wanted"), list):
        new["wanted"] = [item for item in new["wanted"] if exchange(item)]
    exchange(new.get("sizing"))
    if not exchange(new.get("estimate")):
        new["estimate"] = None
    if unknown:
        new["note"] = f"{new.get('note', '')}\nThe ledger has no quantity called {', '.join(unknown)}.".strip()
    new["version"] = 4
    return new


def _with_a_list(document: dict[str, Any]) -> dict[str, Any]:
    """From version 4: a case has any number of hand calculations."""
    new = copy.deepcopy(document)
    one = new.pop("estimate", None)
    new["estimates"] = [] if one is None else [one]
    new["version"] = 5
    return new


def _with_goals(document: dict[str, Any]) -> dict[str, Any]:
    """From version 5: a sizing chooses any number of inputs for any number of goals."""
    new = copy.deepcopy(document)
    old = new.pop("sizing", None)
    if isinstance(old, dict):
        new["sizing"] = {"chosen": [], "goals": []}
        if old.get("input"):
            bounds = {side: old.get(side, "") for side in ("lower", "upper")}
            new["sizing"]["chosen"] = [{"varied": [{"input": old["input"]}], **bounds}]
        if old.get("key"):
            wanted = new.get("wanted")
            alike = [wish for wish in wanted if _targeted(wish, old["key"])] if isinstance(wanted, list) else []
            sense = alike[0].get("sense", "at_least") if alike else "equal"
            # An upper end was no end of a sizing then.
            sense = "at_least" if sense == "between" else sense
            new["sizing"]["goals"] = [{"key": old["key"], "target": old.get("target", ""), "sense": sense}]
    new["version"] = 6
    return new


def _targeted(wish: Any, key: Any) -> bool:
    return isinstance(wish, dict) and _plain(wish.get("key")) == _plain(key) and bool(str(wish.get("target", "")).strip())


def _plain(key: Any) -> Any:
    """A key without what it leaves open."""
    return {name: _plain(value) for name, value in key.items() if value} if isinstance(key, dict) else key


# Takes a document of the version in the key to the next one.
MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _with_senses,
    2: _with_meanings,
    3: _with_keys,
    4: _with_a_list,
    5: _with_goals,
}
