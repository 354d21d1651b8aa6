"""How quantities of the ledger were written in documents up to version 3, which knew them by nothing else.

A record of what was: nothing here follows when a label changes.
"""

from __future__ import annotations

import re
from typing import Any

_WRITTEN = {
    "duty": "duty",
    "effectiveness": "effectiveness",
    "ntu": "NTU",
    "overall_u": "overall U",
    "hottest_metal": "hottest metal",
    "coldest_metal": "coldest metal",
    "mass_balance": "mass balance",
    "heat_balance": "heat balance",
    "coolant_outlet_temperature": "coolant outlet temperature",
    "all_heat_stored": "heat stored",
    "all_heat_given_up": "heat given up",
    "outlet_temperature": "{place} outlet temperature",
    "heat_gained": "{place} heat gained",
    "heat_given_off": "{place} heat given off",
    "pressure_drop": "{place} pressure drop",
    "pressure_rise": "{place} pressure rise",
    "reynolds_number": "{place} Reynolds number",
    "log_mean_h": "{place} log-mean h",
    "log_mean_nusselt_number": "{place} log-mean Nusselt number",
    "mean_local_h": "{place} mean local h",
    "mean_local_nusselt_number": "{place} mean local Nusselt number",
    "h": "{place} h",
    "nusselt_number": "{place} Nusselt number",
    "mean_age_at_outlet": "{place} mean age at the outlet",
    "shortest_age_at_outlet": "{place} shortest age at the outlet",
    "share_younger": "{place} share younger than asked",
    "mean_age_inside": "{place} mean age inside",
    "friction_factor": "{place} friction factor",
    "ratio_per_module": "{place} ratio per module",
    "rise_per_module": "{place} rise per module",
    "last_outlet_temperature": "{place} last outlet temperature",
    "total_heat_gained": "{place} total heat gained",
    "total_heat_given_off": "{place} total heat given off",
    "total_pressure_drop": "{place} total pressure drop",
    "total_pressure_rise": "{place} total pressure rise",
    "surface_h": "mean h of {place}",
    "surface_nusselt_number": "mean Nusselt number of {place}",
    "body_reynolds_number": "Reynolds number of {place}",
    "drag_coefficient": "drag coefficient of {place}",
    "lift_coefficient": "lift coefficient of {place}",
    "drag": "drag on {place}",
    "lift": "lift on {place}",
    "mean_shear": "mean shear on {place}",
    "highest_shear": "highest shear on {place}",
    "separation": "separation on {place}",
    "reattachment": "reattachment on {place}",
    "separation_angle": "separation angle of {place}",
    "torque": "torque on {place}",
    "torque_to_turn": "torque to turn {place}",
    "power_to_turn": "power to turn {place}",
    "power_to_slide": "power to slide {place}",
    "heat_passing": "heat passing {place}",
    "overall_effectiveness": "overall effectiveness of {place}",
    "heat_released": "heat released in {place}",
    "friction_heat": "friction heat in {place}",
    "heat_of_compression": "heat of compression in {place}",
    "heat_of_expansion": "heat that expansion takes in {place}",
    "liquid_fraction": "liquid fraction of {place}",
    "heat_stored": "heat stored in {place}",
    "heat_given_up": "heat given up by {place}",
    "front": "front in {place}",
    "melting_time": "melting time of {place}",
    "freezing_time": "freezing time of {place}",
    "store_effectiveness": "store effectiveness of {place}",
    "pressure": "pressure in {place}",
    "rayleigh_number": "Rayleigh number of {place}",
    "mean_temperature": "mean temperature of {place}",
    "highest_temperature": "highest temperature of {place}",
    "lowest_temperature": "lowest temperature of {place}",
    "heat_out": "heat out through {place}",
    "heat_in": "heat in through {place}",
    "heat_between": "heat from {place} to {other}",
    "time_to_95": "time to 95 % of {of}",
    "time_to_99": "time to 99 % of {of}",
}


def _pattern(written: str) -> re.Pattern[str]:
    text = re.escape(written)
    for name, any_text in (("place", ".+?"), ("other", ".+"), ("of", ".+")):
        text = text.replace(re.escape("{" + name + "}"), f"(?P<{name}>{any_text})")
    return re.compile(f"^{text}$")


def _most_said(written: str) -> int:
    return len(re.sub(r"\{.*?\}", "", written))


# Of another quantity first, then what says most: `x last outlet temperature` is none of a part called `x last`.
_ORDER = sorted(_WRITTEN.items(), key=lambda item: ("{of}" not in item[1], -_most_said(item[1])))
_PATTERNS = [(name, _pattern(written)) for name, written in _ORDER]


def key_of_name(written: str) -> dict[str, Any] | None:
    """The key of a quantity by how it was written; None where nothing was written so.

    Examples:
        >>> key_of_name("heat from tube 1 to whey")
        {'quantity': 'heat_between', 'place': 'tube 1', 'other': 'whey'}
        >>> key_of_name("happiness")
    """
    for name, pattern in _PATTERNS:
        found = pattern.match(written)
        if found is None:
            continue
        key: dict[str, Any] = {"quantity": name, **found.groupdict()}
        if "of" in key:
            key["of"] = key_of_name(key["of"])
            if key["of"] is None:
                continue
        aside = re.match(r"^(.+ \| .+) in (.+)$", key.get("place", ""))
        return key | {"place": aside[1], "other": aside[2]} if aside and "other" not in key else key
    return None
