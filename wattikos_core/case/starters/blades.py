"""Cooled blades and vanes."""

from __future__ import annotations

from wattikos_core.case.starters.building import Starter, circle, given, length, quantity, sized, temperature, wall


def _passage(name: str, at: str, height: str) -> dict[str, object]:
    return circle(name, "void", f"{at}*chord", f"{height}*camber*chord", "passage")


VANE = Starter(
    "vane",
    "Cooled vane",
    "A vane section with cooling passages between hot gas and coolant: metal temperatures and the heat to be cooled away.",
    {
        "version": 6,
        "title": "Turbine vane section",
        "note": (
            "A section of a vane with three passages. Gas outside and coolant inside are films and temperatures; the gas film "
            "falls from the nose to the trailing edge."
        ),
        "starter": "vane",
        "inputs": {
            "chord": length("60 mm", "chord", "20 mm", "200 mm"),
            "camber": given("ratio", "0.08", "camber", "0", "0.2"),
            "thickness": given("ratio", "0.2", "thickness", "0.1", "0.35"),
            "passage": length("5 mm", "passage diameter", "1 mm", "12 mm"),
            "span": length("80 mm", "span", note="depth of the section"),
            "gas_h": given("heat_transfer_coefficient", "900 W/m²/K", "h of the gas at the nose"),
            "gas": temperature("740 °C", "gas temperature"),
            "coolant_h": given("heat_transfer_coefficient", "1400 W/m²/K", "h in the passages", "100 W/m²/K", "8000 W/m²/K"),
            "coolant": temperature("310 °C", "coolant temperature"),
        },
        "section": {
            "extent": "flat",
            "depth": "span",
            "parts": [
                {
                    "name": "vane",
                    "material": "nickel_chromium",
                    "shape": {
                        "type": "blade",
                        "x": "0 m",
                        "y": "0 m",
                        "chord": "chord",
                        "camber": "camber",
                        "camber_at": "0.4",
                        "thickness": "thickness",
                        "edge_radius": "0.8 mm",
                    },
                },
                # Heights on the camber line, as shares of its own.
                _passage("front passage", "0.16", "0.64"),
                _passage("middle passage", "0.33", "0.969"),
                _passage("rear passage", "0.5", "0.972"),
            ],
        },
        "conditions": [
            wall(
                "vane, suction side",
                "vane, pressure side",
                "vane, trailing edge",
                thermal="convection",
                heat_transfer_coefficient="gas_h*(1 - 0.5*x/chord)",
                ambient_temperature="gas",
            ),
            wall(
                "vane, front passage outside",
                "vane, middle passage outside",
                "vane, rear passage outside",
                thermal="convection",
                heat_transfer_coefficient="coolant_h",
                ambient_temperature="coolant",
            ),
        ],
        "grid": {"fineness": 1.0},
        "watches": [quantity("hottest_metal")],
        "wanted": [
            {"key": quantity("hottest_metal"), "target": "690 °C", "sense": "at_most"},
            {"key": quantity("mean_temperature", "vane")},
            {"key": quantity("coldest_metal")},
            {"key": quantity("heat_out", "vane, middle passage outside")},
        ],
        "estimates": [
            {
                "relation": "cooled_body",
                "body": "vane",
                "outer_h": "0.75*gas_h",
                "outer_temperature": "gas",
                "outer_perimeter": "2.1*chord",
                "inner_h": "coolant_h",
                "inner_temperature": "coolant",
                "inner_perimeter": "3*pi*passage",
            }
        ],
        "sizing": sized("coolant_h", quantity("hottest_metal"), "690 °C", sense="at_most"),
    },
)
