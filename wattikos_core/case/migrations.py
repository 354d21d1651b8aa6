"""How documents of older versions become those of the current one."""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from typing import Any


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


# Takes a document of the version in the key to the next one.
MIGRATIONS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _with_senses}
