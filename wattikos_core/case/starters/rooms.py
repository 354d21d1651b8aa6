"""Ventilated spaces: jets, stores of goods that give off heat, walls that lose it."""

from __future__ import annotations

from wattikos_core.case.starters.building import (
    Starter,
    given,
    inlet,
    length,
    outlet,
    quantity,
    rectangle,
    sized,
    temperature,
    wall,
)

RIPENING_ROOM = Starter(
    "ripening_room",
    "Ventilated room with a stack of goods",
    "Air blown in under the ceiling and drawn off at the floor past crates that give off heat: is it even at the shelves?",
    {
        "version": 6,
        "title": "Ripening room",
        "note": (
            "Air enters by a slot under the ceiling and leaves above the floor on the same side. "
            "The crates are a porous stack that gives off the heat of ripening; walls are insulated panels."
        ),
        "starter": "ripening_room",
        "inputs": {
            "width": length("4 m", "width of the room", "2 m", "8 m"),
            "height": length("2.5 m", "height of the room", "2 m", "4 m"),
            "slot": length("100 mm", "height of the supply slot", "40 mm", "300 mm"),
            "grille": length("300 mm", "height of the extract grille", "150 mm", "600 mm"),
            "depth": length("1 m", "depth", note="a metre of the room's length"),
            "stack_width": length("2 m", "width of the stack", "0.5 m", "3 m"),
            "stack_height": length("1.6 m", "height of the stack", "0.5 m", "2 m"),
            "supply_velocity": given("velocity", "1.5 m/s", "velocity in the slot", "0.5 m/s", "3 m/s"),
            "supply": temperature("11 °C", "supply air"),
            "outside": temperature("22 °C", "outside the panels"),
            "ripening": given("power", "80 W", "heat of ripening", "0 W", "400 W", note="of the stack, a metre of it"),
            "panel": given("heat_transfer_coefficient", "0.4 W/m²/K", "heat transfer of the panels", "0.1 W/m²/K", "2 W/m²/K"),
            "voids": given("ratio", "40 percent", "share of air in the stack"),
        },
        "section": {
            "extent": "flat",
            "depth": "depth",
            "parts": [
                {
                    "name": "room",
                    "material": "air",
                    "shape": {
                        "type": "rectangle",
                        "x": "0 m",
                        "y": "0 m",
                        "width": "width",
                        "height": "height",
                        "divided": {"left": ["grille", "height - slot"]},
                    },
                },
                rectangle(
                    "stack",
                    "air",
                    "(width - stack_width)/2 + 0.2 m",
                    "0.1 m",
                    "stack_width",
                    "stack_height",
                    heat="ripening",
                    internal={"type": "porous", "porosity": "voids", "viscous": "5e4 1/m^2", "inertial": "30 1/m"},
                ),
            ],
        },
        "conditions": [
            inlet("room, left 3", "supply", velocity="supply_velocity"),
            outlet("room, left 1"),
            wall(
                "room, left 2",
                "room, right",
                "room, top",
                "room, bottom",
                thermal="convection",
                heat_transfer_coefficient="panel",
                ambient_temperature="outside",
            ),
        ],
        "physics": {"flow": "turbulent", "gravity_y": "-9.81 m/s²", "age": True},
        "grid": {"cells": 5000, "layers": "coarse"},
        "watches": [quantity("probe_temperature", "middle shelf"), quantity("mean_age_inside", "room")],
        "wanted": [
            {"key": quantity("probe_temperature", "top shelf"), "target": "11 °C", "sense": "between", "upper": "13 °C"},
            {"key": quantity("probe_temperature", "middle shelf"), "target": "11 °C", "sense": "between", "upper": "13 °C"},
            {"key": quantity("probe_temperature", "bottom shelf"), "target": "11 °C", "sense": "between", "upper": "13 °C"},
            {"key": quantity("probe_speed", "middle shelf")},
            {"key": quantity("outlet_temperature", "room")},
            {"key": quantity("mean_age_inside", "room")},
            {"key": quantity("air_change_efficiency", "room")},
            {"key": quantity("heat_removal_effectiveness", "room")},
        ],
        # Along walls that jets pass (common practice, no source).
        "estimates": [{"relation": "mixed_room", "room": "room", "film": "5 W/m²/K"}],
        "sizing": sized("supply_velocity", quantity("probe_temperature", "middle shelf"), "12 °C", sense="at_most"),
    },
)
